"""Dampers by their curves: clicks, force at the wheel, damping over a cycle, what it heats up to, and the best place for its upper mount.

Source: method section 14.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import atan, exp, hypot, log, pi, sqrt
from typing import Literal

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.benches.damper import DamperMount, Point, damper_fit
from vantok_core.road.ride_set import ForceCurve, Valve, valve_force

USUAL_SPEED, PUSH_SPEED = 0.3, 0.1
"""Speed amplitude (m/s) that damping is told at, and the speed of a push by hand (settings)."""
STEPS = 400
"""Steps of the integral over half a turn."""
WORDS = ((0.15, "keeps bouncing"), (0.20, "soft"), (0.40, "usual"), (0.60, "firm"))
"""Damping ratios up to which a word holds (settings); above them: harsh."""
HEAT, SHED, FADES, LEAST_LEFT = 2500.0, 5.0, 0.006, 0.2
"""Of a damper: heat capacity J/K, what it sheds W/K, damping lost per K, least share left (settings)."""
ROOM = 20.0
"""Temperature its curves were measured at, C."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Valves:
    """A damper's bump (shortening) and rebound: each a rate in N s/m, or points of speed (m/s) and force (N)."""

    bump: Valve
    rebound: Valve

    @classmethod
    def from_points(
        cls, bump: Valve | Sequence[tuple[float, float]], rebound: Valve | Sequence[tuple[float, float]]
    ) -> Valves:
        """Make them of points as measured. Raises InputError for speeds out of order or a force that falls."""
        return cls(bump=_valve("bump", bump), rebound=_valve("rebound", rebound))

    def force(self, speed: float) -> float:
        """Return its force (N) at a speed of its own (m/s, shortening positive)."""
        return float(valve_force(self.bump, self.rebound, speed))

    def equivalent(self, amplitude: float) -> float:
        """Return the rate (N s/m) that takes as much out of a cycle of a speed amplitude (m/s).

        Formula: `(1 / (pi v^2)) * integral of F(v cos a) v cos a da` over a turn. Raises InputError for a speed not above nought. Source: method
        section 14.
        """
        if amplitude <= 0.0:
            raise InputError("speed", amplitude, "the speed of the cycle must be above nought")
        speeds = amplitude * np.cos((np.arange(STEPS) + 0.5) * pi / STEPS - 0.5 * pi)
        both = valve_force(self.bump, self.rebound, speeds) - valve_force(self.bump, self.rebound, -speeds)
        return float(np.sum(both * speeds)) / (STEPS * amplitude**2)


def _valve(name: str, told: Valve | Sequence[tuple[float, float]]) -> Valve:
    if isinstance(told, (int, float)):
        if told < 0.0:
            raise InputError(name, told, "a rate cannot be negative")
        return float(told)
    if isinstance(told, ForceCurve):
        return told
    points = tuple((float(v), float(f)) for v, f in told)
    before = (0.0, 0.0)
    for point in points:
        if point[0] <= before[0] or point[1] < before[1]:
            raise InputError(name, point, "speeds must rise from nought, and forces must not fall")
        before = point
    if not points:
        raise InputError(name, told, "at least one point of speed and force is needed")
    return ForceCurve(points)


@dataclass(frozen=True, slots=True, kw_only=True)
class Mixed:
    """A damper between two of its clicks: a straight mix of their forces; share: of the second."""

    first: Valves
    second: Valves
    share: float

    def force(self, speed: float) -> float:
        """Return its force (N) at a speed of its own (m/s, shortening positive)."""
        return (1.0 - self.share) * self.first.force(speed) + self.share * self.second.force(speed)

    def equivalent(self, amplitude: float) -> float:
        """Return the rate (N s/m) over a cycle of a speed amplitude (m/s)."""
        return (1.0 - self.share) * self.first.equivalent(amplitude) + self.share * self.second.equivalent(amplitude)


def at_click(clicks: Sequence[tuple[float, Valves]], click: float) -> Mixed:
    """Return a damper at a click, between two a straight mix of their forces.

    Arguments: clicks: number and curves (m/s, N), rising; click: its number. Raises InputError for a click outside them, or numbers that do not
    rise. Source: method section 14.
    """
    numbers = [n for n, _ in clicks]
    if not clicks or numbers != sorted(set(numbers)):
        raise InputError("clicks", numbers, "there must be some, numbered upwards")
    if not numbers[0] <= click <= numbers[-1]:
        raise InputError("click", click, f"its clicks go from {numbers[0]:g} to {numbers[-1]:g}")
    n = max(i for i, number in enumerate(numbers) if number <= click)
    if n == len(clicks) - 1:
        return Mixed(first=clicks[n][1], second=clicks[n][1], share=0.0)
    (low, first), (high, second) = clicks[n], clicks[n + 1]
    return Mixed(first=first, second=second, share=(click - low) / (high - low))


@dataclass(frozen=True, slots=True, kw_only=True)
class Lean:
    """A damper between its mounts: length (m), cosine of its lean, whatever its plane, and the lean seen from the side and from the end (rad)."""

    length: float
    cosine: float
    side: float
    end: float


