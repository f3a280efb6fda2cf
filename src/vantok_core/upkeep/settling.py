"""How far a fitted vehicle has settled against what its kit was expected to, and where heights and pressures are going over the visits.

Source: method section 17.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot, sqrt
from typing import Literal

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.num import P_ATM, FloatArray
from vantok_core.physics.elements.air import pressure_at_temperature

EXPECTED = {"leaf": 0.003, "coil": 0.001, "solid": 0.0, "air": 0.0}
"""How far a family is expected to settle after fitting, m (settings)."""
READ_TO = 0.002
"""Sigma of a height as read, m (setting)."""
NINETY = 1.645
WARM = 293.15
"""Temperature that pressures are compared at, K."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Settled:
    """How far it went down further, what was expected, the excess, its 90 % band (m), and the word."""

    further: float
    expected: float
    over: float
    band: float
    word: Literal["as expected", "more than expected", "less than expected"]


def settled(
    fitted: float, now: float, expected: float, sigma_fitted: float = READ_TO, sigma_now: float = READ_TO
) -> Settled:
    """Return how a height read again stands against the settling expected.

    Formula: beyond `1.645 hypot(sigmas)` it is more or less than expected. Arguments: fitted, now, expected, sigma_fitted, sigma_now: m. Raises
    InputError for sigmas not above
    nought. Source: method section 17.
    """
    if min(sigma_fitted, sigma_now) <= 0.0:
        raise InputError("sigma", (sigma_fitted, sigma_now), "a reading is never without an error")
    over, band = fitted - now - expected, NINETY * hypot(sigma_fitted, sigma_now)
    word: Literal["as expected", "more than expected", "less than expected"] = "as expected"
    if abs(over) > band:
        word = "more than expected" if over > 0.0 else "less than expected"
    return Settled(further=fitted - now, expected=expected, over=over, band=band, word=word)


@dataclass(frozen=True, slots=True, kw_only=True)
class Visit:
    """A figure read at a visit: day, value (m, or Pa gauge), sigma (None: the usual one of heights), temperature (K, of a pressure)."""

    day: float
    value: float
    sigma: float | None = None
    kelvin: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Trend:
    """A straight line through the visits: slope a day, its 90 % band, whether it is told, how much greater the scatter is than the sigmas, the line's value
    at the last visit, and the day it reaches the limit, or why there is none (None: no limit asked about)."""

    slope: float
    band: float
    told: bool
    scatter: float
    value_last: float
    day_reached: float | Literal["not told", "passed", "never"] | None


def trend(
    visits: Sequence[Visit], *, sigma: float | None = None, limit: float | None = None, p_atm: float = P_ATM
) -> Trend:
    """Return where a height or a pressure is going.

    Formula: weighted straight line; band of the slope widened by `sqrt(chi2 / (n - 2))` where that is above one; pressures at 20 C where every visit has its
    temperature. Arguments: sigma: of those without their own (m, Pa); limit: a floor (m, Pa gauge); p_atm: Pa. Raises InputError for fewer than two days, or
    pressures without a sigma. Source: method section 17.
    """
    days = np.array([one.day for one in visits], dtype=float)
    if len(np.unique(days)) < 2:
        raise InputError("visits", len(visits), "two visits on different days are needed")
    values, sigmas = _values(visits, sigma, p_atm)
    weights = sigmas**-2.0
    middle, mean = np.average(days, weights=weights), np.average(values, weights=weights)
    spread = float(weights @ (days - middle) ** 2)
    slope = float(weights @ ((days - middle) * values)) / spread
    chi2 = float(weights @ (values - mean - slope * (days - middle)) ** 2)
    scatter = max(1.0, sqrt(chi2 / (len(days) - 2))) if len(days) > 2 else 1.0
    band, last = NINETY * scatter / sqrt(spread), float(days.max())
    at_last, told = float(mean + slope * (last - middle)), abs(slope) > band
    return Trend(
        slope=slope,
        band=band,
        told=told,
        scatter=scatter,
        value_last=at_last,
        day_reached=_reached(slope, at_last, last, limit, told=told),
    )


def _values(visits: Sequence[Visit], sigma: float | None, p_atm: float) -> tuple[FloatArray, FloatArray]:
    """Return what was read, pressures at one temperature, and how well. Raises InputError where that is not known."""
    warm = all(one.kelvin is not None for one in visits)
    usual = sigma if sigma is not None or warm else READ_TO
    sigmas = [one.sigma if one.sigma is not None else usual for one in visits]
    if any(s is None or s <= 0.0 for s in sigmas):
        raise InputError("sigma", sigmas, "say how well a pressure is read")
    values = [pressure_at_temperature(v.value, v.kelvin, WARM, p_atm) if warm and v.kelvin else v.value for v in visits]
    return np.array(values), np.array(sigmas, dtype=float)


def _reached(
    slope: float, value: float, day: float, limit: float | None, *, told: bool
) -> float | Literal["not told", "passed", "never"] | None:
    if limit is None:
        return None
    if not told:
        return "not told"
    if value <= limit:
        return "passed"
    return "never" if slope >= 0.0 else day + (limit - value) / slope
