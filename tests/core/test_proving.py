"""What proves the work beside the tape: leaks said as they are, clearances asked anew, drives compared only when alike, one change at a time."""

from __future__ import annotations

import unittest
from datetime import datetime, timedelta
from unittest.mock import Mock

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.core.samples import AIR, job
from tests.core.test_families import KITS
from vantok_core.benches.tight import first_look
from vantok_core.facts import Fitting, Job, Proving
from vantok_core.facts.inspection import Complaint
from vantok_core.facts.proving import Drive, LeakTest, Loop
from vantok_core.judge.grounds.leaking import clearances_asked, leak_said, still_open, stopping
from vantok_core.judge.prove.driving import (
    CATEGORIES,
    COURSES,
    FELT,
    NEXT,
    agreement,
    answers,
    changes,
    first_by_lot,
    middle_found,
    next_change,
    not_compared,
)
from vantok_core.judge.prove.proving import _worst_mean
from vantok_core.judge.set.card_for import _steps, can_have, job_card
from vantok_core.judge.set.failing import failures
from vantok_core.kits.choice import MET
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.target import target_drop, target_state
from vantok_core.kits.why_set import set_reasons
from vantok_core.model import build_model
from vantok_core.practice.loops import loop_trials

LEAF = KITS["helper_leaf"]
BEGAN = datetime.fromisoformat("2026-03-01T17:00:00+00:00")
GRADES = ("fine", "marginal", "poor", "upgrade")


def drive(moment: str, grades: dict[str, str], rater: str = "technician", **more: object) -> Drive:
    told = {
        "key": "d",
        "moment": moment,
        "rater": rater,
        "course": "bump",
        "speed_kmh": 20.0,
        "state": "loaded",
        "grades": grades,
    }
    return Drive.model_validate(told | more)


def with_proving(**told: object) -> Job:
    """Return the sample job with air springs on, and so much that proves them."""
    fitting = Fitting(kit=AIR, setting={"pressure_pa": (2e5, 2e5)}, state="loaded", done=True)
    return job().model_copy(update={"fitting": fitting, "proving": Proving.model_validate(told)})


class Suspected(unittest.TestCase):
    def test_the_state_furthest_outside_its_own_band_is_named(self) -> None:
        """Not the one furthest off: 12 mm past a band of 4 says more than 20 mm past one of 18; inside its band none is named."""
        means = {"empty": (0.020, 0.018), "loaded": (-0.012, 0.004), "other": (0.003, 0.004), "unread": None}
        bands = Mock(mean=lambda state, axle: means[state])
        self.assertEqual(_worst_mean(bands, "rear", set(means)), ("loaded", -0.012, 0.004))
        self.assertIsNone(_worst_mean(bands, "rear", {"other", "unread"}))


class Steps(unittest.TestCase):
    def test_a_cards_payloads_go_up_to_the_most_there_is(self) -> None:
        """Even steps of whole driver's steps, nought first; the most is among them where it is a whole number of them."""
        self.assertEqual(_steps(300.0, 4, 100.0), (0.0, 100.0, 200.0, 300.0))
        self.assertEqual(_steps(690.0, 4, 100.0), (0.0, 200.0, 400.0, 600.0))
        self.assertEqual(_steps(0.0, 4, 100.0), (0.0,))


