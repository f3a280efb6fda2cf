"""Data from outside against a pydantic form: checked field by field, every fault with its place; nothing passes unseen."""

from __future__ import annotations

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
        raise FileFormatError(f"{place}.{path}" if path else place, f"{first['msg']}{tail}") from error


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
                faults.append(Fault(place, error.errors()[0]["msg"].removeprefix("Value error, ")))
                needed = {n: left[n] for n, f in kind.model_fields.items() if f.is_required() and n in left}
                if needed == left:
                    return None, faults
                left = needed
                continue
            if not named.keys() <= left.keys():
                return None, faults or [Fault(f"{place}.{name}", "is missing") for name in named]
            for name, e in named.items():
                faults.append(Fault(f"{place}.{name}", e["msg"].removeprefix("Value error, ")))
                del left[name]
    return None, faults
