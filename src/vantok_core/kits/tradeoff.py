"""Any two criteria of the choice against each other, and which options no other beats in both (method section 9)."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from vantok_core.kits.chances import cost_of
from vantok_core.kits.choice import Choice
from vantok_core.kits.cost import beaten_by


@dataclass(frozen=True, slots=True, kw_only=True)
class Criterion:
    """A criterion: words, kind of quantity, whether less of it is better, and its value of an option (None: not told of it)."""

    words: str
    kind: str
    low_is_better: bool
    of: Callable[[Choice], float | None]


def _frequency(choice: Choice) -> float | None:
    return None if choice.empty is None else float(choice.empty.ride_frequency["RL"])


def _gap(choice: Choice) -> float | None:
    if choice.loaded is None:
        return None
    gaps = choice.loaded.gaps
    return min(gaps) if gaps else None


CRITERIA: Mapping[str, Criterion] = {
    "miss": Criterion(
        words="off the target", kind="length", low_is_better=True, of=lambda c: None if c.miss is None else abs(c.miss)
    ),
    "cost": Criterion(words="cost over five years", kind="money", low_is_better=True, of=lambda c: cost_of(c).cost),
    "fitted": Criterion(words="cost fitted", kind="money", low_is_better=True, of=lambda c: cost_of(c).fitted),
    "hours": Criterion(words="hours", kind="hours", low_is_better=True, of=lambda c: sum(k.hours for k in c.kits)),
    "upkeep": Criterion(
        words="upkeep a year", kind="money", low_is_better=True, of=lambda c: sum(k.upkeep_per_year for k in c.kits)
    ),
    "empty": Criterion(
        words="moves the unladen rear by",
        kind="length",
        low_is_better=True,
        of=lambda c: None if c.empty is None else abs(float(c.empty.d_r)),
    ),
    "ride": Criterion(words="unladen ride frequency, rear", kind="frequency", low_is_better=True, of=_frequency),
    "gap": Criterion(words="stop gap, loaded", kind="length", low_is_better=False, of=_gap),
}


def undominated(choices: Sequence[Choice], criteria: Sequence[str]) -> set[str]:
    """Return the keys of the options that no other beats in these criteria: at least as good in each and better in one.

    One that a criterion is not told of is left out. Source: method section 9.
    """
    asked = [CRITERIA[name] for name in criteria]
    told = [(c.key, [one.of(c) for one in asked]) for c in choices]
    rows = {key: [v for v in values if v is not None] for key, values in told if None not in values}
    beaten = beaten_by(list(rows.values()), [one.low_is_better for one in asked])
    return {key for key, by in zip(rows, beaten, strict=True) if not by}
