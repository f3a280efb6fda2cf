"""The two spirit-level vials, for rake and lean, and the words under them."""

from __future__ import annotations

from math import atan, degrees

from django.utils.safestring import SafeString

from vantok.drawing.stance import Stance
from vantok.drawing.svg import INK, LEVEL, MUTED, group, tag, text
from vantok_core.base.names import DEFAULT_TRACK
from vantok_core.base.units import System, show

LEVEL_ANGLE = 0.3
"""Degrees within which a vial reads level."""
FULL_ANGLE = 2.5
"""Degrees at which the bubble stands at the vial's end."""


def vials(stance: Stance, units: System, times: float, x: float, height: float) -> list[object]:
    """Return the rake and lean vials and the drawing's legend; a bubble is green only when level within the band."""
    width = stance.vehicle.track_rear_m or DEFAULT_TRACK
    length = stance.vehicle.wheelbase_m or 3.4
    nose = None if stance.rake is None else -stance.rake / length
    over = None if stance.lean is None else stance.lean / width
    legend = f"×{times:.0f}, dashed: {stance.ghost_name}" if stance.known else f"changes from empty drawn ×{times:.0f}"
    return [
        _vial(x, 52, "Rake", nose, stance.rake, units, "nose up" if (nose or 0.0) > 0 else "tail up"),
        _vial(x, 150, "Lean", over, stance.lean, units, "left high" if (over or 0.0) > 0 else "right high"),
        text(x, height - 32, _short(stance.name, 40), size=19, anchor="start"),
        text(
            x,
            height - 11,
            f"changes drawn {_short(legend, 38)}" if stance.known else legend,
            size=17,
            anchor="start",
            fill=MUTED,
        ),
    ]


def _short(words: str, most: int) -> str:
    return words if len(words) <= most else words[: most - 1] + "…"


def _vial(
    x: float, y: float, name: str, angle: float | None, value: float | None, units: System, way: str
) -> SafeString:
    wide, tall = 240.0, 38.0
    middle = x + wide / 2
    parts: list[object] = [
        text(x, y - 8, name, size=20, anchor="start", fill=MUTED),
        tag("rect", x=x, y=y, width=wide, height=tall, rx=19, fill="#dfe5d3", stroke=INK, stroke_width=2),
    ]
    if angle is not None and value is not None:
        turn = degrees(atan(angle))
        level = abs(turn) <= LEVEL_ANGLE
        # The bubble goes to the high end: the left of the drawing is the nose, and the left side of the vehicle.
        place = middle - max(min(turn / FULL_ANGLE, 1.0), -1.0) * (wide / 2 - 30)
        fill = LEVEL if level else "#fffdf5"
        parts.append(tag("ellipse", cx=place, cy=y + tall / 2, rx=24, ry=13, fill=fill, stroke=INK, stroke_width=1.5))
        words = f"{show('length', abs(value), units)} {'level' if level else way} · {abs(turn):.1f}°"
        parts.append(text(x + wide, y - 8, words, size=20, anchor="end", font_weight=600))
    else:
        parts.append(text(x + wide, y - 8, "to measure", size=20, anchor="end", fill=MUTED))
    for mark in (-30, 30):
        parts.append(
            tag("line", x1=middle + mark, y1=y + 2, x2=middle + mark, y2=y + tall - 2, stroke=INK, stroke_width=2)
        )
    return group(parts)
