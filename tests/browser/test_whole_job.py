"""A whole job as a person does it, from the complaint to the report: in millimetres with a mouse, and again in inches with the keys alone."""

import re
from dataclasses import dataclass, field

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from tests.browser.hands import Keys, Pointing
from vantok.people.models import User


@dataclass(frozen=True, kw_only=True)
class Typing:
    """What one technician types for the same vehicle."""

    units: str
    wheelbase: str
    overhang: str
    track: str
    ratings: dict[str, str]
    scales: tuple[str, str]
    tongue: str
    trailer: str
    item: tuple[str, str, str]
    empty: tuple[str, ...]
    loaded: tuple[str, ...]
    stop: str
    pads: str
    says: dict[str, str] = field(default_factory=dict)


METRIC = Typing(
    units="metric",
    wheelbase="3550",
    overhang="125 cm",
    track="1.70 m",
    ratings={
        "Gross vehicle rating": "3250",
        "Front axle rating": "1600",
        "Rear axle rating": "1950",
        "Hitch vertical rating": "350",
        "Towed rating": "3 t",
    },
    scales=("1240", "910"),
    tongue="210",
    trailer="1680",
    item=("baskets", "330", "3700"),
    empty=("874", "952", "951", "872"),
    loaded=("886", "89 cm", "889", "884"),
    stop="72",
    pads="172",
    says={
        "sag": "62 mm low",
        "echo": "890 mm",
        "drawn": "front up 12 mm, rear down 62 mm from empty",
        "force": "N a side",
        "pressure": "bar",
    },
)
INCHES = Typing(
    units="us",
    wheelbase="139 3/4",
    overhang="4' 1 1/4\"",
    track="67",
    ratings={
        "Gross vehicle rating": "7165",
        "Front axle rating": "3527",
        "Rear axle rating": "4299",
        "Hitch vertical rating": "770",
        "Towed rating": "3000 kg",
    },
    scales=("2734", "2006"),
    tongue="463",
    trailer="3704",
    item=("baskets", "727", "145 5/8"),
    empty=("34 7/16", "37-1/2", '37 7/16"', "34 3/8"),
    loaded=("34 7/8", "890 mm", "35", "34 13/16"),
    stop="2 13/16",
    pads="6 3/4",
    says={
        "sag": "in low",
        "echo": "35 1/16 in",
        "drawn": "front up 7/16 in, rear down 2 7/16 in from empty",
        "force": "lbf a side",
        "pressure": "psi",
    },
)