def lean(axle: Point, frame: Point) -> Lean:
    """Return how a damper leans between two mounts (s, y, height: m). Raises InputError where they are one point, or at one height."""
    ds, dy, dz = (f - a for f, a in zip(frame, axle, strict=True))
    length = hypot(ds, dy, dz)
    if length == 0.0:
        raise InputError("mounts", axle, "the two mounts cannot be one point")
    if dz == 0.0:
        raise InputError("mounts", (axle, frame), "lying flat it damps nothing: the mounts are at one height")
    return Lean(length=length, cosine=abs(dz) / length, side=atan(ds / dz), end=atan(dy / dz))


def damping_word(zeta: float) -> str:
    """Return what a damping ratio means: keeps bouncing, soft, usual, firm, harsh (settings). Source: method section 14."""
    if zeta < WORDS[0][0]:
        return WORDS[0][1]
    if zeta < WORDS[1][0]:
        return WORDS[1][1]
    return next((word for edge, word in WORDS[2:] if zeta <= edge), "harsh")


def needed_rate(zeta: float, wheel_rate: float, sprung: float, ratio: float, count: int = 1) -> float:
    """Return the rate (N s/m) that each damper of a side needs for a damping ratio.

    Formula: `2 zeta sqrt(k_w m_s) / (n r^2)`. Arguments: wheel_rate: N/m; sprung: kg; ratio: travel of the damper over the wheel's; count: dampers a side.
    Raises InputError for figures not above nought. Source: method section 14.
    """
    if min(zeta, wheel_rate, sprung, ratio) <= 0.0 or count < 1:
        raise InputError(
            "damping", (zeta, wheel_rate, sprung, ratio, count), "ratio, rate, mass and number must be above nought"
        )
    return 2.0 * zeta * sqrt(wheel_rate * sprung) / (count * ratio**2)


@dataclass(frozen=True, slots=True, kw_only=True)
class Fade:
    """Where a damper's heat goes: end temperature (C) and the share of its damping left there; both after a time, where asked; minutes to half (None:
    never)."""

    end: float
    factor_end: float
    at: float | None
    factor: float | None
    minutes_to_half: float | None


def _left(temperature: float, fades: float) -> float:
    """Return what is left of a damper's force at a temperature (C), as a share: never more than all of it."""
    return min(max(LEAST_LEFT, 1.0 - fades * (temperature - ROOM)), 1.0)


def fade(
    power: float,
    *,
    air: float = ROOM,
    start: float | None = None,
    seconds: float | None = None,
    heat: float = HEAT,
    shed: float = SHED,
    fades: float = FADES,
) -> Fade:
    """Return how hot a damper gets under a mean power, and when half its damping is gone. A comparison, not a forecast.

    Formula: `C dT/dt = P - hA (T - T_air)`, damping times `max(0.2, 1 - gamma (T - 20))`. Arguments: power: W; air, start: C; seconds; heat: J/K; shed: W/K;
    fades: 1/K. Raises InputError for figures not above nought. Source: method section 14.
    """
    if power < 0.0 or min(heat, shed, fades) <= 0.0 or (seconds is not None and seconds < 0.0):
        raise InputError("fade", (power, heat, shed, fades), "power and time are not below nought, the others above it")
    begin = air if start is None else start
    end, slow = air + power / shed, heat / shed
    then = None if seconds is None else end + (begin - end) * exp(-seconds / slow)
    half = ROOM + 0.5 / fades
    minutes = 0.0 if begin >= half else slow * log((end - begin) / (end - half)) / 60.0 if end > half else None
    return Fade(
        end=end,
        factor_end=_left(end, fades),
        at=then,
        factor=None if then is None else _left(then, fades),
        minutes_to_half=minutes,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class MountPlace:
    """The best of the places a frame allows: whether it keeps both margins, its index from nought, cosine of the lean, clearances left (m); where it keeps not
    both: which end fails, and what is missing there (m)."""

    found: bool
    place: int
    cosine: float
    closed_clearance: float
    open_clearance: float
    fails: Literal["", "closed", "open", "both"] = ""
    by: float = 0.0


def find_mount(mount: DamperMount, places: Sequence[Point]) -> MountPlace:
    """Return the upper mount that keeps both margins with the damper most upright; none: the place whose smaller margin is greatest.

    Arguments: mount: as measured, its frame point aside; places (s, y, height): m. Raises InputError without a place. Source: method section 14.
    """
    if not places:
        raise InputError("places", list(places), "at least one place on the frame is needed")
    tried = []
    for n, place in enumerate(places):
        fit = damper_fit(replace(mount, frame=place))
        tried.append((n, lean(mount.axle, place).cosine, fit.closed_clearance, fit.open_clearance))
    keeping = [one for one in tried if min(one[2], one[3]) >= 0.0]
    n, cosine, closed, open_ = (
        max(keeping, key=lambda one: one[1]) if keeping else max(tried, key=lambda one: min(one[2], one[3]))
    )
    if keeping:
        return MountPlace(found=True, place=n, cosine=cosine, closed_clearance=closed, open_clearance=open_)
    fails: Literal["closed", "open", "both"] = (
        "both" if max(closed, open_) < 0.0 else "closed" if closed < 0.0 else "open"
    )
    return MountPlace(
        found=False,
        place=n,
        cosine=cosine,
        closed_clearance=closed,
        open_clearance=open_,
        fails=fails,
        by=-min(closed, open_),
    )
