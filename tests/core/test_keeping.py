"""What is kept after the job: care dates, label, trends over visits, patterns of the shop; and what is said of readings that are not settled."""

from __future__ import annotations

import unittest
from datetime import date, timedelta

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.samples import AIR, job
from tests.core.test_claims import fitted, proof_of
from tests.core.test_families import KITS
from vantok.shop.starter_kits import KITS as SHELF
from vantok_core.base.errors import InputError
from vantok_core.facts import Fitting
from vantok_core.facts.kit import Care
from vantok_core.facts.proving import LeakTest
from vantok_core.judge.grounds.leaking import figures_of
from vantok_core.judge.hand_over.label import label
from vantok_core.judge.prove.after_causes import CAUSES, KIT_CAUSE, WEIGHTS, Pattern, pattern_words, weighed
from vantok_core.judge.set.close_up import close_up
from vantok_core.judge.visits.over_visits import Line, going, losing, since_fitting
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.registry import read_kit
from vantok_core.kits.target import target_state
from vantok_core.model import build_model, reading_own_sigma
from vantok_core.procedure.templates import label_lines
from vantok_core.readings.tape import drifts, repeated
from vantok_core.upkeep.care import CareTask, care_tasks, due, standing
from vantok_core.upkeep.patterns import DoneBefore, pattern

HANDED = date(2026, 3, 2)
BASE = Pattern(one_side=False, other_axle=False, drifting=False, unsettled=False, high=False)


class CareDates(unittest.TestCase):
    def test_what_is_due_and_when(self) -> None:
        """Bags the next morning, bolts after the first distance, lamps and alignment, the customer's word; each kit's own; nothing where nothing was fitted."""
        kit = AIR.model_copy(
            update={"care": (Care(what="clamps", km=80.0), Care(what="lines", months=12.0)), "life_years": 8.0}
        )
        tasks = care_tasks(job(fitting=Fitting(kit=kit)), ("valve, left",))
        days = [task.days for task in tasks]
        self.assertEqual(days, sorted(days))
        by_key = {task.key: task for task in tasks}
        self.assertEqual((by_key["leak-1"].days, by_key["bolts"].km, by_key["follow-up"].days), (1.0, 80.0, 30.0))
        self.assertTrue({"lamps", "alignment", "heights", "feel", "life-1"} <= by_key.keys())
        self.assertIn("valve, left", by_key["feel"].words)
        self.assertEqual((by_key["care-1-1"].guessed, by_key["care-1-2"].guessed), (True, False))
        self.assertAlmostEqual(by_key["care-1-2"].days, 365.25)
        self.assertEqual(care_tasks(job()), ())
        bar = care_tasks(job(fitting=Fitting(kit=KITS["anti_roll_bar"])))
        self.assertFalse({"leak-1", "lamps", "heights"} & {task.key for task in bar})

    def test_by_date_or_distance_whichever_first(self) -> None:
        """Overdue past either; due in the week before its day; no distance where the odometer was not read; a date before hand-over is refused."""
        task = CareTask(key="bolts", words="bolts", days=14.0, km=80.0)
        when = due(task, HANDED, 10_000.0)
        self.assertEqual((when.day, when.km, due(task, HANDED).km), (HANDED + timedelta(days=14), 10_080.0, None))
        for today, km, word in (
            (HANDED, None, "ahead"),
            (HANDED + timedelta(days=8), None, "due"),
            (HANDED + timedelta(days=15), None, "overdue"),
            (HANDED, 10_081.0, "overdue"),
            (HANDED, 10_079.0, "ahead"),
        ):
            self.assertEqual(standing(when, today, km), word, (today, km))
        with self.assertRaises(InputError):
            due(CareTask(key="x", words="x", days=-1.0), HANDED)

    def test_a_label_fits_and_says_what_is_set(self) -> None:
        """Every family has its two lines; the setting in the reader's units, limits for bags; no gap that nobody read; too long is shortened, and told."""
        self.assertTrue(all(len(label_lines(read_kit(one))) == 2 for one in SHELF))
        on = job(fitting=Fitting(kit=AIR, setting={"pressure_pa": (185e3, 180e3)}))
        found = label(on, "metric")
        self.assertEqual(
            (found.parts[0].setting, found.gap, found.shortened),
            ("pressure left 1.85\u00a0bar, right 1.80\u00a0bar", "", ()),
        )
        self.assertIn("never over 100\u00a0psi", label(on, "us").parts[0].limits)
        short = label(on, "metric", widest=40)
        self.assertTrue(short.shortened and all(len(p.off) <= 40 and p.off.endswith("…") for p in short.parts))
        self.assertEqual(label(job(), "metric").parts, ())
        self.assertEqual(label(job(fitting=Fitting(kit=AIR)), "metric").parts[0].setting, "not set yet")


