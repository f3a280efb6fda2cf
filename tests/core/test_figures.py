"""Room by room, each figure of a room's table: just short of it nothing is said, just past it the word is, and of the right side."""

from __future__ import annotations

import unittest
from collections.abc import Iterable
from dataclasses import replace
from datetime import UTC, datetime
from math import atan, degrees, hypot, radians, tan

from tests.core.samples import AIR, INSERT, reading
from tests.core.samples import job as sample
from tests.core.test_bench_answers import answered
from tests.told import held_against
from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Finding, Say
from vantok_core.base.units import SHOWN, parse
from vantok_core.facts import Aligned, Fitting, Job, JobState, TreadRead
from vantok_core.facts.load import Condition
from vantok_core.facts.proving import RoadLog
from vantok_core.facts.reading import PhoneLevel
from vantok_core.judge.benches import thresholds as bench
from vantok_core.judge.choose import thresholds as chosen
from vantok_core.judge.choose.deciding import deciding
from vantok_core.judge.diagnose import thresholds as diagnosed
from vantok_core.judge.diagnose.alignment import alignment
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.judge.diagnose.springs import spring_findings
from vantok_core.judge.diagnose.stance import stop_findings
from vantok_core.judge.diagnose.tail import Tail, tail_findings
from vantok_core.judge.figures import tables
from vantok_core.judge.grounds.thresholds import LEVEL_WORTH
from vantok_core.judge.grounds.towed import Towed
from vantok_core.judge.measure import thresholds as measured
from vantok_core.judge.measure.by_phone import levelled, levels_told
from vantok_core.judge.measure.catches import catches
from vantok_core.judge.measure.checks import check_reading
from vantok_core.judge.measure.conditions import condition_findings
from vantok_core.judge.prove.proof import Strength
from vantok_core.judge.prove.road_logs import alike
from vantok_core.judge.prove.thresholds import SAME_SPEED, STRENGTH_TOLD
from vantok_core.judge.visits.thresholds import LOAD_WORTH, SETTLING
from vantok_core.judge.visits.two_jobs import side_by_side
from vantok_core.judge.visits.vehicle_history import PastHeight, axle_means, settling
from vantok_core.judge.weigh import thresholds as weighed
from vantok_core.judge.weigh.coach import coach_sheet
from vantok_core.judge.weigh.loads import check_loads, own_limit_unknown
from vantok_core.judge.weigh.tyre_loads import tyre_sheet, worn
from vantok_core.kits.chances import Chance, Chances
from vantok_core.kits.choose import shortlist
from vantok_core.loads.plan import state_load
from vantok_core.model import build_model, reading_own_sigma

PLACES = ("FL", "FR", "RL", "RR")
BIT = 1e-3
"""By how much of itself a figure is passed, or fallen short of."""


def around(figure: float) -> tuple[tuple[float, bool], tuple[float, bool]]:
    """Return a figure just short of a threshold and just past it, each with whether it is past."""
    return (figure * (1.0 - BIT), False), (figure * (1.0 + BIT), True)


def keys(found: Iterable[Finding]) -> set[str]:
    """Return what speaks."""
    return {one.key for one in found}


def text(*said: Say) -> str:
    """Return sentences as a metric reader has them."""
    return " ".join(one.in_units("metric") for one in said)


def of_bench(key: str, **told: object) -> tuple[str, str]:
    """Return what a bench says of its first figures with some changed, and its gravest tone."""
    found = answered(key, **told)
    return text(*found.said), found.tone


class Told(unittest.TestCase):
    def test_every_figure_reads_back_as_what_it_is(self) -> None:
        """As the handbook shows it, in either of the trade's systems, no figure is rounded by more than a tenth of itself, none to nought."""
        for table in tables():
            for name, one in table.figures.items():
                for told in one.words.split(" or ") if one.kind in SHOWN and one.kind != "percent" else ():
                    with self.subTest(f"{table.room}.{name}", told=told):
                        kind, per = (one.kind, 1.0) if one.kind != "degrees" else ("angle", radians(1.0))
                        self.assertAlmostEqual(
                            parse(kind, told.replace("\u00a0", " "), "metric").value / per / one, 1.0, delta=0.1
                        )

    def test_the_figures_as_somebody_last_read_them(self) -> None:
        """Every figure of every room's table, from which something is said."""
        held_against(
            self,
            "figures",
            [
                f"{table.room} {name}: {float(one):.6g} {one.kind}, {one.why}"
                for table in tables()
                for name, one in table.figures.items()
            ],
        )


