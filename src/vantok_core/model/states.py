"""The load states as the static solve takes them, and the sigma of every load in them.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from vantok_core.classes import (
    PLAN_LEAST,
    PLAN_SHARE,
    SCALE_SIGMA,
)
from vantok_core.job import Job, JobState
from vantok_core.model.missing import has_load
from vantok_core.model.prior import DEFAULT_TRACK
from vantok_core.plan import scale_loads, tongue_of, weighed_loads
from vantok_core.rates.estimate import (
    TONGUE,
    UncertainLoad,
)
from vantok_core.vehicle import (
    AXLES,
    Item,
    LoadState,
    Tongue,
)


def core_states(job: Job) -> tuple[dict[str, LoadState], dict[str, UncertainLoad]]:
    """Return core states by key (the empty one first) and the sigma of every load."""
    empty = job.empty
    assert empty is not None
    states = {empty.key: LoadState(name=empty.key)}
    loads: dict[str, UncertainLoad] = {}
    for state in job.carried:
        if has_load(job, state):
            states[state.key] = _core_state(job, empty, state, loads)
    return states, loads


def _core_state(job: Job, empty: JobState, state: JobState, loads: dict[str, UncertainLoad]) -> LoadState:
    now, before = weighed_loads(job, state), scale_loads(empty)
    length = job.vehicle.base_m or 0.0
    if now is not None and before is not None:
        gains = (now[0] - before[0], now[1] - before[1])
        items = []
        for i, (gain, station) in enumerate(zip(gains, (0.0, length), strict=True)):
            name = f"{state.key}:{AXLES[i]}"
            loads[name] = UncertainLoad(mass=gain, sigma=SCALE_SIGMA * 2**0.5)
            items.append(Item(mass=gain, station=station, lateral=_pad_lateral(job, empty, state, i, gain), name=name))
        return LoadState(name=state.key, items=tuple(items))
    items = []
    for i, item in enumerate(state.contents):
        name = f"{state.key}:{i}:{item.name}"
        loads[name] = UncertainLoad(mass=item.mass_kg, sigma=max(PLAN_SHARE * item.mass_kg, PLAN_LEAST))
        items.append(Item(mass=item.mass_kg, station=item.station_m, lateral=item.lateral_m, name=name))
    overhang = job.vehicle.hitch_overhang_m
    tongue: Tongue | None = None
    if state.tongue and overhang is not None:
        name = f"{state.key}:{TONGUE}"
        loads[name] = UncertainLoad(mass=state.tongue, sigma=max(PLAN_SHARE * abs(state.tongue), PLAN_LEAST))
        tongue = tongue_of(state, overhang)
    return LoadState(name=state.key, items=tuple(items), tongue=tongue)


def _pad_lateral(job: Job, empty: JobState, state: JobState, axle: int, gain: float) -> float:
    """Return the lateral place (m) that gives an axle's gain the roll moment its corner pads read."""
    if state.corners_kg is None or empty.corners_kg is None or abs(gain) < 1.0:
        return 0.0
    tracks = (job.vehicle.track_front_m or DEFAULT_TRACK, job.vehicle.track_rear_m or DEFAULT_TRACK)
    i = 2 * axle
    moved = (state.corners_kg[i] - state.corners_kg[i + 1]) - (empty.corners_kg[i] - empty.corners_kg[i + 1])
    return moved * tracks[axle] / (2.0 * gain)
