"""The stance drawing: a side view to scale, the empty stance as a ghost, tape callouts, load arrows, two vials."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from math import atan, degrees

from django.utils.safestring import SafeString

from vantok.drawing.svg import FIGURES, INK, LEVEL, LIMIT, LINE, MUTED, PAPER, TAPE, group, polygon, tag, text
from vantok_core.classes import BODIES
from vantok_core.job import JobVehicle
from vantok_core.judge.diagnose import Diagnosis
from vantok_core.judge.views import StateView
from vantok_core.units import System, show
from vantok_core.vehicle import CORNERS

WIDTH, HEIGHT = 1180.0, 262.0
GROUND = 222.0
DRAWN = 860.0
"""Width kept for the vehicle; the vials stand to its right."""
TOW_BAR = 0.12
"""How far a ball usually stands behind the body, m."""
TIMES = (1.0, 3.0, 10.0)
"""How many times as large as they are changes of height can be drawn; the middle one unless asked."""

Outline = list[tuple[float, float]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Corner:
    """What stands over one axle: height now and change from empty (m), load (kg), None where unknown; and how much of it is over the axle's limit (kg)."""

    height: float | None = None
    change: float | None = None
    load: float | None = None
    over: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Stance:
    """Everything the drawing needs: drops in m from empty, angles as changes in rad, labels."""

    vehicle: JobVehicle
    name: str
    d_f: float = 0.0
    d_r: float = 0.0
    known: bool = False
    front: Corner = field(default_factory=Corner)
    rear: Corner = field(default_factory=Corner)
    rake: float | None = None
    lean: float | None = None
    tongue: float = 0.0
    hitch_drop: float | None = None


def stance_of(vehicle: JobVehicle, diagnosis: Diagnosis | None, key: str | None = None) -> Stance:
    """Return the stance to draw: the asked state, else the lowest loaded one, else the empty one, else the bare outline."""
    view: StateView | None = None
    if diagnosis is not None:
        view = (
            (diagnosis.view(key) if key else None)
            or diagnosis.main
            or (diagnosis.views[0] if diagnosis.views else None)
        )
    if view is None:
        return Stance(vehicle=vehicle, name="nothing measured yet")
    report = view.report
    loads = {m.key: m for m in view.margins}

    def corner(axle: str, corners: tuple[str, str]) -> Corner:
        read = [view.read[c] for c in corners if c in view.read]
        sag = [view.sag[c] for c in corners if c in view.sag]
        margin = loads.get(f"{axle}_axle")
        return Corner(
            height=sum(read) / len(read) if read else None,
            change=-sum(sag) / len(sag) if sag and not view.state.empty else None,
            load=margin.load if margin else None, over=max(-(margin.margin or 0.0), 0.0) if margin else 0.0,
        )  # fmt: skip

    sags = {c: view.sag[c] for c in view.sag}
    d_f = (sags["FL"] + sags["FR"]) / 2 if {"FL", "FR"} <= sags.keys() else float(report.d_f)
    d_r = (sags["RL"] + sags["RR"]) / 2 if {"RL", "RR"} <= sags.keys() else float(report.d_r)
    overhang = vehicle.hitch_overhang_m
    return Stance(
        vehicle=vehicle, name=view.state.name, d_f=d_f, d_r=d_r, known=True, front=corner("front", ("FL", "FR")),
        rear=corner("rear", ("RL", "RR")), rake=view.rake, lean=view.lean, tongue=view.state.tongue,
        hitch_drop=None if overhang is None or not vehicle.wheelbase_m else d_r + overhang / vehicle.wheelbase_m * (d_r - d_f),
    )  # fmt: skip


def fitted_stance(plain: Stance, name: str, empty: dict[str, float], now: dict[str, float], beside: str) -> Stance:
    """Return the stance with a kit on: heights by corner (m), read or predicted, against the empty vehicle without it."""
    drops = {c: empty[c] - now[c] for c in now if c in empty}
    if len(drops) < len(CORNERS):
        return plain
    d_f, d_r = (drops["FL"] + drops["FR"]) / 2, (drops["RL"] + drops["RR"]) / 2
    front, rear = (now["FL"] + now["FR"]) / 2, (now["RL"] + now["RR"]) / 2
    return replace(
        plain, name=f"{name}, {beside}", d_f=d_f, d_r=d_r, known=True, rake=rear - front, lean=now["RL"] - now["RR"],
        front=replace(plain.front, height=front, change=-d_f), rear=replace(plain.rear, height=rear, change=-d_r),
    )  # fmt: skip


