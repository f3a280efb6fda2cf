"""Forms that know what the person had before them: two windows never overwrite one another without a word.

Every such form carries, hidden, what it showed of the stored record. What comes back untouched is left as it now stands;
what was changed here and meanwhile elsewhere too is a conflict, said beside its field, with the typed text kept.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from typing import Any, TypeVar

from django import forms
from django.db.models import Model
from django.http import QueryDict
from django.utils.functional import cached_property
from django.utils.html import format_html
from django.utils.safestring import SafeString
from pydantic import ValidationError as NotHeld

from vantok.people.models import User
from vantok.people.rights import RIGHTS, may
from vantok_core.base.check import first_fault, in_words
from vantok_core.base.errors import InputError

Shown = str | list[str]
STAMP = "shown"
"""The hidden field of what a page without such a form showed: a digest of it (`{% shown value %}`)."""


def stamp_of(value: Any) -> str:
    """Return a digest of what a page shows."""
    return hashlib.sha256(json.dumps(value, sort_keys=True, default=str).encode()).hexdigest()[:16]


def hold_to_shown(told: QueryDict, now: Any, what: str) -> None:
    """Raise StaleError where something is not what the page showed any more; a post that does not say what it showed is held to nothing but that."""
    if told.get(STAMP, "") != stamp_of(now):
        raise StaleError(what)


class StaleError(InputError):
    """What was shown was changed meanwhile; `what` names it."""

    def __init__(self, what: str) -> None:
        super().__init__(what, "this", "it changed since the page was shown")
        self.args = (
            f"{what[:1].upper()}{what[1:]} changed since this page was shown. Nothing was stored: look at it as it stands now, and say it again.",
        )


def _shown(value: Any) -> Shown:
    """Return what a field shows or sends as text, alike both ways."""
    if isinstance(value, (list, tuple)):
        return sorted(str(v) for v in value)
    if value is None or value is False:
        return ""
    return "on" if value is True else str(value).replace("\r\n", "\n").strip()


BOUNDS = {
    "min_value": ("greater_than_equal", "ge"),
    "max_value": ("less_than_equal", "le"),
    "min_length": ("string_too_short", "min_length"),
    "max_length": ("string_too_long", "max_length"),
}
"""What the framework calls a bound, and what the facts do."""
LONG = 40
"""So much of what was typed is said again."""


class WordedMixin(forms.BaseForm):
    """Says every bound in the facts' words, with what was typed and the bound as its field shows figures: in the reader's units."""

    def add_error(self, field: str | None, error: Any) -> None:
        """Take an error, whoever found it: the form's field, the record, or the facts."""
        if isinstance(error, forms.ValidationError):
            told = getattr(error, "error_dict", None) or {field or "": error.error_list}
            for name, one in ((name, one) for name, found in told.items() for one in found):
                if name in self.fields and one.code in BOUNDS and one.params:
                    kind, bound = BOUNDS[one.code]
                    said = self.beyond(name, {"type": kind, "ctx": {bound: one.params["limit_value"]}})
                    one.message, one.params = said, None
        super().add_error(field, error)

    def beyond(self, name: str, fault: Mapping[str, Any]) -> str:
        """Return what is wrong with a field's value; bounds in `ctx`: SI."""
        field = self.fields[name]
        said = getattr(field, "said", lambda value: value)
        bounds = {k: said(v) if isinstance(v, (int, float)) else v for k, v in fault.get("ctx", {}).items()}
        typed = str(field.widget.value_from_datadict(self.data, self.files, self.add_prefix(name)))
        typed = typed if len(typed) <= LONG else f"{typed[:LONG]}…"
        return f"“{typed}” {in_words({**fault, 'ctx': bounds})}."


