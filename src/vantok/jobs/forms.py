"""Forms of a job's beginning."""

from __future__ import annotations

from typing import Any

from django import forms

from vantok.garage.models import Vehicle
from vantok.jobs.models import COMPLAINTS, USES, Job
from vantok_core.classes import BODIES


class StartForm(forms.Form):
    """A known vehicle, or a new one for a new or known customer."""

    vehicle = forms.ModelChoiceField(
        Vehicle.objects.select_related("customer"), required=False, empty_label="a new vehicle"
    )
    customer = forms.CharField(max_length=120, required=False)
    label = forms.CharField(label="Vehicle, as the shop calls it", max_length=120, required=False)
    body = forms.ChoiceField(label="Body style", choices=[(k, b.words) for k, b in BODIES.items()], required=False)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name, field in self.fields.items():
            field.widget.attrs["class"] = "form-select" if name in ("vehicle", "body") else "form-control"

    def clean(self) -> dict[str, Any]:
        """Ask for what a new vehicle needs."""
        found = super().clean() or {}
        if not found.get("vehicle"):
            for name, words in (("customer", "whose vehicle it is"), ("label", "what to call the vehicle")):
                if not found.get(name):
                    self.add_error(name, f"Say {words}, or pick a known vehicle.")
        return found


class ListenForm(forms.ModelForm):
    """The complaint in a few taps, the customer's own words, and how the vehicle is used."""

    complaints = forms.MultipleChoiceField(choices=COMPLAINTS, required=False, widget=forms.CheckboxSelectMultiple)
    use = forms.MultipleChoiceField(choices=USES, required=False, widget=forms.CheckboxSelectMultiple)

    class Meta:
        model = Job
        fields = ("complaints", "words", "use", "later", "notes")
        widgets = {"words": forms.Textarea(attrs={"rows": 2}), "notes": forms.Textarea(attrs={"rows": 2})}

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name in ("words", "later", "notes"):
            self.fields[name].widget.attrs["class"] = "form-control"


class ImportForm(forms.Form):
    """A job file."""

    file = forms.FileField(label="Job file", widget=forms.FileInput(attrs={"class": "form-control", "accept": ".json"}))
