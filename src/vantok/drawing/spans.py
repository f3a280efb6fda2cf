"""Limits as spans: from the lightest to the heaviest case on one scale of the rating, which is a line."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LEVEL, LIMIT, LINE, MUTED, drawing, tag, text
from vantok_core.base.units import System, show
from vantok_core.judge.weigh.envelope import Span

WIDE, EACH, LEFT, MIDDLE = 1180.0, 44.0, 260.0, 900.0
"""Width, height of a row, where bars begin, where the rating's line stands."""


def _told(span: Span, units: System) -> str:
    least, most, limit = (show("mass", kg, units) for kg in (span.least, span.most, span.limit))
    return f"{least} to {most} of {limit}"


def spans_svg(spans: Sequence[Span], units: System) -> SafeString:
    """Return a row for each limit: its name, its span against the rating, its loads."""
    if not spans:
        return SafeString("")
    tall = EACH * len(spans) + 30.0
    parts: list[object] = [
        tag("line", x1=MIDDLE, y1=6, x2=MIDDLE, y2=tall - 22, stroke=INK, stroke_width=3),
        text(MIDDLE, tall - 4, "rated", size=17, fill=MUTED),
    ]
    for n, span in enumerate(spans):
        y, per = 8.0 + EACH * n, (MIDDLE - LEFT) / span.limit
        x0, x1 = LEFT + span.least * per, min(LEFT + span.most * per, WIDE - 10.0)
        parts += [
            text(LEFT - 14, y + 22, span.name, size=18, anchor="end"),
            tag("line", x1=LEFT, y1=y + 16, x2=MIDDLE, y2=y + 16, stroke=LINE, stroke_width=2),
            tag(
                "rect",
                x=x0,
                y=y + 6,
                width=max(x1 - x0, 3.0),
                height=20,
                rx=4,
                fill=LIMIT if span.most > span.limit else LEVEL,
            ),
            text(
                (x0 + x1) / 2,
                y + 42,
                _told(span, units),
                size=15,
                fill=MUTED,
            ),
        ]
    return drawing(
        "Limits as spans from the lightest to the heaviest case",
        *parts,
        figures=[(span.name, _told(span, units)) for span in spans],
        viewBox=f"0 0 {WIDE:.0f} {tall:.0f}",
        class_="stance",
    )
