"""Measuring, weighing and diagnosing to the end: what pads show, what levels, what a hitch does beside kits, causes by their chance."""

from __future__ import annotations

import random
import unittest
from math import atan2, cos, degrees, exp, log2, pi, radians, sin, sqrt
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.samples import AIR, INSERT, job, reading
from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.base.say import Quantity
from vantok_core.facts import (
    Aligned,
    Complaint,
    Fitting,
    Inspected,
    Job,
    JobState,
    LoadItem,
    PhoneLevel,
    Pushed,
    Tank,
    TreadRead,
)
from vantok_core.facts.classes import SPRINGS
from vantok_core.facts.vehicle import Equipment
from vantok_core.judge.choose.two_ways import two_ways
from vantok_core.judge.diagnose.alignment import alignment
from vantok_core.judge.diagnose.assumptions import assumptions
from vantok_core.judge.diagnose.causes import information, likely_causes, table, with_own
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.judge.measure.by_phone import levelled, levels_told, pushes_told
from vantok_core.judge.measure.catches import catches
from vantok_core.judge.measure.doubts import doubts
from vantok_core.judge.visits.two_jobs import side_by_side
from vantok_core.judge.weigh.across import levelling, unlisted_said
from vantok_core.judge.weigh.back_or_up import back_or_up
from vantok_core.judge.weigh.coach import coach_sheet
from vantok_core.judge.weigh.tyre_loads import tyre_sheet, worn
from vantok_core.kits.choose import shortlist
from vantok_core.model import build_model, derived_height, expected_height
from vantok_core.model.pads import unlisted
from vantok_core.physics.vehicle import CORNERS
from vantok_core.readings.pushed import read_trace, swing_of


def of_state(one: Job, **changes: Any) -> Job:
    """Return a job with some facts of its loaded state changed."""
    states = tuple(s.model_copy(update=changes) if s.key == "loaded" else s for s in one.states)
    return one.model_copy(update={"states": states})


def on_pads(one: Job, hidden: LoadItem | None) -> Job:
    """Return a job weighed on pads empty and loaded, the loaded vehicle carrying something that its plan does not list."""
    empty = (605.0, 605.0, 445.0, 445.0)
    states = tuple(s.model_copy(update={"corners_kg": empty}) if s.empty else s for s in one.states)
    clear = tuple(reading("empty", corner, 0.12, "stop_gap") for corner in ("RL", "RR"))
    bare = one.model_copy(update={"states": states, "readings": clear})
    items = (*one.states[1].items, *((hidden,) if hidden else ()))
    report = build_model(of_state(bare, items=items)).solve()["loaded"]
    return of_state(bare, corners_kg=tuple(float(report.load[c]) / G for c in CORNERS))


class SideToSide(unittest.TestCase):
    @settings(max_examples=12, deadline=None)
    @given(st.floats(60.0, 250.0), st.floats(0.6, 4.2), st.floats(-0.7, 0.7))
    def test_pads_find_what_the_plan_does_not_list(self, kg: float, station: float, lateral: float) -> None:
        """A load planted on the vehicle, and on no plan, is found by its pads: its mass, and where it lies."""
        one = on_pads(job(), LoadItem(name="anchor", mass_kg=kg, station_m=station, lateral_m=lateral))
        found = unlisted(one, one.states[1])
        assert found is not None and found.station is not None and found.lateral is not None
        self.assertAlmostEqual(found.mass, kg, delta=1.0)
        self.assertAlmostEqual(found.station[0], station, delta=0.03)
        self.assertAlmostEqual(found.lateral[0], lateral, delta=0.03)
        self.assertLess(found.misfit, 2.0)
        self.assertEqual(unlisted_said(found).tone, "act")

    def test_what_is_listed_is_no_finding(self) -> None:
        """Pads that carry the plan say so, with their error; pads that no single load explains are told to be weighed again; no pads, no answer."""
        one = on_pads(job(), None)
        found = unlisted(one, one.states[1])
        assert found is not None
        self.assertIsNone(found.station)
        self.assertEqual(unlisted_said(found).tone, "level")
        corners = one.states[1].corners_kg
        assert corners is not None
        warped = of_state(one, corners_kg=(corners[0] + 60, corners[1] - 60, corners[2] - 60, corners[3] + 60))
        odd = unlisted(warped, warped.states[1])
        assert odd is not None
        self.assertIn(
            "No single load explains the pads", " ".join(s.in_units("metric") for s in unlisted_said(odd).sentences)
        )
        self.assertIsNone(unlisted(job(), job().states[1]))

    def test_the_move_offered_levels_it(self) -> None:
        """The thing moved across as offered leaves the lean that was told, when it is solved anew; a lean inside its band is none."""
        heights = {"FL": 0.881, "FR": 0.885, "RL": 0.880, "RR": 0.896}
        base = job()
        kept = tuple(r for r in base.readings if not (r.state == "loaded" and r.datum == "ground_arch"))
        one = base.model_copy(update={"readings": kept + tuple(reading("loaded", p, v) for p, v in heights.items())})
        model = build_model(one)
        found = levelling(model, one.states[1])
        assert found is not None
        self.assertAlmostEqual(found.lean, -0.016)
        self.assertIn("lower on the left", found.said.sentences[0].in_units("metric"))
        way = next(w for w in found.ways if w.kind == "move")
        self.assertIn("to the right", way.words.in_units("metric"))
        self.assertLess(abs(way.left), 0.016)
        alike = base.model_copy(update={"readings": kept + tuple(reading("loaded", p, 0.886) for p in heights)})
        level = levelling(build_model(alike), alike.states[1])
        assert level is not None
        self.assertEqual((level.said.tone, level.ways), ("level", ()))

    def test_a_kit_is_set_apart_within_its_limits(self) -> None:
        """With bags on, the lower side gets more and the other less, within what the kit allows, and what is left of the lean is less than it was."""
        heights = {"FL": 0.881, "FR": 0.885, "RL": 0.930, "RR": 0.950}
        base = job(fitting=Fitting(kit=AIR, setting={"pressure_pa": (3e5, 3e5)}, state="loaded"))
        one = base.model_copy(
            update={
                "readings": base.readings + tuple(reading("loaded", p, v, phase="after") for p, v in heights.items())
            }
        )
        found = levelling(build_model(one), one.states[1])
        assert found is not None
        way = next(w for w in found.ways if w.kind == "set")
        left, right = (q.value for q in way.words.values.values() if isinstance(q, Quantity))
        self.assertGreater(left, right)
        self.assertTrue(35e3 <= right < left <= 690e3)
        self.assertLess(abs(way.left), abs(found.lean))


