"""The floor plan: the vehicle from above to scale, nose to the left, with axles, hitch, zones and what is carried."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import sqrt

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LIMIT, LINE, MUTED, PAPER, TAPE, drawing, group, tag, text
from vantok.records.weigh.models import LoadItem
from vantok_core.base.units import System, show
from vantok_core.facts import LoadZone
from vantok_core.loads.places import Footprint, zones

WIDTH, TALL = 1180.0, 306.0
MIDDLE = 152.0
BODY_TALL = 226.0
"""Room kept for the body's width."""
LEAST = 46.0
"""Least size of an item, so that a gloved finger finds it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FloorPlan:
    """What the plan shows: the vehicle's footprint, tracks m, dual rear, hitch overhang m, items, corner loads kg by corner
    and the centre of mass (station, lateral m) where known; which item is picked; the tongue load kg; zones
    over their rating with what they carry, kg."""

    place: Footprint
    tracks: tuple[float, float]
    dual: bool
    hitch: float | None
    items: Sequence[LoadItem]
    corners: Mapping[str, float]
    centre: tuple[float, float] | None
    picked: int = 0
    tongue: float = 0.0
    over: Mapping[str, float] = field(default_factory=dict)


class _Top:
    """The scale of the top view: station to the right, left side downwards (the nose points left)."""

    def __init__(self, place: Footprint) -> None:
        low, high = place.first - 0.15, place.last + 0.45
        self.scale = min((WIDTH - 20.0) / (high - low), BODY_TALL / (2.0 * place.half_width))
        self.left = (WIDTH - self.scale * (high - low)) / 2 - low * self.scale

    def at(self, station: float, lateral: float) -> tuple[float, float]:
        return self.left + station * self.scale, MIDDLE + lateral * self.scale


def floor_svg(plan: FloorPlan, units: System) -> SafeString:
    """Return the floor plan in the reader's units."""
    top, place = _Top(plan.place), plan.place
    parts: list[object] = [tag("title", "Floor plan, nose to the left")]
    parts += (
        _body(top, place)
        + [_zone(top, zone, plan, units) for zone in zones(place)]
        + _wheels(top, plan, units)
        + _hitch(top, plan, units)
    )
    parts += [_item(top, item, units, picked=item.pk == plan.picked) for item in plan.items]
    if plan.centre is not None:
        x, y = top.at(*plan.centre)
        parts.append(
            group(
                [
                    tag("circle", cx=x, cy=y, r=11, fill=PAPER, stroke=INK, stroke_width=2),
                    tag(
                        "path",
                        d=f"M{x:.1f} {y - 11:.1f}a11 11 0 0 1 11 11h-11z M{x:.1f} {y + 11:.1f}a11 11 0 0 1 -11 -11h11z",
                        fill=INK,
                    ),
                    tag("title", "centre of mass"),
                ],
                class_="centre",
            )
        )
    return drawing(
        "Floor plan: items can be dragged, or moved with the arrow keys",
        *parts,
        viewBox=f"0 0 {WIDTH:.0f} {TALL:.0f}",
        role="group",
        class_="floor",
        data_plan="1",
        data_scale=f"{top.scale:.3f}",
        data_first=f"{place.first:.3f}",
        data_last=f"{place.last:.3f}",
        data_half=f"{place.half_width:.3f}",
    )


def _body(top: _Top, place: Footprint) -> list[object]:
    x, y = top.at(place.nose, -place.half_width)
    wide, tall = (place.tail - place.nose) * top.scale, 2 * place.half_width * top.scale
    parts: list[object] = [
        tag("rect", x=x, y=y, width=wide, height=tall, rx=24, fill="#efe8d6", stroke=INK, stroke_width=2.5)
    ]
    parts.append(text(x + 2, y - 8, "← front", size=17, anchor="start", fill=MUTED))
    parts.append(text(x + wide, y - 8, "right side", size=17, anchor="end", fill=MUTED))
    parts.append(text(x + wide, y + tall + 19, "left side", size=17, anchor="end", fill=MUTED))
    return parts


LOOKS: dict[str, dict[str, object]] = {
    "seats": {"fill": "#dfe5d9", "stroke": LINE},
    "floor": {},
    "locker": {"stroke_dasharray": "9 4"},
    "roof": {"stroke_dasharray": "2 4"},
    "rack": {"stroke_dasharray": "3 5"},
}
"""How a zone's outline differs by its use, besides its words."""


