"""The cells of the measuring sheet, as its template part shows them."""

from __future__ import annotations

from functools import partial
from typing import Any

from vantok.desk.load import Desk
from vantok.desk.readings import Cell, doubt
from vantok.records.measure.models import Reading, place_words, places_known, places_of
from vantok.records.weigh.models import LoadState
from vantok_core.base.errors import VantokError
from vantok_core.base.units import System, show
from vantok_core.facts.kinds import AND
from vantok_core.judge.measure.checks import check_reading
from vantok_core.model import derived_height, expected_height

OF_THEN = "read under the load of then"


class Sheet:
    """The cells of a measuring sheet for one phase and datum."""

    def __init__(self, desk: Desk, phase: str, datum: str, *, whole: bool = False, units: System = "metric") -> None:
        self.units = units
        self.desk, self.phase, self.datum, self.whole = desk, phase, datum, whole
        self.last = {(r.state_id, r.phase, r.datum, r.place): r for r in desk.record.readings.all()}

    @property
    def places(self) -> list[tuple[str, str]]:
        """The places with their words: where it is read, and a whole axle where that is asked for or was read."""
        plain = places_of(self.datum, self.desk.record.vehicle)
        read = {place for _, phase, datum, place in self.last if (phase, datum) == (self.phase, self.datum)}
        known = places_known(self.datum, self.desk.record.vehicle)
        return [(p, place_words(p)) for p in known if p in plain or self.whole or p in read]

    def rows(self) -> list[dict[str, Any]]:
        """Return a row per state with its cells."""
        found = []
        for state in self.desk.record.states.all():
            cells = [self.cell(state, place) for place, _ in self.places]
            found.append(
                {
                    "state": state,
                    "cells": cells,
                    "then": any(cell["stale"] == OF_THEN for cell in cells),
                    "said": self._said(state, cells),
                }
            )
        return found

    def cell(self, state: LoadState, place: str) -> dict[str, Any]:
        """Return a cell as its template part shows it."""
        last = self.last.get((state.pk, self.phase, self.datum, place))
        read = self._at_these(state, place) if self.phase != "before" else last
        read = read if read is not None and read.value_m is not None else None
        return {
            "state": state,
            "place": place,
            "words": place_words(place),
            "datum": self.datum,
            "phase": self.phase,
            "seen": last.pk if last else 0,
            "reading": read,
            "text": read.text if read else "",
            "level": read.value_m - read.floor_m if read and read.value_m is not None and read.floor_m else None,
            "findings": self._findings(state, place, read),
            "stale": self._stale(state, read),
            "expected": self._expected(state, place) if read is None else None,
            "derived": self._derived(state, place) if read is None else None,
            "base": self._base(state, place),
        }

    def _said(self, state: LoadState, cells: list[dict[str, Any]]) -> str:
        """Return what a voice says of a row: what stood here before the kit, else what was read; empty where there is nothing."""
        told = [
            f"{cell['words']}, {show('length', height, self.units)}"
            for cell in cells
            if (
                height := cell["base"]
                if self.phase == "after"
                else cell["reading"].value_m
                if cell["reading"]
                else None
            )
            is not None
        ]
        before = "before, " if self.phase == "after" else ""
        return f"{state.name}: {before}{'; '.join(told)}.".replace("\u00a0", " ") if told else ""

    def _base(self, state: LoadState, place: str) -> float | None:
        """Return what stood here before the kit (m), for a cell with it on."""
        found = self.desk.job.stood(state.key, place, self.datum) if self.phase == "after" else None
        return found.value_m if found is not None else None

    def _at_these(self, state: LoadState, place: str) -> Reading | None:
        """Return what a cell last read at the kits' settings of now; else at others, with as many on as there are now."""
        job, cell = self.desk.facts.job, (state.pk, self.phase, self.datum, place)
        rows = [r for r in self.desk.record.readings.all() if (r.state_id, r.phase, r.datum, r.place) == cell]
        now = [r for r in rows if r.setting in ("", job.mark_of(self.phase))]
        other = [r for r in rows if self.phase == "off" or r.setting.count(AND) == len(job.earlier)]
        return next((r for found in (now, other) for r in reversed(found)), None)

    def _stale(self, state: LoadState, read: Reading | None) -> str:
        """Return why a standing reading is not paired with the state as it is now; empty where it is."""
        if read is None:
            return ""
        if read.setting and read.setting != self.desk.facts.job.mark_of(read.phase):
            return "read at another setting: not judged, read again"
        as_stored, by_load = (
            job.read(state.key, read.place, read.datum, read.phase) for job in (self.desk.facts.job, self.desk.job)
        )
        return OF_THEN if as_stored is not None and by_load is None else ""

    def _findings(self, state: LoadState, place: str, read: Reading | None) -> list[Any]:
        """Return what is odd about a reading; one read twice the same is no longer doubted."""
        if read is None or read.flag == "twice":
            return []
        reading = self.desk.job.at(state.key, place, self.datum, self.phase)
        if reading is None:
            return []
        if read.flag != "odd":
            return check_reading(self.desk.job, reading)
        return check_reading(self.desk.job, reading, partial(self.desk.worked.without, reading))

    def _expected(self, state: LoadState, place: str) -> Any:
        """Return what the model expects of a cell not yet read in a loaded state."""
        model = self.desk.model
        if state.empty or self.phase != "before" or model is None:
            return None
        try:
            found = expected_height(model, state.key, self.datum, place)
        except VantokError:
            return None  # the stage's own sentence says why this state cannot be solved
        return found

    def _derived(self, state: LoadState, place: str) -> float | None:
        """Return the height that a reading on the other arch datum gives here."""
        model = self.desk.model
        if model is None or state.empty or self.phase != "before":
            return None
        try:
            return derived_height(model, state.key, self.datum, place)
        except VantokError:
            return None  # as above


def hold_against(desk: Desk, cell: Cell, read: Reading) -> None:
    """Hold the reading just taken against a model that has not seen it, and keep the doubt where it is odd."""
    doubt(read, odd=bool(_odd(desk, cell)))
    for row in desk.record.readings.all():
        if row.pk == read.pk:
            row.flag = read.flag


def _odd(desk: Desk, cell: Cell) -> list[Any]:
    reading = desk.job.at(cell.state.key, cell.place, cell.datum, cell.phase)
    if reading is None or desk.model is None:
        return []
    if reading.phase == "off":
        return check_reading(desk.job, reading)
    if reading.phase == "after":
        rows = desk.proof.rows.get(reading.state, ()) if desk.proof else ()
        outside = [
            row for row in rows if row.corner == reading.place and reading.datum == desk.datum and row.inside is False
        ]
        return check_reading(desk.job, reading) or outside
    return check_reading(desk.job, reading, partial(desk.worked.without, reading))
