"""What a setting does besides heights, state by state: rake, beam, caster, wheel angles, the front's load, stop gap, travel, what is restored and overshot.

Source: method section 4 (consequences).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from vantok_core.base.num import FloatArray
from vantok_core.base.say import Quantity
from vantok_core.benches.tyre import BrakeBalance, brake_balance
from vantok_core.facts import Fitting, JobState
from vantok_core.facts.classes import BODIES
from vantok_core.judge.grounds.pitched import beam_moved, caster_moved
from vantok_core.judge.grounds.shown import angles_gained, front_lost, stop_gaps, travel_of
from vantok_core.judge.grounds.towed import Towed, towed
from vantok_core.judge.set.thresholds import DRY, SAG_TOLD
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.fit import fitted_vehicle, weaker_vehicle
from vantok_core.loads.height import loaded_height
from vantok_core.model import JobModel
from vantok_core.physics.stance.budget import side_loads
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import AXLES


@dataclass(frozen=True, slots=True, kw_only=True)
class Consequence:
    """What a state is like with the kit on. rake: change from the reference (m); beam, caster (degrees), with their bands: None for a trailer; angles:
    degrees gained by name; front_lost: share of the front's load (None: not weighed); stop: least gap by axle (m); travel: share of the bump
    travel left by axle; restored: share of the sag taken out (None: there is none); over: how far it stands above the reference at the kit's
    axle (m, nought where it does not); brakes: which axle locks first on a dry road, by the usual share of brakes, the mass's height estimated
    (None for a trailer); force: of the kit left and right at the wheel (N; None for one that presses nothing);
    towed: how a trailer behind then stands (None: not known)."""

    state: str
    name: str
    rake: float
    beam: Quantity | None
    caster: Quantity | None
    angles: Mapping[str, float]
    front_lost: float | None
    stop: Mapping[str, float]
    travel: Mapping[str, float]
    restored: float | None
    over: float
    brakes: BrakeBalance | None
    force: tuple[float, float] | None
    towed: Towed | None


def consequences(model: JobModel, fitting: Fitting) -> tuple[Consequence, ...]:
    """Return what a kit at its setting does in every state the model can speak of, the reference first. Raises VantokError where it cannot be solved."""
    vehicle = fitted_vehicle(model, fitting)
    plain, on = model.solve(), model.solve(vehicle)
    other = on if KIT_ELEMENT in model.estimate.strength else model.solve(weaker_vehicle(model, fitting))
    trailer = BODIES[model.job.vehicle.body].trailer
    found = []
    for state in model.job.states:
        if state.key not in on or state.past:
            continue
        report, before = on[state.key], _drop(plain[state.key], fitting)
        now = _drop(report, fitting)
        gaps, base, errors = stop_gaps(report), model.vehicle.wheelbase, model.axle_errors(state.key, vehicle)
        if errors is not None:
            errors = errors + _of_kit(report, other[state.key])
        found.append(
            Consequence(
                state=state.key,
                name=state.name,
                rake=float(report.d_f - report.d_r),
                beam=None if trailer else beam_moved(report, base, BODIES[model.job.vehicle.body].lamp, errors),
                caster=None if trailer else caster_moved(report, base, errors),
                angles=angles_gained(model.job, report),
                front_lost=None if trailer else front_lost(model.job, state, report),
                stop=gaps,
                travel=travel_of(model, gaps),
                restored=(before - now) / before if before > SAG_TOLD else None,
                over=max(-now, 0.0),
                brakes=None if trailer else _brakes(model, state, report),
                force=side_loads(model.solved(vehicle)[state.key], fitting.kit.axle).get(KIT_ELEMENT),
                towed=towed(model, state, vehicle),
            )
        )
    return tuple(found)


def _of_kit(report: StateReport, weaker: StateReport) -> FloatArray:
    """Return what a kit's own spread adds to the covariance of front and rear drop (m2); weaker: with the kit a sigma weaker."""
    moved = [float(weaker.d_f - report.d_f), float(weaker.d_r - report.d_r)]
    return np.outer(moved, moved)


def _brakes(model: JobModel, state: JobState, report: StateReport) -> BrakeBalance:
    front, rear = (float(report.axle_load(axle)) for axle in AXLES)
    return brake_balance(DRY, rear / (front + rear), loaded_height(model.job, state), model.vehicle.wheelbase)


def _drop(report: StateReport, fitting: Fitting) -> float:
    return float(report.d_f if fitting.kit.axle == "front" else report.d_r)
