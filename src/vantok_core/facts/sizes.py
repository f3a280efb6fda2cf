"""Sizes on the vehicle that kits ask for: what each is, its kind and bounds, and where it is read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

SizeName = Literal[
    "front_coils",
    "rear_coils",
    "front_coil_inside_m",
    "rear_coil_inside_m",
    "front_coil_gap_m",
    "rear_coil_gap_m",
    "front_leaves",
    "rear_leaves",
    "front_leaf_width_m",
    "rear_leaf_width_m",
    "front_bush_m",
    "rear_bush_m",
    "front_bracket_m",
    "rear_bracket_m",
    "front_tyre_bar_m",
    "rear_tyre_bar_m",
]


@dataclass(frozen=True, slots=True)
class Size:
    """A size: words, kind of quantity, lowest and highest that can be (SI), where and how it is read."""

    words: str
    kind: Literal["length", "count"]
    low: float
    high: float
    read: str


_OF_AXLE = {
    "coils": Size("active coils", "count", 2.0, 20.0, "Count the windings that move; the ends that lie flat are none."),
    "coil_inside_m": Size("coil, inside diameter", "length", 0.03, 0.4, "Across the windings, inside, at ride height."),
    "coil_gap_m": Size("gap between windings", "length", 0.002, 0.15, "At ride height, where the kit goes."),
    "leaves": Size(
        "leaves in the pack", "count", 1.0, 20.0, "Count them at the centre bolt; packers and blocks are none."
    ),
    "leaf_width_m": Size("leaf, width", "length", 0.03, 0.15, "Across the main leaf."),
    "bush_m": Size(
        "spring bush, width",
        "length",
        0.03,
        0.15,
        "The eye's bush, end to end, out of its bracket or with a calliper beside it.",
    ),
    "bracket_m": Size("spring bracket, inside width", "length", 0.03, 0.16, "Between the cheeks where the eye goes."),
    "tyre_bar_m": Size(
        "tyre to bar, least", "length", 0.0, 0.3, "At either lock, on its wheels, where the bar comes nearest."
    ),
}
SIZES: Mapping[str, Size] = {
    f"{axle}_{name}": Size(f"{axle} {size.words}", size.kind, size.low, size.high, size.read)
    for axle in ("front", "rear")
    for name, size in _OF_AXLE.items()
}
OF_COIL, OF_LEAF = ("coils", "coil_inside_m", "coil_gap_m"), ("leaves", "leaf_width_m", "bush_m", "bracket_m")
OF_ANY = ("tyre_bar_m",)
Steering = Literal["", "box", "rack"]
"""Steering box with drag link, or rack and pinion; empty: nobody looked."""
StopNuts = Literal["", "sound", "rusted", "gone"]
"""The captive nuts that the bump stops screw into; empty: nobody looked."""
