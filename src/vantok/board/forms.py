"""Opening a job, and taking one in."""

from __future__ import annotations

from typing import Any

from django import forms

from vantok.desk.opening import PATTERN
from vantok.fields.days import DayField
from vantok.fields.seen import WordedMixin
from vantok.people.models import User
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok_core.facts.classes import BODIES
from vantok_core.facts.starting import STARTING


class StartForm(WordedMixin, forms.Form):
    """A known vehicle, or a new one for a new or known customer."""

    vehicle = forms.ModelChoiceField(
        Vehicle.objects.select_related("customer"), required=False, empty_label="a new vehicle"
    )
    customer = forms.CharField(max_length=120, required=False)
    phone = forms.CharField(label="Phone or mail", max_length=120, required=False)
    label = forms.CharField(label="Vehicle, as the shop calls it", max_length=120, required=False)
    body = forms.ChoiceField(label="Body style", choices=[(k, b.words) for k, b in BODIES.items()], required=False)

    begun_from = forms.CharField(required=False, widget=forms.Select)
    never_empty = forms.BooleanField(label="It is never empty again: judge it as it stands", required=False)

    promised = DayField(label="Promised for", required=False)
    who = forms.ModelChoiceField(
        User.objects.filter(is_active=True), label="Who does it", required=False, empty_label="nobody yet"
    )
    came_back = forms.CharField(label="Comes back from job (its number)", max_length=20, required=False)
    warranty = forms.BooleanField(label="Under warranty", required=False)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name, field in self.fields.items():
            if name != "never_empty":
                field.widget.attrs["class"] = (
                    "form-select" if name in ("vehicle", "body", "begun_from", "who") else "form-control"
                )
        self.fields["never_empty"].widget.attrs["class"] = "form-check-input"
        garage = [(f"{PATTERN}{v.pk}", str(v)) for v in Vehicle.objects.filter(jobs__done=True).distinct()[:200]]
        kinds = [(key, one.words) for key, one in STARTING.items()]
        choices = [
            ("", "nothing: all of it is read off"),
            ("By kind", kinds),
            *([("As one that was done", garage)] if garage else []),
        ]
        self.fields["begun_from"].label = "Begin with the usual figures of"
        self.fields["begun_from"].widget.choices = choices
        self.fields["vehicle"].widget.attrs["autofocus"] = True

    def clean(self) -> dict[str, Any]:
        """Ask for what a new vehicle needs."""
        found = super().clean() or {}
        if number := (found.get("came_back") or "").strip():
            found["came_back"] = Job.objects.filter(number=number).first()
            if found["came_back"] is None:
                self.add_error("came_back", f"There is no job {number}.")
        if not found.get("vehicle"):
            for name, words in (("customer", "whose vehicle it is"), ("label", "what to call the vehicle")):
                if not found.get(name):
                    self.add_error(name, f"Say {words}, or pick a known vehicle.")
        return found


class ImportForm(WordedMixin, forms.Form):
    """A job file, or an archive."""

    file = forms.FileField(
        label="Job file", widget=forms.FileInput(attrs={"class": "form-control", "accept": ".json,.zip"})
    )
