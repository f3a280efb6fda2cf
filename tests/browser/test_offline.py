"""Without a connection: pages of a job that were open open again, what is entered waits and is sent once, and what cannot be opened says so."""

from django.core.servers.basehttp import WSGIRequestHandler
from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from tests.web.test_measure import picture
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Photo, Reading

KEPT = "at => caches.open('vantok-pages').then((c) => c.match(location.origin + at)).then((one) => Boolean(one))"
"""Whether the device keeps a page."""
SENT = """() => new Promise((told) => {
  const asked = indexedDB.open("vantok-files");
  asked.onsuccess = () => {
    const counted = asked.result.transaction("pictures").objectStore("pictures").count();
    counted.onsuccess = () => told(counted.result === 0);
  };
})"""
"""Whether the device keeps no picture any more that is still to be sent."""


class Line(WSGIRequestHandler):
    """The line to the server: cut, whatever comes in over it is dropped without an answer."""

    cut = False

    def parse_request(self) -> bool:
        if Line.cut:
            self.close_connection = True
            return False
        return bool(super().parse_request())

    def log_message(self, format: str, *args: object) -> None:
        """Say nothing of each request."""


class WithoutAConnection(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.server_thread.httpd.RequestHandlerClass = Line
        self.addCleanup(setattr, Line, "cut", False)

    def until(self, page: Page, promised: str, told: str = "") -> None:
        """Wait until what a script promises is so."""
        for _ in range(300):
            if page.evaluate(promised, told):
                return
            page.wait_for_timeout(100)
        self.fail(promised)

    def kept(self, page: Page, address: str) -> None:
        """Open a page and wait until the device has it."""
        page.goto(address)
        self.until(page, KEPT, address)

    def test_a_tablet_carried_out_of_the_shop(self) -> None:
        """Sheet, walk, card, drive sheet and inspection open again as they stood, and say so; a height typed there outlives its page, and is stored
        once, by whoever typed it; another page says that it needs a connection; signed out, the device has none of it."""
        job, fitted = Job.objects.get(number="2026-045"), Job.objects.get(number="2026-046")
        self.expected_trouble = (
            "htmx:",
            "ERR_EMPTY_RESPONSE",
            "503",
            "Failed to fetch",
            "ERR_FAILED",
            "ERR_CONNECTION",
        )
        page = self.sign_in("tobin", keeps=True)
        pages = [f"/jobs/{job.pk}/{name}/" for name in ("measure", "walk", "inspect")]
        pages += [f"/jobs/{fitted.pk}/fit/", f"/jobs/{fitted.pk}/prove/drive/"]
        for address in pages:
            self.kept(page, address)
        Line.cut = True
        for address in pages:
            page.goto(address)
            expect(page.locator("#offline")).to_contain_text("this page is as it stood at")
            expect(page.locator("main h1")).to_be_visible()
        page.goto(pages[0])
        cell = page.locator("input[data-walk]").first
        cell.fill("41 5/16")
        cell.press("Enter")
        expect(page.locator("#offline")).to_contain_text("1 entry waits in this browser")
        page.goto(pages[3])
        page.locator(".photo-form input[type=file]").first.set_input_files(
            {"name": "hanger.jpg", "mimeType": "image/jpeg", "buffer": picture((300, 200)).read()}
        )
        expect(page.locator("#offline")).to_contain_text("2 entries wait in this browser")
        page.goto("/garage/")
        expect(page.locator("body")).to_contain_text("This page opens only with one")
        page.goto(pages[0])
        expect(page.locator("#offline")).to_contain_text("2 entries wait in this browser")
        self.assertFalse(Photo.objects.filter(job=fitted).exists())
        self.assertFalse(Reading.objects.filter(job=job, text="41 5/16").exists())
        Line.cut = False
        page.goto(pages[0])
        expect(page.locator("form[data-cell]").first).to_contain_text("Tobin Ashgrove")
        self.assertEqual(Reading.objects.get(job=job, text="41 5/16").by, User.objects.get(username="tobin"))
        self.until(page, SENT)
        photo = Photo.objects.get(job=fitted)
        self.assertEqual((photo.by, photo.width), (User.objects.get(username="tobin"), 200))
        page.get_by_role("button", name="Sign out").click()
        expect(page.get_by_label("Name")).to_be_visible()
        self.assertFalse(page.evaluate("caches.has('vantok-pages')"))
