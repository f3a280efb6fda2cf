"""What is looked at after hand-over, by date and distance, whichever comes first: of each kit, and what always is.

Source: method section 17.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.facts import Fitting, Job
from vantok_core.facts.hanging import hanging
from vantok_core.kits.registry import family_of

YEAR = 365.25
MONTH = YEAR / 12.0
"""Days of a month."""
FIRST_KM, FIRST_DAYS = 80.0, 14.0
"""The first distance after which bolts are looked at again, and the days it has at most (settings)."""
YEARLY_KM = 15_000.0
"""What a vehicle is taken to be driven in a year where a check has a distance alone (setting)."""
FOLLOW_UP = 30.0
"""Days after which the customer is asked how it went (setting)."""
CENTURY = 36_500.0


@dataclass(frozen=True, slots=True, kw_only=True)
class CareTask:
    """A thing to look at again: its key, words, after how many days and how many km (None: it has none of its own), and whether the days were taken from the
    distance at a usual yearly one."""

    key: str
    words: str
    days: float
    km: float | None = None
    guessed: bool = False

    @property
    def span(self) -> str:
        """After how long, as it is said: in days, from two years on in years."""
        if self.days >= 2.0 * YEAR:
            return f"{self.days / YEAR:.0f} years"
        return f"{self.days:.0f} day{'' if round(self.days) == 1 else 's'}"


def care_tasks(job: Job, by_feel: Sequence[str] = ()) -> tuple[CareTask, ...]:
    """Return what is looked at again after hand-over, the first thing first.

    Arguments: by_feel: fasteners that were tightened by feel, or fought with. A job in which nothing was fitted has none. Source: method section 17.
    """
    if not job.parts:
        return ()
    found: dict[str, CareTask] = {}
    for n, part in enumerate(job.parts, 1):
        found |= {one.key: one for one in _of_part(n, part)}
    if any(family_of(part.kit).for_height for part in job.parts):
        found |= {one.key: one for one in _after_height(job)}
    at_axle = "axle bolts, " if any(family_of(part.kit).for_height for part in job.parts) else ""
    found["bolts"] = CareTask(
        key="bolts", words=f"{at_axle}brackets and links to their torque", days=FIRST_DAYS, km=FIRST_KM
    )
    if by_feel:
        found["feel"] = CareTask(
            key="feel",
            words=f"by feel, or after a fight, to torque: {', '.join(by_feel)}"[:120],
            days=FIRST_DAYS,
            km=FIRST_KM,
        )
    found["follow-up"] = CareTask(key="follow-up", words="ask how it went against what was hoped", days=FOLLOW_UP)
    return tuple(sorted(found.values(), key=lambda t: t.days))


def _of_part(n: int, part: Fitting) -> Iterator[CareTask]:
    """Yield what a kit asks for, the n-th that is on."""
    family, name = family_of(part.kit), part.kit.name
    if family.sealed:
        yield CareTask(key=f"leak-{n}", words=f"{name}: pressure, next morning", days=1.0)
    for k, one in enumerate(part.kit.care, 1):
        if one.months is not None and one.months * MONTH < 7.0 and family.sealed:
            continue  # the next morning's look is there already
        days = one.months * MONTH if one.months is not None else _at_usual_distance(one.km or 0.0)
        words, guessed = f"{name}: {one.what}", one.months is None
        yield CareTask(key=f"care-{n}-{k}", words=words, days=days, km=one.km, guessed=guessed)
    if part.kit.life_years is not None:
        words = f"{name}: its usual life is over, renew it"
        yield CareTask(key=f"life-{n}", words=words, days=part.kit.life_years * YEAR)


def _after_height(job: Job) -> Iterator[CareTask]:
    """Yield what is looked at because the height was changed, and what hangs on the axle that minds it."""
    yield CareTask(key="heights", words="heights again, settled, at the load it is driven with", days=30.0, km=1000.0)
    yield CareTask(key="lamps", words="headlamps aimed at the height it is driven at", days=1.0)
    for kind, hung in hanging(job.vehicle.fitted).items():
        if hung.after:
            yield CareTask(key=kind, words=hung.after, days=1.0)
    words = "wheel alignment at the height it is driven at"
    yield CareTask(key="alignment", words=words, days=30.0, km=1000.0)


def _at_usual_distance(km: float) -> float:
    """Return the days that a distance takes at a usual yearly one; of the first distance, its own."""
    return FIRST_DAYS if km <= FIRST_KM else YEAR * km / YEARLY_KM


@dataclass(frozen=True, slots=True, kw_only=True)
class Due:
    """When a thing is due: the day, and the odometer (km), None where it has no distance or nobody read the odometer at hand-over."""

    day: date
    km: float | None


def due(task: CareTask, handed: date, odometer_km: float | None = None) -> Due:
    """Return when a thing is due; handed: the day of hand-over; odometer_km: as read then, thousands of m. Raises InputError for days
    that lie before it, or beyond a century.

    Source: method section 17.
    """
    if not 0.0 <= task.days <= CENTURY:
        raise InputError("days", task.days, "a care date lies after the day of hand-over, within a century")
    km = odometer_km + task.km if odometer_km is not None and task.km is not None else None
    return Due(day=handed + timedelta(days=round(task.days)), km=km)


def standing(when: Due, today: date, odometer_km: float | None = None) -> Literal["ahead", "due", "overdue"]:
    """Return how a thing stands today: by date or by distance (odometer_km: as last read, thousands of m), whichever is first; due from a week before.

    Source: method section 17.
    """
    if today > when.day or (when.km is not None and odometer_km is not None and odometer_km > when.km):
        return "overdue"
    return "due" if (when.day - today).days <= 7 else "ahead"
