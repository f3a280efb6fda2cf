"""Each figure from which something is said: just short of it nothing is, just past it the finding speaks, and of the right side."""

from __future__ import annotations

import unittest
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from scipy.stats import norm

from tests.core.samples import job as sample
from tests.core.samples import reading
from vantok_core.base.say import Finding, Quantity
from vantok_core.facts import Job, JobReading
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.judge.diagnose.stance import stance_findings
from vantok_core.judge.diagnose.thresholds import (
    BOTH_LEAN,
    EVEN_PADS,
    LAMP_WORTH,
    LEAN_WORTH,
    NEAR_STOP,
    SAG_WORTH,
    SMALL,
    TIRED_SIDE,
)
from vantok_core.judge.grounds.shown import StateView
from vantok_core.judge.measure.checks import check_reading
from vantok_core.judge.measure.thresholds import WIDEST_SIDE
from vantok_core.loads.holding import OVER, PROBABLY, WORDS, Held
from vantok_core.loads.limits import Margin
from vantok_core.model import build_model
from vantok_core.physics.plane import hitch_drop, pitch_change
from vantok_core.readings.tape import reading_sigma

BIT = 0.0005
"""Half a millimetre: past a threshold, or short of it, m."""


def told(findings: Sequence[Finding]) -> dict[str, str]:
    """Return what is said, by its key."""
    return {f.key: f.what.in_units("metric") for f in findings}


class Stance(unittest.TestCase):
    def setUp(self) -> None:
        """A view that says nothing, whose bands are small."""
        self.job = sample()
        found = diagnose(build_model(self.job))
        quiet = {"rake": 0.0, "lean": 0.0, "lean_band": 0.002, "band": 0.002, "front_rise": 0.0, "beam": None}
        self.quiet = replace(found.views[-1], **quiet, stop_gap={"front": 0.08, "rear": 0.08})
        self.assertEqual(self.said(), {})

    def said(self, **more: object) -> dict[str, str]:
        """Return what is said of the quiet view with something else in it."""
        view: StateView = replace(self.quiet, **more)  # type: ignore[arg-type] # a test's own fields
        return told(stance_findings(self.job, view))

    def test_each_speaks_from_its_figure(self) -> None:
        """A figure short of its threshold, or inside its own band, is no finding; past both it is, of the side that it lies on."""
        for field, at, words in (
            ("rake", -0.005, {"nose-up": "nose points up, rake −"}),
            ("lean", LEAN_WORTH, {"lean": "leans right"}),
            ("lean", -LEAN_WORTH, {"lean": "leans left"}),
            ("front_rise", -SMALL, {"front-low": "lower than empty"}),
        ):
            past, band = at + (BIT if at > 0.0 else -BIT), "lean_band" if field == "lean" else "band"
            with self.subTest(field, at=at):
                self.assertEqual(self.said(**{field: at - (past - at)}), {})
                found = self.said(**{field: past})
                self.assertEqual(found.keys(), words.keys())
                for key, part in words.items():
                    self.assertIn(part, found[key])
                self.assertEqual(self.said(**{field: past, band: 2.0 * abs(past)}), {}, "inside its band")
                self.assertEqual(self.said(**{field: None}), {}, "unknown")
                if field == "rake":
                    self.assertEqual(self.said(rake=-past), {}, "nose down is no complaint by itself")

    def test_an_axle_read_without_a_side_counts_as_read(self) -> None:
        """Its rake is told from the one figure; where both corners were read as well, those are meant."""
        corners = tuple(
            r for r in self.job.readings if (r.state, r.datum) != ("loaded", "ground_arch") or r.place[0] == "F"
        )
        front = [r.value_m for r in corners if (r.state, r.datum) == ("loaded", "ground_arch")]
        whole = reading("loaded", "rear", 0.900)
        for read, height in ((corners, 0.900), (self.job.readings, 0.888)):
            one = self.job.model_copy(update={"readings": (*read, whole)})
            rake = diagnose(build_model(one)).views[-1].rake
            assert rake is not None
            self.assertAlmostEqual(rake, height - sum(front) / 2)

    def test_the_front_is_something_to_do_from_its_own_figure(self) -> None:
        """A little lower is told, more is something to do."""
        for off, tone in ((-BIT, "plain"), (BIT, "act")):
            (one,) = stance_findings(self.job, replace(self.quiet, front_rise=-SAG_WORTH - off))
            self.assertEqual(one.tone, tone)

    def test_stops_and_lamps(self) -> None:
        """A stop near, and touching; a beam that moved up, and down."""
        self.assertEqual(self.said(stop_gap={"rear": NEAR_STOP + BIT}), {})
        self.assertIn("from touching", self.said(stop_gap={"rear": NEAR_STOP - BIT})["stop-rear"])
        self.assertIn("is touching", self.said(stop_gap={"front": 0.0})["stop-front"])
        for value, way in ((LAMP_WORTH + BIT, "up"), (-LAMP_WORTH - BIT, "down")):
            self.assertIn(f"moves {way}", self.said(beam=Quantity(value, "length", band=0.01))["lamps"])
            self.assertEqual(self.said(beam=Quantity(value, "length", band=0.08)), {})
        self.assertEqual(self.said(beam=Quantity(LAMP_WORTH - BIT, "length", band=0.01)), {})


