"""A choice, and all of them: what the model says of each, how it scores, which is recommended and why.

Source: method section 5.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import hypot
from typing import Literal

from vantok_core.base.figure import Figure
from vantok_core.base.say import Say
from vantok_core.facts import JobState, Kit
from vantok_core.facts.quote import HOUR
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.family import KIT_ELEMENT, Setting
from vantok_core.kits.odds import TOLERANCE, odds_within
from vantok_core.kits.target import TargetDrop
from vantok_core.loads.moves import Move
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import LoadState, Vehicle

MET = TOLERANCE
"""A target counts as met within this much (m): the odds' own tolerance."""
WEIGHTS = {
    "target": 0.37,
    "empty_ride": 0.18,
    "stop_gap": 0.09,
    "range": 0.09,
    "cost": 0.10,
    "upkeep": 0.07,
    "roll": 0.10,
}
WEIGHT_WORDS = {
    "target": "distance to the target, loaded",
    "empty_ride": "empty stance and ride left alone",
    "stop_gap": "stop gap, loaded",
    "range": "range of loads served",
    "cost": "cost fitted",
    "upkeep": "upkeep",
    "roll": "roll stiffness gained",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Later:
    """What is planned for later, by name, and how much further down the rear of an option then stands (m)."""

    name: str
    sunk: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """One choice with what the model says of it; reports are None where it could not be solved.

    drop, empty_drop: rear ground drop from the reference in the state judged and in the reference itself, m; miss: from the target, m;
    with_it: the kits of a bundle, in the order they go on; elements: what its kits are called on the vehicle; loads, shift: the states as loaded
    with it and what that puts on front and rear (kg), where it moves load; hour_price: of an hour's work, in the shop's currency; later: where it
    stands once what is planned is on.
    """

    key: str
    name: str
    kind: Literal["nothing", "move", "kit", "bundle"]
    kit: Kit | None = None
    out: tuple[Say, ...] = ()
    checks: tuple[FitCheck, ...] = ()
    notes: tuple[Say, ...] = ()
    setting: Setting = field(default_factory=dict)
    vehicle: Vehicle | None = None
    loaded: StateReport | None = None
    empty: StateReport | None = None
    drop: Figure | None = None
    empty_drop: Figure | None = None
    miss: float | None = None
    scores: dict[str, float] = field(default_factory=dict)
    weights: Mapping[str, float] = field(default_factory=lambda: WEIGHTS)
    with_it: tuple[Kit, ...] = ()
    elements: tuple[str, ...] = (KIT_ELEMENT,)
    loads: Mapping[str, LoadState] | None = None
    shift: tuple[float, float] | None = None
    hour_price: float = HOUR
    later: tuple[Later, ...] = ()

    @property
    def may_be_overruled(self) -> bool:
        """Whether it is out by checks alone that a lead may overrule."""
        failed = [check for check in self.checks if check.status == "fail"]
        return self.kit is not None and bool(failed) and not any(check.final for check in failed)

    @property
    def score(self) -> float:
        """Weighted sum of the criteria, 0 to 1."""
        whole = sum(self.weights.values()) or 1.0
        return sum(self.weights[name] * value for name, value in self.scores.items()) / whole

    @property
    def kits(self) -> tuple[Kit, ...]:
        """The kits it puts on."""
        return self.with_it or ((self.kit,) if self.kit is not None else ())

    @property
    def strengths(self) -> dict[str, float]:
        """Sigma of the strength of each of its kits, by element."""
        return {name: kit.strength_sigma for name, kit in zip(self.elements, self.kits, strict=False)}

    @property
    def above(self) -> float | None:
        """How far above the target it leaves the rear (m; below it under nought); None where it could not be solved."""
        return None if self.miss is None else -self.miss

    @property
    def misses(self) -> tuple[float, ...]:
        """How far from the target it leaves the rear (m): now, and once each planned change is on; none where it could not be solved."""
        return () if self.miss is None else (self.miss, *(self.miss + one.sunk.value for one in self.later))

    @property
    def furthest(self) -> float | None:
        """The furthest it comes to be from the target, now or later (m); None where it could not be solved."""
        return max(self.misses, key=abs, default=None)

    @property
    def odds(self) -> float | None:
        """The chance that it brings the rear to the target, and keeps it there; None where it could not be solved. Source: method section 9, in place of the
        draws."""
        if self.miss is None or self.drop is None:
            return None
        spreads = (0.0, *(one.sunk.sigma for one in self.later))
        return min(
            odds_within(miss, hypot(self.drop.sigma, more), 0.0)
            for miss, more in zip(self.misses, spreads, strict=True)
        )

    @property
    def meets(self) -> bool:
        """Whether it brings the rear to the target, and keeps it there once what is planned is on."""
        return self.furthest is not None and abs(self.furthest) <= MET


@dataclass(frozen=True, slots=True, kw_only=True)
class Shortlist:
    """All choices, best first, those that are out last; the recommended key; the target; over-limit lines; further: kits of a large shelf that fit by
    their data and were not worked out; takes: the force that the target takes, whatever presses."""

    state: JobState
    target: TargetDrop
    choices: tuple[Choice, ...]
    recommended: str
    reason: Say
    over: tuple[Say, ...]
    moves: tuple[Move, ...]
    against: Say | None = None
    further: tuple[Kit, ...] = ()
    takes: Say | None = None

    def choice(self, key: str) -> Choice | None:
        """Return a choice by key."""
        return next((c for c in self.choices if c.key == key), None)
