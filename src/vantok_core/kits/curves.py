"""A kit's curves and tables as they are typed, a row a line with units as one has them, and as lines to plot.

`0 mm; 0 N` a row of a curve; a first row of pressures over a table of heights; the clicks of a damper one block under the other with an
empty line between. Reading back what is written gives the same figures.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from vantok_core.base.errors import FileFormatError, UnitError
from vantok_core.base.units import System, parse, show
from vantok_core.facts import Kit


@dataclass(frozen=True, slots=True, kw_only=True)
class Typed:
    """A field of a family's data that is typed row by row. shape: a list, pairs, a table (heights by pressures) or the clicks of a damper;
    columns: words and kind of quantity of each; with_: the fields that a table's edges go into (heights, pressures)."""

    shape: Literal["list", "pairs", "grid", "clicks"]
    columns: tuple[tuple[str, str], ...]
    with_: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Curve:
    """A line of a kit's data: its name and its points (SI)."""

    name: str
    points: tuple[tuple[float, float], ...]


def written(kit: Kit, name: str, typed: Typed, system: System = "metric") -> str:
    """Return a field of a kit as it is typed."""
    own = kit.own
    told = own.get(name) or ()
    if typed.shape == "grid":
        heights, pressures = (own.get(field) or () for field in typed.with_)
        (_, across), (_, down), (_, cell) = typed.columns
        top = "; ".join(["", *(show(down, p, system) for p in pressures)])
        lines = [
            "; ".join([show(across, h, system), *(show(cell, v, system) for v in row)])
            for h, row in zip(heights, told, strict=False)
        ]
        return "\n".join([top, *lines])
    if typed.shape == "clicks":
        return "\n\n".join(_click(one, typed, system) for one in told)
    rows: list[tuple[float, ...]] = [(row,) if typed.shape == "list" else tuple(row) for row in told]
    return "\n".join(
        "; ".join(show(kind, v, system) for (_, kind), v in zip(typed.columns, row, strict=False)) for row in rows
    )


def _click(one: Mapping[str, Any], typed: Typed, system: System) -> str:
    """Return a click: speed and bump, then speed and rebound, a row each with the way in front."""
    (_, speed), (_, force) = typed.columns[:2]
    return "\n".join(
        f"{way}; {show(speed, v, system)}; {show(force, f, system)}" for way in ("bump", "rebound") for v, f in one[way]
    )


def read_typed(text: str, name: str, typed: Typed, system: System = "metric") -> dict[str, Any]:
    """Return the fields (SI) that a typed text makes. Raises FileFormatError naming field, row and what is wrong there."""
    if typed.shape == "clicks":
        blocks = [
            [line for line in block.splitlines() if line.strip()]
            for block in text.replace("\r", "").split("\n\n")
            if block.strip()
        ]
        return {name: [_read_click(name, n, block, typed, system) for n, block in enumerate(blocks, 1)]}
    lines = [line for line in text.replace("\r", "").splitlines() if line.strip(" ;\t")]
    if typed.shape == "grid":
        return _read_grid(name, lines, typed, system)
    rows = _read_rows(name, lines, typed, system)
    return {name: [row[0] for row in rows] if typed.shape == "list" else rows}


def read_so_far(text: str, name: str, typed: Typed, system: System = "metric") -> dict[str, Any]:
    """Return the fields (SI) that the rows typed so far make, to plot while it is typed: a row that does not read yet is left out; empty without one."""
    lines = text.replace("\r", "").splitlines()
    head = lines[:1] if typed.shape == "grid" else []
    rows = [
        line for line in lines[len(head) :] if not line.strip() or _reads("\n".join([*head, line]), name, typed, system)
    ]
    return read_typed("\n".join([*head, *rows]), name, typed, system) if any(row.strip() for row in rows) else {}


def _reads(text: str, name: str, typed: Typed, system: System) -> bool:
    try:
        read_typed(text, name, typed, system)
    except FileFormatError:
        return False
    return True


