"""Air at the bench: leaks told apart from weather, altitude, how quickly a tee evens out, and how long a line must be.

Source: method section 11.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, pi, sqrt
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.base.num import P_ATM
from vantok_core.base.say import Quantity, Say
from vantok_core.physics.elements.air import pressure_at_temperature

DAY = 86_400.0
"""Seconds in a day."""
GAUGE_ERROR = 5_000.0
"""Error of the difference of two gauge readings, Pa (setting)."""
FINE, WATCH = 0.02, 0.05
"""Share of the pressure lost in a day up to which a bag is fine, and up to which it is watched (settings)."""
LOWEST, HIGHEST = -500.0, 11_000.0
"""Heights above the sea that the air's formula holds for, m."""
TIE, TIE_HOT = 0.150, 0.100
"""Between two ties of a line, and near hot parts, m (settings)."""
AIR_CONSTANT, VISCOSITY, RESTING = 287.05, 1.81e-5, 293.15
"""Of dry air: gas constant J/(kg K), viscosity Pa s, usual temperature K."""

LeakWord = Literal["not told", "gained", "fine", "watch", "fault"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Leak:
    """What two readings of a shut bag say: the second as if no weather had been (Pa), loss a day (Pa, and as a share of the first), the smallest loss a day
    that could be told (Pa), seconds after which one that is still fine could be, and the word."""

    p2_corrected: float
    loss_per_day: float
    share_per_day: float
    least_loss_per_day: float
    time_to_tell: float
    verdict: LeakWord


def leak(
    p1: float,
    kelvin_1: float,
    p2: float,
    kelvin_2: float,
    seconds: float,
    *,
    gauge_error: float = GAUGE_ERROR,
    p_atm: float = P_ATM,
    fine: float = FINE,
    watch: float = WATCH,
) -> Leak:
    """Return what a bag loses, held at one height.

    Formula: `p_2c = (p_2 + p_atm) T_1 / T_2 - p_atm`; loss `(p_1 - p_2c) / t` a day. Arguments: p1, p2, gauge_error, p_atm: Pa (gauge, but p_atm);
    kelvin_1, kelvin_2: K; seconds between them; fine, watch: shares a day. Raises InputError for a first pressure, a time or a temperature not above nought.
    Source: method section 11.
    """
    if not p1 > 0.0:
        raise InputError("p1", p1, "the first pressure must be above nought: pump it up to a working pressure")
    if not seconds > 0.0:
        raise InputError("time", seconds, "some time must pass between the two readings")
    if p2 < 0.0 or gauge_error <= 0.0:
        raise InputError("p2", p2, "a gauge reads from nought up, and never without an error")
    back = pressure_at_temperature(p2, kelvin_2, kelvin_1, p_atm)
    lost = p1 - back
    share = lost / p1 / seconds * DAY
    word: LeakWord = "fault"
    if abs(lost) < gauge_error:
        word = "not told"
    elif lost < 0.0:
        word = "gained"
    elif share < fine:
        word = "fine"
    elif share <= watch:
        word = "watch"
    return Leak(
        p2_corrected=back,
        loss_per_day=lost / seconds * DAY,
        share_per_day=share,
        least_loss_per_day=gauge_error / seconds * DAY,
        time_to_tell=gauge_error / (fine * p1) * DAY,
        verdict=word,
    )


def air_at(height: float) -> float:
    """Return the air's pressure (Pa) at a height above the sea.

    Formula: `101 325 (1 - 2.25577e-5 H)^5.25588`. Arguments: height: m. Raises InputError outside -500 to 11 000 m. Source: method section 11.
    """
    if not LOWEST <= height <= HIGHEST:
        raise InputError(
            "height",
            height,
            Say(
                "the formula holds from {low} to {high} above the sea",
                {"low": Quantity(LOWEST, "distance"), "high": Quantity(HIGHEST, "distance")},
            ),
        )
    return float(P_ATM * (1.0 - 2.25577e-5 * height) ** 5.25588)


def pressure_at(height: float, pressure: float, before: float = 0.0) -> float:
    """Return a bag's gauge pressure (Pa) carried from one height above the sea to another, its length and temperature held.

    Arguments: height, before: m; pressure: Pa gauge at the height before. Raises InputError as `air_at`. Source: method section 11.
    """
    return pressure + air_at(before) - air_at(height)


@dataclass(frozen=True, slots=True, kw_only=True)
class Tee:
    """How two teed bags even out: time constant of creeping flow (s); with a pressure difference, the speed in the line (m/s), its time (s), and the greater
    of the two (s). Motion slower than it feels no roll stiffness from the bags."""

    tau_laminar: float
    speed_turbulent: float | None
    tau_turbulent: float | None
    tau: float


def tee(
    volume: float,
    bore: float,
    length: float,
    pressure: float,
    *,
    difference: float | None = None,
    n: float = 1.38,
    viscosity: float = VISCOSITY,
    friction: float = 0.025,
    ends: float = 1.5,
    kelvin: float = RESTING,
) -> Tee:
    """Return how long two bags on a tee take to even out.

    Formula: `64 mu l V / (pi d^4 n P)`; with a difference dp `dp V / (2 n P A v)`, `v = sqrt(2 dp / (rho (f l / d + K)))`. Arguments: volume of one bag: m3;
    bore, length of the line: m; pressure: Pa absolute; difference: Pa; viscosity: Pa s; n, friction, ends: ratios; kelvin: K. Raises InputError for
    sizes not above nought. Source: method section 11.
    """
    if min(volume, bore, length, pressure, n, viscosity, kelvin) <= 0.0:
        raise InputError("line", (volume, bore, length), "volume, bore, length and pressure must be above nought")
    creeping = 64.0 * viscosity * length * volume / (pi * bore**4 * n * pressure)
    if difference is None:
        return Tee(tau_laminar=creeping, speed_turbulent=None, tau_turbulent=None, tau=creeping)
    if difference <= 0.0:
        raise InputError("difference", difference, "a pressure difference must be above nought")
    density = pressure / (AIR_CONSTANT * kelvin)
    speed = sqrt(2.0 * difference / (density * (friction * length / bore + ends)))
    rough = difference * volume / (2.0 * n * pressure * speed * pi * bore**2 / 4.0)
    return Tee(tau_laminar=creeping, speed_turbulent=speed, tau_turbulent=rough, tau=max(creeping, rough))


@dataclass(frozen=True, slots=True, kw_only=True)
class AirLine:
    """A line to be run: its length with slack (m), and how many ties hold it."""

    length: float
    ties: int


def air_line(route: float, travel: float, *, hot: float = 0.0) -> AirLine:
    """Return how long a line must be and how many ties it takes.

    Formula: route and the axle's full travel at that point as slack; a tie every 150 mm, every 100 mm beside what is hot. Arguments: route, travel, hot (part
    of the route beside exhaust or brake): m. Raises InputError for lengths that cannot be. Source: method section 11.
    """
    if route <= 0.0 or travel < 0.0 or not 0.0 <= hot <= route:
        raise InputError(
            "route",
            (route, travel, hot),
            "the route is longer than nought and than its hot part, the travel not below nought",
        )
    ties = ceil((route - hot) / TIE - 1e-9) + ceil(hot / TIE_HOT - 1e-9)
    return AirLine(length=route + travel, ties=ties)
