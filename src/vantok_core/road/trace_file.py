"""A phone's or a logger's file: its columns found, their units, gravity in or out, the sample rate, gaps and flat tops; then one even trace.

Source: method section 16. What is guessed is told, and may be said otherwise.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray, G
from vantok_core.road.comfort import weighted_rms
from vantok_core.road.figures import jolts

MOST_ROWS = 400_000
"""Rows of a file at most: an hour and more at a hundred a second."""
FEWEST = 20
TimeUnit = Literal["s", "ms", "us"]
ValueUnit = Literal["m/s2", "g"]
PER: dict[str, float] = {"s": 1.0, "ms": 1e-3, "us": 1e-6, "m/s2": 1.0, "g": G}
GAP = 3.0
"""So many times the usual step is a gap."""
FLAT = 5
"""So many samples alike at the greatest figure are a flat top: the logger reached its end."""
SMALL = 1.0
"""A greatest figure under this is taken for g where neither gravity nor the heading tells (setting)."""
PIECE = 5.0
"""Length of a piece that is weighted by itself, s."""
SLOWEST_RATE = 40.0
"""Samples a second that a road's harshness needs (setting)."""
MARKED = re.compile(r"mark|event|\blap\b", re.IGNORECASE)
"""A heading of the column in which a logger keeps that its button was pressed."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Column:
    """A column of a file: its heading, its least, mean and greatest figure."""

    name: str
    least: float
    mean: float
    most: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TraceFile:
    """A file as it was found: its columns; which is taken as time and which as the vertical acceleration, in which units; whether gravity is in it; samples a
    second; gaps (s, where each begins and how long it is); marks set on the way (s); flat tops; rows that were no figures and were left out."""

    columns: tuple[Column, ...]
    time: int
    value: int
    time_unit: TimeUnit
    value_unit: ValueUnit
    gravity: bool
    rate: float
    gaps: tuple[tuple[float, float], ...]
    marks: tuple[float, ...]
    flat: int
    left_out: int
    table: FloatArray

    @property
    def stretches(self) -> tuple[tuple[float, float], ...]:
        """The stretches between marks (s, from and to); one where none was set."""
        ends = float(self.table[-1, self.time] - self.table[0, self.time]) * PER[self.time_unit]
        return tuple(pairwise((0.0, *self.marks, ends)))


def read_file(text: str) -> TraceFile:
    """Return a file's columns and what they are taken for. Raises InputError for one without two columns of figures over a rising time."""
    names, table, left_out = _table(text)
    plain = [n for n, name in enumerate(names) if not MARKED.search(name)]
    rising = [n for n in plain if np.all(np.diff(table[:, n]) >= 0.0) and np.ptp(table[:, n]) > 0.0]
    if not rising:
        raise InputError("file", "its columns", "none of them is a time that rises from row to row")
    time = next((n for n in rising if "time" in names[n].lower()), rising[0])
    others = [n for n in plain if n != time]
    if not others:
        raise InputError("file", "one column", "a time and an acceleration, side by side")
    value = _vertical(names, table, others)
    time_unit = _time_unit(table[:, time])
    value_unit, gravity = _value_unit(names[value].lower(), table[:, value])
    return described(names, table, time, value, time_unit, value_unit, gravity=gravity, left_out=left_out)


def described(
    names: Sequence[str],
    table: FloatArray,
    time: int,
    value: int,
    time_unit: TimeUnit,
    value_unit: ValueUnit,
    *,
    gravity: bool,
    left_out: int = 0,
) -> TraceFile:
    """Return a file taken so: which column (time, value: from nought) in which unit, gravity in it or not; table: its figures, SI or as
    written; left_out: rows.

    Raises InputError for a time that does not rise, or that takes no time.
    """
    if not (0 <= time < table.shape[1] and 0 <= value < table.shape[1]) or time == value:
        raise InputError("columns", (time, value), "a time and another column")
    seconds = (table[:, time] - table[0, time]) * PER[time_unit]
    steps = np.diff(seconds)
    if not (np.all(steps >= 0.0) and seconds[-1] > 0.0):
        raise InputError("time", names[time], "it must rise from row to row")
    usual = float(np.median(steps[steps > 0.0]))
    long = np.flatnonzero(steps > GAP * usual)
    values = table[:, value]
    top = float(np.max(np.abs(values)))
    return TraceFile(
        columns=tuple(
            Column(name=n, least=float(c.min()), mean=float(c.mean()), most=float(c.max()))
            for n, c in zip(names, table.T, strict=True)
        ),
        time=time,
        value=value,
        time_unit=time_unit,
        value_unit=value_unit,
        gravity=gravity,
        rate=1.0 / usual,
        gaps=tuple((float(seconds[n]), float(steps[n])) for n in long),
        marks=_marks(names, table, seconds),
        flat=_flat_tops(values, top),
        left_out=left_out,
        table=table,
    )


