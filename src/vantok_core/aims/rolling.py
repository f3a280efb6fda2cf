"""How much less a vehicle rolls with a kit on: the ratio of its roll after to before, by draws in which both share every unknown.

Source: method section 20.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from math import degrees
from typing import Literal

import numpy as np

from vantok_core.base.errors import VantokError
from vantok_core.base.num import FloatArray, G
from vantok_core.base.say import Quantity
from vantok_core.benches.bar import RollInstabilityError
from vantok_core.benches.roll_rate import TALL, UNKNOWN_BAR
from vantok_core.facts import Job, Kit
from vantok_core.facts.classes import BODIES
from vantok_core.kits.family import Setting
from vantok_core.kits.fit import with_kit
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel, prior_sigma, prior_vehicle
from vantok_core.physics.elements.air import ISOTHERMAL
from vantok_core.physics.stance.budget import RollParts, roll_parts
from vantok_core.physics.stance.report import StateReport, report
from vantok_core.physics.stance.states import SolvedState, solve_states
from vantok_core.physics.vehicle import AXLES, AntiRollBar, AxleName, LoadState, Vehicle
from vantok_core.rates.traits import TYRE_SPREAD

COUNT, SEED = 2000, 20
ARM_SIGMA, UNKNOWN_BAR_SIGMA = 0.15, 0.5
"""What is not known of the arm and of a bar that nobody looked up, in ln."""
UNLOOKED = "factory bar, not looked up"
HARD = 0.4
"""Side acceleration of a hard bend, in g (setting)."""
OF_CLASS = "as it stands"
BASE = 3.5
"""A wheelbase (m) where none is known: roll does not hang on it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Rolled:
    """A vehicle's roll with a kit at a setting against without it: ratio with its 90 % band (low, high), odds that it is at most the aim, roll before and
    after (degrees per g) with their bands; tail_looser: the rear then loses grip first; harder: more of it touches in a hard bend, which is not counted;
    counts: whether it does anything to the roll as it stands; lost: share of the draws in which the body would not stand; basis: the state it is of (empty:
    the vehicle by its class); aim: the ratio wanted at most."""

    setting: Setting
    ratio: float
    low: float
    high: float
    odds: float
    before: Quantity
    after: Quantity
    tail_looser: bool
    harder: bool
    counts: bool
    lost: float
    basis: str
    aim: float

    @property
    def meets(self) -> bool:
        """Whether it is likelier than not at most the aim."""
        return self.odds >= 0.5

    @property
    def word(self) -> Literal["meets", "misses", "open"]:
        """What is so of the aim: beyond the band, or within it."""
        return "meets" if self.high <= self.aim else "misses" if self.low > self.aim else "open"


def lacking(job: Job) -> list[str]:
    """Return what a roll ratio could not be told without: tracks, kinds of springs, axle ratings, as far as they are not known."""
    v = job.vehicle
    asked = {
        "the front track": v.track_front_m,
        "the rear track": v.track_rear_m,
        "the front springs": v.front_spring,
        "the rear springs": v.rear_spring,
        "the front axle's rating": v.front_axle_kg,
        "the rear axle's rating": v.rear_axle_kg,
    }
    return [words for words, known in asked.items() if not known]


