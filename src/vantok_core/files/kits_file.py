"""Kits as files: one or many as JSON, the flat families as CSV; all are taken or none, each fault with its place."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from vantok_core.base.errors import FileFormatError
from vantok_core.facts import Kit
from vantok_core.files.door import read_json
from vantok_core.files.plan_csv import as_text, plain_text
from vantok_core.kits.registry import FAMILIES, read_kit

VERSION = 1
RESERVED = ("new",)
"""Codes that no kit has: they are addresses of the shelf."""
MOST_KITS = 2000
FLAT = (
    "coil_assist",
    "added_leaf",
    "coil_block",
    "replacement_spring",
    "rubber_shackle",
    "torsion_adjuster",
    "steering_stabilizer",
    "hitch_damper",
)
"""Families whose data are one figure a field: those a row of a table can hold."""
GENERAL = (
    "code",
    "name",
    "maker",
    "axle",
    "springs",
    "gross_min_kg",
    "gross_max_kg",
    "axle_max_kg",
    "rated_kg",
    "place",
    "ratio",
    "side_space_m",
    "price",
    "hours",
    "upkeep_per_year",
    "drilling",
    "reversible",
    "life_years",
    "notes",
)
"""General fields a row carries; springs stand in one cell, parted by semicolons."""


class KitsRefusedError(FileFormatError):
    """A file of kits with faults; none of its kits was taken. faults: each with its place, in words."""

    def __init__(self, faults: Sequence[str]) -> None:
        super().__init__("kits", "; ".join(faults))
        self.faults = tuple(faults)


def write_kits(kits: Iterable[Kit]) -> str:
    """Return kits as the text of a file."""
    told = [kit.model_dump(mode="json", exclude_none=True) for kit in kits]
    return json.dumps({"format": "vantok-kits", "version": VERSION, "kits": told}, indent=2, ensure_ascii=False) + "\n"


def read_kits(text: str) -> list[Kit]:
    """Return the kits of a file's text: a file of kits, or one kit alone.

    Raises FileFormatError for no file of kits or another version, KitsRefusedError with every fault.
    """
    data = read_json(text)
    if isinstance(data, dict) and "family" in data:
        return _all([("kit", data)])
    if not isinstance(data, dict) or data.get("format") != "vantok-kits" or not isinstance(data.get("kits"), list):
        raise FileFormatError("format", "this is no file of kits: “format” must be “vantok-kits”, with a list “kits”")
    if data.get("version") != VERSION:
        raise FileFormatError("version", f"version {data.get('version')!r} is not known; this program reads {VERSION}")
    if len(data["kits"]) > MOST_KITS:
        raise FileFormatError("kits", f"a file may hold {MOST_KITS} kits at most")
    return _all([(f"kits.{n}", entry) for n, entry in enumerate(data["kits"])])


def _all(entries: Sequence[tuple[str, Any]]) -> list[Kit]:
    """Return every entry read. Raises KitsRefusedError with every fault where there is one."""
    found: list[Kit] = []
    faults: list[str] = []
    seen: dict[str, str] = {}
    for place, entry in entries:
        try:
            if not isinstance(entry, Mapping):
                raise FileFormatError(place, "a kit is an object with a code, a name and a family")
            kit = read_kit(entry, place)
        except FileFormatError as error:
            faults.append(str(error))
            continue
        if kit.code.lower() in RESERVED:
            faults.append(f"{place}.code: “{kit.code}” is a page of the shelf: give the kit another code")
        if kit.code in seen:
            faults.append(f"{place}.code: “{kit.code}” stands at {seen[kit.code]} already")
        seen[kit.code] = place
        found.append(kit)
    if faults:
        raise KitsRefusedError(faults)
    return found


def write_kits_csv(kits: Iterable[Kit], family: str) -> str:
    """Return the kits of a flat family as CSV, a row each. Raises FileFormatError for a family a row cannot hold."""
    names = _columns(family)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(names)
    for kit in kits:
        if kit.family == family:
            told = kit.model_dump(mode="json")
            told["springs"] = ";".join(kit.springs)
            row = {name: told.get(name) for name in names}
            writer.writerow(_cell(value) for value in as_text(row).values())
    return out.getvalue()


def _columns(family: str) -> list[str]:
    if family not in FLAT:
        raise FileFormatError("family", f"“{family}” does not go into a table; those that do are {', '.join(FLAT)}")
    return [*GENERAL, *FAMILIES[family].data.model_fields]


def _cell(value: Any) -> str:
    """Return a value as a cell: a figure to its last digit, what is not known as nothing."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return repr(value) if isinstance(value, float) else str(value)


def read_kits_csv(text: str, family: str) -> list[Kit]:
    """Return the kits of a table of a flat family.

    Raises FileFormatError for a family a row cannot hold or unknown columns, KitsRefusedError with every fault by its line.
    """
    names = _columns(family)
    rows = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")))
    told = list(rows.fieldnames or ())
    strange = [name for name in told if name not in names]
    if strange or "code" not in told:
        raise FileFormatError(
            "columns", f"not known: {', '.join(strange) or 'none'}; needed is code, possible are {', '.join(names)}"
        )
    entries: list[tuple[str, Any]] = []
    for row in rows:
        if len(entries) >= MOST_KITS:
            raise FileFormatError("lines", f"a file may hold {MOST_KITS} kits at most")
        entries.append((f"line {rows.line_num}", {"family": family} | _values(row, family)))
    return _all(entries)


def _values(row: Mapping[str, Any], family: str) -> dict[str, Any]:
    """Return a row's cells as a kit's fields, each as its kind is; empty ones are not told, what cannot be read is left to be refused."""
    fields = {**Kit.model_fields, **FAMILIES[family].data.model_fields}
    found: dict[str, Any] = {}
    for name, cell in row.items():
        text = plain_text(str(cell or "").strip())
        if name is None or not text:
            continue
        kind = str(fields[name].annotation)
        if name == "springs":
            found[name] = [one.strip() for one in text.split(";") if one.strip()]
        elif "bool" in kind:
            found[name] = {"yes": True, "no": False}.get(text, text)
        else:
            found[name] = _figure(text) if "float" in kind else text
    return found


def _figure(text: str) -> float | str:
    try:
        return float(text)
    except ValueError:
        return text  # the kit's own form says that it is no figure
