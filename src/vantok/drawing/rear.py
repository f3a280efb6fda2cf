"""The view from behind, for lean: rear and front axle, left on the left, the body tilted as its heights say."""

from __future__ import annotations

from django.utils.safestring import SafeString

from vantok.drawing.side import GROUND, HEIGHT, WIDTH, callout
from vantok.drawing.stance import TIMES, Stance
from vantok.drawing.svg import FIGURES, INK, LINE, MUTED, PAPER, polygon, tag, text
from vantok.drawing.vials import vials
from vantok_core.classes import BODIES
from vantok_core.units import System, show
from vantok_core.vehicle import AXLE_CORNERS, AxleName

DEFAULT_TRACK = 1.65
EACH, BESIDE = 430.0, 138.0
"""Width kept for one axle, and on each side of it for a tape callout."""
FLOOR = 0.55
"""Height at which the body's underside is drawn, m."""


def rear_svg(stance: Stance, units: System, times: float = TIMES[1]) -> SafeString:
    """Return both axles from behind in the reader's units."""
    parts: list[object] = [tag("title", f"From behind, {stance.name}")]
    parts.append(tag("line", x1=10, y1=GROUND, x2=850, y2=GROUND, stroke=LINE, stroke_width=2))
    parts += _axle(stance, "rear", 222.0, units, times) + _axle(stance, "front", 656.0, units, times)
    parts += vials(stance, units, times, 900.0, HEIGHT)
    return tag(
        "svg", *parts, xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {WIDTH:.0f} {HEIGHT:.0f}", role="img",
        aria_label=rear_label(stance, units), class_="stance", font_family=FIGURES,
    )  # fmt: skip


def rear_label(stance: Stance, units: System) -> str:
    """Return the drawing in a sentence."""
    if stance.lean is None:
        return f"From behind, {stance.name}: left and right not both read"
    side = "left" if stance.lean > 0 else "right"
    return f"From behind, {stance.name}: {side} rear higher by {show('length', abs(stance.lean), units)}"


def _axle(stance: Stance, axle: AxleName, middle: float, units: System, times: float) -> list[object]:
    body = BODIES[stance.vehicle.body]
    scale = min((GROUND - 12.0) / (body.roof + 0.15), (EACH - 2.0 * BESIDE) / body.width)
    left, right = AXLE_CORNERS[axle]
    track = (stance.vehicle.track_front_m if axle == "front" else stance.vehicle.track_rear_m) or DEFAULT_TRACK
    drops = {c: stance.empty[c] - stance.heights[c] for c in (left, right) if c in stance.heights and c in stance.empty}
    whole = len(drops) == 2
    mean = sum(drops.values()) / 2 if whole else (stance.d_r if axle == "rear" else stance.d_f)
    tilt = (
        (drops[left] - drops[right]) / track if whole else 0.0
    )  # left lower positive on this page: left is on the left

    def at(y: float, height: float, *, moved: bool = True) -> tuple[float, float]:
        drop = times * (mean + tilt * y) if moved else 0.0
        return middle - y * scale, GROUND - (height - drop) * scale

    half, top = body.width / 2, body.roof
    corners = [
        (half, FLOOR),
        (half, top - 0.18),
        (half - 0.16, top),
        (-half + 0.16, top),
        (-half, top - 0.18),
        (-half, FLOOR),
    ]
    parts: list[object] = []
    for y in (track / 2, -track / 2):
        x, foot = at(y, 0.0, moved=False)
        wide = (0.5 if stance.vehicle.dual_rear and axle == "rear" else 0.24) * scale
        parts.append(
            tag("rect", x=x - wide / 2, y=foot - 0.72 * scale, width=wide, height=0.72 * scale, rx=6, fill="#2c3a33")
        )
    parts.append(
        polygon([at(y, h) for y, h in corners], fill="#e9e2cf", fill_opacity="0.88", stroke=INK, stroke_width=2.5)
    )
    if stance.known:
        ghost = [at(y, h, moved=False) for y, h in corners]
        parts.append(polygon(ghost, fill="none", stroke=MUTED, stroke_width=1.5, stroke_dasharray="6 5"))
    if axle == "rear":
        door = [at(y, h) for y, h in ((0.55, 1.1), (0.55, top - 0.35), (-0.55, top - 0.35), (-0.55, 1.1))]
        parts.append(polygon(door, fill=PAPER, stroke=INK, stroke_width=1))
    for corner, sign in ((left, 1.0), (right, -1.0)):
        if corner in stance.heights:
            change = -drops[corner] if corner in drops and stance.name != stance.ghost_name else None
            x = middle - sign * (half * scale + 0.5 * BESIDE)
            parts += callout(x, GROUND - 0.55 * scale, stance.heights[corner], change, units)
    parts.append(text(middle, GROUND + 27, f"{axle} axle, from behind", size=19, fill=MUTED))
    return parts
