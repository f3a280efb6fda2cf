"""Bays and hours: what stands where, who is on it, planned against true; a booking is dragged, or moved by its form."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any, ClassVar

from django.contrib import messages
from django.db import transaction
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect, QueryDict
from django.urls import reverse
from django.utils import timezone
from django.views.generic import TemplateView

from vantok.desk.load import Desk
from vantok.fields.days import day_of
from vantok.fields.finding import job_named
from vantok.fields.ids import identity
from vantok.fields.seen import StaleError, hold_to_shown
from vantok.people.models import User
from vantok.records.jobs.models import Bay, Booking, Job
from vantok_core.base.errors import InputError, VantokError
from vantok_core.judge.choose.offer import offer

FIRST, LAST = 7.0, 19.0
"""The hours a day is drawn from and to."""
STEP = 0.25
"""What a booking is rounded to, hours."""
USUAL = 2.0
"""Hours a job is booked for where neither quote nor kit says any."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """A booking as a form tells it."""

    job: Job
    bay: Bay
    day: date
    start: float
    hours: float
    who: User | None


class Day(TemplateView):
    """One day of the shop."""

    template_name = "jobs/day.html"
    rights: ClassVar[str] = "plan day"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the bays with what is booked in each, what waits, and who there is."""
        asked = self.request.POST.get("day") or self.request.GET.get("day", "")
        day = day_of(asked) or timezone.localdate()
        booked = list(Booking.objects.filter(day=day).select_related("job__vehicle__customer", "bay", "who"))
        rows = [
            {"bay": bay, "booked": [_shown(b, booked) for b in booked if b.bay_id == bay.pk]}
            for bay in Bay.objects.all()
        ]
        return super().get_context_data(
            day=day,
            before=day - timedelta(days=1),
            after=day + timedelta(days=1),
            rows=rows,
            hours=range(int(FIRST), int(LAST)),
            first=FIRST,
            last=LAST,
            people=User.objects.filter(is_active=True),
            today=timezone.localdate(),
            **kwargs,
        )

    def post(self, request: HttpRequest) -> HttpResponse:
        """Book a job, move a booking, or take it off the day."""
        told, day = request.POST, request.POST.get("day", "")
        try:
            if told.get("action") == "off":
                with transaction.atomic():
                    Booking.objects.filter(pk=identity(told.get("booking"))).delete()
            else:
                said = book(identity(told.get("booking")) or None, _read(told), seen=told)
                if said:
                    messages.warning(request, said)
        except VantokError as error:
            stale = isinstance(error, StaleError)
            messages.error(request, str(error) if stale else f"{error} Nothing was changed.")
            if stale:
                return self.render_to_response(self.get_context_data(), status=409)
        return HttpResponseRedirect(f"{reverse('day')}?day={day[:10]}")


def as_shown(row: Booking) -> list[Any]:
    """Return what a booking's form shows of it, which its post is held to."""
    return [row.job_id, row.bay_id, row.day.isoformat(), row.start, row.hours, row.who_id]


@transaction.atomic
def book(pk: int | None, told: Told, *, seen: QueryDict | None = None) -> str:
    """Book a job or move a booking; return what stands in the way of it, in words, empty where nothing does.

    seen: what the form showed. Raises InputError for one that is not there, StaleError for one moved by somebody else meanwhile, and
    for a job that stands somewhere else in those hours.
    """
    row = Booking.objects.select_related("job").filter(pk=pk).first() if pk else Booking()
    if row is None:
        raise InputError("booking", pk, "it is not there any more")
    if pk and seen is not None:
        hold_to_shown(seen, as_shown(row), f"the booking of {row.job.number}")
    _put(row, told)
    return _in_the_way(row, told)


