"""A hurried hand, a session that ends, a server that fails: nothing typed is lost, and everything is said."""

import time

from playwright.sync_api import Page, Route, expect

from tests.browser.base import BrowserCase
from vantok.demo.world import PASSWORD
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadItem, LoadState

FAILED = ("status of 4", "status of 5", "ERR_", "htmx:responseError", "net::")


class Hurry(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.job = Job.objects.get(number="2026-038")
        self.expected_trouble = FAILED

    def at(self, page: Page, stage: str) -> Page:
        page.goto(f"/jobs/{self.job.pk}/{stage}/")
        return page

    def slowly(self, page: Page, pattern: str, seconds: float = 0.5) -> None:
        def wait(route: Route) -> None:
            time.sleep(seconds)
            route.continue_()

        page.route(pattern, wait)

    def holding(self, page: Page, pattern: str, method: str) -> tuple[list[Route], list[str]]:
        """Hold back the first request of a kind; gives it when it comes, and every saving seen."""
        held: list[Route] = []
        saves: list[str] = []

        def hold(route: Route) -> None:
            if route.request.method == "POST":
                saves.append(route.request.url)
            if route.request.method == method and not held:
                held.append(route)
            else:
                route.continue_()

        page.route(pattern, hold)
        return held, saves

    def texts(self, phase: str = "after") -> list[str]:
        rows = Reading.objects.filter(job=self.job, phase=phase).order_by("pk")
        standing = {(r.state_id, r.place): r.text for r in rows if r.datum == "ground_arch"}
        return sorted(standing.values())

    def test_eight_readings_typed_quickly_and_away(self) -> None:
        """Eight cells of a job with a kit, typed by Enter on a slow line, then a stage link, and then Back: all eight are stored, once each."""
        page = self.at(self.sign_in("marit"), "prove")
        self.slowly(page, "**/cell/**")
        figures = [str(n) for n in range(901, 909)]
        count = Reading.objects.count()
        page.locator("input[data-walk]").first.focus()
        for figure in figures:
            page.keyboard.type(figure)
            page.keyboard.press("Enter")
        page.locator(".stages").get_by_role("link", name="Diagnose").click()
        page.wait_for_url("**/diagnose/")
        expect(page.locator("#unsent")).to_be_hidden()
        self.assertEqual(self.texts(), figures)
        self.assertEqual(Reading.objects.count(), count + 8)

    def test_half_a_figure_is_no_reading(self) -> None:
        """Left by Back, by a link, by reload in the middle of a figure: nothing is stored, it is said, it stands in its cell again, and Enter enters it."""
        page = self.at(self.sign_in("marit"), "diagnose")
        self.at(page, "prove")
        count, cell = Reading.objects.count(), page.locator("input[data-walk]").first
        cell.fill("9")
        page.go_back()
        page.wait_for_url("**/diagnose/")
        expect(page.locator("#offline")).to_contain_text("Typed, not entered")
        page.get_by_role("button", name="Open it").click()
        page.wait_for_url("**/prove/")
        expect(cell).to_have_value("9")
        expect(page.locator("form.cell").first).to_contain_text("not entered")
        cell.press_sequentially("11")
        page.reload()
        page.locator(".stages").get_by_role("link", name="Diagnose").click()
        page.wait_for_url("**/diagnose/")
        page.go_back()
        self.assertEqual(Reading.objects.count(), count)
        cell.press("End")
        cell.press("Enter")
        expect(page.locator("#unsent")).to_be_hidden()
        expect(page.locator("form.cell").first).not_to_contain_text("not entered")
        self.assertEqual(Reading.objects.count(), count + 1)

    def test_a_session_that_ends_while_typing(self) -> None:
        """The entries wait and say so, sign-in comes up in place, and after it they go through in order with their author."""
        page = self.at(self.sign_in("tobin"), "prove")
        page.context.clear_cookies(name="sessionid")
        first, second = (page.locator("input[data-walk]").nth(n) for n in (0, 1))
        first.fill("36")
        first.press("Enter")
        expect(page.locator("#sign-again")).to_be_visible()
        self.assertNotIn("36", self.texts())
        page.get_by_label("Password").fill("wrong")
        page.locator("#sign-again").get_by_role("button", name="Sign in").click()
        expect(page.locator("#sign-again .error")).to_contain_text("That password is not right")
        page.get_by_label("Password").fill(PASSWORD)
        page.locator("#sign-again").get_by_role("button", name="Sign in").click()
        expect(page.locator("#sign-again")).to_be_hidden()
        expect(page.locator("form[data-cell]").first).to_contain_text("Tobin Ashgrove")
        second.fill("36 1/2")
        second.press("Enter")
        expect(page.locator("form[data-cell]").nth(1)).to_contain_text("Tobin Ashgrove")
        self.assertLessEqual({"36", "36 1/2"}, set(self.texts()))

    def test_an_entry_waits_for_whoever_typed_it(self) -> None:
        """On a shared tablet the next one who signs in does not become the author: the entry waits, said, until its person is back."""
        page = self.at(self.sign_in("tobin"), "prove")
        page.context.clear_cookies(name="sessionid")
        field = page.locator("input[data-walk]").first
        field.fill("36")
        field.press("Enter")
        expect(page.locator("#sign-again")).to_be_visible()
        for name in ("marit", "tobin"):
            page.goto("/sign-in/")
            page.get_by_label("Name").fill(name)
            page.get_by_label("Password").fill(PASSWORD)
            page.get_by_role("button", name="Sign in").click()
            expect(page.get_by_role("heading", name="Day board")).to_be_visible()
            if name == "marit":
                expect(page.locator("#offline")).to_contain_text("1 entry waits in this browser for Tobin Ashgrove")
                self.assertNotIn("36", self.texts())
                page.get_by_role("button", name="Sign out").click()
                expect(page.get_by_label("Name")).to_be_visible()
        self.at(page, "prove")
        expect(page.locator("form[data-cell]").first).to_contain_text("Tobin Ashgrove")  # it went through
        expect(page.locator("#offline")).to_be_hidden()
        self.assertEqual(Reading.objects.get(job=self.job, text="36").by, User.objects.get(username="tobin"))

    def test_the_server_fails_and_comes_back(self) -> None:
        """An error on a cell is said, its text kept, the cell behind it stored; it goes through later. A page that is none of ours counts as nothing."""
        page = self.at(self.sign_in("marit"), "prove")
        failing = {"on": True}

        def fail(route: Route) -> None:
            if failing["on"] and "/FL/" in route.request.url:
                route.fulfill(status=500, body="<h1>boom</h1>")
            elif failing["on"] and "/RL/" in route.request.url:
                route.fulfill(status=200, content_type="text/html", body="<html>Welcome to the hotel's network</html>")
            else:
                route.continue_()

        page.route("**/cell/**", fail)
        for n, figure in enumerate(("921", "922", "923")):
            page.locator("input[data-walk]").nth(n).fill(figure)
            page.locator("input[data-walk]").nth(n).press("Enter")
        expect(page.locator("form[data-cell]").nth(2)).to_contain_text("923 mm")
        said = page.locator("#offline")
        expect(said).to_contain_text("“921”. The program answered with 500. It is tried again.")
        expect(said).to_contain_text("“922”. The program answered with 200.")
        page.reload()
        expect(page.locator("input[data-walk]").first).to_have_value("921")
        failing["on"] = False
        said.get_by_role("button", name="Try now").first.click()
        expect(page.locator("form[data-cell]").first).to_contain_text("921 mm")
        self.assertIn("921", self.texts())

    def test_an_entry_whose_state_is_gone_blocks_nothing(self) -> None:
        """It stays in view to be copied or let go; the one behind it is stored."""
        page = self.at(self.sign_in("marit"), "prove")
        page.context.set_offline(True)
        for n, figure in ((4, "931"), (0, "932")):
            page.locator("input[data-walk]").nth(n).fill(figure)
            page.locator("input[data-walk]").nth(n).press("Enter")
        expect(page.locator("#offline")).to_contain_text("2 entries wait")
        state = LoadState.objects.get(job=self.job, key="loaded")
        state.readings.all().delete()
        state.delete()
        page.context.set_offline(False)
        expect(page.locator("#offline")).to_contain_text(
            "Not taken: Clinic fitted out, front left “931”. There is nothing at this address"
        )
        page.reload()
        self.assertIn("932", self.texts())
        page.get_by_role("button", name="Let it go").click()
        expect(page.locator("#offline")).to_be_hidden()

    def test_a_warning_outlives_the_pages_own_poll(self) -> None:
        """What is odd stays at its cell while the page looks for news, through a reload, until it is read twice the same."""
        job = Job.objects.get(number="2026-041")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/measure/")
        cell = page.locator("form[data-cell]", has=page.get_by_label("Boat on, rear left"))
        for text in ("nonsense", "925"):
            page.get_by_label("Boat on, rear left").fill(text)
            page.get_by_label("Boat on, rear left").press("Enter")
            expect(cell.get_by_role("alert")).to_be_visible()
            page.wait_for_timeout(5000)
            expect(cell.get_by_role("alert")).to_be_visible()
        page.reload()
        expect(cell).to_contain_text("between left and right")
        cell.get_by_role("button", name="It reads the same again").click()
        expect(cell).to_contain_text("read twice")
        expect(cell.get_by_role("alert")).to_have_count(0)

    def test_forms_left_by_link_key_and_reload(self) -> None:
        """Leaving a page saves what is typed on it; a reload brings back what was not saved; what is refused keeps the page and says why."""
        page = self.at(self.sign_in("marit"), "vehicle")
        page.get_by_label("Rear overhang").fill("2600")
        page.locator(".stages").get_by_role("link", name="Listen").click()
        page.wait_for_url("**/listen/")
        page.get_by_label("In the customer's words").fill("She rolls like a barge.")
        page.locator("h1").click()
        page.keyboard.press("]")
        page.wait_for_url("**/vehicle/")
        expect(page.get_by_label("Rear overhang")).to_have_value("2600")
        self.assertEqual(Job.objects.get(pk=self.job.pk).words, "She rolls like a barge.")
        page.get_by_label("Front track").fill("1960")
        page.reload()
        expect(page.get_by_label("Front track")).to_have_value("1960")
        expect(page.get_by_text("Typed before, and not saved yet.")).to_be_visible()
        page.get_by_label("Wheelbase").fill("four metres")
        page.locator(".stages").get_by_role("link", name="Weigh").click()
        expect(page.get_by_text("“four metres” does not read as a length")).to_be_visible()
        expect(page.get_by_label("Wheelbase")).to_have_value("four metres")
        page.go_back()
        expect(page.locator("#offline")).to_contain_text("Typed but not saved: Vehicle")
        page.get_by_role("button", name="Open it").click()
        page.wait_for_url("**/vehicle/")
        expect(page.get_by_label("Wheelbase")).to_have_value("four metres")
        page.get_by_label("Wheelbase").fill("4600")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("Typed before, and not saved yet.")).to_be_hidden()
        self.job.vehicle.refresh_from_db()
        self.assertEqual((self.job.vehicle.track_front_m, self.job.vehicle.wheelbase_m), (1.96, 4.6))

    def test_a_link_taken_while_a_form_is_being_saved(self) -> None:
        """Typed in another unit, Save, typed on, and a link, while the save or the page after it is on its way: stored once each, no quarrel with oneself."""
        page = self.sign_in("marit")
        state = LoadState.objects.filter(job=self.job, empty=False).first()
        for method, tongue, trailer in (("POST", 211, 1715), ("GET", 212, 1716)):
            page.goto(f"/jobs/{self.job.pk}/weigh/trailer/?state={state.key}")
            held, saves = self.holding(page, "**/weigh/trailer/**", method)
            page.get_by_label("Tongue load").fill(f"0.{tongue} t")
            page.keyboard.press("Enter")
            for _ in range(500):
                if not held:
                    page.wait_for_timeout(20)
            page.keyboard.press("Tab")
            page.keyboard.type(f"{trailer / 1000} t")
            page.get_by_role("link", name="Load plan").click(no_wait_after=True)
            if method == "POST":
                held[0].continue_()
            page.wait_for_url(f"**/jobs/{self.job.pk}/weigh/?**")
            page.unroute_all(behavior="ignoreErrors")
            state.refresh_from_db()
            self.assertEqual((state.tongue_kg, state.trailer_kg, len(saves)), (tongue, trailer, 2))

    def test_the_walk_and_the_plan_left_in_the_middle(self) -> None:
        """A figure in the walk's field waits in its cell, not entered; an item still being nudged is stored when another page is asked for."""
        job = Job.objects.get(number="2026-044")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/walk/")
        page.keyboard.type("671")
        page.get_by_role("link", name="Whole sheet").click()
        page.wait_for_url("**/measure/**")
        expect(page.get_by_label("Caravan hitched, front left")).to_have_value("671")
        self.assertFalse(Reading.objects.filter(job=job, text="671").exists())
        page.goto(f"/jobs/{job.pk}/weigh/?state=loaded")
        item = LoadItem.objects.get(state__job=job, name="luggage")
        before = item.station_m
        page.locator(f"[data-item='{item.pk}']").focus()
        for _ in range(3):
            page.keyboard.press("ArrowRight")
        page.locator(".stages").get_by_role("link", name="Measure").click()
        page.wait_for_url("**/measure/**")
        expect(page.locator("#unsent")).to_be_hidden()
        item.refresh_from_db()
        self.assertAlmostEqual(item.station_m, before + 0.15, 2)
