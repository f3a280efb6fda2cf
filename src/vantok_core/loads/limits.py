"""Ratings against loads: every limit in every state, with margin, sign and percent (method section 2).

No helper of any kind raises a limit: kits do not appear in this module at all.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vantok_core.errors import InputError

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
    # What stands on the trailer's wheels: its tongue is carried by the vehicle and already in `both`.
    own = loads.trailer_axle if loads.trailer_axle is not None else max(loads.trailer - loads.tongue, 0.0)
    combined = None if both is None else both + own
    on = {"gross": both, "front_axle": loads.front, "rear_axle": loads.rear}
    if ratings.tag_axle is not None or loads.tag is not None:
        on["tag_axle"] = loads.tag
    on |= {"front_tyres": loads.front, "rear_tyres": loads.rear}
    if loads.tongue or loads.trailer:
        on |= {
            "hitch": loads.tongue or None,
            "towed": loads.trailer or None,
            "combination": combined if loads.trailer else None,
        }
        for key in ("trailer_axle", "trailer_tyres"):
            if getattr(ratings, key) is not None:
                on[key] = own if loads.trailer or loads.trailer_axle is not None else None
    return [Margin(key=key, limit=getattr(ratings, key), load=load) for key, load in on.items()]


def smallest(found: Sequence[Margin]) -> Margin | None:
    """Return the limit with the smallest margin as a share of itself: the one that speaks. None when none is known."""
    known = [m for m in found if m.share is not None]
    return min(known, key=lambda m: m.share or 0.0) if known else None


LOAD_INDEX = {
    60: 250, 61: 257, 62: 265, 63: 272, 64: 280, 65: 290, 66: 300, 67: 307, 68: 315, 69: 325, 70: 335, 71: 345,
    72: 355, 73: 365, 74: 375, 75: 387, 76: 400, 77: 412, 78: 425, 79: 437, 80: 450, 81: 462, 82: 475, 83: 487,
    84: 500, 85: 515, 86: 530, 87: 545, 88: 560, 89: 580, 90: 600, 91: 615, 92: 630, 93: 650, 94: 670, 95: 690,
    96: 710, 97: 730, 98: 750, 99: 775, 100: 800, 101: 825, 102: 850, 103: 875, 104: 900, 105: 925, 106: 950,
    107: 975, 108: 1000, 109: 1030, 110: 1060, 111: 1090, 112: 1120, 113: 1150, 114: 1180, 115: 1215, 116: 1250,
    117: 1285, 118: 1320, 119: 1360, 120: 1400, 121: 1450, 122: 1500, 123: 1550, 124: 1600, 125: 1650, 126: 1700,
    127: 1750, 128: 1800, 129: 1850, 130: 1900, 131: 1950, 132: 2000, 133: 2060, 134: 2120, 135: 2180, 136: 2240,
    137: 2300, 138: 2360, 139: 2430, 140: 2500, 141: 2575, 142: 2650, 143: 2725, 144: 2800, 145: 2900, 146: 3000,
    147: 3075, 148: 3150, 149: 3250, 150: 3350, 151: 3450, 152: 3550, 153: 3650, 154: 3750, 155: 3875, 156: 4000,
    157: 4125, 158: 4250, 159: 4375, 160: 4500,
}  # fmt: skip
"""Load per tyre (kg) by load index; the common table of tyre standards (as in UN Regulation 54, annex 4)."""


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
