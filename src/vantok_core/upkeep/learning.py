"""What a shop learns from its own closed jobs: rates by class, strengths of kits, hours of cards, shares of causes; each with its error.

Source: method section 22.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, log, sqrt
from statistics import fmean, variance

from vantok_core.base.errors import InputError
from vantok_core.base.figure import TWO_IN_THREE

COUNTED, FLOOR = 4.0, 0.3
"""How many jobs a prior spread counts as, and what share of it is its least."""
SURE = 0.15
"""A rate known to a smaller ln-sigma teaches its class."""
CASES = 20.0
"""How many cases the shipped weights of a complaint's causes count as."""
CLASS_ALONE = 0.39
"""ln-sigma of a class that no job has taught."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Priors:
    """ln-sigma of an offset, and the spread of the single ones about it."""

    offset: float
    spread: float


CLASS, HOURS = Priors(offset=0.25, spread=0.30), Priors(offset=0.25, spread=0.40)
STRENGTH = {"maker": Priors(offset=0.05, spread=0.05), "like": Priors(offset=0.5, spread=0.05)}
"""Of a kit by its maker's data, and by a like kit's."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Taught:
    """What jobs taught: how many, ln of the offset, the spread of single ones, ln-sigma of the next one's figure."""

    n: int
    mu: float
    tau: float
    sigma_ln: float

    @property
    def factor(self) -> float:
        """The offset as a factor."""
        return exp(self.mu)

    def two_in_three(self, centre: float) -> tuple[float, float]:
        """Return the band about a centre that holds two in three of the next ones, in the centre's unit (centre: any)."""
        wide = exp(TWO_IN_THREE * self.sigma_ln)
        return centre / wide, centre * wide


def taught(told: Sequence[tuple[float, float]], prior: Priors) -> Taught:
    """Return what figures teach: told: of each `y = ln(figure / usual)` and its own ln-sigma.

    Formula: `tau^2 = (4 spread^2 + (n - 1) s^2) / (4 + n - 1)`, at least `(0.3 spread)^2`, `s^2` the sample variance less the mean square sigma;
    `w = 1 / (tau^2 + sigma^2)`, `W = sum w + 1 / offset^2`, `mu = sum(w y) / W`. Source: method section 22.
    """
    n = len(told)
    between = variance(y for y, _ in told) - fmean(s**2 for _, s in told) if n > 1 else 0.0
    tau = sqrt(
        max(
            (FLOOR * prior.spread) ** 2,
            (COUNTED * prior.spread**2 + max(n - 1, 0) * max(between, 0.0)) / (COUNTED + max(n - 1, 0)),
        )
    )
    weights = [1.0 / (tau**2 + s**2) for _, s in told]
    whole = sum(weights) + 1.0 / prior.offset**2
    mu = sum(w * y for w, (y, _) in zip(weights, told, strict=True)) / whole
    return Taught(n=n, mu=mu, tau=tau, sigma_ln=sqrt(tau**2 + 1.0 / whole))


@dataclass(frozen=True, slots=True, kw_only=True)
class RateTold:
    """A rate that a closed job's readings alone tell: whose, N/m, its ln-sigma, whether its loads stood on a scale."""

    vehicle: str
    k: float
    sigma_ln: float
    weighed: bool = True


def learn_class(k_class: float, jobs: Sequence[RateTold]) -> tuple[Taught, tuple[str, ...]]:
    """Return what jobs teach of a class's rate (k_class: N/m), and whose taught it, each vehicle once by its last visit.

    Jobs that were not weighed, or whose rate is known no better than 0.15, teach nothing. Raises InputError for a rate or sigma not above nought.
    Source: method section 22.
    """
    if not k_class > 0.0 or any(not (j.k > 0.0 and j.sigma_ln > 0.0) for j in jobs):
        raise InputError("k", k_class, "rates and their sigmas must be above nought")
    last: dict[str, RateTold] = {}
    for one in (j for j in jobs if j.weighed and j.sigma_ln < SURE):
        last.pop(one.vehicle, None)  # in the order of the visits that count
        last[one.vehicle] = one
    if not last:
        return Taught(n=0, mu=0.0, tau=CLASS.spread, sigma_ln=CLASS_ALONE), ()
    return taught([(log(one.k / k_class), one.sigma_ln) for one in last.values()], CLASS), tuple(last)


def learn_strength(data: str, jobs: Sequence[tuple[float, float]]) -> Taught:
    """Return what jobs teach of a kit's strength. jobs: of each vehicle's last visit the strength (ratio) and its ln-sigma; data: maker or like.

    Raises InputError for other data, or a strength or sigma not above nought. Source: method sections 22 and 26.
    """
    if data not in STRENGTH:
        raise InputError("data", data, "its maker's or a like kit's")
    if any(not (q > 0.0 and s > 0.0) for q, s in jobs):
        raise InputError("q", jobs, "strengths and their sigmas must be above nought")
    return taught([(log(q), s) for q, s in jobs], STRENGTH[data])


def learn_hours(sheet: float, hours: Sequence[float]) -> Taught:
    """Return what finished cards teach of a kit's hours (sheet, hours: h). Raises InputError for hours not above nought. Source: method section 22."""
    if not sheet > 0.0 or any(not h > 0.0 for h in hours):
        raise InputError("hours", hours, "hours must be above nought")
    return taught([(log(h / sheet), 0.0) for h in hours], HOURS)


def cause_shares(weights: Mapping[str, float], cases: Mapping[str, int]) -> dict[str, tuple[float, float]]:
    """Return the share of each cause behind a complaint and its sigma: the shipped weights count as twenty cases, beside those proved here.

    Formula: `(20 w / sum w + cases) / (20 + n)`, sigma `sqrt(share (1 - share) / (21 + n))`. Raises InputError for weights of nought together, one below
    nought, or a cause without a weight. Source: method section 22.
    """
    whole = sum(weights.values())
    if not whole > 0.0 or min(weights.values()) < 0.0:
        raise InputError("weights", dict(weights), "weights are not below nought, and not all nought")
    if unknown := set(cases) - set(weights):
        raise InputError("cases", ", ".join(sorted(unknown)), "no such cause has a weight")
    if any(n < 0 for n in cases.values()):
        raise InputError("cases", dict(cases), "a number of cases is not below nought")
    n = sum(cases.values())
    shares = {c: (CASES * w / whole + cases.get(c, 0)) / (CASES + n) for c, w in weights.items()}
    return {c: (share, sqrt(share * (1.0 - share) / (CASES + 1.0 + n))) for c, share in shares.items()}
