"""Steering stabilizer: its length over lock and travel, the best clamp place, how much of its damping is felt.

Source: method section 6. Points are (x, y, z) in metres.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import product

import numpy as np
from scipy.optimize import minimize_scalar

from vantok_core.base.errors import InputError

Point = tuple[float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class StabilizerMount:
    """Link point P0 at straight ahead and ride height, frame point Q (m); travel ranges of the link point in y (lock to
    lock) and z (droop to bump), m; closed and open length of the unit, m."""

    link: Point
    frame: Point
    y_range: tuple[float, float]
    z_range: tuple[float, float]
    closed: float
    open_: float

    def __post_init__(self) -> None:
        if not 0.0 < self.closed < self.open_:
            raise InputError(
                "length", (self.closed, self.open_), "closed length must be above zero and below open length"
            )
        if self.y_range[0] > self.y_range[1] or self.z_range[0] > self.z_range[1]:
            raise InputError("travel", (self.y_range, self.z_range), "each range goes from low to high")


@dataclass(frozen=True, slots=True, kw_only=True)
class StabilizerFit:
    """Shortest and longest length (m) and the two reserves (m; negative: it would bottom or pull out)."""

    shortest: float
    longest: float
    reserve_closed: float
    reserve_open: float

    @property
    def reserve(self) -> float:
        """The smaller reserve (m)."""
        return min(self.reserve_closed, self.reserve_open)


def stabilizer_fit(mount: StabilizerMount, clamp: float = 0.0) -> StabilizerFit:
    """Return lengths and reserves with the clamp moved `clamp` m along the link.

    The longest is at a corner of the travel, the shortest at the travel's nearest point to the frame pivot.
    """
    x0, y0, z0 = mount.link
    corners = [(x0, y0 + y + clamp, z0 + z) for y, z in product(mount.y_range, mount.z_range)]
    nearest = (
        x0,
        float(np.clip(mount.frame[1], y0 + mount.y_range[0] + clamp, y0 + mount.y_range[1] + clamp)),
        float(np.clip(mount.frame[2], z0 + mount.z_range[0], z0 + mount.z_range[1])),
    )
    longest = max(_distance(c, mount.frame) for c in corners)
    shortest = _distance(nearest, mount.frame)
    return StabilizerFit(
        shortest=shortest, longest=longest, reserve_closed=shortest - mount.closed, reserve_open=mount.open_ - longest
    )


def length_at(mount: StabilizerMount, clamp: float = 0.0) -> float:
    """Return the length (m) straight ahead at ride height, the clamp moved `clamp` m along the link."""
    x, y, z = mount.link
    return _distance((x, y + clamp, z), mount.frame)


def best_clamp(mount: StabilizerMount, clamp_range: tuple[float, float]) -> float:
    """Return the clamp place (m) in a range that makes the smaller reserve largest.

    The reserve's slope changes sign where the two reserves meet; a coarse walk finds the hill, a bounded search its top.
    Raises InputError for a range turned round. Source: method section 6.
    """
    low, high = clamp_range
    if low > high:
        raise InputError("clamp range", clamp_range, "it goes from low to high")
    places = np.linspace(low, high, 81)
    top = int(np.argmax([stabilizer_fit(mount, float(c)).reserve for c in places]))
    a, b = float(places[max(top - 1, 0)]), float(places[min(top + 1, 80)])
    if a == b:
        return a
    found = minimize_scalar(
        lambda c: -stabilizer_fit(mount, float(c)).reserve, bounds=(a, b), method="bounded", options={"xatol": 1e-12}
    )
    return float(found.x)


def damping_factor(mount: StabilizerMount, clamp: float = 0.0) -> float:
    """Return the share of the unit's damping felt at the link: squared cosine of its angle to the link's motion (y). clamp: m. Raises InputError where its
    mounts are one point."""
    x, y, z = mount.link
    at = (x, y + clamp, z)
    if _distance(at, mount.frame) == 0.0:
        raise InputError("mounts", mount.frame, "the two mounts cannot be one point")
    return ((mount.frame[1] - at[1]) / _distance(at, mount.frame)) ** 2


def _distance(a: Point, b: Point) -> float:
    return float(np.hypot(np.hypot(a[0] - b[0], a[1] - b[1]), a[2] - b[2]))
