"""What is told of a fact where it is declared: its words, its kind of figure, who may say it, on which page. Forms, rights, history, file and "mend it there"
follow from that; a fact that declares nothing is nobody's to change.

>>> from vantok_core.facts.vehicle import JobVehicle
>>> declared(JobVehicle)["gross_kg"].right
'rate'
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from types import UnionType
from typing import Annotated, Any, Union, get_args, get_origin

from annotated_types import Ge, Gt, Le
from pydantic import BaseModel, TypeAdapter, ValidationError

from vantok_core.base.units import Kind


@dataclass(frozen=True, slots=True)
class Of:
    """What a figure is of: its kind (see `base.units`); si: what makes it that kind's SI figure, where it is held otherwise (km/h); low, high: what is typed
    beyond them was a slip, though a file may hold it (its own bounds are wider)."""

    kind: Kind
    si: float = 1.0
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True, slots=True)
class Told:
    """A fact's words; right: what it takes to say it; page: where it is asked; part: it has facts of its own, each with a right of its own."""

    words: str
    right: str = "measure"
    page: str = "vehicle"
    part: bool = False


@cache
def declared(model: type[BaseModel]) -> Mapping[str, Told]:
    """Return what is declared of a model's fields, by name; those that declare nothing are left out."""
    return {name: one for name, field in model.model_fields.items() for one in field.metadata if isinstance(one, Told)}


@cache
def figures(model: type[BaseModel]) -> Mapping[str, Of]:
    """Return what each figure of a model is of, by its field's name: declared with the field, else with the kind of figure it is."""
    found = {name: _of(field.annotation, field.metadata) for name, field in model.model_fields.items()}
    return {name: one for name, one in found.items() if one is not None}


def _of(kind: Any, metadata: Sequence[Any] = ()) -> Of | None:
    told = [one for one in (*metadata, *getattr(kind, "__metadata__", ())) if isinstance(one, Of)]
    return told[-1] if told else next((one for one in map(_of, get_args(kind)) if one is not None), None)


def bounds(model: type[BaseModel], name: str) -> tuple[float | None, float | None]:
    """Return the least and the most that is typed of a figure, as the facts hold it; None where nothing bounds it."""
    field = model.model_fields[name]
    low, high = _bounds(field.annotation, field.metadata)
    of = figures(model).get(name)
    return (low, high) if of is None else (low if of.low is None else of.low, high if of.high is None else of.high)


def _bounds(kind: Any, metadata: Sequence[Any]) -> tuple[float | None, float | None]:
    told = [
        one for given in (*metadata, *getattr(kind, "__metadata__", ())) for one in getattr(given, "metadata", [given])
    ]
    low = [one.ge if isinstance(one, Ge) else one.gt for one in told if isinstance(one, (Ge, Gt))]
    high = [one.le for one in told if isinstance(one, Le)]
    if low or high:
        return (float(low[0]) if low else None, float(high[0]) if high else None)  # type: ignore[arg-type]
    return next(
        (found for found in (_bounds(part, ()) for part in get_args(kind)) if found != (None, None)), (None, None)
    )


def signed(model: type[BaseModel], name: str) -> bool:
    """Tell whether a figure may lie below nought, by its own bounds."""
    kind: Any = model.model_fields[name].annotation
    try:
        TypeAdapter(kind).validate_python(-0.5)
    except ValidationError:
        return False
    return True


def made_of(model: type[BaseModel], name: str) -> tuple[type[BaseModel] | None, bool]:
    """Return the form that a fact is made of, None for a plain one; and whether it holds several."""
    kind: Any = model.model_fields[name].annotation
    if get_origin(kind) in (Union, UnionType):
        kind = next(one for one in get_args(kind) if one is not type(None))
    many = get_origin(kind) is tuple and get_args(kind)[-1] is Ellipsis
    if many:
        kind = get_args(kind)[0]
    return (kind if isinstance(kind, type) and issubclass(kind, BaseModel) else None), many


def fault(model: type[BaseModel], name: str, value: Any) -> Mapping[str, Any] | None:
    """Return what is wrong with a fact's value by its own bounds, as `base.check.in_words` takes it; None where nothing is. value: SI."""
    kind: Any = model.model_fields[name]
    try:
        TypeAdapter(Annotated[kind.annotation, kind]).validate_python(value)
    except ValidationError as error:
        return error.errors()[0]
    return None
