"""What the tape says beyond the arches: the floor, named points, derived heights, stops to come, friction, tired sides, history."""

import unittest
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import partial

from hypothesis import given
from hypothesis import strategies as st

from tests.core.samples import job as sample
from tests.core.samples import reading
from vantok_core.base.errors import FileFormatError, InputError
from vantok_core.facts import Job, NamedPoint
from vantok_core.files.job_file import read_job, write_job
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.judge.diagnose.springs import friction_bands, stop_contact
from vantok_core.judge.measure.checks import check_reading, check_sheet, expected_before, taught
from vantok_core.judge.visits.vehicle_history import PastHeight, settling
from vantok_core.model import build_model, derived_height, expected_height
from vantok_core.physics.vehicle import CORNERS, Item
from vantok_core.readings.floor import OPPOSITE, floor_from_turn

tilts = st.floats(-0.05, 0.05)
heights = st.fixed_dictionaries(dict.fromkeys(CORNERS, st.floats(0.5, 1.2)))


class Floors(unittest.TestCase):
    @given(heights, tilts, tilts)
    def test_turning_round_takes_a_slope_out(self, true: dict[str, float], along: float, across: float) -> None:
        """Whatever the vehicle and the slope, both readings less the floor found are the vehicle's true height."""
        signs = {"FL": (1, 1), "FR": (1, -1), "RL": (-1, 1), "RR": (-1, -1)}
        slope = {c: along * a + across * b for c, (a, b) in signs.items()}
        facing_in = {c: true[c] + slope[c] for c in CORNERS}
        facing_out = {c: true[c] + slope[OPPOSITE[c]] for c in CORNERS}
        floor = floor_from_turn(facing_in, facing_out)
        for c in CORNERS:
            self.assertAlmostEqual(facing_in[c] - floor.at(c), true[c], 9)
            self.assertAlmostEqual(facing_out[c] - floor.at(c, facing_out=True), true[c], 9)
        self.assertAlmostEqual(floor.spread, 0.0, 9)

    def test_readings_that_disagree_are_told_and_nonsense_is_refused(self) -> None:
        """One corner misread by 8 mm shows as spread; a corner missing, and a floor off by a step, are refused."""
        even = dict.fromkeys(CORNERS, 0.9)
        self.assertAlmostEqual(floor_from_turn(even | {"FL": 0.908}, even).spread, 0.004)
        with self.assertRaisesRegex(InputError, "both ways round"):
            floor_from_turn({"FL": 0.9}, even)
        with self.assertRaisesRegex(InputError, "two pairs that disagree by 50\xa0mm"):
            floor_from_turn(dict.fromkeys(CORNERS, 0.9) | {"FL": 1.0}, dict.fromkeys(CORNERS, 0.9))
        with self.assertRaisesRegex(InputError, "no workshop floor is"):
            floor_from_turn(even | {"FL": 1.4, "RR": 0.4}, even)


def with_readings(*more: object, **vehicle: object) -> Job:
    base = sample()
    return base.model_copy(
        update={"readings": (*base.readings, *more), "vehicle": base.vehicle.model_copy(update=vehicle)}
    )


