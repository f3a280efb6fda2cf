"""Four heights of a body that has three freedoms: what they must agree in, and what would close them where they do not.

Source: method section 21.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import hypot

from vantok_core.base.errors import InputError

TOLD = 2.58
"""Standard deviations from which a residual is a wrong reading, a wrong datum, a floor that is not plane, or a soft body."""
TWIST, BUILT = 0.002, 0.006
"""Twist between two states, and how a body was built at each corner, m, one sigma (settings)."""
CORNERS = ("FL", "FR", "RL", "RR")


@dataclass(frozen=True, slots=True, kw_only=True)
class Corners:
    """Heights by corner and the sigma of the tape's reading of each, m, on one datum at the ground."""

    heights: Mapping[str, float]
    sigma: Mapping[str, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Residual:
    """What four corners disagree by: r and its sigma, m; limit: from where it is told; correction: what added to the last state's reading of that corner
    alone makes it nought."""

    r: float
    sigma: float
    limit: float
    correction: Mapping[str, float]

    @property
    def told(self) -> bool:
        """Whether it is past what tapes and bodies do."""
        return abs(self.r) > self.limit


def residual(states: Sequence[Corners], width_front: float, width_rear: float) -> Residual:
    """Return by how much four corners fail to lie on one rigid body.

    Formula: `r = (z_FL - z_FR) - (w_F / w_R) (z_RL - z_RR)`, z the change between two states, or the heights of one. Arguments: states: one, or
    the earlier and the later; width_front, width_rear: between the reading points of an axle, m. Raises InputError for other numbers of states, a width or a
    sigma not above nought, a corner that is lacking. Source: method section 21: friction moves the body as one and drops out.
    """
    if len(states) not in (1, 2) or not (width_front > 0.0 and width_rear > 0.0):
        raise InputError("states", len(states), "one state or two, and widths above nought, are needed")
    for state in states:
        if set(state.heights) != set(CORNERS) or not all(state.sigma.get(c, 0.0) > 0.0 for c in CORNERS):
            raise InputError("heights", sorted(state.heights), "every corner is needed, each with a sigma above nought")
    q = width_front / width_rear
    z = {c: states[-1].heights[c] - (states[0].heights[c] if len(states) == 2 else 0.0) for c in CORNERS}
    own = BUILT if len(states) == 1 else 0.0
    factor = dict(zip(CORNERS, (1.0, 1.0, q, q), strict=True))
    parts = [factor[c] * hypot(state.sigma[c], own) for state in states for c in CORNERS]
    sigma = hypot(*parts, *((TWIST,) if len(states) == 2 else ()))
    r = (z["FL"] - z["FR"]) - q * (z["RL"] - z["RR"])
    return Residual(r=r, sigma=sigma, limit=TOLD * sigma, correction={"FL": -r, "FR": r, "RL": r / q, "RR": -r / q})
