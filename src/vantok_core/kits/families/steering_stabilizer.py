"""Steering stabilizers: a damper on the linkage, neutral or centring; they lift nothing, and cover up as easily as they cure.

Source: method section 14.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from typing import Annotated

from pydantic import Field, model_validator

from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job, Kit
from vantok_core.facts.parts import Positive
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.curves import Typed
from vantok_core.kits.family import Data, Setting, SettingField, Shown, Span, StillFamily, held, quantities
from vantok_core.model import JobModel

CLICK = "click_count"


class StabilizerData(Data):
    """Its stroke (m) and damping (N s/m), at each click where it has clicks, the softest first; whether a spring brings it back to the centre;
    whether its maker lists it for rack steering."""

    stroke_m: Positive
    damping_ns_per_m: Positive
    centring: bool = False
    rack: bool = False
    clicks_ns_per_m: Annotated[tuple[Positive, ...], Field(max_length=12)] = ()

    @model_validator(mode="after")
    def _rises(self) -> StabilizerData:
        if any(b <= a for a, b in itertools.pairwise(self.clicks_ns_per_m)):
            raise ValueError("clicks_ns_per_m: each click must be harder than the one before")
        return self

    def at(self, click: float) -> float:
        """Return its damping (N s/m) at a click, counted from one; its one figure where it has none."""
        clicks = self.clicks_ns_per_m
        return clicks[round(held(click, 1.0, len(clicks))) - 1] if clicks else self.damping_ns_per_m


class StabilizerFamily(StillFamily[StabilizerData]):
    """One on the linkage."""

    key = "steering_stabilizer"
    words, many = "steering stabilizer", "steering stabilizers"
    answers = ("steering", "kick")
    data = StabilizerData
    settings = (SettingField(name=CLICK, words="click", kind="count", order="set click {left}"),)
    stands = "At the wheel"
    at_setting = (
        "Steering: it may never reach either end of its stroke before the lock stops do, nor foul anything at bump or droop. Try lock to lock by hand, "
        "wheels off, then with the engine running, before it goes on the road."
    )
    care = (
        "If it steers worse, pulls or knocks: stop, and have it looked at. It holds the wheel against kicks; it cures no play and no alignment.",
    )
    range_served = 1.0
    bench = "stabilizer"
    work = "stabilizer"
    drawn = "steering rod"
    both_sides = False
    debates = ("stabilizer_first_or_last", "centring_or_neutral", "stabilizer_by_road")
    typed = {"clicks_ns_per_m": Typed(shape="list", columns=(("damping", "damping"),))}

    def construction(self, kit: Kit) -> str:
        """Return one clamped to the linkage."""
        return "stabilizer"

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether the steering is one it goes on: never a rack, unless its maker lists it."""
        words, own = "steering type", self.of(kit)
        if not job.vehicle.steering:
            why = Say("Look: a box with a drag link, or a rack. It never goes on a rack unless its maker lists it.")
            return [FitCheck(key="steering", words=words, status="measure", why=why)]
        if job.vehicle.steering == "rack" and not own.rack:
            return [
                FitCheck(
                    key="steering",
                    words=words,
                    status="fail",
                    why=Say("The steering is a rack, and its maker does not list it for one."),
                    final=True,
                )
            ]
        return [FitCheck(key="steering", words=words, status="pass", why=Say("The steering is one it is made for."))]

    def does(self, model: JobModel, kit: Kit, setting: Setting, state: str) -> list[Say]:
        """Return what it does, and what it covers up."""
        keeps = (
            "It pulls back to the centre, and with it away from where the road wants the wheel."
            if self.of(kit).centring
            else "It is neutral: it holds in any place alike."
        )
        own = self.of(kit)
        values = {"c": Quantity(own.at(setting.get(CLICK, (1.0, 1.0))[0]), "damping")}
        road = (
            " Set it by road, one click at a time: softer in town, harder where it is rough; note the click with each."
            if own.clicks_ns_per_m
            else ""
        )
        return [
            Say(
                "It lifts nothing. It damps by {c}. {keeps}{road} Look for play, pressures and alignment first: it covers them up.",
                {**values, "keeps": keeps, "road": road},
            )
        ]

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return its clicks, where it has some; its clamp is found on the bench."""
        count = len(self.of(kit).clicks_ns_per_m)
        return {CLICK: Span(low=1.0, high=float(count), step=1.0)} if count > 1 else {}

    def shown(self, kit: Kit) -> list[Shown]:
        """Return its stroke, and what it damps by."""
        own = self.of(kit)
        clicks = own.clicks_ns_per_m
        return [
            Shown(label="Stroke", values=quantities("length", own.stroke_m)),
            Shown(
                label=f"Damping{', by click' if clicks else ''}",
                values=quantities("damping", *(clicks or (own.damping_ns_per_m,))),
            ),
        ]


FAMILY = StabilizerFamily()
