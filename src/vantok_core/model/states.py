"""The load states as the static solve takes them, and the sigma of every load in them.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from collections.abc import Sequence

from vantok_core.base.names import DEFAULT_TRACK
from vantok_core.base.num import G
from vantok_core.facts import Job, JobState
from vantok_core.facts.classes import PLAN_LEAST, PLAN_SHARE, SCALE_SIGMA
from vantok_core.loads.couple import on_pads, side_couple
from vantok_core.loads.plan import scale_loads, tongue_of, weighed_loads
from vantok_core.model.missing import gain_scale, has_load, off_springs
from vantok_core.physics.vehicle import AXLES, AxleName, Item, LoadState, Tongue
from vantok_core.rates.off_springs import prior_sigma
from vantok_core.rates.problem import UncertainLoad
from vantok_core.rates.trial import TONGUE


def core_states(job: Job) -> tuple[dict[str, LoadState], dict[str, UncertainLoad]]:
    """Return core states by key (the empty one first) and the sigma of every load; a load nobody knows is two unknowns at the axles.

    Left out is only a state whose load is neither known nor to be read off the springs. Source: method section 8.
    """
    empty = job.empty
    assert empty is not None
    states = {empty.key: LoadState(name=empty.key)}
    loads: dict[str, UncertainLoad] = {}
    for state in job.carried:
        unknown = off_springs(job, state)
        if unknown or has_load(job, state):
            states[state.key] = _core_state(job, empty, state, loads, unknown=unknown)
    return states, loads


def unknown_at(state: LoadState, axle: AxleName) -> str:
    """Return the name of what nobody weighed of a state's load, as it is felt at an axle; empty where all of it is known."""
    return next((item.name for item in state.items if item.name.endswith(f":more:{axle}")), "")


def _whose(job: Job, state: JobState) -> str:
    """Return the key of the state whose unlisted load this one has on board: its own, or the one it is said to share."""
    other = next((s for s in job.carried if s.key == state.same_as and not s.same_as), None)
    return other.key if other is not None and off_springs(job, other) else state.key


def _unknown_items(job: Job, state: JobState, loads: dict[str, UncertainLoad]) -> list[Item]:
    """Return a load nobody weighed as it is felt at the axles: nothing is told of it but how much it could be."""
    items = []
    for axle, station in zip(AXLES, (0.0, job.vehicle.base_m or 0.0), strict=True):
        name = f"{_whose(job, state)}:more:{axle}"
        # A trailer's coupling has no rating: what it carries is guessed from its axle's.
        most = gain_scale(job, axle) or gain_scale(job, "rear")
        weighed = _axle_gain(job, state, axle)
        if weighed is not None and not state.contents:  # one axle weighed by itself is known at once
            loads[name] = UncertainLoad(mass=weighed, sigma=SCALE_SIGMA * 2**0.5)
        else:
            loads[name] = UncertainLoad(mass=0.0, sigma=prior_sigma(most, None))
        items.append(Item(mass=loads[name].mass, station=station, name=name))
    return items


def _axle_gain(job: Job, state: JobState, axle: AxleName) -> float | None:
    """Return what an axle gained by the scale (kg) where it was weighed in both states; None where it was not."""
    assert job.empty is not None
    now, before = (s.front_kg if axle == "front" else s.rear_kg for s in (state, job.empty))
    return None if now is None or before is None else now - before


def _core_state(
    job: Job, empty: JobState, state: JobState, loads: dict[str, UncertainLoad], *, unknown: bool
) -> LoadState:
    now, before = weighed_loads(job, state), scale_loads(empty)
    length = job.vehicle.base_m or 0.0
    if now is not None and before is not None:
        gains = (now[0] - before[0], now[1] - before[1])
        items = []
        for i, (gain, station) in enumerate(zip(gains, (0.0, length), strict=True)):
            name = f"{state.key}:{AXLES[i]}"
            loads[name] = UncertainLoad(mass=gain, sigma=SCALE_SIGMA * 2**0.5)
            items.append(Item(mass=gain, station=station, name=name))
        return LoadState(name=state.key, items=(*items, *_on_pads(job, empty, state)))
    items = _unknown_items(job, state, loads) if unknown else []
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


def _on_pads(job: Job, empty: JobState, state: JobState) -> tuple[Item, ...]:
    """Return what corner pads, read empty and loaded, say of a load across: a couple by itself, never an arm of an axle's gain, which near a nought gain has
    no meaning. Source: method section 21."""
    if state.corners_kg is None or empty.corners_kg is None:
        return ()
    tracks = (job.vehicle.track_front_m or DEFAULT_TRACK, job.vehicle.track_rear_m or DEFAULT_TRACK)

    def couple(corners: Sequence[float]) -> float:
        return sum(
            on_pads(corners[2 * i] * G, corners[2 * i + 1] * G, 0.0, track).couple for i, track in enumerate(tracks)
        )

    return side_couple(couple(state.corners_kg) - couple(empty.corners_kg))
