"""What a kit was read to do: on against off at one load, place by place; the vehicle with what was on when it came taken off.

Source: method section 8.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from math import hypot

from scipy.optimize import brentq

from vantok_core.base.errors import VantokError
from vantok_core.base.names import DATUMS, PLACES
from vantok_core.base.say import Say, length
from vantok_core.facts import Job, JobReading, JobState
from vantok_core.facts.fitting import read_mark
from vantok_core.facts.kinds import Phase
from vantok_core.model import JobModel, reading_own_sigma
from vantok_core.physics.elements.laws import Helper, Scaled
from vantok_core.physics.vehicle import Element, Vehicle
from vantok_core.readings.on_off import Lift, Read, force_of, lift_of

Reader = Callable[[str, str, str], JobReading | None]
"""What a cell reads, by state, place and datum."""
MEANS = {"front": ("FL", "FR"), "rear": ("RL", "RR")}
TAKEN_OFF = "taken off"


@dataclass(frozen=True, slots=True, kw_only=True)
class Effect:
    """One place of one state: heights off and on (m), their difference with its band. place: words; axle: "" away from the arches."""

    state: JobState
    place: str
    datum: str
    axle: str
    off: float
    on: float
    lift: Lift


def came(job: Job) -> tuple[Reader, Reader]:
    """Return how a kit that was on when it came was read: off, and as it came."""
    return at(job, "off"), at(job, "before")


def let_down_to(job: Job, names: Sequence[str]) -> list[Job]:
    """Return the job as of each other setting at which what was on when it came was read let down, the first read first.

    names: what its family is set by; none of unknown make, which can only be taken off.
    """
    kit = job.already
    if kit is None:
        return []
    marks = dict.fromkeys(r.setting for r in job.readings if r.phase == "off" and r.setting not in ("", kit.off_mark))
    told = [{} if mark == "off" else read_mark(mark, names) for mark in marks]
    return [
        job.model_copy(update={"already": kit.model_copy(update={"off": off})})
        for off in told
        if off is not None and off != kit.setting
    ]


def at(job: Job, phase: Phase) -> Reader:
    """Return a job's readings of a phase."""
    return lambda state, place, datum: job.at(state, place, datum, phase)


def effects(job: Job, pair: tuple[Reader, Reader]) -> tuple[Effect, ...]:
    """Return what was read at one load on both settings: means of the axles, then hitch and named points, on any datum."""
    found = []
    for state in job.states:
        for datum in DATUMS:
            if datum in ("stop_gap", "pad_to_pad", "bracket"):
                continue
            for axle, corners in MEANS.items():
                pairs = [_both(pair, state, corner, datum) for corner in corners]
                if all(pairs):
                    found.append(_mean(job, state, axle, datum, [p for p in pairs if p is not None]))
            for place in ("hitch", *(p.key for p in job.vehicle.points)):
                both = _both(pair, state, place, datum)
                if both is not None:
                    found.append(_mean(job, state, place, datum, [both]))
    return tuple(found)


def fitted_effects(job: Job) -> tuple[Effect, ...]:
    """Return what the kit in hand was read to do: against the vehicle just before it, or with what was on when it came taken off where that
    was read."""
    on = at(job, "after")
    bare = {(e.state.key, e.place, e.datum): e for e in effects(job, (at(job, "off"), on))} if job.already else {}
    return tuple(bare.get((e.state.key, e.place, e.datum), e) for e in effects(job, (job.stood, on)))


def _both(pair: tuple[Reader, Reader], state: JobState, place: str, datum: str) -> tuple[JobReading, JobReading] | None:
    off, on = (reader(state.key, place, datum) for reader in pair)
    return None if off is None or on is None else (off, on)


