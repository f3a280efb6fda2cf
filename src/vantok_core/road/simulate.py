"""Vehicles over roads: heave, pitch, roll and four wheels each, with the static model's own elements, all on one clock (method sections 7 and 15)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray, G
from vantok_core.physics.elements.air import BUMP
from vantok_core.physics.levers import hitch_effect
from vantok_core.physics.stance.assembly import AxleLines
from vantok_core.physics.stance.states import SolvedState, sealed_here
from vantok_core.physics.vehicle import AXLES, AxleName, Vehicle
from vantok_core.road.forces import FINE, Forces, Lookup, forces, lookup
from vantok_core.road.ride_set import NO_DAMPER, RideSet

LONGEST_STEP = 0.002
"""Longest step of the integration, s, however few samples are reported."""
FALLEN = 0.5
"""A lean (rad) beyond which the model no longer speaks."""
DOF = 7
SIGN = (1.0, -1.0, 1.0, -1.0)
"""Left and right wheel of each axle, to the left positive."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """The sprung mass: kg, its centre's station and lateral place m, inertias kg m2, and how gravity topples it, N m/rad."""

    mass: float
    station: float
    lateral: float
    pitch: float
    roll: float
    topple: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Ridden:
    """A vehicle in one state, ready to be driven: its body, wheels (travel m, load N, unsprung mass kg, tyre rate N/m), where they are from the body's centre
    (m), its forces, and which of its inertias are usual ones. Kept, it is driven over as many roads as one likes."""

    vehicle: Vehicle
    body: Body
    axles: tuple[AxleLines, ...]
    z0: tuple[float, ...]
    n0: tuple[float, ...]
    unsprung: tuple[float, ...]
    tyre_rate: tuple[float, ...]
    to_s: tuple[float, ...]
    to_y: tuple[float, ...]
    forces: Forces
    defaults: tuple[str, ...]

    @property
    def wheelbase(self) -> float:
        """Wheelbase, m."""
        return self.vehicle.wheelbase

    @property
    def apart(self) -> float:
        """Mean of the two tracks, m."""
        return 0.5 * (self.vehicle.front.track + self.vehicle.rear.track)

    def sees(self) -> tuple[FloatArray, FloatArray]:
        """Return what each element sees of the seven places, and of their speeds (elements x 7)."""
        place, speed = np.zeros((len(self.forces.elements), DOF)), np.zeros((len(self.forces.elements), DOF))
        for e, element in enumerate(self.forces.elements):
            a, *parts = element.sees
            row = speed if element.damps else place
            for k, part in zip((2 * a, 2 * a + 1), parts, strict=True):
                row[e, :3] += part * np.array([1.0, self.to_s[k], -self.to_y[k]])
                row[e, 3 + k] -= part
        return place, speed


def ridden(vehicle: Vehicle, solved: SolvedState, run: RideSet, *, fine: float = FINE) -> Ridden:
    """Return a vehicle ready to be driven from a state's static equilibrium, its bags shut.

    Arguments: vehicle and solved state in floats; run: its dampers, inertias and roll arm; fine: how finely its springs are
    tabled, m. Raises InputError for axles without unsprung mass.
    """
    if vehicle.front.unsprung <= 0.0 or vehicle.rear.unsprung <= 0.0:
        raise InputError("unsprung", 0, "the ride needs each wheel's unsprung mass")
    axles, z0, s0, unsprung, rates = [], [], [], [], []
    for name in AXLES:
        lines, stance = solved.axle(name)
        axles.append(sealed_here(lines, stance, BUMP))
        z0 += [float(z) for z in stance.z]
        s0 += [float(f) for f in stance.force]
        unsprung += [float(vehicle.axle(name).unsprung)] * 2
        rates += [float(vehicle.axle(name).tyre_rate)] * 2
    half = [t / 2 for t in (vehicle.front.track, vehicle.front.track, vehicle.rear.track, vehicle.rear.track)]
    body, defaults = _body(vehicle, solved, run, s0)
    fitted = [(vehicle.axle(name), run.dampers.get(name, NO_DAMPER)) for name in AXLES]
    return Ridden(
        vehicle=vehicle,
        body=body,
        axles=tuple(axles),
        z0=tuple(z0),
        n0=tuple(f + u * G for f, u in zip(s0, unsprung, strict=True)),
        unsprung=tuple(unsprung),
        tyre_rate=tuple(rates),
        to_s=tuple(s - body.station for s in (0.0, 0.0, vehicle.wheelbase, vehicle.wheelbase)),
        to_y=tuple(g * h - body.lateral for g, h in zip(SIGN, half, strict=True)),
        forces=forces(axles, z0, fitted, fine),
        defaults=defaults,
    )


