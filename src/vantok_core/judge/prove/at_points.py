"""The same point afterwards: a hitch, a step, a named point read before a kit went on, held against the prediction with it on.

Source: method sections 3 and 20.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import hypot

from vantok_core.base.errors import VantokError
from vantok_core.base.figure import Figure
from vantok_core.base.say import Say, Tone, Verdict, length
from vantok_core.facts import Job
from vantok_core.judge.prove.proof import AtPoint
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.fit import weaker_vehicle
from vantok_core.model import JobModel, body_points, reading_own_sigma
from vantok_core.physics.vehicle import Vehicle
from vantok_core.rates.places import Place


def at_points(model: JobModel, vehicle: Vehicle) -> tuple[AtPoint, ...]:
    """Return every point read before the work in every state it can be foretold in, with the kit on: predicted, and read where it was."""
    job = model.job
    assert job.fitting is not None
    weaker = weaker_vehicle(model, job.fitting) if KIT_ELEMENT not in model.estimate.strength else None
    names = {p.key: p.name for p in job.vehicle.points} | {"hitch": "hitch"}
    found = []
    for key, place in body_points(job).items():
        if place not in model.estimate.heights:
            continue
        for state in model.states:
            datum = "ground_hitch" if key == "hitch" else "ground_point"
            read, before = job.at(state, key, datum, "after"), job.stood(state, key, datum)
            told = _foretold(model, (state, place), vehicle, weaker)
            if told is None or (before is None and read is None):
                continue
            own = reading_own_sigma(job, read) if read is not None else 0.0
            found.append(
                AtPoint(
                    state=state,
                    key=key,
                    name=names[key],
                    before=before.value_m if before else None,
                    predicted=Figure(value=told.value, sigma=hypot(told.sigma, own)),
                    read=read.value_m if read else None,
                )
            )
    return tuple(found)


def _foretold(model: JobModel, where: tuple[str, Place], vehicle: Vehicle, weaker: Vehicle | None) -> Figure | None:
    """Return a point's height with the kit on, the kit's own spread in its band; None where it cannot be solved."""
    try:
        told = model.estimate.height(*where, vehicle)
        spread = 0.0 if weaker is None else model.estimate.height(*where, weaker).value - told.value
    except VantokError:
        return None  # the stages say why this setting cannot be solved
    return Figure(value=told.value, sigma=hypot(told.sigma, spread))


def points_said(job: Job, found: Sequence[AtPoint], *, limits: bool) -> Verdict | None:
    """Return what the points alone prove, where no corner was read with the kit on; None where no point was either. limits: whether any is known."""
    names = {s.key: s.name for s in job.states}
    said = tuple(_said(one, names[one.state]) for one in found if one.read is not None)
    if not said:
        return None
    tone, end = _end(found, names, limits=limits)
    return Verdict(tone=tone, sentences=(*said, end))


def _end(found: Sequence[AtPoint], names: Mapping[str, str], *, limits: bool) -> tuple[Tone, Say]:
    """Return what is still lacking for a proof at the points, else that it is one there."""
    if any(one.inside is False for one in found):
        return "act", Say("Read it again, settled, with the same load, before anything is changed.")
    still = dict.fromkeys(f"{one.name} in “{names[one.state]}”" for one in found if one.read is None)
    if still:
        return "act", Say("Still to read at this setting: {still}.", {"still": ", ".join(still)})
    if not limits:
        return "act", Say("No limit is known: take the ratings off the plate and weigh it before it goes.")
    return "level", Say("It is proved at that point; nothing is said of the others.")


def _said(one: AtPoint, state: str) -> Say:
    assert one.read is not None
    predicted = {"p": length(one.predicted.value), "b": one.predicted.width}
    moved = Say("")
    if one.before is not None:
        moved = Say(", {d} against before", {"d": length(one.read - one.before, signed=True)})
    held = "the prediction of {p} ± {b} held" if one.inside else "that is off the prediction of {p} ± {b}"
    return Say(
        "{state}: the {point} stands {h} above ground{moved}; {held}.",
        {"state": state, "point": one.name, "h": length(one.read), "moved": moved, "held": Say(held, predicted)},
    )
