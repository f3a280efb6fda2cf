"""How a vehicle is lifted for a kit: body or axle, its points by body style, what stands must carry, and what takes two people.

The vehicle maker's lifting points and local rules come first; this is a reminder of what to look for. Source: procedures of the trade.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from vantok_core.base.say import Quantity, Say, mass
from vantok_core.facts import Job, Kit
from vantok_core.kits.registry import family_of
from vantok_core.procedure.templates import DATA

HEAVY = 25.0
"""A piece from so many kg on is lifted by two, or on a table (setting)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Lifting:
    """How it is lifted, in words; what is asked before; sentences with their figures: points, what stands must carry."""

    words: str
    asks: tuple[str, ...]
    told: tuple[Say, ...]


@cache
def _plans() -> Mapping[str, Any]:
    found: Mapping[str, Any] = json.loads((DATA / "lifting.json").read_text(encoding="utf-8"))
    return found


def lifting(job: Job, kit: Kit) -> Lifting:
    """Return how the vehicle is lifted for a kit; by the body, unless its axle is unbolted."""
    how = _plans()["how"]["axle" if family_of(kit).construction(kit) in _plans()["axle_held"] else "body"]
    rating = job.vehicle.front_axle_kg if kit.axle == "front" else job.vehicle.rear_axle_kg
    if rating is None or f"{kit.axle}_axle_kg" in job.vehicle.defaults:
        carries = Say(
            "The {axle} axle's rating is not read off its plate: read it before jack and stands are chosen.",
            {"axle": kit.axle},
        )
    else:
        carries = Say(
            "Jack and stands for what the {axle} axle may carry, {rating}, not for what it weighs today: {side} a side at least.",
            {"rating": mass(rating), "side": mass(0.5 * rating), "axle": kit.axle},
        )
    points = Say("{plan} The vehicle maker's book comes first.", {"plan": _plans()["points"][job.vehicle.body]})
    return Lifting(words=how["words"], asks=tuple(how["asks"]), told=(points, carries))


def hands(kit: Kit, *, lifted: bool) -> tuple[Say, ...]:
    """Return what to know before the box is opened: whether anything is lifted at all, and what its heaviest piece asks for."""
    told = [] if lifted else [Say(_plans()["on_wheels"])]
    weight = heavy(kit)
    return (*told, *((weight,) if weight else ()))


def heavy(kit: Kit) -> Say | None:
    """Return what its heaviest piece asks for; None where it is light, or nobody has said and its family is light."""
    if kit.mass_kg is not None and kit.mass_kg >= HEAVY:
        return Say(
            "Its heaviest piece weighs {mass}: two people or a lift table.", {"mass": Quantity(kit.mass_kg, "mass")}
        )
    if kit.mass_kg is None and family_of(kit).construction(kit) in _plans()["heavy"]:
        return Say("Nobody has said what its heaviest piece weighs: try one end first; two people, or a lift table.")
    return None
