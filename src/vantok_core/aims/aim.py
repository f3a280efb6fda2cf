"""The aims there are, and which complaint brings which.

Source: method section 20.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from vantok_core.facts.kinds import AimKey

Proof = Literal["tape", "drive", "inspection"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Aim:
    """An aim: its words; the complaints that bring it; whether it asks for heights; the inspection's areas that could be the whole cause, and stand before any
    part; what proves it."""

    key: AimKey
    words: str
    complaints: tuple[str, ...]
    heights: bool
    first: tuple[str, ...]
    proof: Proof


def _aim(key: AimKey, words: str, complaints: str, first: str, *, heights: bool = False, proof: Proof = "drive") -> Aim:
    return Aim(
        key=key,
        words=words,
        complaints=tuple(complaints.split()),
        heights=heights,
        first=tuple(first.split()),
        proof=proof,
    )


AIMS: Mapping[AimKey, Aim] = {
    one.key: one
    for one in (
        _aim("height", "the height", "sags nose_up", "", heights=True, proof="tape"),
        _aim("lean", "the lean", "leans", "", heights=True, proof="tape"),
        _aim("travel", "the travel left", "bottoms", "stops dampers", heights=True),
        _aim("clearance", "the clearance under the tail", "tail_drags", "", heights=True, proof="tape"),
        _aim("roll", "the roll", "rolls", "tyres dampers bushes"),
        _aim("steering", "the steering", "wanders wags", "steering tyres"),
        _aim("kick", "the kick at the wheel", "darts", "steering bearings tyres"),
        _aim("ride", "the ride", "harsh head_tossed", "tyres dampers stops"),
        _aim("damping", "the damping", "porpoises", "dampers"),
        _aim("tongue", "the trailer’s calm", "trailer", "tyres"),
        _aim("find", "the cause", "tyres", "tyres steering bearings", proof="inspection"),
    )
}
"""Every aim, by its key, in the order they are told."""
