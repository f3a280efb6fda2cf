"""The fitting card: with gloves on by one key, two people on two sides, a gate overruled by the lead and not by others."""

import time

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from vantok.desk.load import Desk
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import KitRecord


class FittingCard(BrowserCase):
    def test_a_whole_card_with_gloves_on(self) -> None:
        """From the half-done card to its end with one key, a step a screen, gates with all their points before the eye; at the end it says to set it."""
        job = Job.objects.get(number="2026-046")
        page = self.sign_in("tobin")
        page.goto(f"/jobs/{job.pk}/fit/")
        page.get_by_role("link", name="Gloves on").click()
        while (step := Desk.look(job.pk).cards[0].next) is not None:
            expect(page.locator(".step:visible")).to_have_count(1)
            if step.gate:
                page.keyboard.press("Enter")  # one key passes no gate: each point is said for itself, then it is held
                expect(page.locator(".step:visible .so input:checked")).to_have_count(1)
                page.keyboard.press("Space")
                page.locator(".step:visible .step-done").click()
                expect(page.locator(".step:visible .form-said")).to_contain_text("Hold it for a second")
                page.reload()  # what was said of a gate that was not passed is said anew
            self.leave_step(page, step)
            expect(page.locator(f".step input[value='{step.key}']")).to_have_count(0)
            self.caught_up(job, step.key)
        expect(page.locator("#main")).to_contain_text("is done: set it")
        page.get_by_role("link", name="Set it").click()
        expect(page.get_by_role("heading", name="Ferrywell bellows, middle: try it on the model")).to_be_visible()

    def test_a_bag_in_a_coil_from_the_box_to_the_end(self) -> None:
        """By keys alone: above each step stands what carries the vehicle and what is off; the coil comes out relieved, the bag has its minimum before the
        wheels carry, the damper is tightened on them; at the end everything that came off is back."""
        seen, shown = self.walked(
            "FW-B", rear_spring="coil_solid", gross_kg=2300, beyond={"sizes": {"rear_coil_inside_m": 0.12}}
        )
        bag, bolts = (
            next(w for w in seen if word in w) for word in ("right: Squeeze the bag", "left: Damper bolt and link")
        )
        self.assertRegex(seen[bag], "on stands · off: .*coil spring, right.* a spring relieved")
        self.assertEqual(seen[bolts], "Now: air at the minimum.")
        self.assertIn("off: ", shown[bag])

    def walked(self, code: str, **vehicle: object) -> tuple[dict[str, str], dict[str, str]]:
        """Take a kit on a vehicle from its box to its end gate, with gloves on and by keys alone; return how the vehicle stood and what the picture
        showed at each step."""
        job = Job.objects.get(number="2026-041")
        for name, value in vehicle.items():
            setattr(job.vehicle, name, value if name != "beyond" else {**job.vehicle.beyond, **value})  # type: ignore[dict-item]
        job.vehicle.save()
        page = self.sign_in("tobin")
        page.goto(f"/jobs/{job.pk}/choose/")
        Fitting.objects.create(job=job, kit=KitRecord.objects.get(code=code).data)
        page.goto(f"/jobs/{job.pk}/fit/?gloves=1")
        stood, shown = {}, {}
        while (step := Desk.look(job.pk).cards[0].next) is not None:
            stood[f"{step.side}: {step.words}"] = said = Desk.look(job.pk).cards[0].standing.said.in_units("metric")
            if said:
                expect(page.locator("#standing")).to_have_text(said)
            picture = page.locator(".step:visible .at-step")
            if picture.count():
                shown[f"{step.side}: {step.words}"] = picture.get_attribute("aria-label") or ""
            self.leave_step(page, step)
            self.caught_up(job, step.key)
        expect(page.locator("#main")).to_contain_text("is done: set it")
        return stood, shown

    def caught_up(self, job: Job, key: str) -> None:
        """Wait until the server has a step."""
        for _ in range(100):
            if key in Desk.look(job.pk).cards[0].marks:
                return
            time.sleep(0.1)
        self.fail(f"{key} never reached the server")

    def test_the_connection_lost_in_the_middle(self) -> None:
        """Without a connection the card goes on step by step, says that steps wait, and catches up in order, each once, when it is back."""
        job = Job.objects.get(number="2026-046")
        page = self.sign_in("tobin")
        page.goto(f"/jobs/{job.pk}/fit/?gloves=1")
        open_ = [step.key for step in Desk.look(job.pk).cards[0].open]
        self.expected_trouble = ("ERR_INTERNET_DISCONNECTED", "Failed to fetch")
        page.context.set_offline(True)
        steps = {step.key: step for step in Desk.look(job.pk).cards[0].open}
        for key in open_[:5]:
            self.leave_step(page, steps[key])
            expect(page.locator(f".step input[value='{key}']")).to_have_count(0)
        self.assertFalse(set(open_[:5]) & set(Desk.look(job.pk).cards[0].marks))
        page.context.set_offline(False)
        self.caught_up(job, open_[4])
        marks = list(Desk.look(job.pk).cards[0].marks)
        self.assertEqual(marks[-5:], open_[:5])
        page.reload()
        expect(page.locator(".step:visible input[name='key']")).to_have_value(open_[5])

    def side_done(self, page: Page, words: str) -> None:
        """Tick the step of a side that is free now."""
        step = page.locator(".step", has_text=words)
        for fastener in step.locator("fieldset.each").all():
            fastener.get_by_label("by feel").check()
        fact = step.locator("[name=fact]")
        if fact.count() and not fact.input_value():
            fact.select_option(index=1) if fact.evaluate("e => e.tagName") == "SELECT" else fact.fill("as it was")
        with self.anew(page):
            step.get_by_role("button", name="Done").click()

    def test_two_people_on_two_sides(self) -> None:
        """Each ticks a side on a tablet of their own; neither takes the other's step away, and either sees where the other is; the gate after both
        holds until both are done, is refused to the technician's reason and passed by the lead's."""
        job = Job.objects.get(number="2026-046")
        self.expected_trouble = ("422",)
        one, other = self.sign_in("tobin"), self.sign_in("marit")
        for page in (one, other):
            page.goto(f"/jobs/{job.pk}/fit/")
        steps = Desk.look(job.pk).cards[0].card.steps
        both = next(n for n, s in enumerate(steps) if s.gate == "move")
        right = sum(s.side == "right" for s in steps[:both])
        self.side_done(other, "Right:")
        self.side_done(one, "Left:")
        for _ in range(right - 1):
            self.side_done(other, "Right:")
        gate = other.locator(".step", has_text="Before body or axle move")
        expect(gate).to_be_visible()
        gate.get_by_role("button", name="All of it is so").click()
        expect(other.locator("#main")).to_contain_text("A gate holds until each of its points is so")
        one.reload()
        one.get_by_text("Overrule it").click()
        expect(one.locator(".step")).to_contain_text("Only the lead overrules a gate")
        other.get_by_text("Overrule it").click()
        other.get_by_label("Reason").fill("it hangs on a two-post lift")
        other.get_by_role("button", name="Overrule the gate").click()
        expect(other.locator("#main")).to_contain_text("it hangs on a two-post lift")
        marks = Desk.look(job.pk).cards[0].marks.values()
        self.assertEqual({m.by for m in marks if m.at > "2026-03-03"}, {"Tobin Ashgrove", "Marit Solheim-Vane"})