def outline(vehicle: JobVehicle) -> tuple[Outline, list[Outline]]:
    """Return the body's outline and its windows, (station, height) in m, front to the left."""
    body = BODIES[vehicle.body]
    length = vehicle.wheelbase_m or 3.4
    behind = vehicle.rear_overhang_m or body.overhang * length
    if vehicle.rear_overhang_m is None and (vehicle.hitch_overhang_m or 0.0) > TOW_BAR:
        behind = min(behind, (vehicle.hitch_overhang_m or 0.0) - TOW_BAR)  # a ball stands clear of the body
    a, b = -body.front_overhang, length + behind
    top = body.roof
    if vehicle.body == "pickup":
        c = 0.62 * length
        shape = [(a, 0.52), (a, 0.98), (a + 0.18, 1.06), (-0.05, 1.16), (0.50, top - 0.06), (0.72, top), (c - 0.18, top),
                 (c, 1.24), (b, 1.24), (b, 0.56)]  # fmt: skip
        return shape, [[(0.12, 1.18), (0.60, top - 0.10), (1.20, top - 0.10), (1.20, 1.18)],
                       [(1.28, 1.18), (1.28, top - 0.10), (c - 0.26, top - 0.10), (c - 0.12, 1.18)]]  # fmt: skip
    if vehicle.body == "wagon":
        shape = [(a, 0.42), (a, 0.78), (a + 0.15, 0.86), (-0.02, 0.98), (0.75, top - 0.05), (1.1, top), (b - 0.45, top - 0.03),
                 (b - 0.06, 0.98), (b, 0.86), (b, 0.44)]  # fmt: skip
        return shape, [[(0.22, 0.99), (0.84, top - 0.11), (1.5, top - 0.08), (1.5, 0.99)],
                       [(1.58, 0.99), (1.58, top - 0.08), (b - 0.55, top - 0.11), (b - 0.25, 0.99)]]  # fmt: skip
    if vehicle.body == "box_truck":
        shape = [(a, 0.55), (a, 1.25), (a + 0.2, 1.42), (-0.35, 2.25), (0.0, 2.32), (0.62, 2.32), (0.62, top), (b, top),
                 (b, 0.95), (0.9, 0.95), (0.9, 0.55)]  # fmt: skip
        return shape, [[(-0.52, 1.45), (-0.26, 2.15), (0.45, 2.15), (0.45, 1.45)]]
    if vehicle.body == "coach":
        shape = [
            (a, 0.52),
            (a, 1.3),
            (a + 0.12, top - 0.25),
            (a + 0.4, top),
            (b - 0.1, top),
            (b, top - 0.15),
            (b, 0.56),
        ]
        wide = (b - a - 1.6) / 4
        panes = [[(x, 1.55), (x, 2.35), (x + wide - 0.25, 2.35), (x + wide - 0.25, 1.55)]
                 for x in (a + 1.3 + wide * n for n in range(4))]  # fmt: skip
        return shape, [[(a + 0.10, 1.35), (a + 0.2, top - 0.5), (a + 0.95, top - 0.5), (a + 0.95, 1.35)], *panes]
    shape = [(a, 0.48), (a, 1.02), (a + 0.12, 1.12), (-0.42, 1.30), (0.28, top - 0.08), (0.62, top), (b - 0.05, top),
             (b, top - 0.10), (b, 0.52)]  # fmt: skip
    return shape, [[(-0.12, 1.32), (0.34, top - 0.22) if top < 2.3 else (0.24, 1.95), (1.0, top - 0.22 if top < 2.3 else 1.95),
                    (1.0, 1.32)]]  # fmt: skip


