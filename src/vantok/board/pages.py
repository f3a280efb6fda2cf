"""The day board, a job's beginning, its file and its history."""

from __future__ import annotations

from typing import Any, cast

from django.contrib import messages
from django.core.paginator import Page, Paginator
from django.db.models import Case, Q, QuerySet, When
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone
from django.utils.functional import SimpleLazyObject
from django.utils.text import slugify
from django.views import View
from django.views.generic import FormView, TemplateView

from vantok.board.archive import is_archive, take_archive
from vantok.board.forms import ImportForm, StartForm
from vantok.board.history import changes
from vantok.board.put_back import Asked, put_back
from vantok.desk.actions import settled
from vantok.desk.care import due_now
from vantok.desk.incoming import import_job
from vantok.desk.load import Desk
from vantok.desk.opening import new_vehicle, start_job
from vantok.desk.settle import unsettled
from vantok.drawing.small import OUTLINED, small_svg
from vantok.fields.files import text_of
from vantok.fields.ids import identity
from vantok.people.models import User
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import STAGES, Job
from vantok_core.base.errors import VantokError
from vantok_core.files.job_file import masked, read_job, write_job

PAGE, DUE = 25, 6
"""Jobs of a page of the board; how many of what is due again it shows."""


WORST = Case(*(When(tone=tone, then=n) for n, tone in enumerate(("limit", "act", "plain"))), default=3)
"""The board's order: what is over a limit first, what is done last."""


SHOWN = (
    *("number", "stage", "verdict", "verdict_us", "tone", "waits", "stands", "promised", "warranty", "came_back"),
    *("stamp", "told_stamp", "bay__name", "who__username", "who__first_name", "who__last_name"),
    *("vehicle__label", "vehicle__customer__name", *(f"vehicle__{name}" for name in OUTLINED)),
)
"""What a line of the board shows of a job, and needs to know whether its sentence is of today."""


class Board(TemplateView):
    """The day board: jobs with their stage and sentence."""

    template_name = "jobs/board.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return one page of jobs, those searched for when asked."""
        wanted = self.request.GET.get("q", "").strip()
        show_done = self.request.GET.get("done") == "1"
        due = due_now()
        jobs = Job.objects.filter(done=show_done)
        if not show_done:
            jobs = jobs.annotate(worst=WORST).order_by("worst", "-opened")
        if wanted:
            # The vehicles first: they are few, and jobs are found by their index.
            vehicles = Vehicle.objects.filter(Q(label__icontains=wanted) | Q(customer__name__icontains=wanted))
            found = list(vehicles.values_list("pk", flat=True)[:500])
            number = Q(number__icontains=wanted) if any(c.isdigit() for c in wanted) else Q()
            jobs = jobs.filter(Q(vehicle_id__in=found) | number if number else Q(vehicle_id__in=found))
        page = self._page(jobs)
        if late := unsettled(page):  # a sentence older than its job: worked out now
            for pk in late:
                settled(pk)
            page = self._page(jobs)
        labels = dict(STAGES)
        rows = [
            {
                "job": job,
                "stage": labels.get(job.stage, job.stage),
                "url": job.get_absolute_url(),
                "drawn": small_svg(job.vehicle, job.stands),
            }
            for job in page
        ]
        return super().get_context_data(
            page=page,
            rows=rows,
            wanted=wanted,
            show_done=show_done,
            due=list(due[:DUE]),
            today=timezone.localdate(),
            **kwargs,
        )

    def _page(self, jobs: QuerySet[Job]) -> Page[Job]:
        """Return the page asked for: which jobs it has, in their order, an index knows; only those are read."""
        page: Page[Any] = Paginator(jobs.values_list("pk", flat=True), PAGE).get_page(self.request.GET.get("page"))
        found = Job.objects.select_related("vehicle__customer", "bay", "who").only(*SHOWN).in_bulk(list(page))
        page.object_list = list(found[pk] for pk in page if pk in found)
        return page


class Start(FormView[StartForm]):
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
            customer=data["customer"],
            label=data["label"],
            body=data["body"] or "pickup",
            begun_from=data["begun_from"],
            phone=data["phone"],
        )
        job = start_job(cast("User", self.request.user), vehicle=vehicle, never_empty=data["never_empty"])
        told = {name: data[name] for name in ("promised", "who") if data[name]}
        if data["came_back"]:
            told |= {"came_back": data["came_back"], "warranty": data["warranty"]}
        if told:
            for name, value in told.items():
                setattr(job, name, value)
            job.save()
        return HttpResponseRedirect(reverse("listen", args=[job.pk]))


class JobFile(View):
    """A job as a file."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Send the file."""
        desk = Desk.look(pk)
        job = masked(desk.facts.job) if request.GET.get("masked") else desk.facts.job
        response = HttpResponse(write_job(job), content_type="application/json")
        response["Content-Disposition"] = f'attachment; filename="job-{slugify(desk.record.number)}.json"'
        return response


class ImportJob(FormView[ImportForm]):
    """Make a job of a file."""

    rights = "import"

    template_name = "jobs/import.html"
    form_class = ImportForm

    def form_valid(self, form: ImportForm) -> HttpResponse:
        """Import all, or say what is wrong and change nothing."""
        try:
            person, upload = cast("User", self.request.user), form.cleaned_data["file"]
            job = take_archive(person, upload) if is_archive(upload) else import_job(person, read_job(text_of(upload)))
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
        """Add the changes, looked up once while nothing on the job changes."""
        desk, person = Desk.look(self.kwargs["pk"]), cast("User", self.request.user)
        found = SimpleLazyObject(lambda: changes(desk.record, person))
        return super().get_context_data(desk=desk, record=desk.record, changes=found, **kwargs)

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Put one change back."""
        told = request.POST
        asked = Asked(
            kind=told.get("kind", ""),
            id=identity(told.get("id")),
            field=told.get("field", ""),
            path=told.get("path", ""),
            reason=told.get("reason", ""),
        )
        try:
            messages.success(request, put_back(cast("User", request.user), pk, asked))
        except VantokError as error:
            messages.error(request, str(error))
        return HttpResponseRedirect(reverse("history", args=[pk]))
