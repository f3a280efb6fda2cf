"""Measuring and diagnosing to the end as hands do it: a part of the underside touched, a pair swapped, tanks that move the spans, a cause's test."""

import re

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from vantok.records.jobs.models import Inspection, Job
from vantok.records.weigh.models import LoadItem, LoadState


class ToTheEnd(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.job = Job.objects.get(number="2026-041")

    def test_a_part_of_the_underside_is_touched_and_graded(self) -> None:
        """Touched, the part shows what can be there; what is graded is marked there, in the drawing too; by keys the same, and nothing of it is lost."""
        page = self.sign_in("jude")
        page.goto(f"/jobs/{self.job.pk}/inspect/")
        rows = page.locator(".inspect-row:visible")
        few = rows.count()
        self.assertLess(few, 8, "what it does points at a few points; the rest folds")
        page.get_by_role("link", name="The whole list").click()
        expect(rows).to_have_count(14)
        page.locator("svg [data-zone=ML]").click()
        expect(rows).to_have_count(3)
        page.locator("svg [data-zone=RR]").focus()
        page.keyboard.press("Enter")
        expect(rows).to_have_count(13)
        row = page.locator(".inspect-row", has_text="Bump stops")
        row.get_by_text("watch", exact=True).click()
        expect(row.get_by_label("rear right")).to_be_checked()
        row.get_by_label("Note").fill("flat")
        page.get_by_role("button", name="All fine here").click()
        expect(page.get_by_text("Inspection saved.")).to_be_visible()
        there = [one for one in Inspection.objects.filter(job=self.job) if "RR" in one.where]
        self.assertEqual((len(there) > 11, {one.grade for one in there}), (True, {"watch", "fine"}))
        page.get_by_role("button", name="Save the inspection").click()
        expect(page.get_by_text("Inspection saved.")).to_be_visible()
        one = Inspection.objects.get(job=self.job, area="stops")
        self.assertEqual((one.grade, one.where, one.note), ("watch", ["RR"], "flat"))
        expect(page.get_by_role("link", name="Rear right: bump stops: watch")).to_be_visible()

    def test_when_it_is_felt_and_what_tells_most(self) -> None:
        """A complaint ticked asks when it is felt; what is said weighs on the causes, and the next test is named with its minutes."""
        page = self.sign_in("tobin")
        page.goto(f"/jobs/{self.job.pk}/listen/")
        row = page.locator("[data-felt=wanders]")
        expect(row).to_be_hidden()
        page.get_by_text("Wanders, follows ruts", exact=True).first.click()
        expect(row).to_be_visible()
        page.get_by_label("Wanders, follows ruts: at what speed").fill("55")
        page.get_by_label("Wanders, follows ruts: on what road").select_option("in ruts")
        with self.anew(page):
            page.get_by_role("button", name="Save", exact=True).click()
        self.assertAlmostEqual(Job.objects.get(pk=self.job.pk).heard["wanders"]["speed_mps"], 55 * 0.44704, places=4)
        page.goto(f"/jobs/{self.job.pk}/diagnose/")
        told = page.locator("section.sheet", has=page.get_by_role("heading", name="What the complaints may come from"))
        expect(told).to_contain_text("Felt in ruts, as it would be.")
        expect(told).to_contain_text("Next: Rock the wheel with the weight on it; feel each joint. About 5 minutes")
        expect(told).to_contain_text("at 55 mph".replace(" mph", "\u00a0mph"))

    def test_a_swapped_pair_is_asked_about(self) -> None:
        """Left and right typed the other way round from where the load lies: the sheet asks, and is content once they are read again."""
        job = Job.objects.get(number="2026-042")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/measure/")
        for left, right, swapped in (("739", "716", True), ("716", "739", False)):
            for words, figure in (("rear left", left), ("rear right", right)):
                field = page.get_by_label(f"On tour, {words}")
                field.fill(figure)
                field.press("Enter")
                expect(page.locator("form[data-cell]", has=field)).to_contain_text(f"{figure}\u00a0mm")
            page.reload()
            checks, asked = expect(page.locator("#checks")), "Were the sides swapped on the sheet? Read both again."
            (checks.to_contain_text if swapped else checks.not_to_contain_text)(asked)

    def test_the_envelope_moves_with_a_tank(self) -> None:
        """A tank put on makes a span of what the vehicle weighs, as wide as the tank is heavy; made larger, the span widens with it."""
        state = LoadState.objects.get(job=self.job, key="loaded")
        tank = LoadItem.objects.create(
            state=state, kind="tank", name="water", capacity_l=60, fill=0.5, kg_per_l=1.0, station_m=3.2
        )
        page = self.sign_in("marit")
        for litres in (60, 200):
            tank.capacity_l = litres
            tank.save()
            page.goto(f"/jobs/{self.job.pk}/weigh/envelope/")
            column = page.get_by_role("columnheader", name="gross vehicle mass").evaluate("th => th.cellIndex")
            cells = page.locator(f"table:has(thead) tbody tr > :nth-child({column + 1})").all_inner_texts()
            weights = [float(re.sub(r"\D", "", kg)) for kg in cells]
            self.assertAlmostEqual(max(weights) - min(weights), litres, delta=1.0)
            expect(page.locator("main")).to_contain_text("water full")

    def test_the_baseline_stands_large_and_is_said(self) -> None:
        """With a kit on, what stood there before stands beside each field, and the gain comes of itself; a voice is handed the row."""
        job = Job.objects.get(number="2026-039")
        page = self.sign_in("marit")
        page.add_init_script("window.said = []; window.speechSynthesis.speak = (one) => window.said.push(one.text);")
        page.goto(f"/jobs/{job.pk}/prove/")
        base = page.locator(".cell .base").first
        expect(base).to_contain_text("before")
        page.get_by_role("button", name="Read it aloud").first.click()
        self.assertRegex(page.evaluate("window.said[0]"), r"before, front left, \d+ mm")
        field = page.locator("[data-cell] .tape-in").nth(2)
        stood = int(re.findall(r"(\d+)\u00a0mm", page.locator(".cell .base").nth(2).inner_text())[0])
        field.fill(str(stood + 21))
        field.press("Enter")
        expect(page.locator(".cell .base").nth(2)).to_contain_text("+21")

    def test_two_versions_of_a_job(self) -> None:
        """From the history to the job beside itself before the last change: what was changed stands out, the rest is alike."""
        state = LoadState.objects.get(job=self.job, key="empty")
        state.rear_kg = (state.rear_kg or 0.0) + 40.0
        state.save()
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/history/")
        page.get_by_role("link", name="Side by side").click()
        page.get_by_label("As it stood at").select_option(index=0)
        page.get_by_role("button", name="Show both").nth(1).click()
        expect(page.get_by_role("heading", name="Heights")).to_be_visible()
        expect(page.locator("tr.tone-act")).to_have_count(2)  # the empty axle, and the loaded one planned on it
        expect(page.locator("tr.tone-act", has_text="Empty, rear axle")).to_contain_text("+40")

    def test_by_phone_without_sensors(self) -> None:
        """Where the browser gives none it is said, figures are typed instead, and what they come to stands at once."""
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/measure/phone/")
        for name, value in (
            ("pitch, degrees", "0.6"),
            ("lean, degrees", "0.1"),
            ("pitch, phone turned", "0.4"),
            ("lean, phone turned", "0.1"),
        ):
            page.get_by_label(re.compile(name, re.IGNORECASE)).fill(value)
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.locator("main")).to_contain_text("The reference for the others.")
