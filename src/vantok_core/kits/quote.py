"""A quote: parts, labour by side, what must come off counted once, a reserve for stuck fasteners, consumables and tax, each line to the cent.

Source: method section 17. Money is in the shop's currency; none of it is SI.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import ROUND_HALF_UP, Decimal

from vantok_core.base.errors import InputError
from vantok_core.facts.quote import Corrosion

SECOND_SIDE = 0.8
"""What the second side takes of the first's hours."""
RESERVE: Mapping[Corrosion, float] = {"none": 0.0, "light": 0.10, "moderate": 0.25, "heavy": 0.50}
"""Share of all hours kept for fasteners that do not come undone."""
CENT = Decimal("0.01")


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """A part: price of one (currency), how many."""

    price: float
    count: float = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Labour:
    """A piece of work: hours of one side, sides (1 or 2), and the hours of each access work by name."""

    name: str
    hours: float
    sides: int = 2
    access: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Quote:
    """A quote's sums (currency), low without the reserve and high with it; hours: all, without the reserve."""

    hours: float
    parts: float
    labour: float
    access: float
    consumables: float
    reserve: float
    net: tuple[float, float]
    tax: tuple[float, float]
    total: tuple[float, float]

    @property
    def is_range(self) -> bool:
        """Whether low and high differ."""
        return self.total[0] != self.total[1]


def quote(
    parts: Sequence[Part],
    labour: Sequence[Labour],
    *,
    rate: float,
    reserve_share: float = 0.0,
    consumables: float = 0.0,
    tax: float = 0.0,
    second_side: float = SECOND_SIDE,
) -> Quote:
    """Return the sums of a quote, each line rounded to the cent, half up.

    Arguments: rate: per hour, consumables: currency; reserve_share of all hours, tax, second_side of the first: each a share.
    Raises InputError
    for a figure below nought or sides other than one or two. Source: method section 17.
    """
    told = {"rate": rate, "reserve": reserve_share, "consumables": consumables, "tax": tax, "second side": second_side}
    told |= {f"{work.name} hours": work.hours for work in labour} | {
        f"part {n}": p.price for n, p in enumerate(parts, 1)
    }
    for name, value in told.items():
        if not value >= 0.0:
            raise InputError(name, value, "it cannot be below nought")
    worked = [_hours(work, second_side) for work in labour]
    access: dict[str, Decimal] = {}
    for work in labour:
        for name, taken in work.access.items():
            access[name] = max(access.get(name, Decimal(0)), _exact(taken))
    hours = sum(worked, Decimal(0)) + sum(access.values(), Decimal(0))
    an_hour = _exact(rate)
    sums = {
        "parts": sum((_cents(_exact(p.price) * _exact(p.count)) for p in parts), Decimal(0)),
        "labour": sum((_cents(h * an_hour) for h in worked), Decimal(0)),
        "access": sum((_cents(h * an_hour) for h in access.values()), Decimal(0)),
        "consumables": _cents(_exact(consumables)),
    }
    reserve = _cents(hours * _exact(reserve_share) * an_hour)
    low = sum(sums.values(), Decimal(0))
    net = (low, low + reserve)
    taxes = tuple(_cents(n * _exact(tax)) for n in net)
    return Quote(
        hours=float(hours),
        reserve=float(reserve),
        net=(float(net[0]), float(net[1])),
        tax=(float(taxes[0]), float(taxes[1])),
        total=(float(net[0] + taxes[0]), float(net[1] + taxes[1])),
        **{name: float(value) for name, value in sums.items()},
    )


def _hours(work: Labour, second_side: float) -> Decimal:
    if work.sides not in (1, 2):
        raise InputError(f"{work.name} sides", work.sides, "it has one side or two")
    return _exact(work.hours) * (1 + (_exact(second_side) if work.sides == 2 else 0))


def _exact(value: float) -> Decimal:
    """Return a figure as it was typed, not as it is held."""
    return Decimal(repr(float(value)))


def _cents(value: Decimal) -> Decimal:
    return value.quantize(CENT, ROUND_HALF_UP)