def _outline(top: _Top, zone: LoadZone) -> tuple[float, float, float, float]:
    """Return a zone's left, top, width and height on the drawing."""
    x, y = top.at(zone.start, zone.right)
    end, low = top.at(zone.end, zone.left)
    return x, y, end - x, low - y


def _rated(zone: LoadZone, units: System) -> str:
    return f"{zone.words}, {show('mass', zone.rating_kg, units)}" if zone.rating_kg is not None else zone.words


def _zone(top: _Top, zone: LoadZone, plan: FloorPlan, units: System) -> SafeString:
    """Return a zone under the items: its outline, its words with its rating, in the limit's colour where the plan passes it."""
    x, y, wide, tall = _outline(top, zone)
    over = zone.key in plan.over
    look: dict[str, object] = {"fill": "none", "stroke": "#8d957f", "stroke_width": 1.2} | LOOKS[zone.use]
    look |= {"stroke": LIMIT, "stroke_width": 3} if over else {}
    inset = 5.0 if zone.use == "floor" else 0.0
    words = _rated(zone, units) + (f", carries {show('mass', plan.over[zone.key], units)}" if over else "")
    low = zone.use in ("locker", "roof")  # their words stand at their lower edge, clear of the floor's
    return group(
        [
            tag(
                "rect",
                x=x + inset,
                y=y + 12,
                width=max(wide - 2 * inset, 4.0),
                height=max(tall - 24, 4.0),
                rx=8,
                **look,
            ),
            text(
                x + (4 if zone.use == "rack" else 16),
                y + (tall - 20 if low else 30),
                words,
                size=17,
                anchor="start",
                fill=LIMIT if over else MUTED,
            ),
        ]
    )


KNOB = 15.0


def zones_svg(place: Footprint, units: System) -> SafeString:
    """Return the zones alone, each to be picked and dragged by its edges; the script puts what is dragged into the form's fields."""
    top = _Top(place)
    parts = _body(top, place)
    for station, words in ((0.0, "front axle"), (place.wheelbase, "rear axle")):
        x, y = top.at(station, -place.half_width)
        parts.append(
            tag(
                "line",
                x1=x,
                y1=y - 4,
                x2=x,
                y2=top.at(0.0, place.half_width)[1] + 4,
                stroke=MUTED,
                stroke_width=1.5,
                stroke_dasharray="6 5",
            )
        )
        parts.append(text(x, y - 8, "coupling" if place.body.trailer and not station else words, size=17, fill=MUTED))
    for n, zone in reversed(list(enumerate(zones(place)))):  # the first one is picked, and lies on top
        x, y, wide, tall = _outline(top, zone)
        middle = {
            "start": (x, y + tall / 2),
            "end": (x + wide, y + tall / 2),
            "right": (x + wide / 2, y),
            "left": (x + wide / 2, y + tall),
        }
        look: dict[str, object] = {
            "fill": "none",
            "pointer_events": "all",
            "stroke": "#55645b",
            "stroke_width": 1.5,
        } | LOOKS[zone.use]
        parts.append(
            group(
                [
                    tag("rect", x=x, y=y, width=wide, height=tall, rx=8, **look),
                    text(
                        x + 10,
                        y + (tall - 12 if zone.use in ("locker", "roof") else 24),
                        _rated(zone, units),
                        size=18,
                        anchor="start",
                    ),
                    *(
                        tag("circle", cx=cx, cy=cy, r=KNOB, class_="zone-edge", data_edge=edge)
                        for edge, (cx, cy) in middle.items()
                    ),
                ],
                data_zone=n,
                class_="zone picked" if n == 0 else "zone",
            )
        )
    return drawing(
        "Zones on the floor plan; they are typed below",
        *parts,
        viewBox=f"0 0 {WIDTH:.0f} {TALL:.0f}",
        class_="floor",
        data_zones="1",
        data_scale=f"{top.scale:.3f}",
        data_left=f"{top.left:.3f}",
        data_middle=f"{MIDDLE:.1f}",
    )