class Points(unittest.TestCase):
    POINT = NamedPoint(key="rear-bumper", name="rear bumper", station_m=4.6)

    def test_a_named_point_teaches_and_is_expected(self) -> None:
        """Read empty, the point's loaded height is expected on the body's plane; off it by 40 mm, the sheet's model names it."""
        job = with_readings(reading("empty", "rear-bumper", 0.60, "ground_point"), points=(self.POINT,))
        found = expected_height(build_model(job), "loaded", "ground_point", "rear-bumper")
        assert found is not None
        solved = build_model(job).solve()["loaded"]
        self.assertAlmostEqual(0.60 - found.value, float(solved.drop_at(3.55, 4.6)), 6)
        wrong = job.model_copy(
            update={"readings": (*job.readings, reading("loaded", "rear-bumper", found.value + 0.04, "ground_point"))}
        )
        self.assertIn("contradicts", [f.key for f in diagnose(build_model(wrong)).findings])

    def test_a_point_off_the_plane_is_named_on_the_sheet(self) -> None:
        """With four arches and two points read, the one that does not lie on the body's plane is the suspect."""
        points = (self.POINT, NamedPoint(key="step", name="step", station_m=1.8, lateral_m=0.8))
        base = with_readings(points=points)
        solved = build_model(base).solve()["loaded"]
        more = [reading("empty", p.key, 0.60, "ground_point") for p in points]
        heights = {p.key: 0.60 - float(solved.drop_at(3.55, p.station_m, p.lateral_m)) for p in points}
        fair = [reading("loaded", key, h, "ground_point") for key, h in heights.items()]
        self.assertEqual([f.key for f in check_sheet(with_readings(*more, *fair, points=points))], [])
        fair[1] = reading("loaded", "step", heights["step"] - 0.045, "ground_point")
        said = [
            f.what.in_units("metric")
            for f in check_sheet(with_readings(*more, *fair, points=points))
            if f.key == "plane"
        ]
        self.assertEqual(len(said), 1)
        self.assertIn("most suspect is step", said[0])

    def test_every_datum_is_held_against_what_is_expected(self) -> None:
        """A stop gap and a point far from what the model without them expects are asked for again; near it they are not."""
        base = with_readings(reading("empty", "rear-bumper", 0.60, "ground_point"), points=(self.POINT,))
        model = build_model(base)
        for datum, place in (("stop_gap", "RL"), ("ground_point", "rear-bumper")):
            expected = expected_height(model, "loaded", datum, place)
            assert expected is not None
            for off, odd in ((0.0, []), (0.05, ["band"])):
                one = reading("loaded", place, max(expected.value, 0.0) + off, datum)
                blind = expected_before(base, one)
                held = blind.model_copy(update={"readings": (*blind.readings, one)})
                found = [f.key for f in check_reading(held, one, partial(build_model, blind))]
                self.assertEqual(found, odd, (datum, off))

    def test_a_reading_at_no_such_point_is_refused(self) -> None:
        """A job file whose reading names a point the vehicle does not have is refused with its place."""
        text = write_job(with_readings(reading("empty", "rear-bumper", 0.60, "ground_point"), points=(self.POINT,)))
        self.assertEqual(read_job(text).vehicle.points, (self.POINT,))
        with self.assertRaisesRegex(FileFormatError, "ground_point is not read at “nowhere”"):
            read_job(text.replace('"place": "rear-bumper"', '"place": "nowhere"'))

    def test_what_is_not_read_is_expected_or_unknown(self) -> None:
        """A stop gap is expected where the model has it; a corner never read empty has nothing to be expected from."""
        model = build_model(sample())
        gap = expected_height(model, "loaded", "stop_gap", "RL")
        assert gap is not None
        stops = model.solve()["loaded"].elements["rear bump stops"]
        self.assertAlmostEqual(gap.value, float(stops["left"].gap_left or 0.0), 6)
        self.assertIsNone(expected_height(model, "loaded", "stop_gap", "FL"))
        self.assertIsNone(expected_height(model, "loaded", "ground_hitch", "hitch"))


class Derived(unittest.TestCase):
    def test_from_hub_to_ground_and_back(self) -> None:
        """A hub reading made of a ground reading less the tyre's squash derives that ground reading again, and the other way round."""
        empty = {"RL": 0.52, "RR": 0.52, "FL": 0.50, "FR": 0.50}
        job = with_readings(*(reading("empty", c, h, "hub_arch") for c, h in empty.items()))
        solved = build_model(job).solve()["loaded"]
        squash = float(solved.ground_drop["RL"] - solved.hub_drop["RL"])
        self.assertGreater(squash, 0.001)
        hub = derived_height(build_model(job), "loaded", "hub_arch", "RL")
        self.assertAlmostEqual(hub or 0.0, 0.52 - (0.948 - 0.886 - squash), 6)
        back = with_readings(
            *(reading("empty", c, h, "hub_arch") for c, h in empty.items()),
            reading("loaded", "RL", hub or 0.0, "hub_arch"),
        )
        self.assertAlmostEqual(derived_height(build_model(back), "loaded", "ground_arch", "RL") or 0.0, 0.886, 3)

    def test_nothing_is_derived_from_nothing(self) -> None:
        """Without a reading on the other datum, or for a datum that has none, there is no derived height."""
        model = build_model(sample())
        self.assertIsNone(derived_height(model, "loaded", "hub_arch", "RL"))
        self.assertIsNone(derived_height(model, "loaded", "stop_gap", "RL"))


class Taught(unittest.TestCase):
    def test_a_place_is_taught_by_its_own_axle_and_one_on_neither_by_both(self) -> None:
        """Read behind alone, the rear's corners are told by its own readings; the front's and the hitch by its class."""
        base = sample()
        rear = tuple(r for r in base.readings if r.place[0] == "R")
        model = build_model(base.model_copy(update={"readings": rear}))
        self.assertEqual(
            [taught(model, place) for place in ("RL", "RR", "rear", "FL", "front", "hitch")], [True] * 3 + [False] * 3
        )


