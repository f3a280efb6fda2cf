"""What can be driven beside one another: as it is, as fitted, the options of Choose, the load moved, other dampers."""

from __future__ import annotations

from contextlib import suppress

from vantok.desk.load import Desk
from vantok_core.base.errors import VantokError
from vantok_core.facts import Fitting
from vantok_core.judge.ride.ready import Configuration, damper_of
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel

NOW, FITTED = "now", "fitted"
MOST, OFFERED = 4, 12
"""Driven beside one another at most, and options that are offered at most."""
FIFTH = 0.2
"""How far off the setting the same kit is offered lower and higher, as a share of it."""


def standing(desk: Desk) -> list[Configuration]:
    """Return the vehicle as it is and, where a kit is in hand that can be solved as set, with it; nothing while there is no model."""
    model, fitting = desk.worked.staged, desk.job.fitting
    if model is None:
        return []
    found = [Configuration(key=NOW, words="as it is", vehicle=model.vehicle)]
    if fitting is not None:
        words = f"with {fitting.kit.name} as set"
        with suppress(VantokError):  # Set says why it cannot be solved
            found.append(Configuration(key=FITTED, words=words, vehicle=fitted_vehicle(model, fitting)))
    return found


def options(desk: Desk) -> list[Configuration]:
    """Return what can be driven, as it is first; nothing while there is no model."""
    model, fitting, found = desk.worked.staged, desk.job.fitting, standing(desk)
    if model is None:
        return []
    base = found[-1]
    if fitting is not None and base.key == FITTED:
        found += _set_otherwise(model, fitting)
    found += _chosen(desk)
    return [*found[: OFFERED - 3], *_damped(desk, model, base)][:OFFERED]


def _set_otherwise(model: JobModel, fitting: Fitting) -> list[Configuration]:
    """Return the kit in hand set a fifth lower and higher, or a step of what is counted, where its maker allows that."""
    found = []
    family = family_of(fitting.kit)
    for field in family.set_by(fitting.kit):
        span, pair = family.spans(fitting.kit).get(field.name), fitting.setting.get(field.name)
        if span is None or pair is None or family.gives_back:
            continue
        for way in (-1.0, 1.0):
            moved = [v + way if field.kind == "count" else v * (1.0 + FIFTH * way) for v in pair]
            left, right = (min(max(v, span.low), span.high) for v in moved)
            if (left, right) == tuple(pair):
                continue
            changed = fitting.model_copy(update={"setting": {**fitting.setting, field.name: (left, right)}})
            try:
                vehicle = fitted_vehicle(model, changed)
                model.solved(vehicle)
            except VantokError:
                continue  # a setting at which it cannot stand is no option
            words = f"as set, {field.words} {'less' if way < 0 else 'more'}{' by one' if field.kind == 'count' else ' by a fifth'}"
            key = f"{FITTED}:{field.name}:{'less' if way < 0 else 'more'}"
            found.append(Configuration(key=key, words=words, vehicle=vehicle))
    return found


def _chosen(desk: Desk) -> list[Configuration]:
    """Return the options of Choose that can be solved, the recommended one first."""
    found, on = desk.shortlist, {part.kit.code for part in desk.job.parts}
    if found is None:
        return []
    able = [c for c in found.choices if c.vehicle is not None and not c.out and c.key != "nothing" and c.key not in on]
    told = sorted(able, key=lambda c: c.key != found.recommended)
    return [
        Configuration(
            key=c.key,
            words=c.name if c.kind == "move" else f"with {c.name}",
            vehicle=c.vehicle,
            states=c.loads,
        )
        for c in told
        if c.vehicle is not None and (c.kit is None or damper_of(c.kit) is None)
    ]


def _damped(desk: Desk, model: JobModel, base: Configuration) -> list[Configuration]:
    """Return the vehicle as it is, or as fitted, with dampers of the shelf that are not out."""
    found = desk.shortlist
    kits = [c.kit for c in found.choices if c.kit is not None and not c.out] if found is not None else []
    return [
        Configuration(
            key=f"{base.key}+{kit.code}",
            words=f"{base.words}, {kit.name}" if base.key == FITTED else f"with {kit.name}",
            vehicle=base.vehicle,
            dampers=own,
        )
        for kit in kits
        if (own := damper_of(kit)) is not None
    ][:3]
