"""Ratings against loads: every limit in every state, with margin, sign and percent (method section 2).

No helper of any kind raises a limit: kits do not appear in this module at all.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vantok_core.base.errors import InputError
from vantok_core.facts.classes import LOAD_INDEX

LIMIT_NAMES = {
    "gross": "gross vehicle mass",
    "front_axle": "front axle",
    "rear_axle": "rear axle",
    "tag_axle": "tag axle",
    "front_tyres": "front tyres",
    "rear_tyres": "rear tyres",
    "hitch": "hitch vertical load",
    "towed": "towed mass",
    "combination": "gross combination mass",
    "trailer_axle": "trailer axle",
    "trailer_tyres": "trailer tyres",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Ratings:
    """The plate and the tyres: kg, None where not known yet."""

    gross: float | None = None
    front_axle: float | None = None
    rear_axle: float | None = None
    tag_axle: float | None = None
    front_tyres: float | None = None
    rear_tyres: float | None = None
    hitch: float | None = None
    towed: float | None = None
    combination: float | None = None
    trailer_axle: float | None = None
    trailer_tyres: float | None = None

    def __post_init__(self) -> None:
        for name, words in LIMIT_NAMES.items():
            value = getattr(self, name)
            if value is not None and not value > 0.0:
                raise InputError(words, value, "a rating must be above zero")


@dataclass(frozen=True, slots=True, kw_only=True)
class StateLoads:
    """What a state puts on each limit: kg, None where not known yet. tongue, trailer: zero when nothing is hitched;
    trailer_axle: what stands on the trailer's own wheels (spring bars put some there), None: trailer less tongue."""

    front: float | None
    rear: float | None
    tongue: float = 0.0
    trailer: float = 0.0
    tag: float | None = None
    trailer_axle: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Margin:
    """One limit in one state: limit and load kg; either may be None, and then the margin is "to measure"."""

    key: str
    limit: float | None
    load: float | None

    @property
    def name(self) -> str:
        """The limit in words."""
        return LIMIT_NAMES[self.key]

    @property
    def margin(self) -> float | None:
        """Limit less load, kg; negative when over."""
        return None if self.limit is None or self.load is None else self.limit - self.load

    @property
    def share(self) -> float | None:
        """Margin as a share of the limit."""
        return None if self.margin is None or not self.limit else self.margin / self.limit

    @property
    def over(self) -> bool:
        """Whether the load is over the limit."""
        return self.margin is not None and self.margin < 0.0


def margins(ratings: Ratings, loads: StateLoads) -> list[Margin]:
    """Return each limit's margin in a state, in the order of the plate; hitch limits only with a trailer."""
    both = None if loads.front is None or loads.rear is None else loads.front + loads.rear
    on = {"gross": both, "front_axle": loads.front, "rear_axle": loads.rear}
    if ratings.tag_axle is not None or loads.tag is not None:
        on["tag_axle"] = loads.tag
    on |= {"front_tyres": loads.front, "rear_tyres": loads.rear}
    if loads.tongue or loads.trailer:
        on |= _towing(ratings, loads, both)
    return [Margin(key=key, limit=getattr(ratings, key), load=load) for key, load in on.items()]


def _towing(ratings: Ratings, loads: StateLoads, both: float | None) -> dict[str, float | None]:
    """Return what a trailer puts on each of its limits (kg); both: what stands on the vehicle's axles, its tongue included."""
    # What stands on the trailer's wheels: its tongue is carried by the vehicle and already in `both`.
    own = loads.trailer_axle if loads.trailer_axle is not None else max(loads.trailer - loads.tongue, 0.0)
    combined = both + own if loads.trailer and both is not None else None
    on = {"hitch": loads.tongue or None, "towed": loads.trailer or None, "combination": combined}
    wheels = own if loads.trailer or loads.trailer_axle is not None else None
    return on | {key: wheels for key in ("trailer_axle", "trailer_tyres") if getattr(ratings, key) is not None}


def smallest(found: Sequence[Margin]) -> Margin | None:
    """Return the limit with the smallest margin as a share of itself: the one that speaks. None when none is known."""
    known = [m for m in found if m.share is not None]
    return min(known, key=lambda m: m.share or 0.0) if known else None


def tyre_limit(load_index: int, tyres: int, dual_index: int | None = None) -> float:
    """Return what an axle's tyres may carry: load index times tyres, the dual index for dual wheels (kg).

    Raises InputError for an index outside the table or no tyres. Source: method section 2.
    """
    index = dual_index if tyres > 2 and dual_index is not None else load_index
    if index not in LOAD_INDEX:
        raise InputError("load index", index, f"it must lie between {min(LOAD_INDEX)} and {max(LOAD_INDEX)}")
    if tyres < 1:
        raise InputError("tyres", tyres, "an axle has tyres")
    return float(LOAD_INDEX[index] * tyres)


OVERHANG_EASY, OVERHANG_WATCH = 0.50, 0.60
"""Default bands of the rear overhang ratio (method section 2)."""


def overhang_ratio(rear_overhang: float, wheelbase: float) -> float:
    """Return body behind the rear axle over wheelbase (m over m). Raises InputError."""
    if rear_overhang < 0.0 or not wheelbase > 0.0:
        raise InputError("rear overhang", rear_overhang, "it cannot be negative, and a wheelbase is needed")
    return rear_overhang / wheelbase


def tongue_share_verdict(share: float, kind: str = "ball") -> str:
    """Return "light", "good" or "heavy" for a tongue's share of the trailer's mass: 10-15 % on a ball, 15-25 % on a pin."""
    low, high = (0.10, 0.15) if kind == "ball" else (0.15, 0.25)
    return "light" if share < low else "heavy" if share > high else "good"