def _put(row: Booking, told: Told) -> None:
    """Store a booking as told. Raises InputError for a job that stands somewhere else in those hours."""
    for name in ("job", "bay", "day", "start", "hours", "who"):
        setattr(row, name, getattr(told, name))
    others = Booking.objects.filter(day=told.day, job=told.job).exclude(pk=row.pk).select_related("bay")
    if itself := next((b for b in others if _meets(row, b)), None):
        where = f"it stands in {itself.bay} in those hours already: a job stands in one place at a time"
        raise InputError("booking", told.job.number, where)
    row.save()


def _in_the_way(row: Booking, told: Told) -> str:
    """Return what else is in its bay, or on its person, in those hours."""
    others = Booking.objects.filter(day=told.day).exclude(pk=row.pk).select_related("job", "bay", "who")
    clash = [b for b in others if _meets(row, b)]
    bays = [b.job.number for b in clash if b.bay_id == row.bay_id]
    people = [b.job.number for b in clash if row.who_id is not None and b.who_id == row.who_id]
    said = [f"{row.bay} has {', '.join(bays)} in those hours too."] if bays else []
    said += [f"{row.who} is on {', '.join(people)} in those hours too."] if people else []
    return " ".join(said)


def _meets(one: Booking, other: Booking) -> bool:
    return one.start < other.start + other.hours and other.start < one.start + one.hours


def _read(told: Any) -> Told:
    """Return a booking of a form. Raises InputError for what is lacking or cannot be."""
    job = job_named(told.get("job", ""))
    bay, who = (
        Bay.objects.filter(pk=identity(told.get("bay"))).first(),
        User.objects.filter(pk=identity(told.get("who"))).first(),
    )
    day = day_of(told.get("day", ""))
    if job is None or job.done or bay is None or day is None:
        raise InputError("booking", "it", "it takes a job that is in the shop, a bay and a day")
    start, length = _number(told.get("start", ""), "start"), told.get("hours", "").strip()
    hours = _number(length, "hours") if length else planned_hours(job)
    if not (FIRST <= start < LAST and 0.0 < hours <= LAST - FIRST):
        raise InputError("start", start, f"the day goes from {FIRST:.0f} to {LAST:.0f}, and a booking has some length")
    if start + hours > LAST:
        raise InputError(
            "hours",
            hours,
            f"from {start:g} it would go past {LAST:.0f}: book {LAST - start:g} h, and the rest on another day",
        )
    return Told(job=job, bay=bay, day=day, start=start, hours=hours, who=who)


def _number(text: str, name: str) -> float:
    """Return hours of a text: 8, 8.5, 8:30, rounded to a quarter. Raises InputError for one that does not read."""
    whole, _, minutes = text.strip().replace(",", ".").partition(":")
    try:
        value = float(whole) + (float(minutes) / 60.0 if minutes else 0.0)
    except ValueError as error:
        raise InputError(name, text[:20], "write hours like 8, 8.5 or 8:30") from error
    if not -1e3 < value < 1e3:
        raise InputError(name, text[:20], "that is no hour of a day")
    return round(value / STEP) * STEP


def _shown(row: Booking, booked: list[Booking]) -> dict[str, Any]:
    """Return a booking as it is drawn: where it begins and how wide it is, in hundredths of the day, what it waits for, and hours worked so far."""
    wide = LAST - FIRST
    worked = sum(card.worked_minutes for card in Desk.look(row.job_id).cards) / 60.0
    return {
        "row": row,
        "shown": as_shown(row),
        "left": 100.0 * (row.start - FIRST) / wide,
        "wide": 100.0 * row.hours / wide,
        "worked": worked,
        "clash": any(b.pk != row.pk and b.bay_id == row.bay_id and _meets(row, b) for b in booked),
    }


def planned_hours(job: Job) -> float:
    """Return the hours a job is planned for: its quote's, else its kits', else a usual figure."""
    sheet = Desk.look(job.pk).job.quote
    if sheet is not None:
        return offer(sheet).sums.hours or USUAL
    return sum(part.kit.hours for part in Desk.look(job.pk).job.parts) or USUAL
