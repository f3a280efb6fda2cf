"""Weight-distributing hitches: spring bars that give the front axle back a share of what the tongue takes off it.

They lift nothing by force at the axle: they move load, and the vehicle then stands as that load has it. No rating is raised. Source: method section 2.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from vantok_core.base.num import G
from vantok_core.base.say import Quantity, Say, mass
from vantok_core.facts import Job, JobState, Kit
from vantok_core.facts.parts import Positive
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.family import Data, Shown, Span, StillFamily, quantities
from vantok_core.loads.plan import tongue_of
from vantok_core.physics.levers import hitch_effect


class HitchData(Data):
    """Tongue it is made for (kg), the heaviest trailer (kg), and the share of the front's loss that its maker has it give back at most."""

    tongue_min_kg: Positive
    tongue_max_kg: Positive
    trailer_max_kg: Positive
    share_max: Annotated[float, Field(gt=0.0, le=1.0)] = 0.7

    @model_validator(mode="after")
    def _the_right_way_round(self) -> HitchData:
        if self.tongue_min_kg >= self.tongue_max_kg:
            raise ValueError("tongue_min_kg: the lightest tongue must be lighter than the heaviest")
        return self


class HitchFamily(StillFamily[HitchData]):
    """One between the ball and the trailer's drawbar."""

    key = "weight_hitch"
    words, many = "weight-distributing hitch", "weight-distributing hitches"
    answers = ("height", "rake", "beam", "tongue")
    data = HitchData
    settings = ()
    stands = "At the wheel"
    lifts = True
    gives_back = True
    at_setting = "The bars hold spring energy: the maker's lever, nobody over a bar, the rig level and chocked, the drawbar on its jack."
    care = ("Grease the ball and the bar ends; look at bars, chains and head for cracks before each season.",)
    range_served = 0.5
    work = "load"
    drawn = "spring bars"
    both_sides = False
    debates = ("air_or_hitch",)

    def shift(self, job: Job, kit: Kit, state: JobState) -> tuple[float, float, float] | None:
        """Return what it puts on the front, the rear and the trailer's axle (kg) in a state; None where a lever of it is not known."""
        length, overhang, own = job.vehicle.base_m, job.vehicle.hitch_overhang_m, self.of(kit)
        if not state.tongue or length is None or overhang is None or not state.trailer_axle_m:
            return None
        now = hitch_effect(tongue_of(state, overhang), length)
        then = hitch_effect(
            tongue_of(state.model_copy(update={"restored": max(own.share_max, state.restored)}), overhang), length
        )
        moved = (then.front - now.front, then.rear - now.rear, then.trailer_axle - now.trailer_axle)
        return float(moved[0]) / G, float(moved[1]) / G, float(moved[2]) / G

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether tongue and trailer are those it is made for, and whether its levers are known."""
        own = self.of(kit)
        states = [s for s in job.judged if s.tongue]
        values = {"low": mass(own.tongue_min_kg), "high": mass(own.tongue_max_kg), "most": mass(own.trailer_max_kg)}
        if not states:
            return [
                FitCheck(
                    key="tongue",
                    words="tongue load",
                    status="fail",
                    why=Say("No trailer hangs on it in any state; it is for one."),
                    final=True,
                )
            ]
        heaviest = max(states, key=lambda s: s.tongue)
        values |= {"tongue": mass(heaviest.tongue), "trailer": mass(heaviest.trailer)}
        fits = own.tongue_min_kg <= heaviest.tongue <= own.tongue_max_kg
        found = [
            FitCheck(
                key="tongue",
                words="tongue load",
                status="pass" if fits else "fail",
                final=True,
                why=Say("It presses with {tongue}; the hitch is made for {low} to {high}.", values),
            )
        ]
        if heaviest.trailer and heaviest.trailer > own.trailer_max_kg:
            found.append(
                FitCheck(
                    key="trailer",
                    words="trailer",
                    status="fail",
                    why=Say("The trailer has {trailer}; {most} is its most.", values),
                    final=True,
                )
            )
        if self.shift(job, kit, heaviest) is None:
            why = Say(
                "Measure ball to trailer axle (Weigh, Trailer) and the hitch's overhang (Vehicle): what it gives back follows from both."
            )
            found.append(FitCheck(key="levers", words="ball to trailer axle", status="measure", why=why))
        found.append(
            FitCheck(
                key="plates",
                words="hitch and trailer allow it",
                status="measure",
                why=Say(
                    "Look on the hitch's and the trailer's plate, and at an override brake: not every drawbar takes spring bars."
                ),
            )
        )
        return found

    def gave(self, job: Job, kit: Kit, state: JobState) -> list[Say]:
        """Return what it gives back, in words."""
        found = self.shift(job, kit, state)
        if found is None:
            return [Say("What it gives back is not known before ball to trailer axle is measured.")]
        values = {
            "share": Quantity(self.of(kit).share_max, "percent"),
            "f": mass(found[0], signed=True),
            "r": mass(found[1], signed=True),
            "t": mass(found[2], signed=True),
        }
        text = (
            "Set to give back {share} of what the front lost: {f} on the front, {r} on the rear, {t} on the trailer's axle. It presses no spring: the "
            "load goes elsewhere. Set it by its maker's sheet with the rig loaded, then enter on Weigh, Trailer what it gives back."
        )
        return [Say(text, values)]

    def spans(self, kit: Kit) -> dict[str, Span]:
        """Return nothing: it is set at the hitch, and what it gives back is entered with the load."""
        return {}

    def shown(self, kit: Kit) -> list[Shown]:
        """Return what it is made for."""
        own = self.of(kit)
        return [
            Shown(
                label="Tongue, lightest and heaviest", values=quantities("mass", own.tongue_min_kg, own.tongue_max_kg)
            ),
            Shown(label="Trailer, heaviest", values=quantities("mass", own.trailer_max_kg)),
            Shown(label="Gives back at most", values=quantities("percent", own.share_max)),
        ]


FAMILY = HitchFamily()
