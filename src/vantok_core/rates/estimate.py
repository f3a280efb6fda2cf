"""Rates learned from tape readings, with honest bands: maximum a posteriori on the static model.

Unknowns: ln of the front and rear spring rate (a second stage goes with its first), one reference height per place and
datum (flat prior), and every load whose mass is uncertain. Heights come from the same static solve as every screen.
Source: method section 3.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import log, sqrt

import numpy as np
from scipy.optimize import least_squares

from vantok_core.errors import InputError, NoEquilibriumError, StateError
from vantok_core.loads.levers import Resultant, resultant
from vantok_core.num import FloatArray, G, Real, highest
from vantok_core.stance.assembly import assemble
from vantok_core.stance.newton import AxleStance, equilibrium
from vantok_core.stance.states import SolvedState, check_wheels, solve_states
from vantok_core.vehicle import AXLES, Axle, AxleName, LoadState, Tongue, Vehicle

SIGMA_LN_K = 0.25
"""Prior sigma of ln k (method section 3)."""
TONGUE = "tongue"
JUDGEABLE = 1e-6
"""Least share of a reading's variance that others must leave free for it to be judged."""
STEP = 1e-5
"""Relative step of the differences that give the Jacobian."""
STEP_OF_LOAD = 1e-4
"""Step of a load's direction, in its own sigma."""
KEPT = 8
"""Vehicles (kits and settings) whose drops a model keeps: what a page asks about, and no more."""


@dataclass(frozen=True, slots=True)
class Place:
    """Where a height is read: at "front" or "rear" (axle mean), a corner (FL ...), or "point" at station and lateral, m.

    datum: ground, hub, or any name of its own; all but hub include tyre squash. Raises InputError for a hub datum away
    from the wheels.
    """

    at: str
    datum: str
    station: float = 0.0
    lateral: float = 0.0

    def __post_init__(self) -> None:
        if self.at not in ("front", "rear", "FL", "FR", "RL", "RR", "point"):
            raise InputError("place", self.at, "it must be front, rear, a corner or a point")
        if self.at == "point" and self.datum == "hub":
            raise InputError("datum", "hub", "a point away from the wheels has no hub to read from")


@dataclass(frozen=True, slots=True, kw_only=True)
class HeightReading:
    """A height as read: state's name, place, value m, sigma m; with_kit: read after the kit was fitted."""

    state: str
    place: Place
    value: float
    sigma: float
    with_kit: bool = False

    def __post_init__(self) -> None:
        if not self.sigma > 0.0:
            raise InputError("sigma", self.sigma, "a reading's sigma must be above zero")


@dataclass(frozen=True, slots=True, kw_only=True)
class UncertainLoad:
    """A load known only to a sigma: mass kg, sigma kg (zero: exact)."""

    mass: float
    sigma: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Prediction:
    """A predicted height or drop (m) and the model's own sigma (m)."""

    value: float
    sigma: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Direction:
    """A direction in which a state's loads are uncertain: kg of each load, by name, for one unit of it."""

    states: tuple[str, ...]
    share: Mapping[str, float]


_Solved = tuple[SolvedState, tuple[int, ...], slice, int]
"""A solved state, the unknowns it was stepped in, which rows of its arrays are its own, and how many there are."""


