"""Arithmetic that reads the same for one vehicle (floats) and for a batch of them (arrays).

The static solve runs on plain floats for a single state, which is what makes it quick, and on arrays of one
value per variant for a batch. Element laws are written once, with these few helpers where a float and an array
need different calls.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import exp, isfinite, log1p
from typing import Any

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[Any]
Real = float | FloatArray
"""A float, or an array with one value per variant of a batch."""

G = 9.80665
"""Standard gravity, m/s2 (exact by definition)."""
P_ATM = 101_325.0
"""Standard atmosphere, Pa (exact by definition)."""


def softplus(x: Real, width: float) -> tuple[Real, Real]:
    """Return `b ln(1 + exp(x / b))` and its slope: a ramp that starts gradually over `width` (same unit as x, SI)."""
    if isinstance(x, float):
        t = x / width
        if t > 36.0:
            return x, 1.0
        if t < -700.0:
            return 0.0, 0.0
        e = exp(t)
        return width * log1p(e), e / (1.0 + e)
    t_array = np.clip(x / width, -700.0, None)
    return width * np.logaddexp(0.0, t_array), 1.0 / (1.0 + np.exp(-t_array))


def never_pulls(force: Real, slope: Real) -> tuple[Real, Real]:
    """Return force and slope, both zero where the force would pull (N, N/m)."""
    if isinstance(force, np.ndarray):
        pushes = force > 0.0
        return np.where(pushes, force, 0.0), np.where(pushes, slope, 0.0)
    return (force, slope) if force > 0.0 else (0.0, 0.0 * slope)


def clip(x: Real, low: float, high: float) -> Real:
    """Hold x between low and high, all of one unit, whichever it is (SI)."""
    if isinstance(x, np.ndarray):
        return np.minimum(np.maximum(x, low), high)
    return low if x < low else high if x > high else x


def largest(values: Sequence[Real]) -> Real:
    """Return the largest of the absolute values (of one unit, SI), per variant."""
    try:
        return float(max(map(abs, values)))  # type: ignore[arg-type, type-var]  # arrays raise, and are met below
    except (ValueError, TypeError):  # an array has no one truth and is no one number: this is a batch
        result = np.abs(values[0])
        for value in values[1:]:
            result = np.maximum(result, np.abs(value))
        return np.asarray(result, dtype=float)


def anywhere(condition: object) -> bool:
    """Tell whether a condition holds for any variant."""
    return bool(condition.any()) if isinstance(condition, np.ndarray) else bool(condition)


def highest(value: Real) -> float:
    """Return the largest entry of a batch, or the float itself, in its own unit (SI); NaN wins."""
    return float(np.max(value)) if isinstance(value, np.ndarray) else value


def lowest(value: Real) -> float:
    """Return the smallest entry of a batch, or the float itself, in its own unit (SI)."""
    return float(np.min(value)) if isinstance(value, np.ndarray) else value


def all_finite(values: Sequence[Real]) -> bool:
    """Tell whether no value (SI) is NaN or infinite."""
    return all(bool(np.all(np.isfinite(v))) if isinstance(v, np.ndarray) else isfinite(v) for v in values)


def pick(condition: object, yes: Real, no: Real) -> Real:
    """Return yes where the condition holds, else no, both of one unit (SI); on floats without touching arrays."""
    if isinstance(condition, np.ndarray):
        return np.where(condition, yes, no)
    return yes if condition else no
