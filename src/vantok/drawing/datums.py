"""Where the tape goes for each datum: a wheel under its arch, a hitch, a stop over its pad, a bag's plates; the tape in yellow."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LINE, MUTED, TAPE, drawing, tag, text

Shapes = list[SafeString]
WIDE, TALL = 260.0, 150.0
GROUND = 136.0


def datum_svg(key: str, words: str) -> SafeString:
    """Return the small drawing of a datum; nothing for one that has none."""
    draw = DATUMS.get(key)
    if draw is None:
        return SafeString("")
    return drawing(f"Where the tape goes: {words}", *draw(), viewBox=f"0 0 {WIDE:.0f} {TALL:.0f}", class_="datum")


def _line(x1: float, y1: float, x2: float, y2: float, colour: str = INK, wide: float = 4.0) -> SafeString:
    return tag("line", x1=x1, y1=y1, x2=x2, y2=y2, stroke=colour, stroke_width=wide, stroke_linecap="round")


def _tape(x: float, y1: float, y2: float) -> Shapes:
    """Return a tape between two heights, its hook and its end."""
    return [
        _line(x, y1, x, y2, INK, 11),
        _line(x, y1, x, y2, TAPE, 7),
        _line(x - 12, y1, x + 12, y1, INK, 3),
        _line(x - 12, y2, x + 12, y2, INK, 3),
    ]


def _wheel() -> Shapes:
    arch = tag("path", d="M30 64 Q36 26 110 20 Q184 26 190 64", fill="none", stroke=INK, stroke_width=4)
    return [
        _line(8, GROUND, 252, GROUND, LINE, 2),
        tag("circle", cx=110, cy=88, r=48, fill="#2c3a33"),
        tag("circle", cx=110, cy=88, r=24, fill="#dcd6c4"),
        tag("circle", cx=110, cy=88, r=5, fill=INK),
        arch,
    ]


def _ground_arch() -> Shapes:
    return [*_wheel(), *_tape(110, 22, GROUND), text(128, 34, "lip of the arch", size=15, anchor="start", fill=MUTED)]


def _hub_arch() -> Shapes:
    return [*_wheel(), *_tape(110, 22, 88), text(128, 94, "hub's middle", size=15, anchor="start", fill="#f7f2e6")]


def _rim_arch() -> Shapes:
    return [*_wheel(), *_tape(110, 22, 64), text(128, 60, "edge of the rim", size=15, anchor="start", fill="#f7f2e6")]


def _coil_gap() -> Shapes:
    coils = [
        tag("path", d=f"M84 {y} Q130 {y + 15} 176 {y}", fill="none", stroke=INK, stroke_width=9, stroke_linecap="round")
        for y in (52, 78, 104)
    ]
    return [
        _frame(),
        *coils,
        *_tape(130, 64, 81),
        text(186, 74, "the same windings", size=15, anchor="start", fill=MUTED),
        text(186, 92, "each time: chalk", size=15, anchor="start", fill=MUTED),
    ]


def _access_hole() -> Shapes:
    return [
        _frame(),
        tag("circle", cx=130, cy=27, r=8, fill="#f7f2e6", stroke=INK, stroke_width=3),
        tag("circle", cx=130, cy=118, r=14, fill="#55645b"),
        *_tape(130, 34, 104),
        text(150, 62, "hole's lower edge", size=15, anchor="start", fill=MUTED),
        text(152, 122, "axle", size=15, anchor="start", fill=MUTED),
    ]


def _ground_hitch() -> Shapes:
    return [
        _line(8, GROUND, 252, GROUND, LINE, 2),
        tag("rect", x=10, y=30, width=110, height=46, fill="#e9e2cf", stroke=INK, stroke_width=3),
        _line(110, 66, 178, 66, INK, 9),
        tag("circle", cx=186, cy=52, r=9, fill=INK),
        _line(186, 52, 186, 66, INK, 5),
        *_tape(186, 58, GROUND),
        text(204, 60, "ball's middle", size=15, anchor="start", fill=MUTED),
    ]


def _frame() -> SafeString:
    return tag("rect", x=16, y=14, width=228, height=26, fill="#e9e2cf", stroke=INK, stroke_width=3)


def _stop_gap() -> Shapes:
    return [
        _frame(),
        tag("polygon", points="104,40 156,40 148,72 112,72", fill="#3c4a44"),
        _line(70, 116, 190, 116, INK, 10),
        *_tape(130, 74, 110),
        text(170, 66, "stop", size=15, anchor="start", fill=MUTED),
        text(170, 104, "pad", size=15, anchor="start", fill=MUTED),
    ]


def _pads() -> Shapes:
    return [
        _frame(),
        _line(84, 44, 176, 44, INK, 8),
        _line(84, 116, 176, 116, INK, 8),
        *_tape(130, 48, 112),
        text(186, 50, "upper pad", size=15, anchor="start", fill=MUTED),
        text(186, 120, "lower pad", size=15, anchor="start", fill=MUTED),
    ]


def _bracket() -> Shapes:
    return [
        _frame(),
        tag("polygon", points="112,40 148,40 130,58", fill="#55645b"),
        tag("polygon", points="112,122 148,122 130,104", fill="#55645b"),
        *_tape(130, 58, 104),
        text(160, 84, "bracket to bracket", size=15, anchor="start", fill=MUTED),
    ]


def _point() -> Shapes:
    return [
        _line(8, GROUND, 252, GROUND, LINE, 2),
        tag("path", d="M20 96 L60 40 H200 L240 72 V96 Z", fill="#e9e2cf", stroke=INK, stroke_width=3),
        tag("circle", cx=206, cy=96, r=6, fill=INK),
        *_tape(206, 98, GROUND),
        text(196, 88, "named point", size=15, anchor="end", fill=MUTED),
    ]


DATUMS: Mapping[str, Callable[[], Shapes]] = {
    "ground_arch": _ground_arch,
    "hub_arch": _hub_arch,
    "rim_arch": _rim_arch,
    "coil_gap": _coil_gap,
    "access_hole": _access_hole,
    "ground_hitch": _ground_hitch,
    "stop_gap": _stop_gap,
    "pad_to_pad": _pads,
    "bracket": _bracket,
    "ground_point": _point,
}
