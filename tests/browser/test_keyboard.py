"""At the counter: weighing, measuring and choosing with the keyboard alone, in inches and pounds."""

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadItem


class Keyboard(BrowserCase):
    def reach(self, page: Page, name: str, *, role: str = "") -> None:
        """Walk on with Tab until the thing of that name has the focus."""
        for _ in range(160):
            page.keyboard.press("Tab")
            at = page.evaluate(
                """() => { const e = document.activeElement;
                     const told = e.getAttribute('aria-label') || e.labels?.[0]?.textContent || e.textContent || '';
                     return [told.replace(/\\s+/g, ' ').trim(), e.tagName, e.value || '']; }"""
            )
            if at[0].startswith(name) and role.upper() in ("", at[1]):
                return
        self.fail(f"Tab never reaches “{name}”")

    def test_from_the_plan_to_the_kit(self) -> None:
        """Move an item, read the missing heights, look at the findings and take the kit, touching nothing but keys."""
        page = self.sign_in("tobin")
        job = Job.objects.get(number="2026-044")
        page.goto(f"/jobs/{job.pk}/weigh/")
        self.reach(page, "luggage")
        expect(page.locator(".plan-item:focus")).to_have_count(1)
        before = LoadItem.objects.get(state__job=job, name="luggage").station_m
        for _ in range(4):
            page.keyboard.press("ArrowLeft")
        expect(page.locator("#items tr", has_text="luggage")).not_to_contain_text("122 1/16")
        self.assertAlmostEqual(LoadItem.objects.get(state__job=job, name="luggage").station_m, before - 0.2, 2)
        page.keyboard.press("]")
        page.wait_for_url("**/measure/")
        self.reach(page, "Caravan hitched, front left", role="input")
        for figure in ("26 3/8", "25 1/8", "25 1/8", "26 3/8"):
            page.keyboard.type(figure)
            page.keyboard.press("Enter")
        expect(page.locator("#verdict")).to_contain_text("All states read")
        self.assertEqual(Reading.objects.filter(job=job, state__key="loaded").count(), 4)
        page.keyboard.press("]")
        page.wait_for_url("**/diagnose/")
        expect(page.locator("#verdict")).to_contain_text(" in low")
        page.keyboard.press("]")
        page.wait_for_url("**/choose/")
        self.reach(page, "Take this kit", role="button")
        page.keyboard.press("Enter")
        page.wait_for_url("**/fit/")
        expect(page.locator("#verdict")).to_contain_text("Next: Lay out the box")
        page.keyboard.press("]")
        page.wait_for_url("**/set/")
        expect(page.locator("#trial")).to_contain_text("target")

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
