"""Leaf springs at the bench: rate from the leaves, stress, curve under load, wind-up, the eye's bush, a new arch.

Source: method section 13.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vantok_core.base.errors import InputError

YOUNGS = 206e9
"""Spring steel E, Pa."""
SHAPE = 1.15
"""Shape factor: 1.0 graduated to a point, 1.5 all of full length (default, flagged)."""
EASY, POOR = 550e6, 700e6
"""Static stress up to which a leaf has it easy, and above which it is poor (Pa, settings)."""
StressWord = Literal["easy", "watch", "poor"]


@dataclass(frozen=True, slots=True, kw_only=True)
class LeafPack:
    """One spring: halves front and rear with the clamp taken off, width, thickness of each leaf: m; shape factor; E: Pa."""

    front: float
    rear: float
    width: float
    thicknesses: tuple[float, ...]
    shape: float = SHAPE
    youngs: float = YOUNGS

    def __post_init__(self) -> None:
        if min(self.front, self.rear, self.width, self.youngs) <= 0.0:
            raise InputError("lengths", (self.front, self.rear, self.width), "halves and width must be above nought")
        if not self.thicknesses or min(self.thicknesses) <= 0.0:
            raise InputError("thickness", list(self.thicknesses), "each leaf has a thickness above nought")
        if not 1.0 <= self.shape <= 1.5:
            raise InputError(
                "shape", self.shape, "it lies between 1.0 (graduated to a point) and 1.5 (all full length)"
            )

    @property
    def cubes(self) -> float:
        """Sum of the thicknesses cubed, m3."""
        return sum(t**3 for t in self.thicknesses)

    @property
    def halves(self) -> tuple[float, float]:
        """Rates of the two cantilevers, N/m."""
        k_front, k_rear = (
            self.shape * self.youngs * self.width * self.cubes / (6.0 * one**3) for one in (self.front, self.rear)
        )
        return k_front, k_rear

    @property
    def rate(self) -> float:
        """Rate at the axle, the seat free to turn: `(a + c)^2 / (c^2 / k_a + a^2 / k_c)`, N/m."""
        (k_a, k_c), a, c = self.halves, self.front, self.rear
        return (a + c) ** 2 / (c**2 / k_a + a**2 / k_c)

    @property
    def wind_up_rate(self) -> float:
        """Rotation rate of the seat with the load constant, N m/rad."""
        (k_a, k_c), a, c = self.halves, self.front, self.rear
        return k_a * k_c * (a + c) ** 2 / (k_a + k_c)

    @property
    def wind_up_rate_held(self) -> float:
        """Rotation rate of the seat held at its height, N m/rad."""
        (k_a, k_c), a, c = self.halves, self.front, self.rear
        return k_a * a**2 + k_c * c**2

    def moment(self, load: float) -> float:
        """Return the moment at the clamp (N m) under the load of this one spring (N)."""
        return load * self.front * self.rear / (self.front + self.rear)

    def stresses(self, load: float) -> tuple[float, ...]:
        """Return the stress of each leaf at the clamp (Pa) under the load of this one spring (N): `6 M t_i / (b S)`."""
        return tuple(6.0 * self.moment(load) * t / (self.width * self.cubes) for t in self.thicknesses)

    def arch(self, free: float, load: float) -> float:
        """Return the arch (m) under a load (N), from the free arch (m); below nought it is reversed."""
        return free - load / self.rate

    def wind_up(self, torque: float) -> float:
        """Return how far the seat turns (rad) under an axle torque (N m) that both springs hold."""
        return torque / (2.0 * self.wind_up_rate)

    def with_leaf(self, thickness: float) -> LeafPack:
        """Return the pack with one more leaf (m thick)."""
        return LeafPack(
            front=self.front,
            rear=self.rear,
            width=self.width,
            thicknesses=(*self.thicknesses, thickness),
            shape=self.shape,
            youngs=self.youngs,
        )


def stress_word(stress: float) -> StressWord:
    """Return what a static stress (Pa) means: easy to 550 MPa, watch to 700, poor above (settings). Source: method section 13."""
    return "easy" if stress <= EASY else "watch" if stress <= POOR else "poor"


def axle_torque(force: float, radius: float, seat: float = 0.0, block: float = 0.0) -> float:
    """Return the torque on the axle (N m) of a force at the ground.

    Formula: `X (r + e + block)`. Arguments: force: N; radius of the tyre, seat above the axle's centre, block: m. Raises InputError for a radius not above
    nought. Source: method section 13: a block raises height, no rate, and adds to this lever.
    """
    if radius <= 0.0:
        raise InputError("radius", radius, "the tyre has a radius")
    return force * (radius + seat + block)


@dataclass(frozen=True, slots=True, kw_only=True)
class BushTwist:
    """How far a rubber bush is wound up (rad), and the torque that takes (N m)."""

    twist: float
    torque: float


def eye_bush(travel: float, half: float, rate: float, shape: float = SHAPE) -> BushTwist:
    """Return what a fixed eye's bush feels when the body stands so far from the height it was tightened at.

    Formula: twist `(3 - SF) d / a`. Arguments: travel d, half a to that eye: m; rate: N m/rad; shape: ratio. Raises InputError for a half not above nought or
    a negative rate. Source: method section 13.
    """
    if half <= 0.0 or rate < 0.0:
        raise InputError("bush", (half, rate), "the half is longer than nought, the rate not below nought")
    twist = (3.0 - shape) * travel / half
    return BushTwist(twist=twist, torque=rate * twist)


@dataclass(frozen=True, slots=True, kw_only=True)
class Recamber:
    """What the rear must gain (m), and the new free arch (m)."""

    gain: float
    arch: float


def recamber(
    front_gain: float,
    rake_wished: float,
    rake_now: float,
    *,
    arch: float,
    load: float,
    rate: float,
    new_rate: float,
    ratio: float = 1.0,
) -> Recamber:
    """Return the free arch of a rear spring for a wished rake, the front having gained so much.

    Formula: `g_r = r* - r + g_f`; new arch = old + `i g_r + F (1/k' - 1/k)`. Arguments: front_gain, rake_wished, rake_now, arch: m;
    load: N, the spring's own; rate, new_rate: N/m; ratio: spring over wheel travel. Raises InputError for rates not above nought.
    Source: method section 13.
    """
    if min(rate, new_rate) <= 0.0:
        raise InputError("rate", (rate, new_rate), "both rates must be above nought")
    gain = rake_wished - rake_now + front_gain
    return Recamber(gain=gain, arch=arch + ratio * gain + load * (1.0 / new_rate - 1.0 / rate))
