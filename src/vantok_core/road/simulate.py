"""The vehicle over a road: heave, pitch, roll and four wheels, with the static model's own elements (method section 7)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import ceil

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray, G
from vantok_core.physics.elements.air import BUMP
from vantok_core.physics.elements.curve import Curve
from vantok_core.physics.levers import hitch_effect
from vantok_core.physics.stance.assembly import AxleLines
from vantok_core.physics.stance.states import SolvedState, sealed_here
from vantok_core.physics.vehicle import AXLES, Axle, AxleName, Vehicle
from vantok_core.road.profile import Manoeuvre, Road


@dataclass(frozen=True, slots=True)
class ForceCurve:
    """A damper's measured points (speed m/s, force N) as a curve from nought; past the last point straight on through the last two."""

    points: tuple[tuple[float, float], ...]
    _curve: Curve = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "_curve", Curve(((0.0, 0.0), *self.points)))

    def at(self, speed: float) -> float:
        """Return the force (N) at a speed (m/s, not negative)."""
        last = self.points[-1]
        if speed <= last[0]:
            return float(self._curve.at(speed)[0])
        before = self.points[-2] if len(self.points) > 1 else (0.0, 0.0)
        return last[1] + (speed - last[0]) * (last[1] - before[1]) / (last[0] - before[0])


Valve = float | ForceCurve
"""A rate, N s/m, or measured points."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Damper:
    """One damper a side: bump and rebound as rate N s/m or curve, ratio of its travel to the wheel's, lateral place m (solid axle)."""

    bump: Valve
    rebound: Valve
    ratio: float = 1.0
    y: float | None = None

    def force(self, speed: float) -> float:
        """Return its force (N) at a speed of its own (m/s, shortening positive)."""
        valve, size = (self.bump, speed) if speed > 0.0 else (self.rebound, -speed)
        force = valve.at(size) if isinstance(valve, ForceCurve) else valve * size
        return force if speed > 0.0 else -force


NO_DAMPER = Damper(bump=0.0, rebound=0.0)
LONGEST_STEP = 0.001
"""Longest step of the integration, s, however few samples are reported."""
FALLEN = 0.5
"""A lean (rad) beyond which the model no longer speaks."""


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


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """The sprung mass: kg, its centre's station and lateral place m, inertias kg m2, and how gravity topples it, N m/rad."""

    mass: float
    station: float
    lateral: float
    pitch: float
    roll: float
    topple: float


