"""Every family of kits by the same properties: more of a setting lifts more, the step chosen is the nearest, data that cannot be are refused."""

from __future__ import annotations

import unittest
from typing import Any

from tests.core.samples import AIR, INSERT, job
from tests.core.test_helper_leaf import KIT as LEAF
from vantok_core.base.errors import FileFormatError
from vantok_core.facts import Fitting, Job, JobState, Kit
from vantok_core.files.job_file import read_job, write_job
from vantok_core.kits.choose import shortlist
from vantok_core.kits.family import AlikeFamily, least
from vantok_core.kits.fit import fit_checks, with_kit
from vantok_core.kits.registry import FAMILIES, family_of, read_kit
from vantok_core.kits.target import target_state
from vantok_core.model import build_model

COMMON = {"maker": "Nobody", "price": 200, "hours": 1.5}
ENTRIES: dict[str, dict[str, Any]] = {
    "coil_assist": {
        "springs": ["leaf_solid"],
        "rate_n_per_m": 15e3,
        "preload_n": 250,
        "per_step_n": 240,
        "steps_max": 5,
    },
    "added_leaf": {"springs": ["leaf_solid"], "rate_n_per_m": 12e3, "arch_m": 0.03},
    "coil_block": {
        "springs": ["coil_solid"],
        "blocked_coils": 1.5,
        "gap_min_m": 0.012,
        "gap_max_m": 0.03,
        "insert_rate_n_per_m": 60e3,
    },
    "replacement_spring": {"springs": ["leaf_solid", "coil_solid"], "rate_n_per_m": 55e3, "load_at_height_n": 4600},
    "rubber_shackle": {"springs": ["leaf_solid"], "rate_n_per_m": 300e3},
    "torsion_adjuster": {"springs": ["torsion_bar_independent"], "shift_max_m": 0.05, "per_turn_m": 0.004},
    "anti_roll_bar": {"springs": ["leaf_solid"], "stiffness_nm_per_rad": [9e3, 12e3, 16e3]},
    "weight_hitch": {
        "springs": ["leaf_solid"],
        "tongue_min_kg": 80,
        "tongue_max_kg": 300,
        "trailer_max_kg": 3000,
        "share_max": 0.6,
    },
    "hitch_damper": {"springs": ["leaf_solid"], "moment_nm": 300, "trailer_min_kg": 500, "trailer_max_kg": 2000},
    "steering_stabilizer": {"springs": ["leaf_solid"], "stroke_m": 0.2, "damping_ns_per_m": 1500},
    "damper": {
        "springs": ["leaf_solid"],
        "shut_m": 0.35,
        "open_m": 0.56,
        "clicks": [
            {"bump": [[0.1, 150], [0.3, 350]], "rebound": [[0.1, 300], [0.3, 700]]},
            {"bump": [[0.3, 500]], "rebound": [[0.3, 1000]]},
        ],
    },
}
WRONG: dict[str, tuple[dict[str, Any], ...]] = {
    "coil_assist": ({"rate_n_per_m": 0}, {"per_step_n": -1}, {"steps_max": 0}, {"by": "click"}, {"hole": 3}),
    "added_leaf": ({"rate_n_per_m": -1}, {"arch_m": 2}, {"preloads_n": [1]}),
    "coil_block": ({"blocked_coils": 0}, {"gap_min_m": 0}, {"insert_rate_n_per_m": -5}),
    "replacement_spring": ({"rate_n_per_m": 0}, {"load_at_height_n": "much"}, {"second_rate_n_per_m": -1}),
    "rubber_shackle": ({"rate_n_per_m": 0}, {"bush": 1}),
    "torsion_adjuster": ({"shift_max_m": 0}, {"per_turn_m": -0.1}),
    "anti_roll_bar": ({"stiffness_nm_per_rad": [9e3, 8e3]}, {"stiffness_nm_per_rad": []}),
    "weight_hitch": ({"tongue_min_kg": 400}, {"share_max": 1.2}, {"trailer_max_kg": "heavy"}),
    "hitch_damper": ({"trailer_min_kg": 3000}, {"moment_nm": 0}),
    "steering_stabilizer": ({"stroke_m": 0}, {"damping_ns_per_m": "firm"}),
    "damper": ({"clicks": []}, {"open_m": 0.2}, {"clicks": [{"bump": [[0.3, 5], [0.1, 6]], "rebound": [[0.3, 9]]}]}),
}
"""Data of each family that cannot be, on top of an entry that can."""
KITS = {"air_spring": AIR, "insert": INSERT, "helper_leaf": LEAF} | {
    family: read_kit({"code": f"T-{family.upper()[:8]}", "name": family, "family": family} | COMMON | entry)
    for family, entry in ENTRIES.items()
}


