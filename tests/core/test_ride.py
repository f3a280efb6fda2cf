"""The ride before it is built: configurations over the course, told beside one another, with how sure it is."""

from __future__ import annotations

import unittest
from dataclasses import replace
from unittest.mock import patch

from tests.core.samples import AIR, job
from vantok.shop.starter_kits import KITS
from vantok_core.base.num import G
from vantok_core.base.say import Quantity
from vantok_core.facts import Fitting
from vantok_core.facts.reading import Pushed
from vantok_core.judge.ride.odds import Banded, ride_odds
from vantok_core.judge.ride.ready import Configuration, Over, damper_of, side_of, usual_dampers
from vantok_core.judge.ride.said import ride_verdict
from vantok_core.judge.ride.steady import steady_rows
from vantok_core.judge.ride.thresholds import GUST_SPEED
from vantok_core.judge.ride.told import drive_over, fade_row, rows
from vantok_core.kits.damping_left import damping_left
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.registry import family_of, read_kit
from vantok_core.kits.target import target_state
from vantok_core.model import build_model
from vantok_core.physics.vehicle import AXLES
from vantok_core.road.course import PIECES, WIND
from vantok_core.road.plane import Car, gust_plane
from vantok_core.road.profile import gust_force
from vantok_core.road.ride_set import Damper, ForceCurve
from vantok_core.road.simulate import damper_power

SHELF = {one["code"]: read_kit(one) for one in KITS}


