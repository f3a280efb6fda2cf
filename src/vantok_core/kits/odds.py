"""Odds: how likely a predicted figure lies where it is wanted, and which option is right how often (method section 9)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import erfc, floor, sqrt

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray

TOLERANCE = 0.010
"""How near counts as there, m."""
EDGE = 1e-12
"""An option this little outside counts as within, m: the edge itself belongs to it."""


def odds_within(value: float, sigma: float, target: float, tolerance: float = TOLERANCE) -> float:
    """Return the chance that a figure lies within a tolerance of its target.

    Formula: `Phi((T + tol - H)/s) - Phi((T - tol - H)/s)`. Arguments: value H, sigma s, target T, tolerance: m. Result: 0 to 1;
    one or nought without a sigma. Raises InputError for a sigma below zero or a tolerance not above it. Source: method section 9.
    """
    if sigma < 0.0 or not tolerance > 0.0:
        raise InputError("sigma", (sigma, tolerance), "sigma cannot be negative, and the tolerance must be above zero")
    off = abs(target - value)  # the nearer tail keeps its digits
    if sigma == 0.0:
        return 1.0 if off <= tolerance + EDGE else 0.0
    root = sigma * sqrt(2.0)
    return 0.5 * (erfc((off - tolerance) / root) - erfc((off + tolerance) / root))


LEAST, MOST = 0.05, 0.95
"""Odds outside these are told as under or over, never as none or all."""
AS_GOOD = 0.05
"""Odds not more than this under the best are as good."""


def in_ten(odds: float) -> int:
    """Return odds (a share) in words' figures: ten times, rounded half up, never under 1 nor over 9."""
    return min(max(floor(10.0 * odds + 0.5), 1), 9)


def odds_in_words(odds: float) -> str:
    """Return odds (a share) in words. Raises InputError outside nought to one. Source: method section 24."""
    if not 0.0 <= odds <= 1.0:
        raise InputError("odds", odds, "a chance lies between nought and one")
    if odds < LEAST:
        return "under 1 in 10"
    return "over 9 in 10" if odds > MOST else f"{in_ten(odds)} in 10"


def may_recommend(odds: Mapping[str, float]) -> list[str]:
    """Return which options may be recommended by their odds (each a share): none under one half while another is over it."""
    best = max(odds.values(), default=0.0)
    return [name for name, p in odds.items() if not (p < 0.5 < best)]


def as_good(odds: Mapping[str, float]) -> list[str]:
    """Return the options as good as the best by their odds (each a share)."""
    best = max(odds.values(), default=0.0)
    return [name for name, p in odds.items() if p >= best - AS_GOOD - EDGE]


@dataclass(frozen=True, slots=True, kw_only=True)
class RightChoice:
    """Shares of the draws: within (per option), right (per option), none of them."""

    within: tuple[float, ...]
    right: tuple[float, ...]
    none: float


def right_choice(
    heights: FloatArray, targets: Sequence[float], prices: Sequence[float], tolerance: float = TOLERANCE
) -> RightChoice:
    """Return how often each option is the right one: within tolerance in every target state, and no cheaper one is.

    Arguments: heights: draw by option by target, m; targets: m; prices in one currency, SI has none; tolerance: m. Equal prices:
    the first listed counts as cheaper. Raises InputError for shapes that do not belong together. Source: method section 9.
    """
    if heights.ndim != 3 or heights.shape[1:] != (len(prices), len(targets)) or not len(heights):
        raise InputError("heights", heights.shape, "draws by options by targets are needed")
    inside = np.all(np.abs(heights - np.asarray(targets)) <= tolerance + EDGE, axis=2)
    found = np.zeros(len(prices))
    taken = np.zeros(len(heights), dtype=bool)
    for n in sorted(range(len(prices)), key=lambda i: prices[i]):
        found[n] = float(np.mean(inside[:, n] & ~taken))
        taken |= inside[:, n]
    return RightChoice(
        within=tuple(inside.mean(axis=0).tolist()), right=tuple(found.tolist()), none=float(np.mean(~taken))
    )
