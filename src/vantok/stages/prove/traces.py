"""What a phone or logger recorded of the drive: a file looked at before it is kept, then told, after against before."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, cast

from django.contrib import messages
from django.http import HttpResponse

from vantok.desk.proving import add, proving_of, store
from vantok.drawing.trace_look import trace_svg
from vantok.fields.files import text_of
from vantok.people.acts import act
from vantok.stages.prove.pages import ProvePage
from vantok_core.base.errors import InputError, UnitError, VantokError
from vantok_core.base.units import parse
from vantok_core.judge.prove.driving import COURSES
from vantok_core.judge.prove.road_logs import file_said, log_of, road_logs_told
from vantok_core.road.trace_file import TimeUnit, TraceFile, ValueUnit, described, read_file, road_trace

MOST_CHARACTERS = 4_000_000
MOMENTS = (("before", "before the work"), ("after", "with the kit as it is set now"))
UNITS_OF_TIME: dict[TimeUnit, str] = {"s": "seconds", "ms": "milliseconds", "us": "microseconds"}
UNITS_OF_VALUE: dict[ValueUnit, str] = {"m/s2": "m/s²", "g": "g"}


class Traces(ProvePage):
    """Logged roads: looked at, kept, told."""

    page = "traces"
    text = ""

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add what is kept, and the choices of the form."""
        return super().get_context_data(
            logs=road_logs_told(self.desk.job),
            moments=MOMENTS,
            courses=[(key, one.words) for key, one in COURSES.items()],
            states=[s for s in self.desk.job.states if not s.past],
            time_units=UNITS_OF_TIME.items(),
            value_units=UNITS_OF_VALUE.items(),
            found=(found := kwargs.pop("found", None)),
            drawn=trace_svg(found) if found else "",
            found_said=file_said(found) if found else (),
            text=kwargs.pop("text", ""),
            typed=kwargs.pop("typed", {}),
            **kwargs,
        )

    def do(self, doing: Callable[[], HttpResponse]) -> HttpResponse:
        """Show a file that is not kept as it was told."""
        try:
            return doing()
        except (VantokError, UnitError) as error:
            self.anew()
            return self._looked(_looked_at(self.text), 422, refused=f"{error} Nothing was kept.")

    def _looked(self, found: TraceFile | None, status: int = 200, **more: str) -> HttpResponse:
        return self.again(status, found=found, text=self.text, typed=self.request.POST, **more)

    @act("measure", "drop")
    def _drop(self) -> HttpResponse:
        with self.change() as record:
            kept = proving_of(record)
            left = [one for one in kept["logs"] if one["key"] != self.request.POST.get("key", "")]
            store(record, kept | {"logs": left})
        return self.here()

    @act("measure", "look")
    def _look(self) -> HttpResponse:
        return self._looked(read_file(self._text()))

    @act("measure", "keep")
    def _keep_it(self) -> HttpResponse:
        told = self._as_told(read_file(self._text()))
        self._keep(told, self._stretch(told))
        messages.success(self.request, "Kept.")
        return self.here()

    def _text(self) -> str:
        """Return the file's text, sent anew or kept in the page that looked at it. Raises InputError for none, or one that is no text."""
        file = self.request.FILES.get("file")
        try:
            text = text_of(file) if file is not None else self.request.POST.get("text", "")
        except UnicodeDecodeError as error:
            raise InputError("file", "this one", "a text file with columns (CSV)") from error
        if not text.strip():
            raise InputError("file", "nothing", "choose a file first")
        if len(text) > MOST_CHARACTERS:
            raise InputError(
                "file",
                f"{len(text) / 1e6:.0f} million characters",
                "four million at most: cut it to the road that is compared",
            )
        self.text = text
        return text

    def _as_told(self, found: TraceFile) -> TraceFile:
        """Return the file taken as the form says: columns, units, gravity. Raises InputError for what cannot be."""
        told = self.request.POST
        columns = [told.get(name, "") for name in ("time", "value")]
        if not all(one.isascii() and one.isdecimal() and len(one) < 4 for one in columns):
            raise InputError("columns", ", ".join(columns), "choose the time and the acceleration")
        if told.get("time_unit") not in UNITS_OF_TIME or told.get("value_unit") not in UNITS_OF_VALUE:
            raise InputError("units", told.get("time_unit", ""), "one of those offered")
        return described(
            [one.name for one in found.columns],
            found.table,
            int(columns[0]),
            int(columns[1]),
            cast("TimeUnit", told["time_unit"]),
            cast("ValueUnit", told["value_unit"]),
            gravity=told.get("gravity") == "1",
            left_out=found.left_out,
        )

    def _stretch(self, found: TraceFile) -> int | None:
        """Return which stretch between marks is kept, None for all. Raises InputError for one that is none."""
        told = self.request.POST.get("stretch", "")
        if told and not (told.isascii() and told.isdecimal() and int(told[:4]) < len(found.stretches)):
            raise InputError("stretch", told, "one of those offered")
        return int(told[:4]) if told else None

    def _keep(self, found: TraceFile, stretch: int | None) -> None:
        told = self.request.POST
        part = "" if stretch is None else " {:.0f} to {:.0f} s".format(*found.stretches[stretch])
        speed = parse("speed", told.get("speed", ""), self.units).value
        entry = {
            "key": "",
            "moment": "before" if told.get("moment") == "before" else "after",
            "course": told.get("course", ""),
            "speed_kmh": round(3.6 * speed, 2),
            "state": told.get("state", ""),
            "gaps": len(found.gaps),
            "flat": found.flat,
            "file": (told.get("name", "")[:90] + part).strip(),
            "mark": self.mark,
            **log_of(road_trace(found, stretch)),
            **self.signed,
        }
        with self.change() as record:
            add(record, "logs", entry)


def _looked_at(text: str) -> TraceFile | None:
    """Return a file as it was found, so that a form that was not taken still shows it; None where it cannot be read."""
    try:
        return read_file(text) if text else None
    except VantokError:
        return None
