"""A whole job as a person does it: from the complaint to the report, in millimetres and again in inches."""

import re
from dataclasses import dataclass, field

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase


@dataclass(frozen=True, kw_only=True)
class Typing:
    """What one technician types for the same vehicle."""

    who: str
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
    who="marit",
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
    who="tobin",
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
    def test_in_millimetres(self) -> None:
        """From complaint to report with metric figures, by mouse and keyboard."""
        self.do(METRIC)

    def test_in_inches(self) -> None:
        """The same job as far as it is typed, with inches, fractions, pounds, and a stray millimetre or two: to the kit and its setting."""
        page = self.sign_in(INCHES.who)
        for stage in (self.begin, self.weigh, self.measure, self.diagnose, self.choose_and_set):
            stage(page, INCHES)

    def do(self, typed: Typing) -> None:
        page = self.sign_in(typed.who)
        self.begin(page, typed)
        self.weigh(page, typed)
        self.measure(page, typed)
        self.diagnose(page, typed)
        self.choose_and_set(page, typed)
        self.prove(page)
        self.report(page, typed)

    def begin(self, page: Page, typed: Typing) -> None:
        page.get_by_role("link", name="New job").click()
        page.get_by_label("Customer").fill("Gannet Sailmakers")
        page.get_by_label("Vehicle, as the shop calls it").fill("Skerry 35, blue")
        page.get_by_role("button", name="Start the job").click()
        page.get_by_role("checkbox", name="Sags at the back").check()
        page.get_by_label("In the customer's words").fill("Drags its tail with the boat on.")
        page.get_by_role("button", name="Save, and on to the vehicle").click()
        expect(page.locator("#verdict")).to_contain_text("To find out: wheelbase")
        page.get_by_label("Tyre class").select_option("light_truck")
        self.pick(page, "Front suspension", "independent, coil")
        self.pick(page, "Rear suspension", "solid axle, leaf")
        self.unfold(page, "Tyres, hitch and towing")
        page.get_by_label("Wheelbase").fill(typed.wheelbase)
        page.get_by_label("Hitch overhang").fill(typed.overhang)
        page.get_by_label("Front track").fill(typed.track)
        page.get_by_label("Rear track").fill(typed.track)
        for label, value in typed.ratings.items():
            page.get_by_label(label).fill(value)
        page.get_by_role("button", name="Save, and on to weighing").click()

    def weigh(self, page: Page, typed: Typing) -> None:
        """Scales of the empty vehicle, then what is towed and carried in the loaded state."""
        page.get_by_role("link", name="Scales", exact=True).click()
        page.get_by_role("link", name="Empty", exact=True).click()
        page.get_by_label("Front axle, scale").fill(typed.scales[0])
        page.get_by_label("Rear axle, scale").fill(typed.scales[1])
        page.get_by_role("button", name="Save the readings").click()
        expect(page.locator("#loads")).to_contain_text("off the scale")
        page.get_by_role("link", name="Loaded", exact=True).click()
        page.get_by_role("link", name="Hitch and trailer").click()
        page.get_by_label("Tongue load").fill(typed.tongue)
        page.get_by_label("Trailer mass").fill(typed.trailer)
        page.get_by_role("button", name="Save the trailer").click()
        expect(page.locator("#loads")).to_contain_text("Tongue")
        page.get_by_role("link", name="Load plan").click()
        self.unfold(page, "Loaded")
        page.get_by_label("State", exact=True).fill("Boat on")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("link", name="Boat on", exact=True)).to_be_visible()
        name, mass, station = typed.item
        page.get_by_role("link", name="something else").click()
        page.get_by_label("What", exact=True).fill(name)
        page.get_by_label("Mass", exact=False).fill(mass)
        page.get_by_label("Behind the front axle").fill(station)
        page.get_by_role("button", name="Put on").click()
        expect(page.locator("#items").get_by_role("rowheader", name=name)).to_be_visible()
        expect(page.locator(".plan-item")).to_have_attribute("aria-label", re.compile(f"^{name}"))
        expect(page.locator("#verdict")).to_contain_text("Every known limit holds")

    def measure(self, page: Page, typed: Typing) -> None:
        """Type round the vehicle with Enter alone; the drawing and the sentence follow."""
        page.get_by_role("link", name="Measure").first.click()
        cells = page.locator("input[data-walk]")
        cells.nth(0).focus()
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
            page.get_by_role("link", name=datum).click()
            for corner in ("rear left", "rear right"):
                page.get_by_label(f"Empty, {corner}").fill(value)
                page.get_by_label(f"Empty, {corner}").press("Enter")
                expect(page.locator("form[data-cell]", has=page.get_by_label(f"Empty, {corner}"))).to_contain_text(":")

    def diagnose(self, page: Page, typed: Typing) -> None:
        page.get_by_role("link", name="Diagnose").first.click()
        expect(page.locator("#verdict")).to_contain_text(typed.says["sag"])
        expect(page.locator("#why")).to_contain_text(typed.says["force"])
        self.unfold(page, "To restore the rear")
        page.get_by_text("Every number of “Boat on”").click()
        expect(page.locator(".working", has_text="What the tongue puts on the rear axle")).to_be_visible()

    def choose_and_set(self, page: Page, typed: Typing) -> None:
        page.keyboard.press("]")
        best = page.locator(".best-row")
        expect(best).to_contain_text("Ferrywell bellows, middle")
        expect(page.locator("#out")).to_contain_text("Variant by gross mass")
        page.wait_for_load_state(
            "networkidle"
        )  # the odds come after the page, and their card in the place of the one that stands
        best.get_by_role("button", name="Take this kit").click()
        self.on_to_set(page)
        expect(page.locator("#trial")).to_contain_text("On the target")
        slider = page.get_by_label("Left", exact=False).first
        before = page.locator("#trial").inner_text()
        slider.focus()
        for _ in range(8):
            page.keyboard.press("ArrowRight")
        expect(page.locator("#trial")).not_to_have_text(before)
        expect(page.locator("#trial")).to_contain_text(typed.says["pressure"])
        page.get_by_label("Set and checked on the vehicle").check()
        page.get_by_role("button", name="Save the setting").click()

    def prove(self, page: Page) -> None:
        """Read what was predicted, as a vehicle that behaves would give it."""
        page.get_by_role("link", name="Prove").first.click()
        expect(page.locator("#verdict")).to_contain_text("Nothing has been read since")
        for n in (0, 1):
            section = page.locator("#proof > details", has=page.locator("table")).nth(n)
            predicted = {
                row.locator("th").inner_text().lower(): row.locator("td").nth(1).inner_text().split("±")[0].strip()
                for row in section.locator("tbody tr").all()
            }
            state = section.locator("h2").inner_text()
            for corner, value in predicted.items():
                self.read_cell(page, f"{state}, {corner}", value)
        expect(page.locator("#main")).to_contain_text("The prediction held")
        expect(page.locator("#verdict")).to_contain_text("proved at this setting")

    def report(self, page: Page, typed: Typing) -> None:
        page.get_by_role("link", name="Report").first.click()
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
            row.get_by_text("cured", exact=True).click()
        page.get_by_role("button", name="Save the answers").click()
        expect(hand_over).not_to_contain_text("Nobody has said")
        expect(hand_over).to_contain_text("Fit check unanswered")
        page.get_by_label("Hand over anyway, because").fill("checked by hand, tape and eye")
        page.get_by_role("button", name="Hand over and close").click()
        page.get_by_role("link", name="Handed over").click()
        expect(page.locator(".board").get_by_text("Skerry 35, blue")).to_be_visible()
