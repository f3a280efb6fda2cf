"""The coach sheet: corner loads, tag axle, centre of mass, overhang ratio, and what they do to handling (method section 2)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from vantok_core.base.names import DEFAULT_TRACK
from vantok_core.base.num import G
from vantok_core.base.say import Finding, Quantity, Say, Tone
from vantok_core.facts import Job, JobState
from vantok_core.facts.classes import BODIES
from vantok_core.loads.limits import OVERHANG_EASY, OVERHANG_WATCH, overhang_ratio
from vantok_core.loads.plan import scale_loads, state_load
from vantok_core.physics.levers import CentreOfMass, centre_of_mass

LIGHT_FRONT = 0.25
"""Front axle's share of the whole below which a coach's steering is light."""
SIDE_WORTH = 0.02
"""Share by which one side may outweigh the other before it is worth moving something."""
TAG_MOST = 0.5
"""Share of the rear on the tag axle above which the drive tyres are robbed of grip."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CoachSheet:
    """A coach's loads in one state: corners kg as weighed (None without pads), side shares, the front's share, the tag axle's
    share of the rear, centre of mass (m), overhang ratio with its band ("easy", "watch", "poor"), and what it all means."""

    state: JobState
    corners: tuple[float, float, float, float] | None
    front_share: float | None
    left_share: float | None
    tag_share: float | None
    station: float | None
    lateral: float | None
    height: float
    overhang: float | None
    band: str
    findings: tuple[Finding, ...] = ()


def overhang_band(ratio: float | None) -> str:
    """Return the band of a rear overhang ratio in a word."""
    if ratio is None:
        return "to measure"
    return "easy" if ratio <= OVERHANG_EASY else "watch" if ratio <= OVERHANG_WATCH else "poor"


def coach_sheet(job: Job, state: JobState) -> CoachSheet:
    """Return the coach sheet of a state; what is not known yet is None."""
    v, load, corners = job.vehicle, state_load(job, state), state.corners_kg
    total = (load.front or 0.0) + (load.rear or 0.0)
    ratio = overhang_ratio(v.rear_overhang_m, v.base_m) if v.rear_overhang_m is not None and v.base_m else None
    front = load.front / total if load.front is not None and total else None
    centre = _centre(job, corners)
    planned = v.base_m * (1.0 - front) if v.base_m and front is not None else None
    sheet = CoachSheet(
        state=state, corners=corners, front_share=front, band=overhang_band(ratio), overhang=ratio,
        left_share=(corners[0] + corners[2]) / sum(corners) if corners and sum(corners) else None,
        tag_share=state.tag_kg / state.rear_kg if state.tag_kg is not None and state.rear_kg else None,
        station=centre.station if centre else planned, lateral=centre.lateral if centre else None,
        height=loaded_height(job, state),
    )  # fmt: skip
    return replace(sheet, findings=tuple(_handling(sheet)))


def _centre(job: Job, corners: tuple[float, float, float, float] | None) -> CentreOfMass | None:
    v = job.vehicle
    if corners is None or not sum(corners) or not v.base_m:
        return None
    return centre_of_mass(
        [c * G for c in corners], v.base_m, v.track_front_m or DEFAULT_TRACK, v.track_rear_m or DEFAULT_TRACK
    )


def loaded_height(job: Job, state: JobState) -> float:
    """Return the height of the centre of mass (m): the body style's for the empty vehicle, items at their own heights.

    An item without a height counts at the body's own. An estimate, to be shown as one.
    """
    base = BODIES[job.vehicle.body].centre_height
    empty = scale_loads(job.empty) if job.empty else None
    if empty is None:
        return base
    lifted = sum(i.mass_kg * (i.height_m - base) for i in state.items if i.height_m is not None)
    return base + lifted / max(sum(empty) + sum(i.mass_kg for i in state.items), 1.0)


def _handling(sheet: CoachSheet) -> Iterator[Finding]:
    """Yield what the sheet means on the road, with what to do about it."""

    def found(key: str, words: str, value: float, do: str, tone: Tone = "act") -> Finding:
        kind = "ratio" if key == "overhang" else "percent"
        return Finding(key=key, tone=tone, topic="weigh", what=Say(words, {"v": Quantity(value, kind)}), do=Say(do))

    if sheet.overhang is not None and sheet.band != "easy":
        words = "Rear overhang is {v} of the wheelbase: tail wag, swing-out and a light front come with it."
        do = "Get load back to the front tyres first: cargo forward, less behind the axle, before bars and stabilizers."
        yield found("overhang", words, sheet.overhang, do, "act" if sheet.band == "poor" else "plain")
    if sheet.front_share is not None and sheet.front_share < LIGHT_FRONT:
        do = "Move load forward of the rear axle; a steering stabilizer does not put weight on the tyres."
        yield found(
            "light-front", "The front axle carries only {v} of the weight: it will wander.", sheet.front_share, do
        )
    if sheet.left_share is not None and abs(sheet.left_share - 0.5) > SIDE_WORTH:
        side, share = ("left", sheet.left_share) if sheet.left_share > 0.5 else ("right", 1.0 - sheet.left_share)
        do = "Move water, batteries or stores across; set tyre pressures by the heavier side of each axle."
        yield found("side", f"The {side} side carries {{v}} of the weight.", share, do)
    if sheet.tag_share is not None and sheet.tag_share > TAG_MOST:
        do = "Have the tag axle's pressure or springs set to the maker's figure."
        yield found(
            "tag", "The tag axle carries {v} of the rear: the drive tyres are robbed of grip.", sheet.tag_share, do
        )