class Leaks(unittest.TestCase):
    def test_it_waits_until_it_can_tell(self) -> None:
        """Pressed up, it says how long; after that to read again; read, what it loses at one temperature; bubbles are a fault whatever the gauge says."""
        test = LeakTest(key="l1", side="left", p1_pa=4e5, kelvin_1=291.0, began=BEGAN.isoformat())
        early, late = leak_said(test, BEGAN + timedelta(hours=1)), leak_said(test, BEGAN + timedelta(days=2))
        self.assertAlmostEqual(early.wait or 0.0, first_look(4e5, 5e3) - 3600.0)
        self.assertIn("Soap", early.said.in_units("metric"))
        self.assertEqual((late.wait, late.tone), (0.0, "act"))

        def read(p2: float, kelvin: float = 291.0, hours: float = 48.0, **more: object) -> str:
            ended = BEGAN + timedelta(hours=hours)
            again = test.model_copy(update={"p2_pa": p2, "kelvin_2": kelvin, "ended": ended.isoformat()} | more)
            told = leak_said(again, BEGAN + timedelta(days=3))
            return f"{told.tone}: {told.said.in_units('metric')}"

        self.assertEqual([read(p)[:5] for p in (4e5, 3.5e5, 4.3e5)], ["level", "limit", "act: "])
        colder = (4e5 + 101_325.0) * 281.0 / 291.0 - 101_325.0
        self.assertIn("Tight", read(colder, 281.0))  # ten degrees colder, nothing lost
        soon = read(3.94e5, hours=1.0 / 6.0)
        self.assertTrue("Not told yet" in soon and "a day" not in soon, soon)  # no day's loss of ten minutes
        self.assertIn("taken for a leak", read(3.85e5, hours=72.0))
        self.assertIn("limit: Bubbles", read(4e5, bubbles="at the fitting"))
        at_once = test.model_copy(update={"p2_pa": 3e5, "kelvin_2": 291.0, "ended": BEGAN.isoformat()})
        self.assertIn("nothing can be said", leak_said(at_once, BEGAN).said.in_units("metric"))

    def test_what_stops_and_what_is_open(self) -> None:
        """A part that touches, a bag that leaks stop the vehicle until they are looked at again: another setting clears neither, nor a test only begun."""
        fitted = with_proving()
        assert fitted.fitting is not None
        seen = {"what": "frame_tyre", "where": "bump", "found": "touches", "mark": fitted.fitting.mark}
        self.assertIn(
            "Touches: frame to tyre, in bump", stopping(with_proving(clearances=[seen]))[0].in_units("metric")
        )
        self.assertEqual(stopping(with_proving(clearances=[seen, seen | {"found": "clear"}])), ())
        other = with_proving(clearances=[seen | {"mark": "AIR p1,1"}])
        self.assertIn("Touches: frame to tyre, in bump", stopping(other)[0].in_units("metric"))
        self.assertEqual([one.anew for one in clearances_asked(other) if one.what == "frame_tyre"], [False, True])
        self.assertIn("To be looked at again", still_open(other)[0].in_units("metric"))
        leak = {"key": "l1", "side": "left", "p1_pa": 4e5, "kelvin_1": 291.0, "began": BEGAN.isoformat()}
        self.assertIn("was not read again", still_open(with_proving(leaks=[leak]))[0].in_units("metric"))
        gone = leak | {"p2_pa": 2e5, "kelvin_2": 291.0, "ended": (BEGAN + timedelta(days=1)).isoformat()}
        self.assertIn("left bag leaks", stopping(with_proving(leaks=[gone]))[0].in_units("metric"))
        again = leak | {"key": "l2"}
        self.assertEqual(len(stopping(with_proving(leaks=[gone, again]))), 1)
        tight = again | {"p2_pa": 3.99e5, "kelvin_2": 291.0, "ended": (BEGAN + timedelta(days=7)).isoformat()}
        self.assertEqual(stopping(with_proving(leaks=[gone, tight])), ())
        self.assertEqual(len(stopping(with_proving(leaks=[gone | {"side": "both"}, tight]))), 1)
        self.assertEqual(clearances_asked(job()), ())


