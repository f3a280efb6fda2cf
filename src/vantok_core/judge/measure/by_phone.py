"""What a phone on the body tells beside the tape: pitch and lean against the heights read, swing and damping against the model.

Source: method sections 1 (rake) and 4 (ride frequency); the phone's own error is taken out by turning it round.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot, radians, tan

from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Quantity, Say, Tone, Verdict, length
from vantok_core.facts import Job, PhoneLevel, Pushed
from vantok_core.judge.grounds.shown import axle_frequency, main_datum
from vantok_core.judge.measure.thresholds import FIRMLY_DAMPED, FREQUENCY_KNOWN, HARDLY_DAMPED, PHONE_OFF, STANDS_AT
from vantok_core.model import JobModel, reading_own_sigma


def levelled(first: tuple[float, float], turned: tuple[float, float]) -> tuple[float, float, float]:
    """Return pitch and lean (radians) off a phone read twice, turned round between, and their sigma (radians).

    Formula: half the difference of both, since the phone's own error keeps its sign and the body's angle turns with it. Arguments: first, turned: pitch and
    lean as shown, degrees. Raises InputError for angles no vehicle stands at. Source: own derivation (as a level is turned end for end).
    """
    for value in (*first, *turned):
        if not abs(value) <= STANDS_AT:
            raise InputError("angle", value, "degrees a vehicle can stand at: under 30")
    return radians((first[0] - turned[0]) / 2.0), radians((first[1] - turned[1]) / 2.0), radians(PHONE_OFF)


@dataclass(frozen=True, slots=True, kw_only=True)
class LevelTold:
    """A level off a phone as told: what was read, and the sentence beside the tape's."""

    read: PhoneLevel
    said: Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class PushTold:
    """A push test as told: what was read, and its sentence."""

    read: Pushed
    said: Verdict


def levels_told(job: Job) -> tuple[LevelTold, ...]:
    """Return each level off a phone with what it comes to against the reference's, beside the tape's: the change of rake and lean, as far as both were read."""
    first = {one.phase: one for one in reversed(job.levels) if job.empty is not None and one.state == job.empty.key}
    return tuple(LevelTold(read=one, said=_level_said(job, one, first.get("before"))) for one in job.levels)


def _level_said(job: Job, one: PhoneLevel, base: PhoneLevel | None) -> Verdict:
    wheelbase = job.vehicle.base_m
    if base is None or base is one or wheelbase is None:
        lacks = "the empty vehicle was read so too" if base is None else "the wheelbase is known"
        told = Say("Kept: what it changes is told once {lacks}.", {"lacks": lacks})
        return Verdict(tone="level", sentences=(Say("The reference for the others.") if base is one else told,))
    by_phone = (tan(one.pitch) - tan(base.pitch)) * wheelbase
    band = NINE_IN_TEN * hypot(one.sigma, base.sigma) * wheelbase
    end, other, way = ("nose", "rear", 1.0) if by_phone >= 0.0 else ("rear", "nose", -1.0)
    values: dict[str, Quantity | str] = {"end": end, "other": other, "p": length(way * by_phone), "b": length(band)}
    by_tape = _rake_change(job, one)
    if by_tape is None:
        return Verdict(
            tone="level",
            sentences=(
                Say("The {end} came down by {p} against the {other} since empty (± {b}), by the phone.", values),
            ),
        )
    tape, sigma = by_tape
    apart = abs(by_phone - tape)
    whole = hypot(band, NINE_IN_TEN * sigma)
    values |= {"t": length(way * tape), "a": length(apart)}
    if apart <= whole:
        return Verdict(
            tone="level",
            sentences=(
                Say("Phone and tape agree: the {end} came down by {p} (± {b}) by the phone, {t} by the tape.", values),
            ),
        )
    text = "Phone and tape differ by {a}: the {end} came down by {p} (± {b}) by the phone, {t} by the tape. Read both again, settled, at the same load."
    return Verdict(tone="act", sentences=(Say(text, values),))


def _rake_change(job: Job, one: PhoneLevel) -> tuple[float, float] | None:
    """Return by how much the nose came down against the rear since empty by the tape (m), with its sigma; None where not all four were read."""
    assert job.empty is not None
    datum, total, square = main_datum(job), 0.0, 0.0
    for place, sign in (("FL", 0.5), ("FR", 0.5), ("RL", -0.5), ("RR", -0.5)):
        before, now = job.read(job.empty.key, place, datum), job.read(one.state, place, datum, one.phase)
        if before is None or now is None:
            return None
        total += sign * (before.value_m - now.value_m)
        square += 0.25 * (reading_own_sigma(job, before) ** 2 + reading_own_sigma(job, now) ** 2)
    return total, square**0.5


def pushes_told(job: Job, model: JobModel | None) -> tuple[PushTold, ...]:
    """Return each push test with what its damping means, and whether it swings as the model says it would."""
    return tuple(PushTold(read=one, said=_push_said(one, model)) for one in job.pushes)


def _push_said(one: Pushed, model: JobModel | None) -> Verdict:
    low, high = one.damping - NINE_IN_TEN * one.damping_sigma, one.damping + NINE_IN_TEN * one.damping_sigma
    values = {
        "f": Quantity(one.frequency, "frequency"),
        "z": Quantity(one.damping, "percent"),
        "b": Quantity(NINE_IN_TEN * one.damping_sigma, "percent"),
    }
    tone: Tone = "level"
    if high < HARDLY_DAMPED:
        means, tone = "hardly damped: look at the dampers before more spring", "act"
    elif low > FIRMLY_DAMPED:
        means = "firm"
    elif low < HARDLY_DAMPED:
        means = "whether that is enough the test cannot tell: push again"
    else:
        means = "as usual"
    told = [
        Say(
            "The {axle} swings at {f}, damped {z} of critical (± {b}): {means}.",
            {**values, "axle": one.axle, "means": means},
        )
    ]
    report = model.solve().get(one.state) if model is not None and one.phase == "before" else None
    if model is not None and report is not None:
        wanted = axle_frequency(model, report, one.axle)
        off = abs(one.frequency - wanted)
        if off > NINE_IN_TEN * hypot(one.frequency_sigma, FREQUENCY_KNOWN * wanted):
            tone = "act"
            told.append(
                Say(
                    "The model has {w}: friction that holds it, a stop that touches, or a load that is not known.",
                    {"w": Quantity(wanted, "frequency")},
                )
            )
    if model is not None and one.phase == "before" and one.axle in model.pushed and one is _last(model, one):
        before, after = model.pushed[one.axle]
        told.append(
            Say(
                "It moved what its class tells of the {axle} springs from {a} to {b} at the wheel.",
                {"axle": one.axle, "a": Quantity(before, "rate"), "b": Quantity(after, "rate")},
            )
        )
    return Verdict(tone=tone, sentences=tuple(told))


def _last(model: JobModel, one: Pushed) -> Pushed | None:
    """Return the push test of an axle that the model heard: the last before any kit."""
    known = [p for p in model.job.pushes if (p.axle, p.phase) == (one.axle, "before") and p.state in model.states]
    return known[-1] if known else None
