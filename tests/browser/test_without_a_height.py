"""Jobs that came for no height, each from the complaint to the hand-over as a person does it, without one figure off a tape."""

import time
from dataclasses import dataclass

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from vantok.desk.load import Desk
from vantok.records.jobs.models import Job


@dataclass(frozen=True, kw_only=True)
class Told:
    """What one customer came with, and what was done: complaint, body, inspection's points, kit, what is graded, its setting."""

    complaint: str
    body: str
    looked: tuple[str, ...]
    kit: str
    graded: str
    setting: dict[str, str]


SWIMS = Told(
    complaint="Keeps bouncing, porpoises",
    body="pickup",
    looked=("dampers",),
    kit="Breakwater rear dampers, eight clicks",
    graded="Porpoises",
    setting={"Click, left": "3", "Click, right": "3"},
)
SWAYS = Told(
    complaint="Trailer does not calm down",
    body="wagon",
    looked=("tyres",),
    kit="Breakwater hitch damper",
    graded="Trailer sways",
    setting={},
)


class WithoutAHeight(BrowserCase):
    def test_a_swimming_pickup_with_dampers(self) -> None:
        """Looked at, driven from memory, dampers fitted by their card with gloves on and set at a click, driven again: fine now, and no height anywhere."""
        self.walk(SWIMS)

    def test_a_swaying_caravan_with_its_load_moved_and_a_damper_at_its_hitch(self) -> None:
        """The tongue is weighed first and is light: no part before that is cured. The load goes forward, it is weighed again; then a damper at the hitch."""
        page = self.sign_in("marit")
        job = self.begin(page, SWAYS)
        self.look(page, job, SWAYS)
        page.goto(f"/jobs/{job.pk}/choose/")
        expect(page.locator("#verdict")).to_contain_text("Weigh the tongue and the trailer")
        self.weigh(page, job, "40")
        expect(page.locator("#verdict")).to_contain_text("a light tongue sways")
        self.drive(page, job, SWAYS, "before", "poor")
        self.weigh(page, job, "180")
        page.goto(f"/jobs/{job.pk}/choose/")
        expect(page.locator("#verdict")).to_contain_text("Choose what answers the trailer")
        self.fit_and_prove(page, job, SWAYS)

    def walk(self, told: Told) -> None:
        page = self.sign_in("marit")
        job = self.begin(page, told)
        expect(page.locator("#verdict")).to_contain_text("no height is needed")
        self.look(page, job, told)
        self.drive(page, job, told, "before", "poor")
        page.goto(f"/jobs/{job.pk}/choose/")
        self.fit_and_prove(page, job, told)

    def fit_and_prove(self, page: Page, job: Job, told: Told) -> None:
        """From the part taken on Choose to the hand-over."""
        with self.anew(page):
            page.get_by_role("row", name=told.kit, exact=False).get_by_role(
                "button", name="Take this kit"
            ).first.click()
        self.card(page, job)
        page.goto(f"/jobs/{job.pk}/set/")
        expect(page.locator("main")).not_to_contain_text("holds the height")
        for label, value in told.setting.items():
            page.get_by_label(label, exact=True).last.fill(value)
        page.get_by_label("Set and checked on the vehicle").check()
        with self.anew(page):
            page.get_by_role("button", name="Save the setting").click()
        page.goto(f"/jobs/{job.pk}/prove/")  # what the drive alone proves opens with the drives
        expect(page.locator("#verdict")).to_contain_text("drive the same course again")
        expect(page.get_by_role("link", name="Heights")).to_have_count(0)
        expect(page.get_by_role("link", name="Leak test")).to_have_count(0)
        self.drive(page, job, told, "after", "fine")
        self.hand_over(page, job, told)

    def begin(self, page: Page, told: Told) -> Job:
        page.get_by_role("link", name="New job").click()
        page.get_by_label("Customer").fill("Peat Works")
        page.get_by_label("Vehicle, as the shop calls it").fill("the grey one")
        page.locator("[name=body]").select_option(told.body)
        page.get_by_role("button", name="Start the job").click()
        page.get_by_role("checkbox", name=told.complaint).check()
        with self.anew(page):
            page.get_by_role("button", name="Save", exact=True).click()
        return Job.objects.order_by("-pk")[0]

    def look(self, page: Page, job: Job, told: Told) -> None:
        """Find what could be the whole cause fine."""
        page.goto(f"/jobs/{job.pk}/inspect/")
        page.get_by_role("link", name="The whole list").click()
        for area in told.looked:
            page.locator(f"[name='grade-{area}'][value=fine]").first.check(force=True)
        with self.anew(page):
            page.get_by_role("button", name="Save").first.click()

    def weigh(self, page: Page, job: Job, tongue: str) -> None:
        page.goto(f"/jobs/{job.pk}/weigh/trailer/")
        page.get_by_label("Tongue load").fill(tongue)
        page.get_by_label("Trailer mass").fill("1500")
        with self.anew(page):
            page.get_by_role("button", name="Save the trailer").click()

    def drive(self, page: Page, job: Job, told: Told, moment: str, grade: str) -> None:
        page.goto(f"/jobs/{job.pk}/prove/drive/")
        page.get_by_label("Driven", exact=True).select_option(moment)
        page.get_by_label("Graded by the").select_option("owner")
        page.get_by_label("Course", exact=True).select_option("usual")
        page.get_by_label("Speed held").fill("60")
        self.grade(page, told.graded, grade)
        with self.anew(page):
            page.get_by_role("button", name="Put it on the sheet").click()

    def card(self, page: Page, job: Job) -> None:
        """Work through the fitting card with gloves on."""
        page.goto(f"/jobs/{job.pk}/fit/?gloves=1")
        while (step := Desk.look(job.pk).cards[0].next) is not None:
            self.leave_step(page, step)
            for _ in range(100):
                if step.key in Desk.look(job.pk).cards[0].marks:
                    break
                time.sleep(0.1)
            else:
                self.fail(f"{step.key} never reached the server")
        expect(page.locator("#main")).to_contain_text("is done: set it")

    def hand_over(self, page: Page, job: Job, told: Told) -> None:
        """The report says what the drive says, and nothing of heights; the complaint is answered and the job closed."""
        page.goto(f"/jobs/{job.pk}/report/")
        expect(page.locator("#verdict")).to_contain_text("is fine now")
        for never in ("no loaded state", "holds the height", "Rake to measure", "at the rear springs"):
            expect(page.locator("main")).not_to_contain_text(never)
        page.get_by_role("radio", name="cured").first.check(force=True)
        with self.anew(page):
            page.get_by_role("button", name="Save the answers").click()
        if page.get_by_label("Hand over anyway, because").count():
            page.get_by_label("Hand over anyway, because").fill("its plate is read at the next visit")
        with self.anew(page):
            page.get_by_role("button", name="Hand over and close").click()
        job.refresh_from_db()
        self.assertTrue(job.done)
        self.assertEqual(job.readings.count(), 0)


