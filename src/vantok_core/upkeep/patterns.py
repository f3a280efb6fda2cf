"""What the jobs of a kit on vehicles of one kind taught: its usual gain, setting and hours, what missed, what came back.

Nothing of a customer is in it. Source: method section 17 and own derivation.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from statistics import median


@dataclass(frozen=True, slots=True, kw_only=True)
class DoneBefore:
    """A job of a kit: gain read and predicted (m), of the axle in the state it was set for; setting by name, left and right (SI); hours worked (None: not
    known); whether a height missed its band; what checks or steps gave trouble; whether it came back; what the customer said later."""

    gain: float
    predicted: float
    setting: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    hours: float | None = None
    missed: bool = False
    trouble: tuple[str, ...] = ()
    came_back: bool = False
    outcome: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Pattern:
    """What they have in common: how many; median gain (m), median setting by name (SI, sides together), median hours (None: nobody's known); how many missed,
    came back, disappointed; what gave trouble, the most frequent first."""

    count: int
    gain: float
    setting: Mapping[str, float]
    hours: float | None
    missed: int
    came_back: int
    worse: int
    trouble: tuple[tuple[str, int], ...]


def pattern(rows: Sequence[DoneBefore]) -> Pattern | None:
    """Return what jobs of one kit on one kind of vehicle have in common; None without any."""
    if not rows:
        return None
    hours = [row.hours for row in rows if row.hours]
    return Pattern(
        count=len(rows),
        gain=median(row.gain for row in rows),
        setting=_settings(rows),
        hours=median(hours) if hours else None,
        missed=sum(row.missed for row in rows),
        came_back=sum(row.came_back for row in rows),
        worse=sum(row.outcome in ("worse", "trouble") for row in rows),
        trouble=tuple(Counter(line for row in rows for line in row.trouble).most_common(5)),
    )


def _settings(rows: Sequence[DoneBefore]) -> dict[str, float]:
    """Return the median of each thing the kit is set by, sides together (SI)."""
    names = sorted({name for row in rows for name in row.setting})
    return {name: median(0.5 * sum(row.setting[name]) for row in rows if name in row.setting) for name in names}
