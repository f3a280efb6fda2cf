"""From Prove to a closed job as a person does it: label, care dates and calendar, the day planned by hand, a vehicle that comes up again."""

from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from vantok.records.handover.models import Recall
from vantok.records.jobs.models import Booking, Job


class Keeping(BrowserCase):
    def test_from_prove_to_a_closed_job(self) -> None:
        """Heights looked at, report read, handed over; the label and the calendar come from it; next day it stands on the board, and is answered."""
        job = Job.objects.get(number="2026-038")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/prove/")
        expect(page.locator("#main")).to_contain_text("The prediction held")
        page.locator("#stage-after").click()
        expect(page.get_by_role("heading", name="What it can and cannot do")).to_be_visible()
        page.get_by_label("Hand over anyway, because").fill("the customer fetches it tonight")
        with self.anew(page):
            page.get_by_role("button", name="Hand over and close").click()
        page.goto(f"/jobs/{job.pk}/report/")
        page.get_by_role("link", name="Label").click()
        expect(page.locator(".tag")).to_contain_text("never over")
        expect(page.locator(".tag svg.qr")).to_be_visible()
        page.get_by_label("Size").select_option("100x150")
        expect(page.locator(".tag-card")).to_be_visible()
        page.goto(f"/jobs/{job.pk}/care/")
        with page.expect_download() as caught:
            page.get_by_role("link", name="For a calendar").click()
        text = caught.value.path().read_text(encoding="utf-8")
        self.assertEqual(text.count("BEGIN:VEVENT"), Recall.objects.filter(job=job, state="open").count())
        page.goto("/")
        expect(page.locator(".due")).to_contain_text("pressure, next morning")
        page.locator(".due").get_by_role("link").click()
        first = page.locator(".recall", has_text="pressure, next morning")
        self.expected_trouble = ("422",)
        first.get_by_role("button", name="Put it off").click()
        expect(page.locator("body")).to_contain_text("a day ahead, within ten years")
        first.get_by_label("Put off to").fill((timezone.localdate() + timedelta(days=40)).isoformat())
        first.get_by_role("button", name="Put it off").click()
        expect(page.locator("body")).to_contain_text("put off.")
        expect(page.locator(".recall", has_text="pressure, next morning")).to_have_count(0)

    def test_a_day_by_hand(self) -> None:
        """A job is booked, its bar dragged an hour on and into the other bay; by keys it goes back a quarter; what was dragged is stored."""
        Booking.objects.all().delete()  # the demo has its own
        page = self.sign_in("tobin")
        page.goto("/day/")
        page.get_by_label("Job", exact=True).press_sequentially("stage van")
        expect(page.locator("#job-jobs option")).to_have_count(1)
        expect(page.locator("#job-jobs option")).to_have_attribute("value", "2026-042")
        page.get_by_label("Hours").last.fill("2")
        with self.anew(page):
            page.get_by_role("button", name="Book it").click()
        bar = page.locator(".booking")
        box, lanes = bar.locator("rect").bounding_box(), page.locator(".day-lane")
        lane, other = lanes.nth(0).bounding_box(), lanes.nth(1).bounding_box()
        assert box is not None
        assert lane is not None
        assert other is not None
        hour = lane["width"] / 12.0
        x, y = box["x"] + 20, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + hour / 2, y, steps=3)
        with self.anew(page):
            page.mouse.move(x + hour, other["y"] + other["height"] / 2, steps=4)
            page.mouse.up()
        row = Booking.objects.get()
        self.assertEqual((row.start, row.bay.name), (9.0, "Bay 2"))
        page.locator(".booking").focus()
        page.keyboard.press("ArrowLeft")
        with self.anew(page):
            page.keyboard.press("Enter")
        row.refresh_from_db()
        self.assertEqual(row.start, 8.75)

    def test_signed_on_the_tablet(self) -> None:
        """A signature is drawn with a finger, drawn again, kept, and stands in the report; a form sent without one says so at the pad."""
        self.expected_trouble = ("422",)
        page = self.sign_in("tobin")
        page.goto(f"/jobs/{Job.objects.get(number='2026-046').pk}/report/")
        page.get_by_role("link", name="Signature").click()
        page.get_by_label("What is signed for").fill("Holes in the frame")
        page.get_by_role("button", name="Keep the signature").click()
        expect(page.get_by_text("Nothing is drawn yet")).to_be_visible()
        pad = page.locator("[data-pad] svg")
        for _ in range(2):
            self.drag(pad, 120, 30)
            expect(pad.locator("polyline")).to_have_count(1)
            page.get_by_role("button", name="Draw it again").click()
        self.drag(pad, 150, -20)
        page.get_by_role("button", name="Keep the signature").click()

        expect(page.locator(".signed .signature polyline")).to_have_count(1)
        page.get_by_role("link", name="Report").first.click()
        expect(page.locator("article .signed")).to_contain_text("Holes in the frame")
