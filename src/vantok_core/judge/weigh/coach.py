"""The coach sheet: corner loads, tag axle, centre of mass, overhang ratio, and what they do to handling (method section 2)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from vantok_core.base.names import DEFAULT_TRACK
from vantok_core.base.num import G
from vantok_core.base.say import Finding, Quantity, Say, Tone
from vantok_core.facts import Job, JobState
from vantok_core.facts.classes import BODIES
from vantok_core.judge.weigh.thresholds import (
    BASE_STEADY,
    BASE_WATCH,
    LIGHT_FRONT,
    MOVE_WORTH,
    SIDE_WORTH,
    TAG_MOST,
    TARGET_FRONT,
)
from vantok_core.loads.height import loaded_height
from vantok_core.loads.limits import OVERHANG_EASY, OVERHANG_WATCH, overhang_ratio
from vantok_core.loads.plan import StateLoad, hitch_of, reach, state_load
from vantok_core.loads.zoning import open_zones
from vantok_core.physics.levers import CentreOfMass, centre_of_mass


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """What would bring load to the front axle: its words, and how much by itself at most (kg at the front)."""

    words: Say
    brings: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Targeted:
    """The front's share wanted, the load the front lacks to it (kg, nought: it has it), and what would bring it, most first."""

    share: float
    lacks: float
    ways: tuple[Way, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class CoachSheet:
    """A coach's loads in one state: corners kg as weighed (None without pads), side shares, the front's share, the tag axle's
    share of the rear, centre of mass (m), overhang ratio with its band ("easy", "watch", "poor"), and what it all means; base_ratio: the wheelbase's share of
    the whole length, with its band; target: what the front lacks, and what would bring it (None: the axles are not known)."""

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
    base_ratio: float | None = None
    base_band: str = ""
    target: Targeted | None = None


def overhang_band(ratio: float | None) -> str:
    """Return the band of a rear overhang ratio in a word."""
    if ratio is None:
        return "to measure"
    return "easy" if ratio <= OVERHANG_EASY else "watch" if ratio <= OVERHANG_WATCH else "poor"


def coach_sheet(job: Job, state: JobState) -> CoachSheet:
    """Return the coach sheet of a state; what is not known yet is None."""
    v, load, corners = job.vehicle, state_load(job, state), state.corners_kg
    ratio = overhang_ratio(v.rear_overhang_m, v.base_m) if v.rear_overhang_m is not None and v.base_m else None
    front = None if BODIES[v.body].trailer else load.front_share  # what stands ahead of a trailer is a ball
    centre = _centre(job, corners)
    planned = v.base_m * (1.0 - front) if v.base_m and front is not None else None
    sheet = CoachSheet(
        state=state,
        corners=corners,
        front_share=front,
        band=overhang_band(ratio),
        overhang=ratio,
        left_share=(corners[0] + corners[2]) / sum(corners) if corners and sum(corners) else None,
        tag_share=state.tag_kg / state.rear_kg if state.tag_kg is not None and state.rear_kg else None,
        station=centre.station if centre else planned,
        lateral=centre.lateral if centre else None,
        height=loaded_height(job, state),
        base_ratio=(based := _base_ratio(job)),
        base_band=base_band(based),
        target=_target(job, state, load),
    )
    return replace(sheet, findings=tuple(_handling(sheet)))


def _base_ratio(job: Job) -> float | None:
    """Return the wheelbase's share of the vehicle's length, None unless both overhangs are measured."""
    v = job.vehicle
    if v.base_m is None or v.front_overhang_m is None or v.rear_overhang_m is None:
        return None
    # The overhang is measured from the drive axle, the base may go to a group's load centre.
    return v.base_m / (v.front_overhang_m + (v.wheelbase_m or v.base_m) + v.rear_overhang_m)


def base_band(ratio: float | None) -> str:
    """Return what a wheelbase's share of the length means in a word."""
    if ratio is None:
        return "to measure"
    return "steady" if ratio >= BASE_STEADY else "watch" if ratio >= BASE_WATCH else "restless"


def _target(job: Job, state: JobState, load: StateLoad) -> Targeted | None:
    """Return what the front lacks to its target share, and what each thing by itself would bring at most."""
    base = job.vehicle.base_m
    if load.front is None or load.rear is None or base is None or state.empty or BODIES[job.vehicle.body].trailer:
        return None
    lacks = max(TARGET_FRONT * (load.front + load.rear) - load.front, 0.0)
    ways = (
        [*_moving(job, state, base), *_emptying(state, base), *_hitching(job, state), *_tagging(job, state)]
        if lacks
        else []
    )
    return Targeted(
        share=TARGET_FRONT,
        lacks=lacks,
        ways=tuple(sorted((w for w in ways if w.brings >= MOVE_WORTH), key=lambda w: -w.brings)),
    )


def _moving(job: Job, state: JobState, base: float) -> Iterator[Way]:
    """Yield each item moved as far forward as a zone takes it: `m ds / L` at the front."""
    place = reach(job)
    if place is None:
        return
    for item in state.items:
        ahead = [z for z in open_zones(place, state, item) if z.start < item.station_m]
        if not ahead:
            continue
        forward = item.station_m - max(min(z.start for z in ahead), place.wall)
        brings = item.mass_kg * forward / base
        yield Way(
            words=Say("{item} moved {d} forward", {"d": Quantity(forward, "length"), "item": item.name}), brings=brings
        )


def _emptying(state: JobState, base: float) -> Iterator[Way]:
    """Yield tanks behind the rear axle emptied, and tanks well ahead of it filled: by nothing where they are already."""
    for tank in state.tanks:
        at = 1.0 - tank.station_m / base
        if at < 0.0:
            yield Way(
                words=Say("{tank} emptied: it hangs behind the axle", {"tank": tank.name}),
                brings=-at * tank.capacity_l * tank.fill * tank.kg_per_l,
            )
        elif at > 0.5:
            yield Way(
                words=Say("{tank} filled: it sits well forward", {"tank": tank.name}),
                brings=at * tank.capacity_l * (1.0 - tank.fill) * tank.kg_per_l,
            )


def _hitching(job: Job, state: JobState) -> Iterator[Way]:
    """Yield what the rest of the front's loss would be with a hitch that gives it all back, or with the tongue lighter by a tenth."""
    effect, overhang = hitch_of(job, state), job.vehicle.hitch_overhang_m
    if effect is None or overhang is None or overhang <= 0.0:
        return
    lost = max(-float(effect.front) / G, 0.0)
    yield Way(words=Say("a hitch that gives all of the tongue’s share back"), brings=lost)


def _tagging(job: Job, state: JobState) -> Iterator[Way]:
    """Yield what the tag axle brought to half the rear would do: `dT d / L` at the front, behind the drive axle it presses the front down."""
    group = job.vehicle.rear_group
    if (
        group is None
        or state.tag_kg is None
        or not state.rear_kg
        or job.vehicle.wheelbase_m is None
        or len(group.stations) < 2
    ):
        return
    more = TAG_MOST * state.rear_kg - state.tag_kg
    rated = job.vehicle.tag_axle_kg
    more = min(more, rated - state.tag_kg) if rated is not None else more
    if more > 0.0:
        brings = more * (group.stations[-1] - group.stations[0]) / job.vehicle.wheelbase_m
        yield Way(
            words=Say(
                "the tag axle set to carry {m} more, to its maker’s figure at most", {"m": Quantity(more, "mass")}
            ),
            brings=brings,
        )


def _centre(job: Job, corners: tuple[float, float, float, float] | None) -> CentreOfMass | None:
    v = job.vehicle
    if corners is None or not sum(corners) or not v.base_m:
        return None
    return centre_of_mass(
        [c * G for c in corners], v.base_m, v.track_front_m or DEFAULT_TRACK, v.track_rear_m or DEFAULT_TRACK
    )


def _handling(sheet: CoachSheet) -> Iterator[Finding]:
    """Yield what the sheet means on the road, with what to do about it."""

    def found(key: str, words: str, value: float, do: str, tone: Tone = "act") -> Finding:
        kind = "ratio" if key in ("overhang", "base") else "percent"
        return Finding(key=key, tone=tone, topic="weigh", what=Say(words, {"v": Quantity(value, kind)}), do=Say(do))

    if sheet.overhang is not None and sheet.band != "easy":
        words = "Rear overhang is {v} of the wheelbase: tail wag, swing-out and a light front come with it."
        do = "Get load back to the front tyres first: cargo forward, less behind the axle, before bars and stabilizers."
        yield found("overhang", words, sheet.overhang, do, "act" if sheet.band == "poor" else "plain")
    if sheet.base_ratio is not None and sheet.base_band != "steady":
        words = (
            "The wheelbase is only {v} of the length: wind and passing lorries turn it, and load in the tail steers it."
        )
        do = "Keep the tail light and the front loaded; no damper or bar lengthens it."
        yield found("base", words, sheet.base_ratio, do, "act" if sheet.base_band == "restless" else "plain")
    if sheet.front_share is not None and sheet.front_share < LIGHT_FRONT:
        do = "Move load forward of the rear axle; a steering stabilizer does not put weight on the tyres."
        yield found(
            "light-front", "The front axle carries only {v} of the weight: it will wander.", sheet.front_share, do
        )
    if sheet.left_share is not None and abs(sheet.left_share - 0.5) > SIDE_WORTH:
        side, share = ("left", sheet.left_share) if sheet.left_share > 0.5 else ("right", 1.0 - sheet.left_share)
        do = "Move water, batteries or stores across; set tyre pressures by the heavier side of each axle."
        words = (
            "The left side carries {v} of the weight."
            if side == "left"
            else "The right side carries {v} of the weight."
        )
        yield found("side", words, share, do)
    if sheet.tag_share is not None and sheet.tag_share > TAG_MOST:
        do = "Have the tag axle's pressure or springs set to the maker's figure."
        yield found(
            "tag", "The tag axle carries {v} of the rear: the drive tyres are robbed of grip.", sheet.tag_share, do
        )
