"""Choosing in a real job: what counts, what is out, what a kit asks for."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from vantok.records.jobs.models import Job


class Choosing(BrowserCase):
    def test_what_counts_is_dragged(self) -> None:
        """On a real job: a slider moved with the keyboard ranks anew at once and stores nothing; kept, it stays after a reload; what is out is
        folded with its reason; a size noted answers its check."""
        job = Job.objects.get(number="2026-041")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/choose/")
        expect(page.locator("#odds-FW-M")).to_contain_text("in 10")
        expect(page.locator("#odds-told")).to_contain_text("from 2000 draws")
        page.get_by_text("What counts, and how much").click()
        cost = page.get_by_label("Cost fitted")
        names = page.locator("#choices article h2")
        before = names.all_inner_texts()
        cost.focus()
        with page.expect_response(lambda r: "w-cost=100" in r.url):
            page.keyboard.press("End")
        expect(page.locator("#choices article").first).to_be_visible()
        self.assertEqual(
            sorted(n.split("\n")[0] for n in names.all_inner_texts()), sorted(n.split("\n")[0] for n in before)
        )
        self.assertEqual(Job.objects.get(pk=job.pk).weights, {})
        page.get_by_role("button", name="Keep these for this job").click()
        expect(page.get_by_role("heading", name="Ferrywell bellows, middle")).to_be_visible()
        self.assertEqual(Job.objects.get(pk=job.pk).weights["cost"], 1.0)
        page.get_by_text("What counts, and how much").click()
        expect(page.get_by_label("Cost fitted")).to_have_value("100")
        page.get_by_text("on the shelf are out, each with its").click()
        expect(page.locator("#out")).to_contain_text("Variant by gross mass")
        page.get_by_text("Sizes that kits ask for").click()
        page.get_by_label("rear leaf, width").fill("63")
        page.get_by_role("button", name="Note them").click()
        page.locator("article", has_text="Causeway added leaf, middle").get_by_text("Fit checks").click()
        expect(page.locator("article", has_text="Causeway added leaf, middle")).to_contain_text("Read 63 mm")
