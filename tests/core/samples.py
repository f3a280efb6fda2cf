"""Vehicles and jobs that the core's tests share. All invented."""

from __future__ import annotations

from typing import Any

from vantok_core.facts import Job, JobReading, JobState, JobVehicle, LoadItem
from vantok_core.files.vehicle_file import read_vehicle
from vantok_core.kits.registry import read_kit
from vantok_core.physics.vehicle import Item, LoadState, Vehicle

PRESSURES = [100e3, 200e3, 400e3, 600e3, 700e3]
AREAS = [0.0142, 0.0135, 0.0126, 0.0114, 0.0096]
AIR = read_kit(
    dict(
        code="A-2",
        name="Test bellows",
        maker="Nobody Air",
        family="air_spring",
        springs=["leaf_solid", "two_stage_leaf_solid"],
        gross_min_kg=2400,
        gross_max_kg=4000,
        place=0.56,
        price=480,
        hours=3.5,
        upkeep_per_year=25,
        p_min_pa=35e3,
        p_max_pa=690e3,
        heights_m=[0.10, 0.13, 0.16, 0.19, 0.22],
        pressures_pa=PRESSURES,
        loads_n=[[p * a for p in PRESSURES] for a in AREAS],
        volume_m3=0.0021,
        volume_at_m=0.17,
        pad_min_m=0.14,
        pad_max_m=0.20,
        side_space_m=0.015,
    )
)
INSERT = read_kit(
    dict(
        code="R-1",
        name="Test rubber",
        maker="Nobody Rubber",
        family="insert",
        springs=["leaf_solid"],
        place=0.60,
        price=210,
        hours=1.2,
        points=[[0.01, 450], [0.02, 1150], [0.035, 3000], [0.05, 6400], [0.06, 10500]],
        replaces_stop=True,
        longer_m=0.02,
        gap_max_m=0.05,
        spacers_m=[0.006, 0.012],
        contact=True,
    )
)


def pickup(**rear: Any) -> Vehicle:
    """Return a leaf-sprung pickup; `elements` adds rear elements, other names change rear axle fields."""
    extra = rear.pop("elements", [])
    return read_vehicle(
        {
            "wheelbase": 3.55,
            "front": {
                "type": "independent",
                "track": 1.7,
                "unsprung": 48.0,
                "tyre_rate": 260e3,
                "ref_load": [6900.0, 6900.0],
                "elements": [{"law": "coil", "role": "main", "k": 110e3, "i": 0.6}],
            },
            "rear": {
                "type": "solid",
                "track": 1.7,
                "unsprung": 62.0,
                "tyre_rate": 260e3,
                "ref_load": [5100.0, 5100.0],
                "elements": [{"law": "leaf", "role": "main", "k": 38e3, "y": 0.52}, *extra],
                **rear,
            },
        }
    )


def loaded(mass: float = 450.0, station: float = 3.5, lateral: float = 0.0, name: str = "loaded") -> LoadState:
    """Return a state with one item."""
    return LoadState(name=name, items=(Item(mass=mass, station=station, lateral=lateral, name="item"),))


def reading(state: str, place: str, value: float, datum: str = "ground_arch", phase: str = "before") -> JobReading:
    """Return a reading in metres."""
    return JobReading(state=state, place=place, value_m=value, datum=datum, phase=phase)  # type: ignore[arg-type]


def job(**changes: Any) -> Job:
    """Return a measured job: a pickup whose rear sags 60-odd mm with a trailer and cargo."""
    heights = {
        "empty": {"FL": 0.872, "FR": 0.870, "RL": 0.948, "RR": 0.946},
        "loaded": {"FL": 0.881, "FR": 0.885, "RL": 0.886, "RR": 0.890},
    }
    facts: dict[str, Any] = {
        "number": "T-1",
        "vehicle": JobVehicle(
            body="pickup",
            wheelbase_m=3.55,
            hitch_overhang_m=1.25,
            track_front_m=1.7,
            track_rear_m=1.7,
            front_spring="coil_independent",
            rear_spring="leaf_solid",
            tyres="light_truck",
            gross_kg=3200,
            front_axle_kg=1600,
            rear_axle_kg=1900,
            hitch_kg=350,
            towed_kg=3500,
            combination_kg=6000,
        ),
        "states": (
            JobState(key="empty", name="Empty", empty=True, front_kg=1210, rear_kg=890),
            JobState(
                key="loaded",
                name="Boat on",
                tongue_kg=190,
                trailer_kg=1500,
                items=(LoadItem(name="baskets", mass_kg=300, station_m=3.6, lateral_m=0.1, movable=True),),
            ),
        ),
        "readings": (
            *(reading(s, p, v) for s, row in heights.items() for p, v in row.items()),
            *(reading("empty", p, 0.06, "stop_gap") for p in ("RL", "RR")),
            *(reading("empty", p, 0.165, "pad_to_pad") for p in ("RL", "RR")),
        ),
    }
    return Job(**(facts | changes))
