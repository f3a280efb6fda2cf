"""The axle as a step of the card finds it: what is off drawn off, what is loose dashed, the step's own part marked, stands and jack where they are.

A usual axle with this vehicle's kind of spring, seen from its side; not to scale.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping

from django.utils.safestring import SafeString

from vantok.drawing.axle_parts import Place, Shapes, draw_kit, draw_spring, line
from vantok.drawing.svg import INK, MUTED, PAPER, drawing, group, polygon, tag, text
from vantok_core.facts import Fitting
from vantok_core.judge.set.close_up import KitSeen
from vantok_core.kits.registry import family_of
from vantok_core.procedure.picture import Part, Picture

WIDE, HIGH = 420.0, 300.0
MIDDLE, AXLE_AT, GROUND = 210.0, 170.0, 282.0
ALONG, UP, RAIL = 330.0, 480.0, 0.21
HANGS = 0.03
"""How much further (m) the axle hangs from the frame off the ground, as drawn."""
CLEAR = 14.0
"""How far a wheel then stands clear of the ground on the page."""
KIT_AT, STOP_AT = 0.185, -0.175
WORDS: Mapping[Part, str] = {
    "wheel": "wheel",
    "damper": "damper",
    "spring": "spring",
    "axle_bolts": "axle bolts",
    "stop": "stop",
    "bar": "bar",
    "link": "bar link",
    "lines": "lines",
    "liner": "liner",
    "exhaust": "exhaust",
    "shackle": "shackle",
    "key": "adjuster",
    "kit": "kit",
}


def at_step_svg(seen: Picture | None, spring: str | None, part: Fitting) -> SafeString:
    """Return the axle as a step finds it; spring: the kind of the axle's own; nothing where the step shows none."""
    if seen is None:
        return SafeString("")
    way = -1.0 if seen.side == "right" else 1.0
    rail, axle = (RAIL + HANGS, AXLE_AT - CLEAR) if seen.lifted else (RAIL, AXLE_AT)
    place = Place(middle=MIDDLE, way=way, axle=axle, along=ALONG, up=UP, rail=rail)
    drawn: list[object] = [_frame(place)]
    for name, state in sorted(seen.parts.items(), key=lambda one: one[0] != "kit"):  # a bag stands inside its coil
        shapes = _shapes(name, place, spring, part)
        if name in seen.marked:
            drawn.append(group(shapes, class_="halo"))
        drawn.append(group(shapes, class_=f"part {state}"))
    drawn.append(tag("circle", cx=MIDDLE, cy=axle, r=13.0, fill=PAPER, stroke=INK, stroke_width=3))
    drawn += _carried(seen, place)
    drawn.append(tag("line", x1=8, y1=GROUND, x2=WIDE - 8, y2=GROUND, stroke=MUTED, stroke_width=2))
    front = 8.0 if way > 0 else WIDE - 8.0
    drawn.append(text(front, GROUND + 15, "front", size=15, anchor="start" if way > 0 else "end", fill=MUTED))
    key = "dotted: off or not on yet · dashed: loose"
    drawn.append(text(WIDE - front, GROUND + 15, key, size=15, anchor="end" if way > 0 else "start", fill=MUTED))
    said = picture_label(seen)
    return drawing(said, tag("title", said), *drawn, viewBox=f"0 0 {WIDE:.0f} {HIGH:.0f}", class_="at-step")


def picture_label(seen: Picture) -> str:
    """Return the picture in a sentence: what it is about, what is off, what is loose, what carries."""
    told = [WORDS[name] for name in seen.marked if name in seen.parts]
    told += ["the jack"] if seen.marks_jack else []
    told += ["the stands"] if seen.marks_stands else []
    off, loose = (", ".join(WORDS[n] for n, s in seen.parts.items() if s == state) for state in ("off", "loose"))
    side = "either side alike" if seen.side == "once" else f"{seen.side} side"
    on = "on stands, the axle on its jack" if seen.jack else "on stands" if seen.lifted else "on its wheels"
    return "; ".join(
        one
        for one in (
            f"{side}: {', '.join(told)}".capitalize(),
            on,
            f"off: {off}" if off else "",
            f"loose: {loose}" if loose else "",
        )
        if one
    )


def _frame(place: Place) -> SafeString:
    top = place.at(0.0, place.rail + 0.075)[1]
    return tag(
        "rect",
        x=14.0,
        y=top,
        width=WIDE - 28.0,
        height=0.075 * UP,
        fill="#e9e2cf",
        stroke=INK,
        stroke_width=2,
    )


def _shapes(name: Part, place: Place, spring: str | None, part: Fitting) -> Shapes:
    """Return the shapes of a part where it stands."""
    if name == "spring":
        return draw_spring(spring or "", place, replaced=False)
    if name == "kit":
        return _kit(place, part)
    return OTHERS[name](place)


