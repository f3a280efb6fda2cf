"""Form fields that read quantities as people write them, in the reader's units."""

from __future__ import annotations

from typing import Any

from django import forms
from django.core.exceptions import ValidationError
from django.forms.utils import flatatt
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from vantok.fields.seen import SeenForm, SeenModelForm, Stored
from vantok_core.base.errors import UnitError
from vantok_core.base.units import System, figure, parse, show, unit_name


class QuickText(forms.TextInput):
    """A text field written straight out: a page has dozens, and a template for each would take most of its time."""

    def render(self, name: str, value: Any, attrs: Any = None, renderer: Any = None) -> SafeString:
        """Return the input."""
        told = self.build_attrs(self.attrs, attrs) | {"type": self.input_type, "name": name}
        shown = self.format_value(value)
        if shown is not None:
            told["value"] = shown
        return format_html("<input{}>", flatatt(told))


class QuickSelect(forms.Select):
    """A choice written straight out."""

    def render(self, name: str, value: Any, attrs: Any = None, renderer: Any = None) -> SafeString:
        """Return the select with its options."""
        chosen = "" if value is None else str(value)
        options = format_html_join(
            "",
            "<option{}>{}</option>",
            ((flatatt({"value": str(k), "selected": str(k) == chosen}), words) for k, words in self.choices),
        )
        return format_html(
            "<select{}>{}</select>", flatatt(self.build_attrs(self.attrs, attrs) | {"name": name}), options
        )


QUICK: dict[type[forms.Widget], type[forms.Widget]] = {forms.TextInput: QuickText, forms.Select: QuickSelect}


def quicken(field: forms.Field) -> None:
    """Give a field's plain widget its quick form."""
    quick = QUICK.get(type(field.widget))
    if quick is not None:
        field.widget.__class__ = quick


class QuantityField(forms.CharField):
    """Text to SI and back: `29 1/2`, `75 cm`, `1200 lb`; empty is unknown (None), never nought."""

    widget = QuickText
    rounded = True

    def __init__(self, kind: str, *, negative: bool = False, **kwargs: Any) -> None:
        self.kind, self.negative = kind, negative
        self.system: System = "metric"
        kwargs.setdefault("required", False)
        kwargs.setdefault("max_length", 40)
        super().__init__(**kwargs)
        self.widget.attrs |= {
            "class": "form-control tape",
            "autocomplete": "off",
            "inputmode": "decimal",
            "data-kind": kind,
        }

    def use(self, system: System) -> None:
        """Take the reader's unit system."""
        self.system = system
        self.widget.attrs["data-unit"] = unit_name(self.kind, system)

    def prepare_value(self, value: Any) -> Any:
        """Show a stored SI value as the reader reads it; keep typed text as typed."""
        return figure(self.kind, value, self.system).replace("−", "-") if isinstance(value, (int, float)) else value

    def said(self, value: float) -> str:
        """Return a bound (SI) as the reader has it, with its unit."""
        return show(self.kind, value, self.system)

    def clean(self, value: Any) -> float | None:
        """Return SI, or None when empty."""
        text = super().clean(value)
        if not text:
            return None
        sign = -1.0 if self.negative and text.strip().startswith(("-", "−")) else 1.0
        body = text.strip().lstrip("-−") if self.negative else text
        try:
            found = parse(self.kind, body, self.system).value
        except UnitError as error:
            raise ValidationError(str(error)) from error
        if found < 0.0:
            raise ValidationError(f"“{text}” is below nought; this must be a positive figure.")
        return sign * found

    def has_changed(self, initial: Any, data: Any) -> bool:
        """Take a text that shows the stored value as no change, so that showing never rounds what was stored."""
        return str(self.prepare_value(initial) if initial is not None else "") != str(data or "")


class UnitsForm(SeenForm):
    """A plain form whose quantities are read in the reader's units."""

    def __init__(self, *args: Any, units: System = "metric", **kwargs: Any) -> None:
        self.units: System = units
        super().__init__(*args, **kwargs)

    def settle(self) -> None:
        """Take the reader's units before anything is shown or read."""
        for field in self.fields.values():
            if isinstance(field, QuantityField):
                field.use(self.units)
        super().settle()


class QuantityForm(SeenModelForm[Stored]):
    """A model form whose `quantities` (field name to kind) are read in the reader's units."""

    quantities: dict[str, str] = {}
    may_be_negative: tuple[str, ...] = ()

    def __init__(self, *args: Any, units: System = "metric", **kwargs: Any) -> None:
        self.units: System = units
        super().__init__(*args, **kwargs)

    def settle(self) -> None:
        """Give quantities their fields in the reader's units before anything is shown or read."""
        for name, kind in self.quantities.items():
            old = self.fields[name]
            field = QuantityField(
                kind,
                negative=name in self.may_be_negative,
                label=old.label,
                help_text=old.help_text,
                required=old.required,
            )
            field.use(self.units)
            self.fields[name] = field
        for shown in self.fields.values():
            self._dress(shown)
        super().settle()

    @staticmethod
    def _dress(field: forms.Field) -> None:
        """Give a field its look by its kind of widget."""
        if isinstance(field.widget, forms.Select):
            look = "form-select"
        elif isinstance(field.widget, (forms.CheckboxInput, forms.CheckboxSelectMultiple)):
            look = "form-check-input"
        else:
            look = "form-control"
        field.widget.attrs.setdefault("class", look)
        quicken(field)

    def clean(self) -> dict[str, Any]:
        """Return what was read."""
        return super().clean() or self.cleaned_data
