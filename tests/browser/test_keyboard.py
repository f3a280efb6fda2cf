"""The keyboard by itself: a load moved on the plan, and the focus seen wherever it goes. The whole job by keys is in `test_whole_job.py`."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.browser.hands import Keys
from vantok.records.jobs.models import Job
from vantok.records.weigh.models import LoadItem
from vantok_core.base.names import PLACES


class Keyboard(BrowserCase):
    def test_a_load_is_moved_on_the_plan(self) -> None:
        """An item of the plan is reached by Tab and moved by the arrow: the drawing, the list and what is stored follow."""
        page = self.sign_in("tobin")
        job = Job.objects.get(number="2026-044")
        page.goto(f"/jobs/{job.pk}/weigh/")
        Keys(page).to(page.locator(".plan-item[aria-label^=luggage]"))
        before = LoadItem.objects.get(state__job=job, name="luggage").station_m
        for _ in range(4):
            page.keyboard.press("ArrowLeft")
        expect(page.locator("#items tr", has_text="luggage")).not_to_contain_text("122 1/16")
        self.assertAlmostEqual(LoadItem.objects.get(state__job=job, name="luggage").station_m, before - 0.2, 2)

    def test_drawings_as_tables(self) -> None:
        """A key puts what the drawing tells in its place as a table, with the sheet's own heights, page after page; the same key takes it back."""
        page = self.sign_in("marit")
        job = Job.objects.get(number="2026-041")
        page.goto(f"/jobs/{job.pk}/diagnose/")
        drawn, table = page.locator("#stance svg").first, page.locator("#stance .as-table").first
        expect(drawn).to_be_visible()
        page.keyboard.press("t")
        expect(drawn).to_be_hidden()
        for read in job.readings.filter(state__key="loaded", datum="ground_arch", phase="before"):
            expect(table.get_by_role("row", name=PLACES[read.place])).to_contain_text(f"{read.value_m * 1000:.0f} mm")
        page.goto(f"/jobs/{job.pk}/measure/")
        expect(drawn).to_be_hidden()
        page.keyboard.press("t")
        expect(drawn).to_be_visible()

    def test_the_focus_is_always_seen(self) -> None:
        """Wherever Tab goes on the plan and the sheet, what has the focus shows it by an outline or a ring."""
        page = self.sign_in("marit")
        job = Job.objects.get(number="2026-042")
        for address in ("weigh/", "weigh/limits/", "measure/", "walk/"):
            page.goto(f"/jobs/{job.pk}/{address}")
            for _ in range(30):
                page.keyboard.press("Tab")
                plain = page.evaluate(
                    """() => { const e = document.activeElement, s = getComputedStyle(e);
                         if (e === document.body) return '';
                         const seen = s.outlineStyle !== 'none' || s.boxShadow !== 'none' || e.type === 'file';
                         return seen ? '' : e.outerHTML.slice(0, 90); }"""
                )
                self.assertEqual(plain, "", address)
