"""From a job's model to vehicles that can be driven: body, dampers, places on it, by configuration.

What nobody measured is a usual figure and is told as an estimate. Source: method sections 6, 7 and 15.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import sqrt

from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.facts import Kit
from vantok_core.facts.classes import BODIES
from vantok_core.judge.ride.thresholds import ARM_LEAST, BUMP_SHARE, ROOF_LEAST, SEAT_BEHIND, SEAT_SIDE
from vantok_core.kits.damping_left import USUAL
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.stance.states import SolvedState, solve_states
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName, LoadState, Vehicle
from vantok_core.road.course import DURATION, RATE, Body, Side, driven_over
from vantok_core.road.ride_set import Damper, ForceCurve, RidePoint, RideSet
from vantok_core.road.simulate import Ridden, ridden

SEAT_NAME, REAR_NAME = "driver", "rear axle"


@dataclass(frozen=True, slots=True, kw_only=True)
class Configuration:
    """A vehicle as it could be driven: its key and words; vehicle; load states where other than the model's own (load moved); dampers put on, with their
    setting, by axle."""

    key: str
    words: str
    vehicle: Vehicle
    states: Mapping[str, LoadState] | None = None
    dampers: Mapping[AxleName, Damper] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Over:
    """What is driven over: a piece's key, speed (m/s), the side a one-sided shape lies on, the state's key."""

    piece: str
    speed: float
    side: Side
    state: str


def damper_of(kit: Kit) -> Mapping[AxleName, Damper] | None:
    """Return a damper kit's dampers at its middle click; None for a kit that is none."""
    own = family_of(kit).of(kit)
    clicks = getattr(own, "clicks", ())
    if not clicks:
        return None
    click = clicks[(len(clicks) - 1) // 2]
    return {kit.axle: Damper(bump=ForceCurve(click.bump), rebound=ForceCurve(click.rebound))}


def usual_dampers(model: JobModel) -> dict[AxleName, Damper]:
    """Return the vehicle's own dampers: as a push test read them, else such as give a usual damping ratio on its own springs as it came.

    Formula: `c = 2 zeta sqrt(k m)` a wheel, k with air at its bump value, m what is sprung there. Source: method section 6.
    """
    reports = model.solve(model.bare)
    reference = next(iter(reports.values()))
    found: dict[AxleName, Damper] = {}
    for axle in AXLES:
        read = next((p for p in reversed(model.job.pushes) if p.axle == axle and p.phase == "before"), None)
        told = reports.get(read.state, reference) if read else reference
        mean = 2.0 * (read.damping if read else USUAL) * _root(model, told, axle)
        found[axle] = Damper(bump=2.0 * BUMP_SHARE / (1.0 + BUMP_SHARE) * mean, rebound=2.0 / (1.0 + BUMP_SHARE) * mean)
    return found


def _root(model: JobModel, told: StateReport, axle: AxleName) -> float:
    """Return sqrt(k m) at a wheel of an axle, mean of both (N s/m)."""
    unsprung = model.vehicle.axle(axle).unsprung
    each = [
        sqrt(max(float(told.bump_rate[c]), 1.0) * max(float(told.load[c]) / G - unsprung, 1.0))
        for c in AXLE_CORNERS[axle]
    ]
    return sum(each) / len(each)


def side_of(model: JobModel) -> Body:
    """Return what a side wind presses on, by the body's style (estimated)."""
    style, base = BODIES[model.job.vehicle.body], model.vehicle.wheelbase
    long = base * (1.0 + style.overhang) + abs(style.front_overhang)
    middle = 0.5 * (style.roof + ROOF_LEAST)
    return Body(
        area=long * (style.roof - ROOF_LEAST), height=max(middle - (style.centre_height - style.roll_arm), ARM_LEAST)
    )


def run_of(model: JobModel, over: Over, dampers: Mapping[AxleName, Damper], *, rate: float = RATE) -> RideSet:
    """Return the run of a configuration over a piece; rate: samples a second, Hz. Raises InputError as `driven_over`."""
    style = BODIES[model.job.vehicle.body]
    road, turn = driven_over(over.piece, over.speed, over.side, side_of(model))
    base = model.vehicle.wheelbase
    seat = [RidePoint(name=SEAT_NAME, station=SEAT_BEHIND * style.cab * base, lateral=SEAT_SIDE)] if style.cab else []
    return RideSet(
        speed=over.speed,
        duration=DURATION,
        road=road,
        manoeuvre=turn,
        dampers=dict(dampers),
        points=(*seat, RidePoint(name=REAR_NAME, station=base)),
        sample_rate=rate,
        arm=style.roll_arm,
    )


def ready(model: JobModel, one: Configuration, over: Over, own: Mapping[AxleName, Damper]) -> tuple[Ridden, RideSet]:
    """Return a configuration ready to be driven over a piece; own: the vehicle's own dampers.

    Raises InputError for a state the model does not know or a vehicle without wheels of its own in front, and as `solve_states`.
    """
    if BODIES[model.job.vehicle.body].trailer:
        raise InputError(
            "vehicle", "a trailer", "it is not driven by itself: its yaw behind the car is told on its own page"
        )
    run = run_of(model, over, {**own, **one.dampers})
    return ridden(one.vehicle, solved_in(model, one, over.state), run), run


def solved_in(model: JobModel, one: Configuration, state: str) -> SolvedState:
    """Return a configuration's equilibrium in a state. Raises InputError for a state the model does not know."""
    if state not in (model.states if one.states is None else one.states):
        raise InputError("state", state, "its load is not known well enough to drive it")
    if one.states is None:
        return model.solved(one.vehicle)[state]
    return solve_states(one.vehicle, list(one.states.values()), check_limits=False)[state]


def estimated(model: JobModel, configurations: Sequence[Configuration]) -> tuple[str, ...]:
    """Return what of the ride rests on usual figures, a line each: what would change it if it were measured."""
    found = []
    for axle in AXLES:
        if all(axle not in one.dampers for one in configurations) and not any(
            p.axle == axle and p.phase == "before" for p in model.job.pushes
        ):
            found.append(f"the {axle} dampers: a push test there tells them (Measure, by phone)")
    found.append("how heavy it is to pitch and to roll, and how high its mass stands: usual for its body")
    return tuple(found)