class Ride(unittest.TestCase):
    def setUp(self) -> None:
        self.model = build_model(job())
        self.state = target_state(self.model)

    def over(self, piece: str, speed: float = 6.0) -> Over:
        return Over(piece=piece, speed=speed, side="both", state=self.state)

    def pair(self, factor: float = 1.0, **damped: Damper) -> list[Configuration]:
        """Return the vehicle as it is, and with its rear springs so many times as stiff."""
        own = self.model.vehicle
        spring = replace(own.rear.spring, k=own.rear.spring.k * factor)
        other = replace(own, rear=replace(own.rear, spring=spring))
        return [
            Configuration(key="now", words="as it is", vehicle=own),
            Configuration(key="other", words="with the other", vehicle=other, dampers=damped),  # type: ignore[arg-type]
        ]

    def said(self, piece: str, pair: list[Configuration], known: dict[str, Banded] | None = None) -> str:
        over = self.over(piece)
        verdict = ride_verdict(drive_over(self.model, pair, over), over, known)
        return " ".join(one.in_units("metric") for one in verdict.sentences)

    def test_alike_is_told_alike(self) -> None:
        """The same vehicle twice: every ratio is one, no sentence finds a difference, and by draws neither is better."""
        for piece in PIECES:
            over = self.over(piece)
            driven = drive_over(self.model, self.pair(), over)
            for row in rows(driven, piece):
                self.assertTrue(row.ratios[1] is None or abs(row.ratios[1] - 1.0) < 1e-9, (piece, row.figured.key))
            text = " ".join(one.in_units("metric") for one in ride_verdict(driven, over, None).sentences)
            self.assertNotRegex(text, "rises|falls|harsher|softer|longer|then|not sure")
        sure = ride_odds(self.model, *self.pair(), self.over("bump"))
        self.assertEqual({(one.less, one.more) for one in sure.values()}, {(0.0, 0.0)})

    def test_a_small_lean_is_not_worth_a_word(self) -> None:
        """On a piece that leans the lean is told; under its figure it is not."""
        over = self.over("lane_change", 15.0)
        driven = drive_over(self.model, self.pair(), over)
        for least, told in ((0.0, True), (10.0, False)):
            with patch("vantok_core.judge.ride.said.LEAST_ROLL", least):
                text = " ".join(one.in_units("metric") for one in ride_verdict(driven, over, None).sentences)
            self.assertEqual("it leans" in text, told, text)

    def test_stiffer_behind_is_harsher_there(self) -> None:
        """Rear springs twice as stiff: over the rear axle the rail hits harder in every draw, and the tail leans less in a bend."""
        sure = ride_odds(self.model, *self.pair(2.0), self.over("rail"))
        self.assertGreater(sure["rear_blow"].more, 0.9)
        bend = ride_odds(self.model, *self.pair(2.0), self.over("roundabout"))["roll"]
        self.assertEqual((bend.less, bend.more), (1.0, 0.0))
        assert bend.high is not None
        self.assertLess(bend.high, 1.0)
        self.assertIn("then", self.said("roundabout", self.pair(2.0)))

    def test_a_difference_inside_its_band_is_none(self) -> None:
        """The same two runs, told by how sure they are: a band that holds one takes the difference away, one beside it brings it back."""
        pair = self.pair(2.0)
        open_ = Banded(low=0.7, high=1.1, less=0.6, more=0.4)
        self.assertIn("about as before", self.said("roundabout", pair, {"roll": open_}))
        sure = Banded(low=0.7, high=0.9, less=1.0, more=0.0)
        self.assertRegex(self.said("roundabout", pair, {"roll": sure}), "leans .* at most, then ")

    def test_dampers_that_hold_less(self) -> None:
        """Half the damping behind: it swings on longer after a bump, told as something to act on; twice as much is not."""
        rear = usual_dampers(self.model)["rear"]
        for factor, word in ((0.35, "longer"), (1.0, "")):
            told = Damper(bump=float(rear.bump) * factor, rebound=float(rear.rebound) * factor)  # type: ignore[arg-type]
            over = self.over("bump")
            driven = drive_over(self.model, self.pair(1.0, rear=told), over)
            verdict = ride_verdict(driven, over)
            text = verdict.sentences[0].in_units("metric")
            self.assertEqual("longer" in text, bool(word), text)
            if word:
                self.assertEqual(verdict.tone, "act")

    def test_a_push_test_tells_the_dampers(self) -> None:
        """Damping as a push test read it takes the place of the usual figure, in proportion."""
        usual = usual_dampers(self.model)["rear"]
        empty = self.model.job.empty
        assert empty is not None
        push = Pushed(
            state=empty.key, axle="rear", frequency=1.6, frequency_sigma=0.1, damping=0.125, damping_sigma=0.02
        )
        read = usual_dampers(self.model.for_job(self.model.job.model_copy(update={"pushes": (push,)})))["rear"]
        self.assertAlmostEqual(float(read.bump) / float(usual.bump), 0.5, places=6)  # type: ignore[arg-type]

    def test_what_stands_of_it(self) -> None:
        """Damping falls by the root of a stiffer spring, and the damper that brings it back is told where it is short; a stiffer rear leans less, holds more
        of it, sinks less at a hard start; a gust does the same to both; of one that cannot be solved nothing is told."""
        pair = [*self.pair(2.0), replace(self.pair()[1], key="gone", states={})]
        rows = {row.words: row.values for row in steady_rows(self.model, pair, self.state)}

        def figures(words: str) -> tuple[float, float]:
            a, b, gone = rows[words]
            self.assertIsNone(gone)
            return tuple(float(v) if isinstance(v, str) else v.value for v in (a, b) if v is not None)  # type: ignore[return-value]

        damping = figures("damping behind")
        told = self.model.solve()[self.state]
        stiffer = self.model.solve(pair[1].vehicle)[self.state]
        self.assertAlmostEqual(damping[1] / damping[0], damping_left(stiffer, told, "rear"), delta=0.04)
        self.assertEqual(figures("damping in front")[0], figures("damping in front")[1])
        wanted = [v for v in rows["dampers behind for 0.25"][:2] if v is not None]
        self.assertTrue(all(isinstance(v, Quantity) and v.kind == "damping" for v in wanted))
        self.assertIsNotNone(rows["dampers behind for 0.25"][1])
        for words, falls in (("leans for each g sideways", True), ("of that held by the rear", False)):
            a, b = figures(words)
            self.assertEqual(b < a, falls, words)
        self.assertLess(figures("a hard start sinks the tail")[1], figures("a hard start sinks the tail")[0])
        self.assertAlmostEqual(*figures("a gust has it aside by"), places=9)
        front, rear = (float(told.axle_load(axle)) / G for axle in AXLES)
        ahead = self.model.vehicle.wheelbase * rear / (front + rear)
        car = Car(m=front + rear, a=ahead, b=self.model.vehicle.wheelbase - ahead)
        aside = gust_plane(car, GUST_SPEED, gust_force(side_of(self.model).area, WIND)).side_offset
        self.assertAlmostEqual(figures("a gust has it aside by")[0], abs(aside), places=9)

    def test_a_road_without_end_is_told_by_how_it_is_felt(self) -> None:
        """What is felt at the seat: by how much harsher or softer, with the standard's word; alike, the word alone."""
        for piece in (key for key, one in PIECES.items() if one.endless):
            pair, over = self.pair(3.0), self.over(piece)
            driven = drive_over(self.model, pair, over)
            ratio = next(row.ratios[1] for row in rows(driven, piece) if row.figured.key == "felt")
            assert ratio is not None
            way, low, high = ("harsher", 1.001, 9.0) if ratio > 1.0 else ("softer", 0.1, 0.999)
            sure = {"felt": Banded(low=low, high=high, less=0.5, more=0.5)}
            told = f"{way} at the seat by {abs(ratio - 1.0):.0%}".replace("%", "\u00a0%")
            self.assertIn(told, self.said(piece, pair, sure))
            self.assertIn("at the seat about as before", self.said(piece, self.pair()))

    def test_a_damper_kit_is_driven_at_its_middle_click(self) -> None:
        """Of so many clicks the middle one, the softer of two."""
        tried = 0
        for kit in filter(lambda one: one.own.get("clicks"), SHELF.values()):
            clicks, found = family_of(kit).of(kit).clicks, damper_of(kit)
            assert found is not None
            tried += len(clicks) > 2
            middle = clicks[(len(clicks) + 1) // 2 - 1]
            self.assertEqual(found[kit.axle].bump, ForceCurve(middle.bump))
        self.assertGreater(tried, 0)

    def test_a_kit_holds_the_roll_with_the_springs(self) -> None:
        """Bags with a line each add to what holds a bend: it leans less with them, and the rear holds more of it; on one line they add nothing."""
        told = {}
        for line in ("separate", "tee"):
            kit = AIR.model_copy(update={"line": line})
            fitting = Fitting(kit=kit, setting={"pressure_pa": (3e5, 3e5)}, state=self.state)
            with_bags = Configuration(key=line, words=line, vehicle=fitted_vehicle(self.model, fitting))
            found = steady_rows(self.model, [*self.pair()[:1], with_bags], self.state)
            told[line] = {row.words: [v.value for v in row.values if isinstance(v, Quantity)] for row in found}
        for words, less in (("leans for each g sideways", True), ("of that held by the rear", False)):
            without, kit_on = told["separate"][words]
            self.assertEqual(kit_on < without, less, words)
            self.assertLess(abs(told["tee"][words][1] - without), abs(kit_on - without), words)

    def test_dampers_that_get_hot(self) -> None:
        """On corrugations the dampers take in what shakes them, told in minutes to half; on an event, and with none on, there is nothing to tell."""
        over = self.over("washboard", 11.0)
        (driven, _) = drive_over(self.model, self.pair(), over)
        assert driven.run is not None
        self.assertGreater(damper_power(driven.run, "rear"), 5.0)
        self.assertRegex(str(fade_row([driven], "washboard")[0]), r"^(\d+ min|never)$")
        self.assertEqual(fade_row([driven], "bump"), (None,))
        bare = replace(driven.run, set=replace(driven.run.set, dampers={}))
        self.assertEqual(damper_power(bare, "rear"), 0.0)
        still = replace(driven.run, x=0.0 * driven.run.x)
        self.assertEqual(damper_power(still, "rear"), 0.0)

    def test_one_that_cannot_be_driven_stops_no_other(self) -> None:
        """A state the second does not know: the first is driven and told, the second says why."""
        first, second = self.pair()
        driven = drive_over(self.model, [first, replace(second, states={})], self.over("bump"))
        self.assertIsNotNone(driven[0].result)
        self.assertIsNone(driven[1].result)
        self.assertIn("not known well enough", driven[1].problem)

    def test_a_trailer_is_not_driven_by_itself(self) -> None:
        """It has no wheels of its own in front: words, no run."""
        vehicle = self.model.job.vehicle.model_copy(update={"body": "caravan"})
        model = self.model.for_job(self.model.job.model_copy(update={"vehicle": vehicle}))
        over = self.over("bump")
        told = ride_verdict(drive_over(model, self.pair(), over), over)
        self.assertEqual(told.tone, "limit")
        self.assertIn("it is not driven by itself", told.sentences[0].in_units("metric"))


if __name__ == "__main__":
    unittest.main()
