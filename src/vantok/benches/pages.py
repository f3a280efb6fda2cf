"""The benches' pages: what is typed is answered as it is typed; the address opens the bench as it was."""

from __future__ import annotations

from typing import Any, ClassVar, cast
from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone
from django.views.generic import TemplateView

from vantok.benches.handed import handed
from vantok.benches.points import points_read, points_text
from vantok.desk.actions import change
from vantok.desk.load import Desk
from vantok.desk.proving import add
from vantok.drawing.bench import bench_svg, curves_svg
from vantok.fields.ids import identity
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok_core.base.errors import InputError, UnitError, VantokError
from vantok_core.base.units import System, figure, parse, unit_name
from vantok_core.judge.benches.all import BENCHES
from vantok_core.judge.benches.bench import Answer, Ask, Bench, Chart, Question, refused

LONGEST = 400
EXAMPLE = "an example: measure it"
HANDED = (
    ("report", "the report"),
    ("kit", "the kit on the job"),
    ("card", "the fitting card"),
    ("quote", "the quote"),
    ("weigh", "the tongue at Weigh"),
)
RIGHTS = {"kit": "set", "card": "set", "quote": "quote"}
"""What right handing it on takes, besides keeping it."""


class Benches(TemplateView):
    """All benches, each with its question."""

    template_name = "benches/list.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add them, and the job they are opened from."""
        return super().get_context_data(benches=BENCHES.values(), job=_job(self.request), **kwargs)


