"""What lies to one side: read off the heights as a couple, or off pads.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import hypot

import numpy as np

from vantok_core.base.errors import StateError
from vantok_core.base.num import FloatArray, G
from vantok_core.facts import Job
from vantok_core.loads.couple import SIDE, UNPLACED, side_couple
from vantok_core.model.readings import AXLE_DATUM, corner_sigma
from vantok_core.physics.stance.report import report
from vantok_core.physics.stance.states import SolvedState, solve_states
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName, LoadState, Vehicle
from vantok_core.rates.places import Place, place_drop

UNREAD_DIFFERENCE = 0.004
"""Sigma of a left/right difference of heights until it is read, m."""
PROBE = 300.0
"""Couple tried to see what one does, N m."""


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
            sigma = hypot(*(corner_sigma(job, r) for r in (*before, *now) if r))
            top += (pairs[0] - pairs[1] - base) * per_moment / sigma**2
            bottom += (per_moment / sigma) ** 2
    return top / bottom if bottom else None


def left_less_right(solved: SolvedState, corners: tuple[str, str], datum: str) -> float:
    """Return the left corner's drop less the right one's (m) on the core's datum."""
    left, right = (float(place_drop(solved, Place(corner, datum))) for corner in corners)
    return left - right


def side_effects(
    vehicle: Vehicle, states: Mapping[str, LoadState], plain: Mapping[str, SolvedState], datum: str
) -> dict[str, dict[AxleName, float]]:
    """Return what a newton metre of side couple adds to each axle's left less right height (m) in each state; plain: the states solved.

    Source: method section 4, a small couple tried on the solved states.
    """
    tried = [replace(s, items=(*s.items, *side_couple(PROBE))) for s in states.values()]
    solved, core_datum = solve_states(vehicle, tried, check_limits=False), AXLE_DATUM[datum]

    def drop(of: SolvedState, axle: AxleName) -> float:
        return left_less_right(of, AXLE_CORNERS[axle], core_datum)

    return {key: {axle: (drop(plain[key], axle) - drop(solved[key], axle)) / PROBE for axle in AXLES} for key in states}


@dataclass(frozen=True, slots=True, kw_only=True)
class Sides:
    """What is known of a job's left/right differences on a datum.

    couples: those inferred from heights by state, N m; plain: what a couple does without the kit in question (`side_effects`).
    """

    job: Job
    vehicle: Vehicle
    states: Mapping[str, LoadState]
    couples: Mapping[str, float]
    datum: str
    plain: Mapping[str, Mapping[AxleName, float]]

    def errors(self, cells: Sequence[tuple[str, str]], effects: Mapping[str, Mapping[AxleName, float]]) -> FloatArray:
        """Return what one sigma of each left/right difference read, or of a couple nobody read, does to each cell (state, corner; m): a column for each.

        A side adds half its empty difference, and half of what the load's side couple does there; effects: of a couple, by state. Where heights told
        the couple, it was told by the differences in that state and empty, on both axles; else it is as the load may lie.
        Source: own derivation and method section 21.
        """
        assert self.job.empty is not None
        empty, states = self.job.empty.key, list(dict.fromkeys(state for state, _ in cells))
        columns = [(empty, axle) for axle in AXLES] + [(s, axle) for s in states if s != empty for axle in AXLES]
        found = np.zeros((len(cells), len(columns) + len(states)))
        weights = {s: self._weights(s) for s in states if s != empty}
        for i, (state, corner) in enumerate(cells):
            half, own = 0.5 if corner[1] == "L" else -0.5, AXLES[corner[0] == "R"]
            found[i, columns.index((empty, own))] += half * self._sigma(empty, own)
            if state == empty:
                continue
            for axle, w in weights[state].items():
                moved = half * effects[state][own] * w
                found[i, columns.index((empty, axle))] -= moved * self._sigma(empty, axle)
                found[i, columns.index((state, axle))] += moved * self._sigma(state, axle)
            if not weights[state]:
                found[i, len(columns) + states.index(state)] = half * effects[state][own] * self._unread_couple(state)
        return found

    def _weights(self, state: str) -> dict[AxleName, float]:
        """Return how a state's side couple (N m) follows from each axle's left/right difference there (m); empty where heights told none."""
        if state not in self.couples:
            return {}
        plain, empty = self.plain[state], self.job.empty
        assert empty is not None
        told: dict[AxleName, float] = {}
        for axle in AXLES:
            sigmas = [self._sigma(key, axle) for key in (empty.key, state)]
            if all(self.job.read(k, c, self.datum) for k in (empty.key, state) for c in AXLE_CORNERS[axle]):
                told[axle] = plain[axle] / hypot(*sigmas) ** 2
        bottom = sum(w * plain[axle] for axle, w in told.items())
        return {axle: w / bottom for axle, w in told.items()} if bottom else {}

    def _unread_couple(self, state: str) -> float:
        """Return the sigma of a side couple (N m) that nothing told: of each axle's gain without known places `0.06 t g |gain|`; nought where pads or
        places tell it. Source: method section 21."""
        told = self.job.state(state)
        if told is None or told.empty or told.corners_kg is not None:
            return 0.0
        gains = _gains_without_place(self.states[state], float(self.vehicle.wheelbase))
        tracks = [self.vehicle.axle(axle).track for axle in AXLES]
        return hypot(*(UNPLACED * track * G * gain for track, gain in zip(tracks, gains, strict=True)))

    def _sigma(self, state: str, axle: AxleName) -> float:
        """Return the sigma of an axle's left less right as read in a state (m)."""
        read = [self.job.read(state, corner, self.datum) for corner in AXLE_CORNERS[axle]]
        return hypot(*(corner_sigma(self.job, r) for r in read if r)) if all(read) else UNREAD_DIFFERENCE


def _gains_without_place(state: LoadState, wheelbase: float) -> tuple[float, float]:
    """Return what things without a place across add to the front and the rear axle (kg)."""
    loose = [(float(i.mass), i.station) for i in state.items if i.name != SIDE and i.lateral == 0.0]
    rear = float(sum(mass * station / wheelbase for mass, station in loose))
    return float(sum(mass for mass, _ in loose)) - rear, rear
