"""A job's load states reduced to axle loads: from scales where there are some, else from the plan.

Source: method section 2 ("the reading rules and the difference is shown").
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import hypot

from vantok_core.base.num import G
from vantok_core.facts import Job, JobReading, JobState
from vantok_core.facts.classes import BODIES
from vantok_core.loads.holding import PLANNED_LEAST, PLANNED_SHARE, SCALE, planned
from vantok_core.loads.limits import Margin, Ratings, StateLoads, margins, smallest, tyre_limit
from vantok_core.loads.places import Footprint, footprint
from vantok_core.physics.levers import HitchEffect, hitch_effect, hitch_moment, items_lever
from vantok_core.physics.vehicle import Item, Tongue


@dataclass(frozen=True, slots=True, kw_only=True)
class StateLoad:
    """A state's axle loads (kg, None where unknown), what they rest on ("scale", "moved", "plan" or ""), and what the plan is
    short of the scale at front and rear (kg), where both exist."""

    key: str
    front: float | None
    rear: float | None
    basis: str
    short_front: float | None = None
    short_rear: float | None = None

    @property
    def front_share(self) -> float | None:
        """The front axle's share of the whole, None where either axle is not known."""
        if self.front is None or self.rear is None or not self.front + self.rear:
            return None
        return self.front / (self.front + self.rear)


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
    tongue = state.tongue
    moment = hitch_moment(tongue, overhang, distance, state.restored) if distance and state.restored else 0.0
    return Tongue(mass=tongue, overhang=overhang, bar_moment=max(moment, 0.0), axle_distance=distance)


def hitch_of(job: Job, state: JobState) -> HitchEffect | None:
    """Return what a state's tongue and spring bars do to the three axles, None without tongue or an unknown lever."""
    length, overhang = job.vehicle.base_m, job.vehicle.hitch_overhang_m
    if not state.tongue or length is None or overhang is None:
        return None
    return hitch_effect(tongue_of(state, overhang), length)


def reach(job: Job) -> Footprint | None:
    """Return the vehicle from above, None while its wheelbase is unknown."""
    v = job.vehicle
    return None if v.base_m is None else footprint(v.body, v.base_m, v.rear_overhang_m, v.hitch_overhang_m, v.zones)


def planned_gain(job: Job, state: JobState) -> tuple[float, float] | None:
    """Return what a state's items and tongue add to each axle (kg), None when it has neither, or a tongue or its lever is unknown."""
    length = job.vehicle.base_m
    if length is None or not (state.contents or state.tongue) or (state.hitched and not state.tongue):
        return None
    items = [Item(mass=i.mass_kg, station=i.station_m, lateral=i.lateral_m) for i in state.contents]
    share = items_lever(items, length)
    front, rear = float(share.front), float(share.rear)
    if state.tongue:
        effect = hitch_of(job, state)
        if effect is None:
            return None
        front, rear = front + float(effect.front) / G, rear + float(effect.rear) / G
    return front, rear


def moved_since(job: Job, state: JobState) -> tuple[float, float]:
    """Return what the plan's changes since the scale was read add at front and rear (kg)."""
    gain = planned_gain(job, state) or (0.0, 0.0)
    then = state.weighed_gain_kg
    return (gain[0] - then[0], gain[1] - then[1]) if then is not None else (0.0, 0.0)


def weighed_loads(job: Job, state: JobState) -> tuple[float, float] | None:
    """Return front and rear axle loads (kg) off the scale, with what was moved since; None where not weighed."""
    scale, moved = scale_loads(state), moved_since(job, state)
    return None if scale is None else (scale[0] + moved[0], scale[1] + moved[1])


LOAD_WORTH = 5.0
"""A change of an axle's load under this (kg) moves no height a tape could tell."""
COMPARABLE = {("plan", "plan"), ("scale", "scale"), ("scale", "moved"), ("moved", "moved")}
"""What a load was known by, then and now, where a difference means another load; a first weighing only makes the same one known."""


Gain = tuple[tuple[float, float], str]
"""What a load adds at front and rear (kg), and what that rests on."""


def gain_of(job: Job, state: JobState) -> Gain | None:
    """Return what a state's load is known to add at front and rear (kg) and what that rests on; None where it is not known."""
    load = state_load(job, state)
    before = scale_loads(job.empty) if job.empty else None
    if load.front is not None and load.rear is not None and before is not None:
        return (load.front - before[0], load.rear - before[1]), load.basis
    gain = None if state.more else planned_gain(job, state)
    return None if gain is None else (gain, "plan")


def _change(reading: JobReading, now: Gain | None) -> tuple[float, float] | None:
    if reading.under_kg is None or now is None or (reading.under_basis, now[1]) not in COMPARABLE:
        return None
    change = now[0][0] - reading.under_kg[0], now[0][1] - reading.under_kg[1]
    return change if max(abs(change[0]), abs(change[1])) > LOAD_WORTH else None


