"""The next measurement worth taking: its minutes, and what it would settle; none when nothing would change the answer.

Source: method section 18.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import hypot, sqrt

import numpy as np

from vantok_core.base.errors import VantokError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import FloatArray, G
from vantok_core.base.say import Quantity, Say
from vantok_core.facts import JobState
from vantok_core.facts.classes import SCALE_SIGMA, friction_of
from vantok_core.judge.grounds.thresholds import KNOWN_KG, LEAST_LIFT, TONGUE_SIGMA
from vantok_core.judge.grounds.unweighed import HELD, WHOLE, Unweighed, load_levers
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.odds import TOLERANCE
from vantok_core.kits.target import target_drop, target_state
from vantok_core.loads.limits import LIMIT_NAMES
from vantok_core.loads.plan import state_load
from vantok_core.loads.unweighed import reference_load
from vantok_core.model import JobModel
from vantok_core.model.readings import TAPE_SIGMA
from vantok_core.physics.elements.laws import Helper
from vantok_core.physics.vehicle import AXLES, Element, Vehicle
from vantok_core.rates.next_measurement import Candidate, NextMeasurement, Worth, next_measurement
from vantok_core.rates.off_springs import axle_gain
from vantok_core.rates.places import Place
from vantok_core.readings.tape import reading_sigma

MINUTES = {"weigh": 20.0, "tongue": 5.0, "heights": 6.0, "known": 15.0}
"""What each takes in a workshop: to the scale and back, the tongue on its own scale, an axle settled and read, a known load put on and read."""
MOST_STATES = 12
GOOD_ENOUGH = TOLERANCE
"""A height told within what counts as there is known well enough: no reading would change what is chosen (m)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class NextStep:
    """What to measure next: its key, the state it is taken in, minutes, it in words, what it settles, and half the band before and after."""

    key: str
    state: str
    minutes: float
    say: Say
    why: Say
    before: Quantity
    after: Quantity


@dataclass(frozen=True, slots=True)
class _Asked:
    """A question: the state it is of, its words, its slope in the unknowns and the two reference loads, its kind of quantity."""

    state: str
    words: str
    slope: FloatArray
    kind: str


def next_step(model: JobModel, unweighed: tuple[Unweighed, ...]) -> NextStep | None:
    """Return the measurement that saves most of the answer's band a minute; None when none is worth it.

    The question is whether a limit holds where nobody weighed, else the height with the kit (or with one that brings the target).
    """
    asked = _limit_asked(model, unweighed) or _height_asked(model)
    if asked is None:
        return None
    covariance = covariance_of(model)
    able = list(candidates(model, asked.state))
    if not able:
        return None
    found = next_measurement(covariance, asked.slope, [one for _, one, _ in able])
    if found.enough or (asked.kind == "length" and found.band <= GOOD_ENOUGH):
        return None
    return _told(asked, found, able)


def _told(asked: _Asked, found: NextMeasurement, able: list[tuple[str, Candidate, JobState | None]]) -> NextStep:
    best: Worth = found.order[0]
    key, _, state = next(c for c in able if c[1] is best.candidate)
    before = Quantity(found.band, asked.kind)
    after = Quantity(NINE_IN_TEN * best.sigma_left, asked.kind)
    words = asked.words[:1].upper() + asked.words[1:]
    return NextStep(
        key=key,
        state=state.key if state else "",
        minutes=best.candidate.minutes,
        before=before,
        after=after,
        say=Say(
            "{candidate} (about {minutes} min).",
            {"candidate": best.candidate.name, "minutes": f"{best.candidate.minutes:.0f}"},
        ),
        why=Say(
            "{words}, now told within ± {before}, would be within ± {after}.",
            {"before": before, "after": after, "words": words},
        ),
    )


def covariance_of(model: JobModel) -> FloatArray:
    """Return the covariance of the estimate's unknowns and of the reference's axle loads (kg)."""
    own, reference = model.estimate.covariance, reference_load(model.job)
    size = len(own)
    found = np.zeros((size + 2, size + 2))
    found[:size, :size] = own
    for i, axle in enumerate(AXLES):
        found[size + i, size + i] = reference[axle][1] ** 2 if reference is not None else 0.0
    return found


def with_reference(slope: FloatArray, front: float = 0.0, rear: float = 0.0) -> FloatArray:
    """Return a slope in the unknowns (SI) with those in the two reference loads behind it: front, rear, a share each."""
    return np.concatenate([slope, [front, rear]])


def _limit_asked(model: JobModel, unweighed: tuple[Unweighed, ...]) -> _Asked | None:
    one = next((u for u in unweighed if u.over), None) or next((u for u in unweighed if u.nearest), None)
    if one is None:
        return None
    key = one.over or one.nearest
    words = f"whether the {LIMIT_NAMES[key]} of “{one.state.name}” holds"
    return _Asked(one.state.key, words, _load_slope(model, one.state.key, HELD[key]), "mass")


