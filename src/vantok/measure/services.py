"""Recording a reading: never lost, never silently overwritten, never counted twice."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from django.db import transaction

from vantok.jobs.desk import refresh
from vantok.jobs.models import Job
from vantok.measure.models import Reading
from vantok.people.models import User
from vantok.weigh.models import LoadState
from vantok_core.units import System, parse_length

BARE_MM_ABOVE = 120.0
"""In inches, a bare figure above this was read in mm."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Cell:
    """A cell of the measuring sheet."""

    state: LoadState
    phase: str
    datum: str
    place: str


class ConflictError(Exception):
    """Somebody else wrote into the cell since it was shown; `standing` is their reading."""

    def __init__(self, standing: Reading) -> None:
        super().__init__("the cell has changed")
        self.standing = standing


def standing(job: Job, cell: Cell) -> Reading | None:
    """Return the last reading of a cell, withdrawn or not."""
    found = Reading.objects.filter(job=job, state=cell.state, phase=cell.phase, datum=cell.datum, place=cell.place)
    return found.select_related("by").order_by("-pk").first()


@transaction.atomic
def record_reading(user: User, job: Job, cell: Cell, text: str, *, seen: int, token: str = "") -> Reading | None:
    """Store what was typed into a cell; empty text withdraws the reading.

    `seen`: id of the reading the person had before them (0: none); `token`: the browser's name for this entry, so that one
    sent again after a dropped connection counts once. Raises UnitError for text that is no length, ConflictError when
    the cell changed under the hand.
    """
    if token and (again := Reading.objects.filter(job=job, token=token).first()):
        return again
    last = standing(job, cell)
    if last is not None and last.pk != seen:
        raise ConflictError(last)
    text = text.strip()
    if not text and last is None:
        return None
    common = {
        "job": job,
        "state": cell.state,
        "phase": cell.phase,
        "datum": cell.datum,
        "place": cell.place,
        "by": user,
    }
    if not text:
        reading = Reading.objects.create(**common, value_m=None, text="", unit="", token=token)
    else:
        parsed = parse_length(text, cast("System", user.units), bare_mm_above=BARE_MM_ABOVE)
        reading = Reading.objects.create(
            **common, value_m=parsed.value, step_m=parsed.step, text=text[:40], unit=parsed.unit, token=token
        )
    refresh(job)
    return reading
