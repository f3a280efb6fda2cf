"""A load plan as CSV: one row an item, a tank, a row of people or something on the trailer; all SI, checked before any is taken."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from io import StringIO
from typing import Any

from pydantic import ValidationError

from vantok_core.base.check import in_words
from vantok_core.base.errors import FileFormatError
from vantok_core.facts import MOST_ITEMS, Facts, JobState, LoadItem, People, Tank, TrailerItem

COLUMNS = (
    "kind",
    "name",
    "mass_kg",
    "count",
    "capacity_l",
    "fill",
    "kg_per_l",
    "station_m",
    "lateral_m",
    "height_m",
    "movable",
)
MODELS: dict[str, tuple[type[Facts], tuple[str, ...]]] = {
    "item": (LoadItem, ("name", "mass_kg", "station_m", "lateral_m", "height_m", "movable")),
    "tank": (Tank, ("name", "capacity_l", "fill", "kg_per_l", "station_m", "lateral_m")),
    "people": (People, ("count", "mass_kg", "station_m", "lateral_m")),
    "trailer": (TrailerItem, ("name", "mass_kg", "station_m")),
}
"""What each kind of row becomes, and which columns it uses; a trailer's station is counted from the ball."""
MOST_FAULTS = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """Everything a plan carries."""

    items: tuple[LoadItem, ...] = ()
    tanks: tuple[Tank, ...] = ()
    people: tuple[People, ...] = ()
    trailer_items: tuple[TrailerItem, ...] = ()


def write_plan(state: JobState) -> str:
    """Return a state's plan as CSV text."""
    out = StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\r\n")
    writer.writeheader()
    for kind, rows in (("item", state.items), ("tank", state.tanks), ("people", state.people)):
        writer.writerows(as_text(_row(kind, row)) for row in rows)
    for item in state.trailer_items:
        row = {"kind": "trailer", "name": item.name, "mass_kg": item.mass_kg, "station_m": item.behind_ball_m}
        writer.writerow(as_text(row))
    return out.getvalue()


def _row(kind: str, facts: Facts) -> dict[str, Any]:
    told = facts.model_dump(exclude_none=True)
    return {"kind": kind} | {name: told[name] for name in COLUMNS if name in told}


def read_plan(text: str) -> Plan:
    """Return the plan of a CSV text.

    Raises FileFormatError naming line and column of each fault (the first five): an unknown column or kind, a figure that
    does not read, an overfilled tank, a column that the kind of row needs.
    """
    rows, faults = read_rows(text, COLUMNS, ("kind", "station_m"), most=MOST_ITEMS)
    found: dict[str, list[Any]] = {kind: [] for kind in MODELS}
    for line, row in rows:
        kind = row.get("kind", "").strip().lower()
        if kind not in MODELS:
            faults.append((f"line {line}, kind", f"“{kind}” is none of {', '.join(MODELS)}"))
            continue
        model, names = MODELS[kind]
        told = {
            n: row[n].strip().replace(",", ".") if n != "name" else row[n].strip()
            for n in names
            if row.get(n, "").strip()
        }
        if kind == "trailer" and "station_m" in told:
            told["behind_ball_m"] = told.pop("station_m")
        try:
            found[kind].append(model.model_validate(told))
        except ValidationError as error:
            faults += [(f"line {line}, {e['loc'][0] if e['loc'] else kind}", plainly(dict(e))) for e in error.errors()]
    refuse(faults)
    return Plan(
        items=tuple(found["item"]),
        tanks=tuple(found["tank"]),
        people=tuple(found["people"]),
        trailer_items=tuple(found["trailer"]),
    )


def plainly(error: dict[str, Any]) -> str:
    """Return one of pydantic's faults in plain words."""
    return "is missing" if error["type"] == "missing" else f"{in_words(error)} (found “{error['input']}”)"


FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the beginning of a formula."""


def as_text(row: Mapping[str, Any]) -> dict[str, Any]:
    """Return a row whose texts a spreadsheet takes as texts: one that begins like a formula has an apostrophe put before it."""
    return {k: f"'{v}" if isinstance(v, str) and v.lstrip("'").startswith(FORMULA) else v for k, v in row.items()}


def plain_text(value: str) -> str:
    """Return a cell without the apostrophe that `as_text` put before it."""
    return value[1:] if value.startswith("'") and value.lstrip("'").startswith(FORMULA) else value


def read_rows(
    text: str, columns: Iterable[str], needed: Iterable[str], *, most: int
) -> tuple[list[tuple[int, dict[str, str]]], list[tuple[str, str]]]:
    """Return the rows of a CSV text with their line numbers, and what is wrong with its head (place, what).

    Raises FileFormatError for a file of more than `most` lines.
    """
    if text.count("\n") > most + 1:
        raise FileFormatError("file", f"it has more than {most} lines")
    reader = csv.DictReader(StringIO(text.lstrip("\ufeff")), restkey="", strict=True)
    faults: list[tuple[str, str]] = []
    rows: list[tuple[int, dict[str, str]]] = []
    try:
        head = [h.strip() for h in reader.fieldnames or ()]
        reader.fieldnames = head
        faults += _head_faults(head, tuple(columns), needed)
        for row in reader:
            if "" in row:
                faults.append((f"line {reader.line_num}", "it has more fields than the head"))
            elif any(value and value.strip() for value in row.values()):
                rows.append((reader.line_num, {k: plain_text(v or "") for k, v in row.items()}))
    except csv.Error as error:
        faults.append((f"line {reader.line_num}", f"this is not CSV: {error}"))
    return rows, faults


def _head_faults(head: list[str], columns: tuple[str, ...], needed: Iterable[str]) -> list[tuple[str, str]]:
    lacking = [("line 1", f"there is no column “{name}”") for name in needed if name not in head]
    known = ", ".join(columns)
    return lacking + [
        ("line 1", f"column “{name}” is not known; known are {known}") for name in head if name not in columns
    ]


def refuse(faults: list[tuple[str, str]]) -> None:
    """Raise FileFormatError for the faults found, the first five of them named with their places; return when there are none."""
    if not faults:
        return
    told = [f"{place}: {what}" for place, what in faults[1:MOST_FAULTS]]
    more = f" And {len(faults) - MOST_FAULTS} more." if len(faults) > MOST_FAULTS else ""
    raise FileFormatError(faults[0][0], "; ".join([faults[0][1], *told]) + more)
