"""Wheel rate, tyre in series, force to restore: the lines a technician checks with a pocket calculator.

Source: method section 3.
"""

from __future__ import annotations

from math import pi

from vantok_core.base.errors import InputError


def wheel_rate(force_side: float, sag: float) -> float:
    """Return the wheel rate of one side on the hub datum.

    Formula: `k_w = dF / sag`. Arguments: force_side: N gained on that side; sag: m of hub sag. Result: N/m.
    Raises InputError unless force and sag have one sign and sag is not zero. Source: method section 3.
    """
    if sag == 0.0 or force_side / sag <= 0.0:
        raise InputError("sag", sag, "a rate needs a sag in the direction of the load")
    return force_side / sag


def wheel_rate_on_ground(force_side: float, sag: float, tyre_rate: float) -> float:
    """Return the wheel rate from a sag read on the ground datum, the tyre's squash taken out.

    Formula: `1/k_w = sag / dF - 1/k_t`. Arguments: force_side dF: N gained per side; sag: m; tyre_rate k_t: N/m a corner (a pair
    counts twice). Result: N/m. Raises InputError for a sag not larger than the tyre's own squash: a reading is to be doubted.
    """
    if not (force_side > 0.0 and tyre_rate > 0.0):
        raise InputError("dF", force_side, "load gained and tyre rate must be above zero")
    give = sag / force_side - 1.0 / tyre_rate
    if not give > 0.0:
        raise InputError("sag", sag, "the tyre alone gives as much: doubt the height or the load, and read it again")
    return 1.0 / give


def series_rate(k_w: float, k_t: float) -> float:
    """Return two springs in series, wheel and tyre: `1/k = 1/k_w + 1/k_t`, N/m. Raises InputError unless above zero."""
    if not (k_w > 0.0 and k_t > 0.0):
        raise InputError("rate", (k_w, k_t), "rates must be above zero")
    return k_w * k_t / (k_w + k_t)


def restore_force_wheel(k_w: float, height: float) -> float:
    """Return the force per side at the wheel that raises an axle by a height at the same load.

    Formula: `k_w h`. Arguments: k_w: N/m, the springs' mean rate over h; height h: m, hub datum. Result: N.
    Source: method section 3.
    """
    return k_w * height


def restore_force_helper(k_w: float, height: float, ratio: float) -> float:
    """Return the same at a helper of motion ratio i (helper travel over wheel travel): `k_w h / i`, N.

    Raises InputError for a motion ratio not above zero.
    """
    if not ratio > 0.0:
        raise InputError("i", ratio, "a motion ratio must be above zero")
    return k_w * height / ratio


def rate_for_frequency(sprung_mass: float, frequency: float) -> float:
    """Return the rate that gives a ride frequency: `m_s (2 pi f)^2`, N/m, from kg and Hz (frequency). Raises InputError unless both are above zero."""
    if not (sprung_mass > 0.0 and frequency > 0.0):
        raise InputError("sprung mass", sprung_mass, "sprung mass and frequency must be above zero")
    return sprung_mass * (2.0 * pi * frequency) ** 2
