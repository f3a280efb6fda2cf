"""What a state shows, against the same figures worked out by hand from the method's lines."""

import unittest
from math import degrees, pi, sqrt

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.samples import job as sample
from tests.core.samples import reading
from vantok_core.aims.complaints import COMPLAINTS
from vantok_core.base.num import G
from vantok_core.facts import Complaint, Inspected, Job, JobState, LoadItem
from vantok_core.facts.classes import BODIES, SPRINGS
from vantok_core.judge.diagnose.causes import likely_causes
from vantok_core.judge.diagnose.diagnosis import URGENCY, Diagnosis, diagnose
from vantok_core.judge.grounds.shown import StateView, gaps_read
from vantok_core.judge.listen.inspect import AREAS, standing_faults
from vantok_core.loads.plan import state_load
from vantok_core.model import build_model, unsprung_mass
from vantok_core.rates.simple import rate_for_frequency

loads = st.tuples(st.floats(50.0, 600.0), st.floats(1.2, 4.4), st.floats(-0.5, 0.5), st.floats(0.0, 200.0))


def loaded(mass: float, station: float, lateral: float, tongue: float, **vehicle: object) -> Job:
    """Return the sample pickup, read empty, with one item and a tongue, nothing read loaded."""
    base = sample()
    item = LoadItem(name="load", mass_kg=mass, station_m=station, lateral_m=lateral)
    state = JobState(key="loaded", name="Loaded", items=(item,), tongue_kg=tongue, trailer_kg=8 * tongue)
    readings = tuple(r for r in base.readings if r.state == "empty")
    return base.model_copy(
        update={
            "states": (base.states[0], state),
            "readings": readings,
            "vehicle": base.vehicle.model_copy(update=vehicle),
        }
    )


def shown(job: Job) -> tuple[Diagnosis, StateView]:
    found = diagnose(build_model(job))
    view = found.view("loaded")
    assert view is not None
    return found, view


class Consequences(unittest.TestCase):
    @settings(max_examples=20, deadline=None)
    @given(loads)
    def test_each_follows_from_the_drops(self, load: tuple[float, float, float, float]) -> None:
        """Caster, beam, travel left, frequency ratio and grip lost, each by the method's own line from drops and loads."""
        job = loaded(*load)
        _, view = shown(job)
        report, length = view.report, 3.55
        d_f, d_r = float(report.d_f), float(report.d_r)
        theta = (d_r - d_f) / length
        lamp = BODIES["pickup"].lamp
        assert view.beam is not None and view.beam.us is not None and view.caster is not None
        self.assertAlmostEqual(view.caster.value, degrees(theta), 9)
        for beam, wall in ((view.beam.value, 10.0), (view.beam.us, 25 * 0.3048)):
            self.assertAlmostEqual(beam, wall * theta - (d_f + lamp * theta), 9)
        left, right = (float(report.hub_drop[c]) for c in ("RL", "RR"))
        inboard = SPRINGS["leaf_solid"].place  # the stops stand by the springs, inboard of the wheels
        gap = 0.06 - (0.5 * (left + right) + 0.5 * abs(left - right) * inboard)
        self.assertAlmostEqual(view.stop_gap["rear"], gap, 6)
        self.assertAlmostEqual(view.travel["rear"], gap / 0.06, 4)
        for axle, corners in (("front", ("FL", "FR")), ("rear", ("RL", "RR"))):
            rate = sum(float(report.bump_rate[c]) for c in corners) / 2
            sprung = sum(float(report.load[c]) for c in corners) / (2 * G) - unsprung_mass(job, axle)  # type: ignore[arg-type]
            hand = sqrt(rate / sprung) / (2 * pi)
            self.assertAlmostEqual(view.frequency[axle], hand, 9)
            self.assertAlmostEqual(rate_for_frequency(sprung, hand), rate, 3)
        self.assertAlmostEqual(view.ratio or 0.0, view.frequency["rear"] / view.frequency["front"], 12)
        front = (float(report.load["FL"]) + float(report.load["FR"])) / G
        self.assertAlmostEqual(view.front_lost or 0.0, (1210.0 - front) / 1210.0, 6)

    def test_only_what_was_read_is_worked_out(self) -> None:
        """A sag is worked out of an axle that was read both times; of two gaps read at an axle the smaller counts."""
        base = sample()
        rear = tuple(r for r in base.readings if r.state == "empty" or r.place.startswith("R"))
        gaps = tuple(reading("loaded", place, gap, "stop_gap") for place, gap in (("RL", 0.05), ("RR", 0.03)))
        job = base.model_copy(update={"readings": rear + gaps})
        _, view = shown(job)
        self.assertEqual([w.key for w in view.workings].count("sag"), 1)
        self.assertEqual(gaps_read(job, job.states[1]), {"rear": 0.03})

    @settings(max_examples=20, deadline=None)
    @given(loads)
    def test_the_model_carries_what_the_levers_say(self, load: tuple[float, float, float, float]) -> None:
        """The solved axle loads are the plan's, to the kilogram, and the heavier side is the side the load stands on."""
        job = loaded(*load)
        _, view = shown(job)
        plan = state_load(job, job.states[1])
        corner = {c: float(n) / G for c, n in view.report.load.items()}
        self.assertAlmostEqual(corner["FL"] + corner["FR"], plan.front or 0.0, delta=0.5)
        self.assertAlmostEqual(corner["RL"] + corner["RR"], plan.rear or 0.0, delta=0.5)
        side = corner["FL"] + corner["RL"] - corner["FR"] - corner["RR"]
        if abs(load[0] * load[2]) > 10.0:
            self.assertGreater(side * load[2], 0.0)

    @settings(max_examples=12, deadline=None)
    @given(loads, st.floats(-40.0, 40.0))
    def test_camber_is_gain_times_hub_sag(self, load: tuple[float, float, float, float], gain: float) -> None:
        """On an independent rear the camber gained is the gain times the mean hub sag; each working's result is the shown figure."""
        job = loaded(*load, rear_spring="coil_independent", rear_camber_gain=gain)
        _, view = shown(job)
        sag = 0.5 * float(view.report.hub_drop["RL"] + view.report.hub_drop["RR"])
        self.assertAlmostEqual(view.angles["rear camber"], gain * sag, 9)
        by_key = {w.key: w.result.value for w in view.workings}
        assert view.caster is not None
        self.assertAlmostEqual(by_key["caster"], view.caster.value, 9)
        self.assertEqual(by_key["wheel_angle"], view.angles["rear camber"])
        frequencies = [w.result.value for w in view.workings if w.key == "frequency"]
        self.assertEqual(frequencies, [view.frequency["front"], view.frequency["rear"]])
        assert view.beam is not None
        self.assertAlmostEqual(by_key["headlamp"], view.beam.value, 9)
        self.assertAlmostEqual(by_key["front_lost"], view.front_lost or 0.0, 6)


