"""What was foretold before the work against what was read after it: how many lay inside, which way they lie, by what, and how that drifts.

Source: method section 22; a band that says nine in ten holds nine in ten.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from math import sqrt
from statistics import fmean, stdev

FEW = 3
"""From so many jobs on a share inside, and a bias, is told as one."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Miss:
    """A height foretold and read: by how much it was missed (read less foretold, m), half of its 90 % band (m), of which job, kit, class, and when closed."""

    miss: float
    band: float
    job: str
    kit: str
    klass: str
    at: date

    @property
    def inside(self) -> bool:
        """Whether it lay in its band."""
        return abs(self.miss) <= self.band


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """How heights were foretold: of what, how many, of how many jobs, the share inside their bands, the bias (m) with the error of it (m), and
    their root mean square (m)."""

    of: str
    n: int
    jobs: int
    inside: float
    bias: float
    error: float
    rms: float

    @property
    def few(self) -> bool:
        """Whether too few jobs tell."""
        return self.jobs < FEW

    @property
    def biased(self) -> bool:
        """Whether they lie to one side by more than chance: beyond the 90 % band of the mean."""
        return self.jobs >= FEW and abs(self.bias) > 1.645 * self.error


def held(told: Sequence[Miss], of: str = "all") -> Held:
    """Return how some heights were foretold; those of one job lie together, so that the bias's error goes by jobs."""
    misses = [one.miss for one in told]
    of_job: dict[str, list[float]] = {}
    for one in told:
        of_job.setdefault(one.job, []).append(one.miss)
    means = [fmean(own) for own in of_job.values()]
    bias = fmean(misses)
    spread = stdev(means) if len(means) > 1 else abs(bias)
    return Held(
        of=of,
        n=len(told),
        jobs=len(means),
        inside=sum(one.inside for one in told) / len(told),
        bias=bias,
        error=spread / sqrt(max(len(means), 1)),
        rms=sqrt(fmean(m * m for m in misses)),
    )


def by(told: Iterable[Miss], key: Callable[[Miss], str]) -> list[Held]:
    """Return how heights were foretold by what they are of, those that miss most first."""
    parts: dict[str, list[Miss]] = {}
    for one in told:
        parts.setdefault(key(one), []).append(one)
    return sorted((held(rows, name) for name, rows in parts.items() if name), key=lambda one: -abs(one.bias))


def half_year(one: Miss) -> str:
    """Return the half-year a job was closed in."""
    return f"{one.at.year}, {'first' if one.at.month <= 6 else 'second'} half"


def drift(told: Sequence[Miss]) -> list[Held]:
    """Return how heights were foretold half-year by half-year, the earliest first."""
    return sorted(by(told, half_year), key=lambda one: one.of)


def worst(told: Iterable[Miss], count: int = 5) -> list[Miss]:
    """Return the heights furthest outside their bands, of each job its worst alone."""
    found: dict[str, Miss] = {}
    for one in told:
        if one.job not in found or abs(one.miss) / one.band > abs(found[one.job].miss) / found[one.job].band:
            found[one.job] = one
    outside = [one for one in found.values() if not one.inside]
    return sorted(outside, key=lambda one: -abs(one.miss) / one.band)[:count]