class HitchOrKit(unittest.TestCase):
    def test_a_hitch_gives_back_what_it_says_and_a_kit_gives_nothing(self) -> None:
        """All of the front's loss given back leaves the front as heavy as without the tongue; a kit leaves the axle loads where they were."""
        one = of_state(job(), trailer_axle_m=4.0)
        model = build_model(one)
        rows = back_or_up(model, one.states[1], shortlist(model, (AIR,)).choices)
        plain, half, whole, kit = rows
        lever = 190.0 * 1.25 / 3.55
        self.assertAlmostEqual(whole.front_kg - plain.front_kg, lever, delta=1.0)
        self.assertAlmostEqual(half.front_kg - plain.front_kg, 0.5 * lever, delta=1.0)
        self.assertGreater(whole.rear, plain.rear)
        self.assertGreater(kit.rear, whole.rear)
        self.assertLess(abs(kit.front_kg - plain.front_kg), 12.0)
        self.assertTrue(plain.now)
        self.assertGreater(whole.trailer_kg, half.trailer_kg)
        self.assertIn("no load back", kit.cannot)
        self.assertEqual(back_or_up(model, one.states[0]), ())


class Causes(unittest.TestCase):
    def likely(self, one: Job, **own: Any) -> Any:
        return likely_causes(one, diagnose(build_model(one)), with_own(own) if own else None)[0]

    def test_chances_add_up_and_evidence_moves_them(self) -> None:
        """Causes and something else make one; a part at fault raises its cause, one found fine lowers it, and one nobody looked at does neither."""
        plain = job(complaints=(Complaint(code="porpoises"),))
        graded = {
            g: plain.model_copy(update={"inspection": (Inspected(area="dampers", grade=g),)})
            for g in ("fault", "fine", "wish")
        }
        chances = {}
        for name, one in {"": plain, **graded}.items():
            found = self.likely(one)
            self.assertAlmostEqual(sum(c.chance for c in found.causes) + found.other, 1.0)
            chances[name] = next(c.chance for c in found.causes if c.key == "damping")
        self.assertGreater(chances["fault"], chances[""])
        self.assertLess(chances["fine"], chances[""])
        self.assertAlmostEqual(chances["wish"], chances[""])

    def test_when_it_is_felt_counts(self) -> None:
        """Sagging felt only empty speaks for tired springs and against load; with the trailer on it is the other way round."""
        keys = {}
        for load in ("empty", "hitched"):
            one = job(
                complaints=(Complaint(code="sags", load=load),),
                states=(job().states[0], JobState(key="loaded", name="Boat on", tongue_kg=190)),
            )
            keys[load] = {c.key: c.chance for c in self.likely(one).causes}
        self.assertGreater(keys["empty"]["tired"], keys["hitched"]["tired"])
        self.assertLess(keys["empty"]["behind"], keys["hitched"]["behind"])

    def test_the_next_test_tells_most_for_its_minutes(self) -> None:
        """Tests come by bits a minute; none is offered whose answer is known; the table's own minutes move the order."""
        one = job(complaints=(Complaint(code="wanders"),))
        tests = self.likely(one).tests
        self.assertEqual([t.rate for t in tests], sorted((t.rate for t in tests), reverse=True))
        self.assertEqual(tests[0].key, "rock")
        looked = tuple(Inspected(area=a, grade="fine") for a in ("steering", "bushes", "bearings"))
        self.assertNotIn("rock", [t.key for t in self.likely(one.model_copy(update={"inspection": looked})).tests])
        self.assertNotEqual(self.likely(one, minutes={"rock": 400.0}).tests[0].key, "rock")

    @given(
        st.lists(st.floats(0.01, 1.0), min_size=1, max_size=5),
        st.floats(0.01, 1.0),
        st.floats(0.0, 1.0),
        st.floats(0.0, 1.0),
    )
    def test_information_is_never_below_nought_nor_above_what_is_open(
        self, weights: list[float], other: float, tells: float, false: float
    ) -> None:
        """A test tells at least nothing, at most all that is not known; one as likely to say yes to anything tells nothing, one that is never wrong of two
        even causes a whole bit."""
        whole = sum(weights) + other
        chances = {f"c{n}": w / whole for n, w in enumerate(weights)}
        shares = [*chances.values(), other / whole]
        bits = information(chances, other / whole, {"c0": tells}, false)
        self.assertGreaterEqual(bits, 0.0)
        self.assertLessEqual(bits, -sum(s * log2(s) for s in shares) + 1e-9)
        self.assertAlmostEqual(information(chances, other / whole, {"c0": false}, false), 0.0, places=9)
        self.assertAlmostEqual(information({"c0": 0.5}, 0.5, {"c0": 1.0}, 0.0), 1.0)

    def test_a_shop_s_own_weights(self) -> None:
        """The shop's own figure counts; one out of bounds, or for a line there is not, is refused by its name."""
        one = job(complaints=(Complaint(code="porpoises"),))
        chances = [
            next(c.chance for c in found.causes if c.key == "pitch")
            for found in (self.likely(one), self.likely(one, usual={"pitch": 50.0}))
        ]
        self.assertGreater(chances[1], chances[0] + 0.3)
        for own, name in (({"usual": {"pitch": 1e9}}, "usual.pitch"), ({"minutes": {"magic": 3.0}}, "minutes.magic")):
            with self.assertRaises(InputError) as caught:
                with_own(own)
            self.assertEqual(caught.exception.field, name)

    def test_no_bag_is_accused_where_there_is_none(self) -> None:
        """A lean on leaves alone is never a leaking bag; with bags noted on the vehicle it may be."""
        leaning = job().model_copy(update={"complaints": (Complaint(code="leans"),)})
        bags = leaning.vehicle.model_copy(update={"equipment": (Equipment(kind="bags", fitted="later"),)})
        for one, there in ((leaning, False), (leaning.model_copy(update={"vehicle": bags}), True)):
            (found,) = likely_causes(one, None)
            self.assertEqual("bag" in {c.key for c in found.causes}, there)

    def test_a_light_nose_speaks_in_the_causes(self) -> None:
        """A trailer that sways with three per cent on its nose: that leads; with a good one it falls behind what nobody looked at."""
        for tongue, leads in ((40.0, True), (150.0, False)):
            state = JobState(key="on", name="On", tongue_kg=tongue, trailer_kg=1300.0)
            told = job().model_copy(
                update={"complaints": (Complaint(code="trailer"),), "states": (state,), "readings": ()}
            )
            (found,) = likely_causes(told, None)
            self.assertEqual(found.causes[0].key == "nose_light", leads)

    def test_the_table_holds_together(self) -> None:
        """Every cause names its test, every test causes that are there."""
        told = table()
        for cause in told["causes"].values():
            self.assertIn(cause["test"], told["tests"])
        for key, test in told["tests"].items():
            self.assertLessEqual(set(test["tells"]), set(told["causes"]), key)
            self.assertTrue(all(test["false"] < share <= 1.0 for share in test["tells"].values()), key)


