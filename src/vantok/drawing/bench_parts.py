"""Drawings of the benches of single parts: a bag, an insert, a tyre before a wall, a bush in its bracket."""

from __future__ import annotations

from django.utils.safestring import SafeString

from vantok.drawing.axle_parts import PART, SOFT
from vantok.drawing.bench_curves import told
from vantok.drawing.bench_shapes import TALL, WIDE, Drawn, dot, handle, line
from vantok.drawing.svg import INK, LIMIT, LINE, MUTED, tag, text
from vantok_core.base.units import System, show


def air(d: Drawn, units: System) -> list[SafeString]:
    """Return a bag between its plates, as it stands and pressed further."""
    scale = min(0.72 * TALL / max(d["height"], 0.05), 0.5 * WIDE / max(d["across"], 0.05))
    x, foot = WIDE * 0.4, TALL - 30.0
    top, half = foot - d["height"] * scale, d["across"] * scale / 2.0
    low = foot - (d["height"] - d["pressed"]) * scale
    middle = (top + foot) / 2.0
    left, right = x - half, x + half
    bag = (
        f"M{left:.1f} {top:.1f} Q{left - 22:.1f} {middle:.1f} {left:.1f} {foot:.1f} "
        f"H{right:.1f} Q{right + 22:.1f} {middle:.1f} {right:.1f} {top:.1f} Z"
    )
    pressed = (
        [line([(x - half - 30, low), (x + half + 30, low)], width=3, colour=LINE, dashes="7 6")] if d["pressed"] else []
    )
    return [
        line([(x - half - 30, foot + 6), (x + half + 30, foot + 6)], width=10),
        tag("path", d=bag, fill=SOFT, stroke=PART, stroke_width=4),
        line([(x - half - 30, top - 6), (x + half + 30, top - 6)], width=10),
        *pressed,
        text(x, middle + 8, show("pressure", d["pressure"], units), size=30, font_weight=600),
        text(
            WIDE - 12,
            24,
            f"high {told(d['height'], units)}" if d["known"] else "its size: not entered",
            size=15,
            anchor="end",
            fill=MUTED,
        ),
        text(
            WIDE - 12,
            44,
            f"pressed {told(d['pressed'], units)}" if d["known"] else "",
            size=15,
            anchor="end",
            fill=MUTED,
        ),
        handle("height", (x + half + 60, top - 6), units, "Bag's height", y=("height", d["height"], -scale)),
        handle("pressed", (x - half - 60, low), units, "Pressed further", y=("pressed", d["pressed"], scale)),
    ]


def insert(d: Drawn, units: System) -> list[SafeString]:
    """Return an insert under the frame with its spacer, and the gap that is left."""
    scale = 0.62 * TALL / max(d["gap"] + 0.03, 0.05)
    x, pad = WIDE * 0.4, TALL - 46.0
    frame = pad - (d["gap"] + 0.03) * scale
    foot = pad - max(d["left"], -0.02) * scale
    block = frame + d["spacer"] * scale
    cut = d["cut"] * scale
    return [
        tag("rect", x=x - 150, y=frame - 24, width=300, height=24, fill="#e9e2cf", stroke=INK, stroke_width=2),
        tag("rect", x=x - 34, y=frame, width=68, height=max(d["spacer"] * scale, 1.0), fill=LINE, stroke=INK),
        tag(
            "path",
            d=f"M{x - 34:.1f} {block:.1f} H{x + 34:.1f} L{x + 24:.1f} {foot:.1f} H{x - 24:.1f} Z",
            fill=SOFT,
            stroke=PART,
            stroke_width=3,
        ),
        *([line([(x - 30, foot + cut), (x + 30, foot + cut)], width=2, colour=LIMIT, dashes="5 5")] if cut else []),
        line([(x - 90, pad), (x + 90, pad)], width=10),
        text(x + 110, (foot + pad) / 2 + 6, f"gap {told(d['left'], units)}", size=18, anchor="start"),
        text(WIDE - 12, 24, f"spacer {told(d['spacer'], units)}", size=15, anchor="end", fill=MUTED),
        handle("spacer", (x + 70, block), units, "Spacer", y=("spacer", d["spacer"], scale)),
        handle("gap", (x - 120, pad), units, "Stop gap without it", y=("gap", d["gap"], scale)),
    ]


