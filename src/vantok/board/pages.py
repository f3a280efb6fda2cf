"""The day board, a job's beginning, its file and its history."""

from __future__ import annotations

from typing import Any, cast

from django.contrib import messages
from django.core.paginator import Page, Paginator
from django.db.models import Count, QuerySet
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone
from django.utils.functional import SimpleLazyObject, cached_property
from django.utils.text import slugify
from django.views import View
from django.views.generic import FormView, TemplateView

from vantok.board.archive import is_archive, take_archive
from vantok.board.forms import ImportForm, StartForm
from vantok.board.history import changes
from vantok.board.lines import READ, line_of, shown
from vantok.board.put_back import Asked, put_back
from vantok.desk.care import due_now
from vantok.desk.incoming import import_job
from vantok.desk.load import Desk
from vantok.desk.opening import new_vehicle, start_job
from vantok.desk.settle import settled, unsettled
from vantok.fields.files import text_of
from vantok.fields.finding import jobs_found, jobs_with
from vantok.fields.ids import identity
from vantok.people.models import User
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok_core.base.errors import VantokError
from vantok_core.base.units import System
from vantok_core.files.job_file import masked, read_job, write_job

PAGE, DUE = 25, 6
"""Jobs of a page of the board; how many of what is due again it shows."""


TONES = ("limit", "act", "plain", "level")
"""The board's order: what is over a limit first, what is done last."""


class ByTone:
    """Jobs by the tone of their sentence, each tone's latest first, as a paginator asks for them: an index has each tone's in that order."""

    def __init__(self, jobs: QuerySet[Job]) -> None:
        self.jobs = jobs.order_by("-opened")

    @cached_property
    def counts(self) -> dict[str, int]:
        """How many there are of each tone."""
        return dict(self.jobs.order_by().values_list("tone").annotate(count=Count("pk")))

    def __len__(self) -> int:
        return sum(self.counts.values())

    def __getitem__(self, wanted: slice) -> list[int]:
        """Return the keys of some of them."""
        found, before = list[int](), 0
        for tone in TONES:
            count = self.counts.get(tone, 0)
            first, last = max(wanted.start - before, 0), min(wanted.stop - before, count)
            if first < last:
                found += self.jobs.filter(tone=tone).values_list("pk", flat=True)[first:last]
            before += count
        return found


class Board(TemplateView):
    """The day board: jobs with their stage and sentence."""

    template_name = "jobs/board.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return one page of jobs, those searched for when asked."""
        wanted = self.request.GET.get("q", "").strip()
        show_done = self.request.GET.get("done") == "1"
        due = due_now()
        jobs = Job.objects.of_the_board(show_done).filter(jobs_with(wanted))
        page = self._page(jobs, show_done)
        if late := unsettled(page):  # a sentence older than its job: worked out now
            for pk in late:
                settled(pk)
            page = self._page(jobs, show_done)
        units, today = cast("System", cast("User", self.request.user).units), timezone.localdate()
        return super().get_context_data(
            page=page,
            lines=[shown(line_of(job, units, today)) for job in page],
            wanted=wanted,
            show_done=show_done,
            due=due.values_list("job__vehicle__label", "words", "due", named=True)[:DUE],
            today=today,
            **kwargs,
        )

    def _page(self, jobs: QuerySet[Job], done: bool) -> Page[Any]:
        """Return the page asked for: which jobs it has, in their order, an index knows; only those are read."""
        keys: Any = jobs.values_list("pk", flat=True) if done else ByTone(jobs)
        page: Page[Any] = Paginator(keys, PAGE).get_page(self.request.GET.get("page"))
        found = {job.pk: job for job in Job.objects.filter(pk__in=list(page)).order_by().values_list(*READ, named=True)}
        page.object_list = [found[pk] for pk in page if pk in found]
        return page


class FindJob(TemplateView):
    """Jobs to what is typed into a field, as options of it."""

    template_name = "parts/jobs_found.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Find them; `as` tells which field of the request the text is in."""
        told = self.request.GET
        return super().get_context_data(jobs=jobs_found(told.get(told.get("as", ""), "").strip()), **kwargs)


class FindVehicle(TemplateView):
    """Vehicles that what is typed for a new job may mean."""

    template_name = "parts/known.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Find them."""
        return super().get_context_data(form=StartForm(self.request.GET), **kwargs)


class Start(FormView[StartForm]):
    """Start a job."""

    template_name = "jobs/start.html"
    form_class = StartForm
    rights = "start"

    def get_initial(self) -> dict[str, Any]:
        """Begin with the vehicle asked for."""
        known = Vehicle.objects.filter(pk=identity(self.request.GET.get("vehicle"))).select_related("customer").first()
        return {"vehicle": known.pk, "label": known.label, "customer": known.customer.name} if known else {}

    def form_valid(self, form: StartForm) -> HttpResponse:
        """Open the job and go to its first stage."""
        data = form.cleaned_data
        vehicle = data["vehicle"] or new_vehicle(
            customer=data["customer"],
            label=data["label"],
            body=data["body"] or "pickup",
            begun_from=data["begun_from"],
            like=data["like"].vehicle if data["like"] else None,
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
