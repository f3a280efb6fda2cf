"""The inspection sheet."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils.functional import SimpleLazyObject

from vantok.desk.stage import StageView
from vantok.drawing.underside import underside_svg
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Photo
from vantok.stages.inspect.actions import record_inspection
from vantok.stages.inspect.forms import FIELDS, InspectionForm, all_fine
from vantok_core.facts.inspection import ZONES
from vantok_core.judge.diagnose.causes import areas_to_look_at
from vantok_core.judge.listen.inspect import AREAS, GRADES

LIKELY = 3
"""Areas that what was complained of points at, asked about first."""


class Inspect(StageView):
    """The inspection sheet: fine, watch, fault or wish for each area; some faults stop a choice."""

    stage = "listen"
    opens_offline = True
    rights = "inspect"

    def get_template_names(self) -> list[str]:
        """Return the page."""
        return ["jobs/inspect.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the areas by group, with what was graded."""
        form = kwargs.setdefault("form", SimpleLazyObject(lambda: InspectionForm(self.desk.record)))
        record, asked = self.desk.record, self.request.GET.get("zone", "")
        likely = areas_to_look_at(self.desk.job)[:LIKELY]
        first = {*likely, *(one.area for one in record.inspections.all())}
        zone, whole = asked if asked in ZONES else "", "all" in self.request.GET
        pictures: dict[str, list[Photo]] = {}
        for photo in self.desk.record.photos.filter(gone=False):
            pictures.setdefault(photo.area, []).append(photo)
        areas = [(key, area.words) for key, area in AREAS.items()]
        vehicle = self.desk.facts.job.vehicle
        return super().get_context_data(
            groups=SimpleLazyObject(lambda: _groups(form, first, zone, whole=whole)),
            grades=GRADES,
            pictures=pictures,
            areas=areas,
            zones=ZONES,
            zone=zone,
            whole=whole,
            first=first,
            under=SimpleLazyObject(
                lambda: underside_svg(list(record.inspections.all()), (vehicle.front_spring, vehicle.rear_spring))
            ),
            begun=record.began is not None or bool(record.fittings.all()),
            **kwargs,
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Save what was changed on the sheet."""
        form = self.take(lambda record: InspectionForm(record, all_fine(request.POST)), self._save)
        zone = request.GET.get("zone", "")
        if not form.errors:
            messages.success(request, "Inspection saved.")
        return self.taken(form, form=form) or HttpResponseRedirect(
            reverse("inspect", args=[pk]) + (f"?zone={zone}" if zone in ZONES else "")
        )

    def _save(self, record: Job, form: InspectionForm) -> None:
        for area, told in form.areas():
            record_inspection(self.person, record, area, told)


def _groups(form: InspectionForm, first: set[str], zone: str, *, whole: bool) -> dict[str, list[dict[str, Any]]]:
    """Return the areas by group, each with its fields, and whether it is put by: not of the zone looked at, nor likely."""
    groups: dict[str, list[dict[str, Any]]] = {}
    for key, area in AREAS.items():
        one = {n: form[f"{n}-{key}"] for n in FIELDS}
        shown = zone in area.zones if zone else whole or key in first
        row = {"key": key, "area": area, "one": one, "fields": list(one.values()), "first": key in first}
        row["hidden"] = not shown and not any(field.errors for field in one.values())
        groups.setdefault(area.group, []).append(row)
    return groups