@dataclass(frozen=True)
class Rolling:
    """A job's vehicle as it rolls: asked of kit after kit, on the same draws."""

    job: Job
    model: JobModel | None = None

    @cached_property
    def base(self) -> Vehicle:
        """The vehicle without a kit, a bar that nobody looked up in its place."""
        vehicle = self.model.bare if self.model is not None else self._of_class
        front = vehicle.front
        none = any(one.kind == "bar_front" and one.fitted == "none" for one in self.job.vehicle.equipment)
        if front.solid or front.bars or none:
            return vehicle
        main = 2.0 * float(front.spring.k) * (float(front.spring.ratio) * front.track / 2.0) ** 2
        return replace(vehicle, front=replace(front, bars=(AntiRollBar(name=UNLOOKED, stiffness=UNKNOWN_BAR * main),)))

    @cached_property
    def _of_class(self) -> Vehicle:
        known = self.job
        if known.vehicle.base_m is None:
            known = known.model_copy(update={"vehicle": known.vehicle.model_copy(update={"wheelbase_m": BASE})})
        return prior_vehicle(known, dict.fromkeys(AXLES), [])

    @cached_property
    def state(self) -> LoadState:
        """The heaviest state that is judged, else as it stands."""
        if self.model is None:
            return LoadState(name=OF_CLASS)
        reports = self.model.solve()
        keys = [s.key for s in self.job.judged if s.key in reports]
        heaviest = max(keys, key=lambda key: float(sum(reports[key].axle_load(a) for a in AXLES)), default="")
        return self.model.states[heaviest] if heaviest else next(iter(self.model.states.values()))

    @cached_property
    def _before(self) -> tuple[SolvedState, StateReport]:
        return self._solve(self.base)

    def _solve(self, vehicle: Vehicle) -> tuple[SolvedState, StateReport]:
        states = [self.state] if self.model is None else list(self.model.states.values())
        solved = solve_states(vehicle, states, check_limits=False)[self.state.name]
        return solved, report(vehicle, solved)

    @cached_property
    def _drawn(self) -> dict[str, FloatArray]:
        """Draws of what is not known, as factors: both axles' springs and tyres, the arm, a bar nobody looked up, a kit's strength (to be scaled)."""
        rng = np.random.default_rng(SEED)
        told = prior_sigma(self.job)
        rates = (
            self.model.estimate.covariance[:2, :2]
            if self.model is not None
            else np.diag([told[axle] ** 2 for axle in AXLES])
        )
        springs = rng.multivariate_normal(np.zeros(2), rates, COUNT).T
        found = {f"{axle} springs": np.exp(springs[n]) for n, axle in enumerate(AXLES)}
        for name, sigma in (
            *((f"{axle} tyres", TYRE_SPREAD) for axle in AXLES),
            ("arm", ARM_SIGMA),
            ("bar", UNKNOWN_BAR_SIGMA),
        ):
            found[name] = np.exp(sigma * rng.standard_normal(COUNT))
        return found | {"kit": rng.standard_normal(COUNT)}

    def stiffness(self, vehicle: Vehicle, solved: SolvedState, kit_sigma: float) -> dict[AxleName, FloatArray]:
        """Return both axles' roll stiffness (N m/rad), as it is and in every draw; kit_sigma: of ln of the kit's strength."""
        found: dict[AxleName, FloatArray] = {}
        for axle in AXLES:
            parts: RollParts = roll_parts(solved, axle, ISOTHERMAL)
            bars = {b.name: (float(b.stiffness), b.fitted) for b in vehicle.axle(axle).bars}
            kit = parts.kit + sum(k for k, fitted in bars.values() if fitted == "kit")
            known = parts.others + sum(k for name, (k, fitted) in bars.items() if fitted != "kit" and name != UNLOOKED)
            unlooked = bars[UNLOOKED][0] if UNLOOKED in bars else 0.0
            factor = self._factors(axle, kit_sigma)
            springs = parts.main * factor["springs"] + known + kit * factor["kit"] + unlooked * factor["bar"]
            tyres = parts.tyres * factor["tyres"]
            found[axle] = np.asarray(springs * tyres / (springs + tyres))
        return found

    def _factors(self, axle: AxleName, kit_sigma: float) -> dict[str, FloatArray]:
        """Return the factors of one axle: one, as it is, and then each draw's."""
        drawn = self._drawn
        told = {"springs": drawn[f"{axle} springs"], "tyres": drawn[f"{axle} tyres"], "bar": drawn["bar"]}
        told["kit"] = np.exp(kit_sigma * drawn["kit"])
        return {name: np.concatenate([[1.0], values]) for name, values in told.items()}

    @cached_property
    def _arm(self) -> FloatArray:
        """How far the mass stands above the roll axis (m), as it is and in every draw."""
        tall = TALL if "tall" in self.job.use else 1.0
        return BODIES[self.job.vehicle.body].roll_arm * tall * np.concatenate([[1.0], self._drawn["arm"]])

    def _rate(self, stiffness: dict[AxleName, FloatArray]) -> FloatArray:
        """Return the roll (rad per g), as it is and in every draw; nan where the body would not stand."""
        mass = sum(float(self._before[1].axle_load(a)) / G - 2.0 * self.base.axle(a).unsprung for a in AXLES)
        pull = mass * G * self._arm
        left = stiffness["front"] + stiffness["rear"] - pull
        return np.where(left > 0.0, pull / np.where(left > 0.0, left, 1.0), np.nan)

    def with_kit(self, kit: Kit, setting: Setting) -> Rolled:
        """Return what a kit at a setting (SI) does. Raises RollInstabilityError where the springs do not hold the body up, VantokError where a state with it
        cannot be solved."""
        on = with_kit(self.job, self.base, kit, setting, state=None if self.model is None else self.state.name)
        solved, shown = self._solve(on)
        before, after = self.stiffness(self.base, self._before[0], 0.0), self.stiffness(on, solved, kit.strength_sigma)
        rates = self._rate(before), self._rate(after)
        stands = np.isfinite(rates[0][1:]) & np.isfinite(rates[1][1:])
        if not (np.isfinite(rates[0][0]) and np.isfinite(rates[1][0]) and stands.any()):
            raise RollInstabilityError(
                "By these figures the body would not stand up by itself.", field="roll stiffness"
            )
        ratio = rates[1] / rates[0]
        drawn = ratio[1:][stands]
        low, high = np.quantile(drawn, (0.05, 0.95))
        share = [one["front"][0] / (one["front"][0] + one["rear"][0]) for one in (before, after)]
        return Rolled(
            setting=setting,
            ratio=float(ratio[0]),
            low=float(low),
            high=float(high),
            odds=float(np.mean(drawn <= self.job.roll_wanted)),
            before=_told(rates[0], stands),
            after=_told(rates[1], stands),
            tail_looser=bool(share[1] < share[0] - SAME),
            harder=self._harder(kit, shown, float(rates[1][0])),
            counts=bool(abs(ratio[0] - 1.0) > SAME),
            lost=float(1.0 - stands.mean()),
            basis=self._basis,
            aim=self.job.roll_wanted,
        )

    @property
    def _basis(self) -> str:
        key = None if self.model is None else self.state.name
        return next((s.name for s in self.job.states if s.key == key), "")

    def _harder(self, kit: Kit, shown: StateReport, rate: float) -> bool:
        """Tell whether a part of the kit that stands free now touches in a hard bend."""
        travel = rate * HARD * self.base.axle(kit.axle).track / 2.0
        free = [
            float(side.gap_left)
            for name, sides in shown.elements.items()
            if name not in {e.name for e in self.base.axle(kit.axle).elements}
            for side in sides.values()
            if side.gap_left is not None
        ]
        return any(0.0 < gap < travel for gap in free)

    def best(self, kit: Kit) -> Rolled | None:
        """Return a kit at the mildest of its settings that meets the aim, else at the strongest; None where its settings are not few, or it cannot be told."""
        found = []
        for setting in few_settings(kit):
            try:
                found.append(self.with_kit(kit, setting))
            except VantokError:
                continue  # a setting at which nothing stands is no option
        met = [one for one in found if one.meets]
        return met[0] if met else min(found, key=lambda one: one.ratio, default=None)


SAME = 1e-3
"""A ratio nearer to one than this is no change."""
MOST_SETTINGS = 12


def few_settings(kit: Kit) -> list[Setting]:
    """Return the settings of a kit that are counted, as holes or clicks, alike on both sides; nothing to set is one; none where they are many, or heights
    are needed for them."""
    family = family_of(kit)
    fields = family.set_by(kit)
    if family.lifts or any(field.kind != "count" for field in fields) or len(fields) > 1:
        return []
    if not fields:
        return [{}]
    span = family.spans(kit)[fields[0].name]
    values = np.arange(span.low, span.high + 0.5 * span.step, span.step)
    return [{fields[0].name: (float(v), float(v))} for v in values] if len(values) <= MOST_SETTINGS else []


def _told(rates: FloatArray, stands: FloatArray) -> Quantity:
    """Return a roll in degrees per g with the half width of its 90 % band."""
    low, high = np.quantile(rates[1:][stands], (0.05, 0.95))
    return Quantity(degrees(float(rates[0])), "degrees", band=degrees(float(high - low)) / 2.0)
