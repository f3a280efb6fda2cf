"""What is planned for later on top of the state judged (a heavy bar, a tank): how far each option then stands from the target, and what it then fails.

Larger tyres lift every option alike, and the target with them: they change no choice. Source: method section 4; method-2 section 8.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import hypot

from vantok_core.base.figure import Figure
from vantok_core.base.say import Say, length
from vantok_core.facts import JobState, PlannedChange
from vantok_core.facts.classes import PLAN_SHARE
from vantok_core.kits.choice import Choice, Later
from vantok_core.kits.fit import rated_checks
from vantok_core.model import JobModel
from vantok_core.physics.stance.report import StateReport, report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLES, AxleName, Item, Vehicle

PLANNED = "planned"


def rise_of(model: JobModel, change: PlannedChange, vehicle: Vehicle) -> dict[AxleName, Figure]:
    """Return how much higher each axle would stand on the ground (m); sigma from the rates and from a planned mass.

    The springs' part is as sure as the rates and the mass are; what larger tyres lift is taken as stated.
    """
    sunk = sunk_by(model, change, vehicle, _then(model, change, vehicle))
    return {axle: Figure(value=change.larger_tyre_m - one.value, sigma=one.sigma) for axle, one in sunk.items()}


def sunk_by(model: JobModel, change: PlannedChange, vehicle: Vehicle, then: StateReport) -> dict[AxleName, Figure]:
    """Return how much further down each axle of a vehicle stands once a planned mass is on (m); then: its report with it."""
    now = model.solve(vehicle)[change.state]
    sinks = {"front": float(then.d_f) - float(now.d_f), "rear": float(then.d_r) - float(now.d_r)}
    covariance = model.estimate.covariance
    return {
        axle: Figure(value=sinks[axle], sigma=abs(sinks[axle]) * hypot(PLAN_SHARE, float(covariance[i, i]) ** 0.5))
        for i, axle in enumerate(AXLES)
    }


def _then(model: JobModel, change: PlannedChange, vehicle: Vehicle) -> StateReport:
    base = model.states[change.state]
    item = Item(mass=change.mass_kg, station=change.station_m, lateral=change.lateral_m, name=PLANNED)
    more = replace(base, name=PLANNED, items=(*base.items, item))
    solved = solve_states(vehicle, [*model.states.values(), more], check_limits=False)
    return report(vehicle, solved[PLANNED])


def with_planned(model: JobModel, state: JobState, choices: Sequence[Choice]) -> list[Choice]:
    """Return the choices, each with where it stands once each planned mass of the state is on; one whose kit that overloads is out, with that reason."""
    changes = [c for c in model.job.planned if c.state == state.key and c.mass_kg]
    for change in changes:
        choices = [_with(model, state, change, one) for one in choices]
    return list(choices)


def _with(model: JobModel, state: JobState, change: PlannedChange, one: Choice) -> Choice:
    if one.miss is None or one.drop is None:
        return one
    vehicle = one.vehicle or model.vehicle
    then = _then(model, change, vehicle)
    sunk = sunk_by(model, change, vehicle, then)["rear"]
    failed = [c for c in rated_checks(one.kit, state, then) if c.status == "fail"] if one.kit is not None else []
    out = [
        Say("Once {change} is on, {words}: {why}", {"change": change.name, "words": c.words, "why": c.why})
        for c in failed
        if not any(c.key == now.key and now.status == "fail" for now in one.checks)
    ]
    off = -(one.miss + sunk.value)
    told = Say(
        "Once {change} is on, the rear stands {off} from the target, set as it is for now.",
        {"off": length(off, signed=True), "change": change.name},
    )
    later = Later(name=change.name, sunk=sunk)
    return replace(one, later=(*one.later, later), notes=(*one.notes, told), out=(*one.out, *out))