class _Ride:
    """One run's equations on plain floats; state = q, theta, phi, four wheel drops, and their speeds."""

    def __init__(self, vehicle: Vehicle, solved: SolvedState, run: RideSet) -> None:
        self.run = run
        self.axles: list[AxleLines] = []
        self.dampers: list[tuple[Damper, float, float]] = []
        self.z0: list[float] = []
        self.s0: list[float] = []
        self.n0: list[float] = []
        self.unsprung: list[float] = []
        self.k_t: list[float] = []
        for name in AXLES:
            axle, stance = solved.axle(name)
            own = vehicle.axle(name)
            self.axles.append(sealed_here(axle, stance, BUMP))
            damper = run.dampers.get(name, NO_DAMPER)
            self.dampers.append((damper, *_parts(own, damper)))
            for side in (0, 1):
                self.z0.append(float(stance.z[side]))
                self.s0.append(float(stance.force[side]))
                self.n0.append(float(stance.force[side]) + own.unsprung * G)
                self.unsprung.append(own.unsprung)
                self.k_t.append(float(own.tyre_rate))
        self.half = (vehicle.front.track / 2, vehicle.front.track / 2, vehicle.rear.track / 2, vehicle.rear.track / 2)
        self.defaults: list[str] = []
        self.body = self._body(vehicle, solved)
        sign = (1.0, -1.0, 1.0, -1.0)
        s = (0.0, 0.0, vehicle.wheelbase, vehicle.wheelbase)
        self.to_s = [x - self.body.station for x in s]
        self.to_y = [g * h - self.body.lateral for g, h in zip(sign, self.half, strict=True)]

    def _body(self, vehicle: Vehicle, solved: SolvedState) -> Body:
        force, at_rear = sum(self.s0), self.s0[2] + self.s0[3]
        pitch = at_rear * vehicle.wheelbase
        lateral = (self.s0[0] - self.s0[1]) * self.half[0] + (self.s0[2] - self.s0[3]) * self.half[2]
        over = solved.state.overturning
        if over is not None:
            lateral += over.sprung_mass * G * over.arm * float(solved.at.phi)
        tongue = solved.state.tongue
        if tongue is not None:
            effect = hitch_effect(tongue, vehicle.wheelbase)
            pull = float(effect.tongue_eff) * G
            force -= pull
            pitch -= pull * (vehicle.wheelbase + tongue.overhang) - float(effect.moment)
        mass = force / G
        station = pitch / force
        inertia_pitch, inertia_roll = self.run.pitch_inertia, self.run.roll_inertia
        if inertia_pitch is None:
            self.defaults.append("pitch inertia")
            inertia_pitch = mass * station * (vehicle.wheelbase - station)
        if inertia_roll is None:
            self.defaults.append("roll inertia")
            inertia_roll = mass * (0.4 * 0.5 * (vehicle.front.track + vehicle.rear.track)) ** 2
        return Body(
            mass=mass,
            station=station,
            lateral=lateral / force,
            pitch=inertia_pitch,
            roll=inertia_roll,
            topple=over.sprung_mass * G * over.arm if over else mass * G * self.run.arm,
        )

    def accelerations(
        self, x: list[float], v: list[float], road: list[float], turn: list[float]
    ) -> tuple[list[float], list[float]]:
        """Return the seven accelerations and the four tyre loads. turn: lateral acceleration (m/s2) and a gust's couple (N m)."""
        a_y, couple = turn
        q, theta, phi = x[:3]
        over, tyres, acc = [0.0] * 4, [0.0] * 4, [0.0] * 7
        for a, axle in enumerate(self.axles):
            i, j = 2 * a, 2 * a + 1
            d_i = q + self.to_s[i] * theta - self.to_y[i] * phi
            d_j = q + self.to_s[j] * theta - self.to_y[j] * phi
            v_i = v[0] + self.to_s[i] * v[1] - self.to_y[i] * v[2] - v[3 + i]
            v_j = v[0] + self.to_s[j] * v[1] - self.to_y[j] * v[2] - v[3 + j]
            s_i, s_j, *_ = axle.press(self.z0[i] + d_i - x[3 + i], self.z0[j] + d_j - x[3 + j])
            c_i, c_j = self._damped(a, v_i, v_j)
            over[i], over[j] = float(s_i) - self.s0[i] + c_i, float(s_j) - self.s0[j] + c_j
            shift = self._shift(a, a_y)
            for k, side in (
                (i, -1.0),
                (j, 1.0),
            ):  # what goes through the roll centres loads the wheel, and squashes its tyre
                tyres[k] = max(self.n0[k] + self.k_t[k] * (x[3 + k] + road[k]), 0.0)
                acc[3 + k] = (over[k] + side * shift - (tyres[k] - self.n0[k])) / self.unsprung[k]
        acc[0] = -sum(over) / self.body.mass
        acc[1] = -sum(s * f for s, f in zip(self.to_s, over, strict=True)) / self.body.pitch
        turning = self.body.mass * a_y * self.run.arm + self.body.topple * phi + couple
        acc[2] = (sum(y * f for y, f in zip(self.to_y, over, strict=True)) + turning) / self.body.roll
        return acc, tyres

    def _shift(self, a: int, a_y: float) -> float:
        """Return the load an axle's roll centre carries from its inner (left in a left turn) to its outer tyre (N)."""
        centres = self.run.roll_centre
        if not centres or a_y == 0.0:
            return 0.0
        wheelbase = self.to_s[2] - self.to_s[0]
        share = self.body.station / wheelbase if a else 1.0 - self.body.station / wheelbase
        return self.body.mass * share * a_y * centres["rear" if a else "front"] / (2.0 * self.half[2 * a])

    def _damped(self, a: int, v_l: float, v_r: float) -> tuple[float, float]:
        damper, near, far = self.dampers[a]
        u_l, u_r = near * v_l + far * v_r, far * v_l + near * v_r
        f_l, f_r = damper.force(u_l), damper.force(u_r)
        return near * f_l + far * f_r, far * f_l + near * f_r


