"""The usual sheet of each family: steps, fasteners, care. Data files in our own words; a kit's own sheet comes before it."""

from __future__ import annotations

import json
from collections.abc import Mapping
from functools import cache
from pathlib import Path
from typing import Any

from vantok_core.facts import Kit
from vantok_core.facts.kit import KitStep

DATA = Path(__file__).parent / "data"


@cache
def sheets() -> Mapping[str, Mapping[str, Any]]:
    """Return the usual sheet of every family, as a catalogue entry has it."""
    found: Mapping[str, Mapping[str, Any]] = json.loads((DATA / "families.json").read_text(encoding="utf-8"))
    return found


@cache
def common() -> Mapping[str, Any]:
    """Return what every card has before and after the kit's own steps, and what is asked at each gate."""
    found: Mapping[str, Any] = json.loads((DATA / "common.json").read_text(encoding="utf-8"))
    return found


def steps_of(kit: Kit) -> tuple[KitStep, ...]:
    """Return a kit's own steps; without any its family's usual ones, which tighten only what the kit's table has."""
    if kit.steps:
        return kit.steps
    known = {one.name for one in kit.fasteners}
    usual = (KitStep.model_validate(one) for one in sheets().get(kit.family, {}).get("steps", ()))
    return tuple(one.model_copy(update={"tightens": tuple(n for n in one.tightens if n in known)}) for one in usual)


@cache
def works() -> Mapping[str, Mapping[str, Any]]:
    """Return the works that get at a kit, described: wheel off and on, damper, axle bolts, bushes, liners, exhaust."""
    found: Mapping[str, Mapping[str, Any]] = json.loads((DATA / "works.json").read_text(encoding="utf-8"))
    return found


def work_of(what: str) -> Mapping[str, Any] | None:
    """Return how a thing that must come off is taken off and put back, by its words; None for one that is not described."""
    said = what.lower()
    for work in works().values():
        if any(word in said for word in work["match"]) and not any(word in said for word in work["unless"]):
            return work
    return None


@cache
def label_lines() -> Mapping[str, tuple[str, str]]:
    """Return how each family comes off and goes back, a line each, as a label in the engine bay has it."""
    told = json.loads((DATA / "label.json").read_text(encoding="utf-8"))
    return {family: (off, back) for family, (off, back) in told.items()}
