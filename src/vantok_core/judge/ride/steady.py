"""What a ride does not show by itself: damping that is left, the lean per g and how it is shared, how near it is to tipping, what a gust does, how it squats.

Source: method sections 6, 14 and 15. Figures of height are usual ones of the body, told as such; a tip margin is no promise: slower.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import sqrt

from vantok_core.base.errors import VantokError
from vantok_core.base.num import G
from vantok_core.base.say import Quantity, Say
from vantok_core.benches.roll_rate import tip_margin
from vantok_core.facts.classes import BODIES
from vantok_core.judge.ride.ready import Configuration, side_of, solved_in, usual_dampers
from vantok_core.judge.ride.thresholds import DAMPER_SPEED, GUST_SPEED, HIGH_SIGMA, LAUNCH, TOO_SOFT
from vantok_core.kits.damping_left import USUAL
from vantok_core.model import JobModel
from vantok_core.physics.elements.air import BUMP
from vantok_core.physics.stance.budget import RollParts, roll_parts
from vantok_core.physics.stance.report import StateReport, report
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName
from vantok_core.road.course import WIND
from vantok_core.road.plane import Car, gust_plane
from vantok_core.road.profile import gust_force
from vantok_core.road.ride_set import Damper
from vantok_core.road.squat import squat


@dataclass(frozen=True, slots=True, kw_only=True)
class Steady:
    """A row: its words, and the figure of each configuration (None: it cannot be told of it); note: what it rests on."""

    words: str
    values: tuple[Quantity | str | None, ...]
    note: Say


def steady_rows(model: JobModel, configurations: Sequence[Configuration], state: str) -> tuple[Steady, ...]:
    """Return what stands of each configuration in a state, row by row; one that cannot be solved has no figures."""
    found = [_of(model, one, state) for one in configurations]
    rows = []
    for key, (words, note) in ROWS.items():
        values = tuple(one.get(key) for one in found)
        if any(v is not None for v in values):
            rows.append(Steady(words=words, values=values, note=note))
    return tuple(rows)


ROWS: Mapping[str, tuple[str, Say]] = {
    "front damping": ("damping in front", Say("of critical; 0.25 is usual for dampers in order")),
    "rear damping": ("damping behind", Say("of critical; 0.25 is usual for dampers in order")),
    "front wanted": ("dampers in front for 0.25", Say("a wheel, mean of bump and rebound")),
    "rear wanted": ("dampers behind for 0.25", Say("a wheel, mean of bump and rebound")),
    "roll": ("leans for each g sideways", Say("height of the mass usual for its body")),
    "share": ("of that held by the rear", Say("more at the rear: its tail loosens first")),
    "tip": ("inner wheels lift at", Say("give or take a tenth: nobody measured how high its mass stands")),
    "gust": (
        "a gust has it aside by",
        Say(
            "wheel held straight, one second at {speed}, wind of {wind}; it presses where the mass lies",
            {"speed": Quantity(GUST_SPEED, "speed"), "wind": Quantity(WIND, "speed")},
        ),
    ),
    "squat": (
        "a hard start sinks the tail",
        Say("{start}; what the axle's links hold is not in it", {"start": Quantity(LAUNCH, "acceleration")}),
    ),
}
"""The rows in their order: words, and what each rests on."""


def _of(model: JobModel, one: Configuration, state: str) -> dict[str, Quantity | str]:
    try:
        solved = solved_in(model, one, state)
        told = report(one.vehicle, solved)
    except VantokError:
        return {}
    stiff = {axle: _roll_stiffness(one, axle, roll_parts(solved, axle, BUMP)) for axle in AXLES}
    return {
        **_damping(one, told, usual_dampers(model)),
        **_rolling(model, one, told, stiff),
        **_blown(model, told),
        **_squat(model, one, told, state),
    }


def _damping(one: Configuration, told: StateReport, own: Mapping[AxleName, Damper]) -> dict[str, Quantity | str]:
    """Return the damping ratio at each end, and the damper that would bring the usual one back where it is missed."""
    found: dict[str, Quantity | str] = {}
    for axle in AXLES:
        damper, axle_ = one.dampers.get(axle, own[axle]), one.vehicle.axle(axle)
        root = (
            sum(
                sqrt(max(float(told.bump_rate[c]), 1.0) * max(float(told.load[c]) / G - axle_.unsprung, 1.0))
                for c in AXLE_CORNERS[axle]
            )
            / 2.0
        )
        mean = float(damper.force(DAMPER_SPEED) - damper.force(-DAMPER_SPEED)) / (2.0 * DAMPER_SPEED) * damper.ratio**2
        ratio = mean / (2.0 * root)
        found[f"{axle} damping"] = f"{ratio:.2f}"
        if ratio < TOO_SOFT * USUAL:
            found[f"{axle} wanted"] = Quantity(2.0 * USUAL * root, "damping")
    return found


def _roll_stiffness(one: Configuration, axle: AxleName, parts: RollParts) -> float:
    """Return an axle's roll stiffness with its tyres in series (N m/rad)."""
    bars = sum(float(b.stiffness) for b in one.vehicle.axle(axle).bars)
    springs = parts.main + parts.others + parts.kit + bars
    tyres = parts.tyres
    return float(springs * tyres / (springs + tyres))


def _rolling(
    model: JobModel, one: Configuration, told: StateReport, stiff: Mapping[AxleName, float]
) -> dict[str, Quantity | str]:
    style = BODIES[model.job.vehicle.body]
    mass = sum(float(told.axle_load(a)) / G - 2.0 * one.vehicle.axle(a).unsprung for a in AXLES)
    pull = mass * G * style.roll_arm
    held = sum(stiff.values())
    if held <= pull:
        return {}
    rate = pull / (held - pull)
    track = 0.5 * (one.vehicle.front.track + one.vehicle.rear.track)
    margin, _ = tip_margin(track, style.centre_height, rate, style.centre_height - style.roll_arm)
    low, high = margin * (1.0 - HIGH_SIGMA), margin * (1.0 + HIGH_SIGMA)
    return {
        "roll": Quantity(rate, "angle"),
        "share": Quantity(stiff["rear"] / held, "percent"),
        "tip": f"{low:.2f} to {high:.2f} g",
    }


def _blown(model: JobModel, told: StateReport) -> dict[str, Quantity | str]:
    """Return what a gust of a second does, its pressure at the mass's centre."""
    loads = {axle: float(told.axle_load(axle)) / G for axle in AXLES}
    base, whole = model.vehicle.wheelbase, sum(loads.values())
    car = Car(m=whole, a=base * loads["rear"] / whole, b=base * loads["front"] / whole)
    push = gust_force(side_of(model).area, WIND)
    found = gust_plane(car, GUST_SPEED, push)
    return {"gust": Quantity(abs(found.side_offset), "length")}


def _squat(model: JobModel, one: Configuration, told: StateReport, state: str) -> dict[str, Quantity | str]:
    """Return how far the tail sinks at a hard start, solved like a state."""
    mass = sum(float(told.axle_load(a)) for a in AXLES) / G
    states = list((one.states or model.states).values())
    try:
        found = squat(one.vehicle, states, state, mass, LAUNCH, BODIES[model.job.vehicle.body].centre_height)
    except VantokError:
        return {}
    return {"squat": Quantity(float(found.squatting.d_r) - float(found.before.d_r), "length")}
