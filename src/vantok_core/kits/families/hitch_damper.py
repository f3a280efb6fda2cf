"""Friction dampers at the coupling: pads that brake the drawbar as it swings about the ball.

They lift nothing and move no load. They calm a trailer that is loaded right; they cure none that is not. Source: method section 20.
"""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import model_validator

from vantok_core.base.say import Quantity, Say, mass
from vantok_core.facts import Job, Kit
from vantok_core.facts.classes import BODIES
from vantok_core.facts.parts import Positive
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.family import Data, Setting, Shown, Span, StillFamily, quantities
from vantok_core.model import JobModel


class HitchDamperData(Data):
    """Moment that its pads hold about the ball (N m), and the trailer it is made for (kg)."""

    moment_nm: Positive
    trailer_min_kg: Positive
    trailer_max_kg: Positive

    @model_validator(mode="after")
    def _the_right_way_round(self) -> HitchDamperData:
        if self.trailer_min_kg >= self.trailer_max_kg:
            raise ValueError("trailer_min_kg: the lightest trailer must be lighter than the heaviest")
        return self


class HitchDamperFamily(StillFamily[HitchDamperData]):
    """One at the coupling."""

    key = "hitch_damper"
    words, many = "hitch friction damper", "hitch friction dampers"
    answers = ("tongue",)
    data = HitchDamperData
    settings = ()
    stands = "At the coupling"
    at_setting = (
        "Pads and ball dry, free of grease and paint. Off in snow, on ice and for reversing, as its maker says."
    )
    care = (
        "Ball and pads stay dry: no grease. Off in snow and for reversing, as its maker says. It makes no speed safe.",
        "If the trailer sways all the same: off the throttle, straight ahead, brake only once it has calmed; then look for the cause.",
    )
    range_served = 1.0
    work = "load"
    drawn = "pads"
    both_sides = False
    debates = ("damped_or_loaded",)

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether the trailer is one it is made for, and what must be looked at on the coupling."""
        return [self._trailer(job, kit), *LOOKED_AT]

    def _trailer(self, job: Job, kit: Kit) -> FitCheck:
        own = self.of(kit)
        values = {"low": mass(own.trailer_min_kg), "high": mass(own.trailer_max_kg)}
        if BODIES[job.vehicle.body].trailer:
            weighed = job.vehicle.gross_kg
        else:
            weighed = max((state.trailer for state in job.states if state.trailer), default=None)
        if weighed is None:
            why = Say("Weigh the trailer as it travels: it is made for {low} to {high}.", values)
            return FitCheck(key="trailer", words="trailer", status="measure", why=why)
        fits = own.trailer_min_kg <= weighed <= own.trailer_max_kg
        why = Say("The trailer has {now}; it is made for {low} to {high}.", values | {"now": mass(weighed)})
        return FitCheck(key="trailer", words="trailer", status="pass" if fits else "fail", why=why, final=True)

    def does(self, model: JobModel, kit: Kit, setting: Setting, state: str) -> list[Say]:
        """Return what it does, and what it does not cure."""
        values = {"m": Quantity(self.of(kit).moment_nm, "torque")}
        text = "It lifts nothing. Its pads hold the drawbar with {m} about the ball. Load in its place, tongue, tyres and speed come first."
        return [Say(text, values)]

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return nothing: it is put on by its maker's instructions, and set by nothing."""
        return {}

    def shown(self, kit: Kit) -> list[Shown]:
        """Return what it holds, and the trailer it is made for."""
        own = self.of(kit)
        return [
            Shown(label="Moment about the ball", values=quantities("torque", own.moment_nm)),
            Shown(
                label="Trailer, lightest and heaviest",
                values=quantities("mass", own.trailer_min_kg, own.trailer_max_kg),
            ),
        ]


LOOKED_AT = (
    FitCheck(
        key="ball",
        words="ball and coupling",
        status="measure",
        why=Say("Look: ball within its wear mark, bare and free of grease; coupling without play."),
    ),
    FitCheck(
        key="plates",
        words="hitch and trailer allow it",
        status="measure",
        why=Say(
            "Look on the coupling's and the drawbar's plate: not every coupling takes pads, nor a damper beside it."
        ),
    ),
)

FAMILY = HitchDamperFamily()
