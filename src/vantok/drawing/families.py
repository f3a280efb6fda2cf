"""A small drawing of each family of kits: the part itself in ink and green, what it stands on in grey."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LINE, drawing, tag

PART = "#3c6f2c"
SOFT = "#dbe8d2"
Shapes = list[SafeString]


def _line(d: str, colour: str = INK, wide: float = 4) -> SafeString:
    return tag(
        "path", d=d, fill="none", stroke=colour, stroke_width=wide, stroke_linecap="round", stroke_linejoin="round"
    )


def _frame() -> SafeString:
    return tag("rect", x=8, y=6, width=104, height=10, fill=LINE)


def _leaf(colour: str = LINE, at: float = 58) -> SafeString:
    return _line(f"M8 {at - 14} Q60 {at + 14} 112 {at - 14}", colour, 5)


def _axle(at: float = 62) -> SafeString:
    return tag("circle", cx=60, cy=at, r=9, fill="#fffdf6", stroke=INK, stroke_width=3)


def _coil(low: float, high: float, colour: str = LINE, turns: int = 5) -> SafeString:
    step = (high - low) / turns
    waves = " ".join(f"L{80 if n % 2 else 40} {low + step * (n + 0.5):.0f}" for n in range(turns))
    return _line(f"M40 {low:.0f} {waves} L80 {high:.0f}", colour, 4)


def _air() -> Shapes:
    bag = "M44 20 Q34 28 46 36 Q34 44 46 52 L74 52 Q86 44 74 36 Q86 28 76 20 Z"
    return [
        _frame(),
        _leaf(at=76),
        tag("path", d=bag, fill=SOFT, stroke=PART, stroke_width=3),
        _line("M46 36 H74", PART, 2),
    ]


def _insert() -> Shapes:
    return [
        _frame(),
        _leaf(),
        tag("path", d="M46 16 H74 L68 36 H52 Z", fill=SOFT, stroke=PART, stroke_width=3),
        _axle(66),
    ]


def _helper_leaf() -> Shapes:
    rollers = [tag("circle", cx=x, cy=44, r=5, fill=PART) for x in (24, 96)]
    return [_leaf(), _line("M24 40 Q60 62 96 40", PART, 4), *rollers, _axle(72)]


def _coil_assist() -> Shapes:
    return [_frame(), _leaf(at=76), _coil(18, 62, PART, 6)]


def _added_leaf() -> Shapes:
    return [_leaf(), _line("M26 60 Q60 74 94 60", PART, 5), _axle(78)]


def _coil_block() -> Shapes:
    return [_coil(8, 78), tag("rect", x=44, y=38, width=32, height=10, rx=4, fill=PART)]


def _replacement() -> Shapes:
    return [
        _line("M8 34 Q60 74 112 34", PART, 6),
        _line("M24 50 Q60 78 96 50", PART, 5),
        tag("circle", cx=8, cy=34, r=5, fill=PART),
        tag("circle", cx=112, cy=34, r=5, fill=PART),
    ]


def _shackle() -> Shapes:
    return [
        _frame(),
        _line("M8 58 Q60 80 92 54", LINE, 5),
        _line("M92 54 L98 22", PART, 7),
        tag("circle", cx=92, cy=54, r=7, fill=SOFT, stroke=PART, stroke_width=3),
        tag("circle", cx=98, cy=22, r=6, fill=PART),
    ]


def _adjuster() -> Shapes:
    return [
        _line("M10 50 H110", LINE, 7),
        _line("M84 50 L92 76", PART, 7),
        _line("M92 76 V60", INK, 3),
        tag("circle", cx=84, cy=50, r=8, fill=SOFT, stroke=PART, stroke_width=3),
    ]


def _bar() -> Shapes:
    return [
        _line("M16 70 L26 34 H94 L104 70", PART, 6),
        _line("M16 70 V80 M104 70 V80", INK, 3),
        _line("M34 34 V26 M86 34 V26", LINE, 8),
    ]


def _stabilizer() -> Shapes:
    return [
        _line("M6 64 H114", LINE, 4),
        tag("rect", x=26, y=34, width=44, height=16, rx=3, fill=SOFT, stroke=PART, stroke_width=3),
        _line("M70 42 H100 V62 M26 42 H16", PART, 4),
    ]


def _damper() -> Shapes:
    return [
        _frame(),
        tag("rect", x=48, y=40, width=24, height=34, rx=3, fill=SOFT, stroke=PART, stroke_width=3),
        _line("M60 40 V16", PART, 4),
        tag("circle", cx=60, cy=78, r=5, fill=PART),
    ]


def _hitch() -> Shapes:
    return [
        _line("M6 40 H50", LINE, 7),
        tag("circle", cx=54, cy=38, r=7, fill=INK),
        _line("M60 40 H114", LINE, 7),
        _line("M54 50 Q80 66 108 54", PART, 4),
        _line("M104 54 V42", PART, 3),
    ]


def _hitch_damper() -> Shapes:
    return [
        _line("M6 58 H50", LINE, 7),
        tag("circle", cx=54, cy=56, r=7, fill=INK),
        _line("M60 58 H114", LINE, 7),
        tag("rect", x=36, y=28, width=36, height=12, rx=3, fill=SOFT, stroke=PART, stroke_width=3),
        _line("M72 34 H100 V54 M40 40 V52 M68 40 V52", PART, 4),
    ]


DRAWN: Mapping[str, Callable[[], Shapes]] = {
    "bag": _air,
    "stop insert": _insert,
    "leaf above": _helper_leaf,
    "coil beside": _coil_assist,
    "leaf below": _added_leaf,
    "between windings": _coil_block,
    "main spring": _replacement,
    "shackle": _shackle,
    "torsion key": _adjuster,
    "roll bar": _bar,
    "steering rod": _stabilizer,
    "shock": _damper,
    "spring bars": _hitch,
    "pads": _hitch_damper,
}


def family_svg(drawn: str, words: str) -> SafeString:
    """Return the drawing of a family by what it is drawn as; a frame alone where there is none."""
    shapes = DRAWN.get(drawn, lambda: [_frame()])()
    return drawing(words, *shapes, viewBox="0 0 120 88", class_="family")