class Benches(unittest.TestCase):
    def test_what_must_be_left(self) -> None:
        """A stroke, a reservoir, a tyre beside a bar, an insert's gap: enough just over its figure, said just under it."""
        for left, enough in around(bench.BESIDE):
            self.assertEqual("stand clear" in of_bench("damper", reservoir=left)[0], enough)
        for left, enough in around(bench.TYRE_TO_BAR):
            self.assertEqual("at lock" in of_bench("bar", clear=left)[0], not enough)
        for left, enough in around(bench.TOUCHING):
            said = of_bench("insert", gap=0.03 + left, longer=0.02, spacer=0.01)[0]
            self.assertEqual("as good as touching" in said, not enough)
        shortest = next(row.value for row in answered("damper", open=0.6).rows if row.words.startswith("Shortest"))
        for left, enough in around(bench.STROKE_LEFT):
            self.assertEqual("flex" in of_bench("damper", open=0.6, closed=shortest.value - left)[0], not enough, left)

    def test_what_moves_or_turns(self) -> None:
        """A beam marked twice, travel that steers: something to do from its figure on; a coach's share of a car none past its ends."""
        for moved, past in around(bench.BEAM_MOVED):
            self.assertEqual(of_bench("tyre", cut_before=0.80, cut_after=0.80 + moved)[1], "act" if past else "level")
        for gain, past in around(bench.BUMP_STEERS / 0.1):
            self.assertEqual(of_bench("stabilizer", toe_gain=gain, travel=0.1)[1], "act" if past else "level")
        for share, past in (*around(bench.MOST_FRONT), *((s, not past) for s, past in around(bench.LEAST_FRONT))):
            if past:
                self.assertRaises(InputError, answered, "yaw", front=share)
            else:
                answered("yaw", front=share)

    def test_a_rack_takes_only_what_is_listed_for_it(self) -> None:
        """On a rack a stabilizer that nobody has said is listed for one is not fitted; a listed one is, and another steering asks for no list."""
        for steering, listed, said in (
            ("rack", "no", True),
            ("rack", "yes", False),
            ("", "no", False),
            ("", "yes", False),
        ):
            self.assertEqual("it is not fitted" in of_bench("stabilizer", steering=steering, listed=listed)[0], said)

    def test_two_dampers_a_side_do_twice_as_much(self) -> None:
        """How a side is damped counts every damper of it."""
        one, two = (of_bench("valves", spring=40e3, mass=500.0, count=n)[0] for n in (1.0, 2.0))
        self.assertIn("is 0.24", one)
        self.assertIn("is 0.48", two)

    def test_a_figure_is_converted_by_its_own_unit(self) -> None:
        """It is told in both systems by the unit it was written with; one without a unit is asked for it."""
        for told, said in (("35 Nm", "26 lb·ft"), ("2.4 bar", "35 psi"), ("60 lb", "27"), ("3/8 in", "10")):
            self.assertIn(said, of_bench("thread", figure=told)[0].replace("\u00a0", " "), told)
        self.assertRaises(InputError, answered, "thread", figure="35")

    def test_damping_needs_spring_and_mass(self) -> None:
        """Of the two alone neither tells how the wheel is damped."""
        self.assertIn("damping ratio", of_bench("valves", spring=40e3, mass=500.0)[0])
        for told in ({"spring": 40e3}, {"mass": 500.0}):
            found = answered("valves", **told)
            self.assertNotIn("damping ratio", text(*found.said))
            self.assertEqual([row[-1] for chart in found.charts for row in chart.rows], [""])

    def test_what_is_too_rough_to_go_by(self) -> None:
        """A tongue told to a tenth is planned by, to more than that it is not; a tyre's index says nothing far under its own pressure."""
        band = next(
            row.value.value for row in answered("tongue", error=1.0).rows if row.words.startswith("give or take")
        )
        fine, rough = (of_bench("tongue", error=share * 160.0 / band) for share in (0.099, 0.101))
        self.assertNotIn("too wide", fine[0])
        self.assertIn("too wide", rough[0])
        most = 450e3
        full = next(load for load in range(100, 3000) if self.takes(load, most) >= bench.LOWEST_BY_INDEX * most)
        self.assertIn("any tyre is run at", of_bench("tyre", load=float(full - 1), most=most)[0])
        self.assertNotIn("any tyre is run at", of_bench("tyre", load=float(full + 1), most=most)[0])

    def test_marks_on_the_wall_and_a_window_of_ones_own(self) -> None:
        """The cut-off moved by more than is spoken of is something to do, either way; a trailer's window ends at the whole of it."""
        for moved, past in around(bench.BEAM_MOVED):
            for way in (1.0, -1.0):
                tone = of_bench("tyre", cut_before=0.6, cut_after=0.6 + way * moved)[1]
                self.assertEqual(tone == "act", past, moved)
        self.assertTrue(of_bench("tongue", trailer=1300.0, hitch="own", least=0.1, most=1.0)[0])
        with self.assertRaisesRegex(InputError, "no more than the whole trailer"):
            of_bench("tongue", trailer=1300.0, hitch="own", least=0.1, most=1.2)

    def takes(self, load: float, most: float) -> float:
        """Return the pressure an axle's load (kg) takes by index 112, two tyres."""
        return most * (load / 2.0 / 1120.0) ** 1.25


