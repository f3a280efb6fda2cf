"""The garage: customers and vehicles with their jobs."""

from __future__ import annotations

from typing import Any, cast

from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import Count
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils.text import slugify
from django.views import View
from django.views.generic import DetailView, TemplateView

from vantok.desk.care import due_now
from vantok.desk.load import Desk
from vantok.desk.settle import settled, unsettled
from vantok.drawing.history_plot import history_svg
from vantok.drawing.small import outline_of, small_svg
from vantok.fields.files import csv_answer, text_of
from vantok.fields.finding import vehicles_with
from vantok.garage.history import lines, past_heights, take_history, visits
from vantok.garage.kept import damage, goings, pressures, same_angle, settled_since
from vantok.people.models import User
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok.records.measure.models import DATUMS
from vantok_core.base.errors import FileFormatError, VantokError
from vantok_core.base.names import ARCHES
from vantok_core.base.units import System
from vantok_core.files.readings_csv import read_readings, write_readings
from vantok_core.judge.set.said import setting_said
from vantok_core.judge.visits.over_visits import losing
from vantok_core.judge.visits.vehicle_history import settling


class Garage(TemplateView):
    """All vehicles, searched by customer or name."""

    template_name = "garage/list.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return one page of vehicles."""
        wanted = self.request.GET.get("q", "").strip()
        shown = Vehicle.objects.select_related("customer").only("label", "body", "customer__name")
        vehicles = shown.filter(vehicles_with(wanted)).order_by("customer__name", "label")
        page = Paginator(vehicles, 25).get_page(self.request.GET.get("page"))
        jobs = Job.objects.filter(vehicle__in=list(page)).order_by().values_list("vehicle").annotate(count=Count("pk"))
        return super().get_context_data(page=page, counts=dict(jobs), wanted=wanted, **kwargs)


STOOD = 6
"""Visits shown as pictures."""


def _stood(job: Job) -> dict[str, Any]:
    """Return how a vehicle stood at a job: its picture, what is on and how it is set."""
    parts = [(part, setting_said(part)) for part in Desk.look(job.pk).job.parts]
    return {"job": job, "drawn": small_svg(outline_of(job.vehicle), tuple(job.stands or ())), "parts": parts}


class VehiclePage(DetailView[Vehicle]):
    """One vehicle, its jobs, and its heights over time."""

    queryset = Vehicle.objects.select_related("customer")
    template_name = "garage/vehicle.html"
    rights = "import"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the vehicle's jobs, a page at a time."""
        page = Paginator(self.object.jobs.all(), 25).get_page(self.request.GET.get("page"))
        if late := unsettled(page):
            for pk in late:
                settled(pk)
            page = Paginator(self.object.jobs.all(), 25).get_page(self.request.GET.get("page"))
        past, units = past_heights(self.object), cast("System", cast("User", self.request.user).units)
        datum = next((d for d in ARCHES if any(p.datum == d for p in past)), ARCHES[0])
        rows = visits(past, datum)
        found = lines(rows)
        return super().get_context_data(
            page=page,
            stood=[_stood(job) for job in list(page)[:STOOD]],
            due=due_now().filter(job__vehicle=self.object)[:STOOD],
            visits=rows,
            datum=dict(DATUMS)[datum],
            plot=history_svg(found, units) if found else "",
            findings=settling(past),
            goings=goings(self.object, found),
            settled=settled_since(self.object, found),
            damage=damage(self.object),
            pressures=(tested := pressures(self.object)),
            losing=losing([one["test"] for one in tested]),
            angles=same_angle(self.object),
            **kwargs,
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Take heights of earlier visits in from a file, all or none."""
        vehicle, upload = get_object_or_404(Vehicle, pk=pk), request.FILES.get("file")
        try:
            if upload is None:
                raise FileFormatError("file", "choose a CSV file first")
            count = take_history(cast("User", request.user), vehicle, read_readings(text_of(upload)))
            messages.success(request, f"{count} earlier visits taken in.")
        except UnicodeDecodeError:
            messages.error(request, "Nothing was taken in. This file is not text; heights are CSV.")
        except VantokError as error:
            messages.error(request, f"Nothing was taken in. {error}")
        return HttpResponseRedirect(reverse("vehicle-page", args=[pk]))


class HeightsCsv(View):
    """All heights of a vehicle as a file."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Send them."""
        vehicle = get_object_or_404(Vehicle, pk=pk)
        jobs = [Desk.look(job.pk).facts.job for job in vehicle.jobs.order_by("opened")]
        return csv_answer(write_readings(jobs), f"heights-{slugify(vehicle.label)}")
