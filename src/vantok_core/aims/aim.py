"""The aims there are.

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
    """An aim: its words; whether it asks for heights; the inspection's areas that could be the whole cause, and stand before any part; what proves it;
    towing: whether only a job that tows has it."""

    key: AimKey
    words: str
    heights: bool
    first: tuple[str, ...]
    proof: Proof
    towing: bool = False


def _aim(
    key: AimKey, words: str, first: str, *, heights: bool = False, proof: Proof = "drive", towing: bool = False
) -> Aim:
    return Aim(key=key, words=words, heights=heights, first=tuple(first.split()), proof=proof, towing=towing)


AIMS: Mapping[AimKey, Aim] = {
    one.key: one
    for one in (
        _aim("height", "the height", "", heights=True, proof="tape"),
        _aim("rake", "the rake", "", heights=True, proof="tape"),
        _aim("beam", "the headlamps’ beam", "", heights=True, proof="tape"),
        _aim("lean", "the lean", "", heights=True, proof="tape"),
        _aim("travel", "the travel to the stop", "stops dampers", heights=True),
        _aim("clearance", "the clearance under the tail", "", heights=True, proof="tape"),
        _aim("roll", "the roll", "tyres dampers bushes"),
        _aim("steering", "the steering", "steering tyres"),
        _aim("kick", "the kick at the wheel", "steering bearings tyres"),
        _aim("ride", "the ride", "tyres dampers stops"),
        _aim("damping", "the damping", "dampers"),
        _aim("windup", "the axle’s wind-up", "leaf_cracks bushes dampers"),
        _aim("tongue", "the trailer’s calm", "tyres", towing=True),
        _aim("find", "the cause", "tyres steering bearings", proof="inspection"),
    )
}
"""Every aim, by its key, in the order they are told."""
