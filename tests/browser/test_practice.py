"""The practice bay as a trainee works it: a case from start to debrief, on a phone too; a puzzle, a drill, the playground."""

import re

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from vantok.practice.work import shelf
from vantok.records.practice.models import Drilled
from vantok_core.practice.bay.puzzles import puzzle


class AtTheBay(BrowserCase):
    def stage(self, page: Page, name: str) -> None:
        with self.anew(page):
            page.locator("nav.stages").get_by_role("link", name=name).click()
        expect(page.locator("#practice")).to_be_visible()

    def act(self, page: Page, button: str, option: str = "", *, note: bool = True) -> None:
        """Do something in the panel, and write down what it answered."""
        form = page.locator("#practice form").filter(has=page.get_by_role("button", name=button))
        if option:
            form.get_by_role("combobox").select_option(label=option)
        with self.anew(page):
            form.get_by_role("button", name=button).click()
        if note:
            with self.anew(page):
                page.get_by_role("button", name="Write it down").first.click()
            expect(page.get_by_text("Written down.")).to_be_visible()

    def test_a_case_from_its_beginning_to_its_debrief(self) -> None:
        """Begun in the header's room, worked in the job's own pages, said, handed in: marks, truth, heights and the drives."""
        page = self.sign_in("jude")
        page.get_by_role("link", name="Practice bay").click()
        with self.anew(page):
            page.get_by_role("button", name="Begin It leans in the morning").click()
        expect(page.locator("#practice")).to_contain_text("It leans in the morning")
        with self.anew(page):
            page.get_by_role("link", name="Inspection sheet").click()
        for area in (
            "Air springs: cracks, rub, lines, valves",
            "Air springs pressed up, soaped whole: bubbles, lines, fittings",
        ):
            self.act(page, "Look at", area)
        expect(page.locator("#practice")).to_contain_text("Bubbles at the left bag")
        self.stage(page, "Vehicle")
        self.act(page, "Read the plates")
        for load in ("Empty", "Loaded"):
            self.stage(page, "Weigh")
            self.act(page, "Load it as", load, note=False)
            self.act(page, "Put it on four pads")
            self.stage(page, "Measure")
            self.act(page, "Roll and bounce it", note=False)
            self.act(page, "Hold the tape", "Ground to arch")
        expect(page.locator("form[data-cell] input").first).not_to_have_value("")
        self.stage(page, "Diagnose")
        expect(page.locator("#verdict")).to_contain_text("Say first what you make of it")
        page.get_by_label("What is behind it").select_option(
            label="An air spring that leaks, or is set unlike the other"
        )
        page.get_by_label("What is to be done").select_option(label="Cure the fault first")
        page.get_by_label("What you make of it").fill("It loses air at the left fitting")
        page.get_by_role("button", name="Say it").click()
        expect(page.locator("#practice")).to_contain_text("You said: an air spring that leaks")
        expect(page.locator("#verdict")).not_to_contain_text("Say first")
        page.locator("#practice").get_by_role("link", name="Hand in").click()
        page.get_by_role("button", name="Hand it in").click()
        expect(page.locator(".verdict")).to_contain_text("100 % of the marks")
        expect(page.get_by_role("heading", name="The truth")).to_be_visible()
        expect(page.locator(".heights-rows")).to_be_visible()
        expect(page.locator("[data-ride] canvas").first).to_be_visible()
        page.set_viewport_size({"width": 390, "height": 844})
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)

    def test_a_puzzle_a_drill_and_the_playground(self) -> None:
        """Steps put in order by keys alone; a tape read; a load dragged over the axle, and a guess."""
        page = self.sign_in("jude")
        one = puzzle(shelf(), 7)
        own = [s.words for s in one.card.steps if s.key in {t.key for t in one.shown}]
        page.goto("/practice/drills/order/?n=7")
        for place, words in enumerate(own):
            row = page.locator("[data-step]").filter(has_text=words)
            while [*page.locator("[data-step] > span:first-of-type").all_inner_texts()].index(words) > place:
                row.get_by_role("button", name="earlier").press("Enter")
        page.get_by_role("button", name="That is the order").click()
        expect(page.locator(".finding")).to_contain_text("It can be followed so")
        expect(page.locator("#offline")).to_be_hidden()
        page.goto("/practice/drills/fraction/?n=5")
        page.get_by_label("Answer").fill("30 1/4")
        page.keyboard.press("Enter")
        expect(page.locator(".finding")).to_contain_text("Right: 30 1/4 in")
        self.assertEqual(sorted(d.key for d in Drilled.objects.all()), ["fraction", "puzzle"])
        page.goto("/practice/playground/?vehicle=pickup&load=300&at=1.2")
        rear = page.locator(".ground-told div").filter(has_text="rear axle").locator("dd")
        before = rear.inner_text()
        self.drag(page.locator("[data-handle=load]"), -240, 0)
        expect(rear).not_to_have_text(before)
        expect(page).to_have_url(re.compile(r"at=0\."))
        kilograms = [float(text.split()[0]) for text in (before, rear.inner_text())]
        self.assertLess(kilograms[1], kilograms[0] - 50.0)
        page.locator("[data-handle=tongue]").focus()
        page.keyboard.press("ArrowDown")
        expect(page.locator(".ground-set")).to_contain_text("tongue 5 kg")
        page.keyboard.press("ArrowDown")
        expect(page.locator(".ground-set")).to_contain_text("tongue 10 kg")