def _load_slope(model: JobModel, state: str, part: str) -> FloatArray:
    """Return the slope of what stands on an axle, or on both, in a state (kg)."""
    levers = load_levers(model, state)
    axles = AXLES if part == WHOLE else (part,)
    share = {name: sum(at[a] for a in axles) for name, at in levers.items()}
    slope = axle_gain(model.estimate, share)[2]
    return with_reference(slope, float("front" in axles), float("rear" in axles))


def _height_asked(model: JobModel) -> _Asked | None:
    """Return the rear height in the target's state with the job's kit, or with a force that brings the target."""
    try:
        key = target_state(model)
        vehicle = fitted_vehicle(model, model.job.fitting) if model.job.fitting else _helped(model, key)
        slope = model.estimate.height_slope(key, Place("rear", "ground"), vehicle)
    except VantokError:
        return None  # no target can be told, or its rear was never read on the ground: the stages say so
    name = next(s.name for s in model.job.states if s.key == key)
    kit = model.job.fitting.kit.name if model.job.fitting else "a kit"
    return _Asked(key, f"the rear of “{name}” with {kit} on", with_reference(slope), "length")


def _helped(model: JobModel, key: str) -> Vehicle:
    """Return the vehicle with a constant force a side that stands for a kit: what the rate makes of the height wanted."""
    plain = model.solve()[key]
    lift = max(float(plain.d_r) - target_drop(model, key).drop, LEAST_LIFT)
    push = lift * 0.5 * float(plain.bump_rate["RL"] + plain.bump_rate["RR"])
    law = Helper(preload=push, k=0.0)
    rear = model.vehicle.rear
    helped = replace(rear, elements=(*rear.elements, Element(name="a kit", left=law, right=law)))
    return replace(model.vehicle, rear=helped)


def candidates(model: JobModel, asked: str) -> Iterator[tuple[str, Candidate, JobState | None]]:
    """Return what could be measured now, with its slope, sigma and minutes: in the state asked of, the reference, and so many others
    that a job of hundreds of states is answered as soon as one of ten."""
    job = model.job
    now = [s for s in job.states if not s.past and s.key in model.states]
    for state in sorted(now, key=lambda s: (s.key != asked, not s.empty))[:MOST_STATES]:
        if state_load(job, state).basis not in ("scale", "moved"):
            yield from _scales(model, state)
        for axle in AXLES:
            place = Place(axle, "ground")
            if place in model.estimate.heights:
                slope = model.estimate.height_slope(state.key, place)
                read = model.read_mean(state.key, axle, "ground_arch") is not None
                law = model.vehicle.axle(axle).spring.kind
                alike, own = friction_of(law)
                sigma = hypot(alike, hypot(own, reading_sigma(0.001, TAPE_SIGMA)) / sqrt(2.0))
                name = f"Settle “{state.name}” and read its {axle} arches{' again' if read else ''}"
                yield (
                    "heights",
                    Candidate(name=name, slope=with_reference(slope), sigma=sigma, minutes=MINUTES["heights"]),
                    state,
                )
    yield from _known_load(model)


def _scales(model: JobModel, state: JobState) -> Iterator[tuple[str, Candidate, JobState | None]]:
    for axle in AXLES:
        slope = _load_slope(model, state.key, axle)
        name = f"Weigh the {axle} axle of “{state.name}”"
        yield "weigh", Candidate(name=name, slope=slope, sigma=SCALE_SIGMA, minutes=MINUTES["weigh"]), state
    slope = _load_slope(model, state.key, WHOLE)
    both = Candidate(
        name=f"Weigh both axles of “{state.name}”",
        slope=slope,
        sigma=SCALE_SIGMA * sqrt(2.0),
        minutes=1.25 * MINUTES["weigh"],
    )
    yield "weigh", both, state
    tongue = f"{state.key}:tongue"
    if state.tongue and tongue in model.estimate.problem.loads:
        own = axle_gain(model.estimate, {tongue: 1.0})[2]
        name = f"Put the tongue of “{state.name}” on its scale"
        yield (
            "tongue",
            Candidate(name=name, slope=with_reference(own), sigma=TONGUE_SIGMA, minutes=MINUTES["tongue"]),
            state,
        )


def _known_load(model: JobModel) -> Iterator[tuple[str, Candidate, JobState | None]]:
    """Return a known load put over the rear axle: what it sags tells the rear's rate."""
    slope = np.zeros(len(model.estimate.best))
    slope[1] = 0.5 * KNOWN_KG * G / model.estimate.k["rear"]
    sigma = reading_sigma(0.001, 0.003)
    name = "Read the rear with two people over its axle, and without"
    yield "known", Candidate(name=name, slope=with_reference(slope), sigma=sigma, minutes=MINUTES["known"]), None