class OverTheYears(unittest.TestCase):
    def test_a_trend_is_told_only_beyond_its_band(self) -> None:
        """One visit says nothing; a fall beyond the band is told, with the month its stop gap is gone; a rise is no bad news."""
        visits = tuple((HANDED + timedelta(days=365 * n), 0.95 - 0.010 * n) for n in range(4))
        self.assertIsNone(going(Line(name="rear", visits=visits[:1])).trend)
        falling = going(Line(name="rear", visits=visits, gap=0.020))
        self.assertIn("It goes down by 10\u00a0mm a year", falling.said.in_units("metric"))
        self.assertIn("its stop gap is gone about March 2031, ", falling.said.in_units("metric"))
        rising = going(Line(name="rear", visits=tuple((day, 2.0 - h) for day, h in visits)))
        self.assertIn("It goes up by 10\u00a0mm a year", rising.said.in_units("metric"))
        self.assertIn("gone already", going(Line(name="rear", visits=visits, gap=0.0)).said.in_units("metric"))
        self.assertIn(
            "neither up nor down",
            going(Line(name="rear", visits=tuple((day, 0.95) for day, _ in visits))).said.in_units("metric"),
        )

    def test_false_alarms_stay_within_the_band(self) -> None:
        """Of 2000 simulated vehicles whose springs hold, read over five visits with their scatter, no more than one in nine is told to go anywhere."""
        rng = np.random.default_rng(7)
        days = [HANDED + timedelta(days=200 * n) for n in range(5)]
        told = 0
        for _ in range(2000):
            heights = 0.95 + rng.normal(0.0, 0.003, 5)
            found = going(Line(name="rear", visits=tuple(zip(days, heights.tolist(), strict=True))))
            told += found.trend is not None and found.trend.told
        self.assertLess(told / 2000, 1.0 / 9.0)
        self.assertGreater(told, 0)

    def test_a_bag_that_loses_more_than_it_did(self) -> None:
        """A loss that grew beyond what both tests could tell is told, with both; within it, or of one test, or of one that did not end, nothing is made."""

        def test(key: str, later: float, year: int, *, ended: bool = True) -> LeakTest:
            told = {"p2_pa": later, "kelvin_2": 293.15, "ended": f"{year}-03-03T08:00:00+00:00"} if ended else {}
            return LeakTest(
                key=key, side="left", p1_pa=4e5, kelvin_1=293.15, began=f"{year}-03-01T08:00:00+00:00", **told
            )

        tight, loses = test("a", 3.99e5, 2026), test("b", 3.2e5, 2027)
        self.assertIn("The left bag: loses 0.40\u00a0bar a day", losing([tight, loses])[0].in_units("metric"))
        self.assertEqual([v.tone for v in losing([tight, loses])], ["act"])
        bands = [figures_of(one) for one in (tight, loses)]
        half = [(one.band[1] - one.band[0]) / 2.0 for one in bands if one is not None]
        told = losing([tight, loses])[0].sentences[0].values["band"]
        self.assertAlmostEqual(told.value, (half[0] ** 2 + half[1] ** 2) ** 0.5)
        self.assertIn("as far as both can tell", losing([tight, test("c", 3.985e5, 2027)])[0].in_units("metric"))
        self.assertIn("less than", losing([loses, tight])[0].in_units("metric"))
        self.assertEqual(losing([tight]) + losing([tight, test("d", 0.0, 2027, ended=False)]), [])

    def test_settled_as_expected_or_not(self) -> None:
        """What a kit was expected to settle is no alarm; more than that beyond the band is."""
        self.assertEqual(since_fitting("Rear", 0.950, 0.947, 0.003).tone, "level")
        self.assertIn("more than expected", since_fitting("Rear", 0.950, 0.930, 0.003).in_units("metric"))
        self.assertIn("less than expected", since_fitting("Rear", 0.950, 0.960, 0.003).in_units("metric"))


class Patterns(unittest.TestCase):
    def test_what_jobs_of_a_kit_have_in_common(self) -> None:
        """Medians, never means; what missed, came back and disappointed is counted."""
        rows = [
            DoneBefore(
                gain=0.040 * (0.9 + 0.01 * n),
                predicted=0.040,
                setting={"pressure_pa": (2e5, 2.2e5)},
                hours=3.0 + n,
                missed=n == 0,
                trouble=("tight",),
                came_back=n == 1,
                outcome="worse" if n == 2 else "hoped",
            )
            for n in range(5)
        ]
        found = pattern(rows)
        assert found is not None
        self.assertIsNone(pattern([]))
        self.assertEqual((found.count, found.hours, found.missed, found.came_back, found.worse), (5, 5.0, 1, 1, 1))
        self.assertEqual((found.setting, found.trouble), ({"pressure_pa": 2.1e5}, (("tight", 5),)))


