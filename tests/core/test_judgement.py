"""From a job's facts to its sentences: what a master would say of these vehicles."""

import json
import unittest
from functools import partial

from tests.core.samples import AIR, INSERT, job, reading
from vantok_core.base.errors import FileFormatError
from vantok_core.facts import Fitting, Job, JobState, LoadItem, Target
from vantok_core.files.job_file import job_schema, read_job, solve_job, write_job
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.judge.grounds.working import FORMULAS, explain
from vantok_core.judge.measure.checks import check_reading, check_sheet, expected_before
from vantok_core.judge.prove.proving import prove
from vantok_core.judge.weigh.loads import loads_verdict
from vantok_core.kits.choose import shortlist
from vantok_core.kits.families import insert
from vantok_core.model import NotReadyError, build_model, missing


def changed(base: Job, **vehicle: object) -> Job:
    return base.model_copy(update={"vehicle": base.vehicle.model_copy(update=vehicle)})


class Diagnosis(unittest.TestCase):
    def test_the_sentence(self) -> None:
        """The verdict says how low, what is urgent, and what it takes; in inches as in millimetres."""
        found = diagnose(build_model(job()))
        text = found.verdict.in_units("metric")
        self.assertIn("rear sits 59\u00a0mm low", text)
        self.assertIn("rear bump stop is", text)
        self.assertIn("N a side at the wheel", text)
        self.assertIn("2\u00a05/16\u00a0in low", found.verdict.in_units("us"))

    def test_readings_sharpen_the_rate(self) -> None:
        """The rear band is narrower than the class's, and lies round a rate that explains the sag."""
        front, rear = diagnose(build_model(job())).rates
        self.assertTrue(rear.learned)
        self.assertLess(rear.percent, 0.2)
        self.assertGreater(front.percent, rear.percent)
        without = diagnose(build_model(job(readings=()))).rates[1]
        self.assertFalse(without.learned)
        self.assertAlmostEqual(without.percent, 0.69, delta=0.02)

    def test_over_a_limit_speaks_first(self) -> None:
        """An overload is the verdict whatever the stance, and the worst one is named."""
        found = diagnose(build_model(changed(job(), rear_axle_kg=1250.0, gross_kg=2500.0)))
        self.assertEqual(found.verdict.tone, "limit")
        self.assertIn("rear axle", found.verdict.in_units("metric"))
        self.assertIn("no helper raises a rating", found.verdict.in_units("metric"))
        self.assertEqual(loads_verdict(changed(job(), rear_axle_kg=1250.0)).tone, "limit")

    def test_a_stiff_vehicle_needs_nothing(self) -> None:
        """A light load on a stiff vehicle ends in: nothing is needed."""
        light = job(
            states=(
                JobState(key="empty", name="Empty", empty=True, front_kg=1210, rear_kg=890),
                JobState(key="loaded", name="Light", items=(LoadItem(name="bag", mass_kg=60, station_m=2.8),)),
            ),
            readings=tuple(
                reading(s, p, v)
                for s, row in (("empty", (0.872, 0.948)), ("loaded", (0.870, 0.943)))
                for p, v in zip(("FL", "FR", "RL", "RR"), (row[0], row[0], row[1], row[1]), strict=True)
            ),
        )
        found = diagnose(build_model(light))
        self.assertEqual(found.verdict.tone, "level")
        self.assertEqual(shortlist(build_model(light), [AIR, INSERT]).recommended, "nothing")

    def test_unknown_blocks_and_says_what(self) -> None:
        """Without a wheelbase there is no model, and the job says so instead of guessing."""
        with self.assertRaises(NotReadyError):
            build_model(changed(job(), wheelbase_m=None))
        self.assertEqual([m.what for m in missing(changed(job(), wheelbase_m=None)) if m.hard], ["wheelbase"])

    def test_lean_shows_the_side_load(self) -> None:
        """Left and right readings that part under load put a side couple into the model, which then leans as read."""
        model = build_model(job())
        predicted = model.heights("loaded", "ground_arch")
        self.assertAlmostEqual(predicted["RR"].value - predicted["RL"].value, 0.004, delta=0.004)

    def test_every_formula_can_be_worked_through(self) -> None:
        """Each formula of the table runs on plain figures and names every input it uses."""
        for key, formula in FORMULAS.items():
            with self.subTest(key):
                working = explain(key, **{name: 0.5 if kind == "percent" else 1.5 for name, _, kind in formula.inputs})
                self.assertEqual(len(working.figures), len(formula.inputs))
                self.assertTrue(working.words and working.source)


