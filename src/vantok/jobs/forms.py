"""Forms of a job's beginning."""

from __future__ import annotations

from typing import Any

from django import forms

from vantok.drawing.seen import SeenForm, SeenModelForm
from vantok.garage.models import Vehicle
from vantok.jobs.models import COMPLAINTS, USES, Job
from vantok_core.classes import BODIES
from vantok_core.judge.inspect import AREAS, GRADES


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
        self.fields["vehicle"].widget.attrs["autofocus"] = True

    def clean(self) -> dict[str, Any]:
        """Ask for what a new vehicle needs."""
        found = super().clean() or {}
        if not found.get("vehicle"):
            for name, words in (("customer", "whose vehicle it is"), ("label", "what to call the vehicle")):
                if not found.get(name):
                    self.add_error(name, f"Say {words}, or pick a known vehicle.")
        return found


class ListenForm(SeenModelForm):
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


class InspectionForm(SeenForm):
    """The whole inspection sheet: a grade, a note and, for a fault, why it is overruled, for each area."""

    def __init__(self, job: Job, *args: Any, **kwargs: Any) -> None:
        graded = {one.area: one for one in job.inspections.all()}
        initial = {f"{n}-{key}": getattr(one, n) for key, one in graded.items() for n in ("grade", "note", "overruled")}
        super().__init__(*args, initial=initial, **kwargs)

    def settle(self) -> None:
        """Make the fields of every area."""
        choices = [("", "not looked at"), *((g, g) for g in GRADES)]
        for key in AREAS:
            self.fields[f"grade-{key}"] = forms.ChoiceField(choices=choices, required=False)
            self.fields[f"note-{key}"] = forms.CharField(max_length=200, required=False)
            self.fields[f"overruled-{key}"] = forms.CharField(max_length=200, required=False)
        self.guards = {f"overruled-{key}": "overrule" for key in AREAS}
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Ask for the grade where there is a note, so that no note is lost."""
        told = super().clean() or {}
        for key in AREAS:
            if told.get(f"note-{key}") and not told.get(f"grade-{key}"):
                self.add_error(f"grade-{key}", "Grade it as well: fine, watch, fault or wish.")
        return told

    def areas(self) -> list[tuple[str, str, str, str]]:
        """Return every area with a touched field: its key, grade, note, and why it is overruled."""
        told, touched = self.cleaned_data, {name.split("-", 1)[1] for name in self.touched}
        return [
            (key, told[f"grade-{key}"], told[f"note-{key}"], told[f"overruled-{key}"])
            for key in AREAS
            if key in touched
        ]


class ImportForm(forms.Form):
    """A job file."""

    file = forms.FileField(label="Job file", widget=forms.FileInput(attrs={"class": "form-control", "accept": ".json"}))