class Weighed(unittest.TestCase):
    def coach(self, **loads: object) -> set[str]:
        """Return what the coach sheet says of the sample's empty state with other loads."""
        job = sample()
        state = job.states[0].model_copy(update=loads)
        return keys(coach_sheet(job.model_copy(update={"states": (state, *job.states[1:])}), state).findings)

    def test_shares_of_the_whole(self) -> None:
        """The front axle, a side, the tag axle: each from its own share on, and not short of it."""
        for share, past in around(weighed.LIGHT_FRONT):
            self.assertEqual(
                "light-front" in self.coach(front_kg=4000.0 * share, rear_kg=4000.0 * (1.0 - share)), not past
            )
        for more, past in around(weighed.SIDE_WORTH):
            left, right = 1000.0 * (0.5 + more), 1000.0 * (0.5 - more)
            for pads in ((left, right, left, right), (right, left, right, left)):
                self.assertEqual("side" in self.coach(corners_kg=pads), past)
        for share, past in around(weighed.TAG_MOST):
            self.assertEqual("tag" in self.coach(front_kg=1500.0, rear_kg=2000.0, tag_kg=2000.0 * share), past)

    def test_a_short_wheelbase_is_told_of_what_was_measured(self) -> None:
        """Its share of the length needs both overhangs and the wheelbase; lacking any it is to measure."""
        job = sample()
        whole = job.vehicle.model_copy(update={"front_overhang_m": 0.9, "rear_overhang_m": 1.2})
        for lacks in (None, "front_overhang_m", "rear_overhang_m"):
            vehicle = whole.model_copy(update={lacks: None}) if lacks else whole
            found = coach_sheet(job.model_copy(update={"vehicle": vehicle}), job.states[0])
            self.assertEqual((found.base_ratio is None, found.base_band == "to measure"), (bool(lacks),) * 2)
            if not lacks:
                self.assertAlmostEqual(found.base_ratio or 0.0, 3.55 / (0.9 + 3.55 + 1.2))

    def test_what_a_tyre_takes(self) -> None:
        """Sides apart get the heavier one's pressure, and a tyre well under what its load takes is told; a gauge's step under it is not."""
        for apart, past in around(weighed.SIDES_ALIKE):
            said = self.tyres((600.0 * (1.0 + apart), 600.0 * (1.0 - apart), 450.0, 450.0))
            self.assertIn("both sides get the heavier one’s" if past else "both sides alike", said["tyre-takes-front"])
        takes = 450e3 * (600.0 / 1120.0) ** 1.25
        for under, past in around(weighed.SET_UNDER):
            self.assertEqual("tyre-low-FL" in self.tyres((600.0, 600.0, 450.0, 450.0), FL=takes - under), past)

    def tyres(self, pads: tuple[float, float, float, float], **set_pa: float) -> dict[str, str]:
        """Return what is said of the sample's tyres, index 112 at 4.5 bar, with these pads (kg) and pressures (Pa)."""
        job = sample()
        tyred = {
            f"{axle}_tyre_{what}": value
            for axle in ("front", "rear")
            for what, value in (("index", 112), ("most_pa", 450e3))
        }
        state = job.states[0].model_copy(update={"corners_kg": pads, "condition": Condition(tyres_pa=set_pa)})  # type: ignore[arg-type]
        job = job.model_copy(
            update={"vehicle": job.vehicle.model_copy(update=tyred), "states": (state, *job.states[1:])}
        )
        found = tyre_sheet(job, state, None)
        assert found is not None
        return {one.key: text(one.what) for one in found.findings}

    def test_over_by_pads_and_over_by_the_model(self) -> None:
        """A tyre or a wheel over what it may carry is a limit where it was weighed, and something to weigh where only the model says so."""
        job = sample()
        rated = {"front_tyre_index": 90, "rear_tyre_index": 90, "front_wheel_kg": 550.0, "rear_wheel_kg": 400.0}
        job = job.model_copy(update={"vehicle": job.vehicle.model_copy(update=rated)})
        for pads, tone in (((610.0, 600.0, 450.0, 440.0), "limit"), (None, "act")):
            state = job.states[0].model_copy(update={"corners_kg": pads})
            told = job.model_copy(update={"states": (state, *job.states[1:])})
            found = tyre_sheet(told, state, build_model(told))
            assert found is not None
            over = {f.key: f.tone for f in found.findings if "over" in f.key}
            self.assertEqual(
                over,
                dict.fromkeys(
                    ("tyre-over-FL", "wheel-over-FL", "wheel-over-FR", "wheel-over-RL", "wheel-over-RR"), tone
                )
                | ({} if pads else {"tyre-over-FR": tone}),
                pads,
            )

    def test_the_limit_that_matters_here(self) -> None:
        """With a tongue on it the ball's, else the rear axle's: unknown it is named, also of a job that has nothing loaded yet; known it is not."""
        job = sample()
        unrated = {name: job.vehicle.model_copy(update={name: None}) for name in ("hitch_kg", "rear_axle_kg")}
        bare = job.model_copy(update={"states": job.states[:1]})
        for one, vehicle, named in (
            (job, job.vehicle, ""),
            (job, unrated["hitch_kg"], "hitch vertical load"),
            (bare, unrated["hitch_kg"], ""),
            (bare, unrated["rear_axle_kg"], "rear axle"),
        ):
            self.assertEqual(own_limit_unknown(one.model_copy(update={"vehicle": vehicle})), named)

    def test_tread(self) -> None:
        """Worn more in one place from its figure on, and of which edge; down to the depth that many rules end a tyre at."""
        for more, past in around(weighed.UNEVEN):
            for inner, middle, outer, pattern in (
                (0.006, 0.006, 0.006 - more, "outer"),
                (0.006 - more, 0.006, 0.006, "inner"),
                (0.006, 0.006 - more, 0.006, "centre"),
                (0.006 - more, 0.006, 0.006 - more, "shoulders"),
            ):
                (one,) = worn(sample(tread=(TreadRead(place="FL", inner_m=inner, middle_m=middle, outer_m=outer),)))
                self.assertEqual(one.pattern, pattern if past else "", pattern)
        for least, past in around(weighed.LEAST_TREAD):
            (one,) = worn(sample(tread=(TreadRead(place="FL", inner_m=least, middle_m=least, outer_m=least),)))
            self.assertEqual(one.tone, "level" if past else "limit")