class Checks(unittest.TestCase):
    def check(self, place: str, value: float, state: str = "loaded", **more: str) -> list[str]:
        one = reading(state, place, value, **more)
        base = expected_before(job(), one)
        held = base.model_copy(update={"readings": (*base.readings, one)})
        return [f.key for f in check_reading(held, one, partial(build_model, base))]

    def test_bad_readings_are_caught(self) -> None:
        """Out of range, wrong datum, rising under load, sides apart, outside the band: each says why."""
        self.assertEqual(self.check("RL", 0.0886), ["range"])
        self.assertEqual(self.check("RL", 0.52), ["range"])
        self.assertIn("rises", self.check("RL", 0.965))
        self.assertEqual(self.check("RL", 0.83), ["sides"])
        self.assertEqual(self.check("FL", 0.905), ["band"])
        self.assertEqual(self.check("RL", 0.886), [])

    def test_the_sheet_asks_for_the_baseline(self) -> None:
        """No empty reading, no load, mixed datums: the sheet says so."""
        base = job()
        late = base.model_copy(update={"readings": tuple(r for r in base.readings if r.state == "loaded")})
        self.assertEqual(check_sheet(late)[0].key, "baseline")
        states = (base.states[0], JobState(key="loaded", name="Full"))
        self.assertIn("no-load", [f.key for f in check_sheet(base.model_copy(update={"states": states}))])
        hub = tuple(r.model_copy(update={"datum": "hub_arch"}) if r.state == "loaded" else r for r in base.readings)
        self.assertIn("datum-mix", [f.key for f in check_sheet(base.model_copy(update={"readings": hub}))])

    def test_a_hitch_reading_off_the_plane(self) -> None:
        """A hitch that has not dropped with the body is noticed."""
        extra = (reading("empty", "hitch", 0.50, "ground_hitch"), reading("loaded", "hitch", 0.49, "ground_hitch"))
        base = job()
        found = check_sheet(base.model_copy(update={"readings": (*base.readings, *extra)}))
        self.assertEqual([f.key for f in found], ["plane"])
        self.assertIn("hitch", found[0].what.in_units("metric"))


class Choosing(unittest.TestCase):
    def test_kits_are_set_for_the_target(self) -> None:
        """The air pair is set so that the loaded rear meets the target; the insert comes as near as its window allows."""
        found = shortlist(build_model(job()), [AIR, INSERT])
        air, rubber = found.choice("A-2"), found.choice("R-1")
        assert air is not None
        assert rubber is not None
        self.assertTrue(air.meets)
        self.assertEqual({p % 5000 for p in air.setting["pressure_pa"]}, {0.0})
        bare = insert.unspaced_gap(job(), INSERT, 0.02)
        self.assertGreaterEqual(min(g - s for g, s in zip(bare, rubber.setting["spacer_m"], strict=True)), -1e-9)
        self.assertEqual(found.choices[0].kind, "nothing")
        self.assertEqual(found.choices[1].kind, "move")

    def test_a_wrong_variant_is_out_before_ordering(self) -> None:
        """A kit for a lighter vehicle or another spring is out with its reason, and nothing is predicted of it; an unmeasured check never passes."""
        found = shortlist(build_model(changed(job(), gross_kg=5200.0, rear_spring="coil_solid")), [AIR])
        choice = found.choice("A-2")
        assert choice is not None
        self.assertEqual([c.status for c in choice.checks], ["fail", "fail", "pass", "measure"])
        self.assertEqual((len(choice.out), choice.loaded, choice.miss), (2, None, None))

    def test_over_the_limit_no_kit_is_recommended(self) -> None:
        """Over the rear axle, moving load is the answer, and the smallest move that clears it is offered."""
        over = changed(job(), rear_axle_kg=1400.0)
        found = shortlist(build_model(over), [AIR])
        self.assertEqual(found.recommended, "move")
        move = found.choice("move")
        assert move is not None
        assert move.loaded is not None
        self.assertLess(float(move.loaded.axle_load("rear")), float(found.choices[0].loaded.axle_load("rear")))  # type: ignore[union-attr]

    def test_schools(self) -> None:
        """Each school aims where it says."""
        for school, drop in (("empty_height", 0.0), ("share_of_sag", 0.3)):
            model = build_model(job(target=Target(school=school, share=0.7)))
            plain = float(model.solve()["loaded"].d_r)
            self.assertAlmostEqual(shortlist(model, []).target.drop, drop * plain, delta=1e-9)
        level = build_model(job(target=Target(school="level")))
        aim = shortlist(level, []).target.drop
        front = float(level.solve()["loaded"].d_f)
        self.assertAlmostEqual(0.947 - aim, 0.871 - front, delta=1e-6)


