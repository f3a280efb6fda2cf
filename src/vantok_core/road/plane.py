"""The vehicle on the plane, wheel held straight: a gust from the side, and a trailer that yaws behind it.

Source: method section 15.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.linalg import expm
from scipy.optimize import brentq

from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray, G

CAR_STIFF, TRAILER_STIFF = 8.0, 6.0
"""Cornering stiffness an axle, times its static load, per rad (estimated)."""
SLOWEST, FASTEST, GRID = 1.0, 60.0, 0.05
"""Speeds looked at (m/s), and how finely."""
STILL = 1e-9


@dataclass(frozen=True, slots=True, kw_only=True)
class Car:
    """A car on the plane: mass kg, axles ahead of and behind its mass centre (m), yaw inertia kg m2, cornering stiffness an axle N/rad; whatever is
    None is taken as usual."""

    m: float
    a: float
    b: float
    inertia: float | None = None
    c_f: float | None = None
    c_r: float | None = None

    def __post_init__(self) -> None:
        if not (self.m > 0.0 and self.a > 0.0 and self.b > 0.0):
            raise InputError("car", (self.m, self.a, self.b), "mass and lengths must be above nought")
        for name in ("inertia", "c_f", "c_r"):
            value = getattr(self, name)
            if value is not None and not value > 0.0:
                raise InputError(name, value, "it must be above nought")

    @property
    def yaw_inertia(self) -> float:
        """Its yaw inertia, kg m2."""
        return self.m * (self.a + self.b) ** 2 / 4.0 if self.inertia is None else self.inertia

    def stiff(self, nose: float = 0.0, behind: float = 0.0) -> tuple[float, float]:
        """Return the cornering stiffness (N/rad) front and rear; nose: on the ball kg, behind: how far that is behind the mass centre m."""
        base = self.a + self.b
        front = (self.m * self.b - nose * (behind - self.b)) / base
        rear = (self.m * self.a + nose * (behind + self.a)) / base
        return (
            CAR_STIFF * G * front if self.c_f is None else self.c_f,
            CAR_STIFF * G * rear if self.c_r is None else self.c_r,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Blown:
    """What a gust does by then: side force N, yaw rate rad/s, heading rad, side offset m and side speed m/s of the mass centre, left positive."""

    push: float
    yaw_rate: float
    heading: float
    side_offset: float
    side_speed: float


def gust_plane(
    car: Car, speed: float, push: float, centre: float = 0.0, duration: float = 1.0, at: float = 1.0
) -> Blown:
    """Return where a square gust has pushed a car, its wheel held straight.

    Arguments: speed u: m/s; push Q: N, left positive; centre x_q: pressure centre ahead of the mass centre, m; duration: s; at: when it is looked at, s.
    Formula: `m (v' + u r) = F_f + F_r + Q`, `I r' = a F_f - b F_r + x_q Q`, `heading' = r`, `offset' = v + u heading`. Raises InputError for a speed or
    a time not above nought. Source: method section 15.
    """
    if not (speed > 0.0 and duration > 0.0 and at > 0.0):
        raise InputError("speed", speed, "speed and times must be above nought")
    c_f, c_r = car.stiff()
    m, inertia, a, b, u = car.m, car.yaw_inertia, car.a, car.b, speed
    motion = np.zeros((5, 5))  # v, r, heading, offset, and the push as a constant
    motion[0, :2] = -(c_f + c_r) / (m * u), (-(a * c_f - b * c_r) / (m * u)) - u
    motion[1, :2] = -(a * c_f - b * c_r) / (inertia * u), -(a**2 * c_f + b**2 * c_r) / (inertia * u)
    motion[2, 1], motion[3, 0], motion[3, 2] = 1.0, 1.0, u
    motion[0, 4], motion[1, 4] = push / m, centre * push / inertia
    state = expm(motion * min(duration, at)) @ np.array([0.0, 0.0, 0.0, 0.0, 1.0])
    if at > duration:
        state[4] = 0.0
        state = expm(motion * (at - duration)) @ state
    v, r, heading, offset = (float(one) for one in state[:4])
    return Blown(push=push, yaw_rate=r, heading=heading, side_offset=offset, side_speed=v)


@dataclass(frozen=True, slots=True, kw_only=True)
class Towed:
    """A trailer: mass kg, coupling to axle l (m), mass on the ball kg, yaw inertia kg m2 about its own centre, cornering stiffness N/rad (None: usual)."""

    m: float
    lever: float
    nose: float
    inertia: float
    c_t: float | None = None

    def __post_init__(self) -> None:
        if not (self.m > 0.0 and self.lever > 0.0 and self.inertia > 0.0):
            raise InputError(
                "trailer", (self.m, self.lever, self.inertia), "mass, lever and inertia must be above nought"
            )
        if self.c_t is not None and not self.c_t > 0.0:
            raise InputError("C_t", self.c_t, "it must be above nought")

    @property
    def centre(self) -> float:
        """How far its mass centre is behind the coupling, m."""
        return self.lever * (1.0 - self.nose / self.m)

    @property
    def stiff(self) -> float:
        """Its axle's cornering stiffness, N/rad."""
        return TRAILER_STIFF * G * (self.m - self.nose) if self.c_t is None else self.c_t


