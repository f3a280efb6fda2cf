"""Heights as CSV: one row a reading, with state, phase, datum and place; SI, checked before any is taken."""

from __future__ import annotations

import csv
from collections.abc import Sequence
from io import StringIO
from typing import Annotated, Any

from pydantic import AfterValidator, Field, ValidationError, model_validator

from vantok_core.base.names import ARCHES, AXLES_WHOLE, WALK
from vantok_core.facts import MOST_READINGS, Job, JobReading, one_line
from vantok_core.files.plan_csv import as_text, plainly, read_rows, refuse

COLUMNS = (
    "job",
    "state",
    "empty",
    "phase",
    "datum",
    "place",
    "value_m",
    "resolution_m",
    "floor_m",
    "friction_m",
    "instrument",
    "note",
    "text",
    "unit",
    "by",
    "at",
    "setting",
    "twice",
    "under_kg",
    "under_basis",
    "unsettled",
    "told_gain_m",
    "repeats_m",
)
NEEDED = ("state", "datum", "place", "value_m")


class HeightRow(JobReading):
    """A reading with the number of its job and whether its state is the empty one."""

    job: str = Field(default="", max_length=20, pattern=r"^[\w\-./ ]*$")
    empty: bool = False
    state: Annotated[str, Field(min_length=1, max_length=60), AfterValidator(one_line)]

    @model_validator(mode="after")
    def _place_of_datum(self) -> HeightRow:
        wanted = {"ground_hitch": ("hitch",), "ground_point": (self.place,)}.get(
            self.datum, (*WALK, *AXLES_WHOLE) if self.datum in ARCHES else WALK
        )
        if self.place not in wanted:
            raise ValueError(f"{self.datum} is read at {', '.join(wanted)}, not at “{self.place}”")
        return self


def write_readings(jobs: Sequence[Job]) -> str:
    """Return the readings of jobs as CSV text, states by name."""
    out = StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\r\n")
    writer.writeheader()
    for job in jobs:
        states = {s.key: s for s in job.states}
        for reading in job.readings:
            told = reading.model_dump(mode="json", exclude_none=True)
            state = states[reading.state]
            if reading.under_kg is not None:
                told["under_kg"] = "{:g} {:g}".format(*reading.under_kg)
            told.pop("repeats_m")
            if reading.repeats_m:
                told["repeats_m"] = " ".join(f"{one:g}" for one in reading.repeats_m)
            row = told | {"job": job.number, "state": state.name, "empty": "1" if state.empty else "0"}
            writer.writerow(as_text(row))
    return out.getvalue()


def read_readings(text: str) -> list[HeightRow]:
    """Return the readings of a CSV text.

    Raises FileFormatError naming line and column of each fault (the first five): a figure that does not read, an unknown
    datum, a height no tape shows, an unknown column.
    """
    rows, faults = read_rows(text, COLUMNS, NEEDED, most=MOST_READINGS)
    found: list[HeightRow] = []
    for line, row in rows:
        told: dict[str, Any] = {name: value.strip() for name, value in row.items() if value.strip()}
        for name in ("value_m", "resolution_m", "floor_m", "friction_m"):
            if name in told:
                told[name] = told[name].replace(",", ".")
        for name in ("under_kg", "repeats_m"):
            if name in told:
                told[name] = told[name].replace(",", ".").split()
        try:
            found.append(HeightRow.model_validate(told))
        except ValidationError as error:
            faults += [(f"line {line}, {e['loc'][0] if e['loc'] else 'row'}", plainly(dict(e))) for e in error.errors()]
    refuse(faults)
    return found