def _read_rows(name: str, lines: Sequence[str], typed: Typed, system: System) -> list[list[float]]:
    rows = []
    for n, line in enumerate(lines, 1):
        cells = [c.strip() for c in line.split(";") if c.strip()]
        if len(cells) != len(typed.columns):
            raise FileFormatError(
                f"{name}, row {n}", f"“{line.strip()}” needs {_columns(typed)}, with a semicolon between"
            )
        rows.append([_value(name, n, kind, cell, system) for (_, kind), cell in zip(typed.columns, cells, strict=True)])
    return rows


def _columns(typed: Typed) -> str:
    return " and ".join(words for words, _ in typed.columns)


def _read_grid(name: str, lines: Sequence[str], typed: Typed, system: System) -> dict[str, Any]:
    if len(lines) < 2:
        raise FileFormatError(name, "a table needs a first row of pressures and a row for each height")
    (_, across), (_, down), (_, cell) = typed.columns
    top = [c.strip() for c in lines[0].split(";") if c.strip()]
    pressures = [_value(name, 1, down, c, system) for c in top]
    heights, rows = [], []
    for n, line in enumerate(lines[1:], 2):
        cells = [c.strip() for c in line.split(";")]
        while cells and not cells[-1]:
            cells.pop()
        if len(cells) != len(top) + 1 or not all(cells):
            raise FileFormatError(
                f"{name}, row {n}",
                f"the table has a hole: {len(top)} forces are needed after the height, one for each pressure",
            )
        heights.append(_value(name, n, across, cells[0], system))
        rows.append([_value(name, n, cell, c, system) for c in cells[1:]])
    return {typed.with_[0]: heights, typed.with_[1]: pressures, name: rows}


def _read_click(name: str, number: int, block: Sequence[str], typed: Typed, system: System) -> dict[str, Any]:
    found: dict[str, list[list[float]]] = {"bump": [], "rebound": []}
    for n, line in enumerate(block, 1):
        cells = [c.strip() for c in line.split(";") if c.strip()]
        if len(cells) != 3 or cells[0].lower() not in found:
            raise FileFormatError(
                f"{name}, click {number}, row {n}",
                f"“{line.strip()}” needs bump or rebound, a speed and a force, with semicolons between",
            )
        speed = cells[1].lower().removesuffix("m/s").strip().replace(",", ".")
        try:
            at = float(speed)
        except ValueError:
            raise FileFormatError(f"{name}, click {number}, row {n}", f"“{cells[1]}” is no speed in m/s") from None
        found[cells[0].lower()].append([at, _value(name, n, typed.columns[1][1], cells[2], system)])
    return found


def _value(name: str, row: int, kind: str, text: str, system: System) -> float:
    try:
        return parse(kind, text, system).value
    except UnitError as error:
        raise FileFormatError(f"{name}, row {row}", str(error)) from error


def curves(own: Mapping[str, Any], name: str, typed: Typed) -> tuple[Curve, ...]:
    """Return a field of a kit's own data as lines to plot (SI): force over travel, a line a pressure over height, a line a click over speed."""
    told = own.get(name) or ()
    if typed.shape == "grid":
        heights, pressures = (own.get(field) or () for field in typed.with_)
        return tuple(
            Curve(name=f"{p:g}", points=tuple((float(h), float(row[n])) for h, row in zip(heights, told, strict=False)))
            for n, p in enumerate(pressures)
        )
    if typed.shape == "clicks":
        return tuple(
            Curve(name=f"{way} {n}", points=((0.0, 0.0), *((float(v), sign * float(f)) for v, f in one[way])))
            for n, one in enumerate(told, 1)
            for way, sign in (("bump", 1.0), ("rebound", -1.0))
        )
    if typed.shape == "list":
        return (Curve(name=name, points=tuple((float(n), float(v)) for n, v in enumerate(told, 1))),)
    return (Curve(name=name, points=tuple((float(a), float(b)) for a, b in told)),)