class OnFourTyres(unittest.TestCase):
    def tyred(self, **vehicle: Any) -> Job:
        base = job()
        told = {
            "front_tyre_index": 110,
            "rear_tyre_index": 110,
            "front_tyre_most_pa": 4.5e5,
            "rear_tyre_most_pa": 4.5e5,
        } | vehicle
        return base.model_copy(update={"vehicle": base.vehicle.model_copy(update=told)})

    def test_true_loads_left_and_right(self) -> None:
        """Pads rule over the model; the heavier side sets the axle's pressure; one over its index is a limit, and gets no pressure."""
        one = of_state(self.tyred(), corners_kg=(560.0, 600.0, 700.0, 1100.0))
        sheet = tyre_sheet(one, one.states[1], build_model(one))
        assert sheet is not None
        self.assertEqual([t.load for t in sheet.tyres], [560.0, 600.0, 700.0, 1100.0])
        self.assertEqual((sheet.findings[0].key, sheet.findings[0].tone), ("tyre-over-RR", "limit"))
        self.assertIsNone(sheet.tyres[3].takes)
        rated = one.model_copy(update={"vehicle": one.vehicle.model_copy(update={"rear_wheel_kg": 900.0})})
        wheel = tyre_sheet(rated, rated.states[1], None)
        assert wheel is not None
        self.assertEqual(
            [(f.key, f.tone) for f in wheel.findings if f.key.startswith("wheel")], [("wheel-over-RR", "limit")]
        )
        front = next(f for f in sheet.findings if f.key == "tyre-takes-front")
        self.assertAlmostEqual(front.what.values["p"].value, 4.5e5 * (600.0 / 1060.0) ** 1.25, delta=100.0)

    def test_by_the_model_it_is_told_so(self) -> None:
        """Without pads the model tells, and is said to; an unknown index or pressure leaves the pressure unknown, with why."""
        one = self.tyred(rear_tyre_most_pa=None)
        sheet = tyre_sheet(one, one.states[1], build_model(one))
        assert sheet is not None
        self.assertFalse(any(t.read for t in sheet.tyres))
        self.assertIsNone(sheet.tyres[2].takes)
        self.assertIn("greatest pressure", sheet.tyres[2].why_not)
        self.assertIsNone(tyre_sheet(one, one.states[1], None))

    def test_tread_tells_only_beyond_the_gauge(self) -> None:
        """Each pattern by three depths; a difference within the gauge is none; one worn down is a limit."""
        for depths, pattern, tone in (
            ((0.0060, 0.0061, 0.0058), "", "level"),
            ((0.0035, 0.0055, 0.0062), "inner", "act"),
            ((0.0062, 0.0055, 0.0035), "outer", "act"),
            ((0.0060, 0.0040, 0.0062), "centre", "act"),
            ((0.0040, 0.0062, 0.0043), "shoulders", "act"),
            ((0.0015, 0.0016, 0.0016), "", "limit"),
        ):
            read = TreadRead(place="FL", inner_m=depths[0], middle_m=depths[1], outer_m=depths[2])
            found = worn(job(tread=(read,)))[0]
            self.assertEqual((found.pattern, found.tone), (pattern, tone), depths)

    def test_an_alignment_before_and_after(self) -> None:
        """A change within the bench's error is none; less caster, or a top leant further out, pulls to its side; what was not read is not told."""
        before = Aligned(camber_fl=0.8, camber_fr=0.1, caster_fl=3.2, caster_fr=2.4, toe_fl=0.1)
        after = before.model_copy(update={"camber_fl": 0.2, "toe_fl": 0.05, "toe_fr": 0.1})
        sheet = alignment(job(aligned=before, aligned_after=after))
        rows = {r.key: r for r in sheet.rows}
        self.assertTrue(rows["camber_fl"].told)
        self.assertFalse(rows["toe_fl"].told)
        self.assertIsNone(rows["toe_fr"].change)
        self.assertEqual([f.key for f in sheet.findings], ["pull-caster"])
        self.assertIn("to the right", sheet.findings[0].what.in_units("metric"))
        first = alignment(job(aligned=before))
        self.assertIn("to the left", next(f for f in first.findings if f.key == "pull-camber").what.in_units("metric"))


