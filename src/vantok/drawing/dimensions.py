"""The vehicle with its dimension lines, each with a letter: the fields beside it carry the same ones. What is unknown is dashed and red."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.utils.safestring import SafeString

from vantok.drawing.side import Side
from vantok.drawing.svg import INK, LIMIT, LINE, MUTED, PAPER, drawing, group, polygon, tag, text
from vantok_core.facts import JobVehicle
from vantok_core.facts.classes import BODIES

WIDTH, HEIGHT, GROUND = 1180.0, 408.0, 212.0
ROWS = (240.0, 328.0)
"""Where the two rows of dimension lines stand: a field has room on each."""
LETTERS: tuple[tuple[str, str], ...] = (
    ("wheelbase_m", "A"),
    ("hitch_overhang_m", "B"),
    ("rear_overhang_m", "C"),
    ("track_front_m", "D"),
    ("track_rear_m", "E"),
)
"""The field of each dimension line, and its letter."""


@dataclass(frozen=True, slots=True)
class _Dim:
    """A dimension line: the field, from where to where along the page, at which height, and its value (m, None: not known)."""

    field: str
    x1: float
    x2: float
    y: float
    value: float | None


def dimensions_svg(vehicle: JobVehicle) -> SafeString:
    """Return the vehicle from the side and from behind with its dimension lines: the fields on the page stand at them."""
    side = Side(vehicle, 1.0)
    body = BODIES[vehicle.body]
    parts: list[object] = [
        tag("line", x1=10, y1=GROUND, x2=1170, y2=GROUND, stroke=LINE, stroke_width=2),
        polygon(side.moved(side.shape, (0.0, 0.0)), fill="#e9e2cf", stroke=INK, stroke_width=2.5),
    ]
    parts += [
        polygon(side.moved(pane, (0.0, 0.0)), fill="#cfd8d0", stroke=INK, stroke_width=1.2) for pane in side.windows
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
        _Dim("wheelbase_m", front, rear, ROWS[0], vehicle.wheelbase_m),
        _Dim("hitch_overhang_m", rear, hitch, ROWS[0], vehicle.hitch_overhang_m),
        _Dim("rear_overhang_m", rear, tail, ROWS[1], vehicle.rear_overhang_m),
    ]
    parts += [_drawn(d) for d in along]
    parts += _behind(vehicle, body.width, body.roof)
    known = sum(getattr(vehicle, name) is not None for name, _ in LETTERS)
    return drawing(
        f"The vehicle's dimensions; {known} of {len(LETTERS)} known",
        *parts,
        viewBox=f"0 0 {WIDTH:.0f} {HEIGHT:.0f}",
        class_="stance dimensions",
    )


def _drawn(dim: _Dim) -> SafeString:
    """Return a dimension line with its ends, letter and figure."""
    colour = INK if dim.value is not None else LIMIT
    middle = (dim.x1 + dim.x2) / 2
    letter = dict(LETTERS)[dim.field]
    said = letter if dim.value is not None else f"{letter} ?"
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


def _behind(vehicle: JobVehicle, width: float, roof: float) -> Sequence[SafeString]:
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
        ("track_rear_m", vehicle.track_rear_m, ROWS[0]),
        ("track_front_m", vehicle.track_front_m, ROWS[1]),
    ):
        half = (value or 1.65) * scale / 2
        found.append(_drawn(_Dim(field, x - half, x + half, y, value)))
    half = (vehicle.track_rear_m or 1.65) * scale / 2
    found += [
        tag("rect", x=x + s * half - 14, y=GROUND - 0.74 * scale, width=28, height=0.74 * scale, rx=6, fill="#2c3a33")
        for s in ((-1.0, -0.68, 0.68, 1.0) if vehicle.dual_rear else (-1.0, 1.0))
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
