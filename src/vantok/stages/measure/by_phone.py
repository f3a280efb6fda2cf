"""What a phone or logger tells: how the body stands, how it swings when an end is pushed and let go."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone

from vantok.desk.stage import StageView
from vantok.fields.files import text_of
from vantok.fields.quantity import UnitsForm
from vantok.people.acts import act
from vantok.records.instruments.models import Instrument
from vantok.records.jobs.models import Job
from vantok.wire.shared import look
from vantok_core.base.errors import InputError, VantokError
from vantok_core.facts import PhoneLevel, Pushed
from vantok_core.judge.measure.by_phone import levelled, levels_told, pushes_told
from vantok_core.readings.pushed import read_trace, swing_of

PHASES = (("before", "as it came"), ("after", "with the kit"))
MOST = 40
LIVE, LEAST_SAMPLES = 8.0, 100
"""How far back a push test off the shop's logger reaches (s), and samples that it needs after the push."""


class _StateForm(UnitsForm):
    """What both ask: in which state, before or after."""

    def __init__(self, record: Job, *args: Any, **kwargs: Any) -> None:
        self.states = [(s.key, s.name) for s in record.states.all()]
        super().__init__(*args, **kwargs)

    def settle(self) -> None:
        """Make the fields, and dress all of them."""
        select = forms.Select(attrs={"class": "form-select"})
        self.fields = {
            "state": forms.ChoiceField(choices=self.states, label="in which state", widget=select),
            "phase": forms.ChoiceField(
                choices=PHASES, label="before or after", widget=forms.Select(attrs={"class": "form-select"})
            ),
        } | self.fields
        for field in self.fields.values():
            field.widget.attrs.setdefault("class", "form-control")
        super().settle()


class LevelForm(_StateForm):
    """Pitch and lean as shown, and again with the phone turned end for end."""

    pitch = forms.FloatField(label="pitch, degrees, nose down +")
    lean = forms.FloatField(label="lean, degrees, left down +")
    pitch_turned = forms.FloatField(label="pitch, phone turned round")
    lean_turned = forms.FloatField(label="lean, phone turned round")


class PushForm(_StateForm):
    """Which end was pushed, and its trace: a file, or rows of a time and a figure."""

    axle = forms.ChoiceField(
        choices=(("rear", "rear"), ("front", "front")),
        label="which end",
        widget=forms.Select(attrs={"class": "form-select"}),
    )
    trace = forms.CharField(
        label="trace: seconds, figure", required=False, max_length=2_000_000, widget=forms.Textarea(attrs={"rows": 3})
    )


class ByPhone(StageView):
    """Levels and push tests."""

    stage = "measure"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["measure/by_phone.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add both forms and what was read so far."""
        record, job = self.desk.record, self.desk.job
        kwargs.setdefault("level_form", LevelForm(record, units=self.units, prefix="level"))
        kwargs.setdefault("push_form", PushForm(record, units=self.units, prefix="push"))
        names = {s.key: s.name for s in job.states}
        told: dict[str, Any] = {"levels": (), "pushes": (), "problem": ""}
        try:
            told |= {"levels": levels_told(job), "pushes": pushes_told(job, self.desk.model)}
        except VantokError as error:
            told["problem"] = str(error)
        logger = Instrument.objects.filter(kind="RIDE").first()
        if logger is not None:
            look(logger.url)  # it begins to listen as the page is shown
        return super().get_context_data(names=names, logger=logger, **told, **kwargs)

    def back(self) -> HttpResponse:
        """Go to this page anew."""
        return HttpResponseRedirect(reverse("by-phone", args=[self.kwargs["pk"]]))

    @act("measure", "drop-level", "drop-push")
    def _drop(self) -> HttpResponse:
        with self.change() as record:
            name, n = ("levels" if self.asked == "drop-level" else "pushes"), self.request.POST.get("n", "")
            rows = list(record.sheets.get(name, ()))
            if n.isascii() and n.isdecimal() and int(n[:4]) < len(rows):
                rows.pop(int(n))
                record.sheets = record.sheets | {name: rows}
                record.save()
        return self.back()

    @act("measure", "push", "live")
    def _pushed(self) -> HttpResponse:
        form = self.take(lambda r: PushForm(r, self.request.POST, units=self.units, prefix="push"), self._push)
        return self.taken(form, push_form=form) or self._kept()

    @act("measure", "level")
    def _levelled(self) -> HttpResponse:
        form = self.take(lambda r: LevelForm(r, self.request.POST, units=self.units, prefix="level"), self._level)
        return self.taken(form, level_form=form) or self._kept()

    def _kept(self) -> HttpResponse:
        messages.success(self.request, "Kept.")
        return self.back()

    def _noted(self, form: _StateForm) -> dict[str, Any]:
        at = timezone.now().isoformat(timespec="seconds")
        return {
            "state": form.cleaned_data["state"],
            "phase": form.cleaned_data["phase"],
            "by": str(self.person)[:120],
            "at": at,
        }

    def _level(self, record: Job, form: LevelForm) -> None:
        data = form.cleaned_data
        pitch, lean, sigma = levelled((data["pitch"], data["lean"]), (data["pitch_turned"], data["lean_turned"]))
        _add(
            record,
            "levels",
            PhoneLevel.model_validate(self._noted(form) | {"pitch": pitch, "lean": lean, "sigma": sigma}),
        )

    def _trace(self, form: PushForm) -> tuple[list[float], list[float]]:
        file = self.request.FILES.get("push-file")
        try:
            text = text_of(file) if file is not None else form.cleaned_data["trace"]
        except UnicodeDecodeError as error:
            raise InputError("trace", "this file", "a text file: seconds and a figure, with a comma between") from error
        return read_trace(text)

    def _push(self, record: Job, form: PushForm) -> None:
        found = swing_of(*(_logged() if self.request.POST.get("action") == "live" else self._trace(form)))
        told = {
            "axle": form.cleaned_data["axle"],
            "frequency": found.frequency,
            "frequency_sigma": found.frequency_sigma,
            "damping": found.damping,
            "damping_sigma": found.damping_sigma,
        }
        _add(record, "pushes", Pushed.model_validate(self._noted(form) | told))


def _logged() -> tuple[list[float], list[float]]:
    """Return what the shop's ride logger had since the last push. Raises InputError where there is none, or it is silent."""
    instrument = Instrument.objects.filter(kind="RIDE").first()
    if instrument is None:
        raise InputError("logger", "none", "set one up under Instruments, or take a file")
    link = look(instrument.url)
    times, values = link.trace("SEAT", LIVE)
    if link.problem or len(times) < LEAST_SAMPLES:
        raise InputError(
            "logger", link.problem or f"{len(times)} samples", "it is silent: wait a few seconds, or take a file"
        )
    hardest = max(range(len(values) - LEAST_SAMPLES + 1), key=lambda n: abs(values[n]))
    return times[hardest:], values[hardest:]


def _add(record: Job, name: str, one: PhoneLevel | Pushed) -> None:
    """Put a reading onto the job. Raises InputError where it has as many as it can hold."""
    rows = list(record.sheets.get(name, ()))
    if len(rows) >= MOST:
        raise InputError(name, len(rows), f"{MOST} at most: take an old one off first")
    record.sheets = record.sheets | {name: [*rows, one.model_dump(mode="json", exclude_none=True)]}
    record.save()
