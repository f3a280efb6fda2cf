"""A job's calibrated model: its vehicle and states, solved; heights with their bands.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import hypot

import numpy as np

from vantok_core.base.figure import Figure
from vantok_core.base.kept import LastFew
from vantok_core.base.num import FloatArray
from vantok_core.facts import Job
from vantok_core.model.readings import AXLE_DATUM, NO_SIDE
from vantok_core.model.side import Sides, side_effects
from vantok_core.physics.stance.report import StateReport, report
from vantok_core.physics.stance.states import SolvedState, solve_states
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName, LoadState, Vehicle
from vantok_core.rates.estimate import Estimate
from vantok_core.rates.places import Place, place_drop


@dataclass(frozen=True, slots=True, kw_only=True)
class JobModel:
    """The calibrated model of a job.

    vehicle: without any kit, at its best rates, or where kits went on before the one in hand, with those on
    (bare: without); prior: at class rates; states: core states by key, the empty one first;
    estimate: rates with covariance; assumed: what was taken from the class; side: inferred side couple by state, N m;
    unsolved: why a state of known load is not among them; a state of unknown load is not among them either; pushed: what its push tests made of the class's
    rates (N/m at the wheel).
    """

    job: Job
    vehicle: Vehicle
    prior: Vehicle
    states: Mapping[str, LoadState]
    estimate: Estimate
    assumed: tuple[str, ...]
    side: Mapping[str, float] = field(default_factory=dict)
    unsolved: Mapping[str, str] = field(default_factory=dict)
    without_kits: Vehicle | None = None
    pushed: Mapping[AxleName, tuple[float, float]] = field(default_factory=dict)
    onward: dict[str, JobModel] = field(default_factory=dict, init=False, repr=False, compare=False)
    """Models that follow from this one, by name, each worked out once."""
    kept: LastFew[Vehicle, dict[str, SolvedState]] = field(
        default_factory=LastFew, init=False, repr=False, compare=False
    )
    _sides: dict[str, Sides] = field(default_factory=dict, init=False, repr=False, compare=False)
    told: LastFew[Vehicle, dict[str, StateReport]] = field(
        default_factory=LastFew, init=False, repr=False, compare=False
    )

    @property
    def bare(self) -> Vehicle:
        """The vehicle without any kit."""
        return self.without_kits or self.vehicle

    @property
    def on(self) -> Vehicle | None:
        """The vehicle with the kits that are on, None where none is: what the estimate is asked about."""
        return self.vehicle if self.without_kits is not None else None

    def for_job(self, job: Job) -> JobModel:
        """Return this calibration for a job that rests it on the same facts (see `same_basis`)."""
        found = replace(self, job=job)
        found.kept.take_over(self.kept)
        found.told.take_over(self.told)
        return found

    def solved(self, vehicle: Vehicle | None = None) -> dict[str, SolvedState]:
        """Return every state solved, with the given vehicle or the plain one; kept for the last few vehicles asked about."""
        used = vehicle or self.vehicle
        known = self.kept.get(used)
        return known or self.kept.put(used, solve_states(used, list(self.states.values()), check_limits=False))

    def solve(self, vehicle: Vehicle | None = None, *, check_limits: bool = False) -> dict[str, StateReport]:
        """Return the report of every state, with the given vehicle (a kit on it) or the plain one."""
        used = vehicle or self.vehicle
        if check_limits:
            solve_states(used, list(self.states.values()))
        known = self.told.get(used)
        return known or self.told.put(used, {key: report(used, one) for key, one in self.solved(used).items()})

    def read_mean(self, state: str, axle: AxleName, datum: str, phase: str = "before") -> float | None:
        """Return the mean of an axle's two readings (m), else its reading without a side; None where neither is there."""
        found = [self.job.read(state, corner, datum, phase) for corner in AXLE_CORNERS[axle]]
        values = [r.value_m for r in found if r is not None]
        whole = self.job.read(state, axle, datum, phase)
        return sum(values) / 2 if len(values) == 2 else whole.value_m if whole is not None else None

    def side_effects(self, datum: str, vehicle: Vehicle | None = None) -> Mapping[str, Mapping[AxleName, float]]:
        """Return what a newton metre of side couple adds to each axle's left less right height (m) by state, with the given vehicle or the plain one."""
        if vehicle is None:
            return self._sided(datum).plain
        return side_effects(vehicle, self.states, self.solved(vehicle), datum)

    def side_errors(self, cells: Sequence[tuple[str, str]], datum: str, vehicle: Vehicle | None = None) -> FloatArray:
        """Return what each left/right difference or couple does to each cell (state, corner; m), see `Sides.errors`."""
        return self._sided(datum).errors(cells, self.side_effects(datum, vehicle))

    def _sided(self, datum: str) -> Sides:
        if datum not in self._sides:
            plain = side_effects(self.vehicle, self.states, self.solved(), datum)
            self._sides[datum] = Sides(
                job=self.job, vehicle=self.vehicle, states=self.states, couples=self.side, datum=datum, plain=plain
            )
        return self._sides[datum]

    def lifting_force(self, state: str, axle: AxleName, lift: float) -> float:
        """Return the force a side at the wheel (N) that holds an axle so much higher (m) in a state: its load, and with it the tyres, stay as they are."""
        lines, stance = self.solved()[state].axle(axle)
        now, then = (lines.press(*(z - up for z in stance.z), bars=False) for up in (0.0, lift))
        return 0.5 * float(now[0] + now[1] - then[0] - then[1])

    def axle_errors(self, state: str, vehicle: Vehicle | None = None) -> FloatArray | None:
        """Return the covariance (m2) of the front's and the rear's ground drop in a state; None where no reading gave either a reference."""
        places = [Place(axle, "ground") for axle in AXLES]
        if state not in self.states or any(place not in self.estimate.heights for place in places):
            return None
        return self.estimate.joint([(state, place) for place in places], vehicle or self.on)

    def heights(self, state: str, datum: str, vehicle: Vehicle | None = None) -> dict[str, Figure]:
        """Return predicted heights by corner with the model's sigma (m), for axles whose empty height was read.

        The mean comes from the estimate with its band; each side adds its empty difference and the model's lean, and to the band what is
        not known of both.
        """
        empty, vehicle = self.job.empty, vehicle or self.on
        core_datum = AXLE_DATUM.get(datum, "ground")
        found: dict[str, Figure] = {}
        if empty is None or state not in self.states:
            return found
        solved = self.solved(vehicle)[state]
        for axle in AXLES:
            place = Place(axle, core_datum)
            base = self.read_mean(empty.key, axle, datum)
            if base is None or place not in self.estimate.heights:
                continue
            mean = self.estimate.height(state, place, vehicle)
            across = np.linalg.norm(self.side_errors([(state, c) for c in AXLE_CORNERS[axle]], datum), axis=1)
            for n, corner in enumerate(AXLE_CORNERS[axle]):
                own = self.job.read(empty.key, corner, datum)
                lean = float(place_drop(solved, Place(corner, core_datum)) - place_drop(solved, place))
                offset = own.value_m - base if own else 0.0
                sigma = hypot(mean.sigma, float(across[n]) if own else NO_SIDE)
                found[corner] = Figure(value=mean.value + offset - lean, sigma=sigma)
        return found


def same_basis(one: Job, other: Job) -> bool:
    """Tell whether two jobs calibrate alike: same vehicle, states and readings before a kit; words, kit and proof may differ."""

    def basis(job: Job) -> tuple[object, ...]:
        pushes = tuple(p for p in job.pushes if p.phase == "before")
        return job.vehicle, job.states, tuple(r for r in job.readings if r.phase == "before"), pushes

    return basis(one) == basis(other)
