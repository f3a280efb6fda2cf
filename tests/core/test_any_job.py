"""Any valid job, however odd: it survives its file, is solved or told why not, and every sentence about it reads as one."""

import json
import unittest
from collections import Counter
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from vantok_core.base.errors import VantokError
from vantok_core.base.say import Verdict
from vantok_core.base.units import System
from vantok_core.facts import Job, JobReading, JobState, JobVehicle, LoadItem, NamedPoint, People, Tank, TrailerItem
from vantok_core.facts.classes import BODIES, SPRINGS
from vantok_core.files.job_file import read_job, solve_job, write_job
from vantok_core.files.plan_csv import read_plan, write_plan
from vantok_core.files.readings_csv import read_readings, write_readings
from vantok_core.judge.measure.catches import catches
from vantok_core.judge.measure.checks import check_sheet
from vantok_core.judge.measure.conditions import condition_findings
from vantok_core.judge.weigh.coach import coach_sheet
from vantok_core.judge.weigh.loads import check_loads, loads_verdict
from vantok_core.loads.moves import best_place, clearing_moves, clearing_removals, free_tongue
from vantok_core.loads.plan import state_load, state_margins

words = st.text(st.characters(blacklist_categories=("Cs", "Cc")), min_size=1, max_size=12).filter(
    lambda t: t.strip() == t and t.strip() != ""
)
"""Names as people write them: braces, quotes, commas and all."""


def maybe(strategy: st.SearchStrategy[Any]) -> st.SearchStrategy[Any]:
    return st.none() | strategy


def metres(low: float, high: float) -> st.SearchStrategy[float]:
    return st.floats(low, high).map(lambda x: round(x, 4))


masses = st.floats(0.0, 3000.0).map(lambda x: round(x, 1))
ratings = maybe(st.floats(300.0, 9000.0).map(round))
places = {"station_m": metres(-1.0, 8.0), "lateral_m": metres(-1.0, 1.0)}
items = st.builds(LoadItem, name=words, mass_kg=masses, height_m=maybe(metres(0.0, 3.0)), **places)
tanks = st.builds(
    Tank, name=words, capacity_l=st.floats(1.0, 500.0), fill=st.floats(0.0, 1.0), kg_per_l=st.floats(0.5, 1.2), **places
)
people = st.builds(People, count=st.integers(1, 9), mass_kg=st.floats(20.0, 150.0), **places)
trailer_items = st.builds(TrailerItem, name=words, mass_kg=masses, behind_ball_m=metres(-1.0, 9.0))
vehicles = st.builds(
    JobVehicle,
    label=words,
    body=st.sampled_from(sorted(BODIES)),
    wheelbase_m=maybe(metres(2.2, 6.0)),
    hitch_overhang_m=maybe(metres(-0.5, 2.0)),
    rear_overhang_m=maybe(metres(0.5, 3.0)),
    track_front_m=maybe(metres(1.2, 2.0)),
    track_rear_m=maybe(metres(1.2, 2.0)),
    front_spring=maybe(st.sampled_from(sorted(SPRINGS))),
    rear_spring=maybe(st.sampled_from(sorted(SPRINGS))),
    tyres=maybe(st.sampled_from(["car", "light_truck", "medium_duty"])),
    dual_rear=st.booleans(),
    gross_kg=ratings,
    front_axle_kg=ratings,
    rear_axle_kg=ratings,
    front_tyre_index=maybe(st.integers(85, 126)),
    rear_tyre_index=maybe(st.integers(85, 126)),
    hitch_kg=ratings,
    towed_kg=ratings,
    combination_kg=ratings,
    tag_axle_kg=ratings,
    rear_camber_gain=maybe(st.floats(-60.0, 60.0)),
    points=st.just((NamedPoint(key="step", name="step", station_m=1.0),)),
)


@st.composite
def states(draw: st.DrawFn, key: str, *, empty: bool) -> JobState:
    """Return a state: perhaps weighed, perhaps on pads, and when loaded with whatever it carries and tows."""
    front, rear = draw(maybe(st.floats(300.0, 4000.0))), draw(maybe(st.floats(300.0, 5000.0)))
    told: dict[str, Any] = {"key": key, "name": draw(words), "empty": empty, "front_kg": front, "rear_kg": rear}
    if draw(st.booleans()):
        told["corners_kg"] = tuple(draw(st.floats(50.0, 2500.0)) for _ in range(4))
    if not empty:
        told |= {
            "items": tuple(draw(st.lists(items, max_size=4))),
            "tanks": tuple(draw(st.lists(tanks, max_size=2))),
            "people": tuple(draw(st.lists(people, max_size=2))),
            "trailer_items": tuple(draw(st.lists(trailer_items, max_size=3))),
            "tongue_kg": draw(st.just(0.0) | st.floats(0.0, 400.0)),
            "trailer_kg": draw(st.just(0.0) | st.floats(0.0, 3500.0)),
            "trailer_axle_m": draw(metres(1.5, 7.0)),
            "restored": draw(st.just(0.0) | st.floats(0.0, 1.0)),
        }
    return JobState(**told)