class Ranking(unittest.TestCase):
    def test_limits_then_faults_then_what_is_urgent(self) -> None:
        """Whatever is found, limits stand first, faults of the inspection next, and every act has its place in the order of urgency."""
        job = loaded(600.0, 4.4, 0.4, 150.0, rear_axle_kg=1500.0, gross_kg=2500.0)
        job = job.model_copy(
            update={"inspection": (Inspected(area="dampers", grade="fault"), Inspected(area="tyres", grade="watch"))}
        )
        findings = shown(job)[0].findings
        tones = [f.tone for f in findings]
        self.assertEqual(tones, sorted(tones, key=("limit", "act", "plain", "level").index))
        acts = [f.key for f in findings if f.tone == "act"]
        self.assertEqual(acts[0], "fix-dampers")
        for key in acts[1:]:
            self.assertIn(key, URGENCY)
        self.assertEqual(findings[0].tone, "limit")

    def test_each_complaint_has_causes_with_a_test(self) -> None:
        """Every complaint of the list, with nothing found and with a fault in each area, names a cause and the test that tells."""
        base = loaded(300.0, 3.6, 0.1, 100.0)
        for faults in ((), tuple(Inspected(area=a, grade="fault") for a in AREAS)):
            for code in COMPLAINTS:
                job = base.model_copy(update={"complaints": (Complaint(code=code),), "inspection": faults})
                causes = likely_causes(job, shown(job)[0])[0].causes
                self.assertTrue(causes, code)
                for cause in causes:
                    self.assertTrue(cause.test.endswith("."), (code, cause.words))
                chances = [c.chance for c in causes]
                self.assertEqual(chances, sorted(chances, reverse=True))

    def test_faults_that_stop_a_choice(self) -> None:
        """Of all areas at fault, those that stop are told in the order of the sheet, and none that was overruled with a reason."""
        job = sample().model_copy(update={"inspection": tuple(Inspected(area=a, grade="fault") for a in AREAS)})
        stops = [key for key, area in AREAS.items() if area.stops]
        self.assertEqual([one.area for _, one in standing_faults(job)], stops)
        told = tuple(Inspected(area=a, grade="fault", overruled="new part ordered") for a in AREAS)
        self.assertEqual(standing_faults(job.model_copy(update={"inspection": told})), [])
