"""A piece of a tape with a mark on it, to be read."""

from __future__ import annotations

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LIMIT, TAPE, drawing, tag, text

WIDE, TALL = 760.0, 150.0
SHOWN_MM, SHOWN_IN = 0.06, 2.4 * 0.0254
"""How much of the tape is shown, m."""
HALF, QUARTER, EIGHTH = 8, 4, 2
"""Sixteenths of each line's length."""


def tape_svg(value: float, *, inches: bool) -> SafeString:
    """Return the tape around a value (m); nothing on it tells the figure but its lines."""
    return drawing(
        "A piece of a tape with a mark on it",
        tag("rect", x=0, y=20, width=WIDE, height=96, fill=TAPE, stroke=INK, stroke_width=2),
        *(_inches(value) if inches else _millimetres(value)),
        tag("path", d=f"M {WIDE / 2} 116 l -9 26 l 18 0 z", fill=LIMIT),
        tag("line", x1=WIDE / 2, y1=20, x2=WIDE / 2, y2=118, stroke=LIMIT, stroke_width=1.5),
        viewBox=f"0 0 {WIDE:.0f} {TALL:.0f}",
        class_="tape-drill",
    )


def _line(x: float, length: float) -> SafeString:
    return tag("line", x1=x, y1=20, x2=x, y2=20 + length, stroke=INK, stroke_width=1.6)


def _inches(value: float) -> list[SafeString]:
    sixteenth, scale, found = 0.0254 / 16, WIDE / SHOWN_IN, []
    first = round((value - SHOWN_IN / 2) / sixteenth) - 1
    for n in range(first, first + round(SHOWN_IN / sixteenth) + 4):
        x = WIDE / 2 + (n * sixteenth - value) * scale
        if not 0.0 <= x <= WIDE:
            continue
        whole = n % 16 == 0
        length = (
            78.0
            if whole
            else 58.0
            if n % HALF == 0
            else 44.0
            if n % QUARTER == 0
            else 32.0
            if n % EIGHTH == 0
            else 20.0
        )
        found.append(_line(x, length))
        if whole:
            found.append(text(x - 6, 108, str(n // 16), size=30, anchor="end"))
    return found


def _millimetres(value: float) -> list[SafeString]:
    scale, found = WIDE / SHOWN_MM, []
    first = round((value - SHOWN_MM / 2) * 1000) - 1
    for n in range(first, first + round(SHOWN_MM * 1000) + 4):
        x = WIDE / 2 + (n / 1000 - value) * scale
        if not 0.0 <= x <= WIDE:
            continue
        found.append(_line(x, 66.0 if n % 10 == 0 else 46.0 if n % 5 == 0 else 28.0))
        if n % 10 == 0:
            found.append(text(x, 110, str(n // 10), size=26))
    return found