class _Side:
    """The side view's scale and its body moved by drops."""

    def __init__(self, vehicle: JobVehicle, times: float) -> None:
        self.times = times
        self.shape, self.windows = outline(vehicle)
        self.length = vehicle.wheelbase_m or 3.4
        xs = [p[0] for p in self.shape]
        hitch = self.length + (vehicle.hitch_overhang_m or 0.0)
        self.low, self.high = min(xs) - 0.25, max(*xs, hitch) + 0.85
        self.scale = min(DRAWN / (self.high - self.low), (GROUND - 20.0) / (max(p[1] for p in self.shape) + 0.05))
        self.left = (DRAWN - self.scale * (self.high - self.low)) / 2

    def at(self, station: float, height: float) -> tuple[float, float]:
        return self.left + (station - self.low) * self.scale, GROUND - height * self.scale

    def moved(self, points: Outline, d_f: float, d_r: float) -> Outline:
        return [self.at(s, h - self.times * (d_f + (d_r - d_f) * s / self.length)) for s, h in points]


def stance_svg(stance: Stance, units: System, times: float = TIMES[1]) -> SafeString:
    """Return the whole drawing in the reader's units."""
    side = _Side(stance.vehicle, times)
    radius = {"car": 0.32, "medium_duty": 0.46}.get(stance.vehicle.tyres or "", 0.38)
    parts: list[object] = [tag("title", f"Stance, {stance.name}")]
    parts.append(tag("line", x1=10, y1=GROUND, x2=DRAWN - 10, y2=GROUND, stroke=LINE, stroke_width=2))
    ghost = polygon(
        side.moved(side.shape, 0.0, 0.0), fill="none", stroke=MUTED, stroke_width=1.5, stroke_dasharray="6 5"
    )
    drawn = polygon(
        side.moved(side.shape, stance.d_f, stance.d_r),
        fill="#e9e2cf",
        stroke=INK,
        stroke_width=2.5,
        stroke_linejoin="round",
    )
    panes = [
        polygon(side.moved(w, stance.d_f, stance.d_r), fill="#cfd8d0", stroke=INK, stroke_width=1.2)
        for w in side.windows
    ]
    parts += [drawn, *panes] + ([ghost] if stance.known else [])
    for station in (0.0, side.length):
        x, y = side.at(station, radius)
        r = radius * side.scale
        parts += [tag("circle", cx=x, cy=y, r=r + 3, fill=PAPER), tag("circle", cx=x, cy=y, r=r - 1, fill="#2c3a33"),
                  tag("circle", cx=x, cy=y, r=r * 0.45, fill="#dcd6c4")]  # fmt: skip
    parts += _hitch(side, stance, units)
    parts += _axle(side, 0.0, stance.front, units) + _axle(side, side.length, stance.rear, units)
    parts += _vials(stance, units, times)
    return tag(
        "svg", *parts, xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {WIDTH:.0f} {HEIGHT:.0f}", role="img",
        aria_label=_label(stance, units), class_="stance", font_family=FIGURES,
    )  # fmt: skip


def _label(stance: Stance, units: System) -> str:
    if not stance.known:
        return "Side view; nothing measured yet"
    ends = ", ".join(
        f"{name} {'down' if d > 0 else 'up'} {show('length', abs(d), units)}"
        for name, d in (("front", stance.d_f), ("rear", stance.d_r))
    )
    return f"Side view, {stance.name}: {ends} from empty"


def _hitch(side: _Side, stance: Stance, units: System) -> list[object]:
    overhang = stance.vehicle.hitch_overhang_m
    if overhang is None:
        return []
    station = side.length + overhang
    drop = side.times * (stance.d_f + (stance.d_r - stance.d_f) * station / side.length)
    x, y = side.at(station, 0.50 - drop)
    x0, y0 = side.at(station - 0.35, 0.52 - drop)
    parts: list[object] = [tag("line", x1=x0, y1=y0, x2=x, y2=y, stroke=INK, stroke_width=4)]
    if stance.tongue > 0.0:
        parts.append(_arrow(x, y - 44, y - 8, INK))
        parts.append(text(x + 8, y - 34, show("mass", stance.tongue, units), size=19, anchor="start"))
    parts.append(tag("circle", cx=x, cy=y - 4, r=6, fill=INK))
    return parts


def _arrow(x: float, y1: float, y2: float, colour: str) -> SafeString:
    head = polygon([(x - 6, y2 - 9), (x + 6, y2 - 9), (x, y2)], fill=colour)
    return group([tag("line", x1=x, y1=y1, x2=x, y2=y2 - 8, stroke=colour, stroke_width=3), head])