class Pads(unittest.TestCase):
    def test_two_pads_against_their_axle(self) -> None:
        """From the share of a heavy axle on, and of a light one from the least there is."""
        for whole, most in ((2000.0, weighed.PADS_SHARE * 2000.0), (300.0, float(weighed.PADS_LEAST))):
            for off, past in around(most):
                pads = (500.0, 500.0, whole / 2.0 + off, whole / 2.0)
                state = JobState(key="loaded", name="Loaded", corners_kg=pads, rear_kg=whole)
                self.assertEqual("pads-rear" in keys(check_loads(sample(), state)), past, (whole, off))


class Diagnosed(unittest.TestCase):
    def test_an_alignment_read_at_another_load(self) -> None:
        """Where sag turns the wheels by more than a bench tells, by how much and at which angle is said; else only that it was another load."""
        for gain in (None, 60.0):
            one = sample(aligned=Aligned(state="empty", toe_fl=0.0))
            one = one.model_copy(
                update={
                    "vehicle": one.vehicle.model_copy(
                        update={"rear_spring": "coil_independent", "rear_camber_gain": gain}
                    )
                }
            )
            found = alignment(one, diagnose(build_model(one))).findings
            said = next(text(f.what) for f in found if f.key == "aligned-at")
            self.assertEqual("Sag there turns the wheels" in said, gain is not None, said)
            self.assertEqual("rear camber +" in said, gain is not None, said)

    def test_an_alignment_sheet(self) -> None:
        """Sides that differ pull from the figure on, each to its own side; a rear axle askew from twice what a bench may be off; a change from once."""
        for apart, past in around(diagnosed.PULLS):
            for name, sign, side in (("caster", 1.0, "right"), ("caster", -1.0, "left"), ("camber", 1.0, "left")):
                sheet = Aligned(**{f"{name}_fl": 1.0 + sign * apart, f"{name}_fr": 1.0})
                said = [text(f.what) for f in alignment(sample(aligned=sheet)).findings if f.key == f"pull-{name}"]
                self.assertEqual(len(said), int(past))
                self.assertTrue(not past or f"to the {side}" in said[0], said)
        for apart, past in around(2.0 * diagnosed.BENCH_OFF):
            sheet = Aligned(toe_rl=0.1 + apart, toe_rr=0.1)
            self.assertEqual("askew" in keys(alignment(sample(aligned=sheet)).findings), past)
        for change, past in around(diagnosed.BENCH_OFF):
            pair = {"aligned": Aligned(toe_fl=0.0), "aligned_after": Aligned(toe_fl=change)}
            self.assertEqual([row.told for row in alignment(sample(**pair)).rows if row.change], [past])

    def test_one_side_alone_tells_no_difference(self) -> None:
        """A side that nobody read pulls nowhere."""
        for name in ("caster_fl", "caster_fr", "camber_fl", "camber_fr", "toe_rl", "toe_rr"):
            self.assertEqual(alignment(sample(aligned=Aligned(**{name: 2.0}))).findings, ())

    def test_a_tail_that_drags(self) -> None:
        """Under the steepest ramp it is told unasked; over it only to whoever complains, and then not as something to do."""
        job = sample()
        for angle, past in around(diagnosed.STEEP):
            tail = Tail(
                state=job.states[1], point="hitch", behind=1.0, height=tan(radians(angle)), read=True, with_kit=None
            )
            self.assertEqual(keys(tail_findings(job, (tail,))), set() if past else {"tail-low"})
            asked = job.model_copy(update={"aims": {"clearance": True}})
            self.assertEqual([f.tone for f in tail_findings(asked, (tail,))], ["plain" if past else "act"])

    def test_wheels_turned_by_sag(self) -> None:
        """Camber and toe are spoken of from the figure on, with the way they turned."""
        model = build_model(sample())
        view = diagnose(model).views[-1]
        for angle, past in around(diagnosed.ANGLE_WORTH):
            for sign, way in ((1.0, "top out"), (-1.0, "top in")):
                said = {
                    f.key: text(f.what)
                    for f in spring_findings(model, replace(view, angles={"front camber": sign * angle}))
                }
                self.assertEqual("front-camber" in said, past)
                self.assertTrue(not past or way in said["front-camber"])

    def test_a_stop_that_carries(self) -> None:
        """The share on a stop is told from its figure on."""
        for share, past in around(diagnosed.STOP_CARRIES):
            (one,) = stop_findings({"rear": 0.0}, {"rear": share})
            self.assertEqual("of the axle’s load" in text(one.what), past)

    def test_plan_and_scale(self) -> None:
        """What the plan lacks at the rear against the scale is told from its figure on, either way."""
        job = sample()
        planned = job.states[1]
        base = next(iter(self.short(job, planned.model_copy(update={"front_kg": 1200.0, "rear_kg": 1400.0}))))
        for off, past in around(diagnosed.PLAN_OFF):
            for sign in (1.0, -1.0):
                state = planned.model_copy(update={"front_kg": 1200.0, "rear_kg": 1400.0 - base + sign * off})
                told = diagnose(build_model(job.model_copy(update={"states": (job.states[0], state)}))).findings
                self.assertEqual("plan" in keys(told), past, (off, sign))

    def short(self, job: Job, state: JobState) -> list[float]:
        """Return what the plan lacks at the rear, kg."""
        found = state_load(job.model_copy(update={"states": (job.states[0], state)}), state).short_rear
        assert found is not None
        return [found]


