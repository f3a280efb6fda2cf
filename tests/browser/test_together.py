"""Several hands and a bad line: what others write appears, a walk goes on without a connection, a refused entry is not lost."""

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from tests.web.test_measure import picture
from vantok.desk.readings import Cell, record_reading
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Photo, Reading
from vantok.records.weigh.models import LoadState

OFFLINE = ("ERR_INTERNET_DISCONNECTED", "net::ERR", "htmx:sendError", "htmx:afterRequest")


class Together(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.job = Job.objects.get(number="2026-044")
        self.loaded = LoadState.objects.get(job=self.job, key="loaded")

    def elsewhere(self, place: str, text: str) -> None:
        """Somebody else writes into a cell."""
        cell = Cell(state=self.loaded, phase="before", datum="ground_arch", place=place)
        record_reading(User.objects.get(username="tobin"), self.job.pk, cell, text, seen=0)

    def texts(self) -> list[str]:
        return [r.text for r in Reading.objects.filter(job=self.job, state=self.loaded).order_by("pk")]

    def test_what_another_writes_appears_without_disturbing_a_hand(self) -> None:
        """The other's reading comes into its cell with the sentence; a cell being typed into keeps its text and its focus."""
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/measure/")
        mine = page.get_by_label("Caravan hitched, front left")
        mine.press_sequentially("67")
        self.elsewhere("RL", "25 1/4")
        theirs = page.locator("form[data-cell]", has=page.get_by_label("Caravan hitched, rear left"))
        expect(theirs).to_contain_text("Tobin Ashgrove")
        expect(page.get_by_label("Caravan hitched, rear left")).to_have_value("25 1/4")
        expect(mine).to_have_value("67")
        expect(mine).to_be_focused()
        mine.press_sequentially("1")
        mine.press("Enter")
        expect(page.locator("#verdict")).to_contain_text("rear right")
        self.assertEqual(self.texts(), ["25 1/4", "671"])

    def test_the_walk_goes_on_without_a_connection(self) -> None:
        """Three stops walked while the line is down wait in the browser, in view; they go through in order, once, when it returns."""
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/walk/")
        self.expected_trouble = OFFLINE
        title = page.locator("#walk-title")
        expect(title).to_have_text("Caravan hitched · front left")
        page.context.set_offline(True)
        for figure, following in (("671", "rear left"), ("636", "rear right"), ("637", "front right")):
            page.keyboard.type(figure)
            page.keyboard.press("Enter")
            expect(title).to_have_text(f"Caravan hitched · {following}")
        expect(page.locator("#offline")).to_contain_text("3 entries wait")
        expect(page.locator(".walk-last")).to_contain_text("636 …")
        self.assertEqual(self.texts(), [])
        page.context.set_offline(False)
        expect(page.locator("#offline")).to_be_hidden()
        expect(page.locator(".walk-last")).to_contain_text("636 mm")
        self.assertEqual(self.texts(), ["671", "636", "637"])

    def refused(self, page: Page, text: str) -> None:
        page.context.set_offline(True)
        field = page.get_by_label("Caravan hitched, rear left")
        field.fill(text)
        field.press("Enter")
        expect(page.locator("#offline")).to_contain_text("1 entry waits")

    def test_an_entry_that_is_not_taken_later_is_not_lost(self) -> None:
        """Typed without a connection into a cell that somebody else fills meanwhile, the figure stays in view with the reason."""
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/measure/")
        self.expected_trouble = OFFLINE
        self.refused(page, "636")
        self.elsewhere("RL", "641 mm")
        page.context.set_offline(False)
        said = page.locator("#offline")
        expect(said).to_contain_text(
            "Not taken: Caravan hitched, rear left “636”. Tobin Ashgrove wrote 641 mm here meanwhile"
        )
        page.reload()
        expect(said).to_contain_text("Not taken: Caravan hitched, rear left “636”")
        said.get_by_role("button", name="Let it go").click()
        expect(said).to_be_hidden()
        self.assertEqual(self.texts(), ["641 mm"])

    def test_a_photograph_is_taken_on_the_walk(self) -> None:
        """Choosing a picture at a reading keeps it there at once; it can be looked at."""
        self.elsewhere("FL", "671")
        page = self.sign_in("jude")
        page.goto(f"/jobs/{self.job.pk}/walk/?datum=ground_arch&at=loaded-FL")
        file = picture((300, 200))
        page.locator("input[type=file]").set_input_files(
            {"name": "arch.jpg", "mimeType": "image/jpeg", "buffer": file.read()}
        )
        expect(page.locator(".photos img")).to_be_visible()
        self.assertEqual(Photo.objects.get().reading, Reading.objects.get(job=self.job, state=self.loaded))

    def test_the_drawing_is_chosen_by_touch(self) -> None:
        """State, ghost, view and enlargement are picked and drawn at once; a figure opens its working."""
        page = self.sign_in("marit")
        job = Job.objects.get(number="2026-038")
        page.goto(f"/jobs/{job.pk}/diagnose/")
        page.get_by_label("State drawn").select_option("loaded+kit")
        drawn = "Side view, Clinic fitted out, read with the kit: front down 6\u00a0mm, rear down 15\u00a0mm from empty"
        expect(page.locator("#stance svg")).to_have_attribute("aria-label", drawn)
        page.get_by_label("against").select_option("loaded")
        expect(page.locator("#stance")).to_contain_text("dashed: Clinic fitted out")
        page.get_by_label("View", exact=True).select_option("rear")
        expect(page.locator("#stance")).to_contain_text("rear axle, from behind")
        page.get_by_label("Height changes enlarged").select_option("10")
        expect(page.locator("#stance")).to_contain_text("×10")
        self.unfold(page, "State by state")
        page.locator(".states a[href='#w-loaded-front_lost']").click()
        working = page.locator("#w-loaded-front_lost")
        expect(working).to_be_visible()
        expect(working).to_be_focused()

    def test_targets_are_large_enough_everywhere(self) -> None:
        """On the pages of weighing, measuring and diagnosis nothing to touch is lower than 44 px."""
        page = self.sign_in("marit")
        weighing = ("weigh/", "weigh/scales/", "weigh/trailer/", "weigh/limits/", "weigh/coach/")
        rest = ("inspect/", "assumptions/", "measure/phone/", "weigh/across/", "weigh/tyres/", "side-by-side/")
        for address in (*weighing, *rest, "diagnose/", "measure/?datum=ground_point", "walk/?prepare=1"):
            page.goto(f"/jobs/{Job.objects.get(number='2026-042').pk}/{address}")
            small = page.evaluate(
                """() => [...document.querySelectorAll('a, button, input:not([type=hidden]), summary, select, .plan-item')]
                     .filter(e => e.getBoundingClientRect().height > 0 && !e.closest('dialog') && !e.closest('.chip') && !e.closest('.stance a')
                                  && !(e.type === 'checkbox' && e.closest('label') && e.closest('label').getBoundingClientRect().height >= 43.5)
                                  && !e.classList.contains('skip') && !e.classList.contains('visually-hidden'))
                     .map(e => [e.tagName, e.textContent.trim().slice(0, 30), e.getBoundingClientRect().height])
                     .filter(([, , height]) => height < 43.5)"""
            )
            self.assertEqual(small, [], address)
