"""The instruments' live readings beside the sheet, taking them into it, and the list of instruments."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast

from django import forms
from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views import View
from django.views.generic import FormView

from vantok.desk.actions import change
from vantok.desk.practising import note_weighed
from vantok.fields.ids import identity
from vantok.fields.seen import WordedMixin
from vantok.instruments.practised import OF_THE_BAY, latest_of
from vantok.people.models import User
from vantok.records.instruments.models import BY_EYE, Instrument
from vantok.records.weigh.models import LoadState
from vantok.stages.weigh.actions import save_scales
from vantok.wire.line import CHANNELS, READS, WORDS, Reading
from vantok.wire.shared import look
from vantok_core.base.units import System, show

PAD_FIELDS = {"FL": "fl_kg", "FR": "fr_kg", "RL": "rl_kg", "RR": "rr_kg"}
STATE_WORDS = {"steady": "steady", "moving": "settling", "fault": "lost"}


Latest = Mapping[str, Reading]


def there(job_id: int) -> list[tuple[Instrument, Latest, str]]:
    """Return the instruments at a job, what each reads now, and why it reads nothing: the shop's, or at a practice job the bay's own."""
    practised = latest_of(job_id)
    if practised is not None:
        return [(one, practised[one.kind], "") for one in OF_THE_BAY]
    scales = [one for one in Instrument.objects.exclude(kind=BY_EYE) if READS[one.kind][0] == "mass"]
    found = sorted(scales, key=lambda i: list(CHANNELS).index(i.kind))
    links = [(one, look(one.url)) for one in found]
    return [(one, link.latest(), link.problem) for one, link in links]


def shown(instrument: Instrument, latest: Latest, problem: str) -> dict[str, Any]:
    """Return an instrument as the panel shows it."""
    rows = [
        {
            "channel": c,
            "words": WORDS[c],
            "kg": latest[c].value if c in latest else None,
            "state": STATE_WORDS[latest[c].state] if c in latest else "waiting",
        }
        for c in CHANNELS[instrument.kind]
    ]
    return {
        "instrument": instrument,
        "problem": problem,
        "rows": rows,
        "lost": [r["words"] for r in rows if r["state"] == "lost"],
        "steady": bool(rows) and all(r["state"] == "steady" for r in rows),
    }


class Panel(View):
    """The live readings, looked at again and again by the page."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Return the panel's inside."""
        state = get_object_or_404(
            LoadState.objects.select_related("job"), job_id=pk, pk=identity(request.GET.get("state"))
        )
        context = {"instruments": [shown(*one) for one in there(pk)], "current": state, "record": state.job}
        return render(request, "instruments/live.html", context)


class Take(View):
    """One touch: what an instrument reads goes into the sheet, once it is steady."""

    rights = "measure"

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Store it, or say why not."""
        state = get_object_or_404(LoadState, job_id=pk, pk=identity(request.POST.get("state")))
        asked = identity(request.POST.get("instrument"))
        found = next((one for one in there(pk) if one[0].pk == asked), None)
        if found is None:
            raise Http404("there is no such instrument here")
        instrument, latest, problem = found
        units = cast("System", cast("User", request.user).units)
        problem = _not_ready(instrument, latest, problem)
        if not problem and instrument.kind == "TONGUE" and state.empty:
            problem = "The empty state tows nothing: take the tongue in a loaded state."
        if problem:
            messages.error(request, problem)
        else:
            figures = _figures(instrument, latest, request.POST.get("as", ""))
            with change(cast("User", request.user), pk, "measure"):
                save_scales(state, figures)
                if state.job.practice:
                    note_weighed(pk, instrument.kind)
            told = ", ".join(show("mass", kg, units) for kg in figures.values() if kg is not None)
            messages.success(request, f"{instrument.name}: {told} taken into “{state.name}”.")
            if instrument.run_out:
                messages.warning(request, instrument.run_out)
        return HttpResponseRedirect(f"{reverse('scales', args=[pk])}?state={state.key}")


def _not_ready(instrument: Instrument, latest: Latest, problem: str) -> str:
    """Return why an instrument's readings cannot be taken now; empty when they can."""
    if problem:
        return f"{instrument.name}: {problem}. Nothing was taken; type the figures instead."
    for channel in CHANNELS[instrument.kind]:
        load = latest.get(channel)
        if load is None or load.state == "fault" or load.value is None:
            return f"The {WORDS[channel]} is silent. Nothing was taken; wait for it, or type the figures."
        if load.state == "moving":
            return f"The {WORDS[channel]} is still settling. Nothing was taken; wait for “steady”."
        if load.value < 0.0:
            return f"The {WORDS[channel]} reads below nought: unload it and set it to nought."
    return ""


