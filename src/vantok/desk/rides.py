"""What can be driven beside one another: as it is, as fitted, the options of Choose, the load moved, other dampers."""

from __future__ import annotations

from vantok.desk.load import Desk
from vantok_core.base.errors import VantokError
from vantok_core.judge.ride.ready import Configuration, damper_of
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.model import JobModel

NOW, FITTED = "now", "fitted"
MOST, OFFERED = 4, 10
"""Driven beside one another at most, and options that are offered at most."""


def options(desk: Desk) -> list[Configuration]:
    """Return what can be driven, as it is first; nothing while there is no model."""
    model = desk.worked.staged
    if model is None:
        return []
    base = Configuration(key=NOW, words="as it is", vehicle=model.vehicle)
    found = [base]
    if (fitting := desk.job.fitting) is not None:
        try:
            base = Configuration(
                key=FITTED, words=f"with {fitting.kit.name} as set", vehicle=fitted_vehicle(model, fitting)
            )
            found.append(base)
        except VantokError:
            pass  # Set says why it cannot be solved
    found += _chosen(desk)
    return [*found[: OFFERED - 3], *_damped(desk, model, base)][:OFFERED]


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
