"""What the hands do: the first job of a new customer, complaint to report, in clicks, keys and seconds; and how long Take this kit takes."""

from __future__ import annotations

import shutil
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import django
from playwright.sync_api import Page, sync_playwright

from tools.shots import free_port, sign_in, start

Row = Callable[..., None]
POINT, KEY, THINK = 1.3, 0.28, 1.35
"""Seconds of a hand that points and clicks, that types a key, and of a look before each field or button (the usual figures of the keystroke-level
model for an average typist)."""
COUNT = """(() => {
  const told = () => JSON.parse(sessionStorage.counted || '{"clicks": 0, "keys": 0, "fields": 0, "pages": 0}');
  const add = (name, n) => { const now = told(); now[name] += n; sessionStorage.counted = JSON.stringify(now); };
  if (window === window.top) add("pages", 1);
  let typed = false;
  addEventListener("click", (e) => { if (e.isTrusted && e.detail) add("clicks", 1); }, true);
  addEventListener("keydown", () => { typed = true; add("keys", 1); }, true);
  addEventListener("change", (e) => { if (e.target.matches("select")) add("clicks", 2); add("fields", 1); }, true);
  addEventListener("input", (e) => {
    if (!typed && e.target.matches("input:not([type=checkbox], [type=radio], [type=range]), textarea")) add("keys", e.target.value.length);
    typed = false;
  }, true);
})();"""

PRESSED = 'addEventListener("pointerdown", () => { sessionStorage.pressed = performance.timeOrigin + performance.now(); }, true);'
PAINTED = """() => new Promise((told) => {
  new PerformanceObserver((list) => {
    for (const paint of list.getEntriesByName("first-contentful-paint")) told(performance.timeOrigin + paint.startTime - Number(sessionStorage.pressed));
  }).observe({ type: "paint", buffered: true });
})"""


def first_job(page: Page) -> None:
    """Do the whole job of the browser tests on a page that is signed in already."""
    django.setup()
    from tests.browser.hands import Pointing
    from tests.browser.test_whole_job import METRIC, WholeJob

    class FirstJob(WholeJob):
        def sign_in(self, name: str, *, keeps: bool = False) -> Page:
            return page

    FirstJob("test_in_millimetres").do(METRIC, Pointing)


def hands(row: Row) -> None:
    """Do the first job on the demo server and count; then take a kit five times over, each on a job of its own."""
    port, var = free_port(), Path(tempfile.mkdtemp())
    server = start(port, var)
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=["--no-sandbox"])
            base = f"http://127.0.0.1:{port}"
            page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=base)
            page.add_init_script(COUNT)
            sign_in(page, base, "marit")
            page.evaluate("sessionStorage.removeItem('counted')")
            begun = time.perf_counter()
            first_job(page)
            waited = time.perf_counter() - begun
            told = page.evaluate("JSON.parse(sessionStorage.counted)")
            looks = told["fields"] + told["pages"]
            by_hand = POINT * told["clicks"] + KEY * told["keys"] + THINK * looks
            what = "first job, complaint to report"
            got = f"{told['clicks']} clicks, {told['keys']} keys, {told['fields']} fields, {told['pages']} pages"
            row(
                what, "15 min", f"{got}: {by_hand:.0f} s of a hand and {waited:.0f} s of the machine", met=by_hand < 900
            )
            _taking(row, page)
    finally:
        server.terminate()
        server.wait()
        shutil.rmtree(var, ignore_errors=True)


def _taking(row: Row, page: Page) -> None:
    """Press Take this kit, take it off again, and press it again: from the hand's press until the fitting card is painted, both by the browser's own clock
    (what drives the browser takes its time before it presses, which no hand waits for)."""
    times = []
    page.add_init_script(PRESSED)
    page.wait_for_timeout(2000)  # what the job before left on its way
    for _ in range(9):
        page.goto("/jobs/1/choose/", wait_until="networkidle")
        page.locator(".best-row").get_by_role("button", name="Take this kit").click()
        page.wait_for_url("**/fit/**")
        page.locator("#verdict").wait_for()
        times.append(page.evaluate(PAINTED) / 1000.0)
        page.goto("/jobs/1/choose/")
        page.get_by_role("button", name="Take it off again").first.click()
        page.get_by_text("is taken off the job").wait_for()
    middle = sorted(times)[len(times) // 2]
    worst = max(times)
    row("Take this kit, pressed to the fitting card", "0.5 s", f"{middle:.2f} s (worst {worst:.2f})", met=middle < 0.5)