def changed_unnoted(job: Job, reading: JobReading) -> bool:
    """Tell whether a state's plan was changed after a height was read of which nobody noted the load of then."""
    state = job.state(reading.state)
    if state is None or state.empty or reading.under_basis or state.changed_at is None or reading.at is None:
        return False
    return reading.at < state.changed_at


def by_load(job: Job) -> Job:
    """Return the job with heights read under a load that has changed since kept with the load of then, in a state of its own.

    So no height is ever paired with a load it was not read under: the state as it is now counts as not read yet. What is
    unchanged comes back as it is.
    """
    readings, then = [], dict[tuple[str, object], JobState]()
    gains = {s.key: gain_of(job, s) for s in job.states if not s.empty}
    for reading in job.readings:
        if _change(reading, gains.get(reading.state)) is None and not changed_unnoted(job, reading):
            readings.append(reading)
            continue
        gain = None if reading.under_kg is None else tuple(round(kg) for kg in reading.under_kg)
        at = then.setdefault((reading.state, gain), _then(job, reading, len(then) + 1))
        readings.append(reading.model_copy(update={"state": at.key}))
    if not then:
        return job
    states = [s for state in job.states for s in (state, *(past for key, past in then.items() if key[0] == state.key))]
    return job.model_copy(update={"states": tuple(states), "readings": tuple(readings)})


def _then(job: Job, reading: JobReading, number: int) -> JobState:
    """Return a state with the load that a reading was taken under."""
    state = job.state(reading.state)
    assert state is not None
    before, under = scale_loads(job.empty) if job.empty else None, reading.under_kg
    front = None if before is None or under is None else max(before[0] + under[0], 0.0)
    rear = None if before is None or under is None else max(before[1] + under[1], 0.0)
    name = f"{state.name[:100]}, as it was read"
    return JobState(key=f"{state.key[:24]}-t{number}", name=name, past=True, front_kg=front, rear_kg=rear)


def state_load(job: Job, state: JobState) -> StateLoad:
    """Return a state's axle loads and what they rest on: "scale", "moved" (the scale, changed since), "plan" or nothing."""
    scale = weighed_loads(job, state)
    before = scale_loads(job.empty) if job.empty else None
    gain = (0.0, 0.0) if state.empty else planned_gain(job, state)
    plan = (before[0] + gain[0], before[1] + gain[1]) if before and gain and not (state.empty or state.more) else None
    if scale is not None:
        short = (scale[0] - plan[0], scale[1] - plan[1]) if plan else (None, None)
        basis = "moved" if max(abs(m) for m in moved_since(job, state)) >= 0.5 else "scale"
        return StateLoad(
            key=state.key, front=scale[0], rear=scale[1], basis=basis, short_front=short[0], short_rear=short[1]
        )
    if plan is not None:
        return StateLoad(key=state.key, front=plan[0], rear=plan[1], basis="plan")
    # One axle by itself is told too: what is weighed is used at once.
    return StateLoad(
        key=state.key, front=state.front_kg, rear=state.rear_kg, basis="scale" if state.half_weighed else ""
    )


def tyres_limit(given: float | None, index: int | None, tyres: int, dual: int | None = None) -> float | None:
    """Return what an axle's tyres carry (kg): the figure given, else load index times tyres, None where neither is known."""
    known = index if tyres == 2 else dual or index
    return given if given is not None or known is None else tyre_limit(known, tyres)


RATED = {
    "gross_kg",
    "front_axle_kg",
    "rear_axle_kg",
    "tag_axle_kg",
    "front_tyres_kg",
    "rear_tyres_kg",
    "hitch_kg",
    "towed_kg",
    "combination_kg",
    "front_tyre_index",
    "rear_tyre_index",
    "rear_dual_index",
}
"""The vehicle's facts that are limits, read off a plate or a tyre."""


def ratings_of(job: Job, state: JobState) -> Ratings:
    """Return the job's ratings, and those of the trailer that a state tows; one that a starting vehicle gave is no limit yet."""
    v = job.vehicle
    if v.defaults:
        v = v.model_copy(update=dict.fromkeys(set(v.defaults) & RATED))
    return Ratings(
        gross=v.gross_kg,
        front_axle=v.front_axle_kg,
        rear_axle=v.rear_axle_kg,
        tag_axle=v.tag_axle_kg,
        front_tyres=tyres_limit(v.front_tyres_kg, v.front_tyre_index, 2),
        rear_tyres=tyres_limit(v.rear_tyres_kg, v.rear_tyre_index, 4 if v.dual_rear else 2, v.rear_dual_index),
        hitch=v.hitch_kg,
        towed=v.towed_kg,
        combination=v.combination_kg,
        trailer_axle=state.trailer_axle_rating_kg,
        trailer_tyres=state.trailer_tyres_kg,
        front_wheel=v.front_wheel_kg,
        rear_wheel=v.rear_wheel_kg * 2 if v.rear_wheel_kg and v.dual_rear else v.rear_wheel_kg,
    )


