"""A maker's (x, y) points as a smooth monotone curve.

Source: Fritsch and Butland (1984); method section 4.
"""

from __future__ import annotations

import itertools
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.interpolate import PchipInterpolator

from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray, Real


@dataclass(frozen=True, slots=True)
class Curve:
    """Monotone piecewise cubic (PCHIP) through points, carried on in a straight line past either end.

    Arguments: `points`, at least two (x, y), x strictly rising. Raises InputError otherwise.
    Source: Fritsch and Butland (1984), as in scipy's PchipInterpolator.
    """

    points: tuple[tuple[float, float], ...]
    _x: tuple[float, ...] = field(init=False, repr=False, compare=False)
    _c: tuple[tuple[float, float, float, float], ...] = field(init=False, repr=False, compare=False)
    _xs: FloatArray = field(init=False, repr=False, compare=False)
    _cs: FloatArray = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        xs = np.array([p[0] for p in self.points], dtype=float)
        ys = np.array([p[1] for p in self.points], dtype=float)
        if len(xs) < 2 or not np.all(np.diff(xs) > 0) or not np.all(np.isfinite(ys)):
            raise InputError("curve", self.points, "it needs two or more points with rising first values")
        spline = PchipInterpolator(xs, ys)
        slopes = spline.derivative()(xs)
        # One straight segment before the first point and one after the last, so that every x has a segment.
        rows = [(0.0, 0.0, float(slopes[0]), float(ys[0]))]
        rows += [tuple(float(v) for v in spline.c[:, j]) for j in range(len(xs) - 1)]  # type: ignore[misc]  # 4 rows
        rows.append((0.0, 0.0, float(slopes[-1]), float(ys[-1])))
        object.__setattr__(self, "_x", tuple(float(v) for v in xs))
        object.__setattr__(self, "_c", tuple(rows))
        object.__setattr__(self, "_xs", xs)
        object.__setattr__(self, "_cs", np.array(rows))

    @property
    def first(self) -> float:
        """The first point's x."""
        return self._x[0]

    @property
    def last(self) -> float:
        """The last point's x."""
        return self._x[-1]

    def at(self, x: Real) -> tuple[Real, Real]:
        """Return value and slope at x."""
        if isinstance(x, np.ndarray):
            segment = np.searchsorted(self._xs, x, side="right")
            a, b, c, d = np.moveaxis(self._cs[segment], -1, 0)
            t = x - self._xs[np.maximum(segment - 1, 0)]
            return ((a * t + b) * t + c) * t + d, (3.0 * a * t + 2.0 * b) * t + c
        index = bisect_right(self._x, x)
        a0, b0, c0, d0 = self._c[index]
        u = x - self._x[index - 1 if index else 0]
        return ((a0 * u + b0) * u + c0) * u + d0, (3.0 * a0 * u + 2.0 * b0) * u + c0


def force_curve(points: Sequence[Sequence[float]]) -> Curve:
    """Return a stop's or insert's curve through (0, 0) and the maker's (compression m, force N) points.

    Raises InputError when compressions do not rise from above zero or a force falls.
    """
    rows = [(float(c), float(f)) for c, f in points if c != 0.0]
    if not rows or rows[0][0] <= 0.0:
        raise InputError("points", list(points), "compressions must rise from above zero")
    forces = [0.0] + [f for _, f in rows]
    if any(b < a for a, b in itertools.pairwise(forces)):
        raise InputError("points", list(points), "the force must not fall as the part is pressed")
    return Curve(((0.0, 0.0), *rows))
