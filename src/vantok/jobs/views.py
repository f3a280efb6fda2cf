"""The day board, a job's beginning, its file and its history."""

from __future__ import annotations

from typing import Any, cast

from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import Q
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils.functional import SimpleLazyObject
from django.utils.text import slugify
from django.views import View
from django.views.generic import FormView, TemplateView

from vantok.garage.forms import VehicleForm
from vantok.garage.models import Vehicle
from vantok.jobs.actions import settled
from vantok.jobs.desk import Desk, unsettled
from vantok.jobs.forms import ImportForm, InspectionForm, ListenForm, StartForm
from vantok.jobs.history import Asked, changes, put_back
from vantok.jobs.ids import identity
from vantok.jobs.models import STAGES, Job
from vantok.jobs.services import import_job, new_vehicle, record_inspection, start_job
from vantok.jobs.stage import StageView
from vantok.measure.files import text_of
from vantok.measure.models import Photo
from vantok.people.models import User
from vantok_core.errors import VantokError
from vantok_core.files.job_file import read_job, write_job
from vantok_core.judge.inspect import AREAS, GRADES
from vantok_core.units import System

PAGE = 25


class Board(TemplateView):
    """The day board: jobs with their stage and sentence."""

    template_name = "jobs/board.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return one page of jobs, those searched for when asked."""
        wanted = self.request.GET.get("q", "").strip()
        show_done = self.request.GET.get("done") == "1"
        jobs = Job.objects.select_related("vehicle__customer").filter(done=show_done)
        if wanted:
            # The vehicles first: they are few, and jobs are found by their index.
            vehicles = Vehicle.objects.filter(Q(label__icontains=wanted) | Q(customer__name__icontains=wanted))
            found = list(vehicles.values_list("pk", flat=True)[:500])
            number = Q(number__icontains=wanted) if any(c.isdigit() for c in wanted) else Q()
            jobs = jobs.filter(Q(vehicle_id__in=found) | number if number else Q(vehicle_id__in=found))
        page = Paginator(jobs, PAGE).get_page(self.request.GET.get("page"))
        if late := unsettled(page):  # a sentence older than its job: worked out now
            for pk in late:
                settled(pk)
            page = Paginator(jobs.all(), PAGE).get_page(self.request.GET.get("page"))
        labels = dict(STAGES)
        rows = [{"job": job, "stage": labels.get(job.stage, job.stage), "url": job.get_absolute_url()} for job in page]
        return super().get_context_data(page=page, rows=rows, wanted=wanted, show_done=show_done, **kwargs)


class Start(FormView):
    """Start a job."""

    template_name = "jobs/start.html"
    form_class = StartForm
    rights = "start"

    def get_initial(self) -> dict[str, Any]:
        """Begin with the vehicle asked for."""
        return {"vehicle": self.request.GET.get("vehicle")}

    def form_valid(self, form: StartForm) -> HttpResponse:
        """Open the job and go to its first stage."""
        data = form.cleaned_data
        vehicle = data["vehicle"] or new_vehicle(
            customer=data["customer"], label=data["label"], body=data["body"] or "pickup"
        )
        job = start_job(cast("User", self.request.user), vehicle=vehicle)
        return HttpResponseRedirect(reverse("listen", args=[job.pk]))


class Listen(StageView):
    """The customer's complaint and the vehicle's use."""

    stage = "listen"
    rights = "listen"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form."""
        record = self.desk.record
        kwargs.setdefault("form", SimpleLazyObject(lambda: ListenForm(instance=record)))
        return super().get_context_data(**kwargs)

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Save what was said."""
        form = self.take("listen", lambda record: ListenForm(request.POST, instance=record))
        on = reverse("vehicle" if "on" in request.POST else "listen", args=[pk])
        return self.taken(form, form=form) or HttpResponseRedirect(on)


