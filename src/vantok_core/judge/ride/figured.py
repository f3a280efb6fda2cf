"""The figures that configurations are compared by over a piece.

Source: method section 15.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from vantok_core.base.units import Kind
from vantok_core.judge.ride.ready import REAR_NAME, SEAT_NAME
from vantok_core.road.course import Piece
from vantok_core.road.figures import RideResult


@dataclass(frozen=True, slots=True, kw_only=True)
class Figured:
    """A figure that configurations are compared by: key, words, kind; how it is read off a result; on which pieces; share: whether a ratio says more than a
    difference; worse: whether more of it is worse."""

    key: str
    words: str
    kind: Kind
    of: Callable[[RideResult], float | None]
    on: Callable[[Piece], bool] = lambda _: True
    share: bool = True
    worse: bool = True


def _stops(axle: str) -> Callable[[RideResult], float | None]:
    def strikes(one: RideResult) -> float | None:
        sides = one.stops.get(f"{axle} bump stops")
        return None if sides is None else float(max(side["strikes"] for side in sides.values()))

    return strikes


def _at(name: str, values: str) -> Callable[[RideResult], float | None]:
    def value(one: RideResult) -> float | None:
        found: Mapping[str, float] = getattr(one, values)
        return found.get(name)

    return value


FIGURES: tuple[Figured, ...] = (
    Figured(
        key="blow",
        words="hardest blow at the seat",
        kind="acceleration",
        of=_at(SEAT_NAME, "peak_acc"),
        on=lambda p: not p.endless and not p.leans,
    ),
    Figured(
        key="felt",
        words="felt at the seat, weighted",
        kind="acceleration",
        of=_at(SEAT_NAME, "felt"),
        on=lambda p: not p.leans,
    ),
    Figured(
        key="rear_blow",
        words="hardest blow over the rear axle",
        kind="acceleration",
        of=_at(REAR_NAME, "peak_acc"),
        on=lambda p: not p.leans,
    ),
    Figured(key="rear_stops", words="strikes on the rear stops", kind="count", of=_stops("rear"), share=False),
    Figured(key="front_stops", words="strikes on the front stops", kind="count", of=_stops("front"), share=False),
    Figured(
        key="rebounds",
        words="swings after it",
        kind="count",
        of=lambda one: None if one.rebounds is None else float(one.rebounds),
        on=lambda p: not p.leans,
        share=False,
    ),
    Figured(
        key="drop",
        words="rear moves at most",
        kind="length",
        of=lambda one: one.peak_drop_rear,
        on=lambda p: not p.leans,
    ),
    Figured(key="roll", words="leans at most", kind="angle", of=lambda one: one.peak_roll),
    Figured(
        key="tyre",
        words="least load on a tyre",
        kind="force",
        of=lambda one: min(one.least_tyre_load.values()),
        worse=False,
    ),
)
"""What configurations are compared by, in the order of the table."""
