"""The view from behind, for lean: rear and front axle, left on the left, the body tilted as its heights say."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.utils.safestring import SafeString

from vantok.drawing.side import GROUND, HEIGHT, WIDTH, callout
from vantok.drawing.stance import TIMES, Stance
from vantok.drawing.svg import INK, LINE, MUTED, PAPER, drawing, polygon, tag, text
from vantok.drawing.vials import vials
from vantok_core.base.names import DEFAULT_TRACK
from vantok_core.base.units import System, show
from vantok_core.facts.classes import BODIES, BodyStyle
from vantok_core.physics.vehicle import AXLE_CORNERS, AxleName

EACH, BESIDE = 430.0, 138.0
"""Width kept for one axle, and on each side of it for a tape callout."""
FLOOR = 0.55
"""Height at which the body's underside is drawn, m."""


MIDDLES: dict[AxleName, float] = {"rear": 222.0, "front": 656.0}
"""Where on the page the middle of each axle stands."""


def rear_svg(stance: Stance, units: System, times: float = TIMES[1], more: Sequence[object] = ()) -> SafeString:
    """Return both axles from behind in the reader's units; more: what is drawn besides."""
    parts: list[object] = [tag("title", f"From behind, {stance.name}")]
    parts.append(tag("line", x1=10, y1=GROUND, x2=850, y2=GROUND, stroke=LINE, stroke_width=2))
    for axle, middle in MIDDLES.items():
        parts += _axle(stance, axle, middle, units, times)
    parts += [*vials(stance, units, times, 900.0, HEIGHT), *more]
    return drawing(rear_label(stance, units), *parts, viewBox=f"0 0 {WIDTH:.0f} {HEIGHT:.0f}", class_="stance")


def rear_label(stance: Stance, units: System) -> str:
    """Return the drawing in a sentence."""
    if stance.lean is None:
        return f"From behind, {stance.name}: left and right not both read"
    side = "left" if stance.lean > 0 else "right"
    return f"From behind, {stance.name}: {side} rear higher by {show('length', abs(stance.lean), units)}"


@dataclass(frozen=True, slots=True)
class _View:
    """An axle from behind: where its middle stands on the page, its scale, and how its body has come down and leant."""

    middle: float
    scale: float
    drop: float
    tilt: float
    times: float

    def at(self, y: float, height: float, *, moved: bool = True) -> tuple[float, float]:
        """Return where a point (m to the left, m above ground) stands on the page."""
        drop = self.times * (self.drop + self.tilt * y) if moved else 0.0
        return self.middle - y * self.scale, GROUND - (height - drop) * self.scale


def _axle(stance: Stance, axle: AxleName, middle: float, units: System, times: float) -> list[object]:
    body = BODIES[stance.vehicle.body]
    scale = min((GROUND - 12.0) / (body.roof + 0.15), (EACH - 2.0 * BESIDE) / body.width)
    left, right = AXLE_CORNERS[axle]
    track = (stance.vehicle.track_front_m if axle == "front" else stance.vehicle.track_rear_m) or DEFAULT_TRACK
    drops = {c: stance.empty[c] - stance.heights[c] for c in (left, right) if c in stance.heights and c in stance.empty}
    if len(drops) == 2:  # left lower positive on this page: left is on the left
        view = _View(middle, scale, sum(drops.values()) / 2, (drops[left] - drops[right]) / track, times)
    else:
        view = _View(middle, scale, stance.d_r if axle == "rear" else stance.d_f, 0.0, times)
    parts: list[object] = []
    for y in (track / 2, -track / 2):
        parts.append(_wheel(view, y, dual=stance.vehicle.dual_rear and axle == "rear"))
    parts += _body(view, body, ghost=stance.known, door=axle == "rear")
    for corner, sign in ((left, 1.0), (right, -1.0)):
        if corner in stance.heights:
            change = -drops[corner] if corner in drops and stance.name != stance.ghost_name else None
            x = middle - sign * (body.width / 2 * scale + 0.5 * BESIDE)
            parts += callout(x, GROUND - 0.55 * scale, stance.heights[corner], change, units)
    parts.append(text(middle, GROUND + 27, f"{axle} axle, from behind", size=19, fill=MUTED))
    return parts


def _wheel(view: _View, y: float, *, dual: bool) -> object:
    x, foot = view.at(y, 0.0, moved=False)
    wide, tall = (0.5 if dual else 0.24) * view.scale, 0.72 * view.scale
    return tag("rect", x=x - wide / 2, y=foot - tall, width=wide, height=tall, rx=6, fill="#2c3a33")


def _body(view: _View, body: BodyStyle, *, ghost: bool, door: bool) -> list[object]:
    """Return the body's outline, where it stood empty, and the door that tells its rear."""
    half, top = body.width / 2, body.roof
    right = [(-half + 0.16, top), (-half, top - 0.18), (-half, FLOOR)]
    corners = [(half, FLOOR), (half, top - 0.18), (half - 0.16, top), *right]
    moved = [view.at(y, h) for y, h in corners]
    parts: list[object] = [polygon(moved, fill="#e9e2cf", fill_opacity="0.88", stroke=INK, stroke_width=2.5)]
    if ghost:
        empty = [view.at(y, h, moved=False) for y, h in corners]
        parts.append(polygon(empty, fill="none", stroke=MUTED, stroke_width=1.5, stroke_dasharray="6 5"))
    if door:
        leaf = [view.at(y, h) for y, h in ((0.55, 1.1), (0.55, top - 0.35), (-0.55, top - 0.35), (-0.55, 1.1))]
        parts.append(polygon(leaf, fill=PAPER, stroke=INK, stroke_width=1))
    return parts
