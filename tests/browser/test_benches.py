"""A bench as a person uses it: a handle dragged and moved by keys, sentence and figures following, the address opening it again as it was."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase


class Benches(BrowserCase):
    def test_a_handle_moves_figures_and_sentence(self) -> None:
        """The damper's droop dragged until it is the limiting strap, then back by the arrow keys; printed as it stands by its own link."""
        page = self.sign_in("marit")
        page.goto("/benches/")
        page.get_by_role("link", name="Dampers").click()
        page.get_by_label("Damper open, eye to eye").fill("540")
        expect(page.locator("#bench .verdict")).to_contain_text("It has room at both ends")
        handle = page.locator("[data-handle=droop]")
        self.drag(handle, 0, 24)
        expect(page.locator("#bench .verdict")).to_contain_text("It would be the limiting strap")
        dragged = float(page.get_by_label("Wheel down, hanging").input_value())
        self.assertGreater(dragged, 110.0)
        for _ in range(12):
            page.locator("[data-handle=droop]").press("ArrowUp")
            page.wait_for_timeout(150)
        expect(page.locator("#bench .verdict")).to_contain_text("It has room at both ends")
        self.assertLess(float(page.get_by_label("Wheel down, hanging").input_value()), dragged)
        again = page.url
        page.goto("/benches/")
        page.goto(again)
        expect(page.get_by_label("Damper open, eye to eye")).to_have_value("540")
        expect(page.locator("#bench .verdict")).to_contain_text("It has room at both ends")

    def test_the_other_drawings(self) -> None:
        """The bar's link and the leaf's arch follow their handles, on a narrow screen and in inches too."""
        page = self.sign_in("tobin")
        page.set_viewport_size({"width": 390, "height": 800})
        for key, handle, field in (("bar", "link", "link_height"), ("leaf", "arch", "arch")):
            page.goto(f"/benches/{key}/?" + ("arch=6" if key == "leaf" else ""))
            before = page.locator(f"#b-{field}").input_value()
            page.locator(f"[data-handle={handle}]").press("ArrowUp")
            expect(page.locator(f"#b-{field}")).not_to_have_value(before)
            expect(page.locator("#bench .verdict")).to_be_visible()

    def test_every_bench_moves(self) -> None:
        """The other benches: a handle moved by the mouse or by keys changes its field, and with it the sentence or the figures."""
        page = self.sign_in("marit")
        for address, handle, key, field, told in (
            ("stabilizer/", "lock", "ArrowRight", "lock", ".verdict"),
            ("air/?across=130&height=170&pressed=20", "pressed", "ArrowDown", "pressed", ".verdict"),
            ("insert/", "spacer", "ArrowDown", "spacer", ".verdict"),
            ("tyre/?wheelbase=3200&rise=20", "rise", "ArrowUp", "rise", ".verdict"),
            ("thread/?bracket=65&bush=60&stock=1: 4, 1.5: 4", "bush", "ArrowLeft", "bush", ""),
            ("tongue/?way=board", "to_tongue", "ArrowRight", "to_tongue", ".verdict"),
            ("tongue/?way=stack&axle=4000", "behind", "ArrowRight", "behind", ".verdict"),
            ("valves/?spring=60&mass=650&q=feels", "bump-1", "ArrowUp", "bump", ".verdict"),
        ):
            page.goto(f"/benches/{address}")
            before, said = (
                page.locator(f"#b-{field}").input_value(),
                page.locator(f"#bench {told}".strip()).first.inner_text(),
            )
            for _ in range(4):
                with page.expect_response(lambda r: "/benches/" in r.url):
                    page.locator(f"[data-handle={handle}]").press(key)
            expect(page.locator(f"#b-{field}")).not_to_have_value(before)
            expect(page.locator(f"#bench {told}".strip()).first).not_to_have_text(said)
        rebound = page.locator("#b-rebound").input_value()
        self.drag(page.locator("[data-handle=rebound-2]"), -10, 30)
        expect(page.locator("#b-rebound")).not_to_have_value(rebound)
        expect(page.locator("#bench .verdict")).to_contain_text("damping ratio")
        page.locator("#b-bump").fill("0.1: 300, 0.3: 200")
        expect(page.locator("#bench")).to_contain_text("forces must not fall")

    def test_a_way_asks_for_its_own(self) -> None:
        """Weighed another way, other fields are asked for, and those of the first count for nothing; a figure of one's own is no example any more."""
        page = self.sign_in("marit")
        page.goto("/benches/tongue/?axle=4000&q=weigh")
        expect(page.get_by_label("Board alone reads")).to_be_hidden()
        page.get_by_label("Weighed with").select_option("stack")
        expect(page.get_by_label("Scale reads")).to_be_hidden()
        for label, figure in (("Stacked when", "300"), ("Last piece", "10"), ("Its middle behind", "2000")):
            page.get_by_label(label).fill(figure)
        expect(page.locator("#bench .verdict")).to_contain_text("The tongue weighs 148 kg at the ball")
        expect(page.locator("#bench .verdict")).not_to_contain_text("example")
        expect(page.get_by_text("an example: measure it").locator("visible=true")).to_have_count(0)

    def test_a_load_dragged_along_a_trailer(self) -> None:
        """Dragged behind the axle the nose grows light, which leads the sentence, and the damping falls; by keys it goes forward again."""
        page = self.sign_in("marit")
        page.goto("/benches/yaw/")
        verdict, field = page.locator("#bench .verdict"), page.locator("#b-load_at")
        expect(verdict).not_to_contain_text("load forward first")
        handle = page.locator("[data-handle=load_at]")
        self.drag(handle, 120, 0)
        expect(verdict).to_contain_text("load forward first")
        behind = float(field.input_value())
        self.assertGreater(behind, 4000.0)
        for _ in range(6):
            page.locator("[data-handle=load_at]").press("ArrowLeft")
            page.wait_for_timeout(120)
        self.assertLess(float(field.input_value()), behind)
