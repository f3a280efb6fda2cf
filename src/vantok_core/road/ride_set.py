"""What a run is made of: dampers, places on the body, speed, road and manoeuvre (method section 7)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray, Real
from vantok_core.physics.elements.curve import Curve
from vantok_core.physics.vehicle import Axle, AxleName
from vantok_core.road.profile import Manoeuvre, Road


@dataclass(frozen=True, slots=True)
class ForceCurve:
    """A damper's measured points (speed m/s, force N) as a curve from nought; past the last point straight on through the last two."""

    points: tuple[tuple[float, float], ...]
    _curve: Curve = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "_curve", Curve(((0.0, 0.0), *self.points)))

    def at(self, speed: FloatArray) -> FloatArray:
        """Return the force (N) at speeds (m/s, not negative)."""
        last = self.points[-1]
        before = self.points[-2] if len(self.points) > 1 else (0.0, 0.0)
        beyond = last[1] + (speed - last[0]) * (last[1] - before[1]) / (last[0] - before[0])
        within = self._curve.at(np.minimum(speed, last[0]))[0]
        return np.where(speed <= last[0], within, beyond)


Valve = float | ForceCurve
"""A rate, N s/m, or measured points."""


def valve_force(bump: Valve, rebound: Valve, speed: Real) -> FloatArray:
    """Return a damper's force (N) at speeds of its own (m/s, shortening positive), against the motion."""
    size = np.abs(np.asarray(speed, dtype=float))
    pressed, drawn = (v.at(size) if isinstance(v, ForceCurve) else v * size for v in (bump, rebound))
    return np.where(np.asarray(speed) > 0.0, pressed, -drawn)


@dataclass(frozen=True, slots=True, kw_only=True)
class Damper:
    """One damper a side: bump and rebound as rate N s/m or curve, ratio of its travel to the wheel's, lateral place m (solid axle)."""

    bump: Valve
    rebound: Valve
    ratio: float = 1.0
    y: float | None = None

    @property
    def plain(self) -> bool:
        """Whether it goes by two rates alone."""
        return not (isinstance(self.bump, ForceCurve) or isinstance(self.rebound, ForceCurve))

    def force(self, speed: Real) -> FloatArray:
        """Return its force (N) at speeds of its own (m/s, shortening positive)."""
        return valve_force(self.bump, self.rebound, speed)

    def parts(self, axle: Axle) -> tuple[float, float]:
        """Return the near and the far part of the wheels' speeds that it sees."""
        if not axle.solid:
            return self.ratio, 0.0
        place = 0.5 if self.y is None else self.y / axle.track
        return self.ratio * (0.5 + place), self.ratio * (0.5 - place)


NO_DAMPER = Damper(bump=0.0, rebound=0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class RidePoint:
    """A named place on the body whose acceleration is wanted: station and lateral place m."""

    name: str
    station: float
    lateral: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class RideSet:
    """A run: speed m/s, duration s, samples a second, road, manoeuvre, dampers by axle (missing: none), inertias kg m2 (None: default),
    arm h_a and roll centre heights m for the manoeuvre."""

    speed: float
    duration: float
    road: Road
    dampers: dict[AxleName, Damper]
    manoeuvre: Manoeuvre = field(default_factory=Manoeuvre)
    points: Sequence[RidePoint] = ()
    sample_rate: float = 1000.0
    pitch_inertia: float | None = None
    roll_inertia: float | None = None
    arm: float = 0.0
    roll_centre: dict[AxleName, float] | None = None

    def __post_init__(self) -> None:
        if not (self.speed > 0.0 and self.duration > 0.0 and self.sample_rate >= 200.0):
            raise InputError(
                "run", (self.speed, self.duration), "speed and duration must be above zero, 200 samples/s or more"
            )
        if self.manoeuvre.turns and not self.arm > 0.0:
            raise InputError("roll_arm", self.arm, "a turn needs the arm from the roll axis to the centre of mass")
