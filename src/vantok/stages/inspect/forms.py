"""One area of the inspection."""

from __future__ import annotations

from typing import Any

from django import forms
from django.http import QueryDict

from vantok.fields.seen import SeenForm
from vantok.records.jobs.models import Job
from vantok_core.facts.inspection import ZONES
from vantok_core.judge.listen.inspect import AREAS, GRADES

FIELDS = ("grade", "note", "overruled", "where", "after", "after_note")


def all_fine(posted: QueryDict) -> QueryDict:
    """Return what was posted with every area of a part that nobody graded there as fine, where that was said in one touch."""
    zone = posted.get("all_fine", "")
    if zone not in ZONES:
        return posted
    told = posted.copy()
    for key in (key for key, area in AREAS.items() if zone in area.zones):
        if told.get(f"grade-{key}", "") in ("", "fine"):
            told[f"grade-{key}"] = "fine"
            told.setlist(f"where-{key}", sorted({*told.getlist(f"where-{key}"), zone}))
    return told


class InspectionForm(SeenForm):
    """The whole inspection sheet: of each area a grade, a note, where, why a fault is overruled, and how it was found after the work."""

    def __init__(self, job: Job, *args: Any, **kwargs: Any) -> None:
        graded = {one.area: one for one in job.inspections.all()}
        initial = {f"{n}-{key}": getattr(one, n) for key, one in graded.items() for n in FIELDS}
        super().__init__(*args, initial=initial, **kwargs)

    def settle(self) -> None:
        """Make the fields of every area."""
        choices = [("", "not looked at"), *((g, g) for g in GRADES)]
        for key, area in AREAS.items():
            self.fields[f"grade-{key}"] = forms.ChoiceField(choices=choices, required=False)
            self.fields[f"note-{key}"] = forms.CharField(max_length=200, required=False)
            self.fields[f"overruled-{key}"] = forms.CharField(max_length=200, required=False)
            self.fields[f"where-{key}"] = forms.MultipleChoiceField(
                choices=[(z, ZONES[z]) for z in area.zones], required=False, widget=forms.CheckboxSelectMultiple
            )
            self.fields[f"after-{key}"] = forms.ChoiceField(choices=choices, required=False)
            self.fields[f"after_note-{key}"] = forms.CharField(max_length=200, required=False)
        self.guards = {f"overruled-{key}": "overrule" for key in AREAS}
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Ask for the grade where there is a note or a grade after, so that nothing is lost."""
        told = super().clean() or {}
        for key in AREAS:
            if not told.get(f"grade-{key}") and any(told.get(f"{n}-{key}") for n in ("note", "after", "after_note")):
                self.add_error(f"grade-{key}", "Grade it as it came as well: fine, watch, fault or wish.")
        return told

    def areas(self) -> list[tuple[str, dict[str, Any]]]:
        """Return every area with a touched field: its key and what stands in its fields."""
        told, touched = self.cleaned_data, {name.split("-", 1)[1] for name in self.touched}
        return [(key, {n: told[f"{n}-{key}"] for n in FIELDS}) for key in AREAS if key in touched]
