"""What an estimation stands on: readings, uncertain loads, and the drops and slopes of every reading at a trial.

Source: method section 3.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from math import log

import numpy as np

from vantok_core.base.errors import InputError, StateError
from vantok_core.base.num import FloatArray, Real
from vantok_core.physics.levers import Resultant, resultant
from vantok_core.physics.stance.assembly import assemble
from vantok_core.physics.stance.newton import equilibrium
from vantok_core.physics.stance.states import SolvedState, check_wheels, solve_states
from vantok_core.physics.vehicle import AXLES, AxleName, LoadState, Vehicle
from vantok_core.rates.directions import Direction, directions, shares_of
from vantok_core.rates.places import Place, place_drop
from vantok_core.rates.stepped import STEP_OF_LOAD, Drops, Steps
from vantok_core.rates.strength import as_strong, with_strength
from vantok_core.rates.traits import Trait, with_traits
from vantok_core.rates.trial import with_masses, with_rates

MANY_ROWS = 500
"""Rows from which a solve takes longer for being wider."""


@dataclass(frozen=True, slots=True, kw_only=True)
class HeightReading:
    """A height as read: state's name, place, value m, sigma m; kits: on which of the fitted vehicles (0: before any kit, 1: the
    first of them)."""

    state: str
    place: Place
    value: float
    sigma: float
    kits: int = 0

    def __post_init__(self) -> None:
        if not self.sigma > 0.0:
            raise InputError("sigma", self.sigma, "a reading's sigma must be above zero")


@dataclass(frozen=True, slots=True, kw_only=True)
class UncertainLoad:
    """A load known only to a sigma: mass kg, sigma kg (zero: exact)."""

    mass: float
    sigma: float


_Solved = tuple[SolvedState, tuple[int, ...], slice, int]
"""A solved state, the unknowns it was stepped in, which rows of its arrays are its own, and how many there are."""


@dataclass(frozen=True, kw_only=True)
class EstimationProblem:
    """Everything the estimation stands on: the vehicle at its prior rates, states, readings, uncertain loads by item name.

    sigma_ln: prior sigma of ln k by axle; a load is recognised in the states by the name of its item, the tongue by
    `state:tongue`. fitted: the same vehicle with kits on it, for readings taken with those. strengths: sigma of ln a by
    element name, a being the factor on its force; an unknown each where that is above zero. traits: what else of the
    vehicle nobody has read, an unknown each.
    """

    vehicle: Vehicle
    states: Sequence[LoadState]
    readings: Sequence[HeightReading]
    loads: Mapping[str, UncertainLoad]
    sigma_ln: Mapping[AxleName, float]
    fitted: Sequence[Vehicle] = ()
    strengths: Mapping[str, float] = field(default_factory=dict)
    traits: Sequence[Trait] = ()

    @cached_property
    def places(self) -> list[Place]:
        """The places read, each once, in order of reading."""
        return list(dict.fromkeys(r.place for r in self.readings))

    @cached_property
    def directions(self) -> tuple[Direction, ...]:
        """The unknown directions of the loads, each with a standard normal prior."""
        return directions(self.vehicle, self.states, {name: load.sigma for name, load in self.loads.items()})

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

    def load_covariance(self, names: Sequence[str], covariance: FloatArray) -> FloatArray:
        """Return the covariance (kg^2, in kg) of some loads by name, from that of the directions (1): what lies across these stays at its prior."""
        told = shares_of(names, self.directions)
        felt = np.flatnonzero(told.any(axis=0))  # of a job's many directions, those of these loads
        told, covariance = told[:, felt], covariance[np.ix_(felt, felt)]
        prior = np.diag([self.loads[name].sigma ** 2 for name in names]) - told @ told.T
        return np.asarray(prior + told @ covariance @ told.T)

    def start(self) -> FloatArray:
        """Return the prior: ln k, first readings as reference heights, loads as stated."""
        first: dict[Place, float] = {}
        for reading in self.readings:
            first.setdefault(reading.place, reading.value)
        logs = [log(float(self.vehicle.axle(a).spring.k)) for a in AXLES]
        return np.array([*logs, *first.values(), *(0.0 for _ in (*self.directions, *self.kits, *self.traits))])

    @cached_property
    def kits(self) -> tuple[str, ...]:
        """The elements whose strength is unknown, each as ln a over its sigma (a standard normal prior)."""
        return tuple(name for name, sigma in self.strengths.items() if sigma > 0.0)

    @property
    def first_load(self) -> int:
        """Where the loads' directions stand among the unknowns."""
        return 2 + len(self.places)

    @property
    def first_kit(self) -> int:
        """Where the kits' strengths stand among the unknowns."""
        return 2 + len(self.places) + len(self.directions)

    @property
    def first_trait(self) -> int:
        """Where the vehicle's traits stand among the unknowns."""
        return self.first_kit + len(self.kits)

    @cached_property
    def kinked(self) -> int | None:
        """Where the first trait whose kink can lie to either side of what was read stands among the unknowns; None where there is none."""
        return next((self.first_trait + i for i, trait in enumerate(self.traits) if trait.fixed is not None), None)

    def at_unknowns(self, vehicle: Vehicle, x: FloatArray) -> Vehicle:
        """Return the vehicle at trial rates and traits (ln k, m, sigmas; rows an array each)."""
        rated = with_rates(vehicle, np.exp(x[..., 0]), np.exp(x[..., 1]), self.vehicle)
        return with_traits(rated, self.traits, x[..., self.first_trait :], self.vehicle)

    def strength(self, x: FloatArray) -> dict[str, Real]:
        """Return the factor on each element's force at x (ln k, m, sigmas), rows of x an array each."""
        return {name: np.exp(self.strengths[name] * x[..., self.first_kit + i]) for i, name in enumerate(self.kits)}

    def drops(
        self,
        xs: Sequence[FloatArray],
        wanted: Sequence[tuple[str, Place]],
        vehicle: Vehicle | None = None,
        *,
        wide: bool = True,
        kinks: bool = True,
    ) -> list[list[Drops]]:
        """Return the drop (m) at each wanted (state, place), at each of some values xs of the unknowns (ln k, m, sigmas): entry 0 there, then
        pairs a step above and below each unknown that the state depends on.

        wide: the step of a trait is its own sigma, so that a kink within its reach is felt (where a vehicle can be solved that far out:
        else a small one); kinks: whether that unknown is stepped of which xs tries several values already (`kinked`).
        """
        used = vehicle or self.vehicle
        if not wide:
            return self._drops(xs, wanted, used, Steps(wide=False, kinks=kinks))
        try:
            return self._drops(xs, wanted, used, Steps(wide=True, kinks=kinks))
        except StateError:
            if len(xs) > 1:
                return [self.drops([x], wanted, used, kinks=kinks)[0] for x in xs]
            return self._drops(xs, wanted, used, Steps(wide=False, kinks=kinks))

    def _drops(
        self, xs: Sequence[FloatArray], wanted: Sequence[tuple[str, Place]], used: Vehicle, steps: Steps
    ) -> list[list[Drops]]:
        names = list(dict.fromkeys(state for state, _ in wanted))
        alike = not _sealed(used) and not any(s.laws or s.off_bars for s in self.states)
        solved = self._stacked(xs, names, used, steps) if len(names) > 1 and alike else None
        if solved is None:
            solved = self._in_rows(xs, names, used, steps)
        found: list[list[Drops]] = [[] for _ in xs]
        for name, place in wanted:
            one, moving, part, rows = solved[name]
            values = np.broadcast_to(np.asarray(place_drop(one, place)), rows)[part]
            for at, own in zip(found, np.split(values, len(xs)), strict=True):
                at.append(Drops(own, moving, steps.wide))
        return found

    def drops_of_strength(
        self,
        xs: Sequence[FloatArray],
        wanted: Sequence[tuple[str, Place]],
        vehicle: Vehicle,
        strengths: Mapping[str, float],
        near: Mapping[str, SolvedState] | None = None,
        *,
        kinks: bool = True,
    ) -> list[list[tuple[Drops, float]]]:
        """Return the drop (m) at each wanted (state, place), as `drops` has it at each of xs (ln k, m, sigmas; kinks: as there), and the part (m) of its sigma
        that comes from elements whose strength nobody has read (by name, sigma of ln a): one solve for all, begun from those near by, where
        some are."""
        try:
            return self._drops_of_strength(xs, wanted, vehicle, (strengths, near), Steps(wide=True, kinks=kinks))
        except StateError:
            return self._drops_of_strength(xs, wanted, vehicle, (strengths, near), Steps(wide=False, kinks=kinks))

    def _drops_of_strength(
        self,
        xs: Sequence[FloatArray],
        wanted: Sequence[tuple[str, Place]],
        vehicle: Vehicle,
        strong: tuple[Mapping[str, float], Mapping[str, SolvedState] | None],
        steps: Steps,
    ) -> list[list[tuple[Drops, float]]]:
        strengths, near = strong
        names = {state for state, _ in wanted}
        moving = self._moving({one.name for one in _states_needed(vehicle, self.states, names)}, steps)
        first = 1 + 2 * len(moving)
        blocks = [np.vstack([self._steps([x], moving, steps), *(np.tile(x, (2, 1)) for _ in strengths)]) for x in xs]
        rows, size = np.concatenate(blocks), len(blocks[0])
        factors: dict[str, Real] = {}
        for i, (name, sigma) in enumerate(strengths.items()):
            one = np.ones(size)
            one[first + 2 * i : first + 2 * i + 2] = np.exp([STEP_OF_LOAD * sigma, -STEP_OF_LOAD * sigma])
            factors[name] = np.tile(one, len(xs))
        solved = self._solved_at(rows, names, with_strength(vehicle, factors), near)
        found: list[list[tuple[Drops, float]]] = [[] for _ in xs]
        for state, place in wanted:
            values = np.broadcast_to(np.asarray(place_drop(solved[state], place)), len(rows))
            for at, drop in zip(found, np.split(values, len(xs)), strict=True):
                slopes = (drop[first::2] - drop[first + 1 :: 2]) / (2.0 * STEP_OF_LOAD)
                at.append((Drops(drop[:first], tuple(moving), steps.wide), float(np.sqrt(slopes @ slopes))))
        return found

    def at(self, rows: FloatArray, state: str, place: Place, vehicle: Vehicle | None = None) -> FloatArray:
        """Return a place's drop (m) in a state at many trials of the unknowns at once (rows of ln k, m, sigmas)."""
        return np.asarray(self.all_at(rows, [(state, place)], vehicle)[0])

    def all_at(
        self, rows: FloatArray, wanted: Sequence[tuple[str, Place]], vehicle: Vehicle | None = None
    ) -> FloatArray:
        """Return the drop (m) at places in states, a row each, at many trials of the unknowns, a column each: every state is solved once."""
        solved = self._solved_at(rows, {state for state, _ in wanted}, vehicle or self.vehicle)
        found = {
            (state, place): np.broadcast_to(np.asarray(place_drop(solved[state], place)), len(rows))
            for state, place in dict.fromkeys(wanted)
        }
        return np.array([found[one] for one in wanted]).reshape(len(wanted), len(rows))

    def _in_rows(
        self, xs: Sequence[FloatArray], names: Sequence[str], vehicle: Vehicle, steps: Steps
    ) -> dict[str, _Solved]:
        """Return states solved at some values of the unknowns and a step to either side of those they depend on, with their rows: all in the same
        ones, so that a state in which air is shut is solved once for all; each in its own where those would be many."""
        used = _states_needed(vehicle, self.states, set(names))
        moving = self._moving({state.name for state in used}, steps)
        if len(names) > 1 and len(xs) * (1 + 2 * len(moving)) > MANY_ROWS:
            return {name: self._in_rows(xs, [name], vehicle, steps)[name] for name in names}
        rows = self._steps(xs, moving, steps)
        solved = self._solved_at(rows, set(names), vehicle)
        return {name: (solved[name], tuple(moving), slice(0, len(rows)), len(rows)) for name in names}

    def _solved_at(
        self, rows: FloatArray, names: set[str], vehicle: Vehicle, near: Mapping[str, SolvedState] | None = None
    ) -> dict[str, SolvedState]:
        used = _states_needed(vehicle, self.states, names)
        changed = self.at_unknowns(vehicle, rows)
        masses = self.masses(rows[:, 2 + len(self.places) :], [state.name for state in used])
        loaded = [with_masses(state, masses) for state in used]
        if self.kits:
            strength = self.strength(rows)
            changed, loaded = with_strength(changed, strength), [as_strong(state, strength) for state in loaded]
        return solve_states(changed, loaded, check_limits=False, near=near)

    def _stacked(
        self, xs: Sequence[FloatArray], names: Sequence[str], vehicle: Vehicle, steps: Steps
    ) -> dict[str, _Solved] | None:
        """Return several states solved as one batch, where no air joins them; None where the batch does not settle, and each
        state is then solved for itself, to be named."""
        by_name = {state.name: state for state in self.states}
        moving = {name: self._moving({name}, steps) for name in names}
        rows = [self._steps(xs, moving[name], steps) for name in names]
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
        changed = with_strength(self.at_unknowns(vehicle, whole), self.strength(whole))
        load = Resultant(
            force=stack([q.force for q in loads]),
            pitch=stack([q.pitch for q in loads]),
            lateral=stack([q.lateral for q in loads]),
            topple=stack([q.topple for q in loads]),
        )
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

    def _steps(self, xs: Sequence[FloatArray], moving: Sequence[int], steps: Steps) -> FloatArray:
        """Return each x and, below it, x moved up and down in each of the unknowns."""
        blocks = []
        for x in xs:
            rows = np.tile(x, (1 + 2 * len(moving), 1))
            for i, j in enumerate(moving):
                rows[1 + 2 * i, j] += steps.of(j, self.first_trait)
                rows[2 + 2 * i, j] -= steps.of(j, self.first_trait)
            blocks.append(rows)
        return np.concatenate(blocks)

    def _moving(self, states: set[str], steps: Steps) -> list[int]:
        """Return the unknowns that these states depend on: the rates, the directions of their loads, kits' strengths, traits."""
        loads = sorted({self.first_load + i for name in states for i in self._by_state[name]})
        more = range(self.first_kit, self.first_trait + len(self.traits))
        return [0, 1, *loads, *(j for j in more if steps.kinks or j != self.kinked)]

    def gradients(self, x: FloatArray, drops: Sequence[Drops]) -> list[FloatArray]:
        """Return the gradient of each drop (m) in each unknown of x (ln k, m, or a load's own sigma) from its differences."""
        return [drop.gradient(len(x), self.first_trait) for drop in drops]

    def _reading_drops(self, xs: Sequence[FloatArray], *, wide: bool, kinks: bool) -> list[list[Drops]]:
        """Return at each x the drops of all readings in their order, each with the vehicle it was read on."""
        found: list[dict[int, Drops]] = [{} for _ in xs]
        if max((r.kits for r in self.readings), default=0) > len(self.fitted):
            raise InputError("readings", "with a kit", "the fitted vehicle is needed to use them")
        for kits, vehicle in enumerate((self.vehicle, *self.fitted)):
            chosen = [i for i, r in enumerate(self.readings) if r.kits == kits]
            if not chosen:
                continue
            wanted = [(self.readings[i].state, self.readings[i].place) for i in chosen]
            for at, drops in zip(found, self.drops(xs, wanted, vehicle, wide=wide, kinks=kinks), strict=True):
                at |= dict(zip(chosen, drops, strict=True))
        return [[at[i] for i in range(len(self.readings))] for at in found]

    def residuals(
        self, xs: Sequence[FloatArray], at: Sequence[FloatArray] = (), *, wide: bool = False
    ) -> list[tuple[FloatArray, FloatArray]]:
        """Return the weighted residuals (readings, then priors) and their Jacobian at each x (ln k, reference heights m, the rest in sigmas), one solve for
        all; at: what is taken as known of each (sigmas), added to x and not itself sought (`kinked`); wide: see `drops`."""
        solved = [x + known for x, known in zip(xs, at, strict=True)] if at else xs
        drops = self._reading_drops(solved, wide=wide, kinks=not at)
        return [self._weighed(x, of) for x, of in zip(xs, drops, strict=True)]

    def _weighed(self, x: FloatArray, drops: Sequence[Drops]) -> tuple[FloatArray, FloatArray]:
        places = self.places
        rows, jacobian = [], [np.empty((0, len(x)))]
        for reading, drop, gradient in zip(self.readings, drops, self.gradients(x, drops), strict=True):
            place = 2 + places.index(reading.place)
            row = -gradient
            row[place] += 1.0
            rows.append((x[place] - drop.values[0] - reading.value) / reading.sigma)
            jacobian.append(row[None, :] / reading.sigma)
        sure = [1.0 / self.sigma_ln[a] for a in AXLES]
        own = np.concatenate([sure, np.zeros(len(places)), np.ones(len(x) - 2 - len(places))])
        prior = own > 0.0  # a reference height has none
        return np.concatenate([rows, ((x - self.start()) * own)[prior]]), np.vstack([*jacobian, np.diag(own)[prior]])


def _sealed(vehicle: Vehicle) -> bool:
    """Tell whether air shut in one state joins the states of a vehicle."""
    return any(e.set_state for axle in (vehicle.front, vehicle.rear) for e in axle.elements)


def _states_needed(vehicle: Vehicle, states: Sequence[LoadState], names: set[str]) -> list[LoadState]:
    """Return the wanted states and those in which an air spring is set."""
    setting = {e.set_state for axle in (vehicle.front, vehicle.rear) for e in axle.elements if e.set_state}
    return [state for state in states if state.name in names | setting]
