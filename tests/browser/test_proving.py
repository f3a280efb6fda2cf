"""Proved as a person does it: a leak test over a closed tablet, a change that is kept and one that is put back, a card for the visor."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from vantok.desk.load import Desk
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job


class Proving(BrowserCase):
    def test_a_leak_test_over_a_reload(self) -> None:
        """A temperature without its unit is asked about with all that was typed kept; the clock goes on over a closed page, on another tablet too."""
        self.expected_trouble = ("422",)
        job = Job.objects.get(number="2026-046")
        page = self.sign_in("jude")
        page.goto(f"/jobs/{job.pk}/prove/leak/")
        page.get_by_label("Which").select_option("right")
        page.get_by_label("Pressed up to").fill("3")
        page.get_by_label("Temperature, with its unit").first.fill("18")
        page.get_by_role("button", name="Pressed up: begin").click()
        expect(page.locator(".error").first).to_contain_text("is that °C or °F")
        expect(page.get_by_label("Pressed up to")).to_have_value("3")
        page.get_by_label("Temperature, with its unit").first.fill("18 C")
        with page.expect_navigation():
            page.get_by_role("button", name="Pressed up: begin").click()
        expect(page.locator(".leak")).to_contain_text("Wait: a loss that is still fine")
        page.close()
        other = self.sign_in("tobin")
        other.goto(f"/jobs/{job.pk}/prove/leak/")
        expect(other.locator(".leak h3")).to_contain_text("Right: 44 psi at 64 °F")
        other.get_by_label("Reads now").fill("30 psi")
        other.locator(".leak").get_by_label("Temperature, with its unit").fill("64 F")
        other.locator(".leak").get_by_label("Bubbles, where").fill("at the upper fitting")
        with other.expect_navigation():
            other.get_by_role("button", name="Read again").click()
        expect(other.locator(".leak .finding")).to_contain_text("Bubbles: at the upper fitting. Let the air out first")
        expect(other.locator("#verdict")).to_contain_text("The right bag leaks")

    def test_one_change_kept_and_one_put_back(self) -> None:
        """Set anew, driven, worse: put back, the setting with it; set again, better: kept. The sheet compares what is alike; the card opens as paper."""
        job = Job.objects.get(number="2026-039")
        page = self.sign_in("marit")
        before = Fitting.objects.get(job=job).setting["pressure_pa"]
        for bar, button in (("3.4", "Put it back"), ("2.6", "Keep it")):
            page.goto(f"/jobs/{job.pk}/set/")
            page.locator("#id_left_pressure_pa").fill(bar)
            page.locator("#id_right_pressure_pa").fill(bar)
            with page.expect_navigation():
                page.get_by_role("button", name="Save the setting").click()
            page.goto(f"/jobs/{job.pk}/prove/drive/")
            page.get_by_label("Driven", exact=True).select_option("after")
            page.get_by_label("Course", exact=True).select_option("bump")
            page.get_by_label("Speed held").fill("20")
            page.get_by_label("Load", exact=True).select_option(label="Glider trailer")
            page.get_by_label("Harsh", exact=True).select_option("poor" if bar == "3.4" else "fine")
            page.get_by_label("Bottoms", exact=True).select_option("fine")
            with page.expect_navigation():
                page.get_by_role("button", name="Put it on the sheet").click()
            loop = page.locator(".loop").first
            loop.get_by_label("It is").select_option("worse" if bar == "3.4" else "better")
            with page.expect_navigation():
                loop.get_by_role("button", name=button).click()
            if bar == "3.4":
                self.assertEqual(
                    [round(p) for p in Fitting.objects.get(job=job).setting["pressure_pa"]], [round(p) for p in before]
                )
        loops = Desk.look(job.pk).job.proving.loops
        self.assertEqual([(one.outcome, one.stays) for one in loops], [("worse", "put_back"), ("better", "kept")])
        expect(
            page.get_by_role("row", name="Bottoms single bump, both wheels technician marginal fine better")
        ).to_be_visible()
        page.goto(f"/jobs/{job.pk}/set/")
        page.get_by_role("link", name="Pressure card").click()
        expect(page.locator(".pressure-card")).to_contain_text("bar")
        answer = page.request.get(page.get_by_role("link", name="For the sun visor").get_attribute("href") or "")
        self.assertEqual(answer.headers["content-type"], "application/pdf")
