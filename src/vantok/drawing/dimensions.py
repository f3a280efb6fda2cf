"""The vehicle with its dimension lines, each with a letter: the fields beside it carry the same ones. What is unknown is dashed and red."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.utils.safestring import SafeString

from vantok.drawing.side import Side
from vantok.drawing.svg import FIGURES, INK, LIMIT, LINE, MUTED, PAPER, group, polygon, tag, text
from vantok_core.base.units import System, show
from vantok_core.facts import JobVehicle
from vantok_core.facts.classes import BODIES

WIDTH, HEIGHT, GROUND = 1180.0, 330.0, 222.0
LETTERS: tuple[tuple[str, str], ...] = (
    ("wheelbase_m", "A"),
    ("hitch_overhang_m", "B"),
    ("rear_overhang_m", "C"),
    ("track_front_m", "D"),
    ("track_rear_m", "E"),
    ("front_droop_m", "F"),
    ("rear_droop_m", "G"),
)
"""The field of each dimension, and its letter."""


@dataclass(frozen=True, slots=True)
class _Dim:
    """A dimension line: the field, from where to where along the page, at which height, and its value (m, None: not known)."""

    field: str
    x1: float
    x2: float
    y: float
    value: float | None


def dimensions_svg(vehicle: JobVehicle, units: System) -> SafeString:
    """Return the vehicle from the side and from behind with its dimension lines in the reader's units."""
    side = Side(vehicle, 1.0)
    body = BODIES[vehicle.body]
    parts: list[object] = [
        tag("line", x1=10, y1=GROUND, x2=1170, y2=GROUND, stroke=LINE, stroke_width=2),
        polygon(side.moved(side.shape, (0.0, 0.0)), fill="#e9e2cf", stroke=INK, stroke_width=2.5),
    ]
    front, rear = side.at(0.0, 0.0)[0], side.at(side.length, 0.0)[0]
    for x in (rear,) if side.trailer else (front, rear):
        parts += [
            tag("circle", cx=x, cy=GROUND - 0.38 * side.scale, r=0.38 * side.scale, fill="#2c3a33"),
            tag("circle", cx=x, cy=GROUND - 0.38 * side.scale, r=0.16 * side.scale, fill="#dcd6c4"),
        ]
    tail = side.at(side.length + (vehicle.rear_overhang_m or max(p[0] for p in side.shape) - side.length), 0.0)[0]
    hitch = side.at(side.length + (vehicle.hitch_overhang_m or 1.2), 0.0)[0]
    along = [
        _Dim("wheelbase_m", front, rear, 252.0, vehicle.wheelbase_m),
        _Dim("hitch_overhang_m", rear, hitch, 252.0, vehicle.hitch_overhang_m),
        _Dim("rear_overhang_m", rear, tail, 284.0, vehicle.rear_overhang_m),
    ]
    parts += [_drawn(d, units) for d in along]
    parts += _behind(vehicle, body.width, body.roof, units)
    parts += [
        _droop("front_droop_m", front - 44.0, vehicle.front_droop_m, units),
        _droop("rear_droop_m", rear - 44.0, vehicle.rear_droop_m, units),
    ]
    known = sum(getattr(vehicle, name) is not None for name, _ in LETTERS)
    return tag(
        "svg",
        *parts,
        viewBox=f"0 0 {WIDTH:.0f} {HEIGHT:.0f}",
        role="img",
        class_="stance dimensions",
        font_family=FIGURES,
        aria_label=f"The vehicle's dimensions; {known} of {len(LETTERS)} known",
    )


def _drawn(dim: _Dim, units: System) -> SafeString:
    """Return a dimension line with its ends, letter and figure."""
    colour = INK if dim.value is not None else LIMIT
    middle = (dim.x1 + dim.x2) / 2
    letter = dict(LETTERS)[dim.field]
    said = f"{letter}  {show('length', dim.value, units)}" if dim.value is not None else f"{letter}  ?"
    return group(
        [
            tag(
                "line",
                x1=dim.x1,
                y1=dim.y,
                x2=dim.x2,
                y2=dim.y,
                stroke=colour,
                stroke_width=2.5,
                stroke_dasharray=None if dim.value is not None else "6 5",
            ),
            *(
                tag("line", x1=x, y1=dim.y - 9, x2=x, y2=dim.y + 9, stroke=colour, stroke_width=2.5)
                for x in (dim.x1, dim.x2)
            ),
            tag("rect", x=middle - 5.2 * len(said), y=dim.y - 13, width=10.4 * len(said), height=26, fill=PAPER),
            text(middle, dim.y + 7, said, size=20, fill=colour, font_weight=600),
        ],
        data_dim=dim.field,
    )


def _droop(field: str, x: float, value: float | None, units: System) -> SafeString:
    """Return how far a wheel hangs below where it stands, as a short upright line beside it."""
    colour, letter = INK if value is not None else LIMIT, dict(LETTERS)[field]
    said = f"{letter} {show('length', value, units)}" if value is not None else f"{letter} ?"
    return group(
        [
            tag(
                "line",
                x1=x,
                y1=GROUND - 34,
                x2=x,
                y2=GROUND - 4,
                stroke=colour,
                stroke_width=2.5,
                stroke_dasharray=None if value is not None else "6 5",
            ),
            text(x - 8, GROUND - 12, said, size=17, anchor="end", fill=colour, font_weight=600),
        ],
        data_dim=field,
    )


def _behind(vehicle: JobVehicle, width: float, roof: float, units: System) -> Sequence[SafeString]:
    """Return the vehicle from behind with both tracks."""
    scale = min(200.0 / width, 180.0 / roof)
    x, found = 1030.0, []
    found.append(
        tag(
            "rect",
            x=x - width * scale / 2,
            y=GROUND - roof * scale,
            width=width * scale,
            height=(roof - 0.5) * scale,
            fill="#e9e2cf",
            stroke=INK,
            stroke_width=2.5,
            rx=10,
        )
    )
    for field, value, y in (
        ("track_rear_m", vehicle.track_rear_m, 252.0),
        ("track_front_m", vehicle.track_front_m, 284.0),
    ):
        half = (value or 1.65) * scale / 2
        found.append(_drawn(_Dim(field, x - half, x + half, y, value), units))
    half = (vehicle.track_rear_m or 1.65) * scale / 2
    found += [
        tag("rect", x=x + s * half - 14, y=GROUND - 0.74 * scale, width=28, height=0.74 * scale, rx=6, fill="#2c3a33")
        for s in (-1.0, 1.0)
    ]
    found.append(
        text(
            x,
            GROUND - roof * scale - 6 if roof * scale < 190 else 16,
            "from behind: E rear, D front",
            size=16,
            fill=MUTED,
        )
    )
    return found
