"""From one datum to the other: what the tyre's squash makes of a drop (method section 1)."""

from __future__ import annotations

from vantok_core.base.errors import InputError, MixedDatumError


def ground_drop(reference: float, now: float, datums: tuple[str, str], load_gain: float, tyre_rate: float) -> float:
    """Return an axle's ground drop from two heights on one datum.

    Formula: reference less now; on the hub datum the tyre's own squash `dF / k_t` comes to it. Arguments: reference, now: m;
    datums: of the two; load_gain dF: N gained per side; tyre_rate k_t: N/m per side. Result: m, positive down. Raises
    MixedDatumError for two datums, InputError for a tyre rate not above zero or a datum other than hub and ground.
    Source: method section 1.
    """
    before, after = datums
    if before != after:
        raise MixedDatumError(before, after)
    if before not in ("hub", "ground"):
        raise InputError("datum", before, "an axle's drop is read on the hub or the ground datum")
    if not tyre_rate > 0.0:
        raise InputError("k_t", tyre_rate, "a tyre rate must be above zero")
    drop = reference - now
    return drop if before == "ground" else drop + load_gain / tyre_rate