def leaning(front: float, rear: float, pads: tuple[float, ...] | None = None) -> Job:
    """Return the sample empty, left lower than right by so much (m) at each axle; pads: kg under the corners."""
    job = sample()
    low = {"FL": front, "RL": rear}
    at = {r.place: r.value_m for r in job.readings if r.state == "empty" and r.datum == "ground_arch"}
    beside = {"FL": "FR", "RL": "RR"}

    def one(r: JobReading) -> JobReading:
        return (
            r.model_copy(update={"value_m": at[beside[r.place]] - low[r.place]})
            if r.state == "empty" and r.datum == "ground_arch" and r.place in low
            else r
        )

    states = (job.states[0].model_copy(update={"corners_kg": pads}), *job.states[1:])
    return job.model_copy(update={"readings": tuple(map(one, job.readings)), "states": states})


class Empty(unittest.TestCase):
    def keys(self, job: Job) -> set[str]:
        """Return which of them speak."""
        return {f.key for f in diagnose(build_model(job)).findings} & {"tired-front", "tired-rear", "floor"}

    def test_a_side_that_stands_low(self) -> None:
        """From its figure on, at its own axle; both axles alike are the floor's, and the load that pads show is the load's."""
        self.assertEqual(self.keys(leaning(0.0, TIRED_SIDE - BIT)), set())
        self.assertEqual(self.keys(leaning(0.0, TIRED_SIDE + BIT)), {"tired-rear"})
        self.assertEqual(self.keys(leaning(TIRED_SIDE + BIT, 0.0)), {"tired-front"})
        for way, side in ((1.0, "left"), (-1.0, "right")):
            floor = diagnose(build_model(leaning(way * (BOTH_LEAN + BIT), way * (TIRED_SIDE + BIT)))).findings
            said = next(f.what.in_units("metric") for f in floor if f.key == "floor")
            self.assertIn(f"lower on the {side} at both axles", said)
        self.assertEqual(self.keys(leaning(BOTH_LEAN - BIT, TIRED_SIDE + BIT)), {"tired-rear"})
        self.assertEqual(self.keys(leaning(-BOTH_LEAN - BIT, TIRED_SIDE + BIT)), {"tired-rear"})
        rear = 890.0
        for share, found in ((EVEN_PADS - 0.005, {"tired-rear"}), (EVEN_PADS + 0.005, set[str]())):
            pads = (605.0, 605.0, rear * (0.5 + share / 2.0), rear * (0.5 - share / 2.0))
            self.assertEqual(self.keys(leaning(0.0, TIRED_SIDE + BIT, pads)), found, share)

    def test_sides_to_be_read_again(self) -> None:
        """Left and right further apart than lean usually explains are asked for again."""
        for off, found in ((-BIT, False), (BIT, True)):
            job = leaning(0.0, WIDEST_SIDE + off)
            one = next(r for r in job.readings if (r.state, r.place, r.datum) == ("empty", "RL", "ground_arch"))
            self.assertEqual("sides" in told(check_reading(job, one)), found)


class Limits(unittest.TestCase):
    def test_over_open_and_held(self) -> None:
        """Over only where the load's error leaves little hope, held only where it leaves little doubt, open between; unknown is neither."""
        for p, over, unsure in (
            (OVER - 0.01, True, False),
            (OVER + 0.01, False, True),
            (PROBABLY - 0.01, False, True),
            (PROBABLY + 0.01, False, False),
        ):
            one = Margin(key="front_axle", limit=1000.0, load=1000.0 - 10.0 * float(norm.ppf(p)), sigma=10.0)
            self.assertEqual((one.over, one.unsure), (over, unsure), p)
            self.assertEqual(one.past, p < 0.5)
        for load, past in ((1000.0 - BIT, False), (1000.0 + BIT, True)):
            sure = Margin(key="front_axle", limit=1000.0, load=load)
            self.assertEqual((sure.over, sure.unsure, sure.past), (past, False, past))
        for limit, load in ((None, 900.0), (900.0, None)):
            unknown = Margin(key="front_axle", limit=limit, load=load)
            self.assertEqual((unknown.over, unknown.unsure, unknown.past), (False, False, False))

    def test_each_word_from_its_chance(self) -> None:
        """Each word of a limit holds from its own chance on, and the one under it just below."""
        for (least, words), (_, under) in pairwise(WORDS):
            for p, said in ((least + 0.001, words), (least - 0.001, under)):
                one = Held(name="gross", limit=3000.0, load=3000.0 - 25.0 * float(norm.ppf(p)), sigma=25.0)
                self.assertEqual(one.word, said, p)


class Tape(unittest.TestCase):
    def test_a_reading_is_no_surer_than_how_it_settles(self) -> None:
        """The finest tape leaves the settling, a coarse one adds its step; a nose up is a pitch above nought."""
        self.assertAlmostEqual(reading_sigma(0.0, 0.003), 0.003)
        self.assertAlmostEqual(reading_sigma(0.012, 0.0), 0.012 / 12**0.5)
        self.assertAlmostEqual(reading_sigma(0.012, 0.003) ** 2, 0.012**2 / 12.0 + 0.003**2)
        self.assertGreater(pitch_change(0.0, 0.05, 3.5), 0.0)
        self.assertAlmostEqual(hitch_drop(0.0, 0.05, 3.5, 1.4), 0.07)


if __name__ == "__main__":
    unittest.main()
