"""What customers complain of: each with its words, the aims it brings, the causes usually behind it, and the grades of a drive that answer it.

Source: method section 20.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from vantok_core.facts.kinds import AimKey


@dataclass(frozen=True, slots=True, kw_only=True)
class Complained:
    """A complaint: its words; aims it brings, that of towing only to a job that tows; causes, by their keys in the table of causes; grades, by the drive
    sheet's categories: none, where only somebody's word answers it; against: the aim that what helps here usually costs, and
    costs: how, in words."""

    words: str
    aims: tuple[AimKey, ...]
    causes: tuple[str, ...]
    grades: tuple[str, ...]
    against: AimKey | None = None
    costs: str = ""


def _of(
    words: str,
    aims: tuple[AimKey, ...],
    causes: str,
    grades: str,
    *,
    against: AimKey | None = None,
    costs: str = "",
) -> Complained:
    told = tuple(causes.split()), tuple(grades.split())
    return Complained(words=words, aims=aims, causes=told[0], grades=told[1], against=against, costs=costs)


STIFFER_EMPTY = "what lifts the loaded tail rides harder empty"
BAR_FELT = "what holds the body in a bend is felt on every bump under one wheel"

COMPLAINTS: Mapping[str, Complained] = {
    "sags": _of("Sags at the back", ("height",), "overload tired behind side", "stance squats"),
    "nose_up": _of("Nose points up, others flash their lamps", ("beam",), "lamps behind overload tired", ""),
    "leans": _of("Leans to one side", ("lean",), "side tired bag play", "stance"),
    "bottoms": _of("Bottoms out on bumps", ("travel",), "struck overload tired damping", "bottoms"),
    "thrown_up": _of("Thrown up by a bump", ("travel",), "damping struck overload pitch", "bottoms bounces"),
    "porpoises": _of("Keeps bouncing, porpoises", ("damping",), "damping pitch behind", "porpoises bounces"),
    "harsh": _of(
        "Rides harshly when empty", ("ride",), "stiff struck tyre", "harsh", against="height", costs=STIFFER_EMPTY
    ),
    "harsh_loaded": _of("Rides harshly when loaded", ("ride",), "struck overload damping tyre", "harsh bottoms"),
    "head_tossed": _of(
        "Heads are thrown from side to side", ("ride",), "side_stiff damping", "tossed", against="roll", costs=BAR_FELT
    ),
    "rolls": _of(
        "Rolls in bends, blown about", ("roll",), "top_heavy side damping play", "rolls", against="ride", costs=BAR_FELT
    ),
    "top_heavy": _of(
        "Feels top-heavy", ("roll",), "top_heavy behind tyre damping", "rolls", against="ride", costs=BAR_FELT
    ),
    "wags": _of("Tail wags", ("steering", "tongue"), "behind light_front tyre play", "tail_wags"),
    "wanders": _of("Wanders, follows ruts", ("steering",), "play light_front tyre toe", "wanders"),
    "tiring": _of("Tiring to drive", ("steering",), "play tyre light_front toe top_heavy", "wanders pulls lane_change"),
    "returns": _of("Steering does not come back", ("steering",), "tight caster tyre", "returns"),
    "kick": _of("Kick at the wheel", ("kick",), "play balance bump_steer tyre", "kick"),
    "darts": _of("Darts aside on bumps", ("kick",), "play bump_steer tyre damping", "darts"),
    "squats": _of("Squats at the start", ("windup",), "wind_up behind tired damping", "squats"),
    "hops": _of("Axle hops", ("windup",), "wind_up damping tyre", "hops"),
    "trailer": _of("Trailer does not calm down", ("tongue",), "nose_light trailer_tyre behind light_front", "sways"),
    "tail_drags": _of("Tail drags on ramps", ("clearance",), "tail overload behind tired", "stance"),
    "tyres": _of("Tyres wear on one edge", ("find",), "toe tyre play overload", "tyres"),
    "creaks": _of("Creaks or knocks", ("find",), "loose play rubbing struck", "noise"),
}
"""Every complaint by its code, in the order of Listen."""
COMPLAINT_WORDS: Mapping[str, str] = {code: one.words for code, one in COMPLAINTS.items()}
"""Each complaint's words."""
