"""What is typed of a leak test, a drive, and one change at a time."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django import forms

from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.fields.temperature import TemperatureField
from vantok_core.base.say import Say
from vantok_core.judge.prove.driving import CATEGORIES, COURSES, FELT, GRADES

SIDES = (("left", "left bag"), ("right", "right bag"), ("both", "both, on one line"))
RATERS = (("technician", "technician"), ("owner", "owner"))
MOMENTS = (("before", "before the work"), ("after", "after it"))


def styled(form: forms.Form) -> None:
    """Give plain fields the program's look."""
    for field in form.fields.values():
        if isinstance(field, (forms.ChoiceField,)) and not isinstance(field, forms.MultipleChoiceField):
            field.widget.attrs.setdefault("class", "form-select")
        elif isinstance(field, forms.BooleanField):
            field.widget.attrs.setdefault("class", "form-check-input")
        elif not isinstance(field, forms.MultipleChoiceField):
            field.widget.attrs.setdefault("class", "form-control")


class ReadAgainForm(UnitsForm):
    """A bag as it reads now."""

    pressure = "Reads now"

    def settle(self) -> None:
        """Make the fields."""
        self.fields["pressure"] = QuantityField("pressure", label=self.pressure, required=True)
        self.fields["temperature"] = TemperatureField(label="Temperature, with its unit", required=True)
        self.fields["soaped"] = forms.BooleanField(label="whole bag and fittings soaped", required=False)
        self.fields["bubbles"] = forms.CharField(label="Bubbles, where", max_length=200, required=False)
        styled(self)
        super().settle()


class LeakForm(ReadAgainForm):
    """A bag pressed up."""

    pressure = "Pressed up to"

    def settle(self) -> None:
        """Make the fields, which bag it is before them."""
        self.fields["side"] = forms.ChoiceField(label="Which", choices=SIDES)
        super().settle()

    def clean_pressure(self) -> float:
        """Refuse a bag that was not pressed up."""
        value: float = self.cleaned_data["pressure"]
        if value <= 0.0:
            raise forms.ValidationError("Press it up to a working pressure first: an empty bag shows no leak.")
        return value


class DriveForm(UnitsForm):
    """A drive, graded."""

    def __init__(
        self, *args: Any, states: list[tuple[str, str]], began: bool, stops: Sequence[Say] = (), **kwargs: Any
    ) -> None:
        self.states, self.began, self.stops = states, began, stops
        super().__init__(*args, **kwargs)

    def settle(self) -> None:
        """Make the fields; a grade for each category."""
        self.fields["moment"] = forms.ChoiceField(
            label="Driven", choices=MOMENTS, initial="after" if self.began else "before"
        )
        self.fields["rater"] = forms.ChoiceField(label="Graded by the", choices=RATERS)
        self.fields["course"] = forms.ChoiceField(
            label="Course", choices=[(key, c.words) for key, c in COURSES.items()]
        )
        self.fields["speed"] = QuantityField("speed", label="Speed held", required=True)
        self.fields["state"] = forms.ChoiceField(
            label="Load", choices=[("", "as it stood"), *self.states], required=False
        )
        self.fields["told"] = forms.BooleanField(label="from memory, not driven for this sheet", required=False)
        for key, (_, words) in CATEGORIES.items():
            self.fields[f"g-{key}"] = forms.ChoiceField(
                label=words.capitalize(), choices=[("", "—"), *GRADES.items()], required=False
            )
        self.fields["felt"] = forms.MultipleChoiceField(
            label="Felt", choices=list(FELT.items()), widget=forms.CheckboxSelectMultiple, required=False
        )
        self.fields["words"] = forms.CharField(label="In their own words", max_length=200, required=False)
        self.fields["expected"] = forms.CharField(label="What is expected of the work", max_length=200, required=False)
        styled(self)
        super().settle()

    @property
    def grades(self) -> dict[str, str]:
        """The grades given, by category."""
        return {key: value for key in CATEGORIES if (value := self.cleaned_data.get(f"g-{key}"))}

    def clean(self) -> dict[str, Any]:
        """Hold the column before the work: once work began it is taken from memory only, and said so. What touches or leaks is not driven with."""
        told = super().clean() or {}
        if told.get("moment") == "after" and self.stops and not told.get("told"):
            self.add_error(None, f"It is not driven so. {' '.join(one.in_units(self.units) for one in self.stops)}")
        if told.get("moment") == "before" and self.began and not told.get("told"):
            self.add_error(
                "told",
                "Work has begun: a drive before it can only be told from memory. Tick that, and it stands as told.",
            )
        if not self.errors and not (self.grades or told.get("felt") or told.get("words")):
            self.add_error(None, "A drive without a grade or a word says nothing: grade at least one thing.")
        return told
