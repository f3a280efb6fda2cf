"""Target and setting."""

from __future__ import annotations

import json
from typing import Any

from django import forms
from django.utils import timezone

from vantok.fields.quantity import QuantityForm
from vantok.fields.temperature import TemperatureField, shown
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import kit_of
from vantok_core.base.units import show
from vantok_core.kits.registry import family_of
from vantok_core.kits.target import ASK, OF_EMPTY, SCHOOLS, SIDED

SIDES = ("left", "right")


class TargetForm(QuantityForm[Job]):
    """What height is wanted, and why."""

    quantities = {"rake_m": "length", "length_m": "length", "length_right_m": "length", "front_raise_m": "length"}
    may_be_negative = ("rake_m", "front_raise_m")
    share = forms.IntegerField(label="share of the sag taken out, %", min_value=0, max_value=100)

    class Meta:
        model = Job
        fields = (
            "school",
            "share",
            "rake_m",
            "length_m",
            "length_right_m",
            "target_source",
            "target_reason",
            "front_raise_m",
            "contact",
        )

    def settle(self) -> None:
        """Show the share as percent, and only the targets that can be meant."""
        self.initial["share"] = round(100 * self.instance.share)
        field = self.fields["school"]
        barred = {ASK} if self.instance.school != ASK else set()
        if self.instance.never_empty and not self.instance.empty_load:
            barred |= set(OF_EMPTY)
        field.choices = [(key, words) for key, words in SCHOOLS.items() if key not in barred]  # type: ignore[attr-defined]
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Ask for what the target cannot be without."""
        data = super().clean()
        school = data.get("school", "")
        if school in (*SIDED, "stop_gap") and not data.get("length_m") and "length_m" not in self.errors:
            self.add_error("length_m", "Say how much.")
        if school == "stated_height" and not data.get("target_source"):
            self.add_error("target_source", "Say whose figure it is: the maker’s, a sister vehicle’s.")
        return data

    def clean_share(self) -> float:
        """Percent to share."""
        return float(self.cleaned_data["share"]) / 100.0

    def clean_rake_m(self) -> float:
        """Take an empty rake as level."""
        return self.cleaned_data["rake_m"] or 0.0


class RollForm(QuantityForm[Job]):
    """What the roll is wanted at, as a share of what it is."""

    quantities = {"roll_wanted": "percent"}

    class Meta:
        model = Job
        fields = ("roll_wanted",)


class SpaceForm(QuantityForm[Job]):
    """The room there is for a kit beside the tyre, and whether lines and exhaust stand clear of it."""

    quantities = {"space_left_m": "length", "space_right_m": "length"}

    class Meta:
        model = Job
        fields = ("space_left_m", "space_right_m", "lines")


class SettingForm(QuantityForm[Fitting]):
    """What the kit is set by, left and right, as set on the vehicle: the fields are its family's."""

    class Meta:
        model = Fitting
        fields = ("done",)

    def settle(self) -> None:
        """Take the family's fields, each side as it stands."""
        self.kit = kit_of(json.dumps(self.instance.kit))
        self.sides = SIDES if family_of(self.kit).both_sides else SIDES[:1]
        """The sides that are set; of a kit that is one part, what is set stands for both."""
        done = self.fields.pop("done")
        for field in family_of(self.kit).set_by(self.kit):
            standing = self.instance.setting.get(field.name) or (None, None)
            for side, value in zip(self.sides, standing, strict=False):
                name = f"{side}_{field.name}"
                words = f"{field.words}, {side}" if len(self.sides) > 1 else field.words
                self.fields[name] = forms.CharField(label=words, required=False)
                self.quantities = {**self.quantities, name: field.kind}
                self.initial[name] = value
        told = self.instance.as_set or {}
        self.fields["gauge"] = forms.CharField(label="With which gauge or tape", max_length=40, required=False)
        self.fields["gauge"].widget.attrs["class"] = "form-control"
        self.initial["gauge"] = told.get("gauge", "")
        if family_of(self.kit).sealed:
            self.fields["kelvin"] = TemperatureField(label="At, with its unit")
            self.initial["kelvin"] = shown(told["kelvin"], self.units) if told.get("kelvin") else ""
        self.fields["done"] = done
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Hold the figures against the kit's own limits, and bring the sides together."""
        data = super().clean()
        setting = {}
        for field in family_of(self.kit).set_by(self.kit):
            names = [f"{side}_{field.name}" for side in self.sides]
            for name in names:
                self._held(name, field.name, field.kind, data.get(name))
            told = [data.get(name) for name in names]
            if any(v is not None for v in told):
                setting[field.name] = told if len(told) > 1 else told * 2
            if (why := family_of(self.kit).alike(self.kit)) and None not in told and told[0] != told[-1]:
                self.add_error(names[-1], why)
            for name, value in zip(names, told, strict=True):
                if data.get("done") and value is None and name not in self.errors:
                    self.add_error(
                        name, "Not read yet: a setting is done when it is entered, on both sides where there are two."
                    )
        self.setting = setting
        return data

    def _held(self, name: str, what: str, kind: str, value: float | None) -> None:
        span = family_of(self.kit).spans(self.kit).get(what)
        if value is None or span is None:
            return
        if value > span.high * (1.0 + 1e-9):
            self.add_error(name, f"Over the kit's maximum of {show(kind, span.high, self.units)}.")
        if value < span.low * (1.0 - 1e-9):
            said = f"Under the kit's minimum of {show(kind, span.low, self.units)}."
            self.add_error(name, f"{said[:-1]}: the bag could pinch." if family_of(self.kit).sealed else said)

    def save(self, commit: bool = True) -> Fitting:
        """Bring the setting into the record; what is set by nothing on this form stays."""
        fields = {field.name for field in family_of(self.kit).set_by(self.kit)}
        kept = {name: pair for name, pair in self.instance.setting.items() if name not in fields}
        self.instance.setting = kept | self.setting
        data, person = self.cleaned_data, getattr(self, "person", None)
        made = {"gauge": data.get("gauge") or "", "kelvin": data.get("kelvin"), "by": str(person or "")[:120]}
        self.instance.as_set = made | {"at": timezone.now().isoformat(timespec="seconds")} if self.instance.done else {}
        found: Fitting = super().save(commit)
        return found
