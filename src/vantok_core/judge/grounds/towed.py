"""How a trailer stands behind its tow vehicle: the ball's height against that at which the trailer is level.

Source: method section 27. The ball is a height that the tow vehicle sets; the level height was read with the trailer loaded as it travels, so its
own axle has not dropped since.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

from vantok_core.base.errors import VantokError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Finding, Quantity, Say, length
from vantok_core.facts import JobState
from vantok_core.judge.grounds.thresholds import LEVEL_WORTH
from vantok_core.loads.trailer_beam import pitched
from vantok_core.model import TAPE_SIGMA, JobModel, body_points, reading_own_sigma
from vantok_core.physics.vehicle import Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class Towed:
    """A trailer as it hangs in a state: ball above ground and above level (m), coupling to axle (m), band of the height (90 %, m); read: off the tape."""

    state: JobState
    ball: float
    above: float
    lever: float
    band: float
    read: bool

    @property
    def pitch(self) -> Quantity:
        """Its pitch, nose up, with its band."""
        of = pitched(self.ball, self.ball - self.above, 0.0, self.lever)
        return Quantity(of, "angle", signed=True, band=self.band / self.lever)

    @property
    def near(self) -> str:
        """What is so of one that does not surely stand off level."""
        if abs(self.above) + self.band <= LEVEL_WORTH * self.lever:
            return "The trailer stands level within half a degree: its coupling is {d} (± {band}) from level."
        return "Whether the trailer stands within half a degree of level cannot be told: its coupling is {d} (± {band}) from level."

    @property
    def off_level(self) -> bool:
        """Whether it surely stands further from level than is let be."""
        return abs(self.above) - self.band > LEVEL_WORTH * self.lever


def towed(model: JobModel, state: JobState, vehicle: Vehicle | None = None) -> Towed | None:
    """Return how a state's trailer stands, with a kit as `vehicle` has it; None where the ball's height, the level one or the trailer's lever is not known."""
    level, lever, place = state.trailer_level_m, state.trailer_axle_m, body_points(model.job).get("hitch")
    if level is None or lever is None or place is None or not state.hitched:
        return None
    reading = model.job.read(state.key, "hitch", "ground_hitch") if vehicle is None else None
    if reading is not None:
        ball, band = reading.value_m, NINE_IN_TEN * reading_own_sigma(model.job, reading)
    elif place not in model.estimate.heights or state.key not in model.states:
        return None
    else:
        try:
            told = model.estimate.height(state.key, place, vehicle)
        except VantokError:
            return None  # the stages say why this setting cannot be solved
        ball, band = told.value, told.band
    whole = hypot(band, NINE_IN_TEN * TAPE_SIGMA)
    return Towed(state=state, ball=ball, above=ball - level, lever=lever, band=whole, read=reading is not None)


def towed_findings(model: JobModel) -> list[Finding]:
    """Return which trailers surely stand nose up or nose down, and which are level as far as the ball's height tells."""
    found = []
    for state in model.job.judged:
        one = towed(model, state)
        if one is None:
            continue
        values = {"d": length(abs(one.above)), "band": length(one.band), "p": one.pitch.size}
        if not one.off_level:
            found.append(
                Finding(key="trailer-level", tone="plain", topic="weigh", where=state.name, what=Say(one.near, values))
            )
            continue
        which, cure = ("up", "A lower ball") if one.above > 0.0 else ("down", "A higher ball, or the tail lifted,")
        found.append(
            Finding(
                key=f"trailer-nose-{which}",
                tone="act",
                topic="weigh",
                where=state.name,
                what=Say(
                    "The trailer stands nose {which} by {p}: its coupling is {d} (± {band}) off level.",
                    {**values, "which": which},
                ),
                do=Say(
                    "{cure} levels it; its maker's word on how it must stand comes first. Weigh the tongue again then.",
                    {"cure": cure},
                ),
            )
        )
    return found
