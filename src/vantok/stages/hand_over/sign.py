"""Signing on the tablet: for drilling, welding and declined advice."""

from __future__ import annotations

import json
from typing import Any, ClassVar

from django import forms
from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone
from pydantic import ValidationError as NotHeld

from vantok.desk.stage import StageView
from vantok.drawing.signature import signature_svg
from vantok.fields.seen import SeenForm
from vantok.records.jobs.models import Job
from vantok_core.facts.signed import MOST_POINTS, MOST_STROKES, TALL, WIDE, Signed
from vantok_core.judge.hand_over.to_sign import to_sign

MOST_SIGNED = 20
LONGEST = MOST_STROKES * MOST_POINTS * 12


class SignForm(SeenForm):
    """What is signed for, by whom, and the strokes as the pad sends them."""

    what = forms.CharField(
        label="What is signed for",
        max_length=200,
        min_length=3,
        widget=forms.TextInput(attrs={"class": "form-control", "list": "to-sign"}),
    )
    name = forms.CharField(
        label="Name in print", max_length=80, min_length=2, widget=forms.TextInput(attrs={"class": "form-control"})
    )
    strokes = forms.CharField(
        widget=forms.HiddenInput,
        max_length=LONGEST,
        error_messages={"required": "Nothing is drawn yet: sign on the pad."},
    )

    def clean_strokes(self) -> list[Any]:
        """Return the strokes. Raises ValidationError for what is none."""
        try:
            told = json.loads(self.cleaned_data["strokes"])
            return list(
                Signed(what="held", name="to it", strokes=told, day="2000-01-01").model_dump(mode="json")["strokes"]
            )
        except (ValueError, NotHeld, RecursionError) as error:
            raise ValidationError("That is no drawing of the pad: sign again.") from error


class Sign(StageView):
    """The pad, what is still to be signed for, and what was signed."""

    stage = "report"
    rights: ClassVar[str] = "answer"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["handover/sign.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add what is asked for and what is there."""
        kwargs.setdefault("form", _form(self.desk.record))
        return super().get_context_data(
            asked=to_sign(self.desk.job, self.desk.cards),
            signed=[(one, signature_svg(one)) for one in self.desk.job.signed],
            pad=(WIDE, TALL),
            **kwargs,
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Keep a signature; one that is there is never changed."""
        form = self.take(lambda record: _form(record, request.POST), _keep)
        if refused := self.taken(form, form=form):
            return refused
        messages.success(request, f"Signed by {form.cleaned_data['name']}.")
        return HttpResponseRedirect(reverse("sign", args=[pk]))


def _form(record: Job, data: Any = None) -> SignForm:
    """Return the form, the customer's name in it."""
    return SignForm(data, initial={"name": str(record.vehicle.customer)})


def _keep(record: Job, form: SignForm) -> None:
    """Put a signature beside those that are there. Raises ValidationError where there are as many as there can be."""
    there = list(record.sheets.get("signed", ()))
    if len(there) >= MOST_SIGNED:
        raise ValidationError(f"{MOST_SIGNED} signatures are the most on one job.")
    day = timezone.localdate().isoformat()
    told = {name: form.cleaned_data[name] for name in ("what", "name", "strokes")}
    record.sheets = record.sheets | {"signed": [*there, told | {"day": day}]}
    record.save()
