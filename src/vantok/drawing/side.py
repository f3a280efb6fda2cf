"""The side view to scale: a ghost, tape callouts, load arrows, stop gaps, headlamp beam, hitch, two vials; and all states in a strip."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from django.utils.safestring import SafeString

from vantok.drawing.bodies import DEFAULT_LENGTH, Outline, outline
from vantok.drawing.stance import TIMES, Corner, Stance, stance_figures
from vantok.drawing.svg import INK, LIMIT, LINE, MUTED, PAPER, TAPE, drawing, group, polygon, tag, text
from vantok.drawing.vials import vials
from vantok_core.base.say import BEAM_WALL
from vantok_core.base.units import System, show
from vantok_core.facts import JobVehicle
from vantok_core.facts.classes import BODIES

WIDTH, HEIGHT = 1180.0, 262.0
GROUND = 222.0
DRAWN = 860.0
"""Width kept for the vehicle; the vials stand to its right."""
NEAR_STOP = 0.015
"""A stop gap (m) from which it is drawn as a thing to act on."""


class Side:
    """The side view's scale, and points of the body moved by drops."""

    def __init__(self, vehicle: JobVehicle, times: float) -> None:
        self.times = times
        self.shape, self.windows = outline(vehicle)
        self.length = vehicle.wheelbase_m or DEFAULT_LENGTH
        self.trailer = BODIES[vehicle.body].trailer
        xs = [p[0] for p in self.shape] + ([0.0] if self.trailer else [])
        hitch = self.length + (vehicle.hitch_overhang_m or 0.0)
        self.low, self.high = min(xs) - 0.25, max(*xs, hitch) + 0.85
        self.scale = min(DRAWN / (self.high - self.low), (GROUND - 20.0) / (max(p[1] for p in self.shape) + 0.05))
        self.left = (DRAWN - self.scale * (self.high - self.low)) / 2

    def at(self, station: float, height: float) -> tuple[float, float]:
        """Return where a point stands on the page."""
        return self.left + (station - self.low) * self.scale, GROUND - height * self.scale

    def moved(self, points: Outline, drops: tuple[float, float]) -> Outline:
        """Return points of the body with front and rear drops (m), enlarged."""
        return [self.at(s, h - self.times * self.drop(drops, s)) for s, h in points]

    def drop(self, drops: tuple[float, float], station: float) -> float:
        """Return the drop (m) at a station."""
        return drops[0] + (drops[1] - drops[0]) * station / self.length


def stance_svg(
    stance: Stance, units: System, times: float = TIMES[1], more: Callable[[Side], Sequence[object]] | None = None
) -> SafeString:
    """Return the whole side view in the reader's units; more: what is drawn besides, on the vehicle's own scale."""
    side = Side(stance.vehicle, times)
    parts: list[object] = [tag("title", f"Stance, {stance.name}"), *_vehicle(side, stance)]
    parts += _beam(side, stance, units) + _hitch(side, stance, units)
    parts += _axle(side, 0.0, stance.front, units) + _axle(side, side.length, stance.rear, units)
    parts += vials(stance, units, times, DRAWN + 40, HEIGHT)
    parts += more(side) if more is not None else ()
    return _svg(parts, label(stance, units), stance_figures(stance, units) if stance.known else ())


def _svg(parts: list[object], words: str, figures: Sequence[tuple[str, ...]] = ()) -> SafeString:
    return drawing(words, *parts, figures=figures, viewBox=f"0 0 {WIDTH:.0f} {HEIGHT:.0f}", class_="stance")


def label(stance: Stance, units: System) -> str:
    """Return the drawing in a sentence."""
    if not stance.known:
        return "Side view; nothing measured yet"
    ends = ", ".join(
        f"{name} {'down' if d > 0 else 'up'} {show('length', abs(d), units)}"
        for name, d in (("front", stance.d_f - stance.ghost[0]), ("rear", stance.d_r - stance.ghost[1]))
    )
    return f"Side view, {stance.name}: {ends} from {stance.ghost_name}"


