"""A kit that was on when it came: what it is and how it was set, as it is told and looked at."""

from __future__ import annotations

from typing import Any

from django import forms
from django.core.exceptions import ValidationError

from vantok.desk.readings import stamp_settings
from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import KitRecord, offered_kits
from vantok_core.base.errors import UnitError
from vantok_core.base.units import figure, parse
from vantok_core.facts import AlreadyOn, Kit
from vantok_core.kits.family import SettingField
from vantok_core.kits.registry import family_of

TOLD = ("kit", "on", "condition", "found_left", "found_right")
"""What is told of a kit, beside what it is."""
CONDITIONS = (("", "not looked at"), ("sound", "sound"), ("worn", "worn"), ("perished", "perished, or leaking"))


class AlreadyForm(UnitsForm):
    """What was on, from the shelf or of unknown make; with a shelf kit, the setting it was read at and that it was let down to."""

    what = forms.CharField(label="What is on already", max_length=120, required=False)
    kit = forms.ChoiceField(label="Make", required=False)
    condition = forms.ChoiceField(label="Its condition", choices=CONDITIONS, required=False)
    on = forms.CharField(label="Set at, as it came", max_length=40, required=False)
    off = forms.CharField(label="Let down to (empty: taken off)", max_length=40, required=False)
    found_left = QuantityField("pressure", label="Air springs: pressure found, left")
    found_right = QuantityField("pressure", label="Pressure found, right")

    def __init__(self, *args: Any, record: Job, **kwargs: Any) -> None:
        self.told = AlreadyOn.model_validate(record.already) if record.already else None
        super().__init__(*args, initial=self._initial(kwargs.get("units", "metric")), **kwargs)

    def settle(self) -> None:
        """Offer the shelf's kits, and the one told if it is there no more."""
        known = {kit.code: kit.name for kit in offered_kits()}
        if self.told is not None and self.told.kit is not None:
            known.setdefault(self.told.kit.code, self.told.kit.name)
        self.fields["kit"].choices = [("", "unknown make"), *known.items()]  # type: ignore[attr-defined]
        for name, field in self.fields.items():
            field.widget.attrs["class"] = "form-select" if name in ("kit", "condition") else "form-control"
        super().settle()

    def _initial(self, units: Any) -> dict[str, Any]:
        told = self.told
        if told is None:
            return {}
        found: dict[str, Any] = {"what": told.what, "condition": told.condition}
        if told.found_pa is not None:
            found["found_left"], found["found_right"] = told.found_pa
        if told.kit is not None:
            field = _field(told.kit)
            found["kit"] = told.kit.code
            for name, setting in (("on", told.setting), ("off", told.off)):
                if field is not None and field.name in setting:
                    found[name] = figure(field.kind, setting[field.name][0], units)
        return found

    def clean(self) -> dict[str, Any]:
        """Read both settings by the kit's own kind; refuse a pair at one setting."""
        data = super().clean() or self.cleaned_data
        kit = self._kit(data.get("kit", ""))
        on, off = (self._setting(name, data.get(name) or "", kit) for name in ("on", "off"))
        what = data.get("what")
        found = data.get("found_left"), data.get("found_right")
        if (found[0] is None) != (found[1] is None):
            self.add_error("found_right", "Read both sides, or neither: one pressure alone tells of no difference.")
        if any(data.get(name) not in (None, "") for name in TOLD) and not what:
            self.add_error("what", "Say what is on: helper springs, air bags, an insert.")
        if on and on == off:
            self.add_error("off", "On and off are one setting: a pair read at one setting tells nothing.")
        if not self.errors:
            both = None if found[0] is None else found
            told = {"kit": kit, "setting": on, "off": off, "condition": data["condition"], "found_pa": both}
            self.found = AlreadyOn.model_validate({"what": what, **told}).model_dump(mode="json") if what else {}
        return data

    def _setting(self, name: str, text: str, kit: Kit | None) -> dict[str, tuple[float, float]]:
        """Return a setting as typed, alike left and right; nothing where none was typed or it does not read, which is said."""
        field = _field(kit) if kit is not None else None
        if not text.strip():
            return {}
        if field is None:
            self.add_error(name, "Of a kit of unknown make no setting can be judged: leave it empty.")
            return {}
        try:
            value = parse(field.kind, text, self.units).value
        except UnitError as error:
            self.add_error(name, str(error))
            return {}
        return {field.name: (value, value)}

    def _kit(self, code: str) -> Kit | None:
        if not code:
            return None
        if self.told is not None and self.told.kit is not None and self.told.kit.code == code:
            return self.told.kit
        record = KitRecord.objects.filter(code=code).first()
        if record is None:
            raise ValidationError("That kit is not on the shelf any more.")
        return record.to_core()


def _field(kit: Kit) -> SettingField | None:
    """Return what a kit is set by, first of all; None for one that is set by nothing."""
    fields = family_of(kit).settings
    return fields[0] if fields else None


def save_already(record: Job, form: AlreadyForm) -> None:
    """Store what was on; what was read of it stays with the setting it was read at."""
    stamp_settings(record)
    record.already = form.found
    record.save()