class Proving(unittest.TestCase):
    def fitted(self, rear: float) -> Job:
        air = shortlist(build_model(job()), [AIR]).choice("A-2")
        assert air is not None
        readings = [
            reading("loaded", p, v, phase="after")
            for p, v in (("FL", 0.883), ("FR", 0.881), ("RL", rear), ("RR", rear))
        ]
        base = job(fitting=Fitting(kit=AIR, setting=air.setting, state="loaded", done=True))
        return base.model_copy(update={"readings": (*base.readings, *readings)})

    def test_inside_and_outside(self) -> None:
        """Readings as predicted prove it; readings well below give causes and a higher pressure."""
        inside = prove(build_model(self.fitted(0.929)))
        assert inside is not None
        self.assertTrue(inside.inside)
        self.assertIn("Still to read", inside.verdict.in_units("metric"))
        doubted = prove(build_model(self.fitted(0.905)))
        assert doubted is not None and doubted.suspect is not None
        self.assertFalse(doubted.inside)
        self.assertEqual((doubted.suspect.named, doubted.suspect.state), ("rear", "loaded"))
        self.assertIsNone(doubted.next, "no setting while a cause before it is open")
        one = self.fitted(0.905)
        assert one.fitting is not None
        ruled = one.fitting.model_copy(update={"ruled_out": tuple(c.cause.key for c in doubted.causes)})
        low = prove(build_model(one.model_copy(update={"fitting": ruled})))
        assert low is not None and low.next is not None
        self.assertGreater(min(low.next.setting["pressure_pa"]), max(self.fitted(0.9).fitting.setting["pressure_pa"]))  # type: ignore[union-attr]
        self.assertTrue(low.causes)


class JobFile(unittest.TestCase):
    def test_round_trip(self) -> None:
        """A job written and read again is the same job, with its kit."""
        one = job(fitting=Fitting(kit=INSERT, setting={"spacer_m": (0.012, 0.018)}))
        self.assertEqual(read_job(write_job(one)), one)

    def test_bad_files_name_the_field(self) -> None:
        """Each fault is told with its place: no JSON, no job, a newer version, a letter in a length, a negative mass."""
        good = json.loads(write_job(job()))
        cases = [("{", "line 1"), ("[]", "format"), (json.dumps(good | {"version": 99}), "version")]
        for path, value, place in (
            (("vehicle", "wheelbase_m"), "long", "job.vehicle.wheelbase_m"),
            (("states", 1, "items", 0, "mass_kg"), -4, "job.states.1.items.0.mass_kg"),
            (("readings", 0, "state"), "nowhere", "job"),
            (("vehicle", "colour"), "grey", "job.vehicle.colour"),
        ):
            bad = json.loads(json.dumps(good))
            spot = bad
            for step in path[:-1]:
                spot = spot[step]  # type: ignore[index]
            spot[path[-1]] = value  # type: ignore[index]
            cases.append((json.dumps(bad), place))
        for text, place in cases:
            with self.subTest(place), self.assertRaises(FileFormatError) as caught:
                read_job(text)
            self.assertTrue(str(caught.exception).startswith(place), str(caught.exception))

    def test_solved_without_a_database(self) -> None:
        """All results of a job come out as plain JSON, the working included, and a part that fails says why."""
        found = json.loads(json.dumps(solve_job(job(), [AIR], "us", working=True)))
        self.assertIn("low", found["diagnosis"]["verdict"])
        self.assertIn("A-2", [c["key"] for c in found["choices"]["choices"]])
        self.assertTrue(found["diagnosis"]["states"]["loaded"]["working"])
        self.assertIn("wheelbase", solve_job(changed(job(), wheelbase_m=None))["diagnosis"]["error"])
        self.assertEqual(job_schema()["properties"]["format"]["const"], "vantok-job")