class CoachTargets(unittest.TestCase):
    def test_what_would_bring_the_front_its_share(self) -> None:
        """What a way is said to bring is what the axle gains when it is done; a front that has its share lacks nothing."""
        base = of_state(
            job(),
            items=(LoadItem(name="crate", mass_kg=400.0, station_m=4.6),),
            tongue_kg=None,
            trailer_kg=None,
            tanks=(Tank(name="waste", capacity_l=150.0, fill=1.0, station_m=4.5),),
        )
        light = base.model_copy(
            update={
                "vehicle": base.vehicle.model_copy(update={"front_overhang_m": 0.9, "rear_overhang_m": 2.8}),
                "states": (base.states[0].model_copy(update={"front_kg": 700.0, "rear_kg": 1400.0}), base.states[1]),
            }
        )
        sheet = coach_sheet(light, light.states[1])
        assert sheet.target is not None and sheet.front_share is not None
        ways = {w.words.in_units("metric").split(" ")[0]: w.brings for w in sheet.target.ways}
        self.assertGreater(sheet.target.lacks, 0.0)
        emptied = of_state(light, tanks=(light.states[1].tanks[0].model_copy(update={"fill": 0.0}),))
        before, after = (coach_sheet(one, one.states[1]) for one in (light, emptied))
        ahead = of_state(light, tanks=(Tank(name="fresh", capacity_l=80.0, fill=1.0, station_m=1.0),))
        for one in (after, coach_sheet(ahead, ahead.states[1])):  # nothing to empty, and nothing to fill
            assert one.target is not None
            self.assertNotRegex(" ".join(w.words.in_units("metric") for w in one.target.ways), "emptied|filled")
        gained = [(s.front_share or 0.0) * t for s, t in ((before, 2100.0 + 550.0), (after, 2100.0 + 400.0))]
        self.assertAlmostEqual(gained[1] - gained[0], ways["waste"], delta=0.5)
        self.assertEqual(sheet.base_band, "watch" if sheet.base_ratio and sheet.base_ratio >= 0.5 else "restless")
        self.assertAlmostEqual(sheet.base_ratio or 0.0, 3.55 / (3.55 + 0.9 + 2.8))
        heavy = coach_sheet(job(), job().states[1])
        assert heavy.target is not None
        self.assertEqual((heavy.target.lacks, heavy.target.ways), (0.0, ()))


