"""From a scale ticket to axle loads: one portable scale put under one axle after the other, with and without the trailer.

Source: method section 2 (weigh slips beat estimates); least squares for the one reading to spare (textbook).
"""

from __future__ import annotations

from dataclasses import dataclass

from vantok_core.base.errors import InputError

CLOSES = 0.02
"""Share of the whole by which the axles weighed one by one may miss it before they are weighed again."""


@dataclass(frozen=True, slots=True, kw_only=True)
class AxleWeighing:
    """Scale figures of one standing, kg, None where not taken: front on the scale, rear on it, both on it."""

    front: float | None = None
    rear: float | None = None
    both: float | None = None

    def __post_init__(self) -> None:
        for name in ("front", "rear", "both"):
            value = getattr(self, name)
            if value is not None and value < 0.0:
                raise InputError(f"{name} on the scale", value, "a scale reads nought or more")


@dataclass(frozen=True, slots=True, kw_only=True)
class AxleLoads:
    """Axle loads (kg), and by how much the two axles miss the whole (kg; None without all three readings)."""

    front: float
    rear: float
    closure: float | None = None

    @property
    def total(self) -> float:
        """Both axles, kg."""
        return self.front + self.rear

    @property
    def closes(self) -> bool:
        """Whether the three readings agree within the usual share."""
        return self.closure is None or abs(self.closure) <= CLOSES * self.total


def reduce_weighing(taken: AxleWeighing) -> AxleLoads | None:
    """Return the two axle loads that two or three readings give.

    Formula: front and rear as read; or the whole less the one read; with all three, the misfit `both - front - rear` is
    shared out in equal thirds (least squares with equal sigmas). Arguments and result: kg; None with fewer than two
    readings. Raises InputError where the whole is less than one of its axles. Source: least squares, own derivation.
    """
    front, rear, both = taken.front, taken.rear, taken.both
    if both is not None and max(front or 0.0, rear or 0.0) > both:
        raise InputError("both axles on the scale", both, "the whole cannot weigh less than one of its axles")
    if front is not None and rear is not None:
        if both is None:
            return AxleLoads(front=front, rear=rear)
        misfit = both - front - rear
        return AxleLoads(front=front + misfit / 3.0, rear=rear + misfit / 3.0, closure=misfit)
    if both is None or (front is None and rear is None):
        return None
    if front is not None:
        return AxleLoads(front=front, rear=both - front)
    assert rear is not None
    return AxleLoads(front=both - rear, rear=rear)


@dataclass(frozen=True, slots=True, kw_only=True)
class HitchWeighing:
    """What hitching did on the scale, kg: tongue load; what the front lost and the rear gained; the trailer's wheels and
    its whole mass (None where the train was not weighed); the tongue that the front's loss alone would tell."""

    tongue: float
    front_lost: float
    rear_gained: float
    trailer_axle: float | None
    trailer: float | None
    tongue_by_lever: float | None


def hitch_weighing(
    alone: AxleLoads, hitched: AxleLoads, *, train: float | None, overhang: float | None, wheelbase: float | None
) -> HitchWeighing:
    """Return tongue and trailer from weighing the vehicle alone and hitched, spring bars slack.

    Formula: tongue = hitched total - total alone; trailer's wheels = train - hitched total; trailer = both together. The
    front's loss gives the tongue a second time, `loss L / o`. Arguments: axle loads kg; train: everything on the scale,
    kg; overhang o, wheelbase L: m. Result: kg. Raises InputError for a train lighter than its vehicle.
    Source: method section 2 (levers).
    """
    tongue = hitched.total - alone.total
    lost = alone.front - hitched.front
    if train is not None and train < hitched.total:
        raise InputError("the whole train", train, "it cannot weigh less than its tow vehicle")
    wheels = None if train is None else train - hitched.total
    by_lever = lost * wheelbase / overhang if overhang and wheelbase else None
    return HitchWeighing(
        tongue=tongue,
        front_lost=lost,
        rear_gained=hitched.rear - alone.rear,
        trailer_axle=wheels,
        trailer=None if wheels is None else wheels + tongue,
        tongue_by_lever=by_lever,
    )
