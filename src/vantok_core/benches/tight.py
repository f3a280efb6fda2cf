"""Whether a shut bag is tight: told with the gauge's step and the thermometer's error, or when to read again.

Source: method section 25, which replaces the percentages of section 11.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import sqrt
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import P_ATM

DAY, QUARTER, LONGEST = 86_400.0, 21_600.0, 259_200.0
"""A day; from when a day's loss may be told and how long after a reading the next is worth it; after which no more is waited, s."""
ALLOWED = 7_000.0
"""The loss a day that is still allowed unless the kit says, Pa."""
WRONG = 2.58
"""Standard deviations of a gain from which a reading or a temperature is wrong."""
KELVIN = {"felt": 1.5, "measured": 0.5}
"""Sigma of one temperature, K: typed from feel, measured."""
NO_KELVIN, USUAL = 10.0, 293.15
"""Sigma of the difference where none was given, and what both are then taken for, K."""

Temperature = Literal["felt", "measured", "none"]
Word = Literal["gained", "tight", "leaks", "not yet", "at most"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Tight:
    """What two readings say: pressure lost as if no weather had been and its sigma (Pa), loss a day with its 90 % band (Pa), whether a day's loss may be told,
    the word, when to read again (s from the first, None: not needed), the most it loses (Pa a day, None: not told)."""

    lost: float
    sigma: float
    loss_per_day: float
    band: tuple[float, float]
    day_told: bool
    verdict: Word
    again: float | None = None
    at_most: float | None = None


def tight(
    p1: float,
    p2: float,
    seconds: float,
    step: float,
    temperature: Temperature = "none",
    kelvin: tuple[float, float] = (USUAL, USUAL),
    *,
    allowed: float = ALLOWED,
    least: float | None = None,
    most: float | None = None,
    p_atm: float = P_ATM,
) -> Tight:
    """Return what two readings of a shut bag say, its height held.

    Formula: `dP = P_1 T_2/T_1 - P_2` of absolute pressures; `s^2 = step^2/12 ((T_2/T_1)^2 + 1) + (P_1/T_1)^2 V`. Arguments: p1, p2, the gauge's step, least
    and most of the kit: Pa gauge; p_atm: Pa; seconds between; kelvin: both temperatures; allowed: Pa a day. Raises InputError for a first pressure
    outside the kit's own, and times, temperatures, a step or what is allowed not above nought. Source: method section 25.
    """
    if not p1 > 0.0 or not seconds > 0.0 or not step > 0.0 or not allowed > 0.0 or min(kelvin) <= 0.0 or p2 < 0.0:
        raise InputError("p1", p1, "pressures, times, the gauge's step and temperatures must be above nought")
    if (least is not None and p1 < least) or (most is not None and p1 > most):
        raise InputError("p1", p1, "a test begins within the kit's own least and most pressure")
    t1, t2 = kelvin if temperature != "none" else (USUAL, USUAL)
    variance = NO_KELVIN**2 if temperature == "none" else 2.0 * KELVIN[temperature] ** 2
    lost = (p1 + p_atm) * t2 / t1 - (p2 + p_atm)
    sigma = sqrt(step**2 / 12.0 * ((t2 / t1) ** 2 + 1.0) + ((p1 + p_atm) / t1) ** 2 * variance)
    days = seconds / DAY
    loss, half = lost / days, NINE_IN_TEN * sigma / days
    told = Tight(
        lost=lost,
        sigma=sigma,
        loss_per_day=loss,
        band=(loss - half, loss + half),
        day_told=seconds >= QUARTER,
        verdict="not yet",
    )
    return _worded(told, seconds, allowed)


def first_look(p1: float, step: float, allowed: float = ALLOWED, p_atm: float = P_ATM) -> float:
    """Return the seconds after which a second reading of a tight bag, temperatures typed from feel, would tell it (p1, step, p_atm: Pa; allowed: Pa a day)."""
    sigma = sqrt(step**2 / 6.0 + 2.0 * ((p1 + p_atm) / USUAL * KELVIN["felt"]) ** 2)
    return min(max(NINE_IN_TEN * sigma / allowed * DAY, QUARTER), LONGEST)


def _worded(told: Tight, seconds: float, allowed: float) -> Tight:
    """Return it with its word, in the method's order."""
    low, high = told.band
    if told.loss_per_day + WRONG * told.sigma / (seconds / DAY) < 0.0:
        return replace(told, verdict="gained")
    if high < allowed:
        return replace(told, verdict="tight")
    if low > allowed:
        return replace(told, verdict="leaks")
    if seconds >= LONGEST:
        return replace(told, verdict="at most", at_most=high)
    wanted = NINE_IN_TEN * told.sigma / max(allowed / 2.0, abs(allowed - told.loss_per_day)) * DAY
    return replace(told, again=min(max(wanted, seconds + QUARTER), LONGEST))
