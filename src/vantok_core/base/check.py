"""Data from outside against a pydantic form: checked field by field, every fault with its place; nothing passes unseen."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from vantok_core.base.errors import FileFormatError


class Form(BaseModel):
    """Base of all forms: an unknown field is an error, not a silent loss."""

    model_config = ConfigDict(extra="forbid", frozen=True)


FormType = TypeVar("FormType", bound=BaseModel)


def read_form(kind: type[FormType], data: object, place: str) -> FormType:
    """Return the checked form. Raises FileFormatError naming the first faulty field and its place."""
    try:
        return kind.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        path = ".".join(str(part) for part in first["loc"])
        more = len(error.errors()) - 1
        tail = f" (and {more} more)" if more else ""
        raise FileFormatError(f"{place}.{path}" if path else place, f"{in_words(first)}{tail}") from error


SAID: dict[str, str] = {
    "missing": "is missing",
    "extra_forbidden": "is nothing this program knows",
    "finite_number": "is no figure",
    "none_required": "takes nothing",
    **dict.fromkeys(("float_parsing", "float_type"), "is no figure"),
    **dict.fromkeys(("int_parsing", "int_type", "int_from_float"), "is no whole figure"),
    **dict.fromkeys(("bool_parsing", "bool_type"), "is neither true nor false"),
    "string_type": "is no text",
    "tuple_type": "takes a list of figures",
    "list_type": "takes a list",
    **dict.fromkeys(("dict_type", "model_type", "model_attributes_type"), "takes several things by name"),
    "string_pattern_mismatch": "has characters that it may not have, or none",
    "recursion_loop": "goes round in a ring",
    **dict.fromkeys(("datetime_parsing", "datetime_from_date_parsing"), "is no date and time"),
}
"""What the form's own kinds of fault come to in words."""


def in_words(fault: Mapping[str, Any]) -> str:
    """Return a fault that the form found, in words of this program's own."""
    kind, told = fault["type"], fault.get("ctx", {})
    if kind == "value_error":
        return str(fault["msg"]).removeprefix("Value error, ")
    for name, words in (
        ("ge", "is under {}"),
        ("gt", "must be over {}"),
        ("le", "is over {}"),
        ("lt", "must be under {}"),
    ):
        if name in told:
            return words.format(_plain(told[name]))
    for name, words in (
        ("min_length", "has too little in it: {} at least"),
        ("max_length", "has too much in it: {} at most"),
    ):
        if name in told and kind.startswith(("string_too", "too_")):
            return words.format(told[name])
    if kind in ("literal_error", "enum"):
        return f"is none of: {str(told.get('expected', '')).replace(chr(39), '')}"
    return SAID.get(kind, "cannot be read")


def _plain(value: Any) -> str:
    return f"{value:g}" if isinstance(value, (int, float)) else str(value)


def first_fault(error: ValidationError) -> str:
    """Return what a form found wrong first, for whoever sees no field of it: the form's own words where it has some, else that it cannot be."""
    first = error.errors()[0]
    return f"{in_words(first).rstrip('.')}." if first["type"] == "value_error" else BEYOND


BEYOND = "Something that was sent lies beyond what can be. Nothing of it was stored."


@dataclass(frozen=True, slots=True)
class Fault:
    """A figure that cannot be, with its place (like `states.loaded.rear_kg`) and what is wrong with it."""

    place: str
    what: str


def read_what_holds(kind: type[FormType], data: dict[str, Any], place: str) -> tuple[FormType | None, list[Fault]]:
    """Return the form of whatever in `data` can be, and the faults of what cannot and was left out as unknown.

    None where what remains makes no form at all. For records that are there already and must be shown whatever they hold.
    """
    left, faults = dict(data), list[Fault]()
    for _ in range(len(data) + 2):
        try:
            return kind.model_validate(left), faults
        except ValidationError as error:
            named = {str(e["loc"][0]): e for e in error.errors() if e["loc"]}
            if not named:  # parts that contradict one another: only what the form cannot do without is kept
                faults.append(Fault(place, in_words(error.errors()[0])))
                needed = {n: left[n] for n, f in kind.model_fields.items() if f.is_required() and n in left}
                if needed == left:
                    return None, faults
                left = needed
                continue
            if not named.keys() <= left.keys():
                return None, faults or [Fault(f"{place}.{name}", "is missing") for name in named]
            for name, e in named.items():
                faults.append(Fault(f"{place}.{name}", in_words(e)))
                del left[name]
    return None, faults
