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
from django.views import View
from django.views.generic import FormView, TemplateView

from vantok.garage.forms import VehicleForm
from vantok.garage.models import Vehicle
from vantok.jobs.desk import Desk, refresh
from vantok.jobs.forms import ImportForm, ListenForm, StartForm
from vantok.jobs.history import changes, put_back
from vantok.jobs.models import STAGES, Job
from vantok.jobs.services import import_job, new_vehicle, record_inspection, start_job
from vantok.jobs.stage import StageView
from vantok.measure.models import Photo
from vantok.people.models import User
from vantok.people.permissions import DecidersOnly
from vantok_core.errors import VantokError
from vantok_core.files.job_file import read_job, write_job
from vantok_core.judge.inspect import AREAS, GRADES

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
        labels = dict(STAGES)
        rows = [{"job": job, "stage": labels.get(job.stage, job.stage), "url": job.get_absolute_url()} for job in page]
        return super().get_context_data(page=page, rows=rows, wanted=wanted, show_done=show_done, **kwargs)


class Start(FormView):
    """Start a job."""

    template_name = "jobs/start.html"
    form_class = StartForm

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

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form."""
        record = self.desk.record
        kwargs.setdefault("form", SimpleLazyObject(lambda: ListenForm(instance=record)))
        return super().get_context_data(**kwargs)

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Save what was said."""
        form = ListenForm(request.POST, instance=self.desk.record)
        if not form.is_valid():
            return self.again(422, form=form)
        form.save()
        refresh(self.desk.record)
        return HttpResponseRedirect(
            reverse("vehicle", args=[pk]) if "on" in request.POST else reverse("listen", args=[pk])
        )


class Inspect(StageView):
    """The inspection sheet: fine, watch, fault or wish for each area; some faults stop a choice."""

    stage = "listen"

    def get_template_names(self) -> list[str]:
        """Return the page."""
        return ["jobs/inspect.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the areas by group, with what was graded."""
        graded = {one.area: one for one in self.desk.record.inspections.all()}
        groups: dict[str, list[dict[str, Any]]] = {}
        for key, area in AREAS.items():
            groups.setdefault(area.group, []).append({"key": key, "area": area, "one": graded.get(key)})
        pictures: dict[str, list[Photo]] = {}
        for photo in self.desk.record.photos.filter(gone=False):
            pictures.setdefault(photo.area, []).append(photo)
        areas = [(key, area.words) for key, area in AREAS.items()]
        return super().get_context_data(groups=groups, grades=GRADES, pictures=pictures, areas=areas, **kwargs)

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Save the whole sheet."""
        for key in AREAS:
            grade = request.POST.get(f"grade-{key}", "")
            texts = (request.POST.get(f"{name}-{key}", "").strip() for name in ("note", "overruled"))
            record_inspection(self.desk.record, key, grade if grade in GRADES else "", *texts)
        refresh(self.desk.record)
        messages.success(request, "Inspection saved.")
        return HttpResponseRedirect(reverse("inspect", args=[pk]))


class VehicleStage(StageView):
    """The vehicle and its ratings plate."""

    stage = "vehicle"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form and what is still unknown."""
        vehicle = self.desk.record.vehicle
        kwargs.setdefault("form", SimpleLazyObject(lambda: VehicleForm(instance=vehicle, units=self.units)))
        return super().get_context_data(**kwargs)

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Save the sheet; figures that do not read are kept as typed with the reason beside them."""
        form = VehicleForm(request.POST, instance=self.desk.record.vehicle, units=self.units)
        if not form.is_valid():
            fresh = Desk.open(
                pk
            )  # the form has already written into the record's vehicle; the frame shows the stored one
            self.__dict__["desk"] = fresh
            return self.again(422, form=form)
        form.save()
        refresh(self.desk.record)
        return HttpResponseRedirect(
            reverse("weigh", args=[pk]) if "on" in request.POST else reverse("vehicle", args=[pk])
        )


class JobFile(View):
    """A job as a file."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Send the file."""
        desk = Desk.open(pk)
        response = HttpResponse(write_job(desk.job), content_type="application/json")
        response["Content-Disposition"] = f'attachment; filename="job-{desk.record.number}.json"'
        return response


class ImportJob(DecidersOnly, FormView):
    """Make a job of a file."""

    template_name = "jobs/import.html"
    form_class = ImportForm

    def form_valid(self, form: ImportForm) -> HttpResponse:
        """Import all, or say what is wrong and change nothing."""
        try:
            text = form.cleaned_data["file"].read().decode("utf-8")
            job = import_job(cast("User", self.request.user), read_job(text))
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

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the changes."""
        record = get_object_or_404(Job.objects.select_related("vehicle__customer"), pk=self.kwargs["pk"])
        return super().get_context_data(record=record, changes=changes(record), **kwargs)

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Put one change back."""
        person = cast("User", request.user)
        said = put_back(person, get_object_or_404(Job, pk=pk), request.POST.get("kind", ""), request.POST.get("id", ""))
        messages.success(request, said)
        return HttpResponseRedirect(reverse("history", args=[pk]))
