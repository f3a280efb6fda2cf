"""Over the road as a person sees it: played, slowed, scrubbed by keys and by hand, another piece, an option beside it, how sure it is."""

import re
import time
from math import cos, exp
from pathlib import Path
from tempfile import mkdtemp

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from vantok.instruments.simulated import Bench, Server
from vantok.records.instruments.models import Instrument
from vantok.records.jobs.models import Job
from vantok.wire.link import let_go

INKED = """canvas => { const d = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height).data; let h = 0, n = 0;
  for (let i = 0; i < d.length; i += 4) if (d[i + 3]) { n += 1; h = (h * 31 + d[i] + d[i + 1] * 3 + i) % 1000000007; } return [n, h]; }"""


class OverTheRoad(BrowserCase):
    def at(self, page: Page) -> float:
        """Return the time that the clock shows."""
        return float((page.locator("[data-stage]").get_attribute("aria-valuenow") or "").replace(",", "."))

    def test_a_ride_played_and_scrubbed(self) -> None:
        """From Choose: it rests where the most happens, plays to its end, goes back and on by keys, follows the pointer; every picture is another one."""
        job = Job.objects.get(number="2026-041")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/choose/")
        page.get_by_role("link", name="Over the road").click()
        expect(page.locator("#verdict")).to_contain_text("Bump, 20 km/h: the tail strikes its stops")
        view, stage = page.locator("[data-view]"), page.locator("[data-stage]")
        rest, began = view.evaluate(INKED), self.at(page)
        self.assertGreater(rest[0], 5000)
        self.assertGreater(began, 0.5)
        stage.focus()
        page.keyboard.press("ArrowRight")
        self.assertAlmostEqual(self.at(page), began + 0.05, delta=0.011)
        self.assertNotEqual(view.evaluate(INKED)[1], rest[1])
        for _ in range(2):
            page.keyboard.press("ArrowLeft")
        self.assertAlmostEqual(self.at(page), began - 0.05, delta=0.011)
        page.keyboard.press("End")
        self.assertAlmostEqual(self.at(page), 8.0, delta=0.05)
        page.keyboard.press("Home")
        page.keyboard.press("Space")
        expect(page.get_by_role("button", name="Pause")).to_be_visible()
        expect(page.locator("[data-ride]")).to_have_attribute("data-frames", re.compile(r"^\d+$"))
        page.keyboard.press("Space")
        self.assertGreater(self.at(page), 0.5)
        curves = page.locator("[data-curves]")
        curves.scroll_into_view_if_needed()
        box = curves.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 132 + 0.25 * (box["width"] - 140), box["y"] + 30)
        page.mouse.down()
        self.assertAlmostEqual(self.at(page), 2.0, delta=0.1)
        page.mouse.move(box["x"] + 132 + 0.5 * (box["width"] - 140), box["y"] + 30, steps=4)
        page.mouse.up()
        self.assertAlmostEqual(self.at(page), 4.0, delta=0.1)

    def test_another_piece_with_an_option_beside_it(self) -> None:
        """The rail at 50 km/h, the load moved beside it; the bands come while it stands, and a phone holds it without scrolling sideways."""
        job = Job.objects.get(number="2026-041")
        page = self.sign_in("tobin")
        page.set_viewport_size({"width": 390, "height": 844})
        page.goto(f"/jobs/{job.pk}/road/")
        page.get_by_role("link", name=re.compile("^Rail")).click()
        self.unfold(page, "Speed, load, and what is driven")
        self.unfold(page, "What is driven beside one another")
        for box in page.locator("input[name=with]:checked").all()[1:]:
            box.uncheck()
        page.get_by_label("Move the load").check()
        page.get_by_label("Speed").fill("30")
        page.get_by_role("button", name="Drive it").click()
        expect(page.locator("#verdict")).to_contain_text("Rail, 30 mph:")
        expect(page.locator("#ride-table")).to_contain_text("By 32 draws of what is not known")
        expect(page.locator("#ride-table thead")).to_contain_text("Move the load")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)

    def test_the_file_opens_by_itself(self) -> None:
        """What the customer gets plays in a browser that knows no server."""
        job = Job.objects.get(number="2026-046")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/road/?piece=ditch")
        with page.expect_download() as got:
            page.get_by_role("link", name="For the customer").click()
        alone = page.context.browser.new_context(viewport={"width": 390, "height": 844}).new_page()  # type: ignore[union-attr]
        kept = Path(mkdtemp()) / got.value.suggested_filename
        got.value.save_as(kept)
        alone.goto(f"file://{kept}")
        expect(alone.locator(".said")).to_contain_text("Ditch on the skew, 5 km/h:")
        view = alone.locator("[data-view]")
        rest = view.evaluate(INKED)
        alone.locator("[data-stage]").press("End")
        self.assertNotEqual(view.evaluate(INKED)[1], rest[1])
        self.assertLessEqual(alone.evaluate("document.documentElement.scrollWidth"), 390)
        alone.context.close()

    def test_a_push_traced_moves_the_model_and_a_gauge_fills_its_field(self) -> None:
        """A trace pasted where a push is taken: what it made of the springs is said at once. Beside a pressure the shop's gauge fills the field by a touch."""
        job = Job.objects.get(number="2026-041")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/measure/phone/")
        page.get_by_label("in which state").last.select_option(label="Boat on")
        swing = "\n".join(f"{n / 50:.2f},{exp(-1.9 * n / 50) * cos(8.6 * n / 50):.5f}" for n in range(200))
        page.get_by_label("trace: seconds, figure").fill(swing)
        page.get_by_role("button", name="Work it out").click()
        expect(page.locator("#main")).to_contain_text("It moved what its class tells of the rear springs from")
        server = Server(Bench(started=time.monotonic() - 60.0, gauges=(220e3, 220e3)), 0).start()
        let_go()
        try:
            Instrument.objects.update(url=server.url)
            page.goto(f"/jobs/{Job.objects.get(number='2026-039').pk}/prove/leak/")
            for _ in range(20):
                page.get_by_role("button", name="From the gauge").last.click()
                page.wait_for_timeout(300)
                if page.locator("input[name=pressure]").last.input_value():
                    break
            self.assertRegex(page.locator("input[name=pressure]").last.input_value(), r"2\.[12]\d.bar")
        finally:
            let_go()
            server.shutdown()
            server.server_close()