class SeenMixin(WordedMixin):
    """Brings what was typed together with what stands now, field by field. `touched`: what the person changed."""

    guards: Mapping[str, str] = {}
    """Fields that take a right of their own to change."""
    person: User | None = None
    """Who fills it in; without one, guarded fields stay as they are."""
    touched: frozenset[str]
    met: frozenset[str]
    """Fields changed here and elsewhere."""

    def settle(self) -> None:
        """Prepare the fields and take what comes in; called once at the end of a form's own making."""
        for field in self.fields.values():
            if (
                getattr(field.widget, "input_type", "") == "number"
            ):  # a browser empties such a field in silence over a unit or a comma
                field.widget.__class__, field.widget.input_type = forms.TextInput, "text"
                field.widget.attrs |= {"inputmode": "decimal", "autocomplete": "off"}
                for name in ("min", "max", "step"):
                    field.widget.attrs.pop(name, None)
        self.stored = {name: self._stored(name) for name in self.fields}
        self.touched = self.met = frozenset()
        if not self.is_bound:
            return
        seen = self._seen()
        typed = {name: self._typed(name) for name in self.fields}
        touched, met, data = set[str](), set[str](), QueryDict(mutable=True)
        data.update(self.data)
        for name, now in self.stored.items():
            before = seen.get(name, now)
            if typed[name] in (before, now) or self._left_out(name) or self._reads(name, typed[name]) == now:
                self._put(data, name, now)
                continue
            touched.add(name)
            if now not in (before, self._reads(name, before)):
                met.add(name)
        self.data, self.touched, self.met = data, frozenset(touched), frozenset(met)

    def _stored(self, name: str) -> Shown:
        field = self.fields[name]
        value = field.prepare_value(self.get_initial_for_field(field, name))
        if isinstance(field.widget, (forms.CheckboxInput, forms.SelectMultiple)) or isinstance(value, (list, tuple)):
            return _shown(value)
        return _shown(field.widget.format_value(value) if not isinstance(field.widget, forms.Select) else value)

    def _typed(self, name: str) -> Shown:
        field = self.fields[name]
        return _shown(field.widget.value_from_datadict(self.data, self.files, self.add_prefix(name)))

    def _reads(self, name: str, text: Shown) -> Shown:
        """Return how a typed text would be shown once stored (0.21 t as 210); one that cannot be stored reads as itself."""
        field = self.fields[name]
        if not isinstance(text, str) or not text:
            return text
        try:
            return _shown(field.prepare_value(field.clean(text)))
        except forms.ValidationError:
            return text

    def _left_out(self, name: str) -> bool:
        """Tell whether nothing at all was sent for a field: that clears nothing."""
        return bool(self.fields[name].widget.value_omitted_from_data(self.data, self.files, self.add_prefix(name)))

    def _put(self, data: Any, name: str, value: Shown) -> None:
        """Put what stands into the data in place of what was sent back untouched."""
        key = self.add_prefix(name)
        if isinstance(value, list):
            data.setlist(key, value)
        elif value or not isinstance(self.fields[name].widget, forms.CheckboxInput):
            data[key] = value
        else:
            data.pop(key, None)

    @property
    def seen_name(self) -> str:
        """The hidden field's name."""
        return f"{self.prefix}-seen" if self.prefix else "seen"

    def _seen(self) -> dict[str, Shown]:
        """Return what the person had before them; a text that is none of ours says nothing."""
        text = self.data.get(self.seen_name, "")
        try:
            told = json.loads(text) if text and len(text) < 200_000 else {}
        except (ValueError, RecursionError):
            return {}
        return {k: _shown(v) for k, v in told.items() if isinstance(v, (str, list))} if isinstance(told, dict) else {}

    @cached_property
    def seen_input(self) -> SafeString:
        """The hidden field with what this form shows of what is stored now."""
        return format_html('<input type="hidden" name="{}" value="{}">', self.seen_name, json.dumps(self.stored))

    def full_clean(self) -> None:
        """Clean, keep what was left untouched to the last digit, and say where somebody else wrote meanwhile."""
        super().full_clean()
        if not self.is_bound or not hasattr(self, "cleaned_data"):
            return
        for name in self.touched & self.guards.keys():
            if self.person is None or not may(self.person, self.guards[name]):
                self.add_error(
                    name,
                    f"{RIGHTS[self.guards[name]].words.capitalize()} is not for a {self.person.rank if self.person else 'stranger'}.",
                )
        who = self.changed_by() if self.met else ""
        for name in self.met:
            if name in self.fields:
                now = self.stored[name]
                words = ", ".join(now) if isinstance(now, list) else now
                self.add_error(
                    name, f"{who} wrote {words or 'nothing'} here meanwhile. Save again to put yours in its place."
                )

    def refuse(self, error: NotHeld) -> None:
        """Say what the core does not hold at the fields it came from: what was typed, and the bound as its field shows figures."""
        for fault in error.errors():
            name = next((str(part) for part in reversed(fault["loc"]) if str(part) in self.fields), None)
            if name is None:
                self.add_error(None, first_fault(error))
                continue
            self.add_error(name, self.beyond(name, dict(fault)))

    def changed_by(self) -> str:
        """Return who changed the record last, as far as its history tells."""
        history = getattr(getattr(self, "instance", None), "history", None)
        last = history.first() if history is not None else None
        return str(getattr(last, "history_user", None) or "Somebody else")


class SeenForm(SeenMixin, forms.Form):
    """A plain form of that kind; what it shows comes as its initial figures."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.settle()

    def _clean_fields(self) -> None:
        """Leave a figure that was not touched as it is stored, to the last digit: it is shown rounded."""
        super()._clean_fields()  # type: ignore[misc] # Django's own step
        for name, field in self.fields.items():
            if name in self.touched or not getattr(field, "rounded", False) or name not in self.cleaned_data:
                continue
            stored = self.get_initial_for_field(field, name)
            if (
                isinstance(stored, (int, float))
                and self.cleaned_data[name] is not None
                and not hasattr(self, f"clean_{name}")
            ):
                self.cleaned_data[name] = stored


Stored = TypeVar("Stored", bound=Model)


class SeenModelForm(SeenMixin, forms.ModelForm[Stored]):
    """A model form of that kind. A class that changes its fields after this calls `settle` again itself."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.settle()

    def _clean_form(self) -> None:
        """Leave untouched fields as stored, to the last digit, before anything is written into the record."""
        super()._clean_form()  # type: ignore[misc] # Django's own step between its fields and its record
        if not self.instance.pk:
            return
        for name in self.cleaned_data.keys() - self.touched:
            if name in (self._meta.fields or ()):
                self.cleaned_data[name] = getattr(self.instance, name)
