"""The vehicle over a road: heave, pitch, roll and four wheels, with the static model's own elements (method section 7)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from vantok_core.elements.air import BUMP
from vantok_core.elements.laws import Stop
from vantok_core.errors import InputError
from vantok_core.loads.levers import hitch_effect
from vantok_core.num import FloatArray, G
from vantok_core.road.comfort import weighted_rms
from vantok_core.road.profile import Manoeuvre, Road
from vantok_core.stance.assembly import AxleLines
from vantok_core.stance.states import SolvedState, sealed_here
from vantok_core.vehicle import AXLE_CORNERS, AXLES, Axle, AxleName, Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class Damper:
    """One damper a side: bump and rebound rate N s/m, ratio of its travel to the wheel's, lateral place m (solid axle)."""

    bump: float
    rebound: float
    ratio: float = 1.0
    y: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class RidePoint:
    """A named place on the body whose acceleration is wanted: station and lateral place m."""

    name: str
    station: float
    lateral: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class RideSet:
    """A run: speed m/s, duration s, samples a second, road, manoeuvre, dampers by axle, inertias kg m2 (None: default),
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


@dataclass(frozen=True, slots=True, kw_only=True)
class RideResult:
    """What a run gave: peak and W_k-weighted acceleration m/s2 by point; peak and final roll rad; least tyre load N by
    corner; stop strikes and peak force by element and side; settling time s and greatest departure m of the body over
    the rear axle; sprung mass kg and its centre m; traces for drawing (time s, body over rear axle m, roll rad)."""

    peak_acc: dict[str, float]
    weighted_rms: dict[str, float]
    peak_roll: float
    final_roll: float
    least_tyre_load: dict[str, float]
    stops: dict[str, dict[str, dict[str, float]]]
    settling_time_rear: float
    peak_drop_rear: float
    m_s: float
    s_c: float
    y_c: float
    defaults: tuple[str, ...]
    time: FloatArray
    rear_body: FloatArray


@dataclass(frozen=True, slots=True, kw_only=True)
class _Body:
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
            self.dampers.append((run.dampers[name], *_parts(own, run.dampers[name])))
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

    def _body(self, vehicle: Vehicle, solved: SolvedState) -> _Body:
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
        return _Body(
            mass=mass, station=station, lateral=lateral / force, pitch=inertia_pitch, roll=inertia_roll,
            topple=over.sprung_mass * G * over.arm if over else mass * G * self.run.arm,
        )  # fmt: skip

    def accelerations(
        self, x: list[float], v: list[float], road: list[float], a_y: float
    ) -> tuple[list[float], list[float]]:
        """Return the seven accelerations and the four tyre loads."""
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
            for k, side in ((i, -1.0), (j, 1.0)):
                tyres[k] = max(self.n0[k] + self.k_t[k] * (x[3 + k] + road[k]) + side * shift, 0.0)
                acc[3 + k] = (over[k] - (tyres[k] - self.n0[k])) / self.unsprung[k]
                acc[3 + k] += side * shift / self.unsprung[k] if tyres[k] > 0.0 else 0.0
        acc[0] = -sum(over) / self.body.mass
        acc[1] = -sum(s * f for s, f in zip(self.to_s, over, strict=True)) / self.body.pitch
        turning = self.body.mass * a_y * self.run.arm + self.body.topple * phi
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
        f_l = (damper.bump if u_l > 0.0 else damper.rebound) * u_l
        f_r = (damper.bump if u_r > 0.0 else damper.rebound) * u_r
        return near * f_l + far * f_r, far * f_l + near * f_r


def _parts(axle: Axle, damper: Damper) -> tuple[float, float]:
    if not axle.solid:
        return damper.ratio, 0.0
    place = 0.5 if damper.y is None else damper.y / axle.track
    return damper.ratio * (0.5 + place), damper.ratio * (0.5 - place)


def ride(vehicle: Vehicle, solved: SolvedState, run: RideSet) -> RideResult:
    """Return a run over the road, started from the state's static equilibrium.

    Arguments: vehicle and solved state in floats; run. Fourth-order Runge-Kutta at the sample rate. Raises InputError for
    axles without unsprung mass or a run that leaves the model's reach. Source: method section 7.
    """
    if vehicle.front.unsprung <= 0.0 or vehicle.rear.unsprung <= 0.0:
        raise InputError("unsprung", 0, "the ride needs each wheel's unsprung mass")
    system = _Ride(vehicle, solved, run)
    step = 1.0 / run.sample_rate
    count = round(run.duration * run.sample_rate)
    halves = np.arange(2 * count + 1) * (0.5 * step)
    front = run.road.left_right(run.speed * halves)
    rear = run.road.left_right(run.speed * halves - vehicle.wheelbase)
    roads = np.column_stack([*front, *rear]).tolist()
    turns = run.manoeuvre.at(halves).tolist()
    x, v = [0.0] * 7, [0.0] * 7
    positions, accelerations, tyres = np.empty((count + 1, 7)), np.empty((count + 1, 7)), np.empty((count + 1, 4))
    for n in range(count + 1):
        a1, loads = system.accelerations(x, v, roads[2 * n], turns[2 * n])
        positions[n], accelerations[n], tyres[n] = x, a1, loads
        if n == count:
            break
        x, v = _runge_kutta(system, x, v, a1, step, roads[2 * n + 1 : 2 * n + 3], turns[2 * n + 1 : 2 * n + 3])
    if not np.all(np.isfinite(positions)):
        raise InputError("run", run.speed, "the motion grew without bound; check rates, dampers and masses")
    return _result(system, vehicle, run, positions, accelerations, tyres)


def _runge_kutta(
    system: _Ride,
    x: list[float],
    v: list[float],
    a1: list[float],
    h: float,
    roads: list[list[float]],
    turns: list[float],
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


def _result(
    system: _Ride, vehicle: Vehicle, run: RideSet, x: FloatArray, acc: FloatArray, tyres: FloatArray
) -> RideResult:
    body = system.body

    def trace(values: FloatArray, station: float, lateral: float) -> FloatArray:
        return values[:, 0] + (station - body.station) * values[:, 1] - (lateral - body.lateral) * values[:, 2]

    rear_body = trace(x, vehicle.wheelbase, 0.0)
    departed = np.abs(rear_body)
    greatest = float(np.max(departed))
    outside = np.flatnonzero(departed > 0.1 * greatest) if greatest > 0.0 else np.array([], dtype=int)
    at_points = {p.name: trace(acc, p.station, p.lateral) for p in run.points}
    corners = [corner for name in AXLES for corner in AXLE_CORNERS[name]]
    return RideResult(
        peak_acc={name: float(np.max(np.abs(a))) for name, a in at_points.items()},
        weighted_rms={name: weighted_rms(a, run.sample_rate) for name, a in at_points.items()},
        peak_roll=float(np.max(np.abs(x[:, 2]))), final_roll=float(x[-1, 2]),
        least_tyre_load={c: float(np.min(tyres[:, i])) for i, c in enumerate(corners)},
        stops=_strikes(system, x),
        settling_time_rear=float(outside[-1] / run.sample_rate) if len(outside) else 0.0,
        peak_drop_rear=greatest, m_s=body.mass, s_c=body.station, y_c=body.lateral, defaults=tuple(system.defaults),
        time=np.arange(len(x)) / run.sample_rate, rear_body=rear_body,
    )  # fmt: skip


def _strikes(system: _Ride, x: FloatArray) -> dict[str, dict[str, dict[str, float]]]:
    """Return, for each stop or insert, how often its gap closed and the greatest force (N)."""
    found: dict[str, dict[str, dict[str, float]]] = {}
    for a, axle in enumerate(system.axles):
        i, j = 2 * a, 2 * a + 1
        d = [x[:, 0] + system.to_s[k] * x[:, 1] - system.to_y[k] * x[:, 2] for k in (i, j)]
        z = [system.z0[k] + d[k - i] - x[:, 3 + k] for k in (i, j)]
        for line in axle.lines:
            compressions = line.compressions(z[0], z[1])
            for side, law, c in zip(("left", "right"), (line.left, line.right), compressions, strict=True):
                if isinstance(law, Stop):
                    pressed = np.asarray(c) > law.gap
                    onsets = int(np.sum(pressed[1:] & ~pressed[:-1]))
                    force = float(np.max(law.at(np.asarray(c))[0]))
                    found.setdefault(line.name, {})[side] = {"strikes": onsets, "peak_force": force}
    return found