class Measured(unittest.TestCase):
    def test_angles_off_a_phone(self) -> None:
        """No vehicle stands steeper than the figure; what is left of a phone's own error is its figure."""
        for angle, past in around(measured.STANDS_AT):
            if past:
                self.assertRaises(InputError, levelled, (angle, 0.0), (0.0, 0.0))
            else:
                levelled((angle, 0.0), (0.0, 0.0))
        self.assertAlmostEqual(degrees(levelled((1.0, 0.0), (0.0, 0.0))[2]), measured.PHONE_OFF)

    def test_phone_and_tape(self) -> None:
        """They agree as long as both their bands together hold what lies between them; a corner read with a band of its own counts a quarter of its square."""
        one = sample()
        base = one.vehicle.base_m
        assert base is not None
        means = [
            sum(
                sign * one.read(state, place, "ground_arch").value_m
                for place, sign in zip(PLACES, (1, 1, -1, -1), strict=True)
            )  # type: ignore[union-attr]
            for state in ("empty", "loaded")
        ]
        tape = 0.5 * (means[0] - means[1])
        own = [reading_own_sigma(one, r) for r in one.readings if r.datum == "ground_arch" and r.place in PLACES]
        whole = NINE_IN_TEN * hypot(hypot(0.001, 0.001) * base, 0.5 * hypot(*own))
        for off, past in around(whole):
            levels = tuple(
                PhoneLevel(state=state, pitch=atan(rise / base), lean=0.0, sigma=0.001)
                for state, rise in (("empty", 0.0), ("loaded", tape + off))
            )
            said = levels_told(one.model_copy(update={"levels": levels}))[1].said
            self.assertEqual((said.tone, "differ" in text(*said.sentences)), ("act" if past else "level", past))

    def test_a_tyre_let_down_since(self) -> None:
        """A tyre's pressure that differs is told with both states by name."""
        one = sample()
        states = tuple(
            s.model_copy(update={"condition": Condition(tyres_pa={"RL": 3e5 - 5e4 * n})})
            for n, s in enumerate(one.states[:2])
        )
        found = condition_findings(one.model_copy(update={"states": states}), None)
        said = next(text(f.what) for f in found if f.key == "tyre-RL")
        self.assertIn(f"0.50 bar lower in “{states[1].name}” than in “{states[0].name}”", said.replace("\u00a0", " "))

    def test_two_datums_a_tyre_apart(self) -> None:
        """Ground and hub must lie a tyre's radius apart."""
        for radius, odd in (
            *around(measured.MOST_RADIUS),
            *((radius, not past) for radius, past in around(measured.LEAST_RADIUS)),
        ):
            job = sample()
            ground = next(r for r in job.readings if (r.state, r.place, r.datum) == ("empty", "FL", "ground_arch"))
            hub = ground.model_copy(update={"datum": "hub_arch", "value_m": ground.value_m - radius})
            found = keys(catches(job.model_copy(update={"readings": (*job.readings, hub)}), None))
            self.assertEqual("datums-empty-FL" in found, odd, radius)

    def test_an_empty_state_that_is_none(self) -> None:
        """A full tank is load, and so is nearly the whole allowed weight."""
        job = sample()
        for fill, past in around(measured.ABOARD):
            state = job.states[0].model_copy(update={"condition": Condition(water=fill)})
            self.assertEqual("empty-not" in keys(catches(self.with_empty(job, state), None)), past)
        for share, past in around(measured.NEAR_GROSS):
            state = job.states[0].model_copy(update={"front_kg": 1600.0 * share, "rear_kg": 1600.0 * share})
            self.assertEqual("empty-not" in keys(catches(self.with_empty(job, state), None)), past)

    def with_empty(self, job: Job, state: JobState) -> Job:
        """Return a job with another empty state."""
        return job.model_copy(update={"states": (state, *job.states[1:])})

    def test_a_change_said_aloud(self) -> None:
        """What was said a corner came up or down is held against its readings, to what the two tapes and a head round by."""
        job = sample()
        at = {(r.state, r.place): r for r in job.readings if r.datum == "ground_arch"}
        now, before = at["loaded", "RL"], at["empty", "RL"]
        rounds = now.resolution_m + before.resolution_m + measured.HEAD_STEP
        for off, past in around(rounds):
            told = now.model_copy(update={"told_gain_m": now.value_m - before.value_m + off})
            found = catches(
                job.model_copy(update={"readings": tuple(told if r is now else r for r in job.readings)}), None
            )
            self.assertEqual("recited-loaded-RL" in keys(found), past)

    def test_one_side_alone_gained(self) -> None:
        """Set alike on both sides and raised on one: asked about, and of the side that stayed; set half apart or more it is no riddle; and no gain at all
        is told as none."""
        job = sample()
        at = {r.place: r.value_m for r in job.readings if (r.state, r.datum) == ("loaded", "ground_arch")}
        for less, gains, told in (
            (1.0, (0.04, 0.0), {"one-side-loaded"}),
            (0.51, (0.0, 0.04), {"one-side-loaded"}),
            (0.49, (0.04, 0.0), set[str]()),
            (1.0, (0.04, 0.04), set[str]()),
            (1.0, (0.001, 0.0), {"no-gain-loaded"}),
        ):
            setting = {name: (300e3, 300e3 * less) for name in ("pressure_pa",)}
            after = [
                reading("loaded", place, at[place] + gain, phase="after")
                for place, gain in zip(("RL", "RR"), gains, strict=True)
            ]
            fitted = job.model_copy(
                update={"fitting": Fitting(kit=AIR, setting=setting), "readings": (*job.readings, *after)}
            )
            found = [f for f in catches(fitted, None) if f.key in ("one-side-loaded", "no-gain-loaded")]
            self.assertEqual(keys(found), told, (less, gains))
            if told == {"one-side-loaded"}:
                self.assertIn("rear right" if gains[1] == 0.0 else "rear left", text(found[0].do))

    def test_a_rear_that_rises_under_load(self) -> None:
        """From its figure on, and at the rear alone."""
        job = sample()
        empty = {r.place: r.value_m for r in job.readings if (r.state, r.datum) == ("empty", "ground_arch")}
        for rise, past in around(measured.ROSE):
            for place, told in (("RL", past), ("FL", False)):
                one = next(r for r in job.readings if (r.state, r.place, r.datum) == ("loaded", place, "ground_arch"))
                one = one.model_copy(update={"value_m": empty[place] + rise})
                self.assertEqual("rises" in keys(check_reading(job, one)), told, (rise, place))


