"""The measuring sheet under the things that happen: two windows, a dropped connection, a bad reading, gloves."""

import time

from playwright.sync_api import Route, expect

from tests.browser.base import BrowserCase
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading

CELL = "Caravan hitched, rear left"


class Sheet(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.job = Job.objects.get(number="2026-044")

    def test_two_windows_on_one_sheet(self) -> None:
        """The second writer is shown the first one's figure, and nothing is overwritten until asked again."""
        one, two = self.sign_in("marit"), self.sign_in("tobin")
        for page in (one, two):
            page.goto(f"/jobs/{self.job.pk}/measure/")
        one.get_by_label(CELL).fill("636")
        one.get_by_label(CELL).press("Enter")
        expect(one.locator("form[data-cell]", has=one.get_by_label(CELL))).to_contain_text("636 mm")
        two.get_by_label(CELL).fill("25 1/4")
        two.get_by_label(CELL).press("Enter")
        cell = two.locator("form[data-cell]", has=two.get_by_label(CELL))
        expect(cell).to_contain_text("Marit Solheim-Vane wrote 636 here meanwhile")
        expect(two.get_by_label(CELL)).to_have_value("25 1/4")
        self.assertEqual(Reading.objects.latest("pk").text, "636")
        cell.get_by_role("button", name="Save mine").click()
        expect(cell).to_contain_text("25 1/4 in")
        self.assertEqual(Reading.objects.latest("pk").text, "25 1/4")

    def test_a_slow_line_and_a_quick_hand(self) -> None:
        """Cells typed while answers are still under way are saved in order; retyping one before its answer is no conflict."""
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/measure/")

        def slowly(route: Route) -> None:
            time.sleep(0.6)
            route.continue_()

        page.route("**/cell/**", slowly)
        field = page.get_by_label(CELL)
        for value in ("636", "640"):
            field.fill(value)
            field.press("Enter")
        for place, value in (("rear right", "639"), ("front left", "671"), ("front right", "670")):
            page.get_by_label(f"Caravan hitched, {place}").fill(value)
            page.get_by_label(f"Caravan hitched, {place}").press("Enter")
        expect(page.locator("#verdict")).to_contain_text("All states read")
        expect(page.locator("form[data-cell]", has=field)).to_contain_text("640 mm")
        texts = [r.text for r in Reading.objects.filter(job=self.job, state__key="loaded").order_by("pk")]
        self.assertEqual(texts, ["636", "640", "639", "671", "670"])

    def test_a_dropped_connection(self) -> None:
        """Entries made without a connection wait in the browser, say so, and go through in order, once, when it returns."""
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/measure/")
        self.expected_trouble = ("ERR_INTERNET_DISCONNECTED", "net::ERR", "htmx:sendError", "htmx:afterRequest")
        page.context.set_offline(True)
        for place, value in (("front left", "671"), ("rear left", "636")):
            page.get_by_label(f"Caravan hitched, {place}").fill(value)
            page.get_by_label(f"Caravan hitched, {place}").press("Enter")
        expect(page.locator("#offline")).to_contain_text("2 entries wait")
        count = Reading.objects.count()
        page.context.set_offline(False)
        expect(page.locator("#offline")).to_be_hidden()
        expect(page.locator("form[data-cell]", has=page.get_by_label(CELL))).to_contain_text("636 mm")
        self.assertEqual([r.text for r in Reading.objects.order_by("pk")][count:], ["671", "636"])

    def test_a_bad_reading_is_caught_and_repeated(self) -> None:
        """Letters stay with their reason; an odd figure is flagged at once; the right one clears it. Escape puts back."""
        page = self.sign_in("jude")
        page.goto(f"/jobs/{self.job.pk}/measure/")
        field, cell = page.get_by_label(CELL), page.locator("form[data-cell]", has=page.get_by_label(CELL))
        field.fill("six hundred")
        field.press("Enter")
        expect(cell).to_contain_text("does not read as a length")
        expect(field).to_have_value("six hundred")
        field.fill("63.6")
        field.press("Enter")
        expect(cell).to_contain_text("was it centimetres?")
        expect(page.locator("#verdict")).to_contain_text("rear left")
        field.fill("63.6 cm")
        field.press("Enter")
        expect(cell).to_contain_text("636 mm")
        expect(cell).not_to_contain_text("outside")
        field.fill("999")
        field.press("Escape")
        expect(field).to_have_value("63.6 cm")

    def test_the_walk_in_inches_with_gloves(self) -> None:
        """One big field at a time: whole inches typed, sixteenths by chips, the other side by a touch, an odd one asked for again."""
        page = self.sign_in("tobin")
        page.goto(f"/jobs/{self.job.pk}/measure/")
        page.get_by_role("link", name="Walk round it").click()
        head = page.locator(".walk-head")
        expect(head).to_contain_text("Caravan hitched · front left")
        for figure in "2", "7":
            page.get_by_role("button", name=figure, exact=True).click()
        page.get_by_role("button", name="Take the last figure off").click()
        page.get_by_role("button", name="6", exact=True).click()
        page.get_by_role("button", name="7/16", exact=True).click()
        page.get_by_role("button", name="Save, next").click()
        expect(head).to_contain_text("rear left")
        page.keyboard.type("27 1/2")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("a rear does not rise under load")
        expect(head).to_contain_text("rear left")
        page.get_by_label("Caravan hitched, rear left", exact=True).fill("25 1/16")
        page.get_by_role("button", name="Read again, save").click()
        expect(head).to_contain_text("rear right")
        page.get_by_role("button", name="Same as the other side: 25 1/16").click()
        expect(head).to_contain_text("front right")
        page.keyboard.type("nonsense")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("does not read as a length")
        self.expected_trouble = ("422",)
        page.locator("#walk-in").fill("26 7/16")
        page.keyboard.press("Enter")
        expect(page.locator("#verdict")).to_contain_text("All states read")
        texts = [r.text for r in Reading.objects.filter(job=self.job, state__key="loaded").order_by("pk")]
        self.assertEqual(texts, ["26 7/16", "27 1/2", "25 1/16", "25\xa01/16\xa0in", "26 7/16"])
        page.goto(f"/jobs/{self.job.pk}/walk/")
        small = page.evaluate(
            "() => [...document.querySelectorAll('.walk button, .walk a, .walk-in')].filter(e => e.getBoundingClientRect().height < 43.5).length"
        )
        self.assertEqual(small, 0)

    def test_a_quick_hand_on_the_walk(self) -> None:
        """On a slow line the next figure is typed before its stop appears: it is carried over to it, and none is lost or misplaced."""
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/walk/")

        def slowly(route: Route) -> None:
            time.sleep(0.7)
            route.continue_()

        page.route("**/walk/**", slowly)
        title = page.locator("#walk-title")
        for figure, here, following in (
            ("671", "front left", "rear left"),
            ("636", "rear left", "rear right"),
            ("637", "rear right", "front right"),
        ):
            expect(title).to_have_text(f"Caravan hitched · {here}")
            if page.locator("#walk-in").input_value() != figure:
                page.keyboard.type(figure)
            page.keyboard.press("Enter")
            page.keyboard.type({"rear left": "636", "rear right": "637", "front right": "670"}[following])
            expect(title).to_have_text(f"Caravan hitched · {following}")
        expect(page.locator("#walk-in")).to_have_value("670")
        page.keyboard.press("Enter")
        expect(page.locator("#verdict")).to_contain_text("All states read")
        found = {r.place: r.text for r in Reading.objects.filter(job=self.job, state__key="loaded")}
        self.assertEqual(found, {"FL": "671", "RL": "636", "RR": "637", "FR": "670"})

    def test_a_place_is_read_again(self) -> None:
        """Saved to be read again, the field stays, empty; a second figure 6 mm off is asked for once more; all three are kept."""
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/walk/")
        page.keyboard.type("668")
        page.get_by_role("button", name="Save, read it again").click()
        expect(page.get_by_text("Read it again: the new figure stands")).to_be_visible()
        expect(page.locator("#walk-in")).to_have_value("")
        page.keyboard.type("674")
        page.keyboard.press("Enter")
        expect(page.get_by_text("The two readings lie 6 mm apart")).to_be_visible()
        page.keyboard.type("673")
        page.keyboard.press("Enter")
        expect(page.locator("#walk-title")).to_have_text("Caravan hitched · rear left")
        expect(page.locator(".walk-last")).to_contain_text("673 mm")
        texts = [r.text for r in Reading.objects.filter(job=self.job, state__key="loaded").order_by("pk")]
        self.assertEqual(texts, ["668", "674", "673"])

    def test_targets_are_large_enough_for_gloves(self) -> None:
        """Every button, link and field of the sheet is at least 44 px high."""
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/measure/")
        small = page.evaluate(
            """() => [...document.querySelectorAll('a, button, input:not([type=hidden]), summary, select')]
                 .filter(e => e.offsetParent && !e.closest('dialog') && !e.classList.contains('skip'))
                 .map(e => [e.tagName, e.textContent.trim().slice(0, 30), e.getBoundingClientRect().height])
                 .filter(([, , height]) => height < 43.5)"""
        )
        self.assertEqual(small, [])


class Pictures(BrowserCase):
    def test_a_photograph_is_measured(self) -> None:
        """A picture of a wheel with known sizes: four marks set by mouse and keys, kept as a reading near the truth; the picture is never sent."""
        job = Job.objects.get(number="2026-044")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/measure/photo/?place=RL")
        made = page.evaluate(WHEEL)
        page.locator("#pic").set_input_files({"name": "wheel.png", "mimeType": "image/png", "buffer": bytes(made)})
        expect(page.locator("svg.picture")).to_be_visible()
        page.locator("svg.picture").scroll_into_view_if_needed()
        for mark, (x, y) in {"arch": (400, 100), "hub": (400, 350), "edge_1": (240, 350), "edge_2": (560, 350)}.items():
            svg, at = (
                page.locator("svg.picture").bounding_box(),
                page.locator(f"[data-mark={mark}] circle").bounding_box(),
            )
            assert svg is not None
            assert at is not None
            per = svg["width"] / 800.0
            page.mouse.move(at["x"] + at["width"] / 2, at["y"] + at["height"] / 2)
            page.mouse.down()
            page.mouse.move(svg["x"] + x * per, svg["y"] + y * per, steps=4)
            page.mouse.up()
        page.locator("[data-mark=arch]").press("Shift+ArrowUp")
        page.locator("[data-mark=arch]").press("Shift+ArrowDown")
        page.get_by_label("State", exact=True).select_option(label=job.states.get(key="loaded").name)
        page.get_by_label("Wheel", exact=True).select_option("RL")
        page.get_by_label("Tyre's size, as on its wall").fill("235/65 R16")
        sent: list[int] = []
        page.on("request", lambda r: sent.append(len(r.post_data_buffer or b"")) if r.method == "POST" else None)
        with self.anew(page):
            page.get_by_role("button", name="Keep the reading").click()
        read = Reading.objects.filter(job=job, datum="hub_arch", place="RL", instrument="photo").last()
        assert read is not None
        assert read.value_m is not None
        self.assertAlmostEqual(read.value_m, 250 / 320 * 0.7119, delta=0.012)
        self.assertLess(max(sent), 2000)

    def test_dimensions_are_entered_on_the_drawing(self) -> None:
        """What is unknown is dashed; a line touched leads to its field, the field typed into stands out in the drawing; entered, it carries its figure."""
        job = Job.objects.get(number="2026-045")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/vehicle/")
        drawing = page.locator("svg.dimensions")
        expect(drawing).to_contain_text("A ?")
        page.locator("[data-dim=wheelbase_m] text").click()
        expect(page.locator("#id_wheelbase_m")).to_be_focused()
        expect(page.locator("[data-dim=wheelbase_m]")).to_have_class("dim-on")
        page.keyboard.type("4100")
        page.keyboard.press("Tab")
        expect(page.locator("[data-dim=wheelbase_m]")).not_to_have_class("dim-on")
        with self.anew(page):
            page.get_by_role("button", name="Save", exact=True).click()
        expect(drawing).not_to_contain_text("A ?")
        expect(page.get_by_label("Wheelbase")).to_have_value("4100")
        for datum in ("ground_arch", "hub_arch", "stop_gap", "pad_to_pad", "ground_hitch", "bracket", "ground_point"):
            page.goto(f"/jobs/{job.pk}/measure/?datum={datum}")
            expect(page.locator("svg.datum")).to_be_visible()


WHEEL = """async () => {
  const canvas = document.createElement("canvas"); canvas.width = 800; canvas.height = 600;
  const pen = canvas.getContext("2d"); pen.fillStyle = "#e9e2cf"; pen.fillRect(0, 0, 800, 600);
  pen.fillStyle = "#2c3a33"; pen.beginPath(); pen.arc(400, 350, 160, 0, 7); pen.fill();
  pen.fillRect(200, 92, 400, 8);
  return [...new Uint8Array(await (await new Promise((done) => canvas.toBlob(done, "image/png"))).arrayBuffer())];
}"""
