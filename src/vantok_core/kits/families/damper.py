"""Dampers: they lift nothing, and settle the body; a click sets how hard.

Curves are the maker's points of speed and force, bump and rebound, for each click. Source: method sections 6 and 14.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from math import cos, pi
from typing import Annotated, Literal

from pydantic import Field, model_validator

from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job, Kit
from vantok_core.facts.classes import BODIES
from vantok_core.facts.parts import NotNegative, Positive
from vantok_core.kits.checks import FitCheck, Status
from vantok_core.kits.curves import Typed
from vantok_core.kits.family import Data, Setting, SettingField, Shown, Span, StillFamily, held, quantities
from vantok_core.model import JobModel

CLICK = "click_count"
USUAL_SPEED = 0.3
"""Speed (m/s) that a damper's rate is told at."""
Points = Annotated[tuple[tuple[Positive, NotNegative], ...], Field(min_length=1, max_length=20)]


class Click(Data):
    """One click's curve: speed (m/s) and force (N), bump and rebound, from the slowest up."""

    bump: Points
    rebound: Points

    @model_validator(mode="after")
    def _rises(self) -> Click:
        for name in ("bump", "rebound"):
            points = getattr(self, name)
            if any(b[0] <= a[0] or b[1] < a[1] for a, b in itertools.pairwise(points)):
                raise ValueError(f"{name}: speeds must rise and forces must not fall")
        return self

    def rate(self, speed: float) -> float:
        """Return the mean of bump and rebound force at a speed over that speed (N s/m), straight between the points."""
        return 0.5 * (_at(self.bump, speed) + _at(self.rebound, speed)) / speed

    def equivalent(self, speed: float) -> float:
        """Return the rate that takes as much out of a cycle of a speed amplitude (m/s) as the curves do (N s/m).

        Formula: `(1 / (pi v)) * integral of (F_bump + F_rebound)(v cos a) cos a da` over half a turn, in 200 steps. Source: method section 14.
        """
        steps = 200
        angles = ((n + 0.5) * pi / steps - 0.5 * pi for n in range(steps))
        work = sum((_at(self.bump, speed * cos(a)) + _at(self.rebound, speed * cos(a))) * cos(a) for a in angles)
        return work / (steps * speed)


def _at(points: tuple[tuple[float, float], ...], speed: float) -> float:
    known = ((0.0, 0.0), *points)
    for (v0, f0), (v1, f1) in itertools.pairwise(known):
        if speed <= v1:
            return f0 + (f1 - f0) * (speed - v0) / (v1 - v0)
    return known[-1][1] * speed / known[-1][0]


class DamperData(Data):
    """Its lengths (m), shut and open; its clicks, the softest first; mounts: eyes at both ends, a stem on top, a strut, or swivel ends on mounts that are
    welded or bolted to a trailer."""

    shut_m: Positive
    open_m: Positive
    clicks: Annotated[tuple[Click, ...], Field(min_length=1, max_length=12)]
    mounts: Literal["eye", "stem", "strut", "welded", "bolted"] = "eye"

    @model_validator(mode="after")
    def _longer_open(self) -> DamperData:
        if self.open_m <= self.shut_m:
            raise ValueError("open_m: it is longer open than shut")
        return self


class DamperFamily(StillFamily[DamperData]):
    """A damper a side."""

    key = "damper"
    words, many = "dampers", "dampers"
    answers = ("damping", "ride", "windup")
    data = DamperData
    settings = (SettingField(name=CLICK, words="click", kind="count", order="set click {left} left and {right} right"),)
    stands = "At the wheel"
    at_setting = (
        "Gas dampers open by themselves when the strap is cut: keep hands clear. The damper may never be the bump stop nor the limiting strap: measure its "
        "lengths at bump and droop. Clicks {low} to {high}, the same on both sides of an axle."
    )
    care = ("Oil on a damper, or one that does not push evenly, is worn: change both of an axle.",)
    range_served = 1.0
    bench = "damper"
    work = "damper"
    drawn = "shock"
    debates = ("dampers_or_springs", "one_setting_or_many")
    typed = {"clicks": Typed(shape="clicks", columns=(("speed", "damper_speed"), ("force", "force")))}

    def construction(self, kit: Kit) -> str:
        """Return how it is held."""
        mounts = self.of(kit).mounts
        return mounts if mounts == "strut" else f"damper_{mounts}"

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return that its lengths are measured on the bench, and that one with mounts for a trailer is for a trailer."""
        own = self.of(kit)
        values = {"shut": Quantity(own.shut_m, "length"), "open": Quantity(own.open_m, "length")}
        why = Say(
            "Measure between its mounts at bump, ride height and droop; it is {shut} shut and {open} open.", values
        )
        lengths = FitCheck(key="lengths", words="lengths at bump and droop", status="measure", why=why)
        if own.mounts not in ("welded", "bolted"):
            return [lengths]
        trailer = BODIES[job.vehicle.body].trailer
        said = "A trailer, whose frame takes its mounts." if trailer else "Its mounts are made for a trailer’s frame."
        status: Status = "pass" if trailer else "fail"
        return [FitCheck(key="trailer", words="trailer", status=status, why=Say(said), final=True), lengths]

    def does(self, model: JobModel, kit: Kit, setting: Setting, state: str) -> list[Say]:
        """Return its damping rate at the usual speed."""
        own = self.of(kit)
        click = own.clicks[round(held(setting.get(CLICK, (1.0, 1.0))[0], 1, len(own.clicks))) - 1]
        values = {"c": Quantity(click.rate(USUAL_SPEED), "damping")}
        return [
            Say(
                "It lifts nothing. Its rate is {c} at the usual speed, softest click first; set it by the drive, one click at a time.",
                values,
            )
        ]

    def damping(self, kit: Kit, setting: Setting) -> float | None:
        """Return the rate of one damper over a cycle at the usual speed, at its click (N s/m)."""
        own = self.of(kit)
        return own.clicks[round(held(setting.get(CLICK, (1.0, 1.0))[0], 1, len(own.clicks))) - 1].equivalent(
            USUAL_SPEED
        )

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return its clicks; nothing with one alone."""
        count = len(self.of(kit).clicks)
        return {CLICK: Span(low=1.0, high=float(count), step=1.0)} if count > 1 else {}

    def shown(self, kit: Kit) -> list[Shown]:
        """Return lengths and clicks."""
        own = self.of(kit)
        return [
            Shown(label="Length, shut and open", values=quantities("length", own.shut_m, own.open_m)),
            Shown(label="Clicks", values=quantities("count", float(len(own.clicks)))),
        ]

    def table(self, kit: Kit) -> tuple[list[str], list[list[Quantity]]] | None:
        """Return rebound and bump force at the usual speed by click."""
        own = self.of(kit)
        rows = [
            [*quantities("count", n + 1.0), *quantities("force", _at(c.bump, USUAL_SPEED), _at(c.rebound, USUAL_SPEED))]
            for n, c in enumerate(own.clicks)
        ]
        return ["Bump and rebound force at the usual speed, by click"], rows


FAMILY = DamperFamily()