def _axle(side: _Side, station: float, corner: Corner, units: System) -> list[object]:
    """Return the tape callout above the wheel and the load arrow and figure below it."""
    x, _ = side.at(station, 0.0)
    parts: list[object] = []
    if corner.load is not None:
        colour = LIMIT if corner.over else INK
        parts.append(_arrow(x - 58, GROUND - 30, GROUND + 4, colour))
        over = f" · {show('mass', corner.over, units)} OVER" if corner.over else ""
        parts.append(
            text(x, GROUND + 27, show("mass", corner.load, units) + over, size=24, fill=colour, font_weight=600)
        )
    if corner.height is not None:
        y = GROUND - 0.98 * side.scale
        lines = [show("length", corner.height, units)]
        width = 118.0 if units == "metric" else 132.0
        tall = 30.0 if corner.change is None else 52.0
        parts.append(
            tag(
                "rect",
                x=x - width / 2,
                y=y - tall,
                width=width,
                height=tall,
                rx=4,
                fill=TAPE,
                stroke=INK,
                stroke_width=1.5,
            )
        )
        parts.append(text(x, y - tall + 24, lines[0], size=26, font_weight=600))
        if corner.change is not None:
            way = "▼" if corner.change < 0 else "▲"
            moved = "as empty" if abs(corner.change) < 0.0005 else f"{way} {show('length', abs(corner.change), units)}"
            parts.append(text(x, y - 8, moved, size=20))
        parts.append(tag("line", x1=x, y1=y, x2=x, y2=y + 14, stroke=INK, stroke_width=2))
    return parts


def _vials(stance: Stance, units: System, times: float) -> list[object]:
    """Return the rake and lean vials; the bubble is green only when level within the band."""
    width = stance.vehicle.track_rear_m or 1.65
    length = stance.vehicle.wheelbase_m or 3.4
    nose = None if stance.rake is None else -stance.rake / length
    over = None if stance.lean is None else stance.lean / width
    parts: list[object] = [
        _vial(DRAWN + 40, 52, "Rake", nose, stance.rake, units, "nose up" if (nose or 0.0) > 0 else "tail up"),
        _vial(DRAWN + 40, 150, "Lean", over, stance.lean, units, "left high" if (over or 0.0) > 0 else "right high"),
    ]
    parts.append(text(DRAWN + 40, HEIGHT - 32, stance.name, size=19, anchor="start"))
    parts.append(
        text(DRAWN + 40, HEIGHT - 11, f"changes from empty drawn ×{times:.0f}", size=17, anchor="start", fill=MUTED)
    )
    return parts


LEVEL_ANGLE = 0.3
"""Degrees within which a vial reads level."""


def _vial(
    x: float, y: float, name: str, angle: float | None, value: float | None, units: System, way: str
) -> SafeString:
    wide, tall = 240.0, 38.0
    middle = x + wide / 2
    parts: list[object] = [
        text(x, y - 8, name, size=20, anchor="start", fill=MUTED),
        tag("rect", x=x, y=y, width=wide, height=tall, rx=19, fill="#dfe5d3", stroke=INK, stroke_width=2),
    ]
    if angle is not None and value is not None:
        turn = degrees(atan(angle))
        level = abs(turn) <= LEVEL_ANGLE
        # The bubble goes to the high end: the left of the drawing is the nose, and the left side of the vehicle.
        place = middle - max(min(turn / 2.5, 1.0), -1.0) * (wide / 2 - 30)
        words = "level" if level else way
        figure = show("length", abs(value), units)
        parts.append(
            tag(
                "ellipse",
                cx=place,
                cy=y + tall / 2,
                rx=24,
                ry=13,
                fill=LEVEL if level else "#fffdf5",
                stroke=INK,
                stroke_width=1.5,
            )
        )
        parts.append(
            text(x + wide, y - 8, f"{figure} {words} · {abs(turn):.1f}°", size=20, anchor="end", font_weight=600)
        )
    else:
        parts.append(text(x + wide, y - 8, "to measure", size=20, anchor="end", fill=MUTED))
    for mark in (-30, 30):
        parts.append(
            tag("line", x1=middle + mark, y1=y + 2, x2=middle + mark, y2=y + tall - 2, stroke=INK, stroke_width=2)
        )
    return group(parts)