class Inspect(StageView):
    """The inspection sheet: fine, watch, fault or wish for each area; some faults stop a choice."""

    stage = "listen"
    rights = "inspect"

    def get_template_names(self) -> list[str]:
        """Return the page."""
        return ["jobs/inspect.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the areas by group, with what was graded."""
        form = kwargs.setdefault("form", InspectionForm(self.desk.record))
        groups: dict[str, list[dict[str, Any]]] = {}
        for key, area in AREAS.items():
            one = {n: form[f"{n}-{key}"] for n in ("grade", "note", "overruled")}
            groups.setdefault(area.group, []).append({"key": key, "area": area, "one": one})
        pictures: dict[str, list[Photo]] = {}
        for photo in self.desk.record.photos.filter(gone=False):
            pictures.setdefault(photo.area, []).append(photo)
        areas = [(key, area.words) for key, area in AREAS.items()]
        return super().get_context_data(groups=groups, grades=GRADES, pictures=pictures, areas=areas, **kwargs)

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Save what was changed on the sheet."""
        form = self.take("inspect", lambda record: InspectionForm(record, request.POST), self._save)
        if not form.errors:
            messages.success(request, "Inspection saved.")
        return self.taken(form, form=form) or HttpResponseRedirect(reverse("inspect", args=[pk]))

    def _save(self, record: Job, form: InspectionForm) -> None:
        for area in form.areas():
            record_inspection(self.person, record, *area)


class VehicleStage(StageView):
    """The vehicle and its ratings plate."""

    stage = "vehicle"
    rights = "measure"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form and what is still unknown."""
        vehicle = self.desk.record.vehicle
        kwargs.setdefault("form", SimpleLazyObject(lambda: VehicleForm(instance=vehicle, units=self.units)))
        return super().get_context_data(**kwargs)

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Save the sheet; figures that do not read are kept as typed with the reason beside them."""
        form = self.take("measure", lambda record: VehicleForm(request.POST, instance=record.vehicle, units=self.units))
        on = reverse("weigh" if "on" in request.POST else "vehicle", args=[pk])
        return self.taken(form, form=form) or HttpResponseRedirect(on)


class JobFile(View):
    """A job as a file."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Send the file."""
        desk = Desk.look(pk)
        response = HttpResponse(write_job(desk.facts.job), content_type="application/json")
        response["Content-Disposition"] = f'attachment; filename="job-{slugify(desk.record.number)}.json"'
        return response


class ImportJob(FormView):
    """Make a job of a file."""

    rights = "import"

    template_name = "jobs/import.html"
    form_class = ImportForm

    def form_valid(self, form: ImportForm) -> HttpResponse:
        """Import all, or say what is wrong and change nothing."""
        try:
            found = read_job(text_of(form.cleaned_data["file"]))
            job = import_job(cast("User", self.request.user), found)
        except UnicodeDecodeError:
            form.add_error("file", "This file is not text; a job file is JSON.")
        except VantokError as error:
            form.add_error("file", f"Nothing was imported. {error}")
        else:
            messages.success(self.request, f"Imported as {job.number}.")
            return HttpResponseRedirect(job.get_absolute_url())
        return self.render_to_response(self.get_context_data(form=form), status=422)


class History(TemplateView):
    """Every change of a job: who, when, old, new; each can be put back."""

    template_name = "jobs/history.html"
    rights = "put back"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the changes."""
        record = get_object_or_404(Job.objects.select_related("vehicle__customer"), pk=self.kwargs["pk"])
        return super().get_context_data(
            record=record, changes=changes(record, cast("System", cast("User", self.request.user).units)), **kwargs
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Put one change back."""
        told = request.POST
        asked = Asked(
            kind=told.get("kind", ""),
            id=identity(told.get("id")),
            field=told.get("field", ""),
            reason=told.get("reason", ""),
        )
        try:
            messages.success(request, put_back(cast("User", request.user), pk, asked))
        except VantokError as error:
            messages.error(request, str(error))
        return HttpResponseRedirect(reverse("history", args=[pk]))
