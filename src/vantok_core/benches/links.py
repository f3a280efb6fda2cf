"""End links of an anti-roll bar: how long, how they lean over the travel, and whether one may turn over.

Source: method section 14.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import acos, atan2, cos, degrees, hypot, pi, sin
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, Say

POOR, TURNS_OVER = 30.0, 15.0
"""A link further from upright than this is poor; arm and link nearer to one line than this may turn over (degrees, settings)."""
STEPS = 200
Flat = tuple[float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class EndLink:
    """A link: its length for a level arm (m); arm and link at bump and droop (degrees: arm up positive, link from upright), the link's worst, the least
    angle between their lines, and what follows."""

    length: float
    arm_bump: float
    arm_droop: float
    link_bump: float
    link_droop: float
    link_worst: float
    line_least: float
    poor: bool
    may_turn_over: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class _At:
    arm: float
    link: float
    line: float


def end_link(
    pivot: Flat, arm: float, mount: Flat, bump: float, droop: float, towards: Literal["front", "rear"] = "rear"
) -> EndLink:
    """Return the link that holds a bar's arm level at ride height, and what it does over the travel.

    Arguments: pivot of the bar on the frame, mount on the axle at ride height (s, height), arm, bump, droop: m; towards: where the arm points. Raises
    InputError for sizes that cannot be, and for a link that cannot follow the travel. Source: method section 14.
    """
    if arm <= 0.0 or min(bump, droop) < 0.0:
        raise InputError("arm", (arm, bump, droop), "the arm is longer than nought, the travel not below it")
    way = 1.0 if towards == "rear" else -1.0
    end = (pivot[0] + way * arm, pivot[1])
    length = hypot(end[0] - mount[0], end[1] - mount[1])
    if length == 0.0:
        raise InputError("mount", mount, "it lies on the arm's end: there is no link")
    ups = list(_over(pivot, arm, mount, length, way, [bump * n / STEPS for n in range(STEPS + 1)]))
    downs = list(_over(pivot, arm, mount, length, way, [-droop * n / STEPS for n in range(STEPS + 1)]))
    worst, least = max(one.link for one in (*ups, *downs)), min(one.line for one in (*ups, *downs))
    return EndLink(
        length=length,
        arm_bump=ups[-1].arm,
        arm_droop=downs[-1].arm,
        link_bump=ups[-1].link,
        link_droop=downs[-1].link,
        link_worst=worst,
        line_least=least,
        poor=worst > POOR,
        may_turn_over=least < TURNS_OVER,
    )


def _over(pivot: Flat, arm: float, mount: Flat, length: float, way: float, travel: list[float]) -> Iterator[_At]:
    """Yield arm and link at each height of the mount, on the branch that starts level. Raises InputError where the link cannot follow."""
    level, before = (0.0 if way > 0 else pi), (0.0 if way > 0 else pi)
    for z in travel:
        dx, dy = mount[0] - pivot[0], mount[1] + z - pivot[1]
        far = hypot(dx, dy)
        reach = (arm**2 + far**2 - length**2) / (2.0 * arm * far) if far else 2.0
        if abs(reach) > 1.0:
            raise InputError(
                "link",
                length,
                Say(
                    "it cannot follow the travel: at {z} of the wheel it is too short or too long",
                    {"z": Quantity(z, "length", signed=True)},
                ),
            )
        both = (atan2(dy, dx) + acos(reach), atan2(dy, dx) - acos(reach))
        before = min(both, key=lambda angle, last=before: abs(_turn(angle - last)))  # type: ignore[misc]
        end = (pivot[0] + arm * cos(before), pivot[1] + arm * sin(before))
        lx, ly = end[0] - mount[0], end[1] - mount[1] - z
        along = abs(lx * cos(before) + ly * sin(before)) / length
        yield _At(
            arm=way * degrees(_turn(before - level)),
            link=degrees(atan2(abs(lx), abs(ly))),
            line=degrees(acos(min(along, 1.0))),
        )


def _turn(angle: float) -> float:
    """Return an angle (rad) within half a turn either way."""
    return (angle + pi) % (2.0 * pi) - pi
