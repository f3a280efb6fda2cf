"""Coil assists: a coil a side between leaf and frame, pressed harder by each disc under it or each turn of its seat.

Set by discs or turns, alike on both sides; a kit's data say which. Source: method sections 4 and 10.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field

from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job, Kit
from vantok_core.facts.parts import NotNegative, Positive
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.family import (
    KIT_ELEMENT,
    AlikeFamily,
    Data,
    ElementFamily,
    Setting,
    SettingField,
    Shown,
    Span,
    quantities,
)
from vantok_core.physics.elements.laws import Helper
from vantok_core.physics.vehicle import Element

STEPS = "steps_count"
LEAVES = ("leaf_solid", "two_stage_leaf_solid", "parabolic_solid")
"""What a coil assist can stand on."""


class CoilAssistData(Data):
    """One coil's rate (N/m); its preload on the empty vehicle without a disc or turn (N) and what each adds (N); how many there are, and
    in what steps they go."""

    rate_n_per_m: Positive
    preload_n: NotNegative = 0.0
    per_step_n: Positive
    steps_max: Annotated[float, Field(gt=0.0, le=60.0)]
    step: Annotated[float, Field(gt=0.0, le=10.0)] = 1.0
    by: Literal["disc", "turn"] = "disc"


class CoilAssistFamily(AlikeFamily[CoilAssistData], ElementFamily[CoilAssistData]):
    """A coil a side, on the leaf."""

    key = "coil_assist"
    words, many = "coil assist", "coil assists"
    data = CoilAssistData
    settings = (
        SettingField(
            name=STEPS, words="discs or turns", kind="count", order="set {left} discs or turns left and {right} right"
        ),
    )
    stands = "At the wheel"
    at_setting = (
        "A coil under load stores energy: clamps or safety wire before it is turned or lifted, face and hands clear. Frame on stands, wheels "
        "chocked. {low} to {high} discs or turns."
    )
    care = (
        "Have its clamps checked after the first short distance, and once a year; grease its seat where the maker says so.",
    )
    range_served = 0.5
    work = "helper"
    drawn = "coil beside"
    debates = ("air_or_solid", "helper_or_new", "coil_out_or_through")

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether there is a leaf for it to stand on."""
        own, words = job.vehicle.front_spring if kit.axle == "front" else job.vehicle.rear_spring, "a leaf to stand on"
        if own is None:
            why = Say("Look at the spring: a coil assist stands on a leaf.")
            return [FitCheck(key="leaf", words=words, status="measure", why=why)]
        fits = own in LEAVES
        why = Say("It stands on the leaf." if fits else "There is no leaf for it to stand on.")
        return [FitCheck(key="leaf", words=words, status="pass" if fits else "fail", why=why)]

    def element(self, job: Job, kit: Kit, setting: Setting, state: str | None, place: float | None) -> Element:
        """Return the coils at their discs or turns, none without a setting; place: m from the centre line."""
        own = self.of(kit)
        left, right = (
            Helper(preload=own.preload_n + n * own.per_step_n, k=own.rate_n_per_m)
            for n in setting.get(STEPS, (0.0, 0.0))
        )
        return Element(name=KIT_ELEMENT, left=left, right=right, ratio=kit.ratio, y=place)

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return its discs or turns."""
        own = self.of(kit)
        return {STEPS: Span(low=0.0, high=own.steps_max, step=own.step)}

    def highest_force(self, kit: Kit) -> float:
        """Return its force at its most, with the vehicle 100 mm down (N)."""
        own = self.of(kit)
        return own.preload_n + own.steps_max * own.per_step_n + 0.1 * own.rate_n_per_m

    def scaled(self, kit: Kit, strength: float) -> Kit:
        """Return a kit with rate and preloads scaled."""
        own = self.of(kit)
        told = {name: getattr(own, name) * strength for name in ("rate_n_per_m", "preload_n", "per_step_n")}
        return kit.model_copy(update=told)

    def shown(self, kit: Kit) -> list[Shown]:
        """Return rate, preload and what each disc or turn adds."""
        own = self.of(kit)
        return [
            Shown(label="Rate of one coil", values=quantities("rate", own.rate_n_per_m)),
            Shown(label="Preload on the empty vehicle, at its least", values=quantities("force", own.preload_n)),
            Shown(label=f"Each {own.by} adds", values=quantities("force", own.per_step_n)),
            Shown(label=f"{own.by.capitalize()}s at most", values=(Quantity(own.steps_max, "count"),)),
        ]


FAMILY = CoilAssistFamily()
