"""Columns of declared facts: each takes its words and its bounds from where the fact is declared."""

from __future__ import annotations

from typing import Any

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from pydantic import BaseModel

from vantok_core.facts.declared import bounds, declared


def figure(model: type[BaseModel], name: str, **column: Any) -> models.FloatField[Any, Any]:
    """Return the column of a figure, unknown unless it has a default."""
    return models.FloatField(_words(model, name, column), **_held(model, name), **_unknown(column))


def count(model: type[BaseModel], name: str, **column: Any) -> models.PositiveSmallIntegerField[Any, Any]:
    """Return the column of a whole number, unknown unless it has a default."""
    return models.PositiveSmallIntegerField(_words(model, name, column), **_held(model, name, int), **_unknown(column))


def _words(model: type[BaseModel], name: str, column: dict[str, Any]) -> str:
    return str(column.pop("words", "") or declared(model)[name].words)


def _unknown(column: dict[str, Any]) -> dict[str, Any]:
    return {"null": True, "blank": True} | column if column.get("default") is None else column


def _held(model: type[BaseModel], name: str, kind: type[float] | type[int] = float) -> dict[str, Any]:
    low, high = bounds(model, name)
    found = [MinValueValidator(kind(low))] if low is not None else []
    return {"validators": [*found, *([MaxValueValidator(kind(high))] if high is not None else [])]}
