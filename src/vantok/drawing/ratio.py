"""A ratio on a scale from half to one and a half: its band, its middle, what is aimed at, and one, which is no change."""

from __future__ import annotations

from django.utils.safestring import SafeString

from vantok.drawing.svg import FIGURES, INK, LINE, MUTED, TAPE, tag, text

LOW, HIGH, WIDTH, TALL = 0.5, 1.5, 240.0, 40.0


def ratio_svg(value: float, low: float, high: float, aim: float) -> SafeString:
    """Return a ratio with its band on the scale, held to its ends; aim: the line it should stand left of."""
    band = _x(low), _x(high)
    parts = [
        tag("line", x1=_x(LOW), x2=_x(HIGH), y1=16, y2=16, stroke=LINE, stroke_width=2),
        tag("line", x1=_x(1.0), x2=_x(1.0), y1=6, y2=26, stroke=MUTED, stroke_width=2),
        tag("rect", x=_x(aim) - 2.5, y=4, width=5, height=24, fill=TAPE),
        tag("rect", x=band[0], y=11, width=max(band[1] - band[0], 2.0), height=10, fill=MUTED, opacity=0.5),
        tag("circle", cx=_x(value), cy=16, r=6, fill=INK),
        text(_x(1.0), 39, "now", size=12, fill=MUTED),
        text(_x(aim), 39, "aim", size=12, fill=MUTED),
    ]
    said = f"{value:.2f} of what it is now, {low:.2f} to {high:.2f}; aimed at {aim:.2f} at most"
    return tag(
        "svg",
        *parts,
        xmlns="http://www.w3.org/2000/svg",
        viewBox=f"0 0 {WIDTH:.0f} {TALL:.0f}",
        width=WIDTH,
        role="img",
        aria_label=said,
        font_family=FIGURES,
    )


def _x(value: float) -> float:
    return 10.0 + (WIDTH - 20.0) * (min(max(value, LOW), HIGH) - LOW) / (HIGH - LOW)
