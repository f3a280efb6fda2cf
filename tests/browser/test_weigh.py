"""The weighing by hand: an item dragged and nudged, pads read and taken, an overload cleared by the offered move."""

import re
import time

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from vantok.instruments.simulated import Bench, Server
from vantok.records.instruments.models import Instrument
from vantok.records.jobs.models import Job
from vantok.records.weigh.models import LoadItem, LoadState
from vantok.wire.link import let_go


class Weigh(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.job = Job.objects.get(number="2026-042")
        self.item = LoadItem.objects.get(state__job=self.job, name="batteries")

    def test_a_zone_is_dragged_by_its_edge(self) -> None:
        """The rack is picked and its end pulled: the field follows, leaving saves it, and the drawing has it the next time, in inches too."""
        page = self.sign_in("tobin")
        page.goto(f"/jobs/{self.job.pk}/weigh/zones/")
        row = page.get_by_role("group", name=re.compile("^rear rack"))
        before = row.get_by_label("To").input_value()
        row.get_by_label("Rated for").fill("120 kg")
        self.drag(page.locator("[data-zone='3'] [data-edge='end']"), 50, 0)
        after = row.get_by_label("To").input_value()
        self.assertNotEqual(before, after)
        page.get_by_role("link", name="Load plan").click()
        page.wait_for_url("**/weigh/?**")
        expect(page.locator("#floor")).to_contain_text("rear rack, 265 lb, carries 419 lb")
        self.job.vehicle.refresh_from_db()
        rack = next(z for z in self.job.vehicle.beyond["zones"] if z["key"] == "rack")
        self.assertAlmostEqual(rack["end"], float(after) * 0.0254, delta=0.002)
        self.assertEqual(round(rack["rating_kg"]), 120)

    def test_an_item_is_dragged_and_the_axles_follow(self) -> None:
        """While it is held, loads, drawing and sentence follow and nothing is stored; dropped, it is; the arrow keys do the same."""
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/weigh/")
        expect(page.locator("#verdict")).to_contain_text("rear axle is 61 kg over")
        drawn = page.locator("#stance").inner_html()
        self.drag(page.locator(f"#item-{self.item.pk}"), -300, -60, drop=False)
        expect(page.locator("#verdict")).to_contain_text("Every known limit holds")
        self.assertNotEqual(page.locator("#stance").inner_html(), drawn)
        self.item.refresh_from_db()
        self.assertEqual(self.item.station_m, 4.3)
        page.mouse.up()
        expect(page.locator("#items")).not_to_contain_text("4300 mm")
        self.item.refresh_from_db()
        self.assertLess(self.item.station_m, 2.5)
        put = self.item.station_m
        item = page.locator(f"#item-{self.item.pk}")
        item.focus()
        for _ in range(3):
            page.keyboard.press("ArrowRight")
        page.keyboard.press("Shift+ArrowUp")
        expect(page.locator("#items tr", has_text="batteries")).to_contain_text(f"{(put + 0.15) * 1000:.0f} mm")
        self.item.refresh_from_db()
        self.assertAlmostEqual(self.item.station_m, put + 0.15, 2)
        expect(item).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.locator("#edit")).to_contain_text("batteries")
        page.get_by_label("Mass").fill("150")
        page.get_by_role("button", name="Save", exact=True).first.click()
        expect(page.locator("#items tr", has_text="batteries")).to_contain_text("150 kg")

    def test_a_drop_without_a_connection_waits(self) -> None:
        """Dropped while the line is down, the place waits in the browser, says so, and is stored when it returns."""
        page = self.sign_in("marit")
        page.goto(f"/jobs/{self.job.pk}/weigh/")
        self.expected_trouble = ("ERR_INTERNET_DISCONNECTED", "net::ERR", "htmx:sendError", "htmx:afterRequest")
        page.context.set_offline(True)
        self.drag(page.locator(f"#item-{self.item.pk}"), -200, 0)
        expect(page.locator("#offline")).to_contain_text("1 entry waits")
        page.context.set_offline(False)
        expect(page.locator("#offline")).to_be_hidden()
        self.item.refresh_from_db()
        self.assertLess(self.item.station_m, 4.0)

    def test_the_offered_move_clears_the_overload(self) -> None:
        """From the sentence to the board, one touch on the offer, and every limit holds."""
        page = self.sign_in("tobin")
        page.goto(f"/jobs/{self.job.pk}/weigh/")
        expect(page.locator("#verdict")).to_contain_text("134 lb over. Move batteries 54 3/4 in forward")
        page.get_by_role("link", name="Limits", exact=True).click()
        page.get_by_role("button", name="Move it").first.click()
        expect(page.locator("#verdict")).to_contain_text("may be within its limit or over it")
        expect(page.get_by_text("the error of the loads leaves some limits open")).to_be_visible()

    def test_pads_are_read_and_taken(self) -> None:
        """Live figures settle to steady, a silent pad is named, and when it is back one touch takes all four into the sheet."""
        let_go()
        self.expected_trouble = ("422",)
        bench = Bench(settle=0.4, drops="RR", silent=1e6, every=1e9, started=time.monotonic())
        with Server(bench, 0) as server:
            server.start()
            Instrument.objects.all().update(url=server.url)
            page = self.sign_in("marit")
            page.goto(f"/jobs/{self.job.pk}/weigh/scales/")
            pads = page.locator(".instrument", has_text="Wheel pads")
            expect(pads.locator(".live-cell", has_text="rear left pad")).to_contain_text("steady")
            expect(pads.locator(".live-cell", has_text="rear right pad")).to_contain_text("waiting")
            pads.get_by_role("button", name="Take into the sheet").click()
            expect(page.get_by_text("The rear right pad is silent. Nothing was taken")).to_be_visible()
            bench.drops = ""
            expect(pads.locator(".live-cell", has_text="rear right pad")).to_contain_text("steady")
            pads.get_by_role("button", name="Take into the sheet").click()
            expect(page.get_by_text("taken into “On tour”")).to_be_visible()
            expect(page.get_by_label("Rear left pad")).to_have_value(re.compile(r"10[01]\d"))
            server.shutdown()
        let_go()
        self.assertAlmostEqual(LoadState.objects.get(pk=self.item.state_id).rr_kg or 0.0, 1042.0, delta=5.0)
        expect(page.locator("#loads")).to_contain_text("off the scale")
