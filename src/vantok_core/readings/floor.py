"""The bay's floor: what its slope adds to a tape's figure, found by turning one vehicle round.

Source: method section 1 (datums), work practice ("measuring, turning the vehicle round and measuring again"); own derivation.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from vantok_core.base.errors import InputError
from vantok_core.base.names import CORNERS
from vantok_core.base.units import both

OPPOSITE = {key: corner.across for key, corner in CORNERS.items()}
"""Where a corner stands after the vehicle was turned round on the same four spots."""
FLOOR_MOST = 0.12
"""A floor that is off by more than this (m) is no workshop floor: one of the readings is wrong."""

SPREAD_MOST = 0.015
"""Two pairs that tell the same may disagree by this much (m): beyond it a reading is wrong, or the vehicle was not settled."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Floor:
    """What the floor adds to a reading at each spot (m), named by the corner that stands there facing in; and by how much
    the two pairs of readings that tell the same disagree at most (m)."""

    spots: Mapping[str, float]
    spread: float

    def at(self, corner: str, *, facing_out: bool = False) -> float:
        """Return what it adds at a corner of a vehicle that stands facing in, or out (m)."""
        return self.spots[OPPOSITE[corner] if facing_out else corner]


def floor_from_turn(facing_in: Mapping[str, float], facing_out: Mapping[str, float]) -> Floor:
    """Return the floor from one vehicle's four heights (m) read facing in, and again facing out on the same spots.

    Formula: a slope adds `b` at a spot and `-b` at the one across the diagonal, so a corner's two readings differ by `2 b`;
    each diagonal tells it twice, and their mean is taken. A twist of the floor, alike for both ways round, cannot be seen by
    turning round. Arguments: facing_in, facing_out: heights by corner, m. Raises InputError for a missing corner, a floor off by more than 120 mm, or
    two pairs that disagree by more than 15 mm.
    """
    lacking = [c for c in OPPOSITE if c not in facing_in or c not in facing_out]
    if lacking:
        raise InputError("floor", ", ".join(lacking), "all four corners are read both ways round")
    half = {c: 0.5 * (facing_in[c] - facing_out[c]) for c in OPPOSITE}
    spots = {c: 0.5 * (half[c] - half[OPPOSITE[c]]) for c in OPPOSITE}
    worst = max(spots.values(), key=abs)
    if abs(worst) > FLOOR_MOST:
        off = f"off by {both('length', abs(worst))} at one spot"
        raise InputError("floor", off, "no workshop floor is: read again, on the same four spots")
    spread = max(abs(half[c] + half[OPPOSITE[c]]) for c in ("FL", "FR"))
    if spread > SPREAD_MOST:
        raise InputError(
            "floor", f"two pairs that disagree by {both('length', spread)}", "they tell the same: read again"
        )
    return Floor(spots=spots, spread=spread)
