"""How sure a tape reading is, and what paired readings say about leaf friction (method section 3)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import hypot, sqrt
from statistics import mean, stdev

from scipy.stats import t

from vantok_core.base.errors import InputError, MixedDatumError
from vantok_core.base.figure import NINE_IN_TEN


def reading_sigma(resolution: float, settle: float) -> float:
    """Return a reading's standard deviation.

    Formula: `resolution / sqrt(12)` in quadrature with the settling sigma. Arguments: resolution, settle: m. Result: m.
    Raises InputError for a negative figure. Source: method section 3.
    """
    if resolution < 0.0 or settle < 0.0:
        raise InputError("sigma", (resolution, settle), "resolution and settling cannot be negative")
    return hypot(resolution / sqrt(12.0), settle)


@dataclass(frozen=True, slots=True, kw_only=True)
class FrictionReading:
    """Height (m) from a pressed and a lifted reading, and half their difference, the friction band (m)."""

    height: float
    band: float


def friction_reading(pressed: float, lifted: float) -> FrictionReading:
    """Return the height between a reading after pressing down and one after lifting (pressed, lifted: m), and the friction band."""
    return FrictionReading(height=0.5 * (pressed + lifted), band=0.5 * abs(lifted - pressed))


@dataclass(frozen=True, slots=True, kw_only=True)
class Repeated:
    """Several readings of one place: their mean (m), its standard deviation (m), whether they drift one way."""

    height: float
    sigma: float
    drifting: bool


def repeated(readings: Sequence[float], resolution: float) -> Repeated:
    """Return what several readings of one place say, each taken after settling anew.

    The standard deviation of their mean, widened as so few of them ask for (Student's t over the normal's nine in ten), and never under the
    tape's own step. Arguments: readings, resolution: m. Raises InputError for fewer than two. Source: method section 3 and the field's usual
    practice of three readings.
    """
    count = len(readings)
    if count < 2:
        raise InputError("readings", count, "repeatability takes two readings at least")
    widened = float(t.ppf(0.95, count - 1)) / NINE_IN_TEN
    sigma = max(stdev(readings) / sqrt(count) * widened, resolution / sqrt(12.0))
    return Repeated(height=mean(readings), sigma=sigma, drifting=drifts(readings, resolution))


def drifts(readings: Sequence[float], resolution: float) -> bool:
    """Tell whether readings of one place (m, three at least) go one way all along, by more than their tape's step (resolution, m) each time: it has not
    settled, or something gives."""
    steps = [b - a for a, b in pairwise(readings)]
    return len(steps) >= 2 and (
        all(s > resolution * 0.999 for s in steps) or all(s < -resolution * 0.999 for s in steps)
    )


def drop_between(before: float, now: float, datum_before: str, datum_now: str) -> float:
    """Return the drop from one reading to another.

    Formula: before less now. Arguments: heights m; their datums. Result: m, positive down. Raises MixedDatumError for
    readings on different datums: they are never subtracted. Source: method section 1.
    """
    if datum_before != datum_now:
        raise MixedDatumError(datum_before, datum_now)
    return before - now