class AtTheHitch(BrowserCase):
    def test_a_tail_that_drags_read_at_its_hitch_alone(self) -> None:
        """Two heights of the hitch choose a kit; with it on the same point is asked for first, and proved by what was foretold there. No arch is read."""
        job = Job.objects.get(number="2026-041")
        job.readings.all().delete()
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/measure/?datum=ground_hitch")
        for state, value in (("Empty", "545"), ("Boat on", "458")):
            self.read_cell(page, f"{state}, hitch", value)
        page.goto(f"/jobs/{job.pk}/choose/")
        page.wait_for_load_state("networkidle")
        page.locator(".best-row").get_by_role("button", name="Take this kit").click()
        self.on_to_set(page)
        page.get_by_label("Set and checked on the vehicle").check()
        with self.anew(page):
            page.get_by_role("button", name="Save the setting").click()
        page.goto(f"/jobs/{job.pk}/prove/")
        expect(page.get_by_text("The arches too")).to_be_visible()
        foretold = {
            section.locator("h2").inner_text(): section.locator("tbody td").nth(1).inner_text().split("±")[0].strip()
            for section in page.locator("#proof > details", has=page.locator("table")).all()
        }
        self.assertEqual(set(foretold), {"Empty", "Boat on"})
        for state, value in foretold.items():
            self.read_cell(page, f"{state}, hitch", value)
        expect(page.locator("#main")).to_contain_text("Boat on: the hitch stands")
        expect(page.locator("#main")).to_contain_text("It is proved at that point; nothing is said of the others")
        self.assertFalse(job.readings.exclude(datum="ground_hitch").exists())