class Drives(unittest.TestCase):
    def test_only_what_is_alike_is_compared(self) -> None:
        """Another course, speed, load or rater is not compared; the last of each is; memory is marked as told."""
        before, after = (
            drive("before", {"harsh": "poor", "rolls": "marginal"}),
            drive("after", {"harsh": "fine", "rolls": "poor"}),
        )
        self.assertEqual(
            [(c.category, c.went) for c in changes([before, after])], [("harsh", "better"), ("rolls", "worse")]
        )
        for other in ({"course": "rail"}, {"speed_kmh": 30.0}, {"state": "empty"}, {"rater": "owner"}):
            self.assertEqual(
                (
                    changes([before.model_copy(update=other), after]),
                    not_compared([before.model_copy(update=other), after]),
                ),
                ((), (after,)),
            )
        told = drive("before", {"harsh": "poor"}, told=True)
        self.assertTrue(changes([told, after])[0].told)
        later = drive("after", {"harsh": "poor"})
        self.assertEqual(changes([before, after, later])[0].went, "same")

    @given(st.lists(st.tuples(st.sampled_from(GRADES), st.sampled_from(GRADES)), min_size=1, max_size=12))
    def test_agreement(self, pairs: list[tuple[str, str]]) -> None:
        """Of what both graded: how many alike, and within one grade; never more alike than near, nor near than there are."""
        names = list(CATEGORIES)[: len(pairs)]
        owner = drive("after", dict(zip(names, (a for a, _ in pairs), strict=True)), "owner")
        other = drive("after", dict(zip(names, (b for _, b in pairs), strict=True)))
        found = agreement([owner, other])
        self.assertEqual((found.both, found.alike), (len(pairs), sum(a == b for a, b in pairs)))
        self.assertTrue(found.alike <= found.near <= found.both)

    def test_complaints_are_answered_by_grades(self) -> None:
        """Fine now, better, no better, worse; without a grade on both sides it stays open."""
        asked = (Complaint(code="harsh"), Complaint(code="rolls"), Complaint(code="sags"))

        def word(before: dict[str, str], after: dict[str, str]) -> list[str]:
            told = with_proving(drives=[drive("before", before), drive("after", after)]).model_copy(
                update={"complaints": asked}
            )
            return [a.word for a in answers(told)]

        self.assertEqual(
            word({"harsh": "poor", "rolls": "poor"}, {"harsh": "fine", "rolls": "marginal"}),
            ["fine now", "better", "open"],
        )
        asked = (Complaint(code="harsh_loaded"),)
        both = {"harsh": "poor", "bottoms": "fine"}, {"harsh": "fine", "bottoms": "fine"}
        self.assertEqual(word(*both), ["fine now"], "one better, the other fine as before")
        asked = (Complaint(code="harsh"), Complaint(code="rolls"), Complaint(code="sags"))
        self.assertEqual(
            word({"harsh": "poor", "rolls": "fine"}, {"harsh": "poor", "rolls": "poor"}), ["no better", "worse", "open"]
        )

    def test_the_next_change(self) -> None:
        """Harsh asks for less of the setting, bottoming for more, both at once for neither; bouncing on for damping; nothing asked, nothing said."""

        def way(grades: dict[str, str], felt: tuple[str, ...] = ()) -> str | None:
            found = next_change(with_proving(drives=[drive("after", grades, felt=felt)]))
            return found.way if found else None

        self.assertEqual(
            [way({"harsh": "poor"}), way({"bottoms": "poor"}), way({"harsh": "poor", "bottoms": "poor"})],
            ["less", "more", ""],
        )
        self.assertEqual(
            [way({"bounces": "poor"}), way({"harsh": "fine"}), way({"stance": "fine"}, ("hard_edge",))],
            ["", None, "less"],
        )
        self.assertIsNone(next_change(with_proving()))
        self.assertTrue(set(NEXT) <= set(CATEGORIES) | set(FELT))
        self.assertTrue(all(c.caution and c.speed > 0.0 for c in COURSES.values()))

    def test_the_middle(self) -> None:
        """One step up and one down, both worse and put back from one setting: the middle. One alone, or kept: not yet."""
        up, down = (
            Loop(key=k, what="set", mark_before="A p2", mark_after=m, outcome="worse", basis="driven", stays="put_back")
            for k, m in (("l1", "A p3"), ("l2", "A p1"))
        )
        self.assertTrue(middle_found([up, down]))
        self.assertFalse(
            middle_found([up]) or middle_found([up, down.model_copy(update={"outcome": "better", "stays": "kept"})])
        )
        self.assertEqual({first_by_lot("2026-1", n) for n in range(20)}, {"before", "after"})
        for wrong in ({"outcome": "better"}, {"what": ""}):
            with self.assertRaises(ValidationError):
                Loop.model_validate({"key": "l1", "what": "set"} | wrong)
        with self.assertRaises(ValidationError):
            Drive(key="d", moment="after", rater="owner", course="bump")