class BenchPage(TemplateView):
    """One bench; asked for by a script, only its answer."""

    rights: ClassVar[str] = "measure"

    @property
    def bench(self) -> Bench:
        """The bench asked for."""
        found = BENCHES.get(self.kwargs["key"])
        if found is None:
            raise Http404("there is no such bench")
        return found

    @property
    def units(self) -> System:
        """The reader's units."""
        return cast("System", cast("User", self.request.user).units)

    def get_template_names(self) -> list[str]:
        """Return the page, or its answer alone."""
        return ["benches/answer.html" if self.request.headers.get("HX-Request") else "benches/bench.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add fields as typed, else as the job knows them, else as they are at first; and the answer."""
        bench, job = self.bench, _job(self.request)
        known = _known(bench, job) if job else {}
        told = self.request.GET
        question = bench.question(told.get("q", ""), [name for name in told if told[name]] or known)
        fields = _fields(bench, question, told, known, self.units)
        answer, wrong = _answered(bench, fields, self.units)
        for field in fields:
            field["error"] = field["error"] or wrong.get(field["ask"].name, "")
        return super().get_context_data(
            bench=bench,
            question=question,
            fields=fields,
            more=[f for f in fields if f["ask"].name not in question.asks],
            asked=[f for f in fields if f["ask"].name in question.asks],
            answer=answer,
            job=job,
            wrong=wrong.get("", ""),
            svg=bench_svg(bench.key, answer.drawn if answer else _as_typed(fields), self.units),
            examples=any(f["source"] == EXAMPLE for f in fields),
            of_kit=_of_kit(bench, job),
            handed=_to(bench) if job else (),
            curves=curves_svg(answer, bench, self.units) if answer else "",
            link=_link(self.request, question, fields),
            **kwargs,
        )

    def post(self, request: HttpRequest, key: str) -> HttpResponse:
        """Leave the answer with the job: its report has it."""
        bench, job = self.bench, _job(request)
        question = bench.question(request.POST.get("q", ""), [name for name, text in request.POST.items() if text])
        fields = _fields(bench, question, request.POST, {}, self.units)
        answer, wrong = _answered(bench, fields, self.units)
        if job is None or answer is None:
            messages.error(request, f"Nothing was kept: {next(iter(wrong.values()), 'choose a job first')}")
            return HttpResponseRedirect(reverse("bench", args=[key]))
        person = cast("User", request.user)
        link = _link(request, question, fields)
        if any(f["source"] == EXAMPLE for f in fields) and not request.POST.get("measured"):
            messages.error(
                request, "Nothing was kept: some figures are examples. Measure them, or say that they were measured so."
            )
            return HttpResponseRedirect(f"{link}&job={job.pk}")
        said = " ".join(one.in_units(self.units) for one in answer.said)
        to = request.POST.get("to", "report")
        entry = {
            "bench": bench.key,
            "said": said[:1500],
            "link": link,
            "by": str(person)[:120],
            "at": timezone.now().isoformat(timespec="seconds"),
            "to": to if to in dict(HANDED) else "report",
        }
        try:
            with change(person, job.pk, RIGHTS.get(to, "measure")) as record:
                add(record, "benches", entry)
                also = handed(record, bench.words, said, to, answer.gives)
        except InputError as error:
            messages.error(request, f"{error} Nothing was kept.")
        else:
            messages.success(request, f"Kept with {job.number}: its report has it{also}.")
        return HttpResponseRedirect(f"{link}&job={job.pk}")


def _to(bench: Bench) -> list[tuple[str, str]]:
    """Return where a bench's answer can go: only a tongue goes to Weigh."""
    return [one for one in HANDED if one[0] != "weigh" or bench.key == "tongue"]


def _job(request: HttpRequest) -> Job | None:
    """Return the job a bench is opened from, where there is one."""
    asked = identity(request.GET.get("job") or request.POST.get("job"))
    return Job.every.select_related("vehicle").filter(pk=asked).first() if asked else None


def _known(bench: Bench, job: Job) -> dict[str, Any]:
    """Return what a job knows of a bench's fields, each with where from."""
    desk = Desk.look(job.pk)
    try:
        return dict(bench.of_job(desk.job, desk.worked.in_hand))
    except VantokError:
        return dict(
            bench.of_job(desk.job, None)
        )  # no loaded state to speak of: what the model cannot tell, the job's facts do


def _as_typed(fields: list[dict[str, Any]]) -> dict[str, float]:
    """Return what a drawing can show of fields that make no answer: each as typed, else as it stands at first."""
    typed = {f["ask"].name: f["ask"].first if f["value"] is None else f["value"] for f in fields}
    return {name: float(value) for name, value in typed.items() if isinstance(value, (int, float))}


def _of_kit(bench: Bench, job: Job | None) -> tuple[Chart, ...]:
    """Return what a bench tells of the job's own kit; nothing where its model cannot."""
    if job is None:
        return ()
    desk = Desk.look(job.pk)
    model = desk.worked.in_hand
    try:
        return bench.of_kit(desk.job, model) if model else ()
    except VantokError:
        return ()  # what cannot be solved is said on Set


def _link(request: HttpRequest, question: Question, fields: list[dict[str, Any]]) -> str:
    """Return the address that opens a bench as it is."""
    told = {f["ask"].name: f["text"] for f in fields if f["text"]}
    return f"{request.path}?{urlencode(told | {'q': question.key})}"


def _fields(bench: Bench, question: Question, told: Any, known: dict[str, Any], units: System) -> list[dict[str, Any]]:
    """Return the fields of a bench's question as they are shown, with what besides is needed, told or known of the job; one that another way asks for
    keeps its text, and counts for nothing."""
    names = {one.name for one in bench.asks if one.needed or told.get(one.name) or one.name in known}
    asks = sorted(
        (one for one in bench.asks if one.name in {*question.asks, *names}), key=lambda one: _place(question, one)
    )
    fields = [_field(one, told, known, units) for one in asks]
    chosen = {f["ask"].name: f["text"] for f in fields if f["ask"].kind == "choice"}
    for field in fields:
        only = field["ask"].only
        if only and chosen[only[0]] not in only[1:]:
            field |= {"idle": True, "value": None, "source": "", "error": ""}
    return fields


def _place(question: Question, ask: Ask) -> int:
    """Return where a field stands among those of its question; what is not of it comes after."""
    return question.asks.index(ask.name) if ask.name in question.asks else len(question.asks)


def _field(ask: Ask, told: Any, known: dict[str, Any], units: System) -> dict[str, Any]:
    """Return a field as it is shown: its text, what it reads as (SI), where it comes from, what is wrong with it."""
    from_job = known.get(ask.name)
    example = _written(ask, ask.first, units) if ask.first is not None else ""
    text = (
        told.get(ask.name, "").strip()[:LONGEST]
        if ask.name in told
        else _written(ask, from_job[0], units)
        if from_job
        else example
    )
    source = EXAMPLE if text and text == example and ask.kind != "choice" and from_job is None else ""
    if from_job is not None and text == _written(ask, from_job[0], units):
        source = f"from {from_job[1]}"
    value, error = _read(ask, text, units)
    kind = {"list": "length", "choice": "count", "text": "count"}.get(ask.kind, ask.kind)
    unit = (
        ": ".join(filter(None, (unit_name(axis, units) for axis in ask.axes)))
        if kind == "points"
        else unit_name(kind, units)
    )
    return {"ask": ask, "text": text, "value": value, "source": source, "error": error, "unit": unit}


def _written(ask: Ask, value: Any, units: System) -> str:
    if ask.kind in ("choice", "text"):
        return str(value)
    if ask.kind == "list":
        return ", ".join(figure("length", one, units) for one in value)
    if ask.kind == "points":
        return points_text(value, ask.axes, units)
    return f"{value:g}" if ask.kind == "count" else figure(ask.kind, value, units).replace("−", "-")


def _read(ask: Ask, text: str, units: System) -> tuple[Any, str]:
    """Return what a text reads as (SI, None: nothing entered) and what is wrong with it."""
    if not text:
        return None, "This is needed." if ask.needed and ask.kind != "choice" else ""
    if ask.kind in ("choice", "text"):
        return text, ""
    try:
        if ask.kind == "list":
            return tuple(
                parse("length", one.strip(), units).value for one in text.replace(";", ",").split(",") if one.strip()
            ), ""
        if ask.kind == "points":
            return points_read(text, ask.axes, units), ""
        below = ask.signed and text[0] in "-−"
        value = parse(ask.kind, text[1:] if below else text, units).value
        return -value if below else value, ""
    except UnitError as error:
        return None, str(error)


def _answered(bench: Bench, fields: list[dict[str, Any]], units: System) -> tuple[Answer | None, dict[str, str]]:
    """Return the bench's answer, or what is wrong by field (empty: at none of them)."""
    if any(field["error"] for field in fields):
        return None, {}
    try:
        return bench.answer({field["ask"].name: field["value"] for field in fields if field["value"] is not None}), {}
    except InputError as error:
        place, said = refused(bench, error, units)
        return None, {place: said}
    except VantokError as error:
        return None, {"": str(error)}
