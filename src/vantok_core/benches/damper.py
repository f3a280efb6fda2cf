"""Dampers: mounting lengths over travel, wheel damping, damping ratio, log decrement (method section 6)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import acos, hypot, log, pi, sqrt

from vantok_core.base.errors import InputError

Point = tuple[float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class DamperMount:
    """Mounts (s, y, height) m at ride height; bump travel to stop contact plus stop compression, droop travel: m;
    closed and open length, margins: m."""

    axle: Point
    frame: Point
    bump: float
    droop: float
    closed: float
    open_: float
    margin_closed: float = 0.0
    margin_open: float = 0.0

    def __post_init__(self) -> None:
        if not 0.0 < self.closed < self.open_:
            raise InputError(
                "length", (self.closed, self.open_), "closed length must be above zero and below open length"
            )
        if min(self.bump, self.droop, self.margin_closed, self.margin_open) < 0.0:
            raise InputError("travel", (self.bump, self.droop), "travel and margins cannot be negative")


@dataclass(frozen=True, slots=True, kw_only=True)
class DamperFit:
    """Lengths (m) at ride height, shortest and longest over the travel; clearances already less the margins (m;
    negative: it would act as the bump stop, or as the limiting strap); angle from the wheel's path (rad)."""

    ride: float
    shortest: float
    longest: float
    closed_clearance: float
    open_clearance: float
    angle: float


def damper_fit(mount: DamperMount) -> DamperFit:
    """Return a damper's lengths over the whole travel, the axle mount moving straight up and down.

    Raises InputError where both mounts are one point. Source: method section 6.
    """
    across = hypot(mount.frame[0] - mount.axle[0], mount.frame[1] - mount.axle[1])
    rise = mount.frame[2] - mount.axle[2]
    at_ends = (hypot(across, rise - mount.bump), hypot(across, rise + mount.droop))
    passes_level = rise - mount.bump <= 0.0 <= rise + mount.droop
    shortest = across if passes_level else min(at_ends)
    ride = hypot(across, rise)
    if ride == 0.0:
        raise InputError("mounts", mount.axle, "the two mounts cannot be one point")
    return DamperFit(
        ride=ride,
        shortest=shortest,
        longest=max(at_ends),
        closed_clearance=shortest - mount.closed - mount.margin_closed,
        open_clearance=mount.open_ - mount.margin_open - max(at_ends),
        angle=acos(min(abs(rise) / ride, 1.0)),
    )


def wheel_damping(damping: float, angle_cosine: float, ratio: float = 1.0) -> float:
    """Return damping at the wheel: `c (i cos(angle))^2`, N s/m, from the unit's N s/m.

    Arguments: damping: N s/m; angle_cosine: of the lean from upright; ratio: as in the glossary. Raises InputError for a negative
    damping. Source: method section 6.
    """
    if damping < 0.0:
        raise InputError("damping", damping, "it cannot be negative")
    return damping * (ratio * angle_cosine) ** 2


def damping_ratio(wheel_damping_c: float, wheel_rate: float, sprung_mass: float) -> float:
    """Return the damping ratio.

    Formula: `c_w / (2 sqrt(k_w m_s))`. Arguments: wheel_damping_c: N s/m; wheel_rate: N/m; sprung_mass: kg. Result: ratio.
    Raises InputError unless rate and mass are
    above zero. Source: method section 6. A helper that raises k lowers it.
    """
    if not (wheel_rate > 0.0 and sprung_mass > 0.0):
        raise InputError("rate", (wheel_rate, sprung_mass), "rate and sprung mass must be above zero")
    return wheel_damping_c / (2.0 * sqrt(wheel_rate * sprung_mass))


@dataclass(frozen=True, slots=True, kw_only=True)
class Decay:
    """Log decrement per cycle, and the damping ratio it means."""

    delta: float
    zeta: float


def decay_of_peaks(peaks: Sequence[float]) -> Decay:
    """Return log decrement and damping ratio from successive same-sign peaks, measured from the rest position (any unit).

    Formula: `delta = ln(x_1 / x_n) / (n - 1)`, the mean of `ln(x_1 / x_2)`; `zeta = delta / sqrt(4 pi^2 + delta^2)`.
    Raises InputError for fewer than two peaks, a change of sign, or peaks that do not die away. Source: method section 6.
    """
    if len(peaks) < 2 or peaks[0] == 0.0 or min(p / peaks[0] for p in peaks) <= 0.0:
        raise InputError("peaks", list(peaks), "two or more peaks on one side of rest are needed")
    delta = log(peaks[0] / peaks[-1]) / (len(peaks) - 1)
    if delta <= 0.0:
        raise InputError("peaks", list(peaks), "they must die away")
    return Decay(delta=delta, zeta=delta / sqrt(4.0 * pi**2 + delta**2))
