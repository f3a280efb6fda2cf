"""The parts between frame and axle, drawn where they stand: the main spring of each kind, and the kits of each family."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, MUTED, tag
from vantok_core.judge.set.close_up import KitSeen
from vantok_core.kits.registry import family_of

PART, SOFT = "#3c6f2c", "#dbe8d2"
Point = tuple[float, float]
Shapes = list[SafeString]
EYE = 0.56
"""From the axle to either eye of a leaf spring, m."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """A side's scale: middle of the page's part, way (1: front to the left), where the axle stands, units per metre along and up, frame above the
    axle (m)."""

    middle: float
    way: float
    axle: float
    along: float
    up: float
    rail: float

    def at(self, along: float, up: float) -> Point:
        """Return where a point (m behind the axle, m above its centre) stands on the page."""
        return self.middle + self.way * along * self.along, self.axle - up * self.up


def line(points: Sequence[Point], colour: str = INK, wide: float = 4.0) -> SafeString:
    """Return a line through points."""
    return tag(
        "polyline",
        points=" ".join(f"{x:.1f},{y:.1f}" for x, y in points),
        fill="none",
        stroke=colour,
        stroke_width=wide,
        stroke_linecap="round",
        stroke_linejoin="round",
    )


def _dot(at: Point, r: float = 7.0, fill: str = "#fffdf6", stroke: str = INK) -> SafeString:
    return tag("circle", cx=at[0], cy=at[1], r=r, fill=fill, stroke=stroke, stroke_width=2.5)


def _leaf(place: Place, share: float, under: float, colour: str, wide: float) -> SafeString:
    """Return a leaf: a share of the main leaf's length, so far under it (m)."""
    eye, clamp = place.rail - 0.06, 0.055
    steps = [n / 10 for n in range(-10, 11)]
    return line(
        [place.at(EYE * share * s, clamp - under + (eye - clamp) * (share * s) ** 2) for s in steps], colour, wide
    )


def _pack(place: Place, colour: str, leaves: Sequence[tuple[float, float]], wide: float = 4.5) -> Shapes:
    """Return a pack on its hangers: leaves by share of length and depth under the main one (m)."""
    front, rear = place.at(-EYE, place.rail - 0.06), place.at(EYE, place.rail - 0.06)
    hang, shackle = place.at(-EYE, place.rail), place.at(EYE - 0.03, place.rail)
    return [
        line([hang, front], INK, 7),
        line([shackle, rear], INK, 7),
        *(_leaf(place, share, under, colour, wide) for share, under in leaves),
        _dot(front),
        _dot(rear),
        line([place.at(-0.055, 0.075), place.at(-0.055, -0.07)], INK, 4),
        line([place.at(0.055, 0.075), place.at(0.055, -0.07)], INK, 4),
    ]


def _coil(
    place: Place, along: float, colour: str, wide: float = 5.0, half: float = 0.055, low: float = 0.045
) -> Shapes:
    turns = 6
    step = (place.rail - low) / turns
    points = [place.at(along - half, low)]
    points += [place.at(along + (half if n % 2 == 0 else -half), low + (n + 0.5) * step) for n in range(turns)]
    return [line([*points, place.at(along + half, place.rail)], colour, wide)]


def _lever(place: Place, colour: str) -> Shapes:
    pivot = place.at(-0.42, 0.06)
    return [
        line([place.at(-0.42, place.rail), pivot], INK, 9),
        line([pivot, place.at(0, 0)], colour, 9),
        _dot(pivot, 13, "#d9d2bd"),
        _dot(pivot, 5, INK),
    ]


SPRINGS: Mapping[str, Callable[[Place, str], Shapes]] = {
    "leaf_solid": lambda p, c: _pack(p, c, ((1.0, 0.0), (0.74, 0.018), (0.5, 0.036), (0.28, 0.054))),
    "two_stage_leaf_solid": lambda p, c: _pack(p, c, ((1.0, 0.0), (0.74, 0.018), (0.5, 0.036), (0.55, 0.075))),
    "parabolic_solid": lambda p, c: _pack(p, c, ((1.0, 0.0), (0.9, 0.035)), 7.0),
    "coil_solid": lambda p, c: _coil(p, 0.0, c),
    "coil_independent": lambda p, c: [*_lever(p, MUTED), *_coil(p, -0.12, c)],
    "torsion_bar_independent": _lever,
    "rubber_torsion_independent": _lever,
}


def draw_spring(kind: str, place: Place, *, replaced: bool) -> Shapes:
    """Return the main spring of a kind; in the kits' colour where a new one was put in."""
    draw = SPRINGS.get(kind)
    return draw(place, PART if replaced else INK) if draw else []


Drawn = tuple[Shapes, Point]
"""Shapes, and where its figure stands."""


