"""Anti-roll bars: they lift nothing, and hold the body against rolling; the hole of the link sets how much.

Source: method sections 6 and 14.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated

from pydantic import Field, model_validator

from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job, Kit
from vantok_core.facts.parts import Positive
from vantok_core.kits.checks import FitCheck, size_check
from vantok_core.kits.curves import Typed
from vantok_core.kits.family import Data, Setting, SettingField, Shown, Span, StillFamily, held, quantities
from vantok_core.model import JobModel
from vantok_core.physics.vehicle import AntiRollBar, Axle

HOLE = "link_count"
LEAST_CLEAR = 0.010
"""What must be left between tyre and bar at lock, m."""


class BarData(Data):
    """Roll stiffness at the axle (N m/rad) in each hole of the link, the softest first; whether the factory's own bar comes off."""

    stiffness_nm_per_rad: Annotated[tuple[Positive, ...], Field(min_length=1, max_length=8)]
    replaces_bar: bool = True

    @model_validator(mode="after")
    def _rises(self) -> BarData:
        if any(b <= a for a, b in itertools.pairwise(self.stiffness_nm_per_rad)):
            raise ValueError("stiffness_nm_per_rad: each hole must hold harder than the one before")
        return self

    def at(self, hole: float) -> float:
        """Return the stiffness (N m/rad) in a hole (counted from 1)."""
        return self.stiffness_nm_per_rad[round(held(hole, 1, len(self.stiffness_nm_per_rad))) - 1]


class BarFamily(StillFamily[BarData]):
    """One bar across the axle."""

    key = "anti_roll_bar"
    words, many = "anti-roll bar", "anti-roll bars"
    answers = ("roll",)
    data = BarData
    settings = (
        SettingField(
            name=HOLE, words="link in hole", kind="count", order="put the links in hole {left} left and {right} right"
        ),
    )
    stands = "At the wheel"
    at_setting = (
        "Both links loose until it stands on its wheels at ride height, on level ground; the same hole on both sides unless the maker says otherwise. "
        "Clear of brake lines at full bump, full droop and both locks."
    )
    care = ("Have bushes and links looked at once a year; a link that knocks is worn.",)
    range_served = 1.0
    bench = "bar"
    work = "bar"
    drawn = "roll bar"
    both_sides = False
    debates = ("bar_stiff_or_soft", "bar_front_or_rear")
    typed = {
        "stiffness_nm_per_rad": Typed(
            shape="list", columns=(("roll stiffness by hole, the softest first", "roll_stiffness"),)
        )
    }

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether anybody looked for the factory's own bar, and whether the tyre clears one at lock."""
        return [
            self._own_bar(job, kit),
            *([size_check(job, kit, "tyre_bar_m", LEAST_CLEAR, 0.3)] if kit.axle == "front" else []),
        ]

    def _own_bar(self, job: Job, kit: Kit) -> FitCheck:
        kind = "bar_front" if kit.axle == "front" else "bar_rear"
        known = next((one.fitted for one in job.vehicle.equipment if one.kind == kind), None)
        words = "the factory's own bar"
        if known is None:
            why = Say(
                "Look whether a bar is on the {axle} axle, and note it with what is fitted (Vehicle).",
                {"axle": kit.axle},
            )
            return FitCheck(key="bar", words=words, status="measure", why=why)
        text = (
            "There is one: it comes off."
            if known in ("factory", "later") and self.of(kit).replaces_bar
            else "Looked for and noted."
        )
        return FitCheck(key="bar", words=words, status="pass", why=Say(text))

    def fitted(self, job: Job, kit: Kit, axle: Axle, setting: Setting, state: str | None) -> Axle:
        """Return its axle with the bar on, in the place of the factory's where it replaces it."""
        own = self.of(kit)
        left, right = setting.get(HOLE, (1.0, 1.0))
        bar = AntiRollBar(name="kit bar", stiffness=0.5 * (own.at(left) + own.at(right)), fitted="kit")
        return replace(axle, bars=(*(() if own.replaces_bar else axle.bars), bar))

    def does(self, model: JobModel, kit: Kit, setting: Setting, state: str) -> list[Say]:
        """Return what the bar adds to the axle's own springs in roll: `k t^2 / 2` of the springs where they stand, and the bar's."""
        axle = model.vehicle.axle(kit.axle)
        side = axle.spring.y if axle.solid and axle.spring.y is not None else 0.5 * axle.track
        springs = 2.0 * float(axle.spring.k) * float(axle.spring.ratio) ** 2 * side**2
        bars = 0.0 if self.of(kit).replaces_bar else sum(float(bar.stiffness) for bar in axle.bars)
        before = springs + sum(float(bar.stiffness) for bar in axle.bars)
        now = springs + bars + self.of(kit).at(setting.get(HOLE, (1.0, 1.0))[0])
        values = {"more": Quantity(now / before - 1.0, "percent", signed=True)}
        return [
            Say(
                "It lifts nothing. It changes the {axle} axle's roll stiffness by {more}; too stiff, it throws heads from side "
                "to side on single bumps.",
                {**values, "axle": kit.axle},
            )
        ]

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return its holes."""
        return {HOLE: Span(low=1.0, high=float(len(self.of(kit).stiffness_nm_per_rad)), step=1.0)}

    def shown(self, kit: Kit) -> list[Shown]:
        """Return how many holes there are."""
        return [Shown(label="Holes", values=quantities("count", float(len(self.of(kit).stiffness_nm_per_rad))))]

    def table(self, kit: Kit) -> tuple[list[str], list[list[Quantity]]] | None:
        """Return roll stiffness by hole."""
        rows = [
            [*quantities("count", n + 1.0), *quantities("roll_stiffness", k)]
            for n, k in enumerate(self.of(kit).stiffness_nm_per_rad)
        ]
        return ["Roll stiffness at the axle, by hole"], rows


FAMILY = BarFamily()