def job_for(kit: Kit) -> Job:
    """Return a measured job whose rear spring the kit is made for."""
    spring = "leaf_solid" if "leaf_solid" in kit.springs else kit.springs[0]
    one = job()
    return one.model_copy(update={"vehicle": one.vehicle.model_copy(update={"rear_spring": spring})})


def _even(state: JobState) -> JobState:
    """Return a state whose load stands in the middle of it."""
    items = tuple(item.model_copy(update={"lateral_m": 0.0}) for item in state.items)
    return state.model_copy(update={"items": items, "corners_kg": None})


class Families(unittest.TestCase):
    def test_one_of_each_is_tried(self) -> None:
        """No family is left out of the properties below."""
        self.assertEqual(set(KITS), set(FAMILIES))

    def test_every_kit_stands_on_both_sides(self) -> None:
        """On a vehicle that is alike on both sides a kit set alike leaves it level: none presses, or changes a spring, on one side alone."""
        for family, kit in KITS.items():
            one = job_for(kit)
            even = one.model_copy(update={"readings": (), "states": tuple(_even(s) for s in one.states)})
            model = build_model(even)
            vehicle = with_kit(even, model.vehicle, kit, least(family_of(kit).spans(kit)), state=target_state(model))
            for found in model.solve(vehicle).values():
                with self.subTest(family=family, state=found.name):
                    self.assertAlmostEqual(float(found.ground_drop["RL"]), float(found.ground_drop["RR"]), places=6)
                    self.assertAlmostEqual(float(found.ground_drop["FL"]), float(found.ground_drop["FR"]), places=6)

    def test_more_lifts_more(self) -> None:
        """From the least to the most of what it is set by, a kit lifts its axle in the loaded state and never lowers it."""
        for key, kit in KITS.items():
            with self.subTest(key):
                model = build_model(job_for(kit))
                for name, span in family_of(kit).spans(kit).items():
                    values = [span.low + share * (span.high - span.low) for share in (0.0, 0.5, 1.0)]
                    drops = [
                        float(
                            model.solve(with_kit(model.job, model.vehicle, kit, {name: (v, v)}, state="loaded"))[
                                "loaded"
                            ].d_r
                        )
                        for v in values
                    ]
                    drops = [round(d, 6) for d in drops]
                    self.assertEqual(drops, sorted(drops, reverse=True))
                    self.assertEqual(drops[0] - drops[-1] > 1e-4, family_of(kit).lifts)

    def test_those_that_are_not_set(self) -> None:
        """What is only fitted lifts the loaded vehicle, a shackle lets it down, and what lifts nothing moves no height and says what it is for."""
        for key, kit in KITS.items():
            family, model = family_of(kit), build_model(job_for(kit))
            with self.subTest(key):
                plain = model.solve()["loaded"]
                on = model.solve(with_kit(model.job, model.vehicle, kit, state="loaded"))["loaded"]
                lift = float(plain.d_r - on.d_r)
                if not family.lifts:
                    self.assertAlmostEqual(lift, 0.0, places=6)
                    self.assertIn("lifts nothing", family.does(model, kit, {}, "loaded")[0].in_units("metric"))
                    choice = shortlist(model, [kit]).choice(kit.code)
                    assert choice is not None
                    self.assertIsNone(choice.miss)
                elif not family.spans(kit) and not family.gives_back:  # what moves load has tests of its own
                    self.assertEqual(lift > 0.0, key != "rubber_shackle", lift)

    def test_the_nearest_step(self) -> None:
        """A family set step by step is set to the step whose height comes nearest, by trying them all."""
        for key, kit in KITS.items():
            family = family_of(kit)
            if not isinstance(family, AlikeFamily) or not family.spans(kit) or not family.lifts:
                continue
            with self.subTest(key):
                model = build_model(job_for(kit))
                found = shortlist(model, [kit])
                choice = found.choice(kit.code)
                assert choice is not None
                assert choice.miss is not None
                ((name, span),) = family.spans(kit).items()
                steps = [span.low + n * span.step for n in range(round((span.high - span.low) / span.step) + 1)]
                misses = []
                for value in steps:
                    vehicle = with_kit(model.job, model.vehicle, kit, {name: (value, value)}, state=found.state.key)
                    misses.append(abs(float(model.solve(vehicle)[found.state.key].d_r) - found.target.drop))
                self.assertAlmostEqual(abs(choice.miss), min(misses), places=6)

    def test_out_and_in_and_scaled(self) -> None:
        """A job with it on goes out and in the same; its page tells something; so many times as strong, its highest force is so too."""
        for key, kit in KITS.items():
            with self.subTest(key):
                family = family_of(kit)
                setting = {name: (span.high, span.high) for name, span in family.spans(kit).items()}
                one = job_for(kit).model_copy(update={"fitting": Fitting(kit=kit, setting=setting, state="loaded")})
                self.assertEqual(read_job(write_job(one)), one)
                self.assertTrue(family.shown(kit))
                self.assertTrue(family.care)
                self.assertAlmostEqual(
                    family.highest_force(family.scaled(kit, 1.25)), 1.25 * family.highest_force(kit), places=3
                )

    def test_on_the_wrong_spring(self) -> None:
        """On a spring it is not made for it is out; where nobody said which spring there is, that is to be looked at, never a pass."""
        for key, kit in KITS.items():
            with self.subTest(key):
                for spring, status in (("rubber_torsion_independent", "fail"), (None, "measure")):
                    one = job()
                    changed = one.model_copy(update={"vehicle": one.vehicle.model_copy(update={"rear_spring": spring})})
                    found = {c.key: c.status for c in fit_checks(changed, kit)}
                    self.assertEqual(found["spring"], status)

    def test_on_tapered_leaves(self) -> None:
        """An added leaf never goes there, whatever its list says; a helper only where its own list names it, and then with the caution."""
        base = job()
        tapered = base.model_copy(
            update={"vehicle": base.vehicle.model_copy(update={"rear_spring": "parabolic_solid"})}
        )
        listed = ("leaf_solid", "parabolic_solid")
        told = {
            (kit.family, springs): next(
                c for c in fit_checks(tapered, kit.model_copy(update={"springs": springs})) if c.key == "pack"
            )
            for kit in (KITS["added_leaf"], LEAF)
            for springs in (listed, ("leaf_solid",))
        }
        self.assertEqual(
            {who: c.status for who, c in told.items() if c.status == "pass"}, {("helper_leaf", listed): "pass"}
        )
        self.assertIn("never clamped into the spring", told["helper_leaf", listed].why.in_units("metric"))
        self.assertTrue(all(c.final for c in told.values() if c.status == "fail"))

    def test_data_that_cannot_be(self) -> None:
        """Each is refused with the place it stands at."""
        for key, changes in WRONG.items():
            entry = {"code": "T-1", "name": key, "family": key} | COMMON | ENTRIES[key]
            for change in changes:
                with self.subTest(key, change=change), self.assertRaises(FileFormatError) as caught:
                    read_kit(entry | change)
                self.assertIn(next(iter(change)), str(caught.exception))
