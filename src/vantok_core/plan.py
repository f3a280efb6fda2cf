"""A job's load states reduced to axle loads, from scales where there are some, else from the plan; and what moving load does.

Source: method section 2 ("the reading rules and the difference is shown").
"""

from __future__ import annotations

from dataclasses import dataclass

from vantok_core.job import Job, JobState, LoadItem
from vantok_core.loads.levers import hitch_effect, hitch_moment, item_lever, items_lever
from vantok_core.loads.limits import Margin, Ratings, StateLoads, margins, smallest
from vantok_core.num import G
from vantok_core.vehicle import Item, Tongue


@dataclass(frozen=True, slots=True, kw_only=True)
class StateLoad:
    """A state's axle loads (kg, None where unknown), what they rest on ("scale", "plan" or ""), and what the plan is
    short of the scale at front and rear (kg), where both exist."""

    key: str
    front: float | None
    rear: float | None
    basis: str
    short_front: float | None = None
    short_rear: float | None = None


def scale_loads(state: JobState) -> tuple[float, float] | None:
    """Return front and rear axle loads (kg) off the scale, None where not weighed."""
    if state.corners_kg is not None:
        fl, fr, rl, rr = state.corners_kg
        return fl + fr, rl + rr
    if state.front_kg is None or state.rear_kg is None:
        return None
    return state.front_kg, state.rear_kg


def tongue_of(state: JobState, overhang: float) -> Tongue:
    """Return a state's tongue at the ball, with the spring-bar moment that gives back its share of the front's loss."""
    distance = state.trailer_axle_m
    moment = hitch_moment(state.tongue_kg, overhang, distance, state.restored) if distance and state.restored else 0.0
    return Tongue(mass=state.tongue_kg, overhang=overhang, bar_moment=moment, axle_distance=distance)


def planned_gain(job: Job, state: JobState) -> tuple[float, float] | None:
    """Return what a state's items and tongue add to each axle (kg), None when it has neither or a lever is unknown."""
    length, overhang = job.vehicle.base_m, job.vehicle.hitch_overhang_m
    if length is None or not (state.contents or state.tongue_kg):
        return None
    items = [Item(mass=i.mass_kg, station=i.station_m, lateral=i.lateral_m) for i in state.contents]
    share = items_lever(items, length)
    front, rear = float(share.front), float(share.rear)
    if state.tongue_kg:
        if overhang is None:
            return None
        effect = hitch_effect(tongue_of(state, overhang), length)
        front, rear = front + float(effect.front) / G, rear + float(effect.rear) / G
    return front, rear


def state_load(job: Job, state: JobState) -> StateLoad:
    """Return a state's axle loads and what they rest on."""
    scale = scale_loads(state)
    before = scale_loads(job.empty) if job.empty else None
    gain = (0.0, 0.0) if state.empty else planned_gain(job, state)
    plan = (before[0] + gain[0], before[1] + gain[1]) if before and gain and not state.empty else None
    if scale is not None:
        short = (scale[0] - plan[0], scale[1] - plan[1]) if plan else (None, None)
        return StateLoad(
            key=state.key, front=scale[0], rear=scale[1], basis="scale", short_front=short[0], short_rear=short[1]
        )
    if plan is not None:
        return StateLoad(key=state.key, front=plan[0], rear=plan[1], basis="plan")
    return StateLoad(key=state.key, front=None, rear=None, basis="")


def ratings_of(job: Job) -> Ratings:
    """Return the job's ratings."""
    v = job.vehicle
    return Ratings(
        gross=v.gross_kg, front_axle=v.front_axle_kg, rear_axle=v.rear_axle_kg, front_tyres=v.front_tyres_kg,
        rear_tyres=v.rear_tyres_kg, hitch=v.hitch_kg, towed=v.towed_kg, combination=v.combination_kg,
    )  # fmt: skip


def state_margins(job: Job, state: JobState) -> list[Margin]:
    """Return every limit's margin in a state."""
    load = state_load(job, state)
    loads = StateLoads(front=load.front, rear=load.rear, tongue=state.tongue_kg, trailer=state.trailer_kg)
    return margins(ratings_of(job), loads)


def worst_margin(job: Job) -> tuple[JobState, Margin] | None:
    """Return the state and limit with the smallest margin of the whole job."""
    found = [(state, smallest(state_margins(job, state))) for state in job.states]
    known = [(state, margin) for state, margin in found if margin is not None]
    return min(known, key=lambda pair: pair[1].share or 0.0) if known else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Move:
    """Moving one item: how far forward (m), what it takes off the rear axle (kg), and what it puts on the front."""

    item: LoadItem
    forward: float
    relief: float


def moves(job: Job, state: JobState, furthest_forward: float) -> list[Move]:
    """Return the moves of single items to a station, those that relieve the rear axle most first."""
    length = job.vehicle.base_m
    if length is None:
        return []
    found = []
    for item in state.contents:
        forward = item.station_m - furthest_forward
        if forward > 0.05 and item.mass_kg > 0.0:
            relief = float(item_lever(item.mass_kg, forward, length).rear)
            found.append(Move(item=item, forward=forward, relief=relief))
    return sorted(found, key=lambda m: -m.relief)


def smallest_clearing_move(job: Job, state: JobState, over_kg: float, furthest_forward: float) -> Move | None:
    """Return the single move with the least mass times distance that takes `over_kg` off the rear axle, None if none does."""
    length = job.vehicle.base_m
    if length is None or over_kg <= 0.0:
        return None
    able = [m for m in moves(job, state, furthest_forward) if m.relief >= over_kg]
    if not able:
        return None
    best = min(able, key=lambda m: m.item.mass_kg)
    needed = over_kg * length / best.item.mass_kg
    return Move(item=best.item, forward=needed, relief=over_kg)
