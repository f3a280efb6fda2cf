"""Every main page: accessible, complete without any outside request, quiet in the console."""

from pathlib import Path
from typing import Any

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from vantok.records.jobs.models import STAGES, Job
from vantok.records.weigh.models import LoadItem

AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text()


class Pages(BrowserCase):
    def test_accessible(self) -> None:
        """No page breaks a rule of WCAG 2.1 A or AA that axe can find, by day; its words stand out by night too."""
        page = self.sign_in("marit")
        job, missed = Job.objects.get(number="2026-038"), Job.objects.get(number="2026-039")
        over, begun = Job.objects.get(number="2026-042"), Job.objects.get(number="2026-045")
        stages = [f"/jobs/{job.pk}/{name}/" for name, _ in STAGES]
        others = ["/", "/garage/", "/shelf/", "/shelf/FW-M/", "/settings/", "/jobs/new/", "/jobs/import/"]
        by_night_too = {*stages, *others}  # the colours are one table: what stands on these is all of it
        for address in [
            *stages,
            *others,
            f"/jobs/{missed.pk}/prove/",
            f"/jobs/{job.pk}/walk/",
            f"/jobs/{job.pk}/inspect/",
            f"/jobs/{job.pk}/history/",
            *(
                f"/jobs/{over.pk}/weigh/{topic}"
                for topic in ("", "scales/", "trailer/", "limits/", "coach/", "across/", "tyres/")
            ),
            f"/jobs/{over.pk}/weigh/?item={LoadItem.objects.filter(state__job=over).first().pk}",  # type: ignore[union-attr]
            f"/jobs/{over.pk}/measure/?datum=ground_point",
            f"/jobs/{over.pk}/diagnose/?view=rear",
            f"/jobs/{over.pk}/diagnose/?view=all",
            f"/jobs/{begun.pk}/walk/",
            f"/garage/{job.vehicle_id}/",
            "/instruments/",
            "/bays/?bay=1",
            "/day/",
            "/recalls/?all=1",
            "/garage/taught/",
            "/benches/valves/",
            "/benches/insert/",
            "/shop/causes/",
            f"/jobs/{job.pk}/inspect/?zone=RL",
            *(
                f"/jobs/{missed.pk}/{page}/"
                for page in (
                    "label",
                    "care",
                    "assumptions",
                    "measure/paste",
                    "measure/photo",
                    "measure/condition",
                    "measure/phone",
                    "side-by-side",
                    "prove/films",
                )
            ),
            f"/jobs/{over.pk}/weigh/envelope/",
            f"/jobs/{missed.pk}/prove/?view=axle",
        ]:
            with self.subTest(address):
                page.goto(address)
                self.assertEqual(self.axe(page), [])
                if address not in by_night_too:
                    continue
                page.evaluate("() => { document.documentElement.dataset.look = 'night' }")
                by_night = page.evaluate(
                    "() => axe.run('#main', {runOnly: ['color-contrast'], resultTypes: ['violations']})"
                )
                self.assertEqual(self.broken(by_night), [], "night")

    def test_accessible_in_every_state(self) -> None:
        """All folds open on a phone and at 200 % zoom, a dialog open, a form refused: axe finds nothing, nothing runs off to the side."""
        page = self.sign_in("marit")
        job = Job.objects.get(number="2026-038")
        for address in [
            *(f"/jobs/{job.pk}/{name}/" for name, _ in STAGES),
            "/",
            "/jobs/new/",
            "/settings/",
            "/instruments/",
        ]:
            with self.subTest(address):
                page.goto(address)
                page.evaluate(
                    "() => { for (const one of document.querySelectorAll('#main details')) one.open = true; }"
                )
                for width in (640, 390):  # a tablet at 200 %, a phone
                    page.set_viewport_size({"width": width, "height": 844})
                    self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), width)
                self.assertEqual(self.axe(page), [])
        page.goto("/")
        page.keyboard.press("?")
        expect(page.locator("dialog[open]")).to_be_visible()
        self.assertEqual(self.axe(page), [], "help")
        page.keyboard.press("Escape")
        page.evaluate("document.getElementById('sign-again').showModal()")
        self.assertEqual(self.axe(page), [], "signing in again")
        self.expected_trouble = ("422",)
        for address, field, button in (
            (f"/jobs/{job.pk}/weigh/scales/", "Front axle", "Save"),
            (f"/jobs/{job.pk}/vehicle/", "Wheelbase", "Save"),
        ):
            with self.subTest(refused=address):
                page.goto(address)
                page.get_by_label(field).first.fill("many")
                page.locator("#main").get_by_role("button", name=button).first.click()
                expect(page.locator(".error").first).to_be_visible()
                self.assertEqual(self.axe(page), [])

    def axe(self, page: Page) -> list[str]:
        """Return what axe finds on a page as it stands."""
        page.evaluate(AXE)
        return self.broken(
            page.evaluate(
                "() => axe.run({runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'], resultTypes: ['violations']})"
            )
        )

    def broken(self, found: dict[str, Any]) -> list[str]:
        """Return what axe found, a line each."""
        return [f"{v['id']}: {n['html'][:120]}" for v in found["violations"] for n in v["nodes"][:3]]

    def test_the_look_is_kept_on_the_device(self) -> None:
        """Switched to night, a page is dark at once and after the next one; switched back, it follows the system again."""
        page = self.sign_in("marit")
        dark = "getComputedStyle(document.body).backgroundColor"
        day = page.evaluate(dark)
        page.get_by_role("button", name="Day or night look").click()
        self.assertNotEqual(page.evaluate(dark), day)
        page.goto("/garage/")
        self.assertNotEqual(page.evaluate(dark), day)
        page.get_by_role("button", name="Day or night look").click()
        self.assertEqual((page.evaluate(dark), page.context.cookies()[-1]["name"] != "vantok_look"), (day, True))

    def test_help_and_keys(self) -> None:
        """`?` opens help also in a field of figures, F1 in one of words; a local word finds its page, with the connection gone too; Escape goes back to
        the field; `]` and `[` walk the stages."""
        page = self.sign_in("marit")
        self.expected_trouble = ("htmx:", "ERR_INTERNET_DISCONNECTED")
        job = Job.objects.get(number="2026-041")
        page.goto(f"/jobs/{job.pk}/measure/")
        page.wait_for_function("sessionStorage['vantok-words']")
        page.context.set_offline(True)
        cell = page.locator("input[data-walk]").first
        cell.focus()
        page.keyboard.press("?")
        page.keyboard.type("noseweight")
        found = page.locator("#help-found")
        expect(found.get_by_role("link", name="tongue load")).to_be_visible()
        page.keyboard.press("Escape")
        expect(cell).to_be_focused()
        self.assertNotIn("?", cell.input_value())
        page.context.set_offline(False)
        page.goto(f"/jobs/{job.pk}/listen/")
        page.get_by_label("In the customer's words").focus()
        page.keyboard.press("F1")
        page.keyboard.type("sway bar")
        found.get_by_role("link", name="anti-roll bar").click()
        expect(page.get_by_role("heading", name="Anti-roll bar")).to_be_visible()
        page.goto(f"/jobs/{job.pk}/weigh/")
        page.keyboard.press("]")
        page.wait_for_url("**/measure/")
        page.keyboard.press("[")
        page.wait_for_url("**/weigh/")