def _vehicle(side: Side, stance: Stance, half: float = DRAWN / 2 - 10.0) -> list[object]:
    """Return ground (half its width to each side of the middle), body, windows, ghost and wheels."""
    now = (stance.d_f, stance.d_r)
    ends = {"x1": DRAWN / 2 - half, "x2": DRAWN / 2 + half, "y1": GROUND, "y2": GROUND}
    parts: list[object] = [tag("line", **ends, stroke=LINE, stroke_width=2)]
    if side.trailer:
        parts += _drawbar(side, now)
    parts.append(
        polygon(side.moved(side.shape, now), fill="#e9e2cf", stroke=INK, stroke_width=2.5, stroke_linejoin="round")
    )
    parts += [polygon(side.moved(w, now), fill="#cfd8d0", stroke=INK, stroke_width=1.2) for w in side.windows]
    if stance.known:
        parts.append(
            polygon(
                side.moved(side.shape, stance.ghost),
                fill="none",
                stroke=MUTED,
                stroke_width=1.5,
                stroke_dasharray="6 5",
            )
        )
    radius = {"car": 0.32, "medium_duty": 0.46}.get(stance.vehicle.tyres or "", 0.38)
    for station in (side.length,) if side.trailer else (0.0, side.length):
        x, y = side.at(station, radius)
        r = radius * side.scale
        parts += [
            tag("circle", cx=x, cy=y, r=r + 3, fill=PAPER),
            tag("circle", cx=x, cy=y, r=r - 1, fill="#2c3a33"),
            tag("circle", cx=x, cy=y, r=r * 0.45, fill="#dcd6c4"),
        ]
    return parts


def _drawbar(side: Side, drops: tuple[float, float]) -> list[object]:
    """Return a trailer's drawbar, coupling and jockey wheel."""
    nose = min(p[0] for p in side.shape)
    (x0, y0), (x1, y1) = side.moved([(0.0, 0.50), (nose, 0.58)], drops)
    wheel = side.at(0.45, 0.10)
    top = side.moved([(0.45, 0.62)], drops)[0]
    return [
        tag("line", x1=x0, y1=y0, x2=x1, y2=y1, stroke=INK, stroke_width=6),
        tag("circle", cx=x0, cy=y0, r=8, fill=INK),
        tag("line", x1=top[0], y1=top[1], x2=wheel[0], y2=wheel[1], stroke=INK, stroke_width=3),
        tag("circle", cx=wheel[0], cy=wheel[1], r=0.10 * side.scale, fill="#2c3a33"),
    ]


def _beam(side: Side, stance: Stance, units: System) -> list[object]:
    """Return the headlamp's beam and where it pointed before, as far as the page goes, with the change 10 m ahead."""
    if stance.lamp is None or not stance.known or stance.beam is None:
        return []
    parts: list[object] = []
    for drops, look in (
        ((stance.d_f, stance.d_r), {"stroke": "#c79a00", "stroke_width": 3}),
        (stance.ghost, {"stroke": MUTED, "stroke_width": 1.5, "stroke_dasharray": "4 4"}),
    ):
        tilt = side.times * (drops[1] - drops[0]) / side.length
        (x, y), far = side.moved([(stance.lamp - 0.12, 0.72)], drops)[0], 8.0
        reach = max(x - far, 0.0)
        parts.append(tag("line", x1=x, y1=y, x2=far, y2=y - reach * tilt, **look))
    way = "▲" if stance.beam.value > 0 else "▼"
    told = f"beam {way} {stance.beam.size.without_band.in_units(units)}"
    parts.append(text(10, GROUND - 12, told, size=18, anchor="start"))
    ahead = f"{BEAM_WALL.in_units(units)} ahead{', estimated' if stance.estimated else ''}"
    parts.append(text(10, GROUND + 17, ahead, size=16, anchor="start", fill=MUTED))
    return parts


def _hitch(side: Side, stance: Stance, units: System) -> list[object]:
    overhang = stance.vehicle.hitch_overhang_m
    if overhang is None or side.trailer:
        return []
    station = side.length + overhang
    drop = side.times * side.drop((stance.d_f, stance.d_r), station)
    x, y = side.at(station, 0.50 - drop)
    x0, y0 = side.at(station - 0.35, 0.52 - drop)
    parts: list[object] = [tag("line", x1=x0, y1=y0, x2=x, y2=y, stroke=INK, stroke_width=4)]
    if stance.tongue > 0.0:
        parts.append(arrow(x, y - 44, y - 8, INK))
        parts.append(text(x + 8, y - 34, show("mass", stance.tongue, units), size=19, anchor="start"))
    parts.append(tag("circle", cx=x, cy=y - 4, r=6, fill=INK))
    return parts


