"""A job on which everything is known that a job can hold, and the same job with one fact otherwise. All invented."""

from __future__ import annotations

import json
import random
from collections.abc import Iterator
from typing import Any

from vantok_core.base.errors import FileFormatError
from vantok_core.facts import Job
from vantok_core.files.job_file import read_job, write_job
from vantok_core.practice.planted_jobs import planted

LESS, MORE = 0.8, 1.25
SHEET = (
    "version",
    "hour_price",
    "fitting.kit.fasteners",
    "fitting.kit.care",
    "fitting.kit.price",
    "fitting.kit.hours",
    "fitting.kit.upkeep",
)
"""What of a job is told elsewhere: its kit's sheet (`tests/told/cards.txt`), prices."""
VEHICLE = {
    "front_overhang_m": 0.9,
    "rear_overhang_m": 1.3,
    "over_all_m": 2.4,
    "hitch_overhang_m": 1.25,
    "track_front_m": 1.7,
    "track_rear_m": 1.68,
    "front_tyre_index": 112,
    "rear_tyre_index": 112,
    "front_tyre_most_pa": 550e3,
    "rear_tyre_most_pa": 550e3,
    "front_wheel_kg": 1150.0,
    "rear_wheel_kg": 1150.0,
    "hitch_kg": 180.0,
    "towed_kg": 2500.0,
    "combination_kg": 5600.0,
    "front_camber_gain": -12.0,
    "front_toe_gain": 5.0,
    "front_droop_m": 0.09,
    "rear_droop_m": 0.11,
    "own": {"tyre-rear": 2.6e5, "unsprung-rear": 75.0},
    "points": [{"key": "step", "name": "step", "station_m": 1.0, "lateral_m": 0.9}],
    "equipment": [
        {"kind": "bar_front", "fitted": "factory"},
        {"kind": "dampers", "fitted": "perished", "note": "weeps"},
        {"kind": "stops", "fitted": "factory"},
    ],
    "steering": "rack",
}
LOADED = {
    "items": [
        {"name": "crates", "mass_kg": 190.0, "station_m": 3.3, "lateral_m": 0.2, "height_m": 1.1, "movable": True},
        {"name": "bench", "mass_kg": 45.0, "station_m": 2.2, "lateral_m": -0.4},
    ],
    "tanks": [
        {"name": "fresh water", "capacity_l": 60.0, "fill": 0.5, "station_m": 3.9},
        {"name": "day tank", "capacity_l": 30.0, "fill": 0.4, "kg_per_l": 0.85, "station_m": 0.7},
    ],
    "people": [{"count": 2, "mass_kg": 78.0, "station_m": 1.4}],
    "tongue_kg": 90.0,
    "trailer_kg": 1100.0,
    "trailer_axle_m": 3.6,
    "trailer_level_m": 0.43,
    "restored": 0.3,
    "trailer_items": [
        {"name": "trailer", "mass_kg": 480.0, "behind_ball_m": 3.5},
        {"name": "boxes", "mass_kg": 600.0, "behind_ball_m": 3.4},
    ],
    "trailer_axle_rating_kg": 1350.0,
    "trailer_tyres_kg": 1400.0,
    "trailer_scale_kg": 1010.0,
    "condition": {
        "fuel": 0.5,
        "water": 0.5,
        "people": 2,
        "tyres_pa": {"FL": 300e3, "FR": 295e3, "RL": 330e3, "RR": 300e3},
        "kelvin": 284.0,
        "settled": True,
        "odometer_km": 81_500.0,
    },
}
JOB: dict[str, Any] = {
    "complaints": [
        {"code": "sags", "load": "loaded"},
        {"code": "wanders", "speed_mps": 25.0, "road": "ruts", "load": "hitched"},
        {"code": "kick", "road": "bumps"},
        {"code": "tyres", "answer": "better", "cause": "toe"},
    ],
    "use": ["towing"],
    "odometer_km": 81_500.0,
    "inspection": [
        {"area": "dampers", "grade": "fault", "note": "weeps", "where": ["RL"], "after": "fine"},
        {"area": "bushes", "grade": "watch", "where": ["RR"]},
        {"area": "tyres", "grade": "fine"},
    ],
    "space_left_m": 0.03,
    "space_right_m": 0.028,
    "lines": "clear",
    "planned": [
        {"key": "rack", "name": "roof rack", "state": "loaded", "mass_kg": 70.0, "station_m": 1.9},
        {"key": "tyres", "name": "larger tyres", "state": "loaded", "larger_tyre_m": 0.015},
    ],
    "levels": [
        {"state": "empty", "pitch": 0.012, "lean": 0.002, "sigma": 0.0026},
        {"state": "loaded", "pitch": -0.008, "lean": 0.006, "sigma": 0.0026},
    ],
    "pushes": [
        {
            "state": "loaded",
            "axle": "rear",
            "frequency": 1.9,
            "frequency_sigma": 0.05,
            "damping": 0.19,
            "damping_sigma": 0.03,
        },
        {
            "state": "empty",
            "axle": "front",
            "frequency": 1.5,
            "frequency_sigma": 0.04,
            "damping": 0.31,
            "damping_sigma": 0.03,
        },
    ],
    "tread": [
        {"place": "FL", "inner_m": 0.0031, "middle_m": 0.0052, "outer_m": 0.0058},
        {"place": "RR", "inner_m": 0.0044, "middle_m": 0.0029, "outer_m": 0.0046},
    ],
    "aligned": {
        "camber_fl": -0.4,
        "camber_fr": -0.9,
        "toe_fl": 0.11,
        "toe_fr": 0.12,
        "caster_fl": 3.1,
        "caster_fr": 3.4,
    },
    "aligned_after": {"camber_fl": -0.6, "camber_fr": -1.0, "toe_fl": 0.05, "toe_fr": 0.07, "caster_fl": 2.4},
    "class_learnt": [{"axle": "rear", "factor": 1.08, "sigma_ln": 0.12, "n": 9}],
    "proving": {
        "leaks": [
            {
                "key": "l1",
                "side": "both",
                "p1_pa": 350e3,
                "kelvin_1": 291.0,
                "began": "2026-05-04T09:00:00+00:00",
                "p2_pa": 343e3,
                "kelvin_2": 288.0,
                "ended": "2026-05-04T21:00:00+00:00",
                "soaped": True,
            }
        ],
        "clearances": [
            {"what": "frame_tyre", "where": "rest", "how": "wheels_off", "found": "clear", "left_m": 0.016},
            {"what": "lines", "where": "droop", "how": "hand", "found": "touches"},
        ],
        "drives": [
            {
                "key": "d1",
                "moment": "before",
                "rater": "owner",
                "course": "ditch",
                "speed_kmh": 8.0,
                "grades": {"bottoms": "poor", "roll": "marginal"},
                "felt": ["thud"],
            },
            {
                "key": "d2",
                "moment": "after",
                "rater": "owner",
                "course": "ditch",
                "speed_kmh": 8.0,
                "grades": {"bottoms": "fine", "roll": "marginal"},
                "expected": "no thud",
                "foreseen": {"bottoms": "better", "roll": "same"},
            },
        ],
        "loops": [
            {"key": "o1", "what": "0.3 bar more", "why": "low", "outcome": "better", "basis": "read", "stays": "kept"}
        ],
        "logs": [
            {
                "key": "g1",
                "moment": "before",
                "course": "washboard",
                "speed_kmh": 40.0,
                "rate": 100.0,
                "seconds": 30.0,
                "pieces": [2.1, 2.3, 2.0, 2.6, 2.2, 2.4],
                "peak": 14.0,
                "jolts": 3,
            },
            {
                "key": "g2",
                "moment": "after",
                "course": "washboard",
                "speed_kmh": 41.0,
                "rate": 100.0,
                "seconds": 28.0,
                "pieces": [1.5, 1.6, 1.7, 1.4, 1.6],
                "peak": 9.0,
                "jolts": 1,
            },
        ],
    },
}
READ: dict[str, Any] = {"friction_m": 0.003, "floor_m": 0.002}


