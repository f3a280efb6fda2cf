"""A kit on and off at one load: the lift it was read to give, its band, and whether it is told apart from nothing.

Source: method section 8. Nothing beyond the readings is claimed of a kit without data.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot, sqrt

from vantok_core.base.errors import InputError, MixedDatumError
from vantok_core.base.figure import NINE_IN_TEN, Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class Read:
    """A height (m) as read, its sigma (m) and its datum."""

    value: float
    sigma: float
    datum: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Lift:
    """A lift with its sigma (m), and whether it lies outside its own 90 % band."""

    lift: float
    sigma: float

    @property
    def band(self) -> float:
        """Half its 90 % band (m)."""
        return NINE_IN_TEN * self.sigma

    @property
    def told(self) -> bool:
        """Whether it is told apart from nothing."""
        return abs(self.lift) > self.band

    @property
    def figure(self) -> Figure:
        """It as a figure to show."""
        return Figure(value=self.lift, sigma=self.sigma, grade="measured")


def lift_of(off: Read, on: Read) -> Lift:
    """Return what a kit lifts at one load.

    Formula: on less off; sigmas in quadrature. Raises MixedDatumError for two datums, InputError for a sigma below zero.
    Source: method section 8.
    """
    if off.datum != on.datum:
        raise MixedDatumError(off.datum, on.datum)
    if off.sigma < 0.0 or on.sigma < 0.0:
        raise InputError("sigma", (off.sigma, on.sigma), "a sigma cannot be negative")
    return Lift(lift=on.value - off.value, sigma=hypot(off.sigma, on.sigma))


def further(first: Lift, second: Lift) -> Lift:
    """Return how much more the second lift is than the first, with its own band."""
    return Lift(lift=second.lift - first.lift, sigma=hypot(first.sigma, second.sigma))


def force_of(lift: Lift, wheel_rate: float, sigma_ln_k: float) -> tuple[float, float]:
    """Return the force per side at the wheel that a lift means at unchanged load, and its sigma.

    Formula: `k_w h`; sigma `k_w sqrt(s^2 + (h s_k)^2)`. Arguments: wheel_rate: N/m; sigma_ln_k: sigma of ln k_w, 1. Result: N.
    Raises InputError for a rate not above zero. Source: method section 8.
    """
    if not wheel_rate > 0.0:
        raise InputError("k_w", wheel_rate, "a wheel rate must be above zero")
    return wheel_rate * lift.lift, wheel_rate * sqrt(lift.sigma**2 + (lift.lift * sigma_ln_k) ** 2)
