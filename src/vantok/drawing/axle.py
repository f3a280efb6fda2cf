"""One axle close up, left and right side by side, from the side: what stands between frame and axle, the gaps at the parts, who carries the load.

Upwards, drops, gaps and heights of bags are to one scale; along the vehicle, and in their shapes, the parts are usual ones.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from django.utils.safestring import SafeString

from vantok.drawing.axle_parts import PART, Place, draw_kit, draw_spring, line
from vantok.drawing.side import HEIGHT, NEAR_STOP, WIDTH
from vantok.drawing.svg import INK, LIMIT, LINE, MUTED, PAPER, TAPE, drawing, tag, text
from vantok_core.base.units import System, show
from vantok_core.judge.set.close_up import CloseUp, KitSeen, SideSeen
from vantok_core.kits.registry import family_of

EACH, CARRY = 408.0, 842.0
"""Width kept for a side; where the bars of who carries begin."""
AXLE_AT, RAIL, TUBE = 208.0, 0.085, 0.045
"""Where the axle's centre stands on the page; height of the frame rail and radius of the axle's tube, m."""
ALONG, UP, REST = 330.0, 520.0, 0.21
"""Page units per metre along the vehicle and, at most, upwards; frame above the axle in the reference state where no bag's height says it, m."""
MAIN = "main spring"
"""As what a kit is drawn that takes the main spring's place."""
STOP_AT, KIT_AT = -0.175, 0.185
"""Where the bump stop and a kit beside the spring stand, m from the axle along the vehicle, forward negative."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Handle:
    """A handle: the field it moves, its words, value, least and most (in the field's own unit)."""

    field: str
    words: str
    value: float
    low: float
    high: float


def axle_svg(seen: CloseUp, units: System, handles: Mapping[str, Handle] | None = None) -> SafeString:
    """Return an axle's close-up in the reader's units; handles: by side, what is moved there."""
    parts: list[object] = [tag("title", f"{seen.axle} axle, close up".capitalize())]
    for n, side in enumerate(("left", "right")):
        handle = (handles or {}).get(side)
        parts += _side(seen, seen.sides[n], side, 10.0 + n * (EACH + 10.0) + EACH / 2, units, handle)
    parts += _carried(seen, units)
    return drawing(
        close_up_label(seen, units),
        *parts,
        figures=close_up_figures(seen, units),
        viewBox=f"0 0 {WIDTH:.0f} {HEIGHT:.0f}",
        role="group" if handles else "img",
        class_="stance close-up",
    )


def close_up_figures(seen: CloseUp, units: System) -> list[tuple[str, ...]]:
    """Return the close-up in figures: each side with its drop, its stop and what each kit stands at."""
    return [
        (
            name,
            f"{'down' if side.drop > 0 else 'up'} {show('length', abs(side.drop), units)}",
            "" if side.stop_gap is None else f"stop {_gap_words(side.stop_gap, units)}",
            *(f"{k.fitting.kit.name} {_stands(k, units)}" for k in side.kits),
        )
        for name, side in zip(("left", "right"), seen.sides, strict=True)
    ]


def close_up_label(seen: CloseUp, units: System) -> str:
    """Return the close-up in a sentence."""
    told = (f"{name} {', '.join(filter(None, rest))}" for name, *rest in close_up_figures(seen, units))
    return f"{seen.axle} axle close up, {seen.name}: ".capitalize() + "; ".join(told)


def _gap_words(gap: float, units: System) -> str:
    return "touching" if gap <= 0.0 else show("length", gap, units)


def _stands(kit: KitSeen, units: System) -> str:
    if kit.pressure is not None:
        return show("pressure", kit.pressure, units)
    if kit.gap is not None:
        return _gap_words(kit.gap, units)
    return show("force", kit.force, units)


def _rest(seen: CloseUp) -> float:
    """Return how high the frame stands over the axle in the reference state (m): by a bag's own height, and with room for the stop."""
    bags = [k.height + s.drop for s in seen.sides for k in s.kits if k.height is not None]
    stops = [s.stop_gap + s.drop + TUBE + 0.05 for s in seen.sides if s.stop_gap is not None]
    return max([sum(bags) / len(bags) + TUBE + 0.02 if bags else REST, *stops])


def _up(seen: CloseUp) -> float:
    """Return the page units per metre upwards: as many as the highest frame leaves room for."""
    highest = _rest(seen) + RAIL - min(min(s.drop, s.other) for s in seen.sides)
    return min(UP, (AXLE_AT - 28.0) / max(highest, 0.1))


def _side(
    seen: CloseUp, side: SideSeen, name: str, middle: float, units: System, handle: Handle | None
) -> list[object]:
    way = (
        1.0 if name == "left" else -1.0
    )  # the front stands to the left on the left side, to the right on the right one
    rest, up = _rest(seen), _up(seen)
    place = Place(middle=middle, way=way, axle=AXLE_AT, along=ALONG, up=up, rail=rest - side.drop)
    before = Place(middle=middle, way=way, axle=AXLE_AT, along=ALONG, up=up, rail=rest - side.other)
    x0, x1 = middle - EACH / 2 + 6.0, middle + EACH / 2 - 6.0
    parts: list[object] = [
        tag(
            "rect",
            x=x0,
            y=place.at(0, place.rail + RAIL)[1],
            width=x1 - x0,
            height=RAIL * up,
            fill="#e9e2cf",
            stroke=INK,
            stroke_width=2,
        ),
        text(middle, 18, f"{name} side, {seen.name}" if name == "left" else f"{name} side", size=16, fill=MUTED),
    ]
    if abs(side.drop - side.other) > 0.0005:
        y = before.at(0, before.rail)[1]
        parts.append(tag("line", x1=x0, y1=y, x2=x1, y2=y, stroke=MUTED, stroke_width=1.5, stroke_dasharray="6 5"))
        parts.append(text(place.at(-0.37, 0)[0], y - 4.0, seen.against, size=14, fill=MUTED))
    replaced = any(family_of(k.fitting.kit).drawn == MAIN for k in side.kits)
    parts += draw_spring(seen.spring, place, replaced=replaced)
    parts.append(tag("circle", cx=middle, cy=AXLE_AT, r=TUBE * ALONG, fill="#fffdf6", stroke=INK, stroke_width=3))
    parts.append(tag("circle", cx=middle, cy=AXLE_AT, r=6, fill=INK))
    for n, kit in enumerate(side.kits):
        parts += _kit(kit, n, place, units, handle if kit.in_hand else None)
    if side.stop_gap is not None:
        parts += _stop(side, place, units)
    if side.second_gap is not None:
        words = f"second stage {'carries' if side.second_gap <= 0.0 else show('length', side.second_gap, units) + ' to contact'}"
        parts.append(text(middle, AXLE_AT + 48, words, size=15, fill=MUTED))
    parts.append(
        text(x0 if way > 0 else x1, AXLE_AT + 48, "front", size=14, anchor="start" if way > 0 else "end", fill=MUTED)
    )
    return parts


def _stop(side: SideSeen, place: Place, units: System) -> list[object]:
    """Return the vehicle's bump stop, its gap to scale, and the figure at it."""
    gap = side.stop_gap or 0.0
    x, top = place.at(STOP_AT, place.rail)
    pad = place.at(STOP_AT, TUBE)[1]
    foot = min(pad - max(gap, 0.0) * place.up, pad)
    near = gap < NEAR_STOP
    colour = LIMIT if near else INK
    words = _gap_words(gap, units)
    y = max((foot + pad) / 2, top + 20)
    beside = x - place.way * 66
    return [
        line([place.at(STOP_AT - 0.07, TUBE), place.at(0.0, TUBE)], INK, 4),
        tag(
            "polygon",
            points=f"{x - 20:.1f},{top:.1f} {x + 20:.1f},{top:.1f} {x + 14:.1f},{foot:.1f} {x - 14:.1f},{foot:.1f}",
            fill="#3c4a44",
        ),
        *([line([(x, foot), (x, pad)], LIMIT, 2)] if gap > 0.0 else []),
        tag(
            "rect",
            x=beside - 42,
            y=y - 17,
            width=84,
            height=40,
            rx=4,
            fill=TAPE,
            stroke=colour,
            stroke_width=3 if near else 1.5,
        ),
        text(beside, y + 3, words, size=20, font_weight=600, fill=colour),
        text(beside, y + 18, "stop, read" if side.stop_read else "stop gap", size=13),
    ]


def _kit(kit: KitSeen, n: int, place: Place, units: System, handle: Handle | None) -> list[object]:
    """Return a kit in place, how it stands, and the handle that sets it."""
    shape, (x, y) = draw_kit(kit, place, KIT_AT, STOP_AT)
    parts: list[object] = [*shape]
    if not kit.in_hand:  # the places beside it are the kit's in hand
        x, y = place.at(0.34 - 0.3 * n, place.rail + 0.5 * RAIL)
    parts += [
        tag("rect", x=x - 46, y=y - 20, width=92, height=42, rx=4, fill="#f3f8ee", stroke=PART, stroke_width=1.5),
        text(x, y, _stands(kit, units), size=21, font_weight=600),
        text(
            x,
            y + 16,
            f"{show('length', kit.height, units)} high" if kit.height is not None else family_of(kit.fitting.kit).words,
            size=13,
            fill=MUTED,
        ),
    ]
    if handle is not None:
        span = max(handle.high - handle.low, 1e-9)
        way = 90.0 / span
        knob = (x + place.way * 74.0, AXLE_AT - 20.0 - (handle.value - handle.low) * way)
        foot, top = AXLE_AT - 20.0, AXLE_AT - 110.0
        parts += [
            line([(knob[0], foot), (knob[0], top)], LINE, 5),
            tag(
                "circle",
                cx=knob[0],
                cy=knob[1],
                r=13.0,
                class_="handle",
                tabindex=0,
                role="slider",
                data_handle=handle.field,
                fill=TAPE,
                stroke=INK,
                stroke_width=3,
                aria_label=handle.words,
                aria_valuenow=f"{handle.value:.3f}",
                aria_valuemin=f"{handle.low:.3f}",
                aria_valuemax=f"{handle.high:.3f}",
                aria_valuetext=_stands(kit, units),
                data_y=handle.field,
                data_y_value=f"{handle.value:.8g}",
                data_y_per=f"{-way:.8g}",
            ),
        ]
    return parts


def _carried(seen: CloseUp, units: System) -> list[object]:
    """Return who carries the load at each wheel, as bars on one scale."""
    names = {f"kit {n + 1}": k.fitting.kit.name for n, k in enumerate(k for k in seen.sides[0].kits if not k.in_hand)}
    names.update(("kit", k.fitting.kit.name) for k in seen.sides[0].kits if k.in_hand)
    most = max(*(sum(f for f in s.carries.values() if f > 0) for s in seen.sides), 1.0)
    wide, y = WIDTH - CARRY - 12.0, 24.0
    parts: list[object] = []
    for name, side in zip(("left", "right"), seen.sides, strict=True):
        total = sum(side.carries.values())
        parts.append(
            text(
                CARRY,
                y,
                f"{name}: {show('force', total, units)} on the springs",
                size=17,
                anchor="start",
                font_weight=600,
            )
        )
        x, told = CARRY, []
        for key, force in side.carries.items():
            colour = _colour(key, names)
            if force > 0.0:
                parts.append(
                    tag(
                        "rect",
                        x=x,
                        y=y + 8,
                        width=wide * force / most,
                        height=22,
                        fill=colour,
                        stroke=PAPER,
                        stroke_width=1.5,
                    )
                )
                x += wide * force / most
            told.append((colour, f"{names.get(key, _who(key))} {show('force', force, units)}"))
        for n, (colour, words) in enumerate(told[:4]):
            parts.append(tag("rect", x=CARRY, y=y + 37 + 17 * n, width=10, height=10, fill=colour))
            parts.append(text(CARRY + 16, y + 47 + 17 * n, words[:46], size=15, anchor="start"))
        y += 122.0
    return parts


def _who(key: str) -> str:
    return {"main": "main spring"}.get(key, key.removeprefix("rear ").removeprefix("front "))


def _colour(key: str, names: Mapping[str, str]) -> str:
    if key in names:
        return PART
    return {"main": INK, "second stage": "#6b7a70"}.get(key, LIMIT if "stop" in key else "#8a7a4a")
