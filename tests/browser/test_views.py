"""Every main view at both widths: two screens at most, the sentence in two lines, the next act on the first screen, nothing to touch under a finger."""

from __future__ import annotations

from typing import Any

from tests.browser.base import BrowserCase
from vantok.records.jobs.models import STAGES, Job

TABLET, PHONE = (1280, 800), (390, 844)
LINES = {TABLET: 2, PHONE: 4}
"""Lines the sentence may take."""
LONG = {
    "board": "a list: a row a job",
    "garage": "a list: a row a vehicle",
    "shelf": "a list: a row a kit",
    "learnt": "a list: a line a rate",
    "benches": "a list: a line a question",
    "practice": "a list: a row a case",
    "choose": "a list: the ruler, a row an option",
    "fit": "the whole card",
    "report": "a printed sheet",
    "care": "a printed sheet",
}
"""Views that may be longer than two screens, each with why."""
SEEN = """() => {
  const shown = (e) => e.checkVisibility() && e.getBoundingClientRect().width > 1 && e.getBoundingClientRect().height > 1;
  const face = (e) => (e.matches("[type=checkbox], [type=radio]") && e.closest("label")) || e;
  const all = [...document.querySelectorAll("a, button, input:not([type=hidden]), select, textarea, summary")].filter(shown);
  const inText = (e) => e.matches("a") && getComputedStyle(e).display === "inline" && e.closest("p, li, td, dd, figcaption, span");
  const off = (e) => e.matches(".skip") || e.closest("svg") || getComputedStyle(e).opacity === "0" && !e.closest("label");
  const said = document.querySelector("#verdict span, .bench .verdict p"), range = document.createRange();
  let lines = 0;
  if (said) {
    range.selectNodeContents(said);
    lines = new Set([...range.getClientRects()].map((r) => Math.round(r.bottom / 6))).size;
  }
  const acts = all.filter((e) => document.querySelector("#main").contains(e) && !e.closest("nav.stages, .job-links, .look"));
  return {
    height: document.documentElement.scrollHeight,
    wide: document.documentElement.scrollWidth,
    small: all.filter((e) => !off(e) && !inText(e) && face(e).getBoundingClientRect().height < 43.5).map((e) => e.outerHTML.slice(0, 110)),
    fields: all.filter((e) => e.matches("input, select, textarea")).length,
    letters: said ? said.innerText.length : 0,
    lines,
    foot: said ? said.getBoundingClientRect().bottom : 0,
    act: Math.min(...acts.map((e) => e.getBoundingClientRect().top)),
  };
}"""


def views() -> dict[str, str]:
    """Return each main view by name, on the demo job that shows most of it."""
    job = {
        number: f"/jobs/{Job.objects.get(number=f'2026-{number}').pk}/"
        for number in ("038", "039", "041", "042", "045", "046", "035", "037")
    }
    on = {
        "inspect": "045",
        "vehicle": "045",
        "weigh": "042",
        "measure": "037",
        "diagnose": "035",
        "choose": "041",
        "fit": "046",
        "prove": "039",
    }
    found = {name: f"{job[on.get(name, '038')]}{name}/" for name, _ in (*STAGES, ("inspect", ""))}
    return found | {
        "board": "/",
        "day": "/day/",
        "start": "/jobs/new/",
        "walk": f"{job['037']}walk/",
        "scales": f"{job['042']}weigh/scales/",
        "limits": f"{job['042']}weigh/limits/",
        "gloves": f"{job['046']}fit/?gloves=1",
        "drive": f"{job['039']}prove/drive/",
        "leak": f"{job['046']}prove/leak/",
        "road": f"{job['046']}road/?piece=ditch",
        "care": f"{job['038']}care/",
        "garage": "/garage/",
        "vehicle of the garage": f"/garage/{Job.objects.get(number='2026-038').vehicle_id}/",
        "shelf": "/shelf/",
        "kit": "/shelf/FW-M/",
        "benches": "/benches/",
        "air": "/benches/air/",
        "practice": "/practice/",
        "playground": "/practice/playground/",
        "learnt": "/garage/learnt/",
        "settings": "/settings/",
    }


class Views(BrowserCase):
    def test_each_view_at_a_tablet_and_a_phone(self) -> None:
        """No view is longer than two screens without a reason said here; sentence and next act stand on the first one."""
        page = self.sign_in("marit")
        for size in (TABLET, PHONE):
            page.set_viewport_size({"width": size[0], "height": size[1]})
            for name, address in views().items():
                page.goto(address)
                seen: dict[str, Any] = page.evaluate(SEEN)
                with self.subTest(name, size=size):
                    self.assertLessEqual(seen["wide"], size[0])
                    self.assertLessEqual(seen["lines"], LINES[size])
                    self.assertLess(seen["foot"], size[1])
                    self.assertLess(seen["act"], size[1])
                    self.assertEqual(seen["small"], [])
                    if name not in LONG:
                        self.assertLessEqual(seen["height"], 2 * size[1])
