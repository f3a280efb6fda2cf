"""A whole weighing as a technician does it, in pounds; and a bay's floor, a preparation and a walk on it, in millimetres."""

import re
from pathlib import Path
from tempfile import TemporaryDirectory

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from vantok.records.jobs.models import Bay, Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadItem, LoadState


class WeighingDay(BrowserCase):
    def topic(self, page: Page, name: str) -> None:
        page.get_by_role("navigation", name="Weighing").get_by_role("link", name=name).click()

    def test_with_one_portable_scale_in_pounds(self) -> None:
        """Weighed alone and hitched, the tongue and trailer come out; the plan is brought to the scale; bars give load back; a copy is tried."""
        page = self.sign_in("tobin")
        job = Job.objects.get(number="2026-041")
        page.goto(f"/jobs/{job.pk}/weigh/")
        self.topic(page, "Scales")
        self.unfold(page, "One portable scale")
        for label, figure in (
            ("Front axle on it lb", "2820"),
            ("Both axles on it lb", "5580"),
            ("Front axle on it, hitched", "2660"),
            ("Both axles on it, hitched", "6040"),
            ("Vehicle and trailer", "9300"),
        ):
            page.get_by_label(label, exact=label.endswith("lb")).fill(figure)
        page.get_by_role("button", name="Work it out and take it into the sheet").click()
        expect(page.get_by_text("Taken into the sheet.")).to_be_visible()
        expect(page.get_by_text("Tongue: 460 lb")).to_be_visible()
        expect(page.get_by_text("Trailer 3720 lb, 3260 lb on its own wheels")).to_be_visible()
        expect(page.get_by_label("Front axle, scale")).to_have_value("2660")
        expect(page.locator("#loads")).to_contain_text("off the scale")
        page.get_by_role("button", name="Adjust the plan to the scale").click()
        expect(page.get_by_text("Plan adjusted to the scale:")).to_be_visible()
        self.topic(page, "Hitch and trailer")
        front = page.locator(".facts dd").nth(1)
        before = front.inner_text()
        page.get_by_label("Front load given back by spring bars").fill("60")
        page.get_by_role("button", name="Save the trailer").click()
        expect(page.get_by_text("still on the ball")).to_be_visible()
        self.assertNotEqual(front.inner_text(), before)
        self.topic(page, "Load plan")
        self.unfold(page, "Another load state")
        page.get_by_label("Which").select_option("holiday")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.get_by_role("link", name="Holiday load")).to_have_attribute("aria-current", "true")
        expect(page.locator("#loads")).to_contain_text("from the plan")
        page.get_by_role("button", name="roof box").click()
        expect(page.locator("#edit")).to_contain_text("roof box")
        page.get_by_label("Mass").fill("150")
        page.get_by_role("button", name="Save", exact=True).first.click()
        expect(page.locator("#items tr", has_text="roof box")).to_contain_text("150 lb")
        self.topic(page, "Limits")
        page.get_by_label("Something that weighs").fill("200")
        page.get_by_role("button", name="Find its best place").click()
        expect(page.get_by_text("The smallest margin is then")).to_be_visible()
        holiday = LoadState.objects.get(job=job, key="holiday-load")
        self.assertIsNone(holiday.front_kg)
        self.assertAlmostEqual(holiday.items.get(name="roof box").mass_kg or 0.0, 68.04, 1)

    def test_a_plan_goes_from_one_job_to_another_as_a_file(self) -> None:
        """Saved from one job and opened in another, the plan stands there; a broken file says where, and the plan stays."""
        page = self.sign_in("marit")
        one, two = Job.objects.get(number="2026-042"), Job.objects.get(number="2026-041")
        page.goto(f"/jobs/{one.pk}/weigh/")
        with page.expect_download() as caught, TemporaryDirectory() as folder:
            page.get_by_role("link", name="Plan as CSV").click()
            path = Path(folder) / "plan.csv"
            caught.value.save_as(path)
            page.goto(f"/jobs/{two.pk}/weigh/")
            page.get_by_text("Open a plan from a file").click()
            page.get_by_label("Load plan, CSV").set_input_files(path)
            page.get_by_role("button", name="Put it in place of this plan").click()
            expect(page.locator("#items")).to_contain_text("puppet trunks")
            path.write_text(path.read_text().replace("280.0", "many"))
            page.get_by_text("Open a plan from a file").click()
            page.get_by_label("Load plan, CSV").set_input_files(path)
            self.expected_trouble = ("422",)
            page.get_by_role("button", name="Put it in place of this plan").click()
            expect(page.get_by_text(re.compile(r"Nothing was taken in\. line \d, mass_kg"))).to_be_visible()
        self.assertEqual(LoadItem.objects.filter(state__job=two).count(), 4)

    def test_a_bay_is_measured_and_walked_in(self) -> None:
        """The floor found by turning a vehicle round is taken off what is read in that bay from then on."""
        page = self.sign_in("marit")
        page.goto("/bays/")
        page.get_by_role("row", name="Bay 2").get_by_role("link", name="Measure").click()
        for way, figures in (("in", ("905", "895", "895", "905")), ("out", ("895", "905", "905", "895"))):
            for corner, figure in zip(("front left", "rear left", "rear right", "front right"), figures, strict=True):
                page.get_by_label(f"{corner.capitalize()}, facing {way}").fill(figure)
        page.get_by_role("button", name="Work out the floor").click()
        expect(page.get_by_role("row", name="Bay 2")).to_contain_text("+5 mm")
        job = Job.objects.get(number="2026-045")
        job.vehicle.wheelbase_m = 3.9
        job.vehicle.rear_spring = "leaf_solid"
        job.vehicle.save()
        page.goto(f"/jobs/{job.pk}/walk/")
        page.get_by_text("Tyre pressures read and noted").click()
        page.get_by_label("Bay", exact=True).select_option(label="Bay 2")
        page.get_by_role("button", name="Begin the walk").click()
        expect(page.get_by_role("button", name="Begin the walk")).to_have_count(0)
        expect(page.locator("#walk-title")).to_have_text("Empty · front left")
        page.keyboard.type("930")
        page.keyboard.press("Enter")
        expect(page.locator("#walk-title")).to_have_text("Empty · rear left")
        page.get_by_role("link", name="Back").click()
        expect(page.get_by_text("With the floor taken off: 925 mm.")).to_be_visible()
        self.assertAlmostEqual(Reading.objects.get(job=job).floor_m, 0.005)
        self.assertEqual(Bay.objects.get(name="Bay 2").by.username, "marit")  # type: ignore[union-attr]
