"""The job file with everything in it: every element, every change, tanks, people, spring bars; and what contradicts."""

import json
import unittest
from datetime import UTC, datetime
from pathlib import Path

from tests.core.samples import job, loaded, pickup, reading
from vantok_core.base.errors import InputError, MixedDatumError, VantokError
from vantok_core.base.glossary import as_markdown
from vantok_core.base.num import G
from vantok_core.facts import Job, JobState, LoadItem, NamedPoint, People, Tank, TrailerItem
from vantok_core.facts.parts import ChangeForm, ElementForm, GroupForm
from vantok_core.facts.sums import tank_mass
from vantok_core.files.job_file import VERSION, read_job, solve_job, write_job
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.loads.limits import (
    Ratings,
    StateLoads,
    margins,
    overhang_ratio,
    smallest,
    tyre_limit,
)
from vantok_core.loads.nose import nose_word
from vantok_core.loads.plan import state_load, tongue_of
from vantok_core.loads.trailer_beam import WINDOWS
from vantok_core.model import build_model
from vantok_core.physics.levers import hitch_effect, tongue_lever
from vantok_core.physics.vehicle import LoadState
from vantok_core.rates.calibrate import estimate
from vantok_core.rates.places import Place
from vantok_core.rates.problem import EstimationProblem, HeightReading
from vantok_core.readings.tape import drop_between

AREA = {"A0": 0.0122, "dA_dh": -0.021, "h0": 0.2}
REAR = [
    {"law": "stop", "y": 0.5, "gap": 0.06, "points": [[0.02, 900.0], [0.05, 6000.0]], "fitted": "reference"},
    {
        "law": "air",
        "name": "bags",
        "y": 0.48,
        "h_ref": 0.2,
        "area": AREA,
        "p_set": [120e3, 140e3],
        "set_state": "loaded",
    },
    {"law": "helper_leaf", "y": 0.52, "preload": 300.0, "k": 9e3},
    {"law": "coil_assist", "y": 0.52, "preload": 0.0, "k": 5e3, "sides": "left"},
    {"law": "add_a_leaf", "y": 0.52, "k": 6e3, "arch": 0.03},
    {"law": "anti_roll_bar", "K": 20e3},
]


def everything() -> Job:
    base = job()
    vehicle = base.vehicle.model_copy(
        update={
            "rear_elements": tuple(ElementForm.model_validate(e) for e in REAR),
            "hitch_kind": "gooseneck",
            "front_tyre_index": 112,
            "rear_tyre_index": 113,
            "rear_dual_index": 110,
            "tag_axle_kg": 900.0,
            "front_camber_gain": -18.0,
            "rear_camber_gain": -22.0,
            "front_toe_gain": 3.0,
            "rear_toe_gain": 4.0,
            "points": (NamedPoint(key="step", name="side step", station_m=1.9, lateral_m=0.9),),
            "rear_changes": (ChangeForm(law="shackle", k_s=150e3),),
            "front_changes": (
                ChangeForm(law="coil_block", N=6.5, n=1.0),
                ChangeForm(law="torsion_bar_adjuster", shift=0.004),
            ),
        }
    )
    load = JobState(
        key="loaded",
        name="Boat on",
        tongue_kg=190,
        trailer_kg=1500,
        trailer_axle_m=5.2,
        restored=0.5,
        items=(LoadItem(name="baskets", mass_kg=200, station_m=3.6),),
        tanks=(Tank(name="water", capacity_l=80, fill=0.75, station_m=3.0, lateral_m=0.3),),
        people=(People(count=2, station_m=1.6),),
        trailer_axle_rating_kg=1600,
        trailer_tyres_kg=1700,
        trailer_scale_kg=1310,
        tag_kg=None,
        trailer_items=(
            TrailerItem(name="trailer, empty", mass_kg=500, behind_ball_m=4.9),
            TrailerItem(name="boat", mass_kg=1000, behind_ball_m=4.7),
        ),
        weighed_at=datetime(2026, 5, 2, 9, 30, tzinfo=UTC),
        changed_at=datetime(2026, 5, 2, 9, 10, tzinfo=UTC),
        weighed_gain_kg=(120.0, 480.0),
    )
    empty = base.states[0].model_copy(update={"corners_kg": (600.0, 610.0, 440.0, 450.0), "tag_kg": 300.0})
    told = {"floor_m": 0.004, "friction_m": 0.003, "instrument": "laser", "note": "mud on the lip"}
    read = reading("loaded", "step", 0.41, "ground_point").model_copy(update=told)
    return base.model_copy(
        update={
            "vehicle": vehicle,
            "states": (empty, load),
            "readings": (*base.readings, read),
            "no_baseline": "never empty",
        }
    )


