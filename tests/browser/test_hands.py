"""What the hands notice: a tap takes the whole figure, a key begins a job, a phone never scrolls sideways, paper carries no menus."""

import re

from django.urls import reverse
from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading
from vantok.urls import PAGES


class Hands(BrowserCase):
    def test_a_tap_on_a_filled_cell_takes_the_whole_figure(self) -> None:
        """Tapped and typed over, the old figure is replaced, not continued."""
        page = self.sign_in("marit")
        job = Job.objects.get(number="2026-041")
        page.goto(f"/jobs/{job.pk}/measure/")
        cell = page.get_by_label("Boat on, rear left")
        box = cell.bounding_box()
        assert box is not None
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.keyboard.type("883")
        page.keyboard.press("Enter")
        expect(page.locator("form[data-cell].waiting")).to_have_count(0)
        self.assertEqual(Reading.objects.filter(job=job, place="RL", state__key="loaded").latest("pk").text, "883")

    def test_a_key_begins_a_job_and_lands_in_its_form(self) -> None:
        """“n” on the board, and the first field has the focus; typed in a field it is a letter."""
        page = self.sign_in("marit")
        page.keyboard.press("n")
        page.wait_for_url(re.compile(r".*/jobs/new/$|.*/start/$|.*new.*"))
        expect(page.get_by_label("Vehicle, as the shop calls it")).to_be_focused()
        page.get_by_label("Customer").fill("")
        page.get_by_label("Customer").type("nn")
        expect(page.get_by_label("Customer")).to_have_value("nn")

    def test_no_page_scrolls_sideways_on_a_phone(self) -> None:
        """At 390 px every page of a job, and the places in the header, fit."""
        page = self.sign_in("tobin")
        page.set_viewport_size({"width": 390, "height": 844})
        job = Job.objects.get(number="2026-039")
        addresses = [reverse(name, args=[job.pk]) for name in PAGES] + [
            reverse(n) for n in ("board", "garage", "shelf", "start", "settings")
        ]
        for address in addresses:
            page.goto(address)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390, address)

    def test_paper_has_no_menus_and_the_sentence_once(self) -> None:
        """Printed, the report leaves header, stages and buttons out, and tells its sentence once."""
        page = self.sign_in("marit")
        job = Job.objects.get(number="2026-038")
        page.goto(reverse("report", args=[job.pk]))
        said = "proved at this setting"
        expect(page.get_by_text(said).locator("visible=true")).to_have_count(2)
        page.emulate_media(media="print")
        expect(page.get_by_text(said).locator("visible=true")).to_have_count(1)
        for hidden in ("header.top", "nav.stages", ".job-links", ".btn"):
            self.assertEqual(page.locator(f"{hidden} >> visible=true").count(), 0, hidden)