def _body(vehicle: Vehicle, solved: SolvedState, run: RideSet, s0: Sequence[float]) -> tuple[Body, tuple[str, ...]]:
    """Return the sprung mass by what the springs carry (s0: N), and which inertias are usual ones."""
    force, pitch = sum(s0), (s0[2] + s0[3]) * vehicle.wheelbase
    lateral = 0.5 * ((s0[0] - s0[1]) * vehicle.front.track + (s0[2] - s0[3]) * vehicle.rear.track)
    over, tongue = solved.state.overturning, solved.state.tongue
    if over is not None:
        lateral += over.sprung_mass * G * over.arm * float(solved.at.phi)
    if tongue is not None:
        effect = hitch_effect(tongue, vehicle.wheelbase)
        pull = float(effect.tongue_eff) * G
        force -= pull
        pitch -= pull * (vehicle.wheelbase + tongue.overhang) - float(effect.moment)
    mass, station = force / G, pitch / force
    usual = {
        "pitch": mass * station * (vehicle.wheelbase - station),
        "roll": mass * (0.2 * (vehicle.front.track + vehicle.rear.track)) ** 2,
    }
    told = {"pitch": run.pitch_inertia, "roll": run.roll_inertia}
    inertia = {name: usual[name] if value is None else value for name, value in told.items()}
    body = Body(
        mass=mass,
        station=station,
        lateral=lateral / force,
        **inertia,
        topple=over.sprung_mass * G * over.arm if over else mass * G * run.arm,
    )
    return body, tuple(f"{name} inertia" for name, value in told.items() if value is None)


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    """A run as integrated: the vehicle, and at every sample the seven places (m, rad), accelerations and the four tyre loads (N); fell: when the model no
    longer spoke of it (s), None where it always did."""

    set: RideSet
    ridden: Ridden
    x: FloatArray
    acc: FloatArray
    tyres: FloatArray
    fell: float | None = None

    def trace(self, values: FloatArray, station: float, lateral: float) -> FloatArray:
        """Return the body's motion at a place (station, lateral: m) out of the places or the accelerations (values: SI)."""
        body = self.ridden.body
        return values[:, 0] + (station - body.station) * values[:, 1] - (lateral - body.lateral) * values[:, 2]

    def travel(self, corner: int) -> FloatArray:
        """Return a wheel's travel (m) against the body, from the reference: 0 front left, 1 front right, 2 rear left, 3 rear right."""
        own, x = self.ridden, self.x
        moved = x[:, 0] + own.to_s[corner] * x[:, 1] - own.to_y[corner] * x[:, 2] - x[:, 3 + corner]
        return np.asarray(own.z0[corner] + moved)


def damper_power(run: Run, axle: AxleName) -> float:
    """Return the mean power (W) that the hotter damper of an axle turns into heat over a run."""
    damper = run.set.dampers.get(axle, NO_DAMPER)
    near, far = damper.parts(run.ridden.vehicle.axle(axle))
    i = 2 * AXLES.index(axle)
    moved = [np.gradient(run.travel(k), 1.0 / run.set.sample_rate) for k in (i, i + 1)]
    powers = []
    for own, other in (moved, moved[::-1]):
        speed = near * own + far * other
        powers.append(float(np.mean(damper.force(speed) * speed)))
    return max(powers)


def drive(vehicle: Vehicle, solved: SolvedState, run: RideSet) -> Run:
    """Return one run; see `drive_all`. Raises InputError for a run that leaves the model's reach."""
    (found,) = drive_all([(ridden(vehicle, solved, run), run)])
    if found.fell is not None:
        raise InputError(
            "run",
            run.speed,
            "the body would fall over or the motion grow without bound; check masses, rates and dampers",
        )
    return found


