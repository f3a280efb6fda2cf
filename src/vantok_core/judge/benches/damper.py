"""The damper bench: whether a damper has room at bump and droop, what its lean wastes, and whether it damps the springs it stands beside.

Source: method sections 6 and 14.
"""

from __future__ import annotations

from collections.abc import Mapping
from math import degrees

from vantok_core.base.say import Quantity, length
from vantok_core.benches.damper import DamperMount, damper_fit, damping_ratio
from vantok_core.benches.valves import damping_word, lean, needed_rate
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import Answer, Ask, Bench, Draft, Tone, Values, maybe, number
from vantok_core.model import JobModel

MARGIN = 0.010
"""What is to be left at either end of the stroke, m (setting)."""
AXLE = (0.0, 0.0, 0.0)
WANTED = 0.30
"""Damping ratio that a rate is worked out for (setting)."""


def _answer(values: Values) -> Answer:
    draft, frame = Draft(), (number(values, "along"), number(values, "across"), number(values, "up"))
    mount = DamperMount(
        axle=AXLE, frame=frame, bump=number(values, "bump"), droop=number(values, "droop"), closed=number(values, "closed"), open_=number(values, "open"),
        margin_closed=MARGIN, margin_open=MARGIN,
    )  # fmt: skip
    fit, at = damper_fit(mount), lean(AXLE, frame)
    draft.row("At ride height", length(fit.ride))
    draft.row("Shortest, at bump", length(fit.shortest))
    draft.row("Longest, at droop", length(fit.longest))
    draft.row("Lean from the side, from the end", f"{degrees(at.side):.0f}°, {degrees(at.end):.0f}°")
    draft.row("Of its rate felt at the wheel", Quantity(at.cosine**2, "percent"))
    if fit.closed_clearance < 0.0:
        draft.say(
            "It would be the bump stop: {short} too long shut. It breaks, or its mount does.",
            "limit",
            short=length(-fit.closed_clearance),
        )
    if fit.open_clearance < 0.0:
        draft.say("It would be the limiting strap: {short} too short open.", "limit", short=length(-fit.open_clearance))
    if min(fit.closed_clearance, fit.open_clearance) >= 0.0:
        text = "It has room at both ends: {bump} at bump, {droop} at droop, {margin} of margin taken off."
        draft.say(text, bump=length(fit.closed_clearance), droop=length(fit.open_clearance), margin=length(MARGIN))
    _ratio(draft, values, at.cosine)
    return draft.done(
        along=frame[0],
        across=frame[1],
        up=frame[2],
        bump=mount.bump,
        droop=mount.droop,
        closed=mount.closed,
        open=mount.open_,
    )


def _ratio(draft: Draft, values: Values, cosine: float) -> None:
    """Say whether it damps its springs, where their rate and mass are known; cosine: of its lean."""
    rate, spring, mass = maybe(values, "rate"), maybe(values, "spring"), maybe(values, "mass")
    if spring is None or mass is None:
        return
    draft.say(
        f"For a damping ratio of {WANTED:g} it takes {{need}} at the damper.",
        need=Quantity(needed_rate(WANTED, spring, mass, cosine), "damping"),
    )
    if rate is None:
        return
    zeta = damping_ratio(rate * cosine**2, spring, mass)
    word = damping_word(zeta)
    draft.row("Damping ratio", f"{zeta:.2f}, {word}")
    tone: Tone = "act" if word in ("keeps bouncing", "harsh") else "level"
    draft.say(
        f"With its {{rate}} the ratio is {zeta:.2f}: {word}. More spring later lowers it.",
        tone,
        rate=Quantity(rate, "damping"),
    )


def _of_job(job: Job, model: JobModel | None) -> Mapping[str, tuple[float | str, str]]:
    found: dict[str, tuple[float | str, str]] = {}
    if model is not None:
        rear = model.vehicle.rear
        found["spring"] = (float(rear.spring.k), "the rear springs as calibrated")
        found["mass"] = (
            float(sum(rear.ref_load)) / 9.80665 / 2.0 - float(rear.unsprung),
            "half the rear axle's sprung mass in the reference",
        )
    if job.vehicle.rear_droop_m is not None:
        found["droop"] = (job.vehicle.rear_droop_m, "the vehicle's droop")
    return found


BENCH = Bench(
    key="damper", words="Dampers", question="Does it fit between bump and droop, and does it damp these springs?",
    asks=(
        Ask(name="along", words="Upper mount ahead of the lower, along the vehicle", kind="length", first=0.10), Ask(name="across",
        words="Upper mount inward of the lower", kind="length", first=0.06),
        Ask(name="up", words="Upper mount above the lower", kind="length", first=0.42), Ask(name="bump", words="Wheel up until the stop is pressed",
        kind="length", first=0.08),
        Ask(name="droop", words="Wheel down, hanging", kind="length", first=0.09), Ask(name="closed", words="Damper shut, eye to eye", kind="length",
        first=0.33),
        Ask(name="open", words="Damper open, eye to eye", kind="length", first=0.53), Ask(name="rate", words="Its rate over a cycle", kind="damping",
        needed=False),
        Ask(name="spring", words="Wheel rate, springs with the helper", kind="rate", needed=False), Ask(name="mass", words="Sprung mass on that wheel",
        kind="mass", needed=False),
    ),
    answer=_answer, of_job=_of_job,
)  # fmt: skip