def _marks(names: Sequence[str], table: FloatArray, seconds: FloatArray) -> tuple[float, ...]:
    """Return when a mark was set (s): its column changes and is not nought afterwards."""
    at = {
        float(seconds[n + 1])
        for column, name in enumerate(names)
        if MARKED.search(name)
        for n in np.flatnonzero((np.diff(table[:, column]) != 0.0) & (table[1:, column] != 0.0))
    }
    return tuple(sorted(at - {0.0, float(seconds[-1])}))


def _table(text: str) -> tuple[list[str], FloatArray, int]:
    """Return a file's headings, its rows of figures, and how many rows were none."""
    rows = _rows(text)
    width = max((len(row) for row in rows[:50]), default=0)
    headed = bool(rows) and _figures(rows[0]) is None and len(rows[0]) == width
    heads = rows[0] if headed else []
    marked = [n for n, head in enumerate(heads) if MARKED.search(head)]
    figures = [found for row in rows if len(row) == width and (found := _figures(row, marked)) is not None]
    if width < 2 or len(figures) < FEWEST:
        raise InputError("file", f"{len(figures)} rows of figures", f"{FEWEST} rows at least of a time and a figure")
    return _named(heads, width), np.array(figures), len(rows) - len(figures) - headed


def _rows(text: str) -> list[list[str]]:
    """Return a file's rows of cells. Raises InputError for too many."""
    lines = [line for line in text.replace("\r\n", "\n").split("\n") if line.strip()]
    if len(lines) > MOST_ROWS:
        raise InputError("file", f"{len(lines)} rows", f"{MOST_ROWS} rows at most: cut it to the road that is compared")
    split = _splitter(lines)
    return [split(line) for line in lines]


def _named(heads: Sequence[str], width: int) -> list[str]:
    """Return what the columns are called, by their number where a heading is empty or missing."""
    told = [head.strip().strip('"')[:60] for head in heads] or [""] * width
    return [name or f"column {n}" for n, name in enumerate(told, 1)]


def _splitter(lines: Sequence[str]) -> Callable[[str], list[str]]:
    """Return how a file's lines are split: by what stands oftenest between figures; a comma within figures is a decimal one where something else parts them."""
    sample = "\n".join(lines[1:40])
    between = max(";\t,", key=lambda mark: sample.count(mark) if mark != "," or not re.search(r"[;\t]", sample) else -1)
    if between == "," and sample.count(",") == 0:
        return lambda line: line.split()
    decimal = between != "," and "," in sample
    return lambda line: [cell.replace(",", ".") if decimal else cell for cell in line.split(between)]


def _figures(row: Sequence[str], marked: Sequence[int] = ()) -> list[float] | None:
    """Return a row's figures, None for one that has none; in a column of marks an empty cell is none and a word is one."""
    cells = [cell.strip() or "0" if n in marked else cell for n, cell in enumerate(row)]
    try:
        found = [
            1.0 if n in marked and re.fullmatch(r"[A-Za-z ]+", cell) else float(cell) for n, cell in enumerate(cells)
        ]
    except ValueError:
        return None
    return found if np.all(np.isfinite(found)) else None


def _vertical(names: Sequence[str], table: FloatArray, others: Sequence[int]) -> int:
    """Return the column that stands upright: named so, else the one that holds gravity, else the one that moves most."""
    for word in ("vert", "z", "up"):
        named = [n for n in others if re.search(rf"(^|[^a-z]){word}", names[n].lower())]
        if len(named) == 1:
            return named[0]
    near = [n for n in others if min(abs(abs(table[:, n].mean()) - G) / G, abs(abs(table[:, n].mean()) - 1.0)) < 0.15]
    return near[0] if len(near) == 1 else max(others, key=lambda n: float(table[:, n].std()))


