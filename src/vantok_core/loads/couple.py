"""How a load stands across an axle: a couple of its own, never an arm of an uncertain gain.

Source: method section 21: near a nought gain an arm has no meaning.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot, sqrt

from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import G
from vantok_core.physics.vehicle import Item

SIDE = "side"
"""What the items of an inferred couple are called."""
SIDE_COUPLE_ARM = 0.5
"""Arm (m) of the pair of masses that stands for a load off to one side."""
EMPTY_SHARE, UNPLACED = 0.03, 0.06
"""Left-right difference of an empty axle nobody put on pads, share of its load; where a load without known places stands, share of the track (one sigma)."""


def side_couple(moment: float) -> tuple[Item, Item]:
    """Return two items that together are a pure roll couple (N m, left side down positive)."""
    mass = moment / (2.0 * SIDE_COUPLE_ARM * G)
    return (
        Item(mass=mass, station=0.0, lateral=SIDE_COUPLE_ARM, name=SIDE),
        Item(mass=-mass, station=0.0, lateral=-SIDE_COUPLE_ARM, name=SIDE),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Axle:
    """An axle's load (N) and couple (N m, left heavier positive) with their sigmas; track m; read: whether both wheels stood on pads."""

    load: float
    couple: float
    sigma_load: float
    sigma_couple: float
    track: float
    read: bool

    @property
    def left(self) -> float:
        """The left wheel's load, N."""
        return self.load / 2.0 + self.couple / self.track

    @property
    def right(self) -> float:
        """The right wheel's load, N."""
        return self.load / 2.0 - self.couple / self.track

    @property
    def sigma_corner(self) -> float:
        """Sigma of either wheel's load, N."""
        return hypot(self.sigma_load / 2.0, self.sigma_couple / self.track)

    @property
    def band(self) -> float:
        """Half the 90 % band of either wheel's load, N."""
        return NINE_IN_TEN * self.sigma_corner


def on_pads(left: float, right: float, sigma: float, track: float) -> Axle:
    """Return an axle read on two pads, left and right, each with its sigma (N). Raises InputError for a track not above nought."""
    _held(track)
    return Axle(
        load=left + right,
        couple=(left - right) * track / 2.0,
        sigma_load=sqrt(2.0) * sigma,
        sigma_couple=sqrt(2.0) * sigma * track / 2.0,
        track=track,
        read=True,
    )


def weighed_whole(load: float, sigma: float, track: float) -> Axle:
    """Return an empty axle weighed as one (load, sigma: N): nobody knows how it stands across."""
    _held(track)
    return Axle(
        load=load, couple=0.0, sigma_load=sigma, sigma_couple=EMPTY_SHARE * load * track / 2.0, track=track, read=False
    )


def loaded(empty: Axle, gain: float, sigma_gain: float, placed: Sequence[tuple[float, float]] = ()) -> Axle:
    """Return an axle with a load on it that was not read on pads.

    Arguments: gain, sigma_gain: kg without known places; placed: kg on this axle and how far left of the middle (m). Raises InputError for a sigma
    below nought. Source: method section 21.
    """
    if sigma_gain < 0.0:
        raise InputError("sigma_gain", sigma_gain, "it cannot be below nought")
    more = gain + sum(mass for mass, _ in placed)
    return Axle(
        load=empty.load + G * more,
        couple=empty.couple + sum(mass * G * y for mass, y in placed),
        sigma_load=hypot(empty.sigma_load, G * sigma_gain),
        sigma_couple=hypot(empty.sigma_couple, UNPLACED * empty.track * G * abs(gain)),
        track=empty.track,
        read=False,
    )


def _held(track: float) -> None:
    if not track > 0.0:
        raise InputError("track", track, "it must be above nought")