@st.composite
def jobs(draw: st.DrawFn) -> Job:
    """Return a job with one or two loaded states and a few heights read in each."""
    found = [
        draw(states("empty", empty=True)),
        *(draw(states(f"load-{n}", empty=False)) for n in range(draw(st.integers(0, 2)))),
    ]
    readings = []
    for state in found:
        for datum, low, high in (("ground_arch", 0.6, 1.1), ("stop_gap", 0.0, 0.12), ("hub_arch", 0.3, 0.6)):
            if draw(st.booleans()):
                base = draw(st.floats(low, high))
                for place in draw(st.permutations(["FL", "RL", "RR", "FR"]))[: draw(st.integers(2, 4))]:
                    value = round(max(base + draw(st.floats(-0.03, 0.03)), 0.0), 4)
                    readings.append(
                        JobReading(
                            state=state.key,
                            datum=datum,
                            place=place,
                            value_m=value,
                            friction_m=draw(maybe(st.just(0.002))),
                        )
                    )  # type: ignore[arg-type]
    return Job(number="7", vehicle=draw(vehicles), states=tuple(found), readings=tuple(readings))


slow = settings(
    max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large]
)


class AnyJob(unittest.TestCase):
    def reads(self, verdict: Verdict) -> None:
        for system in ("metric", "us"):
            text = verdict.in_units(system)  # type: ignore[arg-type]
            self.assertNotIn("nan", text.split())
            self.assertTrue(text.strip())

    @slow
    @given(jobs())
    def test_it_survives_its_file(self, job: Job) -> None:
        """Written and read again it is the same job; its plans and heights survive their own files too."""
        self.assertEqual(read_job(write_job(job)), job)
        again = {(r.datum, r.place, r.value_m, r.friction_m) for r in read_readings(write_readings([job]))}
        self.assertEqual(again, {(r.datum, r.place, r.value_m, r.friction_m) for r in job.readings})
        for state in job.loaded:
            plan = read_plan(write_plan(state))
            self.assertEqual(
                (plan.items, plan.tanks, plan.people, plan.trailer_items),
                (state.items, state.tanks, state.people, state.trailer_items),
            )

    @slow
    @given(jobs(), st.sampled_from(["metric", "us"]))
    def test_it_is_solved_or_told_why_not(self, job: Job, system: System) -> None:
        """Nothing but the program's own errors comes out, and the result is plain JSON without a single nan or infinity."""
        try:
            found = solve_job(job, system=system, working=True)
        except VantokError as error:
            self.assertTrue(str(error))
            return
        json.dumps(found, allow_nan=False)

    @slow
    @given(jobs())
    def test_nothing_of_its_sheet_is_said_twice(self, job: Job) -> None:
        """Each finding has a key of its own: it is marked, left so on purpose and counted by it."""
        keys = Counter(f.key for f in (*check_sheet(job), *condition_findings(job, None), *catches(job, None)))
        self.assertEqual([key for key, count in keys.items() if count > 1], [])

    @slow
    @given(jobs())
    def test_its_loads_add_up_and_read_as_sentences(self, job: Job) -> None:
        """Axle loads are whole or unknown; what a plan adds is what it weighs; every suggestion keeps to what is aboard."""
        self.reads(loads_verdict(job))
        for state in job.states:
            load = state_load(job, state)
            if not state.half_weighed:  # one axle weighed by itself is told by itself
                self.assertEqual(load.front is None, load.rear is None)
            for margin in state_margins(job, state):
                if margin.margin is not None and margin.limit is not None and margin.load is not None:
                    self.assertAlmostEqual(margin.limit - margin.load, margin.margin)
            for finding in (*check_loads(job, state), *coach_sheet(job, state).findings):
                self.assertTrue(finding.what.in_units("us"))
            if load.basis == "plan" and load.front is not None and load.rear is not None and job.empty is not None:
                before = state_load(job, job.empty)
                carried = sum(i.mass_kg for i in state.contents)
                gained = load.front + load.rear - (before.front or 0.0) - (before.rear or 0.0)
                if not state.restored:
                    self.assertAlmostEqual(gained, carried + state.tongue, delta=1e-6 * max(carried, 1.0))
            names = {i.name for i in state.contents} | {"tongue load"}
            self.assertTrue({m.item.name for m in clearing_moves(job, state)} <= names)
            for cut in clearing_removals(job, state):
                self.assertIn(cut.name, names)
                self.assertGreaterEqual(cut.kg, 0.0)
            free_tongue(job, state)
            best = best_place(job, state, 50.0)
            if best is not None:
                self.assertLessEqual(best.start, best.end)
