"""Opening a job, and taking one in."""

from __future__ import annotations

from typing import Any

from django import forms
from django.urls import reverse_lazy
from django.utils.functional import cached_property

from vantok.fields.days import DayField
from vantok.fields.finding import JobField, vehicles_found
from vantok.fields.ids import identity
from vantok.fields.seen import WordedMixin
from vantok.people.models import User
from vantok.records.garage.models import Vehicle
from vantok_core.facts.classes import BODIES
from vantok_core.facts.starting import STARTING

LOOKS = {
    "autocomplete": "off",
    "hx-get": reverse_lazy("find-vehicle"),
    "hx-trigger": "input changed delay:250ms, restored",
    "hx-include": "[name=label], [name=customer], [name=vehicle]:checked",
    "hx-target": "#known",
    "hx-sync": "closest form:queue last",
}
"""What makes a field look for vehicles the shop knows already."""


class StartForm(WordedMixin, forms.Form):
    """A known vehicle, or a new one for a new or known customer."""

    label = forms.CharField(label="Vehicle, as the shop calls it", max_length=120, required=False)
    customer = forms.CharField(max_length=120, required=False)
    vehicle = forms.ModelChoiceField(Vehicle.objects.all(), required=False, widget=forms.HiddenInput)
    phone = forms.CharField(label="Phone or mail", max_length=120, required=False)
    body = forms.ChoiceField(label="Body style", choices=[(k, b.words) for k, b in BODIES.items()], required=False)

    begun_from = forms.ChoiceField(
        label="Begin with the usual figures of",
        choices=[("", "nothing: all of it is read off"), *((key, one.words) for key, one in STARTING.items())],
        required=False,
    )
    like = JobField(label="or with those of the vehicle of job")
    never_empty = forms.BooleanField(label="It is never empty again: judge it as it stands", required=False)

    promised = DayField(label="Promised for", required=False)
    who = forms.ModelChoiceField(
        User.objects.filter(is_active=True), label="Who does it", required=False, empty_label="nobody yet"
    )
    came_back = JobField(label="Comes back from job")
    warranty = forms.BooleanField(label="Under warranty", required=False)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for field in self.fields.values():
            select = isinstance(field.widget, forms.Select)
            field.widget.attrs["class"] = "form-select" if select else "form-control"
        self.fields["never_empty"].widget.attrs["class"] = "form-check-input"
        for name in ("label", "customer"):
            self.fields[name].widget.attrs |= LOOKS
        self.fields["label"].widget.attrs |= {
            "autofocus": True,
            "placeholder": "or its plate, where it was here before",
        }

    @property
    def chosen(self) -> int:
        """The vehicle touched (its id), 0 for a new one."""
        return identity(str(self["vehicle"].value() or ""))

    @cached_property
    def known(self) -> list[Vehicle]:
        """The vehicles that what stands in it may mean, the chosen one first."""
        label, customer = (str(self[name].value() or "") for name in ("label", "customer"))
        return vehicles_found(label, customer, self.chosen)

    def clean(self) -> dict[str, Any]:
        """Ask for what a new vehicle needs."""
        found = super().clean() or {}
        if not found.get("vehicle"):
            for name, words in (("customer", "whose vehicle it is"), ("label", "what to call the vehicle")):
                if not found.get(name):
                    self.add_error(name, f"Say {words}, or touch a known vehicle.")
        return found


class ImportForm(WordedMixin, forms.Form):
    """A job file, or an archive."""

    file = forms.FileField(
        label="Job file", widget=forms.FileInput(attrs={"class": "form-control", "accept": ".json,.zip"})
    )