class MoreDatums(unittest.TestCase):
    def on(self, datum: str, shift: dict[str, float], base: Job | None = None) -> Job:
        """Return a job whose arch heights were read on another datum, each by a fixed way less."""
        one = base or job()
        readings = tuple(
            r.model_copy(update={"datum": datum, "value_m": r.value_m - shift[r.place[0]]})
            if r.datum == "ground_arch"
            else r
            for r in one.readings
        )
        return one.model_copy(update={"readings": readings})

    def test_rim_edges_teach_what_hubs_teach(self) -> None:
        """The same changes read from the rim's edge give the same rates and drops as from the hub's middle: a fixed way apart is no difference."""
        hub, rim = self.on("hub_arch", {"F": 0.36, "R": 0.36}), self.on("rim_arch", {"F": 0.56, "R": 0.56})
        models = [build_model(one) for one in (hub, rim)]
        for axle in ("front", "rear"):
            self.assertAlmostEqual(models[0].estimate.k[axle], models[1].estimate.k[axle], delta=1.0)
        rear = [m.solve()["loaded"].hub_drop["RL"] for m in models]
        self.assertAlmostEqual(float(rear[0]), float(rear[1]), places=6)

    def test_windings_and_plates_tell_the_hub(self) -> None:
        """What the model expects between the windings, or between the plates, read there, gives the arch height it expects: the conversion closes."""
        base = job()
        v = base.vehicle.model_copy(update={"sizes": {"rear_coils": 6.0}})
        first = base.model_copy(
            update={
                "vehicle": v,
                "readings": tuple(
                    r
                    for r in base.readings
                    if r.datum == "ground_arch" and not (r.state == "loaded" and r.place[0] == "R")
                )
                + tuple(reading("empty", p, 0.030, "coil_gap") for p in ("RL", "RR")),
            }
        )
        model = build_model(first)
        for datum, empty in (("coil_gap", 0.030), ("access_hole", 0.30)):
            kept = tuple(r for r in first.readings if r.datum == "ground_arch")
            at_empty = tuple(reading("empty", p, empty, datum) for p in ("RL", "RR"))
            asked = build_model(first.model_copy(update={"readings": kept + at_empty}))
            gaps = {p: expected_height(asked, "loaded", datum, p) for p in ("RL", "RR")}
            self.assertTrue(all(gaps.values()), datum)
            now = tuple(reading("loaded", p, g.value, datum) for p, g in gaps.items() if g)
            told = build_model(first.model_copy(update={"readings": kept + at_empty + now}))
            for p in ("RL", "RR"):
                wanted = expected_height(model, "loaded", "ground_arch", p)
                assert wanted is not None
                self.assertAlmostEqual(
                    derived_height(told, "loaded", "ground_arch", p) or 0.0, wanted.value, delta=0.0005
                )

    def test_a_height_without_a_side_counts_for_less(self) -> None:
        """It teaches the same rate with a wider band; each side predicted off it is wider too; a place no datum has is refused."""
        base = job()
        mean = {("empty", "rear"): 0.947, ("loaded", "rear"): 0.888}
        kept = tuple(r for r in base.readings if r.datum != "ground_arch" or r.place[0] == "F")
        one = base.model_copy(update={"readings": kept + tuple(reading(s, p, v) for (s, p), v in mean.items())})
        sided, whole = build_model(base), build_model(one)
        self.assertAlmostEqual(sided.estimate.k["rear"] / whole.estimate.k["rear"], 1.0, delta=0.2)
        self.assertGreater(whole.estimate.sigma_ln["rear"], sided.estimate.sigma_ln["rear"])
        corner = [m.heights("loaded", "ground_arch")["RL"].sigma for m in (sided, whole)]
        self.assertGreater(corner[1], corner[0] + 0.002)
        with self.assertRaises(ValueError):
            Job(states=base.states, readings=(reading("empty", "rear", 0.07, "stop_gap"),))


