"""The underside, seen through from above with the nose to the left: touched to choose a part of it, with what was found there."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LEVEL, LIMIT, LINE, MUTED, TAPE, drawing, tag, text
from vantok.records.jobs.models import Inspection
from vantok_core.facts.classes import SPRINGS
from vantok_core.facts.inspection import ZONES
from vantok_core.judge.listen.inspect import AREAS, LEAVES

WIDE, TALL = 760.0, 300.0
AT = {
    "FL": (20.0, 150.0),
    "FR": (20.0, 10.0),
    "ML": (265.0, 150.0),
    "MR": (265.0, 10.0),
    "RL": (500.0, 150.0),
    "RR": (500.0, 10.0),
}
"""Upper left corner of each part; the left side lies on the lower half, as in the load plan."""
SIZE = {"F": (240.0, 138.0), "M": (230.0, 138.0), "R": (240.0, 138.0)}
SIGNS = {
    "fault": ("!", LIMIT, "#ffffff"),
    "watch": ("?", TAPE, INK),
    "wish": ("+", MUTED, "#ffffff"),
    "fine": ("✓", LEVEL, "#ffffff"),
}
GRAVEST = ("fault", "watch", "wish", "fine")
MOST = 7


def underside_svg(found: Sequence[Inspection], springs: tuple[str | None, str | None]) -> SafeString:
    """Return the drawing, each part a place to touch, with a sign for each area marked there. springs: the front's kind and the rear's: a beam is drawn
    only where there is one."""
    return drawing(
        "The underside: touch a part to grade what is there",
        *_vehicle(springs),
        *(_part(zone, words, _there(found, zone)) for zone, words in ZONES.items()),
        viewBox=f"0 0 {WIDE:.0f} {TALL:.0f}",
        role="group",
        class_="underside",
    )


def _there(found: Sequence[Inspection], zone: str) -> list[tuple[str, str]]:
    """Return the grade now and the words of what was marked in a part, the gravest first."""
    marked = [
        (one.after or one.grade, AREAS[one.area].words.split(":")[0])
        for one in found
        if zone in one.where and one.area in AREAS
    ]
    return sorted(marked, key=lambda pair: GRAVEST.index(pair[0]))


def _vehicle(springs: tuple[str | None, str | None]) -> list[SafeString]:
    """Return frame rails, axles, wheels, springs, steering and a shaft, as they lie under most vehicles."""
    rail = [tag("rect", x=30, y=y, width=700, height=10, fill="#d9d2bf", stroke=INK, stroke_width=1) for y in (97, 193)]
    cross = [tag("rect", x=x, y=107, width=8, height=86, fill="#e9e2cf", stroke=LINE) for x in (60, 260, 420, 700)]
    axles = [part for x, kind in zip((150, 600), springs, strict=True) for part in _axle(x, kind)]
    wheels = [
        tag("rect", x=x - 46, y=y, width=106, height=32, rx=9, fill="#2c3a33") for x in (150, 600) for y in (12, 256)
    ]
    leaves = [
        tag("rect", x=x - 88, y=y, width=190, height=8, rx=4, fill="#8a8266")
        for x, kind in zip((150, 600), springs, strict=True)
        for y in (80, 212)
        if kind is None or SPRINGS[kind].law in LEAVES
    ]
    shaft = tag("line", x1=280, y1=150, x2=600, y2=150, stroke=MUTED, stroke_width=6)
    rod = tag("line", x1=120, y1=70, x2=120, y2=230, stroke=MUTED, stroke_width=5)
    return [
        *rail,
        *cross,
        *leaves,
        *axles,
        *wheels,
        shaft,
        rod,
    ]


def _axle(x: float, kind: str | None) -> list[SafeString]:
    """Return a beam from wheel to wheel, or the two arms of an independent axle with their springs."""
    if kind is None or SPRINGS[kind].solid:
        return [tag("rect", x=x, y=40, width=14, height=220, rx=6, fill="#55645b")]
    arms = [
        tag("polygon", points=f"{x - 26},{y0} {x + 40},{y0} {x + 9},{y1} {x + 5},{y1}", fill="#55645b")
        for y0, y1 in ((107, 42), (193, 258))
    ]
    return [
        *arms,
        *(tag("circle", cx=x + 7, cy=y, r=13, fill="none", stroke="#8a8266", stroke_width=6) for y in (76, 224)),
    ]


def _part(zone: str, words: str, marks: list[tuple[str, str]]) -> SafeString:
    (x, y), (wide, tall) = AT[zone], SIZE[zone[0]]
    said = "; ".join(f"{what}: {grade}" for grade, what in marks) or "nothing marked"
    face = tag(
        "rect",
        x=x,
        y=y,
        width=wide,
        height=tall,
        rx=10,
        fill="#ffffff",
        fill_opacity=0.35,
        stroke=INK,
        stroke_width=1.5,
        stroke_dasharray="6 5",
    )
    name = text(
        x + wide / 2,
        y + (58 if zone.endswith("R") else 92),
        words,
        size=21,
        fill=INK,
        stroke="#fffdf6",
        stroke_width=5,
        paint_order="stroke",
    )
    signs = [
        _sign(x + 24 + 32 * n, y + (122 if zone.endswith("R") else 20), grade, what)
        for n, (grade, what) in enumerate(marks[:MOST])
    ]
    return tag(
        "a",
        face,
        name,
        *signs,
        href=f"?zone={zone}#sheet",
        data_zone=zone,
        aria_label=f"{words.capitalize()}: {said}",
        class_="under-part",
    )


def _sign(x: float, y: float, grade: str, what: str) -> SafeString:
    sign, colour, on = SIGNS[grade]
    return tag(
        "g",
        tag("title", f"{what}: {grade}"),
        tag("circle", cx=x, cy=y, r=13, fill=colour),
        text(x, y + 6, sign, size=17, fill=on, font_weight=700),
    )
