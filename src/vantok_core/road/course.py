"""The course: pieces of road and manoeuvres of fixed shape, driven at one speed before and after.

Source: method section 15; sizes are settings.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.road.profile import Manoeuvre, Road, gust_force

DURATION, RATE = 8.0, 300.0
"""How long a piece is driven (s), and samples a second."""
QUIET = 0.5
"""How long before a shape or manoeuvre begins, s."""
SLOWEST, FASTEST = 0.8, 45.0
"""Speeds that can be asked for, m/s."""
RADIUS = 20.0
"""Of the roundabout, m."""
WIND = 15.0
"""Of the gust, m/s, and of a lorry's wake."""
ASIDE = 3.0
"""Side acceleration of slalom and lane change, m/s2."""
Side = Literal["left", "right", "both"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Piece:
    """A piece: its key, that of the drive sheet's course, its words, road and manoeuvre by speed (m/s), whether it is one event or goes on
    without end, whether a side can be chosen and which meets it otherwise, whether it is about the body's lean, and the
    radius of its bend (m), where it has one."""

    key: str
    words: str
    road: Callable[[float], Road]
    turn: Callable[[float], Manoeuvre] = lambda _: Manoeuvre()
    endless: bool = False
    sided: bool = False
    side: Side = "both"
    leans: bool = False
    radius: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """What a gust presses on: side area (m2) and how high its middle stands over the roll axis (m)."""

    area: float
    height: float


def _shape(road: Road) -> Callable[[float], Road]:
    """Return a road whose shape begins a little after the start, at any speed."""
    return lambda speed: replace(road, at=tuple(a + QUIET * speed for a in road.at))


def _flat(_: float) -> Road:
    return Road()


PIECES: Mapping[str, Piece] = {
    one.key: one
    for one in (
        Piece(key="bump", words="bump", road=_shape(Road(kind="bump", height=0.06, length=1.2)), sided=True),
        Piece(
            key="staggered",
            words="staggered bumps",
            road=_shape(Road(kind="bump", height=0.05, length=1.0, stagger=2.0)),
        ),
        Piece(
            key="ditch",
            words="ditch on the skew",
            road=_shape(Road(kind="pothole", height=0.12, length=1.6, stagger=1.0)),
        ),
        Piece(key="rail", words="rail", road=_shape(Road(kind="pothole", height=0.025, length=0.3, at=(0.0, 1.5)))),
        Piece(
            key="potholes",
            words="potholes",
            road=_shape(Road(kind="pothole", height=0.05, length=0.6, at=(0.0, 5.0), sides="left")),
            sided=True,
            side="left",
        ),
        Piece(
            key="washboard",
            words="washboard",
            road=_shape(Road(kind="washboard", amplitude=0.01, wavelength=0.7, length=400.0)),
            endless=True,
        ),
        Piece(key="gravel", words="gravel", road=lambda _: Road(kind="iso8608", roughness="D"), endless=True),
        Piece(key="motorway", words="motorway", road=lambda _: Road(kind="iso8608", roughness="B"), endless=True),
        Piece(
            key="slalom",
            words="slalom",
            road=_flat,
            turn=lambda _: Manoeuvre(kind="slalom", a_y=ASIDE, period=3.0, start=QUIET),
            leans=True,
        ),
        Piece(
            key="roundabout",
            words="roundabout",
            road=_flat,
            turn=lambda v: Manoeuvre(kind="steady_turn", a_y=v * v / RADIUS, period=1.5, start=QUIET),
            leans=True,
            radius=RADIUS,
        ),
        Piece(
            key="lane_change",
            words="lane change",
            road=_flat,
            turn=lambda _: Manoeuvre(kind="lane_change", a_y=ASIDE, period=2.5, start=QUIET),
            leans=True,
        ),
        Piece(key="gust", words="side wind", road=_flat, leans=True),
    )
}
"""The pieces, in the order of the drive sheet."""


def driven_over(key: str, speed: float, side: Side, body: Body) -> tuple[Road, Manoeuvre]:
    """Return road and manoeuvre of a piece at a speed (m/s). Raises InputError for a piece nobody knows or a speed out of reach."""
    piece = PIECES.get(key)
    if piece is None:
        raise InputError("piece", key, f"known are {', '.join(PIECES)}")
    if not SLOWEST <= speed <= FASTEST:
        raise InputError("speed", speed, "walking pace at least, and no faster than any road allows")
    road = piece.road(speed)
    if piece.sided:
        road = replace(road, sides=side)
    if key == "gust":
        push = gust_force(body.area, WIND)
        return road, Manoeuvre(kind="gust", push=push, push_height=body.height, period=1.0, start=QUIET)
    return road, piece.turn(speed)