def _figures(instrument: Instrument, latest: Latest, taken_as: str) -> dict[str, float | None]:
    """Return the sheet's fields and their kg; pads rule over an axle's reading taken before."""
    if instrument.kind == "PADS":
        return {PAD_FIELDS[c]: latest[c].value for c in PAD_FIELDS} | {"front_kg": None, "rear_kg": None}
    if instrument.kind == "AXLE":
        return {"front_kg" if taken_as == "front" else "rear_kg": latest["PLATFORM"].value} | dict.fromkeys(
            PAD_FIELDS.values()
        )
    return {"tongue_kg": latest["BALL"].value}


class Now(View):
    """What an instrument reads now, for the field beside which it was asked: words in the reader's units, and whether it is steady."""

    def get(self, request: HttpRequest) -> JsonResponse:
        """Return it, or why there is none; asked for none in particular, which are set up."""
        kind = request.GET.get("kind", "")
        if not kind:
            return JsonResponse(
                {"there": sorted(set(Instrument.objects.exclude(kind=BY_EYE).values_list("kind", flat=True)))}
            )
        instrument = Instrument.objects.filter(kind=kind).first()
        if instrument is None or kind == BY_EYE or READS[kind][0] == "mass":
            return JsonResponse({"problem": "No such instrument is set up."}, status=404)
        channels = CHANNELS[kind]
        side = request.GET.get("side", "").upper()
        channel = side if side in channels else channels[0]
        link = look(instrument.url)
        read = link.latest().get(channel)
        if link.problem or read is None or read.value is None:
            return JsonResponse({"problem": f"The {WORDS[channel]} is silent: {link.problem or 'nothing came yet'}."})
        if read.state != "steady":
            return JsonResponse({"problem": f"The {WORDS[channel]} is still settling."})
        units = cast("System", cast("User", request.user).units)
        return JsonResponse({"text": show(READS[kind][0], read.value, units)})


class InstrumentForm(WordedMixin, forms.ModelForm[Instrument]):
    """A new instrument."""

    class Meta:
        model = Instrument
        fields = ("name", "kind", "url", "calibrated_to")
        widgets = {"calibrated_to": forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")}

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name, field in self.fields.items():
            field.widget.attrs["class"] = "form-select" if name == "kind" else "form-control"

    def clean_url(self) -> str:
        """Refuse an instrument that is listened to and has no address, and a wrench that has one."""
        url: str = self.cleaned_data["url"]
        if (self.cleaned_data.get("kind") == BY_EYE) == bool(url):
            raise forms.ValidationError("A torque wrench has none." if url else "Where is it listened to?")
        return url


class CalibratedForm(WordedMixin, forms.ModelForm[Instrument]):
    """Until when an instrument is calibrated."""

    class Meta:
        model = Instrument
        fields = ("calibrated_to",)


class Instruments(FormView[InstrumentForm]):
    """The shop's instruments; the lead adds and removes them, and writes down until when each is calibrated."""

    template_name = "instruments/list.html"
    form_class = InstrumentForm
    rights = "shop"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the list."""
        return super().get_context_data(instruments=Instrument.objects.all(), **kwargs)

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Remove one, write down until when one is calibrated, or add one."""
        if "calibrated" in request.POST:
            one = get_object_or_404(Instrument, pk=identity(request.POST["calibrated"]))
            form = CalibratedForm(request.POST, instance=one)
            if not form.is_valid():
                messages.error(request, f"{one.name}: {form.errors['calibrated_to'][0]} Nothing was changed.")
            else:
                with transaction.atomic():
                    form.save()
            return HttpResponseRedirect(reverse("instruments"))
        if "remove" in request.POST:
            with transaction.atomic():
                get_object_or_404(Instrument, pk=identity(request.POST["remove"])).delete()
            return HttpResponseRedirect(reverse("instruments"))
        return super().post(request, *args, **kwargs)

    def form_valid(self, form: InstrumentForm) -> HttpResponse:
        """Add it."""
        with transaction.atomic():
            form.save()
        return HttpResponseRedirect(reverse("instruments"))
