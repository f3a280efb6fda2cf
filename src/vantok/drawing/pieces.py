"""The pieces of the course, each as a small drawing: the road from the side, or the way from above."""

from __future__ import annotations

from functools import cache

import numpy as np
from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LINE, MUTED, tag
from vantok_core.road.course import PIECES

WIDE, HIGH, GROUND, DEEP = 96.0, 34.0, 30.0, 13.0
"""The page; where the lowest of a road is drawn, and how high its greatest shape."""
LONG = 8.0
"""How much road is drawn, m."""


@cache
def piece_svg(key: str) -> SafeString:
    """Return a piece's drawing: its road by height, both tracks, else its way across the road."""
    piece = PIECES[key]
    x = np.linspace(0.0, LONG, 240)
    if not piece.leans:
        left, right = piece.road(0.0 if not piece.endless else 1.0).left_right(x - (0.0 if piece.endless else 1.5))
        most = max(float(np.max(np.abs([left, right]))), 1e-6)
        level = GROUND + DEEP * float(np.min([left, right])) / most
        return _svg([_line(x, level - DEEP * right / most, MUTED, 1.5), _line(x, level - DEEP * left / most, INK, 2.5)])
    if key == "gust":
        arrows = [_line(np.array([2.0, 5.2]), np.array([y, y]), INK, 2.5) for y in (9.0, 17.0, 25.0)]
        heads = [_line(np.array([4.6, 5.2, 4.6]), np.array([y - 4.0, y, y + 4.0]), INK, 2.5) for y in (9.0, 17.0, 25.0)]
        return _svg([*arrows, *heads])
    return _svg([_line(x, _way(key, x), INK, 2.5)])


def _way(key: str, x: np.ndarray) -> np.ndarray:
    """Return how a manoeuvre goes across the page, from above."""
    middle = HIGH / 2.0
    if key == "slalom":
        return middle - 10.0 * np.sin(2.0 * np.pi * x / 3.0)
    if key == "lane_change":
        return middle + 9.0 - 18.0 / (1.0 + np.exp(-2.6 * (x - LONG / 2.0)))
    return HIGH - 4.0 - 26.0 * np.clip((x - 1.5) / (LONG - 1.5), 0.0, 1.0) ** 2


def _line(x: np.ndarray, y: np.ndarray, colour: str, wide: float) -> SafeString:
    points = " ".join(f"{WIDE * a / LONG:.1f},{b:.1f}" for a, b in zip(x, y, strict=True))
    return tag("polyline", points=points, fill="none", stroke=colour, stroke_width=wide, stroke_linejoin="round")


def _svg(parts: list[SafeString]) -> SafeString:
    ground = tag("line", x1=0, y1=HIGH - 1.0, x2=WIDE, y2=HIGH - 1.0, stroke=LINE, stroke_width=1)
    return tag("svg", ground, *parts, viewBox=f"0 0 {WIDE:.0f} {HIGH:.0f}", class_="piece", aria_hidden="true")
