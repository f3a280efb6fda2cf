"""An axle fitted out, one place of it wrong: each place is touched to say which. What is wrong is drawn, never written.

Our own drawing; not to scale.
"""

from __future__ import annotations

from collections.abc import Mapping

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, MUTED, PAPER, TAPE, drawing, group, polygon, tag, text

WIDE, TALL = 760.0, 350.0
PLACES: Mapping[str, tuple[str, str]] = {
    "link": (
        "the bar’s link",
        "The link hangs upside down: its long arm stands below the bar, and it will turn over on droop.",
    ),
    "line": ("the air line", "The line is pinched between bracket and frame: it leaks there, or holds no air at all."),
    "bag": (
        "the air spring",
        "The bag is trapped: it stands askew between its plates, and will chafe through at the fold.",
    ),
    "washer": (
        "the washer",
        "The washer sits outside, under the bolt’s head alone: inside, it keeps the rubber from pulling through.",
    ),
    "stop": ("the bump stop", "The stop is missing: with the air gone, metal meets metal."),
}
"""What can be wrong: its words, and what of it is wrong."""
RUBBER, STEEL = "#3d4a43", "#8a948d"


def _box(x: float, y: float, w: float, h: float, fill: str = STEEL) -> SafeString:
    return tag("rect", x=x, y=y, width=w, height=h, rx=3, fill=fill, stroke=INK, stroke_width=2)


def _path(d: str, colour: str = INK, width: float = 4.0) -> SafeString:
    return tag(
        "path", d=d, fill="none", stroke=colour, stroke_width=width, stroke_linecap="round", stroke_linejoin="round"
    )


def _bag(wrong: bool) -> list[object]:
    lean = 34.0 if wrong else 0.0
    left = _path(f"M 330 118 q -34 22 {lean / 2 - 6} 52 q -34 26 {lean / 2 - 4} 54", RUBBER, 7)
    right = _path(f"M 406 118 q 34 22 {lean / 2 + 6} 52 q 34 26 {lean / 2 + 4} 54", RUBBER, 7)
    return [_box(318, 108, 100, 12), left, right, _box(318 + lean, 224, 100, 12)]


def _stop(wrong: bool) -> list[object]:
    shown: list[object] = [_box(486, 108, 46, 10)]
    if not wrong:
        shown.append(
            polygon(
                [(492, 118), (526, 118), (520, 150), (509, 160), (498, 150)], fill=RUBBER, stroke=INK, stroke_width=2
            )
        )
    return [*shown, _box(486, 214, 46, 10)]


def _line(wrong: bool) -> list[object]:
    free = _path("M 368 108 q 6 -26 30 -22 q 120 12 168 -6", "#2f5f8a", 5)
    pinched = _path("M 368 108 q 6 -26 30 -22 l 62 6 l 10 14 l 14 -16 q 60 -4 82 -10", "#2f5f8a", 5)
    return [
        pinched if wrong else free,
        _box(452, 96, 40, 12),
        tag("circle", cx=570, cy=78, r=6, fill=TAPE, stroke=INK, stroke_width=2),
    ]


def _link(wrong: bool) -> list[object]:
    bar = _path("M 110 206 q 40 0 70 0", INK, 8)
    if wrong:
        return [
            bar,
            _path("M 180 206 l 14 74", INK, 5),
            tag("circle", cx=180, cy=206, r=8, fill=STEEL, stroke=INK, stroke_width=2),
            tag("circle", cx=194, cy=280, r=8, fill=STEEL, stroke=INK, stroke_width=2),
        ]
    return [
        bar,
        _path("M 180 206 l 10 -88", INK, 5),
        tag("circle", cx=180, cy=206, r=8, fill=STEEL, stroke=INK, stroke_width=2),
        tag("circle", cx=190, cy=118, r=8, fill=STEEL, stroke=INK, stroke_width=2),
    ]


def _washer(wrong: bool) -> list[object]:
    eye = tag("circle", cx=636, cy=206, r=26, fill=RUBBER, stroke=INK, stroke_width=3)
    sides = [_box(604, 180, 6, 52), _box(662, 180, 6, 52)]
    bolt = _box(588, 202, 96, 8)
    washer = [_box(578, 190, 6, 32, TAPE)] if wrong else [_box(611, 186, 6, 40, TAPE), _box(655, 186, 6, 40, TAPE)]
    head = _box(570, 196, 10, 20)
    return [*sides, eye, bolt, head, *washer, _box(684, 196, 12, 20)]


PARTS = {"bag": _bag, "stop": _stop, "line": _line, "link": _link, "washer": _washer}
AREAS = {
    "link": (90.0, 96.0, 130.0, 210.0),
    "bag": (296.0, 104.0, 160.0, 140.0),
    "stop": (474.0, 104.0, 72.0, 128.0),
    "line": (380.0, 60.0, 210.0, 42.0),
    "washer": (562.0, 168.0, 142.0, 76.0),
}
"""Where each is: x, y, width, height."""
NAMED = {
    "link": (155.0, 332.0),
    "bag": (376.0, 286.0),
    "stop": (510.0, 286.0),
    "line": (485.0, 50.0),
    "washer": (634.0, 286.0),
}
"""Where its name stands."""


def wrong_svg(wrong: str, *, shown: bool = False) -> SafeString:
    """Return the axle with one place wrong; shown: that place is marked."""
    frame = _box(60, 88, 640, 20, "#cfc8b4")
    axle = _box(80, 236, 620, 26, "#b9b39f")
    parts = [group(make(key == wrong)) for key, make in PARTS.items()]
    marks = [
        tag(
            "rect",
            x=x,
            y=y,
            width=w,
            height=h,
            rx=8,
            fill="none",
            stroke=MUTED,
            stroke_width=1.5,
            stroke_dasharray="4 6",
        )
        for x, y, w, h in AREAS.values()
    ]
    if shown:
        x, y, w, h = AREAS[wrong]
        marks.append(
            tag(
                "rect",
                x=x - 4,
                y=y - 4,
                width=w + 8,
                height=h + 8,
                rx=10,
                fill="none",
                stroke="#b3261e",
                stroke_width=5,
            )
        )
    words = [text(x, y, PLACES[key][0], size=20) for key, (x, y) in NAMED.items()]
    return drawing(
        "An axle seen from behind, fitted out; one of five places is wrong",
        tag("rect", x=0, y=0, width=WIDE, height=TALL, fill=PAPER),
        frame,
        axle,
        *parts,
        *marks,
        *words,
        viewBox=f"0 0 {WIDE:.0f} {TALL:.0f}",
        class_="wrong-drill",
    )
