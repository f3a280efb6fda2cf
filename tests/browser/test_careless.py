"""Careless hands: a walk typed through to its end, two bags' tests at once, a form left beside another's button, a sign-in that ends under a note."""

from __future__ import annotations

from django.contrib.sessions.models import Session
from playwright.sync_api import Page, Route, expect

from tests.browser.base import BrowserCase
from vantok.demo.world import PASSWORD
from vantok.desk.load import Desk
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading


class Careless(BrowserCase):
    def test_a_walk_typed_to_its_end_quarrels_with_nobody(self) -> None:
        """Figures typed as fast as keys go, on a slow line: each lands where its name stood, the last corner too, and no entry is left to answer."""
        job = Job.objects.get(number="2026-044")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/walk/")

        def slowly(route: Route) -> None:
            page.wait_for_timeout(150)
            route.continue_()

        page.route("**/cell/**", slowly)
        for figure in ("671", "636", "637", "670"):
            page.keyboard.type(figure)
            page.keyboard.press("Enter")
        page.wait_for_url("**/measure/**")
        expect(page.locator("#offline")).to_be_hidden()
        page.reload()
        expect(page.locator(".cell.wrong")).to_have_count(0)
        found = {r.place: r.text for r in Reading.objects.filter(job=job, state__key="loaded")}
        self.assertEqual(found, {"FL": "671", "RL": "636", "RR": "637", "FR": "670"})
        self.assertEqual(Reading.objects.filter(job=job, state__key="loaded").count(), 4)

    def test_a_stop_left_and_come_back_to_is_no_conflict(self) -> None:
        """Saved, gone back to from an older page and corrected: the same window knows what it wrote itself."""
        job = Job.objects.get(number="2026-044")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/walk/")
        page.keyboard.type("704")
        page.keyboard.press("Enter")
        expect(page.locator("#walk-title")).to_have_text("Caravan hitched · rear left")
        page.go_back()
        page.goto(f"/jobs/{job.pk}/walk/?datum=ground_arch&at=loaded-FL")
        page.locator("#walk-in").fill("671")
        page.keyboard.press("Enter")
        expect(page.locator(".walk-last")).to_contain_text("671 mm")
        self.assertEqual(Reading.objects.filter(job=job, state__key="loaded", place="FL").last().text, "671")  # type: ignore[union-attr]

    def open_leak(self, page: Page, job: Job) -> None:
        page.goto(f"/jobs/{job.pk}/prove/leak/")

    def test_a_draft_of_the_left_bag_stays_the_left_bags(self) -> None:
        """Typed for one test and not sent, another one read and gone: the draft stands in its own form and in no other."""
        job = Job.objects.get(number="2026-038")
        page = self.sign_in("marit")
        for side in ("left", "right"):
            self.open_leak(page, job)
            form = page.locator("form").filter(has=page.get_by_role("button", name="Pressed up: begin"))
            form.get_by_label("Which").select_option(side)
            form.get_by_label("Pressed up to").fill("3 bar")
            form.get_by_label("Temperature").fill("18 C")
            form.get_by_role("button", name="Pressed up: begin").click()
            expect(page.get_by_role("heading", name=f"{side.capitalize()}: 3.00 bar")).to_be_visible()
        left = page.locator("article.leak").filter(has_text="Left:")
        left.get_by_label("Reads now").fill("2.91")
        page.reload()
        expect(left.get_by_label("Reads now")).to_have_value("2.91")
        expect(page.locator("article.leak").filter(has_text="Right:").get_by_label("Reads now")).to_have_value("")

    def test_a_button_is_not_swallowed_by_another_form(self) -> None:
        """A drive sheet begun and not fit to be sent keeps nobody from another button of the page; its text waits."""
        job = Job.objects.get(number="2026-039")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/prove/drive/")
        words = (
            page.locator("form")
            .filter(has=page.get_by_role("button", name="Put it on the sheet"))
            .locator("[name=words]")
        )
        self.unfold(page, "More: what else was felt")
        words.fill("swims at the bridge")
        self.unfold(page, "Settings that suited a road")
        with self.anew(page):
            page.get_by_role("button", name="Remember it").click()
        expect(page.get_by_text("Typed before, and not saved yet.")).to_be_visible()
        expect(words).to_have_value("swims at the bridge")
        self.assertEqual(len(Desk.open(job.pk).job.proving.roads), 1)

    def test_the_sign_in_ends_under_a_note_of_the_card(self) -> None:
        """A tick with its note on the whole card, when the sign-in has ended: signed in again in place, it goes on, and nothing is typed twice."""
        job = Job.objects.get(number="2026-046")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/fit/")
        step = page.locator("section.step").first
        step.get_by_label("by feel").check()
        step.get_by_text("Leave it out, or note something").click()
        step.get_by_label("Note, or why").fill("clip was broken")
        Session.objects.all().delete()
        step.get_by_role("button", name="Done", exact=True).click()
        dialog = page.locator("#sign-again")
        expect(dialog).to_be_visible()
        self.expected_trouble = ("401",)
        dialog.get_by_label("Password").fill(PASSWORD)
        dialog.get_by_role("button", name="Sign in").click()
        expect(page.locator("ol.card-steps")).to_contain_text("clip was broken")