class FullJob(unittest.TestCase):
    def test_every_element_is_carried_and_solved(self) -> None:
        """A job with every kind of element and change goes through the file unharmed and comes out solved, none left out."""
        one = everything()
        self.assertEqual(read_job(write_job(one)), one)
        found = json.loads(json.dumps(solve_job(one, working=True)))
        elements = found["diagnosis"]["states"]["loaded"]["model"]["elements"]
        for name in (
            "rear springs",
            "rear bump stops",
            "bags",
            "rear helper leaf 3",
            "rear coil assist 4",
            "rear add a leaf 5",
        ):
            self.assertIn(name, elements)
        self.assertNotIn("right", elements["rear coil assist 4"])
        self.assertGreater(found["diagnosis"]["states"]["loaded"]["model"]["helper_share"]["rear"], 0.0)

    def test_tanks_people_and_spring_bars_count(self) -> None:
        """What stands in tanks and seats is on the axles, and the hitch gives back its share of the front's loss."""
        one = everything()
        state = one.loaded[0]
        self.assertEqual(sum(i.mass_kg for i in state.contents), 200 + 60 + 150)
        load = state_load(one, state)
        assert load.front is not None
        assert load.rear is not None
        effect = hitch_effect(tongue_of(state, 1.25), 3.55)
        lost = -float(tongue_lever(190, 1.25, 3.55).front)
        self.assertAlmostEqual(-float(effect.front) / G, 0.5 * lost, places=6)
        self.assertAlmostEqual(load.front + load.rear, 1210 + 890 + 410 + float(effect.tongue_eff), places=6)

    def test_a_rear_group_gives_the_wheelbase(self) -> None:
        """With a tag axle the wheelbase is taken to the load centre of the group."""
        vehicle = job().vehicle.model_copy(
            update={"rear_group": GroupForm(stations=(3.4, 4.6), loads=(9000.0, 3000.0))}
        )
        self.assertAlmostEqual(build_model(job(vehicle=vehicle)).vehicle.wheelbase, 3.7)

    def test_an_older_file_is_brought_up_to_date(self) -> None:
        """A version 1 file is read as the version of today."""
        old = json.loads(write_job(job())) | {"version": 1}
        self.assertEqual(read_job(json.dumps(old)).version, VERSION)
        self.assertEqual(read_job(json.dumps(old)), job())

    def test_an_added_leaf_on_a_parabolic_is_said(self) -> None:
        """The refusal reaches the results as a sentence, and the rest of the job still stands."""
        vehicle = everything().vehicle.model_copy(update={"rear_spring": "parabolic_solid"})
        with self.assertRaises(VantokError) as caught:
            build_model(everything().model_copy(update={"vehicle": vehicle}))
        self.assertIn("takes no added leaf", str(caught.exception))


class Contradictions(unittest.TestCase):
    def test_the_worst_reading_is_named_first(self) -> None:
        """Of many readings one is falsified by 40 mm: it leads the list, with the correction that it needs."""
        truth, states = pickup(), [LoadState(name="empty"), loaded(300, 3.55), loaded(500, 3.4, name="more")]
        place, hitch = Place("rear", "ground"), Place("point", "hitch", 4.8)
        problem = EstimationProblem(
            vehicle=truth, states=states, readings=[], loads={}, sigma_ln={"front": 0.1, "rear": 0.1}
        )
        plain = estimate(problem)
        readings = [
            HeightReading(
                state=s.name,
                place=p,
                value=0.9 - plain.drop(s.name, p).value + (0.04 if (s.name, p) == ("more", hitch) else 0.0),
                sigma=0.003,
            )
            for s in states
            for p in (place, Place("front", "ground"), hitch)
        ]
        found = estimate(
            EstimationProblem(vehicle=truth, states=states, readings=readings, loads={}, sigma_ln=problem.sigma_ln)
        ).suspects()
        self.assertEqual((found[0].reading.state, found[0].reading.place), ("more", hitch))
        self.assertAlmostEqual(found[0].closing, -0.04, delta=0.01)
        self.assertGreater(abs(found[0].standardised), 3.0)

    def test_the_diagnosis_says_so(self) -> None:
        """A rear that stands far from what its load could do is the first thing the diagnosis speaks of."""
        base = job()
        odd = tuple(
            reading("loaded", r.place, 0.943)
            if r.state == "loaded" and r.place[0] == "R" and r.datum == "ground_arch"
            else r
            for r in base.readings
        )
        found = diagnose(build_model(base.model_copy(update={"readings": odd})))
        self.assertIn("contradicts", [f.key for f in found.findings])

    def test_datums_are_never_mixed(self) -> None:
        """Subtracting readings on different datums is refused by name."""
        self.assertAlmostEqual(drop_between(0.9, 0.85, "hub", "hub"), 0.05)
        with self.assertRaises(MixedDatumError):
            drop_between(0.9, 0.5, "ground_arch", "hub_arch")


class Loads(unittest.TestCase):
    def test_the_smallest_margin_speaks(self) -> None:
        """Each limit is checked apart, unknown ones stay unknown, the tightest is found."""
        found = margins(
            Ratings(gross=3500, front_axle=1800, rear_axle=2000, towed=1500),
            StateLoads(front=1200, rear=1990, tongue=80, trailer=1600),
        )
        self.assertEqual({m.key for m in found if m.over}, {"towed"})
        self.assertEqual([m.margin for m in found if m.key == "rear_tyres"], [None])
        worst = smallest(found)
        assert worst is not None
        self.assertEqual(worst.key, "towed")

    def test_tyres_overhang_and_tongue_share(self) -> None:
        """Load index single and dual, overhang ratio, the usual tongue bands; outside their tables they refuse."""
        self.assertEqual((tyre_limit(121, 2), tyre_limit(121, 4, 118)), (2900.0, 5280.0))
        self.assertEqual(overhang_ratio(2.3, 4.6), 0.5)
        self.assertEqual([nose_word(s, WINDOWS["ball"]) for s in (0.08, 0.12, 0.2)], ["light", "good", "heavy"])
        for call in (
            lambda: tyre_limit(20, 2),
            lambda: overhang_ratio(-1, 4),
            lambda: tank_mass(80, 1.2),
        ):
            with self.assertRaises(InputError):
                call()


class Documents(unittest.TestCase):
    def test_the_glossary_is_the_table(self) -> None:
        """docs/glossary.md is what the table gives."""
        page = Path(__file__).parents[2] / "docs" / "glossary.md"
        self.assertEqual(page.read_text(encoding="utf-8"), as_markdown())
