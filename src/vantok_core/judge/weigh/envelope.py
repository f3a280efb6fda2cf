"""The envelope of a load state: tanks full and empty, people aboard or not; every height and limit as a span, the worst case named.

Source: method sections 2 and 4, each case solved like any state.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace

from vantok_core.base.say import Say, Verdict, mass
from vantok_core.facts import Job, JobState
from vantok_core.loads.limits import Margin, StateLoads, margins
from vantok_core.loads.plan import ratings_of, state_load
from vantok_core.model import JobModel
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import Item, LoadState

MAIN = ("gross", "front_axle", "rear_axle")
"""Limits without which nothing is called within."""
MOST_TANKS = 4
"""Tanks that are varied at most, the largest first."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Vary:
    """A thing that comes and goes: its words full and empty; what it weighs now, full and empty (kg); where (m)."""

    full: str
    empty: str
    now: float
    most: float
    station: float
    lateral: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Case:
    """One case: its words, the mean drop of each axle from the reference (m), its margins."""

    name: str
    drops: tuple[float, float]
    margins: tuple[Margin, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """A limit over all cases: its name, rating and least and most load (kg), and the words of the case that comes nearest to it."""

    name: str
    limit: float
    least: float
    most: float
    worst: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Envelope:
    """The envelope of a state: its cases, each limit's span, front and rear drop from least to most (m), and the sentence."""

    state: JobState
    cases: tuple[Case, ...]
    spans: tuple[Span, ...]
    drops: tuple[tuple[float, float], tuple[float, float]]
    said: Verdict


def varying(state: JobState) -> list[Vary]:
    """Return what comes and goes in a state: its tanks, the largest first, and its people together, each row where it sits."""
    tanks = sorted(state.tanks, key=lambda t: -t.capacity_l)[:MOST_TANKS]
    found = [
        Vary(
            full=f"{t.name} full",
            empty=f"{t.name} empty",
            now=t.capacity_l * t.fill * t.kg_per_l,
            most=t.capacity_l * t.kg_per_l,
            station=t.station_m,
            lateral=t.lateral_m,
        )
        for t in tanks
    ]
    count = sum(p.count * p.mass_kg for p in state.people)
    if count > 0.0:
        along = sum(p.count * p.mass_kg * p.station_m for p in state.people) / count
        across = sum(p.count * p.mass_kg * p.lateral_m for p in state.people) / count
        found.append(
            Vary(full="people aboard", empty="nobody aboard", now=count, most=count, station=along, lateral=across)
        )
    return found


def envelope(model: JobModel, key: str) -> Envelope | None:
    """Return a state's envelope; None where nothing in it comes and goes, or the model cannot speak of it.

    A difference from what is listed goes on or off where it is, so a weighed load keeps its weighing. Raises VantokError where a case cannot be solved.
    """
    job, state = model.job, model.job.state(key)
    things = varying(state) if state is not None else []
    if state is None or key not in model.states or not things:
        return None
    told = [_case(model, state, things, fills) for fills in itertools.product((True, False), repeat=len(things))]
    solved = solve_states(model.vehicle, [load for load, _, _ in told], check_limits=False)
    cases = []
    for load, name, moved in told:
        at = solved[load.name].at
        drops = float(at.u), float(at.u + model.vehicle.wheelbase * at.theta)
        cases.append(Case(name=name, drops=drops, margins=_margins(job, state, moved)))
    spans = _spans(cases)
    ends = [(min(c.drops[n] for c in cases), max(c.drops[n] for c in cases)) for n in range(2)]
    return Envelope(
        state=state,
        cases=tuple(cases),
        spans=spans,
        drops=(ends[0], ends[1]),
        said=_said(state, spans, cases[0].margins),
    )


def _case(
    model: JobModel, state: JobState, things: Sequence[Vary], fills: Sequence[bool]
) -> tuple[LoadState, str, tuple[float, float]]:
    """Return a case's load, its words, and what it adds at front and rear (kg) against what is listed."""
    base, name = (
        model.states[state.key],
        ", ".join(t.full if full else t.empty for t, full in zip(things, fills, strict=True)),
    )
    wheelbase, items, front, rear = model.vehicle.wheelbase, list(base.items), 0.0, 0.0
    for n, (thing, full) in enumerate(zip(things, fills, strict=True)):
        more = (thing.most if full else 0.0) - thing.now
        if more:
            items.append(Item(mass=more, station=thing.station, lateral=thing.lateral, name=f"vary {n}"))
            rear += more * thing.station / wheelbase
            front += more * (1.0 - thing.station / wheelbase)
    return replace(base, name=name, items=tuple(items)), name, (front, rear)


def _margins(job: Job, state: JobState, moved: tuple[float, float]) -> tuple[Margin, ...]:
    load = state_load(job, state)
    loads = StateLoads(
        front=None if load.front is None else load.front + moved[0],
        rear=None if load.rear is None else load.rear + moved[1],
        tongue=state.tongue,
        trailer=state.trailer,
    )
    return tuple(margins(ratings_of(job, state), loads))


def _spans(cases: Sequence[Case]) -> tuple[Span, ...]:
    """Return each limit's span, of those that the cases move."""
    found = []
    for key in dict.fromkeys(m.key for c in cases for m in c.margins):
        own = [(c, m) for c in cases for m in c.margins if m.key == key and m.limit is not None and m.load is not None]
        if not own:
            continue
        loads = [m.load or 0.0 for _, m in own]
        worst = max(own, key=lambda one: one[1].load or 0.0)
        if max(loads) - min(loads) > 0.5:
            found.append(
                Span(
                    name=worst[1].name,
                    limit=worst[1].limit or 0.0,
                    least=min(loads),
                    most=max(loads),
                    worst=worst[0].name,
                )
            )
    return tuple(found)


def _said(state: JobState, spans: Sequence[Span], told: Sequence[Margin]) -> Verdict:
    over = [s for s in spans if s.most > s.limit]
    if over:
        one = max(over, key=lambda s: s.most - s.limit)
        passed = Say(
            "“{state}”: with {worst} its {limit} is {over} over; the lightest case has {load} on it.",
            {
                "state": state.name,
                "worst": one.worst,
                "limit": one.name,
                "over": mass(one.most - one.limit),
                "load": mass(one.least),
            },
        )
        return Verdict(tone="limit", sentences=(passed,))
    if not spans:
        return Verdict(
            tone="act",
            sentences=(
                Say(
                    "“{state}”: no limit is known that this could be held against: read the plate.",
                    {"state": state.name},
                ),
            ),
        )
    near = min(spans, key=lambda s: (s.limit - s.most) / s.limit)
    unknown = [m.name for m in told if m.key in MAIN and (m.limit is None or m.load is None)]
    sentences = [
        Say(
            "“{state}” stays within its known limits in every case; nearest is the {limit}, {left} to spare, with {worst}.",
            {"state": state.name, "limit": near.name, "left": mass(near.limit - near.most), "worst": near.worst},
        )
    ]
    if unknown:
        sentences.append(Say("Not known, so not held against anything: {unknown}.", {"unknown": ", ".join(unknown)}))
    return Verdict(tone="act" if unknown else "level", sentences=tuple(sentences))
