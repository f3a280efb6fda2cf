"""A vehicle across its jobs: empty and loaded heights over time, and whether its springs are settling."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from vantok_core.base.names import ARCHES
from vantok_core.base.say import Finding, Say, length
from vantok_core.judge.visits.thresholds import SETTLING

AXLE_PLACES = {"rear": ("RL", "RR"), "front": ("FL", "FR")}


@dataclass(frozen=True, slots=True, kw_only=True)
class PastHeight:
    """One height of one job: job number, when, state's name, empty or not, phase, datum, place, m."""

    job: str
    at: datetime
    state: str
    empty: bool
    phase: str
    datum: str
    place: str
    value_m: float


def axle_means(history: Sequence[PastHeight], axle: str, datum: str) -> list[tuple[datetime, str, float]]:
    """Return when, in which job, and how high (m) the empty axle stood without a kit, oldest first; both sides needed."""
    found: dict[str, dict[str, PastHeight]] = {}
    for one in history:
        if one.empty and one.phase == "before" and one.datum == datum and one.place in AXLE_PLACES[axle]:
            found.setdefault(one.job, {})[one.place] = one
    means = [
        (max(p.at for p in places.values()), job, sum(p.value_m for p in places.values()) / 2)
        for job, places in found.items()
        if len(places) == 2
    ]
    return sorted(means)


def settling(history: Sequence[PastHeight]) -> list[Finding]:
    """Return the axles whose empty height has fallen since an earlier visit, against the highest one read before."""
    found = []
    for axle in AXLE_PLACES:
        for datum in ARCHES:
            means = axle_means(history, axle, datum)
            if len(means) < 2:
                continue
            _, job, before = max(means[:-1], key=lambda m: m[2])
            fall = before - means[-1][2]
            if fall > SETTLING:
                what = Say(
                    "Empty, the {axle} stands {d} lower than in job {job}.",
                    {"d": length(fall), "axle": axle, "job": job},
                )
                do = Say(
                    "Tired springs, bigger changes of load or tyres: compare tyre pressure and what is aboard, then the springs."
                )
                found.append(Finding(key=f"settling-{axle}", tone="act", topic="history", what=what, do=do))
                break
    return found
