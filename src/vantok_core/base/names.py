"""Names and defaults that many rooms speak of, one table each: corners, datums, where a beam is judged, what is taken until measured."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, slots=True, kw_only=True)
class Corner:
    """A corner of the vehicle: its words, the one on its axle's other side, and the one across."""

    words: str
    beside: str
    across: str


CORNERS: Mapping[str, Corner] = {
    "FL": Corner(words="front left", beside="FR", across="RR"),
    "RL": Corner(words="rear left", beside="RR", across="FR"),
    "RR": Corner(words="rear right", beside="RL", across="FL"),
    "FR": Corner(words="front right", beside="FL", across="RL"),
}
"""In the order one walks round the vehicle."""
WALK = tuple(CORNERS)
PLACES: Mapping[str, str] = {key: corner.words for key, corner in CORNERS.items()} | {"hitch": "hitch"}
"""Places every vehicle is read at, with their words; named points of a vehicle come beside them."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DatumName:
    """From where to where a height is read: words, where on the vehicle, and the plausible range (m; None: the body's own)."""

    words: str
    at: Literal["corners", "rear", "hitch", "points"]
    range: tuple[float, float] | None


DATUMS: Mapping[str, DatumName] = {
    "ground_arch": DatumName(words="ground to arch", at="corners", range=None),
    "hub_arch": DatumName(words="hub to arch", at="corners", range=(0.30, 0.75)),
    "rim_arch": DatumName(words="rim edge to arch", at="corners", range=(0.08, 0.60)),
    "ground_hitch": DatumName(words="ground to hitch", at="hitch", range=(0.25, 0.85)),
    "stop_gap": DatumName(words="stop gap", at="corners", range=(-0.05, 0.20)),
    "pad_to_pad": DatumName(words="pad to pad", at="rear", range=(0.08, 0.45)),
    "bracket": DatumName(words="bracket to bracket", at="corners", range=(0.05, 0.60)),
    "coil_gap": DatumName(words="gap between windings", at="corners", range=(0.001, 0.12)),
    "access_hole": DatumName(words="access hole to axle", at="corners", range=(0.05, 0.90)),
    "ground_point": DatumName(words="named point", at="points", range=(0.10, 3.8)),
}
"""Ranges are this program's own: outside them a finger slipped, or the tape was on another datum."""

ARCHES = ("ground_arch", "hub_arch", "rim_arch")
"""Datums on which the body is read over a wheel; all but the first ride on the wheel, and see no tyre."""
AXLES_WHOLE: Mapping[str, str] = {"front": "front axle", "rear": "rear axle"}
"""Places of a height over an axle whose side nobody noted."""

DEFAULT_TRACK = 1.65
"""Track taken until it is measured, m (class table, method section 2)."""
BEAM_AT, BEAM_AT_US = 10.0, 25 * 0.3048
"""How far ahead a headlamp's beam is judged, m: ten metres, and 25 ft for readers in US units (method section 4)."""
