"""The demo shelf: invented kits with real-looking data."""

from __future__ import annotations

from typing import Any

PRESSURES = [100e3, 200e3, 300e3, 400e3, 500e3, 600e3, 690e3]
LEAF = ["leaf_solid", "two_stage_leaf_solid", "parabolic_solid"]


def _table(heights: list[float], areas: list[float]) -> list[list[float]]:
    """Return a load table from mean areas (m2) by height; the bag stiffens a little with pressure."""
    return [[round(p * a * (1.0 + 0.03 * (p - 300e3) / 300e3), 0) for p in PRESSURES] for a in areas]


def _bellows(
    code: str, name: str, scale: float, gross: tuple[float, float], price: float, **more: Any
) -> dict[str, Any]:
    heights = [0.09, 0.12, 0.15, 0.18, 0.21, 0.24]
    areas = [scale * a for a in (0.0128, 0.0124, 0.0116, 0.0106, 0.0094, 0.0076)]
    return {
        "code": code, "name": name, "maker": "Ferrywell Air", "family": "air_spring", "springs": LEAF,
        "gross_min_kg": gross[0], "gross_max_kg": gross[1], "place": 0.56, "own_stop": True, "replaces_stop": False,
        "side_space_m": 0.019, "price": price, "hours": 3.5, "upkeep_per_year": 25, "p_min_pa": 35e3, "p_max_pa": 690e3,
        "heights_m": heights, "pressures_pa": PRESSURES, "loads_n": _table(heights, areas), "volume_m3": 0.0019 * scale,
        "volume_at_m": 0.165, "pad_min_m": 0.14, "pad_max_m": 0.20, "drilling": False, "reversible": True,
        "notes": "Two lines, a valve each side. Mock up at ride height, not lifted, before the final tightening.", **more,
    }  # fmt: skip


def _insert(
    code: str, name: str, scale: float, gross: tuple[float, float], price: float, **more: Any
) -> dict[str, Any]:
    points = [[0.008, 260], [0.016, 620], [0.026, 1350], [0.038, 2700], [0.050, 5000], [0.060, 8600]]
    return {
        "code": code, "name": name, "maker": "Slipway Rubber", "family": "insert", "springs": [*LEAF, "coil_solid"],
        "gross_min_kg": gross[0], "gross_max_kg": gross[1], "place": 0.60, "replaces_stop": True, "side_space_m": 0.012,
        "price": price, "hours": 1.2, "upkeep_per_year": 0, "points": [[c, round(f * scale)] for c, f in points],
        "longer_m": 0.020, "gap_min_m": 0.0, "gap_max_m": 0.045, "spacers_m": [0.006, 0.012], "contact": True, "drilling": False, "reversible": True,
        "notes": "Screws in where the bump stop was. Locker only after the trial: it makes a later spacer change harder.", **more,
    }  # fmt: skip


KITS: list[dict[str, Any]] = [
    _bellows("FW-L", "Ferrywell bellows, light", 0.75, (1500, 2900), 420),
    _bellows("FW-M", "Ferrywell bellows, middle", 1.0, (2500, 4200), 480),
    _bellows("FW-H", "Ferrywell bellows, heavy", 1.75, (4000, 9000), 690, hours=4.5, pad_min_m=0.13, pad_max_m=0.22),
    {
        **_bellows("FW-C", "Ferrywell sleeve in the coil", 0.34, (1200, 2800), 190),
        "springs": ["coil_solid", "coil_independent"], "place": 0.6, "own_stop": False, "hours": 1.8, "upkeep_per_year": 15,
        "notes": "Goes inside the coil. Lifts nothing where the coil is already extended; keep the minimum pressure.",
    },
    _insert("SR-20", "Slipway rubber 20", 1.0, (1500, 3000), 170),
    _insert("SR-35", "Slipway rubber 35", 1.7, (2400, 4600), 210),
    {
        "code": "CH-4", "name": "Causeway helper leaf", "maker": "Causeway Springs", "family": "helper_leaf",
        "springs": ["leaf_solid", "two_stage_leaf_solid"], "gross_min_kg": 1800, "gross_max_kg": 4200, "place": 0.61,
        "side_space_m": 0.010, "price": 260, "hours": 1.8, "upkeep_per_year": 5, "rate_n_per_m": 21_000,
        "preloads_n": [350, 700, 1050, 1400], "drilling": True, "reversible": False,
        "notes": "Marked end forward; rollers in the same hole on both sides. It floats: never clamp it to the pack.",
    },
    {
        "code": "CA-8", "name": "Causeway coil assist", "maker": "Causeway Springs", "family": "coil_assist",
        "springs": ["leaf_solid", "two_stage_leaf_solid", "parabolic_solid"], "gross_min_kg": 1500, "gross_max_kg": 3500, "place": 0.60,
        "side_space_m": 0.008, "price": 190, "hours": 1.1, "upkeep_per_year": 5, "rate_n_per_m": 16_000, "preload_n": 300,
        "per_step_n": 260, "steps_max": 4, "drilling": False, "reversible": True,
        "notes": "Straight on the leaf, as close to the axle as it goes. The same discs on both sides.",
    },
    _insert("SR-60", "Slipway rubber 60, heavy", 3.2, (4000, 9000), 330),
]  # fmt: skip