def _kit(place: Place, part: Fitting) -> Shapes:
    """Return the kit in its place; one that is not between frame and axle as its end, seen along its rod."""
    shape = str(getattr(family_of(part.kit).of(part.kit), "shape", ""))
    seen = KitSeen(fitting=part, in_hand=True, force=0.0, shape=shape, height=place.rail - 0.09)
    shapes, _ = draw_kit(seen, place, KIT_AT, STOP_AT)
    x, y = place.at(-0.2, -0.02)
    return shapes or [tag("circle", cx=x, cy=y, r=r, fill=PAPER, stroke=INK, stroke_width=3) for r in (13.0, 4.0)]


def _dot(x: float, y: float, r: float = 7.0) -> SafeString:
    return tag("circle", cx=x, cy=y, r=r, fill=PAPER, stroke=INK, stroke_width=3)


def _wheel(place: Place) -> Shapes:
    return [
        tag("circle", cx=MIDDLE, cy=place.axle, r=r, fill="none", stroke=INK, stroke_width=wide)
        for r, wide in ((112.0, 4.0), (64.0, 2.0))
    ]


def _damper(place: Place) -> Shapes:
    top, foot = place.at(0.10, place.rail + 0.04), place.at(0.05, -0.02)
    middle = ((top[0] + foot[0]) / 2, (top[1] + foot[1]) / 2)
    return [line([middle, foot], INK, 5), line([top, middle], INK, 12), _dot(*top), _dot(*foot)]


def _stop(place: Place) -> Shapes:
    (x, top), foot = place.at(STOP_AT, place.rail), place.at(STOP_AT, place.rail - 0.07)[1]
    return [polygon([(x - 18, top), (x + 18, top), (x + 11, foot), (x - 11, foot)], fill="#3c4a44", stroke=INK)]


def _axle_bolts(place: Place) -> Shapes:
    return [line([place.at(at, 0.09), place.at(at, -0.075)], INK, 6) for at in (-0.055, 0.055)]


def _bar(place: Place) -> Shapes:
    arm, end = place.at(0.0, -0.06), place.at(0.30, -0.06)
    return [line([arm, end], INK, 8), line([end, place.at(0.30, place.rail)], INK, 4), _dot(*end)]


def _link(place: Place) -> Shapes:
    ends = place.at(0.30, -0.06), place.at(0.30, place.rail)
    return [line(ends, INK, 6), _dot(*ends[0]), _dot(*ends[1])]


def _lines(place: Place) -> Shapes:
    points = [place.at(x, y) for x, y in ((-0.34, place.rail), (-0.33, 0.1), (-0.2, 0.05), (-0.06, 0.02))]
    return [line(points, INK, 3), *(_dot(*at, r=4.0) for at in points[1:3])]


def _liner(place: Place) -> Shapes:
    points = [place.at(0.38 * x, 0.02 + 0.29 * (1.0 - x * x)) for x in (-1.0, -0.8, -0.5, 0.0, 0.5, 0.8, 1.0)]
    return [line(points, INK, 5)]


def _exhaust(place: Place) -> Shapes:
    return [line([place.at(-0.52, 0.1), place.at(-0.1, 0.13), place.at(0.52, 0.11)], INK, 12)]


def _shackle(place: Place) -> Shapes:
    upper, lower = place.at(0.53, place.rail), place.at(0.56, place.rail - 0.06)
    return [line([upper, lower], INK, 9), _dot(*upper), _dot(*lower)]


def _key(place: Place) -> Shapes:
    x, y = place.at(-0.42, 0.06)
    return [_dot(x, y, 14.0), line([(x, y), place.at(-0.36, place.rail)], INK, 5)]


OTHERS: Mapping[Part, Callable[[Place], Shapes]] = {
    "wheel": _wheel,
    "damper": _damper,
    "stop": _stop,
    "axle_bolts": _axle_bolts,
    "bar": _bar,
    "link": _link,
    "lines": _lines,
    "liner": _liner,
    "exhaust": _exhaust,
    "shackle": _shackle,
    "key": _key,
}


def _carried(seen: Picture, place: Place) -> list[object]:
    """Return stands under the frame and the jack under the axle, where they are, each marked where the step is about it."""
    found: list[object] = []
    if seen.lifted:
        under = place.at(0.0, place.rail)[1]
        for x in (52.0, WIDE - 52.0):
            shapes = [polygon([(x - 8, under), (x + 8, under), (x + 24, GROUND), (x - 24, GROUND)], fill=MUTED)]
            found += [group(shapes, class_="halo")] if seen.marks_stands else []
            found.append(group(shapes, class_="part on"))
    if seen.jack or seen.marks_jack:
        top = place.axle + 14.0
        shapes = [
            polygon(
                [(MIDDLE - 8, top), (MIDDLE + 8, top), (MIDDLE + 8, GROUND - 22), (MIDDLE - 8, GROUND - 22)], fill=MUTED
            ),
            polygon(
                [(MIDDLE - 34, GROUND - 22), (MIDDLE + 34, GROUND - 22), (MIDDLE + 40, GROUND), (MIDDLE - 40, GROUND)],
                fill=MUTED,
            ),
        ]
        found += [group(shapes, class_="halo")] if seen.marks_jack else []
        found.append(group(shapes, class_="part on"))
    return found
