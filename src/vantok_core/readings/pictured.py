"""A height read off a photograph of a wheel: the tyre's known size is the scale."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from math import hypot, sqrt

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, Say
from vantok_core.base.units import UNITS

Point = tuple[float, float]
MARKED = 1.5
"""How well a mark is set on a picture, pixels (setting)."""
OF_SIZE, OF_DEPTH = 0.010, 0.010
"""How well a tyre's outer diameter is known, and what the arch standing before or behind the tyre makes, as a share (settings)."""
ASKEW = 0.06
"""How far the hub may lie from the middle of the tyre's two edges, as a share of the diameter (setting)."""
MARKS = ("arch", "hub", "edge_1", "edge_2")
_SIZE = re.compile(r"(\d{3})\s*/\s*(\d{2,3})\s*[Zz]?[Rr-]\s*(\d{2})(?:[.,](\d))?")


@dataclass(frozen=True, slots=True, kw_only=True)
class Pictured:
    """Hub to arch and its sigma, m; pixels the tyre's diameter has."""

    height: float
    sigma: float
    pixels: float


def pictured(marks: Mapping[str, Point], diameter: float) -> Pictured:
    """Return hub to arch off a photograph.

    Formula: pixels from hub to arch times the tyre's diameter over its pixels; sigma of the four marks, of the diameter, and of the arch's depth, in
    quadrature. Arguments: marks: `arch`, `hub`, and the tyre's outer edge at two places across from one another (pixels); diameter: m. Raises InputError for
    a mark that is not set, marks on one another, a hub that is not midway (taken askew), a diameter that is no tyre's. Source: own derivation.
    """
    for name in MARKS:
        if name not in marks:
            raise InputError(name, "nothing", "set this mark on the picture")
    if not 0.3 <= diameter <= 1.5:
        raise InputError(
            "diameter",
            diameter,
            Say(
                "a tyre is {least} to {most} across",
                {"least": Quantity(0.3, "length"), "most": Quantity(1.5, "length")},
            ),
        )
    arch, hub, one, two = (marks[name] for name in MARKS)
    across, up = hypot(one[0] - two[0], one[1] - two[1]), hypot(arch[0] - hub[0], arch[1] - hub[1])
    if across < 20.0 or up < 5.0:
        raise InputError(
            "marks",
            (round(across), round(up)),
            "the marks lie on one another: take a larger picture, or set them apart",
        )
    middle = (0.5 * (one[0] + two[0]), 0.5 * (one[1] + two[1]))
    if hypot(hub[0] - middle[0], hub[1] - middle[1]) > ASKEW * across:
        raise InputError(
            "hub",
            "it",
            "it is not midway between the tyre's edges: set the marks again, or take the picture square to the wheel",
        )
    scale = diameter / across
    height, mark = up * scale, MARKED * sqrt(2.0)
    sigma = hypot(mark * scale, height * mark / across, height * OF_SIZE, height * OF_DEPTH)
    return Pictured(height=height, sigma=sigma, pixels=across)


def tyre_diameter(size: str) -> float:
    """Return the outer diameter (m) of a tyre by its size, like 235/65 R16. Raises InputError for a text that is none.

    Source: own derivation (rim and two walls).
    """
    match = _SIZE.search(size)
    if match is None:
        raise InputError("size", size[:40], "write the tyre's size as on its wall, like 235/65 R16")
    width, share, rim = float(match[1]) / 1000.0, float(match[2]) / 100.0, float(f"{match[3]}.{match[4] or 0}")
    return rim * UNITS["length"]["in"] + 2.0 * width * share
