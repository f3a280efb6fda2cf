"""The usual sheet of each construction: steps, fasteners, care, label. Data files in our own words; a kit's own sheet comes before it."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from functools import cache
from pathlib import Path
from typing import Any

from vantok_core.facts import Kit
from vantok_core.facts.kit import FACTS, KitStep
from vantok_core.kits.registry import family_of

DATA = Path(__file__).parent / "data"


@cache
def constructions() -> Mapping[str, Mapping[str, Any]]:
    """Return the usual sheet of every construction: steps with what they do to the vehicle, fasteners, box, care, and how it comes off and goes back."""
    found: Mapping[str, Mapping[str, Any]] = json.loads((DATA / "constructions.json").read_text(encoding="utf-8"))
    return found


SHEET = ("fasteners", "care", "settling_m", "contents")
"""What of a construction's sheet a catalogue entry has of its own; its usual steps follow from the construction as it is."""


def usual_sheet(kit: Kit) -> Mapping[str, Any]:
    """Return the usual sheet of a kit's construction."""
    return constructions()[family_of(kit).construction(kit)]


@cache
def common() -> Mapping[str, Any]:
    """Return what every card has before and after the kit's own steps, and what is asked at each gate."""
    found: Mapping[str, Any] = json.loads((DATA / "common.json").read_text(encoding="utf-8"))
    return found


def steps_of(kit: Kit) -> tuple[KitStep, ...]:
    """Return a kit's own steps; without any its construction's usual ones: those that are so of this kit, tightening only what its table has and asking only
    for what it is set by."""
    if kit.steps:
        return kit.steps
    known, asked = [one.name for one in kit.fasteners], {*FACTS, *(field.name for field in family_of(kit).set_by(kit))}
    usual = []
    for told in usual_sheet(kit)["steps"]:
        if _is_so(kit, told.get("when", {})):
            step = KitStep.model_validate({name: value for name, value in told.items() if name != "when"})
            fact = step.fact if step.fact in asked else ""
            usual.append(step.model_copy(update={"tightens": _in_table(step.tightens, known), "fact": fact}))
    return tuple(usual)


def _in_table(named: Sequence[str], known: Sequence[str]) -> tuple[str, ...]:
    """Return the rows of a kit's own table that a usual step tightens: of its name, or one of several alike (`bolt, long`)."""
    return tuple(row for name in named for row in known if row == name or row.startswith(f"{name}, "))


def _is_so(kit: Kit, when: Mapping[str, Any]) -> bool:
    """Tell whether what a usual step hangs on is so of a kit."""
    told = {
        "drilling": kit.drilling,
        "clicked": bool(family_of(kit).set_by(kit)),
        **family_of(kit).of(kit).model_dump(),
    }
    return all(told[name] in values for name, values in when.items())


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


def label_lines(kit: Kit) -> tuple[str, str]:
    """Return how a kit comes off and goes back, a line each, as a label in the engine bay has it."""
    off, back = usual_sheet(kit)["label"]
    return off, back