def arrow(x: float, y1: float, y2: float, colour: str) -> SafeString:
    """Return an arrow pointing down."""
    head = polygon([(x - 6, y2 - 9), (x + 6, y2 - 9), (x, y2)], fill=colour)
    return group([tag("line", x1=x, y1=y1, x2=x, y2=y2 - 8, stroke=colour, stroke_width=3), head])


def _axle(side: Side, station: float, corner: Corner, units: System) -> list[object]:
    """Return the tape callout above the wheel, the stop gap beside it, and the load arrow and figure below."""
    x, _ = side.at(station, 0.0)
    parts: list[object] = []
    outward = -1.0 if station == 0.0 else 1.0  # the arrow stands outside the axles, the stop gap between them
    if corner.load is not None:
        colour = LIMIT if corner.over else INK
        parts.append(arrow(x + outward * 58.0, GROUND - 30, GROUND + 4, colour))
        over = f" · {show('mass', corner.over, units)} OVER" if corner.over else ""
        parts.append(
            text(x, GROUND + 27, show("mass", corner.load, units) + over, size=24, fill=colour, font_weight=600)
        )
    if corner.stop is not None:
        near = corner.stop < NEAR_STOP
        words = "stop touching" if corner.stop <= 0.0 else f"stop {show('length', corner.stop, units)}"
        place, anchor = x - outward * (0.40 * side.scale + 8.0), "end" if outward > 0 else "start"
        colour, weight = LIMIT if near else INK, 600 if near else 500
        parts.append(text(place, GROUND - 10, words, size=19, anchor=anchor, fill=colour, font_weight=weight))
    if corner.height is not None:
        parts += callout(x, GROUND - 0.98 * side.scale, corner.height, corner.change, units)
    return parts


def callout(x: float, y: float, height: float, change: float | None, units: System) -> list[object]:
    """Return a tape callout whose foot stands at y: the height, and how far it has moved."""
    width = 118.0 if units == "metric" else 132.0
    tall = 30.0 if change is None else 52.0
    parts: list[object] = [
        tag(
            "rect", x=x - width / 2, y=y - tall, width=width, height=tall, rx=4, fill=TAPE, stroke=INK, stroke_width=1.5
        ),
        text(x, y - tall + 24, show("length", height, units), size=26, font_weight=600),
    ]
    if change is not None:
        way = "▼" if change < 0 else "▲"
        moved = "unchanged" if abs(change) < 0.0005 else f"{way} {show('length', abs(change), units)}"
        parts.append(text(x, y - 8, moved, size=20))
    parts.append(tag("line", x1=x, y1=y, x2=x, y2=y + 14, stroke=INK, stroke_width=2))
    return parts


def strip_svg(stances: Sequence[Stance], units: System, times: float = TIMES[1]) -> SafeString:
    """Return all states side by side, each with its name, heights and rake."""
    each = WIDTH / max(len(stances), 1)
    parts: list[object] = [tag("title", "All states side by side")]
    for n, stance in enumerate(stances):
        side, middle = Side(stance.vehicle, times), (n + 0.5) * each
        wide = (side.high - side.low) * side.scale
        scale = min((each - 20.0) / wide, (HEIGHT - 66.0) / (GROUND + 4.0))
        left, top = middle - scale * DRAWN / 2, HEIGHT - 66.0 - scale * (GROUND + 4.0)
        parts.append(
            group(_vehicle(side, stance, wide / 2), transform=f"translate({left:.1f} {top:.1f}) scale({scale:.4f})")
        )
        heights = " · ".join(
            f"{word} {show('length', corner.height, units)}"
            for word, corner in (("front", stance.front), ("rear", stance.rear))
            if corner.height is not None
        )
        rake = f"rake {show('length', stance.rake, units, signed=True)}" if stance.rake is not None else ""
        parts.append(text(middle, HEIGHT - 42, stance.name, size=21, font_weight=600))
        parts.append(text(middle, HEIGHT - 20, heights or "not read", size=19))
        parts.append(text(middle, HEIGHT - 2, rake, size=17, fill=MUTED))
    return _svg(
        parts, "All states side by side: " + "; ".join(label(s, units).removeprefix("Side view, ") for s in stances)
    )