def swinging(
    frequency: float, damping: float, noise: float = 0.0, seconds: float = 5.0
) -> tuple[list[float], list[float]]:
    """Return a body's trace after it was let go, with noise of a sigma, sampled a hundred times a second."""
    rng, w = random.Random(7), 2 * pi * frequency
    times = [n / 100 for n in range(int(100 * seconds))]
    damped, lag = w * sqrt(1 - damping**2), damping / sqrt(1 - damping**2)
    body = [exp(-damping * w * t) * (cos(damped * t) + lag * sin(damped * t)) for t in times]
    return times, [9.81 + 2.0 * x + rng.gauss(0.0, noise) for x in body]


class ByPhone(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.floats(0.9, 2.6), st.floats(0.05, 0.35))
    def test_a_swing_is_found_again(self, frequency: float, damping: float) -> None:
        """What swings at a frequency with a damping is read to do so, within its own sigma and a sample."""
        found = swing_of(*swinging(frequency, damping))
        self.assertAlmostEqual(found.frequency / frequency, 1.0, delta=0.05)
        self.assertAlmostEqual(found.damping, damping, delta=0.03 + 0.08 * damping)

    def test_noise_widens_and_nothing_is_made_of_nothing(self) -> None:
        """Noise leaves the answer near and its band wider; a flat line, times that fall back and a file of words are refused in words."""
        quiet, noisy = swing_of(*swinging(1.6, 0.15)), swing_of(*swinging(1.6, 0.15, noise=0.05))
        self.assertAlmostEqual(noisy.damping, 0.15, delta=0.05)
        self.assertGreaterEqual(noisy.damping_sigma, quiet.damping_sigma)
        times, values = swinging(1.6, 0.15)
        for trace, said in (
            ((times, [1.0] * len(times)), "no two peaks stand"),
            ((times[::-1], values), "later than the one before"),
            (([0.0, 1.0], [1.0, 2.0]), "20 to"),
        ):
            with self.assertRaisesRegex(InputError, said):
                swing_of(*trace)
        self.assertEqual(read_trace("t;a\n0;1\n0.1;2"), ([0.0, 0.1], [1.0, 2.0]))
        with self.assertRaisesRegex(InputError, "line 3"):
            read_trace("t,a\n0,1\nnever")

    @given(st.floats(-8.0, 8.0), st.floats(-8.0, 8.0), st.floats(-3.0, 3.0), st.floats(-3.0, 3.0))
    def test_a_phone_turned_round_loses_its_own_error(
        self, pitch: float, lean: float, own_pitch: float, own_lean: float
    ) -> None:
        """Whatever the phone is off by, what is left is the body's own angle."""
        found = levelled((pitch + own_pitch, lean + own_lean), (own_pitch - pitch, own_lean - lean))
        self.assertAlmostEqual(degrees(found[0]), pitch, places=6)
        self.assertAlmostEqual(degrees(found[1]), lean, places=6)

    def test_beside_the_tape_and_the_model(self) -> None:
        """A phone that agrees with the tape says so, one that does not asks for both again; a body hardly damped is told, one the test cannot tell is not."""
        base = job()
        change = ((0.948 + 0.946) - (0.886 + 0.890) - (0.872 + 0.870) + (0.881 + 0.885)) / 2.0
        for off, tone in ((0.0, "level"), (0.03, "act")):
            levels = tuple(
                PhoneLevel(state=s, pitch=atan2(p, 3.55), lean=0.0, sigma=radians(0.15))
                for s, p in (("empty", 0.0), ("loaded", -change + off))
            )
            told = levels_told(base.model_copy(update={"levels": levels}))
            self.assertEqual(told[1].said.tone, tone)
            by_tape = told[1].said.sentences[0].values["t"]
            self.assertTrue(isinstance(by_tape, Quantity) and abs(abs(by_tape.value) - abs(change)) < 1e-9)
        model = build_model(base)
        for damping, sigma, words in (
            (0.08, 0.01, "hardly damped"),
            (0.16, 0.03, "the test cannot tell"),
            (0.25, 0.02, "as usual"),
        ):
            push = Pushed(
                state="loaded", axle="rear", frequency=1.6, frequency_sigma=0.05, damping=damping, damping_sigma=sigma
            )
            said = pushes_told(base.model_copy(update={"pushes": (push,)}), model)[0].said.in_units("metric")
            self.assertIn(words, said)
        view = diagnose(model).view("loaded")
        assert view is not None
        as_told = view.frequency["rear"]
        for frequency, state, apart in ((as_told, "loaded", False), (4.0, "nowhere", False), (4.0, "loaded", True)):
            push = Pushed(
                state=state, axle="rear", frequency=frequency, frequency_sigma=0.05, damping=0.2, damping_sigma=0.02
            )
            said = pushes_told(base.model_copy(update={"pushes": (push,)}), model)[0].said.in_units("metric")
            self.assertEqual("The model has" in said, apart, said)
        odd = Pushed(state="loaded", axle="rear", frequency=4.0, frequency_sigma=0.05, damping=0.2, damping_sigma=0.02)
        self.assertIn(
            "The model has", pushes_told(base.model_copy(update={"pushes": (odd,)}), model)[0].said.in_units("metric")
        )


