"""A block of cells pasted from a table: places across, states down; what reads is given, what does not is told with its line."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vantok_core.base.errors import FileFormatError

MOST_LINES, MOST_LETTERS = 200, 40
"""Lines of a block, and letters of a cell."""
SHORT = {"fl": "FL", "fr": "FR", "rl": "RL", "rr": "RR", "lf": "FL", "rf": "FR", "lr": "RL"}
"""What a corner is called in a table's head besides its words."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PastedCell:
    """A cell: its line (from 1), the key of its state, its place, what stands in it."""

    line: int
    state: str
    place: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Pasted:
    """What a block holds: its cells, and what is wrong by line."""

    cells: tuple[PastedCell, ...]
    faults: tuple[tuple[int, str], ...]


def read_pasted(text: str, states: Mapping[str, str], places: Mapping[str, str]) -> Pasted:
    """Return the cells of a pasted block.

    Arguments: states: names by key; places: words by key. The first line that names places is the head; without one the places stand in walking order.
    A line whose state is not known, or with more cells than places, is a fault and takes no other with it. Raises FileFormatError for an empty block, or
    one of more than 200 lines.
    """
    lines = _lines(text)
    rows = [(n, _cells(line)) for n, line in lines]
    head = _head(rows[0][1], places)
    order: Sequence[str | None] = head or list(places)
    called = {key.casefold(): key for key in states} | {name.casefold(): key for key, name in states.items()}
    cells: list[PastedCell] = []
    faults: list[tuple[int, str]] = []
    for n, row in rows[1:] if head else rows:
        key = called.get(row[0].casefold())
        fault = _fault(row, key, len(order))
        if fault or key is None:
            faults.append((n, fault))
            continue
        told = zip(order, row[1:], strict=False)
        cells += [PastedCell(line=n, state=key, place=p, text=one[:MOST_LETTERS]) for p, one in told if p and one]
    return Pasted(cells=tuple(cells), faults=tuple(faults))


def _lines(text: str) -> list[tuple[int, str]]:
    """Return the lines that hold something, with their numbers. Raises FileFormatError for none, or too many."""
    lines = [(n, line) for n, line in enumerate(text.replace("\r", "").split("\n"), 1) if line.strip()]
    if not lines:
        raise FileFormatError("paste", "nothing was pasted")
    if len(lines) > MOST_LINES:
        raise FileFormatError("paste", f"a block has {MOST_LINES} lines at most")
    return lines


def _fault(row: Sequence[str], key: str | None, count: int) -> str:
    """Return what is wrong with a line; empty where nothing is."""
    if key is None:
        return f"there is no state “{row[0][:MOST_LETTERS]}”"
    return f"it has {len(row) - 1} figures for {count} places" if len(row) - 1 > count else ""


def _cells(line: str) -> list[str]:
    """Return a line's cells: between tabs, else bars, else two spaces and more; a comma is a decimal sign here."""
    for sign in ("\t", "|"):
        if sign in line:
            return [cell.strip().strip("'\"“”") if sign == "|" else cell.strip() for cell in line.split(sign)]
    return [cell.strip() for cell in line.strip().split("  ") if cell.strip()]


def _head(row: Sequence[str], places: Mapping[str, str]) -> list[str | None] | None:
    """Return the place of each column after the first; None where the row names none."""
    called = {key.casefold(): key for key in places} | {words.casefold(): key for key, words in places.items()}
    called |= {short: key for short, key in SHORT.items() if key in places}
    found = [called.get(cell.casefold()) for cell in row[1:]]
    return found if any(found) else None