def tyre(d: Drawn, units: System) -> list[SafeString]:
    """Return the squashed tyre, and the wall with the lamps' cut-off before and after."""
    scale, ground = 250.0, TALL - 40.0
    x, r = WIDE * 0.24, 0.36 * scale
    wall, moved = WIDE - 60.0, d["rise"] / max(d["wheelbase"], 0.1) * d["wall"]
    lamp = (x + 30.0, ground - 0.75 * scale)
    per = 160.0  # page units per metre on the wall
    at = min(max(lamp[1] - moved * per, 12.0), ground - 8.0)
    return [
        line([(10, ground), (wall + 20, ground)], width=2, colour=MUTED),
        tag("circle", cx=x, cy=ground - r + d["squash"] * scale, r=r, fill="#2c3a33"),
        tag("circle", cx=x, cy=ground - r + d["squash"] * scale, r=r * 0.5, fill="#dcd6c4"),
        tag("rect", x=x - r, y=ground, width=2 * r, height=30, fill="#fffdf6"),
        line([(10, ground), (wall + 20, ground)], width=2, colour=MUTED),
        text(
            x,
            ground + 24,
            f"squash {told(d['squash'], units)}" if d["squash"] else "squash: its rate is not known",
            size=16,
            fill=MUTED,
        ),
        line([(wall, 20), (wall, ground)], width=8, colour=LINE),
        line([lamp, (wall, lamp[1])], width=2, colour=MUTED, dashes="6 6"),
        line([lamp, (wall, at)], width=3),
        dot(*lamp, 7),
        text(wall - 12, 24, f"wall at {show('distance', d['wall'], units)}", size=15, anchor="end", fill=MUTED),
        text(wall - 12, 44, f"cut-off moves {told(moved, units)}", size=15, anchor="end", fill=MUTED),
        handle(
            "rise",
            (wall, at),
            units,
            "Nose up, front against rear",
            y=("rise", d["rise"], -per * d["wall"] / max(d["wheelbase"], 0.1)),
        ),
    ]


def thread(d: Drawn, units: System) -> list[SafeString]:
    """Return the bush between the cheeks of its bracket, and the gap on either side."""
    scale = 0.6 * WIDE / max(d["bracket"], d["bush"], 0.02)
    x, y = WIDE * 0.45, TALL * 0.55
    cheek, bush = d["bracket"] * scale / 2.0, d["bush"] * scale / 2.0
    gap = d["bracket"] - d["bush"]
    return [
        tag("rect", x=x - cheek - 20, y=y - 90, width=20, height=180, fill="#e9e2cf", stroke=INK, stroke_width=2),
        tag("rect", x=x + cheek, y=y - 90, width=20, height=180, fill="#e9e2cf", stroke=INK, stroke_width=2),
        tag("rect", x=x - bush, y=y - 44, width=2 * bush, height=88, rx=8, fill=SOFT, stroke=PART, stroke_width=3),
        line([(x - cheek - 40, y), (x + cheek + 40, y)], width=14, colour=MUTED),
        text(x, y - 104, f"bracket {told(d['bracket'], units)}" if d["known"] else "bracket", size=17),
        text(x, y + 72, f"bush {told(d['bush'], units)}" if d["known"] else "bush", size=17),
        text(
            WIDE - 12,
            24,
            f"to fill {told(gap, units)}" if d["known"] else "not entered yet",
            size=15,
            anchor="end",
            fill=LIMIT if gap < 0.0 else MUTED,
        ),
        handle("bush", (x + bush, y - 62), units, "Bush's width", x=("bush", d["bush"], scale / 2.0)),
        handle(
            "bracket",
            (x + cheek + 10, y + 104),
            units,
            "Bracket's inside width",
            x=("bracket", d["bracket"], scale / 2.0),
        ),
    ]