def drive_all(told: Sequence[tuple[Ridden, RideSet]], *, longest: float = LONGEST_STEP) -> list[Run]:
    """Return runs, all on one clock: each vehicle over its own road from its own static equilibrium.

    Arguments: told: vehicles with their runs, all of one duration and sample rate; longest: step of the integration at most, s. Fourth-order Runge-Kutta.
    Raises InputError for runs of several clocks. Source: method section 7.
    """
    clocks = {(run.duration, run.sample_rate) for _, run in told}
    if len(clocks) != 1:
        raise InputError("runs", len(clocks), "runs on one clock have one duration and one sample rate")
    ((duration, rate),) = clocks
    each = ceil(1.0 / (rate * longest) - 1e-9)
    step, count = 1.0 / (rate * each), round(duration * rate)
    system = _System(told, 0.5 * step, 2 * count * each + 1)
    x, acc, tyres = (np.empty((count + 1, len(told), n)) for n in (DOF, DOF, 4))
    s = np.zeros((len(told), 2 * DOF))
    with np.errstate(all="ignore"):  # a run without bound is told by its lean, at the end
        for n in range(count * each + 1):
            k1, loads = system.rates(s, 2 * n)
            if n % each == 0:
                x[n // each], acc[n // each], tyres[n // each] = s[:, :DOF], k1[:, DOF:], loads
            if n < count * each:
                s = system.step(s, k1, step, n)
    return [
        Run(set=run, ridden=one, x=x[:, n], acc=acc[:, n], tyres=tyres[:, n], fell=_fell(x[:, n, 2], rate))
        for n, (one, run) in enumerate(told)
    ]


def _fell(lean: FloatArray, rate: float) -> float | None:
    """Return when a body leaned further than the model speaks of (s), None where it never did."""
    beyond = np.flatnonzero(~(np.abs(lean) < FALLEN))
    return float(beyond[0] / rate) if len(beyond) else None


class _System:
    """The equations of several runs as one array; a state is the seven places and their speeds."""

    def __init__(self, told: Sequence[tuple[Ridden, RideSet]], half: float, halves: int) -> None:
        ridden_ = [one for one, _ in told]
        self.table: Lookup = lookup([one.forces for one in ridden_])
        rows = self.table.begins.shape[1]
        self.sees, self.push = np.zeros((len(told), rows, 2 * DOF)), np.zeros((len(told), DOF, rows))
        for n, one in enumerate(ridden_):
            place, speed = one.sees()
            size = len(place)
            self.sees[n, :size, :DOF], self.sees[n, :size, DOF:] = place, speed
            mass = np.array([one.body.mass, one.body.pitch, one.body.roll, *one.unsprung])
            self.push[n, :, :size] = -(place + speed).T / mass[:, None]
        self.tyre = np.array([one.tyre_rate for one in ridden_])
        self.n0 = np.array([one.n0 for one in ridden_])
        self.per_wheel = 1.0 / np.array([one.unsprung for one in ridden_])
        self.topple = np.array([one.body.topple / one.body.roll for one in ridden_])
        self.road = _roads(told, half, halves)
        self.turn = _turns(told, half, halves)
        pairs = {id(pair): pair for one in ridden_ for pair in one.forces.teed}
        self.teed = [
            (pair, [n for n, one in enumerate(ridden_) if any(pair is other for other in one.forces.teed)])
            for pair in pairs.values()
        ]

    def rates(self, s: FloatArray, at: int) -> tuple[FloatArray, FloatArray]:
        """Return how fast a state changes at a half step, and the tyres' loads (N)."""
        travel = np.matmul(self.sees, s[:, :, None])[:, :, 0]
        force = self.table.at(travel)
        for pair, runs in self.teed:
            left, right = pair.rows
            force[runs, left], force[runs, right] = pair.press(travel[runs, left], travel[runs, right])
        found = np.empty_like(s)
        found[:, :DOF] = s[:, DOF:]
        acc = found[:, DOF:]
        acc[:] = np.matmul(self.push, force[:, :, None])[:, :, 0]
        tyres = np.maximum(self.n0 + self.tyre * (s[:, 3:DOF] + self.road[at]), 0.0)
        acc[:, 3:] -= (tyres - self.n0) * self.per_wheel
        acc[:, 2] += self.topple * s[:, 2]
        if self.turn is not None:
            acc += self.turn[at]
        return found, tyres

    def step(self, s: FloatArray, k1: FloatArray, h: float, n: int) -> FloatArray:
        """Return the state a step (h: s) later; k1: how fast it changes at its beginning, the n-th."""
        k2, _ = self.rates(s + (h / 2) * k1, 2 * n + 1)
        k3, _ = self.rates(s + (h / 2) * k2, 2 * n + 1)
        k4, _ = self.rates(s + h * k3, 2 * n + 2)
        k2 += k3
        return np.asarray(s + (h / 6) * (k1 + 2.0 * k2 + k4))


def _roads(told: Sequence[tuple[Ridden, RideSet]], half: float, halves: int) -> FloatArray:
    """Return the roads under all wheels (m) at every half step; one that several drive over is made once."""
    made: dict[tuple[object, ...], FloatArray] = {}
    found = []
    for one, run in told:
        key = (run.road, run.speed, one.apart, one.wheelbase)
        if key not in made:
            made[key] = _road(one, run, half, halves)
        found.append(made[key])
    return np.stack(found, axis=1)


def _road(one: Ridden, run: RideSet, half: float, halves: int) -> FloatArray:
    """Return the road under the four wheels (m) at every half step."""
    along = run.speed * half * np.arange(halves)
    front = run.road.left_right(along, one.apart)
    rear = run.road.left_right(along - one.wheelbase, one.apart)
    return np.column_stack([*front, *rear])


def _turns(told: Sequence[tuple[Ridden, RideSet]], half: float, halves: int) -> FloatArray | None:
    """Return what manoeuvres and gusts add to the seven accelerations at every half step; None where there are none."""
    if all(run.manoeuvre.kind == "none" for _, run in told):
        return None
    t, found = half * np.arange(halves), np.zeros((halves, len(told), DOF))
    for n, (one, run) in enumerate(told):
        a_y, body = run.manoeuvre.at(t), one.body
        found[:, n, 2] = (body.mass * a_y * run.arm + run.manoeuvre.couple(t)) / body.roll
        for a, name in enumerate(AXLES if run.roll_centre else ()):
            # what goes through the roll centres loads the outer wheel (the right one in a left turn), and squashes its tyre
            share = body.station / one.wheelbase if a else 1.0 - body.station / one.wheelbase
            height = (run.roll_centre or {})[name]
            shift = body.mass * share * a_y * height / one.vehicle.axle(name).track
            for k, side in ((2 * a, -1.0), (2 * a + 1, 1.0)):
                found[:, n, 3 + k] = side * shift / one.unsprung[k]
    return found
