"""What is told of a fact where it is declared: its words, its kind of figure, who may say it, on which page. Forms, rights, history, file and "mend it there"
follow from that; a fact that declares nothing is nobody's to change.

>>> from vantok_core.facts.vehicle import JobVehicle
>>> declared(JobVehicle)["gross_kg"].right
'rate'
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from types import UnionType
from typing import Annotated, Any, Union, get_args, get_origin

from pydantic import BaseModel, TypeAdapter, ValidationError


@dataclass(frozen=True, slots=True)
class Told:
    """A fact's words; kind: of figure (see `base.units`), empty for what is none; right: what it takes to say it; page: where it is asked;
    part: it has facts of its own, each with a right of its own."""

    words: str
    kind: str = ""
    right: str = "measure"
    page: str = "vehicle"
    part: bool = False


@cache
def declared(model: type[BaseModel]) -> Mapping[str, Told]:
    """Return what is declared of a model's fields, by name; those that declare nothing are left out."""
    return {name: one for name, field in model.model_fields.items() for one in field.metadata if isinstance(one, Told)}


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