def full_job() -> Job:
    """Return a planted job that was proved, with all the rest told of it too."""
    told = json.loads(write_job(next(one.job for one in planted() if one.key == "proved")))
    told |= JOB | {"vehicle": told["vehicle"] | VEHICLE}
    told["states"] = [state if state["empty"] else state | LOADED for state in told["states"]]
    told["readings"] = [one | READ if one["place"] == "RL" else one for one in told["readings"]]
    return read_job(json.dumps(told))


def leaves(told: Any, path: tuple[str | int, ...] = ()) -> Iterator[tuple[tuple[str | int, ...], Any]]:
    """Yield every figure, yes or no, and what is one of a few words, with its path."""
    if isinstance(told, dict):
        for key, value in told.items():
            yield from leaves(value, (*path, key))
    elif isinstance(told, list | tuple):
        for n, value in enumerate(told):
            yield from leaves(value, (*path, n))
    elif isinstance(told, bool | int | float):
        yield path, told


def put(told: Any, path: tuple[str | int, ...], value: Any) -> Any:
    """Return what was told with another value at a path."""
    if not path:
        return value
    if isinstance(told, dict):
        return told | {path[0]: put(told[path[0]], path[1:], value)}
    return [put(one, path[1:], value) if n == path[0] else one for n, one in enumerate(told)]


def otherwise(job: Job, seed: int = 1) -> Iterator[tuple[str, Job]]:
    """Yield a job, as a file tells it, with one fact less or more, not known or the other way; of facts that stand there several times one by chance."""
    told, dice = json.loads(write_job(job)), random.Random(seed)
    alike: dict[str, list[tuple[tuple[str | int, ...], Any]]] = {}
    for path, value in leaves(told):
        alike.setdefault(".".join(one for one in path if isinstance(one, str)), []).append((path, value))
    for name, found in alike.items():
        path, value = dice.choice(found)
        if name.startswith(SHEET):
            continue
        tries = (not value,) if isinstance(value, bool) else (type(value)(value * dice.choice((LESS, MORE))), None)
        for other in tries:
            try:
                changed = read_job(json.dumps(put(told, path, other)))
            except FileFormatError:
                continue
            if changed != job:
                yield f"{name} {'not known' if other is None else other}", changed