def _bag(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    inside = kit.shape == "in_coil"
    along = (0.0 if inside else along) if kit.height is not None else along
    high = kit.height if kit.height is not None else place.rail - 0.065
    half = 0.05 if inside else 0.085
    top = place.rail - 0.012
    low = max(top - high, 0.03)
    (xl, yt), (xr, yb) = place.at(along - half, top), place.at(along + half, low)
    x0, x1, ym = min(xl, xr), max(xl, xr), (yt + yb) / 2
    q, out = (yt + ym) / 2, 11.0
    bag = (
        f"M{x0:.1f} {yt:.1f} Q{x0 - out:.1f} {q:.1f} {x0 + 3:.1f} {ym:.1f} Q{x0 - out:.1f} {ym + ym - q:.1f} {x0:.1f} {yb:.1f} "
        f"L{x1:.1f} {yb:.1f} Q{x1 + out:.1f} {ym + ym - q:.1f} {x1 - 3:.1f} {ym:.1f} Q{x1 + out:.1f} {q:.1f} {x1:.1f} {yt:.1f} Z"
    )
    shapes = [
        line([place.at(along - half, place.rail), place.at(along + half, place.rail)], INK, 8),
        line([place.at(0.0, low - 0.008), place.at(along + half, low - 0.008)], INK, 6),
        tag("path", d=bag, fill=SOFT, stroke=PART, stroke_width=3),
    ]
    figure = place.at(0.24, place.rail / 2) if inside else ((x0 + x1) / 2, ym)
    return shapes, figure


def _insert(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    gap = max(kit.gap or 0.0, 0.0)
    (x, top), foot = place.at(stop, place.rail), place.at(stop, 0.05)[1] - gap * place.up
    half = (top + foot) / 2
    body = f"M{x - 20:.1f} {top:.1f} H{x + 20:.1f} L{x + 13:.1f} {half:.1f} L{x + 17:.1f} {foot:.1f} H{x - 17:.1f} L{x - 13:.1f} {half:.1f} Z"
    seat = line([place.at(stop - 0.06, 0.045), place.at(0.0, 0.045)], INK, 4)
    return [seat, tag("path", d=body, fill=SOFT, stroke=PART, stroke_width=3)], (x - place.way * 72, (top + foot) / 2)


def _helper_leaf(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    helper = line(
        [place.at(s, 0.09 + 0.5 * (place.rail - 0.16) * (s / 0.4) ** 2) for s in (-0.4, -0.2, 0.0, 0.2, 0.4)], PART, 6
    )
    pads = [_dot(place.at(s, 0.075 + 0.5 * (place.rail - 0.16)), 6, PART, PART) for s in (-0.4, 0.4)]
    return [helper, *pads], place.at(along + 0.06, place.rail * 0.5)


def _assist(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    return _coil(place, along, PART, 4.0, 0.035, 0.05), place.at(along + 0.19, place.rail * 0.55)


def _added(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    return [_leaf(place, 0.62, 0.072, PART, 6)], place.at(along + 0.06, place.rail * 0.62)


def _block(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    a, b = place.at(-0.05, 0.45 * place.rail + 0.02), place.at(0.05, 0.45 * place.rail - 0.03)
    shape = tag(
        "rect",
        x=min(a[0], b[0]),
        y=a[1],
        width=abs(b[0] - a[0]),
        height=b[1] - a[1],
        fill=SOFT,
        stroke=PART,
        stroke_width=3,
    )
    return [shape], place.at(0.22, place.rail * 0.55)


def _shackle(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    upper, lower = place.at(EYE - 0.03, place.rail), place.at(EYE, place.rail - 0.06)
    return [line([upper, lower], PART, 11), _dot(lower, 8, SOFT, PART)], place.at(EYE - 0.17, place.rail - 0.02)


def _adjuster(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    at = place.at(-0.42, 0.06)
    return [_dot(at, 15, SOFT, PART), line([at, place.at(-0.36, place.rail - 0.01)], PART, 5)], place.at(
        -0.30, place.rail * 0.55
    )


def _damper(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    top, foot = place.at(along + 0.05, place.rail + 0.05), place.at(along + 0.14, -0.03)
    middle = ((top[0] + foot[0]) / 2, (top[1] + foot[1]) / 2)
    return [line([middle, foot], INK, 5), line([top, middle], PART, 14), _dot(top), _dot(foot)], (
        middle[0] + place.way * 20,
        middle[1] - 46,
    )


def _bar(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    arm, end = place.at(0.0, -0.06), place.at(0.30, -0.06)
    return [
        line([arm, end], PART, 8),
        line([end, place.at(0.30, place.rail)], PART, 4),
        _dot(end),
        _dot(place.at(0.30, place.rail)),
    ], place.at(0.42, place.rail * 0.45)


def _told(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    return [], place.at(along, place.rail * 0.5)


KITS: Mapping[str, Callable[[KitSeen, Place, float, float], Drawn]] = {
    "bag": _bag,
    "stop insert": _insert,
    "leaf above": _helper_leaf,
    "coil beside": _assist,
    "leaf below": _added,
    "between windings": _block,
    "shackle": _shackle,
    "torsion key": _adjuster,
    "shock": _damper,
    "roll bar": _bar,
}


def draw_kit(kit: KitSeen, place: Place, along: float, stop: float) -> Drawn:
    """Return a kit where it stands and where its figure goes; along: place (m) of one beside the spring; stop: of the bump stop (m)."""
    return KITS.get(family_of(kit.fitting.kit).drawn, _told)(kit, place, along, stop)