def _parts(axle: Axle, damper: Damper) -> tuple[float, float]:
    if not axle.solid:
        return damper.ratio, 0.0
    place = 0.5 if damper.y is None else damper.y / axle.track
    return damper.ratio * (0.5 + place), damper.ratio * (0.5 - place)


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    """A run as integrated: the body (mass kg, centre m, inertias kg m2), where the wheels are from its centre (m), and at every sample the
    seven places (m, rad), accelerations and the four tyre loads (N); axles with their static hub drops (m)."""

    set: RideSet
    body: Body
    wheelbase: float
    to_s: tuple[float, ...]
    to_y: tuple[float, ...]
    axles: tuple[AxleLines, ...]
    z0: tuple[float, ...]
    x: FloatArray
    acc: FloatArray
    tyres: FloatArray
    defaults: tuple[str, ...]

    def trace(self, values: FloatArray, station: float, lateral: float) -> FloatArray:
        """Return the body's motion at a place (station, lateral: m) out of the places or the accelerations (values: SI)."""
        return (
            values[:, 0] + (station - self.body.station) * values[:, 1] - (lateral - self.body.lateral) * values[:, 2]
        )


def drive(vehicle: Vehicle, solved: SolvedState, run: RideSet) -> Run:
    """Return a run over the road, started from the state's static equilibrium.

    Arguments: vehicle and solved state in floats; run. Fourth-order Runge-Kutta, steps of a millisecond at most. Raises InputError for
    axles without unsprung mass or a run that leaves the model's reach. Source: method section 7.
    """
    if vehicle.front.unsprung <= 0.0 or vehicle.rear.unsprung <= 0.0:
        raise InputError("unsprung", 0, "the ride needs each wheel's unsprung mass")
    system = _Ride(vehicle, solved, run)
    each = ceil(1.0 / (run.sample_rate * LONGEST_STEP) - 1e-9)
    step = 1.0 / (run.sample_rate * each)
    count = round(run.duration * run.sample_rate)
    halves = np.arange(2 * count * each + 1) * (0.5 * step)
    apart = 0.5 * (vehicle.front.track + vehicle.rear.track)
    front = run.road.left_right(run.speed * halves, apart)
    rear = run.road.left_right(run.speed * halves - vehicle.wheelbase, apart)
    roads = np.column_stack([*front, *rear]).tolist()
    turns = np.column_stack([run.manoeuvre.at(halves), run.manoeuvre.couple(halves)]).tolist()
    x, v = [0.0] * 7, [0.0] * 7
    positions, accelerations, tyres = np.empty((count + 1, 7)), np.empty((count + 1, 7)), np.empty((count + 1, 4))
    for n in range(count * each + 1):
        a1, loads = system.accelerations(x, v, roads[2 * n], turns[2 * n])
        if n % each == 0:
            positions[n // each], accelerations[n // each], tyres[n // each] = x, a1, loads
        if n == count * each:
            break
        x, v = _runge_kutta(system, x, v, a1, step, roads[2 * n + 1 : 2 * n + 3], turns[2 * n + 1 : 2 * n + 3])
        if not abs(x[2]) < FALLEN:
            raise InputError(
                "run",
                run.speed,
                "the body would fall over or the motion grow without bound; check masses, rates and dampers",
            )
    return Run(
        set=run,
        body=system.body,
        wheelbase=vehicle.wheelbase,
        to_s=tuple(system.to_s),
        to_y=tuple(system.to_y),
        axles=tuple(system.axles),
        z0=tuple(system.z0),
        x=positions,
        acc=accelerations,
        tyres=tyres,
        defaults=tuple(system.defaults),
    )


def _runge_kutta(
    system: _Ride,
    x: list[float],
    v: list[float],
    a1: list[float],
    h: float,
    roads: list[list[float]],
    turns: list[list[float]],
) -> tuple[list[float], list[float]]:
    def moved(base: list[float], by: list[float], share: float) -> list[float]:
        return [p + share * q for p, q in zip(base, by, strict=True)]

    v2 = moved(v, a1, h / 2)
    a2, _ = system.accelerations(moved(x, v, h / 2), v2, roads[0], turns[0])
    v3 = moved(v, a2, h / 2)
    a3, _ = system.accelerations(moved(x, v2, h / 2), v3, roads[0], turns[0])
    v4 = moved(v, a3, h)
    a4, _ = system.accelerations(moved(x, v3, h), v4, roads[1], turns[1])
    x_next = [p + h / 6 * (q + 2 * r + 2 * s + t) for p, q, r, s, t in zip(x, v, v2, v3, v4, strict=True)]
    v_next = [p + h / 6 * (q + 2 * r + 2 * s + t) for p, q, r, s, t in zip(v, a1, a2, a3, a4, strict=True)]
    return x_next, v_next