def _wheels(top: _Top, plan: FloorPlan, units: System) -> list[object]:
    parts: list[object] = []
    trailer = plan.place.body.trailer
    for axle, station, track in (("F", 0.0, plan.tracks[0]), ("R", plan.place.wheelbase, plan.tracks[1])):
        if axle == "F" and trailer:
            x, y = top.at(0.0, 0.0)
            parts.append(tag("circle", cx=x, cy=y, r=8, fill=INK))
            parts.append(tag("line", x1=x, y1=y, x2=top.at(plan.place.nose, 0.0)[0], y2=y, stroke=INK, stroke_width=4))
            continue
        dual = plan.dual and axle == "R"
        wide, tall = 0.62 * top.scale, (0.50 if dual else 0.24) * top.scale
        for side, sign in (("L", 1.0), ("R", -1.0)):
            x, y = top.at(station, sign * track / 2)
            parts.append(
                tag(
                    "rect",
                    x=x - wide / 2,
                    y=y - tall / 2,
                    width=wide,
                    height=tall,
                    rx=5,
                    fill="#2c3a33",
                    fill_opacity="0.82",
                )
            )
            if dual:
                parts.append(tag("line", x1=x - wide / 2, y1=y, x2=x + wide / 2, y2=y, stroke=PAPER, stroke_width=2))
            load = plan.corners.get(axle + side)
            if load is not None:
                edge = MIDDLE + sign * plan.place.half_width * top.scale
                parts.append(
                    text(x, edge + (21 if sign > 0 else -8), show("mass", load, units), size=20, font_weight=600)
                )
        x, _ = top.at(station, 0.0)
        parts.append(
            tag(
                "line",
                x1=x,
                y1=top.at(0, -track / 2)[1],
                x2=x,
                y2=top.at(0, track / 2)[1],
                stroke=MUTED,
                stroke_width=1.5,
                stroke_dasharray="8 5",
            )
        )
    return parts


def _hitch(top: _Top, plan: FloorPlan, units: System) -> list[object]:
    if plan.hitch is None:
        return []
    x, y = top.at(plan.place.wheelbase + plan.hitch, 0.0)
    start = min(top.at(plan.place.tail, 0.0)[0], x)
    parts: list[object] = [
        tag("line", x1=start, y1=y, x2=x, y2=y, stroke=INK, stroke_width=5),
        tag("circle", cx=x, cy=y, r=9, fill=INK),
    ]
    if plan.tongue:
        parts.append(
            text(x + 4, y + 32, f"tongue {show('mass', plan.tongue, units)}", size=19, anchor="start", font_weight=600)
        )
    return parts


def _item(top: _Top, item: LoadItem, units: System, *, picked: bool) -> SafeString:
    x, y = top.at(item.station_m, item.lateral_m)
    side = min(max(24.0 + 2.1 * sqrt(item.total_kg), LEAST), 92.0)
    lines = [*_lines(item.name), show("mass", item.total_kg, units)]
    side = max(side, 18.0 * len(lines) + 10.0)
    half = max(side * 0.6, 3.9 * max(len(line) for line in lines) + 7.0)
    shape: list[object]
    common = {"fill": TAPE if picked else "#fffdf6", "stroke": INK, "stroke_width": 2.2}
    if item.kind == "people":
        shape = [tag("ellipse", cx=0, cy=0, rx=half, ry=side / 2, **common)]
    else:
        shape = [tag("rect", x=-half, y=-side / 2, width=2 * half, height=side, rx=6, **common)]
    if item.kind == "tank":
        deep = max(side * item.fill - 4.0, 0.0)
        shape.append(
            tag("rect", x=-half + 2, y=side / 2 - 2 - deep, width=2 * half - 4, height=deep, rx=4, fill="#b9ccd0")
        )
    label = (
        f"{item.name}, {show('mass', item.total_kg, units)}, {show('length', item.station_m, units)} behind the front axle, "
        f"{show('length', abs(item.lateral_m), units)} {'left' if item.lateral_m >= 0 else 'right'} of centre"
    )
    first = 6.0 - 9.0 * (len(lines) - 1)
    words = [
        text(0, first + 18.0 * n, line, size=17, font_weight=500 if n == len(lines) - 1 else 600)
        for n, line in enumerate(lines)
    ]
    return group(
        [*shape, *words],
        transform=f"translate({x:.1f} {y:.1f})",
        id=f"item-{item.pk}",
        class_="plan-item",
        tabindex="0",
        role="button",
        aria_label=label,
        data_item=item.pk,
        data_station=f"{item.station_m:.3f}",
        data_lateral=f"{item.lateral_m:.3f}",
        data_seen=f"{item.station_m:.2f} {item.lateral_m:.2f}",
    )


def _lines(name: str, most: int = 13) -> list[str]:
    """Return a name on one line or two, the rest of a long one left to its label."""
    if len(name) <= most:
        return [name]
    words = name.split()
    first = words[0]
    for n, word in enumerate(words[1:], 1):
        if len(first) + len(word) >= most:
            rest = " ".join(words[n:])
            return [first[:most], rest if len(rest) <= most + 2 else rest[: most + 1] + "…"]
        first += f" {word}"
    return [first[: most + 2]]
