"""What may be behind a height missed after fitting, in order of likelihood: how often each happens, times how well it fits the pattern of the misses.

The weights are this program's own estimates of a workshop's experience; they set an order, and are no measured odds. Source: own derivation.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause:
    """Something that may be behind a missed height: key, words, whether it can only happen where something is shut in."""

    key: str
    words: str
    sealed: bool = False


CAUSES = (
    Cause(key="read", words="the reading: read it again"),
    Cause(key="settled", words="not settled: roll it, bounce it, read again"),
    Cause(key="load", words="the load changed between prediction and reading"),
    Cause(key="leak", words="a leak: check the pressure, soap the whole bag", sealed=True),
    Cause(key="entered", words="the gauge and the setting: read it now, against what was entered"),
)
"""What a technician looks into; the kit's own strength beside them is told by the heights themselves."""
KIT_CAUSE = Cause(key="kit", words="the kit is not as strong as its sheet")
AIRED_LOW = ("entered", "leak", "kit", "load", "read", "settled")
"""The order where what holds air stands low on both sides and no reading says otherwise (method section 26)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Pattern:
    """How the misses lie: one side or both alike; whether the other axle stands off too; whether the readings drift one way, or were not settled;
    whether it stands high."""

    one_side: bool
    other_axle: bool
    drifting: bool
    unsettled: bool
    high: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Weights:
    """How often a cause is behind a miss, and how likely it makes each mark of the pattern."""

    often: float
    one_side: float
    other_axle: float
    drifting: float
    unsettled: float
    high: float


WEIGHTS: Mapping[str, Weights] = {
    "read": Weights(often=0.30, one_side=0.75, other_axle=0.15, drifting=0.05, unsettled=0.3, high=0.5),
    "settled": Weights(often=0.22, one_side=0.30, other_axle=0.35, drifting=0.50, unsettled=0.9, high=0.5),
    "load": Weights(often=0.15, one_side=0.15, other_axle=0.45, drifting=0.05, unsettled=0.3, high=0.5),
    "leak": Weights(often=0.13, one_side=0.75, other_axle=0.05, drifting=0.70, unsettled=0.3, high=0.005),
    "entered": Weights(often=0.10, one_side=0.50, other_axle=0.02, drifting=0.02, unsettled=0.3, high=0.5),
    "kit": Weights(often=0.10, one_side=0.05, other_axle=0.02, drifting=0.03, unsettled=0.3, high=0.5),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Weighed:
    """A cause and its share of all of them by the weights, 0 to 1."""

    cause: Cause
    share: float


def weighed(pattern: Pattern, *, sealed: bool) -> tuple[Weighed, ...]:
    """Return the causes of a miss, likeliest first; where what holds air stands low alike on both sides, in the trade's own order.

    Formula: how often each happens times the likelihood of every mark of the pattern, shares of their sum. Arguments: sealed: whether anything is
    shut in that could leak. Source: own derivation (Bayes' rule with marks taken as independent).
    """
    asked = [c for c in (*CAUSES, KIT_CAUSE) if sealed or not c.sealed]
    likely = {c.key: _likely(WEIGHTS[c.key], pattern) for c in asked}
    total = sum(likely.values())
    order = sorted(asked, key=lambda c: -likely[c.key])
    if sealed and not (pattern.one_side or pattern.other_axle or pattern.drifting or pattern.unsettled or pattern.high):
        order = sorted(asked, key=lambda c: AIRED_LOW.index(c.key))
    return tuple(Weighed(cause=c, share=likely[c.key] / total) for c in order)


def _likely(w: Weights, p: Pattern) -> float:
    found = w.often
    for seen, chance in (
        (p.one_side, w.one_side),
        (p.other_axle, w.other_axle),
        (p.drifting, w.drifting),
        (p.unsettled, w.unsettled),
        (p.high, w.high),
    ):
        found *= chance if seen else 1.0 - chance
    return found


def pattern_words(pattern: Pattern) -> str:
    """Return the pattern in words."""
    told = ["one side" if pattern.one_side else "both sides alike"]
    told += ["the other axle too"] if pattern.other_axle else []
    told += ["drifting one way"] if pattern.drifting else []
    told += ["read before it was settled"] if pattern.unsettled else []
    return ", ".join(told)
