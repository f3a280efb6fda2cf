"""A job as a line of the board: all that the line shows, and the line itself, kept by just that."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Any

from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.safestring import SafeString

from vantok.drawing.small import OUTLINED, small_svg
from vantok.people.models import User
from vantok.records.jobs.models import STAGES
from vantok_core.base.units import System

NAMED = ("username", "first_name", "last_name")
"""What a person is called by."""
READ = (
    *("pk", "number", "stage", "verdict", "verdict_us", "tone", "waits", "stands", "promised", "warranty"),
    *("came_back_id", "stamp", "told_stamp", "bay__name", *(f"who__{name}" for name in NAMED)),
    *("vehicle__label", "vehicle__customer__name", *(f"vehicle__{name}" for name in OUTLINED)),
)
"""What the board reads of a job: what its line shows, and whether its sentence is of today."""
LABELS = dict(STAGES)


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """All that a line of the board shows; two that are equal look alike."""

    url: str
    tone: str
    number: str
    vehicle: str
    customer: str
    outline: tuple[Any, ...]
    stands: tuple[float, ...]
    stage: str
    bay: str
    who: str
    promised: date | None
    missed: bool
    sentence: str
    came_back: bool
    warranty: bool
    waits: str

    @property
    def drawn(self) -> SafeString:
        """Return the vehicle as it stands."""
        return small_svg(self.outline, self.stands)


def line_of(job: Any, units: System, today: date) -> Line:
    """Return the line of a row read with `READ`, in the reader's units; what was promised for before today is missed."""
    return Line(
        url=reverse(job.stage, args=[job.pk]),
        tone=job.tone,
        number=job.number,
        vehicle=job.vehicle__label,
        customer=job.vehicle__customer__name or "",
        outline=tuple(getattr(job, f"vehicle__{name}") for name in OUTLINED),
        stands=tuple(job.stands or ()),
        stage=LABELS.get(job.stage, job.stage),
        bay=job.bay__name or "",
        who=str(User(**{name: getattr(job, f"who__{name}") or "" for name in NAMED})),
        promised=job.promised,
        missed=bool(job.promised and job.promised < today),
        sentence=job.verdict_us if units == "us" else job.verdict,
        came_back=job.came_back_id is not None,
        warranty=job.warranty,
        waits=job.waits,
    )


@lru_cache(maxsize=4096)
def shown(line: Line) -> SafeString:
    """Return the line as the board shows it."""
    return render_to_string("jobs/line.html", {"line": line})