class Chosen(unittest.TestCase):
    def test_enough_is_measured_from_nine_in_ten_on(self) -> None:
        """The one recommended must be so sure, and a rival is asked about from one in ten that it is the right one."""
        model = build_model(sample())
        found = shortlist(model, [AIR, INSERT])
        best = found.recommended
        other = next(
            c.key
            for c in found.choices
            if c.key not in ("nothing", best) and c.vehicle is not None and c.drop is not None
        )

        def enough(within: float, rival: float) -> bool:
            one, two = (Chance(within=w, right=r, cost=1.0) for w, r in ((within, 1.0), (0.5, rival)))
            told = deciding(model, found, Chances(by={best: one, other: two}, none=0.0))
            assert told is not None
            return told.enough

        for share, past in around(chosen.SURE):
            self.assertEqual(enough(share, 0.0), past, share)
        for share, past in around(chosen.RIVAL):
            self.assertEqual(enough(0.99, share), not past, share)
        gone = AIR.model_copy(update={"code": "A-9", "springs": ("torsion_bar_independent",)})
        found = shortlist(model, [AIR, INSERT, gone])
        self.assertTrue(found.choice("A-9").out)  # type: ignore[union-attr]
        sure, half = Chance(within=0.99, right=1.0, cost=1.0), Chance(within=0.5, right=0.5, cost=1.0)
        told = deciding(model, found, Chances(by={best: sure, "A-9": half}, none=0.0))
        self.assertTrue(told is not None and told.enough, "what does not fit is no rival")


