"""Whether dampers that suit the springs still do with more spring beside them.

Formula: `zeta now / zeta before = sqrt(k before / k now)`, the same dampers on the same mass, air at its bump value. Source: method sections 6 and 14.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import sqrt

from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job
from vantok_core.kits.choice import Choice
from vantok_core.kits.registry import family_of
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import AXLE_CORNERS, AxleName

USUAL, LEAST = 0.25, 0.20
"""The damping ratio that dampers in order are taken to give on their own springs, and the least there should be (settings)."""
NAMED = 3


def damping_left(now: StateReport, before: StateReport, axle: AxleName) -> float:
    """Return what is left of an axle's damping ratio with the same dampers."""
    then, with_kit = (sum(float(one.bump_rate[c]) for c in AXLE_CORNERS[axle]) for one in (before, now))
    return sqrt(then / with_kit)


def with_dampers_told(job: Job, choices: Sequence[Choice], before: StateReport) -> list[Choice]:
    """Return the choices, those that leave too little damping with that said, and which dampers of the shelf fit; before: the state judged without them."""
    doubted = any(one.area == "dampers" and one.grade in ("watch", "fault") for one in job.inspection)
    dampers = [kit for c in choices if (kit := c.kit) and not c.out and family_of(kit).damping(kit, {}) is not None]

    def told(one: Choice) -> Choice:
        left = _left(one, before)
        if one.kit is None or left is None or (left * USUAL >= LEAST and not (doubted and left < 1.0)):
            return one
        names = [kit.name for kit in dampers if kit.axle == one.kit.axle][:NAMED]
        return replace(one, notes=(*one.notes, _said(left, names, doubted=doubted)))

    return [told(one) for one in choices]


def _left(one: Choice, before: StateReport) -> float | None:
    """Return what a choice that adds spring leaves of the damping ratio; None where it adds none, or nothing is predicted of it."""
    if one.kit is None or one.loaded is None or not family_of(one.kit).lifts:
        return None
    return damping_left(one.loaded, before, one.kit.axle)


def _said(left: float, names: Sequence[str], *, doubted: bool) -> Say:
    which = f": {' or '.join(names)}" if names else ""
    why = (
        "the dampers are doubtful already"
        if doubted
        else f"dampers that gave {USUAL:.2f} on the old springs, as usual, come under {LEAST:.2f}"
    )
    return Say(
        "Loaded, the stiffer springs leave {left} of the damping ratio; {why}. Add dampers{which}.",
        {"left": Quantity(left, "percent"), "why": why, "which": which},
    )