class SaidAndTaken(unittest.TestCase):
    def test_a_row_copied_twice_is_told_twice(self) -> None:
        """Each copy against the first that reads so, not against every other."""
        base = job()
        copies = [base.states[1].model_copy(update={"key": key, "name": key.upper()}) for key in ("second", "third")]
        rows = [r.model_copy(update={"state": s.key}) for s in copies for r in base.readings if r.state == "loaded"]
        three = base.model_copy(update={"states": (*base.states, *copies), "readings": (*base.readings, *rows)})
        told = [f.what.in_units("metric") for f in doubts(three) if f.key.startswith("copied")]
        first = base.states[1].name
        self.assertEqual(told, [f"“{name}” reads at every corner as “{first}” does." for name in ("SECOND", "THIRD")])

    def test_a_recited_gain_and_an_empty_that_is_none(self) -> None:
        """A gain said is held against its readings within the tape's steps; an empty vehicle at nearly its whole allowed weight is asked about."""
        base = job()
        told = tuple(
            r.model_copy(update={"told_gain_m": -0.040}) if (r.state, r.place) == ("loaded", "RL") else r
            for r in base.readings
        )
        found = [f for f in catches(base.model_copy(update={"readings": told}), None) if f.key.startswith("recited")]
        self.assertIn("by its readings it is down by 62", found[0].what.in_units("metric"))
        risen = tuple(r.model_copy(update={"value_m": 1.0}) if r.told_gain_m is not None else r for r in told)
        up = [f for f in catches(base.model_copy(update={"readings": risen}), None) if f.key.startswith("recited")]
        self.assertIn("said to have come down by 40", up[0].what.in_units("metric"))
        self.assertIn("by its readings it is up by", up[0].what.in_units("metric"))
        near = tuple(
            r.model_copy(update={"told_gain_m": -0.061}) if (r.state, r.place) == ("loaded", "RL") else r
            for r in base.readings
        )
        self.assertEqual(
            [f for f in catches(base.model_copy(update={"readings": near}), None) if f.key.startswith("recited")], []
        )
        loaded = next(r for r in base.readings if (r.state, r.phase, r.place) == ("loaded", "before", "RL"))
        for gain, asked in ((0.030, 0), (0.050, 1)):  # with the kit on: against the same load before it
            raised = loaded.model_copy(
                update={"phase": "after", "value_m": loaded.value_m + 0.030, "told_gain_m": gain}
            )
            after = catches(base.model_copy(update={"readings": (*base.readings, raised)}), None)
            self.assertEqual(len([f for f in after if f.key.startswith("recited")]), asked, gain)
        heavy = base.model_copy(
            update={"states": (base.states[0].model_copy(update={"rear_kg": 1850.0}), base.states[1])}
        )
        self.assertIn("empty-not", [f.key for f in catches(heavy, None)])
        self.assertNotIn("empty-not", [f.key for f in catches(base, None)])

    def test_a_datum_that_cannot_be_the_other(self) -> None:
        """Hub to arch read as ground to arch, or the columns swapped: no tyre's radius lies between them, and it is asked; a usual one is not."""
        base = job()
        for hub, asked in ((0.55, False), (0.87, True), (0.20, True)):
            one = base.model_copy(update={"readings": (*base.readings, reading("empty", "RL", hub, "hub_arch"))})
            self.assertEqual(any(f.key == "datums-empty-RL" for f in catches(one, None)), asked, hub)

    def test_our_own_figure_replaces_the_class_s(self) -> None:
        """It stands in the model and among the assumptions as entered, moving the rear by less; one that no vehicle has is refused by its name."""
        base = job()
        own = base.model_copy(
            update={
                "vehicle": base.vehicle.model_copy(update={"own": {"tyre-rear": 3e5}}),
                "sources": {"tyre-rear": "its maker"},
            }
        )
        rows = {one.key: one for one in assumptions(build_model(own))}
        self.assertEqual(
            (rows["tyre-rear"].value.value, rows["tyre-rear"].own, rows["tyre-rear"].source), (3e5, True, "its maker")
        )
        usual = {one.key: one for one in assumptions(build_model(base))}["tyre-rear"]
        self.assertLess(rows["tyre-rear"].worth, usual.worth)
        with self.assertRaisesRegex(ValueError, "own.tyre-rear"):
            base.vehicle.model_validate({"own": {"tyre-rear": 1.0}})

    def test_what_can_be_read_two_ways(self) -> None:
        """A bag's least and most are asked about, the strict way taken meanwhile; an answer that is none of the ways counts as none."""
        one = job(
            fitting=Fitting(kit=AIR, setting={"pressure_pa": (3e5, 3e5)}, state="loaded"),
            meant={"least-pressure_pa": "empty", "most-pressure_pa": "x"},
        )
        told = {t.key: t for t in two_ways(one)}
        self.assertEqual((told["least-pressure_pa"].taken, told["most-pressure_pa"].meant), ("only unladen", ""))
        self.assertEqual(told["most-pressure_pa"].taken, "cold, before driving")

    def test_two_jobs_side_by_side(self) -> None:
        """Empty stands beside empty whatever it is called; a height within both tapes' band is no difference, one beyond is; unknown on a side is no nought."""
        one = job()
        moved = tuple(
            r.model_copy(update={"value_m": r.value_m + (0.030 if r.place == "RL" else 0.001)})
            if r.state == "loaded" and r.datum == "ground_arch"
            else r
            for r in one.readings
            if (r.state, r.place) != ("loaded", "FR")
        )
        other = one.model_copy(
            update={"readings": moved, "states": (one.states[0].model_copy(update={"name": "Bare"}), one.states[1])}
        )
        heights = {row.words: row for s in side_by_side(one, other) if s.words == "Heights" for row in s.rows}
        self.assertTrue(heights["Boat on, ground to arch, rear left"].differs)
        self.assertFalse(heights["Boat on, ground to arch, rear right"].differs)
        gone = heights["Boat on, ground to arch, front right"]
        self.assertEqual((gone.right, gone.change, gone.differs), (None, None, False))
        self.assertIn("Empty, ground to arch, front left", heights)
        longer = one.vehicle.model_copy(update={"wheelbase_m": 3.75, "front_axle_kg": None, "axle_ratio": None})
        facts = side_by_side(one, one.model_copy(update={"vehicle": longer}))[0]
        self.assertEqual(facts.words, "The vehicle")
        bag, insert = (
            one.model_copy(update={"fitting": Fitting(kit=kit, setting=setting, state="loaded")})
            for kit, setting in (
                (AIR, {"pressure_pa": (2e5, 2e5)}),
                (INSERT, {"spacer_m": (0.006, 0.006)}),
            )
        )
        rows = {row.words: row for s in side_by_side(bag, insert) if s.words == "Kits and settings" for row in s.rows}
        self.assertTrue(rows["kit 1"].differs)
        self.assertEqual(
            {(r.left is None, r.right is None, r.change) for w, r in rows.items() if w != "kit 1"},
            {(True, False, None), (False, True, None)},
        )
        told = {row.words: (row.left is None, row.right is None, row.differs) for row in facts.rows}
        self.assertEqual(told, {"wheelbase": (False, False, True), "front axle rating": (False, True, False)})
        known = {
            "rear_rate_n_per_m": 45e3,
            "dual_rear": True,
            "rear_spring": "two_stage_leaf_solid",
            "year": 2019,
            "label": "",
        }
        held = one.model_copy(update={"vehicle": one.vehicle.model_copy(update=known)})
        rows = {row.words: row for row in side_by_side(one, held)[0].rows}
        self.assertEqual(rows["rear wheel rate"].right, Quantity(45e3, "rate"))
        self.assertEqual(facts.rows[0].change, Quantity(3.75 - one.vehicle.wheelbase_m, "length", signed=True))
        self.assertEqual((rows["dual rear wheels"].left, rows["dual rear wheels"].right), ("no", "yes"))
        self.assertEqual(
            (rows["rear suspension"].right, rows["year"].right), (SPRINGS["two_stage_leaf_solid"].words, "2019")
        )