def _time_unit(column: FloatArray) -> TimeUnit:
    """Return the unit of a time by its steps: a logger takes ten to a thousand samples a second."""
    step = float(np.median(np.diff(column)[np.diff(column) > 0.0]))
    return "s" if step < 0.5 else "ms" if step < 500.0 else "us"


def _value_unit(name: str, column: FloatArray) -> tuple[ValueUnit, bool]:
    """Return the unit of an acceleration and whether gravity is in it: standing still it reads 9.8, 1 or nought; without gravity by its heading, else by what
    a road usually gives."""
    rest = abs(float(np.median(column)))
    if abs(rest - G) < 0.2 * G:
        return "m/s2", True
    if abs(rest - 1.0) < 0.2:
        return "g", True
    if "m/s" in name:
        return "m/s2", False
    return ("g" if re.search(r"\bg\b", name) or float(np.max(np.abs(column))) < SMALL else "m/s2"), False


def _flat_tops(values: FloatArray, top: float) -> int:
    """Return how often a trace stays at its greatest figure: each time it reached the end of what the logger can read."""
    at = np.abs(values) >= top * (1.0 - 1e-9)
    count, run = 0, 0
    for one in at:
        run = run + 1 if one else 0
        count += run == FLAT
    return count


@dataclass(frozen=True, slots=True, kw_only=True)
class RoadTrace:
    """A road as logged: samples a second, how long (s), weighted r.m.s. of its five-second pieces and of all (m/s2), greatest figure (m/s2), jolts."""

    rate: float
    seconds: float
    pieces: tuple[float, ...]
    weighted: float
    peak: float
    jolts: int


def road_trace(told: TraceFile, stretch: int | None = None) -> RoadTrace:
    """Return what a file says of the road: gravity taken out, samples made even, each stretch between gaps cut into pieces. stretch: the one between marks
    that is asked about, counted from nought; all the file where it is None.

    Raises InputError for too few samples a second, less than a piece without a gap, or a trace that stands still, or a stretch that is not there. Source:
    method section 16.
    """
    if stretch is not None and not 0 <= stretch < len(told.stretches):
        raise InputError("stretch", stretch + 1, f"1 to {len(told.stretches)}")
    if told.rate < SLOWEST_RATE:
        raise InputError(
            "rate", told.rate, f"{SLOWEST_RATE:.0f} samples a second at least: slower loggers miss the blows"
        )
    seconds = (told.table[:, told.time] - told.table[0, told.time]) * PER[told.time_unit]
    values = told.table[:, told.value] * PER[told.value_unit]
    if stretch is not None:
        begin_s, end_s = told.stretches[stretch]
        within = (seconds >= begin_s) & (seconds <= end_s)
        seconds, values = seconds[within], values[within]
    values = values - (np.median(values) if told.gravity else np.mean(values))
    step, pieces, all_ = 1.0 / told.rate, list[float](), list[FloatArray]()
    cuts = [0, *(int(np.searchsorted(seconds, at, side="right")) for at, _ in told.gaps), len(seconds)]
    for begin, end in pairwise(cuts):
        if end - begin < 2:
            continue
        even = np.arange(seconds[begin], seconds[end - 1], step)
        even_values = np.interp(even, seconds[begin:end], values[begin:end])
        count = round(PIECE * told.rate)
        all_.append(even_values)
        pieces += [
            weighted_rms(even_values[n : n + count], told.rate) for n in range(0, len(even_values) - count + 1, count)
        ]
    whole = np.concatenate(all_) if all_ else np.zeros(0)
    if not pieces:
        raise InputError("file", f"{np.ptp(seconds):.1f} s", "five seconds without a gap at least")
    if not min(pieces) > 0.0:
        raise InputError("file", "its figures", "they stand still: is it the column of the acceleration?")
    return RoadTrace(
        rate=told.rate,
        seconds=len(whole) * step,
        pieces=tuple(pieces),
        weighted=float(np.sqrt(np.mean(np.square(pieces)))),
        peak=float(np.max(np.abs(whole))),
        jolts=jolts(whole),
    )
