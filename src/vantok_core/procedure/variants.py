"""Which of a kit's alike fasteners goes on this vehicle at this setting: the bolt by its spacer, the washer by the model year.

Source: procedures of the trade, second part (hardware by variant).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from vantok_core.facts import Job
from vantok_core.facts.kit import Fastener

Set = Mapping[str, tuple[float, float]]
"""A setting by name, left and right, SI."""
WORDS = {"year": "the model year"}


def of_variant(told: Sequence[Fastener], job: Job, setting: Set, side: str) -> tuple[tuple[Fastener, ...], str]:
    """Return those of a step's fasteners that go here, and what is lacking: where nobody can tell which they are, or none goes, all are kept."""
    unknown = {by for one in told for by in _unknown(one, job, setting, side)}
    if unknown:
        what = " and ".join(sorted(WORDS.get(by, "what it is set to") for by in unknown))
        return tuple(told), f"Which of its bolts and washers go in hangs on {what}: say that first."
    kept = tuple(one for one in told if _goes(one, job, setting, side))
    if told and not kept:
        return tuple(told), "Its table has no bolt for this vehicle at this setting: ask its maker."
    return kept, ""


def _value(by: str, job: Job, setting: Set, side: str) -> float | None:
    """Return what a variant hangs on: the model year, or a side's setting (SI); None while nobody has said."""
    if by == "year":
        return job.vehicle.year
    pair = setting.get(by)
    return None if pair is None else pair[1 if side == "right" else 0]


def _unknown(one: Fastener, job: Job, setting: Set, side: str) -> tuple[str, ...]:
    return tuple(v.by for v in one.only if _value(v.by, job, setting, side) is None)


def _goes(one: Fastener, job: Job, setting: Set, side: str) -> bool:
    """Tell whether a fastener goes here; all that it hangs on is known."""
    return all(v.low <= (_value(v.by, job, setting, side) or 0.0) <= v.high for v in one.only)
