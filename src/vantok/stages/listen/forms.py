"""The customer's words."""

from __future__ import annotations

from typing import Any

from django import forms

from vantok.fields.seen import SeenModelForm
from vantok.records.jobs.models import COMPLAINTS, USES, Job
from vantok_core.kits.wishes import WISHES


class ListenForm(SeenModelForm):
    """The complaint in a few taps, the customer's own words, and how the vehicle is used."""

    complaints = forms.MultipleChoiceField(choices=COMPLAINTS, required=False, widget=forms.CheckboxSelectMultiple)
    use = forms.MultipleChoiceField(choices=USES, required=False, widget=forms.CheckboxSelectMultiple)

    wishes = forms.MultipleChoiceField(
        choices=list(WISHES.items()), required=False, widget=forms.CheckboxSelectMultiple
    )

    class Meta:
        model = Job
        fields = ("complaints", "words", "use", "wishes", "assessment", "odometer_km", "later", "notes")
        widgets = {"words": forms.Textarea(attrs={"rows": 2}), "notes": forms.Textarea(attrs={"rows": 2})}

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name in ("words", "later", "notes", "odometer_km"):
            self.fields[name].widget.attrs["class"] = "form-control"
