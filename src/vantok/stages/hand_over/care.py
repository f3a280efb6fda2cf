"""What is looked at again: a sheet for the customer, and the same in a calendar."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django.utils.text import slugify
from django.views import View
from icalendar import Alarm, Calendar, Event

from vantok.desk.load import Desk
from vantok.desk.paper import paper
from vantok.desk.stage import StageView
from vantok.people.models import Shop
from vantok.records.handover.models import Recall
from vantok_core.base.units import System, show
from vantok_core.upkeep.care import care_tasks, due


class CareSheet(StageView):
    """The care dates of a job: as planned at hand-over, else as they would be today."""

    stage = "report"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["handover/care.html"]

    def rows(self) -> list[Recall]:
        """Return what is kept in mind; before hand-over as it would be, unsaved."""
        record, today = self.desk.record, timezone.localdate()
        if found := list(record.recalls.select_related("by")):
            return found
        by_feel = [line for card in self.desk.cards for line in card.again]
        planned = []
        for task in care_tasks(self.desk.job, by_feel):
            when = due(task, today, record.odometer_km)
            planned.append(
                Recall(
                    job=record, key=task.key, words=task.words[:160], due=when.day, due_km=when.km, guessed=task.guessed
                )
            )
        return planned

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the dates."""
        return super().get_context_data(
            rows=self.rows(), today=timezone.localdate(), shop=Shop.objects.first(), **kwargs
        )


class CarePdf(CareSheet):
    """The same on paper."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Send the PDF."""
        context = {
            "rows": self.rows(),
            "record": self.desk.record,
            "shop": Shop.objects.first(),
            "now": timezone.now(),
            "units": self.units,
        }
        return paper("handover/care_paper.html", context, f"care-{self.desk.record.number}", request)


class CareCalendar(View):
    """The same as a calendar file, which common calendars read."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Send it; what was done or declined is not in it."""
        desk = Desk.look(pk)
        sheet = CareSheet(kwargs={"pk": pk}, request=request)
        shop = Shop.objects.first()
        told = HttpResponse(
            calendar_of(desk, sheet.rows(), shop.name if shop else "", timezone.now(), sheet.units),
            content_type="text/calendar; charset=utf-8",
        )
        told["Content-Disposition"] = f'attachment; filename="care-{slugify(desk.record.number)}.ics"'
        return told


def calendar_of(desk: Desk, rows: list[Recall], shop: str, now: datetime, units: System) -> bytes:
    """Return the open dates as a calendar: a whole day each, with a reminder the day before; the same date keeps its identity."""
    found = Calendar()
    found.add("prodid", "-//Vantok//care dates//EN")
    found.add("version", "2.0")
    for row in rows:
        if row.state != "open":
            continue
        day, event = row.until or row.due, Event()
        event.add("uid", f"{desk.record.number}-{row.key}@vantok")
        event.add("dtstamp", now)
        event.add("dtstart", day)
        event.add("dtend", day + timedelta(days=1))
        event.add("summary", f"{desk.record.vehicle}: {row.words}")
        by_distance = f" Or at {show('travel', row.due_km, units)}, whichever comes first." if row.due_km else ""
        event.add(
            "description", f"{shop} {desk.record.number}.{by_distance} The maker's instructions come first.".strip()
        )
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", row.words)
        alarm.add("trigger", timedelta(days=-1))
        event.add_component(alarm)
        found.add_component(event)
    return bytes(found.to_ical())