class Others(unittest.TestCase):
    def test_a_kits_strength_read(self) -> None:
        """Heights tell something of it where they leave clearly less than was known before."""
        for left, past in around(STRENGTH_TOLD * 0.5):
            self.assertEqual(Strength(q=1.0, sigma_ln=left, prior=0.5).told, not past)

    def test_a_trailer_off_level(self) -> None:
        """Surely off from the figure on, with its band; within half a degree below it; between them it cannot be told."""
        state, lever = sample().states[1], 4.0
        for off, past in around(LEVEL_WORTH * lever):
            for sign in (1.0, -1.0):
                one = Towed(state=state, ball=0.5, above=sign * off, lever=lever, band=0.0, read=True)
                self.assertEqual((one.off_level, "within half a degree:" in one.near), (past, not past))
                rough = replace(one, band=0.02)
                self.assertEqual((rough.off_level, "cannot be told" in rough.near), (False, True))

    def test_roads_at_one_speed(self) -> None:
        """Two logs are one road up to the figure apart, and none of another course or load."""
        log = RoadLog(
            key="a",
            moment="before",
            course="motorway",
            speed_kmh=80.0,
            rate=100.0,
            seconds=30.0,
            pieces=(0.5,),
            peak=2.0,
            jolts=0,
        )
        for more, past in around(SAME_SPEED):
            other = log.model_copy(update={"speed_kmh": 80.0 * (1.0 + more)})
            self.assertEqual(alike(log, other), not past)
            self.assertEqual(alike(other, log), not past)
        self.assertFalse(alike(log, log.model_copy(update={"state": "loaded"})))
        self.assertFalse(alike(log, log.model_copy(update={"course": "town"})))

    def test_a_height_that_fell_between_visits(self) -> None:
        """From its figure on, against the highest before; a rise is none."""
        for fall, past in (*around(SETTLING), (-0.03, False)):
            told = [
                PastHeight(
                    job=f"J-{n}",
                    at=datetime(2026, 5, n, tzinfo=UTC),
                    state="Empty",
                    empty=True,
                    phase="before",
                    datum="ground_arch",
                    place=p,
                    value_m=v,
                )
                for n, v in ((1, 0.95), (2, 0.95 - fall))
                for p in ("RL", "RR")
            ]
            self.assertEqual(keys(settling(told)), {"settling-rear"} if past else set())

    def test_an_axle_is_read_when_its_second_side_is(self) -> None:
        """Its mean is of the day the later side was read; one side alone is no mean."""
        told = [
            PastHeight(
                job="J-1",
                at=datetime(2026, 5, day, tzinfo=UTC),
                state="Empty",
                empty=True,
                phase="before",
                datum="ground_arch",
                place=p,
                value_m=v,
            )
            for day, p, v in ((4, "RL", 0.94), (6, "RR", 0.96))
        ]
        self.assertEqual(axle_means(told, "rear", "ground_arch"), [(told[1].at, "J-1", 0.95)])
        self.assertEqual(axle_means(told[:1], "rear", "ground_arch"), [])

    def test_two_jobs_heights(self) -> None:
        """Side by side each state has the heights that were read in it, and no others."""
        one = sample()
        other = one.model_copy(update={"readings": tuple(r for r in one.readings if r.state == "empty")})
        rows = [p for s in side_by_side(one, other) for p in s.rows if "ground to arch" in p.words]
        read = {
            state: len({(r.datum, r.place) for r in one.readings if r.state == state}) for state in ("empty", "loaded")
        }
        told = {name: [p for p in rows if p.words.startswith(name)] for name in ("Empty", one.states[1].name)}
        self.assertTrue(all(p.left is not None for p in rows))
        self.assertTrue(all(p.right is not None for p in told["Empty"]) and told["Empty"])
        self.assertTrue(all(p.right is None for p in told[one.states[1].name]) and told[one.states[1].name])
        self.assertLessEqual(len(told["Empty"]), read["empty"])
        neither = [p.words for s in side_by_side(other, other) for p in s.rows if "ground to arch" in p.words]
        self.assertEqual({words.startswith("Empty") for words in neither}, {True}, "what neither read has no row")

    def test_two_jobs_loads(self) -> None:
        """Axle loads differ from the figure on."""
        one = sample()
        for more, past in around(LOAD_WORTH):
            state = one.states[0].model_copy(update={"rear_kg": 890.0 + more})
            other = one.model_copy(update={"states": (state, *one.states[1:])})
            pair = next(
                p for section in side_by_side(one, other) for p in section.rows if p.words == "Empty, rear axle"
            )
            self.assertEqual(pair.differs, past)
        nobody = one.model_copy(
            update={"states": (one.states[0].model_copy(update={"front_kg": None, "rear_kg": None}), *one.states[1:])}
        )
        rows = [p for section in side_by_side(one, nobody) for p in section.rows if p.words == "Empty, rear axle"]
        self.assertEqual([(p.left is None, p.right, p.change, p.differs) for p in rows], [(False, None, None, False)])


if __name__ == "__main__":
    unittest.main()
