"""Steering stabilizers: a damper on the linkage, neutral or centring; they lift nothing, and cover up as easily as they cure.

Source: method section 14.
"""

from __future__ import annotations

from collections.abc import Mapping

from vantok_core.base.say import Say
from vantok_core.facts import Job, Kit
from vantok_core.facts.parts import Positive
from vantok_core.kits.family import Data, FitCheck, Setting, Shown, Span, StillFamily, quantities
from vantok_core.model import JobModel


class StabilizerData(Data):
    """Its stroke (m) and damping (N s/m); whether a spring brings it back to the centre; whether its maker lists it for rack steering."""

    stroke_m: Positive
    damping_ns_per_m: Positive
    centring: bool = False
    rack: bool = False


class StabilizerFamily(StillFamily[StabilizerData]):
    """One on the linkage."""

    key = "steering_stabilizer"
    words, many = "steering stabilizer", "steering stabilizers"
    data = StabilizerData
    settings = ()
    stands = "Force"
    at_setting = (
        "Steering: it may never reach either end of its stroke before the lock stops do, nor foul anything at bump or droop. Try lock to lock by hand, "
        "wheels off, then with the engine running, before it goes on the road."
    )
    care = (
        "If it steers worse, pulls or knocks: stop, and have it looked at. It holds the wheel against kicks; it cures no play and no alignment.",
    )
    range_served = 1.0
    work = "stabilizer"
    both_sides = False
    debates = ("stabilizer_first_or_last",)

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
                )
            ]
        return [FitCheck(key="steering", words=words, status="pass", why=Say("The steering is one it is made for."))]

    def does(self, model: JobModel, kit: Kit, setting: Setting, state: str) -> list[Say]:
        """Return what it does, and what it covers up."""
        held = (
            "It pulls back to the centre, and with it away from where the road wants the wheel."
            if self.of(kit).centring
            else "It is neutral: it holds in any place alike."
        )
        return [Say(f"It lifts nothing. {held} Look for play, pressures and alignment first: it covers them up.")]

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return nothing: its clamp is found on the bench."""
        return {}

    def shown(self, kit: Kit) -> list[Shown]:
        """Return its stroke."""
        return [Shown(label="Stroke", values=quantities("length", self.of(kit).stroke_m))]


FAMILY = StabilizerFamily()
