"""What a kit costs over the years, and what fitting several at once saves (method section 9)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import ceil

from vantok_core.base.errors import InputError

YEARS = 5.0
FAMILY_ORDER = {
    name: n
    for n, names in enumerate(
        (("fault",), ("load",), ("spring", "helper", "air"), ("insert",), ("damper",), ("bar",), ("stabilizer",))
    )
    for name in names
}
"""In which order kits are fitted when staged: what the later ones rest on first."""
MOST_ON_ONE, MOST_ON_OTHER = 3, 1


@dataclass(frozen=True, slots=True, kw_only=True)
class YearsCost:
    """Renewals within the years, price fitted, and the whole (in one currency)."""

    renewals: int
    fitted: float
    cost: float


def years_cost(
    price: float, hours: float, rate: float, upkeep: float = 0.0, life: float | None = None, years: float = YEARS
) -> YearsCost:
    """Return what a kit costs over some years.

    Formula: `price + hours rate + years upkeep + price max(0, ceil(years / life) - 1)`. Arguments: price, rate (per hour), upkeep
    (per year): currency; hours; life, years: years (life None: never renewed). Raises InputError for a life not above zero or a
    figure below it. Source: method section 9. All figures count, none is SI.
    """
    if min(price, hours, rate, upkeep) < 0.0 or not years > 0.0 or (life is not None and not life > 0.0):
        raise InputError("cost", (price, hours, rate, upkeep, life), "life must be above zero, nothing else below it")
    renewals = 0 if life is None else max(0, ceil(years / life - 1e-9) - 1)
    fitted = price + hours * rate
    return YearsCost(renewals=renewals, fitted=fitted, cost=fitted + years * upkeep + renewals * price)


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """A kit as work: its axle, family, hours with access, and the hours of each access work by name."""

    name: str
    axle: str
    family: str
    hours: float
    access: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Bundle:
    """Kits fitted together: hours staged and at once, what that saves, and the order when staged, one drive after each."""

    staged: float
    saved: float
    order: tuple[Work, ...]

    @property
    def at_once(self) -> float:
        """Hours at once."""
        return self.staged - self.saved


def bundle(works: Sequence[Work]) -> Bundle:
    """Return what several kits take together.

    At once saves, of each access work that more than one names, all but its longest hours. Raises InputError for an unknown
    family, two kits of one family on an axle, more than three on one axle or one on the other. Source: method section 9.
    """
    _check_together(works)
    named = {name for w in works for name in w.access}
    hours = {name: [w.access[name] for w in works if name in w.access] for name in named}
    saved = sum(sum(h) - max(h) for h in hours.values())
    order = tuple(sorted(works, key=lambda w: FAMILY_ORDER[w.family]))
    return Bundle(staged=sum(w.hours for w in works), saved=saved, order=order)


def _check_together(works: Sequence[Work]) -> None:
    """Raise InputError where kits cannot go together."""
    for one in works:
        if one.family not in FAMILY_ORDER:
            raise InputError("family", one.family, f"known are {', '.join(FAMILY_ORDER)}")
    front, rear = ([w.family for w in works if w.axle == axle] for axle in ("front", "rear"))
    if len(set(front)) < len(front) or len(set(rear)) < len(rear):
        raise InputError("kits", [w.name for w in works], "two kits of one kind cannot go in one place on an axle")
    fewer, more = sorted((len(front), len(rear)))
    if more > MOST_ON_ONE or fewer > MOST_ON_OTHER:
        raise InputError("kits", [w.name for w in works], "three kits on one axle and one on the other at most")


def beaten_by(values: Sequence[Sequence[float]], low_is_better: Sequence[bool]) -> list[list[int]]:
    """Return for each option those that beat it: at least as good in every criterion and better in one.

    Arguments: values: an option's criteria each, any one unit (SI) a criterion. Raises InputError for rows of unlike length.
    """
    if any(len(row) != len(low_is_better) for row in values):
        raise InputError("values", len(values), "each option needs a value for every criterion")
    signed = [[v if low else -v for v, low in zip(row, low_is_better, strict=True)] for row in values]
    return [
        [n for n, other in enumerate(signed) if other != own and all(o <= v for o, v in zip(other, own, strict=True))]
        for own in signed
    ]
