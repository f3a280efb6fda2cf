"""Starting vehicles by kind: what such a one usually is, to begin with until it is read off the vehicle itself.

Every figure is this program's own round estimate of a kind of vehicle, none is a make's; all are defaults to be replaced, and no limit is
held against a default rating.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True, slots=True, kw_only=True)
class Starting:
    """A kind of vehicle: words, and its facts by name (SI)."""

    words: str
    facts: Mapping[str, Any] = field(default_factory=dict)


def _facts(
    body: str,
    front: str,
    rear: str,
    tyres: str,
    base: float,
    tracks: tuple[float, float],
    kg: tuple[float, float, float],
    overhang: float | None = None,
    **more: Any,
) -> dict[str, Any]:
    found = {
        "body": body,
        "front_spring": front,
        "rear_spring": rear,
        "tyres": tyres,
        "wheelbase_m": base,
        "track_front_m": tracks[0],
        "track_rear_m": tracks[1],
        "gross_kg": kg[0],
        "front_axle_kg": kg[1],
        "rear_axle_kg": kg[2],
    }
    return found | ({"hitch_overhang_m": overhang} if overhang is not None else {}) | more


COIL, LEAF = "coil_independent", "leaf_solid"
STARTING: Mapping[str, Starting] = {
    "leaf_pickup": Starting(
        words="pickup on leaves, half-ton",
        facts=_facts("pickup", COIL, LEAF, "light_truck", 3.3, (1.6, 1.6), (2900, 1450, 1650), 1.2),
    ),
    "heavy_pickup": Starting(
        words="pickup on leaves, heavier",
        facts=_facts(
            "pickup", COIL, "two_stage_leaf_solid", "light_truck", 3.9, (1.72, 1.72), (4300, 2050, 2600), 1.35
        ),
    ),
    "van": Starting(
        words="van",
        facts=_facts("van", COIL, "parabolic_solid", "light_truck", 3.3, (1.65, 1.65), (3000, 1600, 1650), 1.0),
    ),
    "high_roof_van": Starting(
        words="high-roof van",
        facts=_facts(
            "high_roof_van", COIL, "parabolic_solid", "light_truck", 3.7, (1.72, 1.72), (3500, 1850, 2100), 1.15
        ),
    ),
    "four_by_four": Starting(
        words="4x4, sprung wheel by wheel",
        facts=_facts("wagon", COIL, COIL, "light_truck", 2.85, (1.6, 1.6), (3000, 1400, 1750), 1.1),
    ),
    "minivan": Starting(
        words="minivan", facts=_facts("wagon", COIL, "coil_solid", "car", 3.0, (1.62, 1.62), (2500, 1250, 1350), 1.05)
    ),
    "box_truck": Starting(
        words="box truck",
        facts=_facts("box_truck", LEAF, LEAF, "medium_duty", 4.2, (1.85, 1.75), (7500, 3200, 5200), dual_rear=True),
    ),
    "coach": Starting(
        words="coach",
        facts=_facts("coach", LEAF, LEAF, "medium_duty", 4.6, (1.95, 1.8), (8200, 3200, 5600), dual_rear=True),
    ),
    "caravan": Starting(
        words="caravan",
        facts=_facts("caravan", "coupling", "rubber_torsion_independent", "car", 4.2, (1.9, 1.9), (1600, 100, 1500)),
    ),
    "camper_trailer": Starting(
        words="camper trailer",
        facts=_facts(
            "camper_trailer", "coupling", "rubber_torsion_independent", "car", 3.4, (1.65, 1.65), (1200, 90, 1150)
        ),
    ),
}
"""What a job can begin from, by key."""
