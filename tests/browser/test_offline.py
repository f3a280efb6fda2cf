"""Without a connection: pages of a job that were open open again, what is entered waits and is sent once, and what cannot be opened says so."""

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading


class WithoutAConnection(BrowserCase):
    def kept(self, page: Page, address: str) -> None:
        """Open a page and wait until the device has it."""
        page.goto(address)
        page.wait_for_function(
            "at => caches.open('vantok-pages').then((c) => c.match(location.origin + at)).then((one) => Boolean(one))",
            arg=address,
        )

    def test_a_tablet_carried_out_of_the_shop(self) -> None:
        """Sheet, walk, card, drive sheet and inspection open again as they stood, and say so; a height typed there outlives a dead battery, and is stored
        once, by whoever typed it; another page says that it needs a connection; signed out, the device has none of it."""
        job, fitted = Job.objects.get(number="2026-045"), Job.objects.get(number="2026-046")
        self.expected_trouble = ("htmx:", "ERR_INTERNET_DISCONNECTED", "503", "Failed to fetch", "ERR_FAILED")
        page = self.sign_in("tobin", keeps=True)
        pages = [f"/jobs/{job.pk}/{name}/" for name in ("measure", "walk", "inspect")]
        pages += [f"/jobs/{fitted.pk}/fit/", f"/jobs/{fitted.pk}/prove/drive/"]
        for address in pages:
            self.kept(page, address)
        page.context.set_offline(True)
        for address in pages:
            page.goto(address)
            expect(page.locator("#offline")).to_contain_text("this page is as it stood at")
            expect(page.locator("main h1")).to_be_visible()
        page.goto(pages[0])
        cell = page.locator("input[data-walk]").first
        cell.fill("41 5/16")
        cell.press("Enter")
        expect(page.locator("#offline")).to_contain_text("1 entry waits in this browser")
        page.goto("/garage/")
        expect(page.locator("body")).to_contain_text("This page opens only with one")
        page.close()  # the battery
        again = page.context.new_page()
        again.context.set_offline(False)  # a new page has to be told anew
        again.context.set_offline(True)
        again.goto(pages[0])
        expect(again.locator("#offline")).to_contain_text("1 entry waits in this browser")
        self.assertFalse(Reading.objects.filter(job=job, text="41 5/16").exists())
        page.context.set_offline(False)
        again.goto(pages[0])
        expect(again.locator("form[data-cell]").first).to_contain_text("Tobin Ashgrove")
        self.assertEqual(Reading.objects.get(job=job, text="41 5/16").by, User.objects.get(username="tobin"))
        again.get_by_role("button", name="Sign out").click()
        expect(again.get_by_label("Name")).to_be_visible()
        self.assertFalse(again.evaluate("caches.has('vantok-pages')"))