def trailer_wheels(job: Job, state: JobState) -> float | None:
    """Return what stands on the trailer's own wheels (kg): off the scale, else its mass less what the ball carries."""
    if state.trailer_scale_kg is not None:
        return state.trailer_scale_kg
    if not state.trailer:
        return None
    effect = hitch_of(job, state)
    bars = float(effect.trailer_axle) / G if effect else 0.0
    return state.trailer - state.tongue + bars


def state_margins(job: Job, state: JobState) -> list[Margin]:
    """Return every limit's margin in a state; none for a load that is no longer aboard."""
    if state.past:
        return []
    load = state_load(job, state)
    sides = state.corners_kg
    loads = StateLoads(
        front=load.front,
        rear=load.rear,
        tongue=state.tongue,
        trailer=state.trailer,
        tag=state.tag_kg,
        trailer_axle=trailer_wheels(job, state),
        sigma=load_sigmas(job, state, load),
        front_side=max(sides[:2]) if sides else None,
        rear_side=max(sides[2:]) if sides else None,
    )
    found = margins(ratings_of(job, state), loads)
    if BODIES[job.vehicle.body].trailer:  # what stands ahead is a ball, whatever field its rating was typed in
        found = [replace(m, key="coupling") if m.key == "front_axle" else m for m in found if m.key != "front_tyres"]
    return _at_least(job, state, found) if state.more and None in (load.front, load.rear) else found


def load_sigmas(job: Job, state: JobState, load: StateLoad) -> dict[str, float]:
    """Return the sigma (kg) of what a state puts on each limit: off a scale, off a plan by its levers, or both. Source: method section 23."""
    front = rear = SCALE
    gross = hypot(front, rear)
    if load.basis == "moved":
        front, rear = (hypot(SCALE, told_sigma(moved)) for moved in moved_since(job, state))
        gross = hypot(front, rear)
    elif load.basis == "plan":
        length = job.vehicle.base_m or 1.0
        things = [(i.mass_kg, i.station_m / length) for i in state.contents]
        if state.tongue:
            things.append((state.tongue, 1.0 + (job.vehicle.hitch_overhang_m or 0.0) / length))
        front = planned(0.0, SCALE, [(mass, 1.0 - at) for mass, at in things])[1]
        rear = planned(0.0, SCALE, things)[1]
        gross = planned(0.0, hypot(SCALE, SCALE), [(mass, 1.0) for mass, _ in things])[1]
    tongue, towed = told_sigma(state.tongue), told_sigma(state.trailer)
    own = SCALE if state.trailer_scale_kg is not None else hypot(towed, tongue)
    side = SCALE / 2**0.5
    return {
        "gross": gross,
        "front_axle": front,
        "rear_axle": rear,
        "tag_axle": SCALE,
        "front_tyres": front,
        "rear_tyres": rear,
        "hitch": tongue,
        "towed": towed,
        "combination": hypot(gross, own),
        "trailer_axle": own,
        "trailer_tyres": own,
        **dict.fromkeys(("front_wheel", "rear_wheel", "front_tyre", "rear_tyre"), side),
    }


def told_sigma(mass: float) -> float:
    """Return the sigma of a mass that somebody told or read off a tongue scale (kg)."""
    return max(PLANNED_SHARE * abs(mass), PLANNED_LEAST)


ADDS = ("gross", "rear_axle", "rear_tyres")
"""What more on board can only add to; behind the rear axle it takes load off the front."""


def _at_least(job: Job, state: JobState, found: list[Margin]) -> list[Margin]:
    """Return the margins of a load of which only a part is listed: what is listed may pass a limit, but never holds one."""
    listed = state_load(job, state.model_copy(update={"more": False}))
    if listed.front is None or listed.rear is None:
        return found
    on = {"gross": listed.front + listed.rear, "rear_axle": listed.rear, "rear_tyres": listed.rear}
    told = []
    for margin in found:
        least = replace(margin, load=on[margin.key]) if margin.key in ADDS else margin
        told.append(least if least.past else margin)
    return told


def worst_margin(job: Job) -> tuple[JobState, Margin] | None:
    """Return the state and limit with the smallest margin of the whole job."""
    found = [(state, smallest(state_margins(job, state))) for state in job.states]
    known = [(state, margin) for state, margin in found if margin is not None]
    return min(known, key=lambda pair: pair[1].share or 0.0) if known else None
