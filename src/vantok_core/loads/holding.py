"""Limits with their error: what may be said of a load that is not known to the kilogram.

Source: method section 23.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import erfc, hypot, prod, sqrt

from vantok_core.base.errors import InputError

SCALE = 10.0
"""Sigma of an axle's load off a scale, kg."""
PLANNED_SHARE, PLANNED_LEAST = 0.06, 2.0
"""Sigma of a planned thing's mass: the greater of a share and so many kg."""
HOLDS, PROBABLY, OPEN, OVER = 0.95, 0.65, 0.35, 0.05
WORDS = (
    (HOLDS, "holds"),
    (PROBABLY, "probably holds: weigh it"),
    (OPEN, "cannot be told: weigh it"),
    (OVER, "probably over: weigh it"),
    (-1.0, "over by"),
)
"""The chance that a limit holds, and what is said from there on."""
ALL_HOLD = 0.90
"""The chance that every known limit holds from which that is said."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """A limit held against its load (kg, with the load's sigma); off_springs: the load was read off the springs, which weighs nothing."""

    name: str
    limit: float
    load: float
    sigma: float
    off_springs: bool = False

    @property
    def margin(self) -> float:
        """What is left, kg; below nought over it."""
        return self.limit - self.load

    @property
    def p(self) -> float:
        """The chance that it holds."""
        if self.sigma == 0.0:
            return 1.0 if self.margin >= 0.0 else 0.0
        return 0.5 * erfc(-self.margin / (self.sigma * sqrt(2.0)))

    @property
    def word(self) -> str:
        """What may be said of it."""
        said = next(words for least, words in WORDS if self.p >= least)
        if self.off_springs:
            return {"holds": WORDS[1][1], "over by": WORDS[3][1]}.get(said, said)
        return said


def planned(base: float, sigma: float, items: Sequence[tuple[float, float]]) -> tuple[float, float]:
    """Return a load that a plan makes of a base load, and its sigma (kg). items: mass and how much of it lands here (lever). Raises InputError for a sigma
    below nought."""
    if sigma < 0.0:
        raise InputError("sigma", sigma, "it cannot be below nought")
    own = [max(PLANNED_SHARE * abs(mass), PLANNED_LEAST) * lever for mass, lever in items]
    return base + sum(mass * lever for mass, lever in items), hypot(sigma, *own)


@dataclass(frozen=True, slots=True, kw_only=True)
class AllHeld:
    """Every known limit of a state: the chance that all hold, whether that may be said, and whether it may lead the sentence."""

    limits: tuple[Held, ...]
    unknown: tuple[str, ...]
    belongs: str = ""

    @property
    def p(self) -> float:
        """The chance that every known one holds."""
        return prod(one.p for one in self.limits)

    @property
    def every_known(self) -> bool:
        """Whether every known one may be said to hold."""
        return bool(self.limits) and self.p >= ALL_HOLD and not any(one.off_springs for one in self.limits)

    @property
    def headline(self) -> bool:
        """Whether it may lead: never while the job's own limit is not known."""
        return self.every_known and self.belongs not in self.unknown