class Unsettled(unittest.TestCase):
    @given(st.lists(st.floats(0.6, 0.9), min_size=2, max_size=9))
    def test_repeated_readings(self, values: list[float]) -> None:
        """Their mean lies among them; its sigma is never under the tape's step; two tell less than their difference suggests."""
        found = repeated(values, 0.001)
        self.assertTrue(min(values) - 1e-12 <= found.height <= max(values) + 1e-12)
        self.assertGreaterEqual(found.sigma, 0.001 / 12**0.5)

    def test_what_drifts_is_seen(self) -> None:
        """Three that go one way drift; back and forth, or two alone, do not; one alone is refused."""
        self.assertTrue(drifts([0.704, 0.702, 0.700], 0.001))
        self.assertFalse(drifts([0.704, 0.702, 0.703], 0.001))
        self.assertFalse(drifts([0.704, 0.700], 0.001))
        self.assertTrue(repeated([0.700, 0.702, 0.704], 0.001).drifting)
        with self.assertRaises(InputError):
            repeated([0.7], 0.001)

    def test_a_reading_that_is_not_settled_counts_less_and_proves_nothing(self) -> None:
        """What friction leaves is thrice as wide; three that repeat well make it smaller; heights within their band are not called proved
        while one is not settled."""
        one = fitted()
        read = next(r for r in one.readings if r.phase == "after")
        plain = reading_own_sigma(one, read)
        self.assertGreater(reading_own_sigma(one, read.model_copy(update={"unsettled": "lifted"})), 1.35 * plain)
        self.assertLess(reading_own_sigma(one, read.model_copy(update={"repeats_m": (0.9, 0.901, 0.9)})), plain)
        rough = tuple(r.model_copy(update={"unsettled": "lifted"}) if r is read else r for r in one.readings)
        found = proof_of(one.model_copy(update={"readings": rough}))
        self.assertEqual((found.inside, found.verdict.tone), (True, "act"))
        self.assertIn("Not settled when read", found.verdict.in_units("metric"))

    def test_causes_come_by_likelihood_of_the_pattern(self) -> None:
        """One side: the reading first; both alike: settling or load; drifting low on one side: a leak; never a leak where it stands high or nothing is
        shut in; of what holds air and stands low on both sides gauge, leak and kit in this order; the shares make one."""
        first = {
            "read": Pattern(one_side=True, other_axle=False, drifting=False, unsettled=False, high=True),
            "settled": Pattern(one_side=False, other_axle=False, drifting=False, unsettled=True, high=False),
            "leak": Pattern(one_side=True, other_axle=False, drifting=True, unsettled=False, high=False),
            "load": Pattern(one_side=False, other_axle=True, drifting=False, unsettled=False, high=False),
        }
        self.assertEqual(set(WEIGHTS), {c.key for c in (*CAUSES, KIT_CAUSE)})
        for key, told in first.items():
            found = weighed(told, sealed=True)
            self.assertEqual(found[0].cause.key, key, pattern_words(told))
            self.assertAlmostEqual(sum(w.share for w in found), 1.0)
        low = Pattern(one_side=False, other_axle=False, drifting=False, unsettled=False, high=False)
        self.assertEqual([w.cause.key for w in weighed(low, sealed=True)][:4], ["entered", "leak", "kit", "load"])
        self.assertNotIn("leak", [w.cause.key for w in weighed(BASE, sealed=False)])
        high = {
            w.cause.key: w.share
            for w in weighed(
                first["leak"].__class__(one_side=True, other_axle=False, drifting=True, unsettled=False, high=True),
                sealed=True,
            )
        }
        self.assertLess(high["leak"], 0.15)
        self.assertIn("drifting one way", pattern_words(first["leak"]))

    def test_the_close_up_shows_what_the_model_solved(self) -> None:
        """What is carried at a wheel adds up to its load less the wheel's own; a gap read rules over the model's; without the kit there is none on it."""
        one = fitted()
        model = build_model(one)
        assert one.fitting is not None
        key, vehicle = target_state(model), fitted_vehicle(model, one.fitting)
        report = model.solve(vehicle)[key]
        seen = close_up(model, "rear", key, vehicle, one.fitting)
        assert seen is not None
        for side, corner in zip(seen.sides, ("RL", "RR"), strict=True):
            sprung = float(report.load[corner]) - vehicle.rear.unsprung * 9.80665
            self.assertAlmostEqual(sum(side.carries.values()), sprung, delta=0.02 * sprung)
            self.assertEqual((len(side.kits), side.kits[0].in_hand), (1, True))
            self.assertGreater(side.kits[0].force, 0.0)
        bar = Fitting(kit=KITS["anti_roll_bar"], setting={}, state=key)
        still = close_up(model, "rear", key, fitted_vehicle(model, bar), bar)
        assert still is not None
        self.assertEqual([(k.force, k.pressure, k.gap) for s in still.sides for k in s.kits], [(0.0, None, None)] * 2)
        bare = close_up(model, "rear", key, model.vehicle)
        assert bare is not None
        self.assertEqual(bare.sides[0].kits, ())
        self.assertGreater(bare.sides[0].drop, seen.sides[0].drop)
        self.assertIsNone(close_up(model, "rear", "nowhere", model.vehicle))