def _mean(job: Job, state: JobState, place: str, datum: str, pairs: list[tuple[JobReading, JobReading]]) -> Effect:
    """Return the mean of one or two places' pairs, and its band."""
    count = len(pairs)
    reads = [
        Read(
            value=sum(pair[i].value_m for pair in pairs) / count,
            sigma=hypot(*(reading_own_sigma(job, pair[i]) for pair in pairs)) / count,
            datum=datum,
        )
        for i in (0, 1)
    ]
    names = {p.key: p.name for p in job.vehicle.points}
    words = f"{place} axle" if place in MEANS else names.get(place, PLACES.get(place, place))
    axle = place if place in MEANS else ""
    return Effect(
        state=state, place=words, datum=datum, axle=axle, off=reads[0].value, on=reads[1].value, lift=lift_of(*reads)
    )


def told(effect: Effect) -> Say:
    """Return what a kit does at a place, in words; inside its band it is nothing."""
    values = {"lift": length(abs(effect.lift.lift)), "band": length(effect.lift.band)}
    where = f"{effect.state.name}, {effect.place}"
    if not effect.lift.told:
        return Say("{where}: not told apart from nothing ({lift}, band ± {band}).", {**values, "where": where})
    word = "lifts" if effect.lift.lift > 0 else "lowers"
    return Say("{where}: it {word} {lift} (± {band}).", {**values, "where": where, "word": word})


def main_effect(job: Job, found: tuple[Effect, ...]) -> Effect | None:
    """Return the effect a kit is judged by: its own axle, in a loaded state before the reference, on the ground datum first."""
    axle = job.already.kit.axle if job.already is not None and job.already.kit is not None else "rear"
    own = [e for e in found if e.axle == axle]
    return min(own, key=lambda e: (e.state.empty and not job.never_empty, e.datum != "ground_arch"), default=None)


def force_read(model: JobModel, main: Effect) -> tuple[float, float] | None:
    """Return the force per side at the wheel that the lift means at unchanged load, and its sigma (N)."""
    report = model.solve().get(main.state.key)
    if report is None:
        return None
    corners = MEANS[main.axle]
    rate = sum(float(report.bump_rate[c]) for c in corners) / 2
    return force_of(main.lift, rate, model.estimate.sigma_ln["rear" if main.axle == "rear" else "front"])


def without_already(model: JobModel, vehicle: Vehicle | None = None) -> tuple[Vehicle, float]:
    """Return the vehicle (the model's own unless another is given) with what was on when it came taken off, as its read force tells,
    and the sigma of a height that rests on it (m).

    The vehicle itself and nought where nothing was on, or nothing tells that it does anything. Source: method section 8.
    """
    used = vehicle or model.vehicle
    main = main_effect(model.job, effects(model.job, came(model.job))) if model.job.already is not None else None
    push = force_read(model, main) if main is not None and main.lift.told else None
    if main is None or push is None:
        return used, 0.0
    wanted = main.lift.lift

    def lowered(pushed: float) -> Vehicle:
        law = Scaled(law=Helper(preload=abs(pushed), k=0.0), factor=-1.0 if pushed > 0.0 else 1.0)
        axle = used.rear if main.axle == "rear" else used.front
        axle = replace(axle, elements=(*axle.elements, Element(name=TAKEN_OFF, left=law, right=law)))
        return replace(used, rear=axle) if main.axle == "rear" else replace(used, front=axle)

    def miss(pushed: float) -> float:
        drop = "d_r" if main.axle == "rear" else "d_f"
        state = main.state.key
        return (
            float(getattr(model.solve(lowered(pushed))[state], drop) - getattr(model.solve(used)[state], drop)) - wanted
        )

    return lowered(_force_that(miss, push[0])), main.lift.sigma


def _force_that(miss: Callable[[float], float], guess: float) -> float:
    """Return the force (N) that makes nought of a miss, looked for up to sixteen times the guess; the guess where none does."""
    far = 2.0 * guess
    for _ in range(4):
        try:
            if miss(far) * miss(0.0) < 0.0:
                return float(brentq(miss, 0.0, far, xtol=1.0, rtol=1e-6))
        except VantokError:
            break  # so much taken off lifts a wheel: the rate's own answer stands
        far *= 2.0
    return guess
