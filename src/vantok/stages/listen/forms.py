"""The customer's words."""

from __future__ import annotations

from typing import Any

from django import forms

from vantok.fields.days import DayField
from vantok.fields.quantity import QuantityField, QuickSelect, QuickText
from vantok.fields.seen import SeenModelForm
from vantok.records.jobs.models import USES, Job
from vantok_core.aims.aim import AIMS
from vantok_core.aims.complaints import COMPLAINT_WORDS
from vantok_core.aims.of_job import in_words, told_aims, tows, usual_aims
from vantok_core.base.units import System
from vantok_core.facts import Complaint
from vantok_core.facts.declared import Told, declared, figures
from vantok_core.kits.wishes import WISHES

ROADS = (
    ("", "road?"),
    ("smooth", "on smooth road"),
    ("bumps", "on bumps"),
    ("ruts", "in ruts"),
    ("bends", "in bends"),
    ("motorway", "on the motorway"),
    ("off_road", "off the road"),
)
LOADS = (
    ("", "load?"),
    ("any", "with any load"),
    ("empty", "empty only"),
    ("loaded", "loaded"),
    ("hitched", "with the trailer on"),
)


CHOICES = {"road": ROADS, "load": LOADS}
HEARD = {name: one for name, one in declared(Complaint).items() if one.page == "listen"}
"""What is told of when a complaint is felt."""
FIGURES = figures(Complaint)


def _heard(name: str, one: Told, of: str, units: System) -> forms.Field:
    """Return the field of one of those, of a complaint by its words."""
    label = f"{of}: {one.words}"
    look = {"class": "form-select" if name in CHOICES else "form-control", "aria-label": label}
    if name in FIGURES:
        quantity = QuantityField(FIGURES[name].kind, label=label)
        quantity.use(units)
        quantity.widget.attrs |= look
        return quantity
    if name in CHOICES:
        return forms.ChoiceField(choices=CHOICES[name], required=False, label=label, widget=QuickSelect(look))
    return forms.CharField(max_length=200, required=False, label=label, widget=QuickText(look))


class ListenForm(SeenModelForm[Job]):
    """The complaint in a few taps, when it is felt, the customer's own words, and how the vehicle is used."""

    complaints = forms.MultipleChoiceField(
        choices=list(COMPLAINT_WORDS.items()), required=False, widget=forms.CheckboxSelectMultiple
    )
    use = forms.MultipleChoiceField(choices=USES, required=False, widget=forms.CheckboxSelectMultiple)

    wishes = forms.MultipleChoiceField(
        choices=list(WISHES.items()), required=False, widget=forms.CheckboxSelectMultiple
    )

    aims = forms.MultipleChoiceField(
        choices=[(aim.key, aim.words) for aim in AIMS.values()], required=False, widget=forms.CheckboxSelectMultiple
    )

    promised = DayField(label="promised for", required=False)

    class Meta:
        model = Job
        fields = (
            "complaints",
            "words",
            "use",
            "wishes",
            "assessment",
            "odometer_km",
            "later",
            "notes",
            "promised",
            "who",
        )
        widgets = {"words": forms.Textarea(attrs={"rows": 2}), "notes": forms.Textarea(attrs={"rows": 2})}

    def __init__(self, *args: Any, units: System = "metric", hitched: bool = False, **kwargs: Any) -> None:
        self.units: System = units
        self.hitched = hitched
        super().__init__(*args, **kwargs)
        for name in ("words", "later", "notes", "odometer_km", "promised"):
            self.fields[name].widget.attrs["class"] = "form-control"
        self.fields["who"].widget.attrs["class"] = "form-select"

    def settle(self) -> None:
        """Make the odometer's field, those that tell when each complaint is felt, and tick what the job is for."""
        self.initial["aims"] = [
            aim.key for aim in told_aims(self.instance.complaints, self.instance.aims, tows=self.tows)
        ]
        odometer = QuantityField("travel", label="odometer")
        odometer.use(self.units)
        self.fields["odometer_km"] = odometer
        for code, words in COMPLAINT_WORDS.items():
            for name, one in HEARD.items():
                self.fields[f"{name}-{code}"] = _heard(name, one, words, self.units)
                self.initial[f"{name}-{code}"] = self.instance.heard.get(code, {}).get(name)
        super().settle()

    @property
    def tows(self) -> bool:
        """Whether the vehicle tows, as the form has its use."""
        return tows(self.instance.use, hitched=self.hitched)

    def felt(self) -> list[dict[str, Any]]:
        """Return each complaint with the fields that tell when it is felt."""
        return [
            {"code": code, "words": words, "fields": [self[f"{name}-{code}"] for name in HEARD]}
            for code, words in COMPLAINT_WORDS.items()
        ]

    def save(self, commit: bool = True) -> Job:
        """Store it; of when a complaint is felt only what was touched."""
        heard = {code: dict(told) for code, told in self.instance.heard.items()}
        for touched in self.touched:
            name, dash, code = touched.partition("-")
            if dash:
                heard.setdefault(code, {})[name] = self.cleaned_data[touched]
        kept = {code: {n: v for n, v in told.items() if v not in (None, "")} for code, told in heard.items()}
        self.instance.heard = {code: told for code, told in kept.items() if told}
        self.instance.aims = self._aims()
        found: Job = super().save(commit)
        return found

    def told(self) -> str:
        """Return what the job is for, in words."""
        return in_words(told_aims(self.instance.complaints, self.instance.aims, tows=self.tows))

    def _aims(self) -> dict[str, bool]:
        """Return what is told of the job's aims beside what its complaints bring: of those ticked only what was changed."""
        usual = {aim.key for aim in usual_aims(self.instance.complaints, tows=self.tows)}
        ticked, shown = set(self.cleaned_data["aims"]), set(self.initial["aims"])
        told = dict(self.instance.aims)
        if ticked:
            told |= {key: key in ticked for key in ticked ^ shown}
        return {key: told[key] for key in AIMS if key in told and told[key] != (key in usual)}
