"""Simulated fittings, right ones and ones with a planted fault, to see how often the proof says what is so.

Each vehicle is drawn from the class, measured empty and loaded as a technician would, fitted with a bellows kit of its own
strength, and measured again. A right job should end inside in nine of ten; a planted fault should be named.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import exp
from typing import Literal

import numpy as np

from vantok_core.facts import Fitting, Job, JobReading, JobState, JobVehicle, Kit, LoadItem
from vantok_core.facts.classes import SPRINGS
from vantok_core.judge.proof_bands import KIT_SIGMA
from vantok_core.judge.prove import prove
from vantok_core.kits.fit import with_kit
from vantok_core.kits.registry import read_kit
from vantok_core.model import build_model
from vantok_core.physics.stance.report import report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import CORNERS, Item, LoadState, Vehicle
from vantok_core.practice.truth import true_rates

Fault = Literal["", "corner", "rear", "front"]
FAULTS: tuple[Fault, ...] = ("corner", "rear", "front")
HEIGHTS = {"FL": 0.87, "FR": 0.87, "RL": 0.95, "RR": 0.95}
PRESSURES = (1e5, 2e5, 4e5, 7e5)


@dataclass(frozen=True, slots=True, kw_only=True)
class ProofTrial:
    """One proof: the planted fault (empty: none), whether it ended inside, and whether what it named was the fault."""

    fault: Fault
    inside: bool
    named: bool


def proof_trials(rng: np.random.Generator, count: int, *, faulty: bool) -> list[ProofTrial]:
    """Return `count` simulated proofs, each with one planted fault or none."""
    return [_trial(rng, FAULTS[n % len(FAULTS)] if faulty else "") for n in range(count)]


def bellows(strength: float = 1.0) -> Kit:
    """Return the simulated kit, so many times as strong as its data (a ratio)."""
    areas = [a * strength for a in (0.0128, 0.0116, 0.0094)]
    data: dict[str, object] = {
        "code": "SIM", "name": "Simulated bellows", "maker": "Nobody", "family": "air_spring", "springs": ["leaf_solid"], "price": 1,
        "hours": 1, "p_min_pa": 35e3, "p_max_pa": 690e3, "heights_m": [0.09, 0.15, 0.21], "pressures_pa": list(PRESSURES),
        "loads_n": [[p * a for p in PRESSURES] for a in areas], "volume_m3": 0.0019, "volume_at_m": 0.165, "pad_min_m": 0.1,
        "pad_max_m": 0.22,
    }  # fmt: skip
    return read_kit(data)


def _trial(rng: np.random.Generator, fault: Fault) -> ProofTrial:
    job = drawn_job(rng)
    truth, states = drawn_truth(rng, job)
    stands = {c: h + float(rng.normal(0.0, 0.004)) for c, h in HEIGHTS.items()}
    kit, set_at = bellows(), float(rng.uniform(1.5e5, 4e5))
    pads = tuple(JobReading(state="empty", datum="pad_to_pad", place=c, value_m=0.165) for c in ("RL", "RR"))
    job = job.model_copy(update={"readings": (*read_all(rng, job, truth, states, stands, "before"), *pads)})
    leaked = rng.uniform(0.3, 0.5) if fault == "rear" else 1.0
    really = bellows(exp(rng.normal(0.0, KIT_SIGMA)))
    fitted = with_kit(job, truth, really, {"pressure_pa": (set_at * leaked,) * 2}, state="loaded")
    after = _planted(rng, read_all(rng, job, fitted, states, stands, "after"), fault)
    fitting = Fitting(kit=kit, setting={"pressure_pa": (set_at, set_at)}, state="loaded", done=True)
    proof = prove(build_model(job.model_copy(update={"readings": (*job.readings, *after[0]), "fitting": fitting})))
    assert proof is not None and proof.inside is not None
    suspect = proof.suspect
    named = suspect is not None and suspect.named == fault and suspect.corner == after[1]
    return ProofTrial(fault=fault, inside=proof.inside, named=named)


def drawn_job(rng: np.random.Generator) -> Job:
    """Return a vehicle of the class with its empty and one loaded state, nothing read yet."""
    front, rear = rng.uniform(1350, 1750), rng.uniform(1500, 2100)
    spring = str(rng.choice(["leaf_solid", "parabolic_solid", "coil_solid", "two_stage_leaf_solid"]))
    base = float(rng.uniform(2.9, 4.0))
    item = LoadItem(name="load", mass_kg=float(rng.uniform(150, 500)), station_m=float(rng.uniform(0.8, 1.12)) * base)
    return Job(
        vehicle=JobVehicle(
            wheelbase_m=base, track_front_m=1.7, track_rear_m=1.7, front_spring="coil_independent", rear_spring=spring,
            tyres="light_truck", gross_kg=front + rear, front_axle_kg=front, rear_axle_kg=rear,
        ),
        states=(
            JobState(key="empty", name="Empty", empty=True, front_kg=0.75 * front, rear_kg=0.52 * rear),
            JobState(key="loaded", name="Loaded", items=(item,)),
        ),
    )  # fmt: skip


def _planted(rng: np.random.Generator, readings: list[JobReading], fault: Fault) -> tuple[list[JobReading], str]:
    """Return the readings with the fault in them, and the corner it sits at (empty: none)."""
    off = float(rng.choice([-1.0, 1.0]) * rng.uniform(0.018, 0.035))
    if fault == "corner":
        n = int(rng.integers(len(readings)))
        changed = readings[n].model_copy(update={"value_m": readings[n].value_m + off})
        return [changed if i == n else r for i, r in enumerate(readings)], readings[n].place
    if fault == "front":
        up = abs(off)
        lifted = {(r.state, r.place) for r in readings if r.state == "loaded" and r.place[0] == "F"}
        return [
            r.model_copy(update={"value_m": r.value_m + up}) if (r.state, r.place) in lifted else r for r in readings
        ], ""
    return readings, ""


def drawn_truth(rng: np.random.Generator, job: Job) -> tuple[Vehicle, list[LoadState]]:
    """Return the vehicle as it truly is and the loads as they truly weigh and lie."""
    prior = build_model(job).prior
    true = true_rates(rng, prior)
    states = [LoadState(name="empty")]
    for state in job.loaded:
        items = tuple(
            Item(
                mass=i.mass_kg + float(rng.normal(0.0, max(0.06 * i.mass_kg, 2.0))), station=i.station_m,
                lateral=float(rng.normal(0.0, 0.1)), name=i.name,
            )
            for i in state.items
        )  # fmt: skip
        states.append(LoadState(name=state.key, items=items))
    return true, states


def read_all(
    rng: np.random.Generator, job: Job, vehicle: Vehicle, states: list[LoadState], stands: dict[str, float],
    phase: Literal["before", "after"],
) -> list[JobReading]:  # fmt: skip
    """Return the four corners in every state, each with its own scatter, to the millimetre."""
    solved, found = solve_states(vehicle, states, check_limits=False), []
    for state in states:
        drops = report(vehicle, solved[state.name]).ground_drop
        for corner in CORNERS:
            kind = job.vehicle.front_spring if corner[0] == "F" else job.vehicle.rear_spring
            value = stands[corner] - float(drops[corner]) + float(rng.normal(0.0, SPRINGS[kind or ""].settle))
            found.append(
                JobReading(state=state.name, datum="ground_arch", place=corner, phase=phase, value_m=round(value, 3))
            )
    return found