class Carried(unittest.TestCase):
    def test_the_card_holds_the_height_and_no_limit_is_passed(self) -> None:
        """Every cell that has a pressure stands no lower than wanted; more payload never asks for less air; over a limit there is no pressure."""
        one = with_proving()
        model = build_model(one)
        assert one.fitting is not None
        found = job_card(model, one.fitting)
        self.assertTrue(can_have(one.fitting))
        for row in found.cells:
            for cell in row:
                self.assertFalse(cell.over and cell.pressure)
        column = [max(row[0].pressure) for row in found.cells if row[0].pressure]
        self.assertEqual(column, sorted(column))
        self.assertTrue(all(abs(p / 10_000.0 - round(p / 10_000.0)) < 1e-9 or p == AIR.own["p_max_pa"] for p in column))
        self.assertEqual(found.payloads[0], 0.0)
        closed = one.model_copy(update={"vehicle": one.vehicle.model_copy(update={"hitch_overhang_m": None})})
        self.assertEqual(
            tuple(job_card(build_model(closed), one.fitting).tongues), (0.0,), "without a hitch no tongue load"
        )
        vehicle = one.vehicle.model_copy(update={"gross_kg": None})
        unplated = job_card(build_model(one.model_copy(update={"vehicle": vehicle})), one.fitting)
        assert vehicle.rear_axle_kg is not None
        self.assertLessEqual(
            unplated.payloads[-1], 2.0 * vehicle.rear_axle_kg - (one.states[0].front_kg + one.states[0].rear_kg) + 1e-6
        )

    def test_what_fails(self) -> None:
        """A bag gone on one side leans that way and never stands higher; both gone come down alike; a leaf broken is told once the leaves are counted."""
        one = with_proving()
        model = build_model(one)
        assert one.fitting is not None
        left, right, both = failures(model, one.fitting)
        for state_l, state_r, state_b in zip(left.states, right.states, both.states, strict=True):
            self.assertGreater(state_l.lean, state_r.lean)
            self.assertGreaterEqual(state_b.drop, -1e-9)
            self.assertLess(abs(state_b.lean), abs(state_l.lean) + 1e-3)
        counted = one.model_copy(update={"vehicle": one.vehicle.model_copy(update={"sizes": {"rear_leaves": 5.0}})})
        found = failures(build_model(counted), one.fitting)
        self.assertEqual([f.what for f in found[3:]], ["A leaf breaks, left", "A leaf breaks, right"])
        self.assertTrue(all(f.said is not None or f.problem for f in found))


class WhySet(unittest.TestCase):
    def test_the_reasons_are_true(self) -> None:
        """Both ends of the range keep the height and a step beyond them does not; a step more raises by what it says; the side that is set higher is the
        one the load presses; a kit that holds no air has no range."""
        one = with_proving()
        model = build_model(one)
        assert one.fitting is not None
        key = target_state(model)
        target = target_drop(model, key)
        said = {s.in_units("metric").split(" ")[0]: s for s in set_reasons(model, one.fitting, key, target)}

        def miss(pressure: float) -> float:
            tried = one.fitting.model_copy(update={"setting": {"pressure_pa": (pressure, pressure)}})  # type: ignore[union-attr]
            return abs(float(model.solve(fitted_vehicle(model, tried))[key].d_r) - target.drop)

        low, high = (said["From"].values[end].value for end in ("low", "high"))
        self.assertTrue(miss(low) <= MET and miss(high) <= MET)
        if low > AIR.own["p_min_pa"] + 5000.0:
            self.assertGreater(miss(low - 5000.0), MET)
        if high < AIR.own["p_max_pa"] - 5000.0:
            self.assertGreater(miss(high + 5000.0), MET)
        self.assertGreater(said["One"].values["lifts"].value, 0.0)
        self.assertIn("can pinch", said["Not"].in_units("metric"))
        leaf = Fitting(kit=LEAF, setting={"hole_count": (2.0, 2.0)}, state="loaded")
        self.assertEqual([s.in_units("metric").split(" ")[0] for s in set_reasons(model, leaf, key, target)], ["One"])

    def test_a_loop_converges(self) -> None:
        """Simulated vehicles set by the model, read, and set again are at the height wanted within three changes."""
        for known, least in ((True, 11), (False, 9)):
            found = loop_trials(np.random.default_rng(1), 12, known=known)
            self.assertGreaterEqual(sum(t.changes is not None for t in found), least)
