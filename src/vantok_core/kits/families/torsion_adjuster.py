"""Torsion-bar adjusters: the bar's seat is turned, which lifts the axle at unchanged rate.

Set by how far the seat is shifted at the arm, in the steps of its screw, alike on both sides. Source: method sections 4 and 10.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

from pydantic import Field

from vantok_core.facts import Job, Kit
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.family import Data, Setting, SettingField, Shown, Span, SpringFamily, quantities
from vantok_core.physics.vehicle import TorsionBarAdjuster

SHIFT = "shift_m"
Length = Annotated[float, Field(gt=0.0, le=0.15)]


class AdjusterData(Data):
    """How far the seat can be shifted at most, as the wheel feels it, and what a turn of its screw shifts it (m)."""

    shift_max_m: Length
    per_turn_m: Length


class AdjusterFamily(SpringFamily[AdjusterData]):
    """An adjuster a side."""

    key = "torsion_adjuster"
    words, many = "torsion-bar adjuster", "torsion-bar adjusters"
    data = AdjusterData
    settings = (
        SettingField(
            name=SHIFT, words="lift at the arm", kind="length", order="turn it up by {left} left and {right} right"
        ),
    )
    stands = "At the wheel"
    at_setting = (
        "A torsion bar is wound up whenever the wheel carries: unload it on stands before the screw is turned, stand clear of the key. "
        "{low} to {high}; then alignment and headlamps."
    )
    care = ("Have the alignment and the headlamps set after any turn; droop is lost by as much as it is lifted.",)
    range_served = 0.2
    work = "spring"
    drawn = "torsion key"
    debates = ("block_or_camber",)

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return nothing of its own: spring type and droop are asked of every kit."""
        return []

    def change(self, job: Job, kit: Kit, setting: Setting) -> TorsionBarAdjuster:
        """Return the shift; the mean of both sides where somebody set them unlike."""
        left, right = setting.get(SHIFT, (0.0, 0.0))
        return TorsionBarAdjuster(shift=0.5 * (left + right))

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return its shift, a quarter of a turn at a time."""
        own = self.of(kit)
        return {SHIFT: Span(low=0.0, high=own.shift_max_m, step=0.25 * own.per_turn_m)}

    def highest_force(self, kit: Kit) -> float:
        """Return nought: it carries what the bar carries."""
        return 0.0

    def scaled(self, kit: Kit, strength: float) -> Kit:
        """Return the kit: a shift is a length, and has no strength."""
        return kit

    def shown(self, kit: Kit) -> list[Shown]:
        """Return its range."""
        own = self.of(kit)
        return [
            Shown(label="Lifts at most", values=quantities("length", own.shift_max_m)),
            Shown(label="A turn lifts", values=quantities("length", own.per_turn_m)),
        ]


FAMILY = AdjusterFamily()
