"""What lies to one side: read off the heights as a couple, or off pads.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from math import hypot

from vantok_core.base.errors import StateError
from vantok_core.base.num import G
from vantok_core.facts import Job
from vantok_core.model.readings import AXLE_DATUM, reading_own_sigma
from vantok_core.physics.stance.report import report
from vantok_core.physics.stance.states import SolvedState, solve_states
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, Item, LoadState, Vehicle
from vantok_core.rates.places import Place, place_drop

SIDE = "side"
"""What the items of an inferred couple are called."""
SIDE_COUPLE_ARM = 0.5
"""Arm (m) of the pair of masses that stands for a load off to one side."""


def side_couple(moment: float) -> tuple[Item, Item]:
    """Return two items that together are a pure roll couple (N m, left side down positive)."""
    mass = moment / (2.0 * SIDE_COUPLE_ARM * G)
    return (
        Item(mass=mass, station=0.0, lateral=SIDE_COUPLE_ARM, name=SIDE),
        Item(mass=-mass, station=0.0, lateral=-SIDE_COUPLE_ARM, name=SIDE),
    )


def with_side_couples(
    job: Job, vehicle: Vehicle, states: dict[str, LoadState]
) -> tuple[dict[str, LoadState], dict[str, float]]:
    """Return the states with the side load that the left/right readings show, where no pads weighed it, empty and loaded."""
    assert job.empty is not None
    found, side = dict(states), {}
    for state in job.carried:
        if state.key not in states or (state.corners_kg is not None and job.empty.corners_kg is not None):
            continue
        moment = _side_moment(job, vehicle, states[state.key], state.key)
        if moment is not None:
            side[state.key] = moment
            found[state.key] = replace(states[state.key], items=(*states[state.key].items, *side_couple(moment)))
    return found, side


def with_pads(
    job: Job, vehicle: Vehicle, states: Mapping[str, LoadState], side: Mapping[str, float], assumed: list[str]
) -> Vehicle:
    """Return the vehicle with the empty left/right split that gives a loaded state the corner loads its pads read.

    Only where the empty vehicle itself stood on no pads. What the heights say of the load's own side is taken out of it first;
    where they say nothing, the load is taken as even, and that is told. Source: own derivation from the corners' balance.
    """
    assert job.empty is not None
    padded = next((s for s in job.loaded if s.corners_kg is not None and s.key in states), None)
    if job.empty.corners_kg is not None or padded is None or padded.corners_kg is None:
        return vehicle
    solved = solve_states(vehicle, list(states.values()), check_limits=False)[padded.key]
    loads = report(vehicle, solved).load
    changed = {}
    for i, axle in enumerate(AXLES):
        left, right = AXLE_CORNERS[axle]
        pads = padded.corners_kg[2 * i] - padded.corners_kg[2 * i + 1]
        shift = 0.5 * (pads * G - float(loads[left] - loads[right]))
        before = vehicle.axle(axle).ref_load
        now = (before[0] + shift, before[1] - shift)
        if min(float(n) for n in now) <= G * vehicle.axle(axle).unsprung:
            return vehicle  # no vehicle stands so: the pads or the loads are wrong, and the weighing says so
        changed[axle] = replace(vehicle.axle(axle), ref_load=now)
    its = "its load's own side read off the heights" if padded.key in side else "its load taken as even"
    assumed.append(f"empty left/right split from the pads of “{padded.name}”, {its}")
    return replace(vehicle, front=changed["front"], rear=changed["rear"])


def _side_moment(job: Job, vehicle: Vehicle, state: LoadState, key: str) -> float | None:
    """Return the added roll couple (N m) that fits the change of left/right difference best."""
    assert job.empty is not None
    probe = 500.0
    loaded = replace(state, name="probe", items=(*state.items, *side_couple(probe)))
    try:
        solved = solve_states(vehicle, [state, loaded], check_limits=False)
    except StateError:
        return None  # on the edge of lifting a wheel: what a couple would do cannot be told
    top = bottom = 0.0
    for datum, core_datum in AXLE_DATUM.items():
        for axle in AXLES:
            corners = AXLE_CORNERS[axle]
            before = [job.read(job.empty.key, c, datum) for c in corners]
            now = [job.read(key, c, datum) for c in corners]
            if not all(before) or not all(now):
                continue
            pairs = [b.value_m - n.value_m for b, n in zip(before, now, strict=True) if b and n]
            base = left_less_right(solved[key], corners, core_datum)
            per_moment = (left_less_right(solved["probe"], corners, core_datum) - base) / probe
            sigma = hypot(*(reading_own_sigma(job, r) for r in (*before, *now) if r))
            top += (pairs[0] - pairs[1] - base) * per_moment / sigma**2
            bottom += (per_moment / sigma) ** 2
    return top / bottom if bottom else None


def left_less_right(solved: SolvedState, corners: tuple[str, str], datum: str) -> float:
    """Return the left corner's drop less the right one's (m) on the core's datum."""
    left, right = (float(place_drop(solved, Place(corner, datum))) for corner in corners)
    return left - right