@dataclass(frozen=True, slots=True, kw_only=True)
class Yawing:
    """How a car and its trailer yaw at a speed (m/s): frequency (Hz) and damping ratio of the least damped pair; None where no pair oscillates."""

    speed: float
    frequency: float | None
    damping: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Train:
    """A car, its trailer, how far the hitch is behind the car's mass centre (m), and what damps at the hitch (N m s/rad)."""

    car: Car
    trailer: Towed
    hitch: float
    damper: float = 0.0
    _kept: dict[float, FloatArray] = field(default_factory=dict, init=False, repr=False, compare=False)

    def roots(self, speed: float) -> FloatArray:
        """Return the roots of the plane motion at a speed (m/s), 1/s: of side speed, yaw rate, articulation and its rate. Source: method section 15."""
        if speed not in self._kept:
            self._kept[speed] = np.linalg.eigvals(self._motion(speed))
        return self._kept[speed]

    def _motion(self, u: float) -> FloatArray:
        car, t = self.car, self.trailer
        c_f, c_r = car.stiff(t.nose, self.hitch)
        c_t, l, e, c = t.stiff, t.lever, t.centre, self.hitch  # noqa: E741 - the method's own letters
        front = -c_f / u * np.array([1.0, car.a, 0.0, 0.0])
        rear = -c_r / u * np.array([1.0, -car.b, 0.0, 0.0])
        tail = -c_t / u * np.array([1.0, -c - l, -u, -l])  # of v, r, q, q'
        # Unknown accelerations v', r', q'' and the hitch's side force Y.
        held = np.array(
            [
                [car.m, 0.0, 0.0, -1.0],
                [0.0, car.yaw_inertia, 0.0, c],
                [t.m, -t.m * (c + e), -t.m * e, 1.0],
                [0.0, t.inertia, t.inertia, e],
            ]
        )
        swing = self.damper * np.array([0.0, 0.0, 0.0, 1.0])
        turned = np.array([0.0, u, 0.0, 0.0])
        by = np.array(
            [
                front + rear - car.m * turned,
                car.a * front - car.b * rear + swing,
                tail - t.m * turned,
                -(l - e) * tail - swing,
            ]
        )
        found = np.linalg.solve(held, by)
        return np.array([found[0], found[1], [0.0, 0.0, 0.0, 1.0], found[2]])

    def at(self, speed: float) -> Yawing:
        """Return how it yaws at a speed (m/s). Raises InputError for one not above nought."""
        if not speed > 0.0:
            raise InputError("u", speed, "a speed must be above nought")
        pairs = [root for root in self.roots(speed) if root.imag > STILL * abs(root)]
        if not pairs:
            return Yawing(speed=speed, frequency=None, damping=None)
        least = min(pairs, key=lambda root: float(-root.real / abs(root)))
        return Yawing(speed=speed, frequency=float(abs(least)) / (2.0 * np.pi), damping=float(-least.real / abs(least)))

    def falls_to(self, damping: float, fastest: float = FASTEST) -> float | None:
        """Return the lowest speed (m/s) at which the least damping ratio falls to a value (damping: 1; fastest: m/s); None where it never does."""

        def above(speed: float) -> float:
            found = self.at(speed).damping
            return 1.0 if found is None else found - damping

        return _first(above, fastest)

    def diverges(self, fastest: float = FASTEST) -> float | None:
        """Return the lowest speed (m/s) at which a real root passes nought, the car itself turning unstable; None where none does (fastest: m/s)."""

        def still(speed: float) -> float:
            real = [float(root.real) for root in self.roots(speed) if abs(root.imag) <= STILL * max(abs(root), 1.0)]
            return -max(real, default=-1.0)

        return _first(still, fastest)


def _first(above: object, fastest: float) -> float | None:
    """Return where a figure that is above nought at first comes down to it."""
    assert callable(above)
    speeds: Sequence[float] = np.arange(SLOWEST, fastest + GRID / 2, GRID).tolist()
    before = speeds[0]
    if above(before) <= 0.0:
        return before
    for speed in speeds[1:]:
        if above(speed) <= 0.0:
            return (
                float(brentq(above, before, speed, xtol=1e-9)) if above(before) < 1.0 or above(speed) > -1.0 else speed
            )
        before = speed
    return None