@dataclass(frozen=True, slots=True)
class Drops:
    """A drop (m) at the unknowns and, in pairs, a step above and below each of those in `moving`."""

    values: FloatArray
    moving: tuple[int, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Suspect:
    """A reading with its misfit over its own standard deviation, and the change (m) that would make it agree best."""

    reading: HeightReading
    standardised: float
    closing: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Estimate:
    """What the readings taught.

    vehicle: with its rates at their best values; k: N/m by axle; sigma_ln: sigma of ln k by axle; correlation of the two;
    loads: kg, best values by name; loads_sigma: kg; heights: m by place; chi2: minimised sum, priors included;
    misfits: (read - predicted) over sigma, reading by reading.
    """

    vehicle: Vehicle
    k: dict[AxleName, float]
    sigma_ln: dict[AxleName, float]
    correlation: float
    loads: dict[str, float]
    loads_sigma: dict[str, float]
    heights: dict[Place, float]
    chi2: float
    misfits: tuple[float, ...]
    problem: EstimationProblem
    covariance: FloatArray
    best: FloatArray
    kept: deque[tuple[Vehicle, dict[str, dict[Place, tuple[float, FloatArray]]]]] = field(
        default_factory=lambda: deque(maxlen=KEPT), init=False, repr=False, compare=False
    )

    def suspects(self) -> list[Suspect]:
        """Return the readings by how badly they fit, worst first, each with the change that would make it agree best.

        A misfit is judged against its own standard deviation, `sigma sqrt(1 - h)`, h the reading's leverage with the
        priors counted in; a reading nothing else speaks to cannot be judged and is left out.
        """
        _, jacobian = self.problem.residuals(self.best)
        rows = jacobian[: len(self.problem.readings)]
        leverage = np.einsum("ij,jk,ik->i", rows, self.covariance, rows)
        found = []
        for reading, misfit, h in zip(self.problem.readings, self.misfits, leverage, strict=True):
            free = 1.0 - float(h)
            if free > JUDGEABLE:
                closing = -misfit * reading.sigma / free
                found.append(Suspect(reading=reading, standardised=misfit / sqrt(free), closing=closing))
        return sorted(found, key=lambda s: -abs(s.standardised))

    def height(self, state: str, place: Place, vehicle: Vehicle | None = None) -> Prediction:
        """Return the height at a place; raises InputError where no reading ever gave that place a reference."""
        slope = self.height_slope(state, place, vehicle)
        return self._with_sigma(self.heights[place] - self._drop(state, place, vehicle)[0], slope)

    def height_slope(self, state: str, place: Place, vehicle: Vehicle | None = None) -> FloatArray:
        """Return the slope of a height (m) in each unknown, in the covariance's order. Raises InputError as `height`."""
        if place not in self.heights:
            raise InputError("place", f"{place.at} {place.datum}", "no reading gives this place a reference height")
        row = np.zeros(len(self.best))
        row[2 + list(self.heights).index(place)] = 1.0
        return row - self._drop(state, place, vehicle)[1]

    def drop(self, state: str, place: Place, vehicle: Vehicle | None = None) -> Prediction:
        """Return the drop from the reference; `vehicle` may be the same one with a kit fitted."""
        drop, gradient = self._drop(state, place, vehicle)
        return self._with_sigma(drop, gradient)

    def _drop(self, state: str, place: Place, vehicle: Vehicle | None) -> tuple[float, FloatArray]:
        """Return a drop and its gradient; a state's places are worked out together, once for each of the last few vehicles."""
        used = vehicle or self.problem.vehicle
        known = next((k for v, k in self.kept if v is used), None)
        if known is None:
            known = {}
            self.kept.append((used, known))
        if state not in known:
            wanted = [(state, p) for p in ALWAYS]
            known[state] = dict(zip(ALWAYS, self._drops(wanted, vehicle), strict=True))
        if place not in known[state]:
            known[state][place] = self._drops([(state, place)], vehicle)[0]
        return known[state][place]

    def _drops(self, wanted: Sequence[tuple[str, Place]], vehicle: Vehicle | None) -> list[tuple[float, FloatArray]]:
        drops = self.problem.drops(self.best, wanted, vehicle)
        gradients = self.problem.gradients(self.best, drops)
        return [(float(d.values[0]), g) for d, g in zip(drops, gradients, strict=True)]

    def _with_sigma(self, value: float, gradient: FloatArray) -> Prediction:
        variance = float(gradient @ self.covariance @ gradient)
        return Prediction(value=value, sigma=sqrt(max(variance, 0.0)))


ALWAYS = tuple(Place(at, datum) for at in AXLES for datum in ("ground", "hub"))
"""Places that one solve of a state serves together."""


@dataclass(frozen=True, kw_only=True)
class EstimationProblem:
    """Everything the estimation stands on: the vehicle at its prior rates, states, readings, uncertain loads by item name.

    sigma_ln: prior sigma of ln k by axle; a load is recognised in the states by the name of its item, the tongue by
    `state:tongue`. fitted: the same vehicle with the kit on it, for readings taken with the kit.
    """

    vehicle: Vehicle
    states: Sequence[LoadState]
    readings: Sequence[HeightReading]
    loads: Mapping[str, UncertainLoad]
    sigma_ln: Mapping[AxleName, float]
    fitted: Vehicle | None = None

    @cached_property
    def places(self) -> list[Place]:
        """The places read, each once, in order of reading."""
        return list(dict.fromkeys(r.place for r in self.readings))

    @cached_property
    def directions(self) -> tuple[Direction, ...]:
        """The unknown directions of the loads, each with a standard normal prior.

        The static solve feels of a state's loads only their sum and two moments. So however many loads a state carries, at
        most three directions of them can be told, and only those are searched; what lies across them stays at its prior.
        """
        carriers: dict[str, list[str]] = {}
        for state in self.states:
            for name in {*(item.name for item in state.items), f"{state.name}:{TONGUE}"} & self.loads.keys():
                carriers.setdefault(name, []).append(state.name)
        by_states: dict[tuple[str, ...], list[str]] = {}
        for name, carried in carriers.items():
            if self.loads[name].sigma > 0.0:
                by_states.setdefault(tuple(carried), []).append(name)
        found: list[Direction] = []
        for states, names in by_states.items():
            found += self._felt(states[0], names) if len(states) == 1 else [self._alone(states, n) for n in names]
        return tuple(found)

    def _alone(self, states: tuple[str, ...], name: str) -> Direction:
        return Direction(states=states, share={name: self.loads[name].sigma})

    def _felt(self, state: str, names: list[str]) -> list[Direction]:
        """Return the directions of one state's loads that the static solve feels."""
        plain = next(s for s in self.states if s.name == state)
        length, sigmas = self.vehicle.wheelbase, [self.loads[n].sigma for n in names]
        lever: dict[str, tuple[Real, Real, Real]] = {
            item.name: (1.0, item.station / length, item.lateral / length) for item in plain.items
        }
        if plain.tongue is not None:
            more = replace(plain, items=(), tongue=replace(plain.tongue, mass=plain.tongue.mass + 1.0))
            one, base = resultant(self.vehicle, more), resultant(self.vehicle, replace(plain, items=()))
            lever[f"{state}:{TONGUE}"] = ((one.force - base.force) / G, (one.pitch - base.pitch) / (G * length), 0.0)
        felt = [[float(part) * sigma for part in lever[n]] for n, sigma in zip(names, sigmas, strict=True)]
        _, size, across = np.linalg.svd(np.array(felt).T, full_matrices=False)
        told = across[size > 1e-9 * max(float(size[0]), 1.0)]
        return [
            Direction(states=(state,), share={n: float(row[i]) * self.loads[n].sigma for i, n in enumerate(names)})
            for row in told
        ]

    @cached_property
    def _by_state(self) -> dict[str, list[int]]:
        """The directions that each state's loads are uncertain in, by their place among the directions."""
        found: dict[str, list[int]] = {state.name: [] for state in self.states}
        for i, direction in enumerate(self.directions):
            for name in direction.states:
                found[name].append(i)
        return found

    def masses(self, v: FloatArray, states: Sequence[str]) -> dict[str, Real]:
        """Return the masses (kg) by name of some states' uncertain loads at the directions' values (rows of values give an
        array each)."""
        found: dict[str, Real] = {}
        for i in dict.fromkeys(i for state in states for i in self._by_state[state]):
            for name, share in self.directions[i].share.items():
                found[name] = found.get(name, self.loads[name].mass) + share * v[..., i]
        return found

    def spread(self, covariance: FloatArray) -> dict[str, float]:
        """Return every load's sigma (kg) by name, from the covariance of the directions."""
        told = {name: np.zeros(len(self.directions)) for name in self.loads}
        for i, direction in enumerate(self.directions):
            for name, share in direction.share.items():
                told[name][i] = share
        return {
            name: sqrt(
                max(load.sigma**2 - float(told[name] @ told[name]) + float(told[name] @ covariance @ told[name]), 0.0)
            )
            for name, load in self.loads.items()
        }

    def start(self) -> FloatArray:
        """Return the prior: ln k, first readings as reference heights, loads as stated."""
        first: dict[Place, float] = {}
        for reading in self.readings:
            first.setdefault(reading.place, reading.value)
        logs = [log(float(self.vehicle.axle(a).spring.k)) for a in AXLES]
        return np.array([*logs, *first.values(), *(0.0 for _ in self.directions)])

    def drops(self, x: FloatArray, wanted: Sequence[tuple[str, Place]], vehicle: Vehicle | None = None) -> list[Drops]:
        """Return the drop at each wanted (state, place): entry 0 at x, then pairs a step above and below each unknown that
        the state depends on."""
        used = vehicle or self.vehicle
        names = list(dict.fromkeys(state for state, _ in wanted))
        solved = self._stacked(x, names, used) if len(names) > 1 and not _sealed(used) else None
        if solved is None:
            solved = {name: self._solved(x, name, used) for name in names}
        found = []
        for name, place in wanted:
            one, moving, part, rows = solved[name]
            found.append(Drops(np.broadcast_to(np.asarray(place_drop(one, place)), rows)[part], moving))
        return found

    def _solved(self, x: FloatArray, name: str, vehicle: Vehicle) -> _Solved:
        """Return a state solved at the unknowns and a step to either side of those it depends on, with its rows."""
        used = _states_needed(vehicle, self.states, {name})
        moving = self._moving({state.name for state in used})
        rows = self._steps(x, moving)
        changed = _with_rates(vehicle, np.exp(rows[:, 0]), np.exp(rows[:, 1]), self.vehicle)
        masses = self.masses(rows[:, 2 + len(self.places) :], [state.name for state in used])
        solved = solve_states(changed, [with_masses(state, masses) for state in used], check_limits=False)[name]
        return solved, tuple(moving), slice(0, len(rows)), len(rows)

    def _stacked(self, x: FloatArray, names: Sequence[str], vehicle: Vehicle) -> dict[str, _Solved] | None:
        """Return several states solved as one batch, where no air joins them; None where the batch does not settle, and each
        state is then solved for itself, to be named."""
        by_name = {state.name: state for state in self.states}
        moving = {name: self._moving({name}) for name in names}
        rows = [self._steps(x, moving[name]) for name in names]
        loads = [
            resultant(vehicle, with_masses(by_name[name], self.masses(part[:, 2 + len(self.places) :], [name])))
            for name, part in zip(names, rows, strict=True)
        ]

        def stack(values: Sequence[Real]) -> FloatArray:
            return np.concatenate(
                [np.broadcast_to(np.asarray(v, float), len(p)) for v, p in zip(values, rows, strict=True)]
            )

        ends = np.cumsum([len(part) for part in rows]).tolist()
        whole = np.concatenate(rows)
        changed = _with_rates(vehicle, np.exp(whole[:, 0]), np.exp(whole[:, 1]), self.vehicle)
        load = Resultant(
            force=stack([q.force for q in loads]), pitch=stack([q.pitch for q in loads]), lateral=stack([q.lateral for q in loads]),
            topple=stack([q.topple for q in loads]),
        )  # fmt: skip
        assembly = assemble(changed)
        try:
            one = SolvedState(by_name[names[0]], assembly, equilibrium(assembly, load, names[0]))
            check_wheels(one)
        except StateError:
            return None
        return {
            name: (one, tuple(moving[name]), slice(end - len(part), end), len(whole))
            for name, part, end in zip(names, rows, ends, strict=True)
        }

    def _steps(self, x: FloatArray, moving: Sequence[int]) -> FloatArray:
        """Return x and, below it, x moved up and down in each of the unknowns."""
        rows = np.tile(x, (1 + 2 * len(moving), 1))
        for i, j in enumerate(moving):
            rows[1 + 2 * i, j] += self._step(j)
            rows[2 + 2 * i, j] -= self._step(j)
        return rows

    def _moving(self, states: set[str]) -> list[int]:
        """Return the unknowns that these states depend on: the rates, and the directions of their loads."""
        first = 2 + len(self.places)
        return [0, 1, *sorted({first + i for name in states for i in self._by_state[name]})]

    @staticmethod
    def _step(j: int) -> float:
        return STEP if j < 2 else STEP_OF_LOAD

    def gradients(self, x: FloatArray, drops: Sequence[Drops]) -> list[FloatArray]:
        """Return the gradient of each drop from its differences."""
        found = []
        for drop in drops:
            gradient = np.zeros(len(x))
            for i, j in enumerate(drop.moving):
                gradient[j] = (drop.values[1 + 2 * i] - drop.values[2 + 2 * i]) / (2.0 * self._step(j))
            found.append(gradient)
        return found

    def _reading_drops(self, x: FloatArray) -> list[Drops]:
        """Return the drops of all readings in their order, each with the vehicle it was read on."""
        found: dict[int, Drops] = {}
        for with_kit, vehicle in ((False, self.vehicle), (True, self.fitted)):
            chosen = [i for i, r in enumerate(self.readings) if r.with_kit == with_kit]
            if not chosen:
                continue
            if vehicle is None:
                raise InputError("readings", "with a kit", "the fitted vehicle is needed to use them")
            wanted = [(self.readings[i].state, self.readings[i].place) for i in chosen]
            found |= dict(zip(chosen, self.drops(x, wanted, vehicle), strict=True))
        return [found[i] for i in range(len(self.readings))]

    def residuals(self, x: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return the weighted residuals (readings, then priors) and their Jacobian."""
        places, first = self.places, 2 + len(self.places)
        drops = self._reading_drops(x)
        rows, jacobian = [], []
        for reading, drop, gradient in zip(self.readings, drops, self.gradients(x, drops), strict=True):
            place = 2 + places.index(reading.place)
            row = -gradient
            row[place] += 1.0
            rows.append((x[place] - drop.values[0] - reading.value) / reading.sigma)
            jacobian.append(row / reading.sigma)
        prior, unit = self.start(), np.eye(len(x))
        for j, axle in enumerate(AXLES):
            rows.append((x[j] - prior[j]) / self.sigma_ln[axle])
            jacobian.append(unit[j] / self.sigma_ln[axle])
        for j in range(first, len(x)):
            rows.append(x[j])
            jacobian.append(unit[j])
        return np.array(rows), np.array(jacobian)


def estimate(problem: EstimationProblem, near: Estimate | None = None) -> Estimate:
    """Return rates, loads and reference heights that fit readings and priors best, with their covariance.

    near: an estimate of nearly the same readings, from which the search starts; the end is the same, found sooner.

    Raises InputError for a bad reading or load, StateError from the static solve, NoEquilibriumError when the search
    does not settle. Source: method section 3; covariance from the inverse of `J^T J`, priors' rows included.
    """
    cache: dict[bytes, tuple[FloatArray, FloatArray]] = {}

    def both(x: FloatArray) -> tuple[FloatArray, FloatArray]:
        key = x.tobytes()
        if key not in cache:
            cache[key] = problem.residuals(x)
        return cache[key]

    start = problem.start()
    scale = np.array([1.0, 1.0, *(0.01 for _ in problem.places), *(1.0 for _ in problem.directions)])

    def misfit(q: FloatArray) -> FloatArray:
        return both(start + q * scale)[0]

    def slope(q: FloatArray) -> FloatArray:
        return np.asarray(both(start + q * scale)[1] * scale)

    found = least_squares(
        misfit,
        (_from(problem, near, start) - start) / scale if near is not None else np.zeros(len(start)),
        jac=slope,
        xtol=1e-8, ftol=1e-8, gtol=1e-8, max_nfev=60,
    )  # fmt: skip
    if not found.success:
        raise NoEquilibriumError("estimation", "the readings could not be fitted; look for a reading far off.")
    x = start + found.x * scale
    residuals, jacobian = both(x)
    covariance = np.linalg.inv(jacobian.T @ jacobian)
    sigma = np.sqrt(np.diag(covariance))
    places, first = problem.places, 2 + len(problem.places)
    k_f, k_r = float(np.exp(x[0])), float(np.exp(x[1]))
    stated: dict[str, float] = {name: load.mass for name, load in problem.loads.items()}
    found_masses = problem.masses(x[first:], [state.name for state in problem.states])
    masses = stated | {name: float(mass) for name, mass in found_masses.items()}
    return Estimate(
        vehicle=_with_rates(problem.vehicle, k_f, k_r, problem.vehicle),
        k={"front": k_f, "rear": k_r},
        sigma_ln={"front": float(sigma[0]), "rear": float(sigma[1])},
        correlation=float(covariance[0, 1] / (sigma[0] * sigma[1])),
        loads=masses,
        loads_sigma=problem.spread(covariance[first:, first:]),
        heights={place: float(x[2 + i]) for i, place in enumerate(places)},
        chi2=float(residuals @ residuals),
        misfits=tuple((-residuals[: len(problem.readings)]).tolist()),
        problem=problem, covariance=covariance, best=x,
    )  # fmt: skip


def _from(problem: EstimationProblem, near: Estimate, start: FloatArray) -> FloatArray:
    """Return the unknowns at another estimate's values, as far as it has them."""
    x = start.copy()
    x[:2] = [log(near.k[axle]) for axle in AXLES]
    for i, place in enumerate(problem.places):
        x[2 + i] = near.heights.get(place, x[2 + i])
    if len(near.problem.directions) == len(problem.directions):
        x[2 + len(problem.places) :] = near.best[2 + len(near.problem.places) :]
    return x


def place_drop(solved: SolvedState, place: Place) -> Real:
    """Return the drop (m) of a place in a solved state, on its datum."""
    if place.at == "point":
        at = solved.at
        return at.u + place.station * at.theta - at.phi * place.lateral
    axle_name: AxleName = "front" if place.at[0].lower() == "f" else "rear"
    stance: AxleStance = solved.axle(axle_name)[1]
    left, right = stance.z if place.datum == "hub" else stance.d
    if place.at in AXLES:
        return 0.5 * (left + right)
    return left if place.at.endswith("L") else right


def _rated(axle: Axle, rate: Real, prior: Axle) -> Axle:
    """Return the axle with its spring at a rate (N/m), a second stage in the prior's proportion to the first."""
    second = prior.spring.k2 * rate / prior.spring.k if highest(prior.spring.k2) > 0.0 else 0.0
    return replace(axle, spring=replace(axle.spring, k=rate, k2=second))


def _with_rates(vehicle: Vehicle, front: Real, rear: Real, prior: Vehicle) -> Vehicle:
    return replace(
        vehicle, front=_rated(vehicle.front, front, prior.front), rear=_rated(vehicle.rear, rear, prior.rear)
    )


def with_masses(state: LoadState, masses: Mapping[str, Real]) -> LoadState:
    """Return the state with the given masses (kg) by item name; the tongue's is `state:tongue`."""
    items = tuple(replace(item, mass=masses.get(item.name, item.mass)) for item in state.items)
    tongue: Tongue | None = state.tongue
    name = f"{state.name}:{TONGUE}"
    if tongue is not None and name in masses:
        # The spring bars were set for the stated tongue; their moment stays.
        tongue = replace(tongue, mass=masses[name])
    return replace(state, items=items, tongue=tongue)


def _sealed(vehicle: Vehicle) -> bool:
    """Tell whether air shut in one state joins the states of a vehicle."""
    return any(e.set_state for axle in (vehicle.front, vehicle.rear) for e in axle.elements)


def _states_needed(vehicle: Vehicle, states: Sequence[LoadState], names: set[str]) -> list[LoadState]:
    """Return the wanted states and those in which an air spring is set."""
    setting = {e.set_state for axle in (vehicle.front, vehicle.rear) for e in axle.elements if e.set_state}
    return [state for state in states if state.name in names | setting]