class Stops(unittest.TestCase):
    def test_the_load_that_brings_contact_closes_the_gap(self) -> None:
        """Putting the load found over the axle leaves a gap of nothing; when the stop already touches, the load is negative."""
        base = sample()
        for gap, sign in ((0.09, 1.0), (0.03, -1.0)):
            readings = tuple(
                r.model_copy(update={"value_m": gap}) if r.datum == "stop_gap" else r for r in base.readings
            )
            model = build_model(base.model_copy(update={"readings": readings}))
            more = stop_contact(model, "loaded", "rear")
            assert more is not None
            self.assertGreater(sign * more, 0.0)
            states = dict(model.states)
            extra = Item(mass=more, station=3.55)
            states["loaded"] = replace(states["loaded"], items=(*states["loaded"].items, extra))
            stops = replace(model, states=states).solve()["loaded"].elements["rear bump stops"]
            self.assertAlmostEqual(min(float(s.gap_left or 0.0) for s in stops.values()), 0.0, delta=5e-4)
        self.assertIsNone(stop_contact(build_model(base), "loaded", "front"))

    def test_it_is_said_with_the_share_of_travel(self) -> None:
        """The diagnosis says how much of the empty travel is left and what closes the rest."""
        base = sample()
        deep = tuple(r.model_copy(update={"value_m": 0.09}) if r.datum == "stop_gap" else r for r in base.readings)
        found = diagnose(build_model(base.model_copy(update={"readings": deep}))).findings
        said = next(f for f in found if f.key == "travel-rear").what.in_units("metric")
        self.assertRegex(
            said,
            r"Rear stop gap \d+\u00a0mm, \d+\u00a0% of the empty travel; it touches with \d+\u00a0kg more over that axle\.",
        )


class Springs(unittest.TestCase):
    def test_friction_is_half_of_pressed_and_lifted(self) -> None:
        """The largest band of each axle is told, with what it means."""
        pairs = (
            reading("loaded", c, 0.886).model_copy(update={"friction_m": f}) for c, f in (("RL", 0.004), ("RR", 0.006))
        )
        job = with_readings(*pairs)
        self.assertEqual(friction_bands(job), {"rear": 0.006})
        self.assertIn("friction-rear", [f.key for f in diagnose(build_model(job)).findings])

    def test_a_tired_side_is_suspected_unless_its_load_explains_it(self) -> None:
        """Empty, one side 14 mm lower: suspected; with corner pads that differ as much, it is the load."""
        low = tuple(
            r.model_copy(update={"value_m": 0.932})
            if (r.state, r.place, r.datum) == ("empty", "RL", "ground_arch")
            else r
            for r in sample().readings
        )
        job = sample().model_copy(update={"readings": low})
        said = {f.key: f.what.in_units("metric") for f in diagnose(build_model(job)).findings}
        self.assertIn("the left rear stands 14\u00a0mm lower", said["tired-rear"])
        pads = job.states[0].model_copy(update={"corners_kg": (605.0, 605.0, 480.0, 410.0)})
        told = job.model_copy(update={"states": (pads, job.states[1])})
        self.assertNotIn("tired-rear", [f.key for f in diagnose(build_model(told)).findings])

    def test_camber_and_toe_follow_an_independent_axle_only(self) -> None:
        """Twelve degrees a metre at the rear: said on independent springs with its working, not on a solid axle."""
        gains = {"rear_camber_gain": -30.0, "rear_toe_gain": 20.0}
        solid = diagnose(build_model(with_readings(**gains)))
        self.assertEqual(solid.main.angles if solid.main else None, {})
        job = with_readings(**gains, rear_spring="coil_independent")
        found = diagnose(build_model(job))
        assert found.main is not None
        hub = 0.5 * float(found.main.report.hub_drop["RL"] + found.main.report.hub_drop["RR"])
        self.assertAlmostEqual(found.main.angles["rear camber"], -30.0 * hub, 9)
        said = {f.key: f.what.in_units("metric") for f in found.findings}
        self.assertRegex(said["rear-camber"], r"Sag turns the rear wheels 1\.\d° top in\.")
        self.assertIn("Camber gained", [w.title for w in found.main.workings])


class History(unittest.TestCase):
    def past(self, job: str, days: int, rear: float, **more: object) -> list[PastHeight]:
        at = datetime(2026, 1, 1, tzinfo=UTC) + timedelta(days=days)
        facts = {
            "job": job,
            "at": at,
            "state": "Empty",
            "empty": True,
            "phase": "before",
            "datum": "ground_arch",
        } | more
        return [PastHeight(**facts, place=p, value_m=rear) for p in ("RL", "RR")]  # type: ignore[arg-type]

    def test_springs_that_settle_are_named(self) -> None:
        """Eleven millimetres lower than the best earlier visit is said; loaded heights, kits and small changes are not."""
        found = settling([*self.past("1", 0, 0.950), *self.past("2", 90, 0.945), *self.past("3", 200, 0.939)])
        self.assertEqual(
            [f.what.in_units("metric") for f in found], ["Empty, the rear stands 11\u00a0mm lower than in job 1."]
        )
        self.assertEqual(settling([*self.past("1", 0, 0.950), *self.past("2", 90, 0.944)]), [])
        self.assertEqual(settling([*self.past("1", 0, 0.950), *self.past("2", 90, 0.80, empty=False)]), [])
        self.assertEqual(settling([*self.past("1", 0, 0.950, phase="after"), *self.past("2", 90, 0.90)]), [])
