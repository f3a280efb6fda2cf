"""The playground's vehicle: its stance with the load and the ball as handles to drag."""

from __future__ import annotations

from collections.abc import Mapping

from django.utils.safestring import SafeString

from vantok.drawing.side import Side, stance_svg
from vantok.drawing.stance import Corner, Stance
from vantok.drawing.svg import INK, TAPE, group, tag, text
from vantok_core.base.units import System, show
from vantok_core.practice.bay.ground import OVERHANG, Answers, stands

FLOOR, MOST_SIDE = 1.5, 62.0
"""Where the load is drawn above the ground, clear of the heights (m), and its largest side as drawn."""


def ground_svg(vehicle: str, told: Mapping[str, float], found: Answers, units: System) -> SafeString:
    """Return the side view; vehicle: of the playground; told: each handle's figure (SI)."""
    one = stands(vehicle)
    heights = found.heights
    front, rear = (heights["FL"] + heights["FR"]) / 2, (heights["RL"] + heights["RR"]) / 2
    facts = one.job.vehicle
    stance = Stance(
        vehicle=facts,
        name="as loaded",
        d_f=-found.front_rise,
        d_r=found.rear_sag,
        known=True,
        front=_corner(front, found.front_rise, found.axles[0], facts.front_axle_kg, None),
        rear=_corner(rear, -found.rear_sag, found.axles[1], facts.rear_axle_kg, found.gap),
        heights=heights,
        empty=one.stands,
        rake=rear - front,
        lean=heights["RL"] - heights["RR"],
    )
    return stance_svg(stance, units, more=lambda side: _handles(side, told, units))


def _corner(height: float, change: float, load: float, rated: float | None, stop: float | None) -> Corner:
    over = max(load - rated, 0.0) if rated is not None else 0.0
    return Corner(height=height, change=change, load=load, over=over, stop=stop)


def _handles(side: Side, told: Mapping[str, float], units: System) -> list[object]:
    """Return the load as a box as large as its mass, and the ball with what presses on it."""
    size = 18.0 + MOST_SIDE * (told["load"] / 900.0) ** 0.5
    x, y = side.at(told["at"] * side.length, FLOOR)
    ball_x, ball_y = side.at(side.length + OVERHANG, 0.46)
    box = group(
        [
            tag(
                "rect", x=x - size / 2, y=y - size, width=size, height=size, rx=3, fill=TAPE, stroke=INK, stroke_width=2
            ),
            text(x, y - size / 2 + 6, show("mass", told["load"], units), size=18),
        ],
        **_handle("load", "at", told["at"], side.scale * side.length, "load", told["load"], -0.12),
        aria_label=f"The load, {show('mass', told['load'], units)}: drag it, or arrow keys",
    )
    ball = group(
        [
            tag("circle", cx=ball_x, cy=ball_y, r=13, fill=TAPE, stroke=INK, stroke_width=2),
            text(ball_x, ball_y + 34, show("mass", told["tongue"], units), size=18),
        ],
        **_handle("tongue", "", 0.0, 1.0, "tongue", told["tongue"], 0.4),
        aria_label=f"The tongue, {show('mass', told['tongue'], units)}: drag it down, or arrow keys",
    )
    return [box, ball]


def _handle(name: str, x: str, x_now: float, x_per: float, y: str, y_now: float, y_per: float) -> dict[str, object]:
    """Return a handle's attributes; x_per, y_per: how far it moves on the page for one of its figure (SI)."""
    found: dict[str, object] = {
        "data_handle": name,
        "data_y": y,
        "data_y_value": f"{y_now:g}",
        "data_y_per": f"{y_per:g}",
        "tabindex": 0,
        "role": "slider",
        "aria_valuenow": f"{y_now:g}",
        "class_": "handle",
    }
    if x:
        found |= {"data_x": x, "data_x_value": f"{x_now:g}", "data_x_per": f"{x_per:g}"}
    return found
