"""Ratings against loads: every limit in every state, with margin, sign and percent (method section 2).

No helper of any kind raises a limit: kits do not appear in this module at all.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from vantok_core.base.errors import InputError
from vantok_core.facts.classes import LOAD_INDEX
from vantok_core.loads.holding import OVER, PROBABLY, Held

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
    "front_wheel": "heavier front wheel",
    "rear_wheel": "heavier rear wheel",
    "front_tyre": "tyres of the heavier front side",
    "rear_tyre": "tyres of the heavier rear side",
    "coupling": "coupling",
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
    front_wheel: float | None = None
    rear_wheel: float | None = None
    coupling: float | None = None

    @property
    def front_tyre(self) -> float | None:
        """What the tyres of one front side may carry (kg)."""
        return None if self.front_tyres is None else 0.5 * self.front_tyres

    @property
    def rear_tyre(self) -> float | None:
        """What the tyres of one rear side may carry (kg), of twins both."""
        return None if self.rear_tyres is None else 0.5 * self.rear_tyres

    def __post_init__(self) -> None:
        for name, words in LIMIT_NAMES.items():
            value = getattr(self, name)
            if value is not None and not value > 0.0:
                raise InputError(words, value, "a rating must be above zero")


@dataclass(frozen=True, slots=True, kw_only=True)
class StateLoads:
    """What a state puts on each limit: kg, None where not known yet. tongue, trailer: zero when nothing is hitched;
    trailer_axle: what stands on the trailer's own wheels (spring bars put some there), None: trailer less tongue; front_side,
    rear_side: the heavier wheel off pads; sigma: of what stands on a limit, by its key, kg (not there: exact)."""

    front: float | None
    rear: float | None
    tongue: float = 0.0
    trailer: float = 0.0
    tag: float | None = None
    trailer_axle: float | None = None
    front_side: float | None = None
    rear_side: float | None = None
    sigma: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Margin:
    """One limit in one state: limit, load and its sigma (kg); limit or load may be None, and then the margin is "to measure"."""

    key: str
    limit: float | None
    load: float | None
    sigma: float = 0.0

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
    def held(self) -> Held | None:
        """How the limit holds with the load's error; None where either is not known."""
        if self.limit is None or self.load is None:
            return None
        return Held(name=self.name, limit=self.limit, load=self.load, sigma=self.sigma)

    @property
    def past(self) -> bool:
        """Whether the figure stands past the limit, be it by less than its error."""
        return self.margin is not None and self.margin < 0.0

    @property
    def over(self) -> bool:
        """Whether the load is over the limit by more than its error leaves open."""
        return self.held is not None and self.held.p < OVER

    @property
    def unsure(self) -> bool:
        """Whether it may be over, and may not."""
        return self.held is not None and OVER <= self.held.p < PROBABLY

    @property
    def word(self) -> str:
        """What may be said of it (see `holding.WORDS`); empty where it is not known."""
        return self.held.word if self.held else ""


def margins(ratings: Ratings, loads: StateLoads) -> list[Margin]:
    """Return each limit's margin in a state, in the order of the plate; hitch limits only with a trailer."""
    both = None if loads.front is None or loads.rear is None else loads.front + loads.rear
    on = {"gross": both, "front_axle": loads.front, "rear_axle": loads.rear}
    if ratings.tag_axle is not None or loads.tag is not None:
        on["tag_axle"] = loads.tag
    on |= {"front_tyres": loads.front, "rear_tyres": loads.rear}
    for axle, side in (("front", loads.front_side), ("rear", loads.rear_side)):
        known = [key for key in (f"{axle}_wheel", f"{axle}_tyre") if getattr(ratings, key) is not None]
        on |= dict.fromkeys(known, side) if side is not None else {}
    if loads.tongue or loads.trailer:
        on |= _towing(ratings, loads, both)
    return [
        Margin(key=key, limit=getattr(ratings, key), load=load, sigma=loads.sigma.get(key, 0.0))
        for key, load in on.items()
    ]


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
