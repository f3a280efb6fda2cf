"""A logged road at a look, before it is kept: how the chosen column moved, where nothing was logged, where a mark was set."""

from __future__ import annotations

import numpy as np
from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LINE, MUTED, PAPER, TAPE, drawing, tag, text
from vantok_core.road.trace_file import PER, TraceFile

WIDE, HIGH, EDGE = 1100.0, 130.0, 20.0
BINS = 550


def trace_svg(found: TraceFile) -> SafeString:
    """Return the trace as what it reached from and to in each short while, as written in the file."""
    seconds = (found.table[:, found.time] - found.table[0, found.time]) * PER[found.time_unit]
    values, ends = found.table[:, found.value], float(seconds[-1])
    low, high = float(values.min()), float(values.max())
    parts: list[object] = [tag("rect", x=0, y=0, width=WIDE, height=HIGH, fill=PAPER)]
    for at, long in found.gaps:
        parts.append(tag("rect", x=WIDE * at / ends, y=0, width=WIDE * long / ends, height=HIGH, fill=LINE))
    parts.append(tag("path", d=_reached(seconds / ends, (values - low) / max(high - low, 1e-12)), stroke=INK))
    for n, at in enumerate(found.marks, 1):
        x = WIDE * at / ends
        parts.append(tag("line", x1=x, y1=0, x2=x, y2=HIGH, stroke=TAPE, stroke_width=4))
        parts.append(text(x + 5.0, 15.0, f"mark {n}", size=15, anchor="start", fill=INK))
    parts.append(text(WIDE - 4.0, HIGH - 4.0, f"{ends:.0f} s", size=15, anchor="end", fill=MUTED))
    told = f"{found.columns[found.value].name}: {low:.2f} to {high:.2f} over {ends:.0f} s"
    return drawing(told, *parts, viewBox=f"0 0 {WIDE:.0f} {HIGH:.0f}", class_="trace-look")


def _reached(shares: np.ndarray, heights: np.ndarray) -> str:
    """Return upright strokes: in each bin of the width (shares of it) from the least to the greatest height (shares too)."""
    bins = np.minimum((shares * BINS).astype(int), BINS - 1)
    strokes = []
    for one in np.unique(bins):
        within = heights[bins == one]
        x, tall = WIDE * (one + 0.5) / BINS, HIGH - 2.0 * EDGE
        foot, top = (HIGH - EDGE - tall * float(v) for v in (within.min(), within.max()))
        strokes.append(f"M{x:.1f} {foot + 0.8:.1f}V{top - 0.8:.1f}")
    return "".join(strokes)