class WholeJob(BrowserCase):
    hand: Pointing

    def test_in_millimetres(self) -> None:
        """From complaint to report with metric figures, by mouse and keyboard."""
        self.do(METRIC, Pointing)

    def test_in_inches_by_keys_alone(self) -> None:
        """The same with inches, fractions, pounds, and a stray millimetre or two: everything reached by Tab, pressed by Enter, Space and arrows."""
        self.do(INCHES, Keys)

    def do(self, typed: Typing, kind: type[Pointing]) -> None:
        User.objects.filter(username="marit").update(units=typed.units)
        page = self.sign_in("marit")
        self.hand = kind(page)
        self.begin(page, typed)
        self.weigh(page, typed)
        self.measure(page, typed)
        self.diagnose(page, typed)
        self.choose_and_set(page, typed)
        self.prove(page)
        self.report(page, typed)

    def begin(self, page: Page, typed: Typing) -> None:
        self.hand.press(page.get_by_role("link", name="New job"))
        self.hand.fill(page.get_by_label("Customer"), "Gannet Sailmakers")
        self.hand.fill(page.get_by_label("Vehicle, as the shop calls it"), "Skerry 35, blue")
        self.hand.press(page.get_by_role("button", name="Start the job"))
        self.hand.press(page.get_by_role("checkbox", name="Sags at the back"))
        self.hand.fill(page.get_by_label("In the customer's words"), "Drags its tail with the boat on.")
        self.hand.press(page.get_by_role("button", name="Save, and on to the vehicle"))
        expect(page.locator("#verdict")).to_contain_text("To find out: wheelbase")
        self.hand.choose(page.get_by_label("Tyre class"), "light_truck")
        self.hand.pick(page.get_by_role("group", name="Front suspension"), "independent, coil")
        self.hand.pick(page.get_by_role("group", name="Rear suspension"), "solid axle, leaf")
        self.hand.press(page.locator("summary", has_text="Tyres, hitch and towing").first)
        self.hand.fill(page.get_by_label("Wheelbase"), typed.wheelbase)
        self.hand.fill(page.get_by_label("Hitch overhang"), typed.overhang)
        self.hand.fill(page.get_by_label("Front track"), typed.track)
        self.hand.fill(page.get_by_label("Rear track"), typed.track)
        for label, value in typed.ratings.items():
            self.hand.fill(page.get_by_label(label), value)
        self.hand.press(page.get_by_role("button", name="Save, and on to weighing"))

    def weigh(self, page: Page, typed: Typing) -> None:
        """Scales of the empty vehicle, then what is towed and carried in the loaded state."""
        self.hand.press(page.get_by_role("link", name="Scales", exact=True))
        self.hand.press(page.get_by_role("link", name="Empty", exact=True))
        self.hand.fill(page.get_by_label("Front axle, scale"), typed.scales[0])
        self.hand.fill(page.get_by_label("Rear axle, scale"), typed.scales[1])
        self.hand.press(page.get_by_role("button", name="Save the readings"))
        expect(page.locator("#loads")).to_contain_text("off the scale")
        self.hand.press(page.get_by_role("link", name="Loaded", exact=True))
        self.hand.press(page.get_by_role("link", name="Hitch and trailer"))
        self.hand.fill(page.get_by_label("Tongue load"), typed.tongue)
        self.hand.fill(page.get_by_label("Trailer mass"), typed.trailer)
        self.hand.press(page.get_by_role("button", name="Save the trailer"))
        expect(page.locator("#loads")).to_contain_text("Tongue")
        self.hand.press(page.get_by_role("link", name="Load plan"))
        self.hand.press(page.locator("summary", has_text="Loaded").first)
        self.hand.fill(page.get_by_label("State", exact=True), "Boat on")
        self.hand.press(page.get_by_role("button", name="Save", exact=True))
        expect(page.get_by_role("link", name="Boat on", exact=True)).to_be_visible()
        name, mass, station = typed.item
        self.hand.press(page.get_by_role("link", name="something else"))
        self.hand.fill(page.get_by_label("What", exact=True), name)
        self.hand.fill(page.get_by_label("Mass", exact=False), mass)
        self.hand.fill(page.get_by_label("Behind the front axle"), station)
        self.hand.press(page.get_by_role("button", name="Put on"))
        expect(page.locator("#items").get_by_role("rowheader", name=name)).to_be_visible()
        expect(page.locator(".plan-item")).to_have_attribute("aria-label", re.compile(f"^{name}"))
        expect(page.locator("#verdict")).to_contain_text("Every known limit holds")

    def measure(self, page: Page, typed: Typing) -> None:
        """Type round the vehicle with Enter alone; the drawing and the sentence follow."""
        self.hand.press(page.get_by_role("link", name="Measure").first)
        self.hand.to(page.locator("input[data-walk]").first)
        for value in typed.empty:
            page.keyboard.type(value)
            page.keyboard.press("Enter")
        expect(page.locator("#verdict")).to_contain_text("Baseline taken. Next: Boat on")
        for value in typed.loaded:
            page.keyboard.type(value)
            page.keyboard.press("Enter")
        expect(page.locator("form[data-cell]").nth(5)).to_contain_text(typed.says["echo"])
        expect(page.locator("#verdict")).to_contain_text("All states read")
        drawn = re.compile(typed.says["drawn"].replace(" ", r"\s"))
        expect(page.locator("#stance svg")).to_have_attribute("aria-label", drawn)
        for datum, value in (("stop gap", typed.stop), ("pad to pad", typed.pads)):
            self.hand.press(page.get_by_role("link", name=datum))
            for corner in ("rear left", "rear right"):
                self.hand.fill(page.get_by_label(f"Empty, {corner}"), value)
                page.keyboard.press("Enter")
                expect(page.locator("form[data-cell]", has=page.get_by_label(f"Empty, {corner}"))).to_contain_text(":")

    def diagnose(self, page: Page, typed: Typing) -> None:
        self.hand.press(page.get_by_role("link", name="Diagnose").first)
        expect(page.locator("#verdict")).to_contain_text(typed.says["sag"])
        expect(page.locator("#why")).to_contain_text(typed.says["force"])
        self.hand.press(page.locator("summary", has_text="To restore the rear").first)
        self.hand.press(page.locator("summary", has_text="Every number of “Boat on”"))
        expect(page.locator(".working", has_text="What the tongue puts on the rear axle")).to_be_visible()

    def choose_and_set(self, page: Page, typed: Typing) -> None:
        page.keyboard.press("]")
        best = page.locator(".best-row")
        expect(best).to_contain_text("Ferrywell bellows, middle")
        expect(page.locator("#out")).to_contain_text("Variant by gross mass")
        page.wait_for_load_state(
            "networkidle"
        )  # the odds come after the page, and their card in the place of the one that stands
        self.hand.press(best.get_by_role("button", name="Take this kit"))
        page.wait_for_url(re.compile("/fit/"))
        self.hand.press(page.locator("nav.stages").get_by_role("link", name="Set"))
        expect(page.locator("#trial")).to_contain_text("On the target")
        self.hand.to(page.locator("input[type=range]").first)
        for key, told in (("PageUp", False), ("PageDown", True)):
            for _ in range(3):
                page.keyboard.press(key)
            on_target = page.locator("#trial", has_text="On the target")
            expect(on_target).to_have_count(int(told))
        expect(page.locator("#trial")).to_contain_text(typed.says["pressure"])
        self.hand.press(page.get_by_label("Set and checked on the vehicle"))
        with self.anew(page):
            self.hand.press(page.get_by_role("button", name="Save the setting"))

    def prove(self, page: Page) -> None:
        """Read what was predicted, as a vehicle that behaves would give it."""
        self.hand.press(page.get_by_role("link", name="Prove").first)
        expect(page.locator("#verdict")).to_contain_text("Nothing has been read since")
        for n in (0, 1):
            section = page.locator("#proof > details", has=page.locator("table")).nth(n)
            predicted = {
                row.locator("th").inner_text().lower(): row.locator("td").nth(1).inner_text().split("±")[0].strip()
                for row in section.locator("tbody tr").all()
            }
            state = section.locator("h2").inner_text()
            for corner, value in predicted.items():
                cell = page.get_by_label(f"{state}, {corner}")
                self.hand.fill(cell, value)
                page.keyboard.press("Enter")
                expect(page.locator("form[data-cell]", has=cell)).to_contain_text(":")
        expect(page.locator("#main")).to_contain_text("The prediction held")
        expect(page.locator("#verdict")).to_contain_text("proved at this setting")

    def report(self, page: Page, typed: Typing) -> None:
        self.hand.press(page.get_by_role("link", name="Report").first)
        body = page.locator("article")
        for part in (
            "Drags its tail with the boat on.",
            "Ferrywell bellows, middle",
            typed.loaded[1],
            "No part raises a rating",
        ):
            expect(body).to_contain_text(part)
        hand_over = page.locator("form", has=page.get_by_role("button", name="Hand over and close"))
        expect(hand_over).to_contain_text("Nobody has said what became of the complaint")
        for row in page.locator(".inspect-row").all():
            self.hand.mark(row, "cured")
        self.hand.press(page.get_by_role("button", name="Save the answers"))
        expect(hand_over).not_to_contain_text("Nobody has said")
        expect(hand_over).to_contain_text("Fit check unanswered")
        self.hand.fill(page.get_by_label("Hand over anyway, because"), "checked by hand, tape and eye")
        self.hand.press(page.get_by_role("button", name="Hand over and close"))
        self.hand.press(page.get_by_role("link", name="Handed over"))
        expect(page.locator(".board").get_by_text("Skerry 35, blue")).to_be_visible()
