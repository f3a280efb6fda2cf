"""From records to the core's job, in one place; what stands there and cannot be is left out as unknown, and said."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel

from vantok.records.choose.models import Fitting as FittingRecord
from vantok.records.garage.models import COLUMNS, Vehicle
from vantok.records.jobs.models import Job as JobRecord
from vantok.records.measure.models import Reading
from vantok.records.shelf.models import kit_of
from vantok.records.weigh.models import LoadItem as LoadItemRecord
from vantok.records.weigh.models import LoadState
from vantok_core.base.check import read_what_holds
from vantok_core.base.errors import FileFormatError
from vantok_core.facts import (
    CardMark,
    Complaint,
    Fitting,
    Inspected,
    Job,
    JobReading,
    JobState,
    JobVehicle,
    Learnt,
    LoadItem,
    People,
    Tank,
    Target,
    TrailerItem,
)
from vantok_core.facts.declared import declared, made_of
from vantok_core.facts.fitting import AsSet, Ordered
from vantok_core.facts.load import Condition
from vantok_core.loads.trailer_beam import WINDOWS

Part = TypeVar("Part", bound=BaseModel)


@dataclass(frozen=True, slots=True)
class Unfit:
    """Something stored that cannot be: what, why, and the page (with its state) where it is mended."""

    what: str
    why: str
    page: str
    state: str = ""

    def __str__(self) -> str:
        return f"{self.what}: {self.why}"


PAGES = {name: one.page for model in (JobVehicle, JobState, Job) for name, one in declared(model).items()} | {
    "fit": "fit"
}
"""Where a field, else a part of the job, is entered; everything else on Listen."""


class Facts:
    """The core's job of a record, and what of the record cannot be."""

    def __init__(self, record: JobRecord) -> None:
        self.unfit: list[Unfit] = []
        self.job = self._job(record)

    def _part(self, kind: type[Part], data: dict[str, Any], part: str, words: str, state: str = "") -> Part | None:
        """Return a part of the job of whatever can be, and keep what cannot."""
        found, faults = read_what_holds(kind, data, part)
        for fault in faults:
            field = fault.place.removeprefix(part).lstrip(".")
            page = PAGES.get(field, PAGES.get(part, "listen"))
            named = field.removesuffix("_kg").removesuffix("_m").replace("_", " ")
            self.unfit.append(Unfit(f"{words}, {named}" if named else words, fault.what, page, state))
        return found

    def _parts(
        self, kind: type[Part], rows: Iterable[dict[str, Any]], part: str, words: str, state: str = ""
    ) -> tuple[Part, ...]:
        found = (self._part(kind, row, part, words, state) for row in rows)
        return tuple(one for one in found if one is not None)

    def _job(self, record: JobRecord) -> Job:
        v = record.vehicle
        known = {name: getattr(v, name) for name in COLUMNS} | _beyond(v)
        vehicle = self._part(JobVehicle, known, "vehicle", "vehicle") or JobVehicle()
        states = tuple(s for row in record.states.all() if (s := self._state(row)) is not None)
        facts = {name: self._fact(name, value) for name, value in _stored(record).items()}
        told: dict[str, Any] = {name: value for name, value in facts.items() if value is not None} | {
            "number": record.number,
            "customer": v.customer.name,
            "vehicle": vehicle,
            "states": states,
            "target": self._target(record),
            "complaints": self._complaints(record),
            "inspection": self._inspection(record),
            "readings": self._readings(record, vehicle, {s.key for s in states}),
            **_of_shop(record),
        }
        job = self._part(Job, told, "job", "job") or Job(number=record.number[:20])
        parts = [part for row in record.fittings.all() if (part := self._fitting(row)) is not None]
        return job.model_copy(update={"earlier": tuple(parts[:-1]), "fitting": parts[-1]}) if parts else job

    def _readings(self, record: JobRecord, vehicle: JobVehicle, states: set[str]) -> tuple[JobReading, ...]:
        """Return the standing readings of the states that can be."""
        keys = {row.pk: row.key for row in record.states.all()}
        known = [(row, keys[row.state_id]) for row in latest_readings(record) if keys[row.state_id] in states]
        return tuple(r for row, key in known if (r := self._reading(row, key, vehicle)) is not None)

    def _target(self, record: JobRecord) -> Target:
        told = {
            "school": record.school,
            "share": record.share,
            "rake_m": record.rake_m,
            "beam_m": record.beam_m,
            "state": record.target_state,
            "reason": record.target_reason,
            "length_m": record.length_m,
            "length_right_m": record.length_right_m,
            "source": record.target_source,
            "front_raise_m": record.front_raise_m,
            "contact": record.contact,
        }
        return self._part(Target, told, "target", "target") or Target()

    def _fact(self, name: str, value: Any) -> Any:
        """Return a fact of the job as it is declared: a figure or word as it stands, one of several facts as far as it holds."""
        kind, many = made_of(Job, name)
        words = declared(Job)[name].words
        if kind is None:
            return list(dict.fromkeys(value)) if isinstance(value, list) else value
        if many:
            return self._parts(kind, value or (), name, words)
        return self._part(kind, value, name, words) if value else None

    def _complaints(self, record: JobRecord) -> tuple[Complaint, ...]:
        told = (
            {"code": c, "answer": record.answers.get(c, "")} | record.heard.get(c, {})
            for c in dict.fromkeys(record.complaints)
        )
        return self._parts(Complaint, told, "complaints", "complaint")

    def _inspection(self, record: JobRecord) -> tuple[Inspected, ...]:
        graded = ({n: getattr(i, n) for n in Inspected.model_fields} for i in record.inspections.all())
        return self._parts(Inspected, graded, "inspection", "inspection")

    def _state(self, row: LoadState) -> JobState | None:
        pads, items = (row.fl_kg, row.fr_kg, row.rl_kg, row.rr_kg), list(row.items.all())
        told = {name: getattr(row, name) for name in OF_STATE}
        told["corners_kg"] = None if None in pads else pads
        stood = f"how it stood in “{row.name}”"
        told["condition"] = self._part(Condition, row.condition, "condition", stood, row.key) if row.condition else None
        words = f"“{row.name}”"
        told["items"] = self._parts(
            LoadItem,
            (
                {"name": i.name, "mass_kg": i.mass_kg or 0.0, "height_m": i.height_m, "movable": i.movable, **_place(i)}
                for i in items
                if i.kind == "item"
            ),
            "items",
            words,
            row.key,
        )
        told["tanks"] = self._parts(
            Tank,
            (
                {"name": i.name, "capacity_l": i.capacity_l or 1.0, "fill": i.fill, "kg_per_l": i.kg_per_l, **_place(i)}
                for i in items
                if i.kind == "tank"
            ),
            "tanks",
            words,
            row.key,
        )
        told["people"] = self._parts(
            People,
            ({"count": i.count, "mass_kg": i.mass_kg or 75.0, **_place(i)} for i in items if i.kind == "people"),
            "people",
            words,
            row.key,
        )
        told["trailer_items"] = self._parts(
            TrailerItem,
            ({"name": t.name, "mass_kg": t.mass_kg, "behind_ball_m": t.behind_ball_m} for t in row.trailer_items.all()),
            "trailer_items",
            words,
            row.key,
        )
        return self._part(JobState, told, "states", words, row.key)

    def _reading(self, row: Reading, key: str, vehicle: JobVehicle) -> JobReading | None:
        assert row.value_m is not None
        if row.datum == "ground_point" and row.place not in {p.key for p in vehicle.points}:
            self.unfit.append(Unfit(f"a reading at “{row.where}”", "the vehicle has no such point any more", "measure"))
            return None
        told = {
            "state": key,
            "phase": row.phase,
            "datum": row.datum,
            "place": row.place,
            "value_m": round(row.value_m - row.floor_m, DIGITS),
            "resolution_m": min(max(row.step_m, 1e-5), 0.05),
            "floor_m": row.floor_m,
            "friction_m": row.friction_m,
            "instrument": row.instrument,
            "note": row.note,
            "text": row.text,
            "unit": row.unit,
            "by": row.reader,
            "at": row.at,
            "setting": row.setting,
            "twice": row.flag == "twice",
            "unsettled": row.unsettled,
            "told_gain_m": row.told_gain_m,
            "repeats_m": tuple(row.repeats),
        }
        if row.under_front_kg is not None and row.under_rear_kg is not None:
            told |= {"under_kg": (row.under_front_kg, row.under_rear_kg), "under_basis": row.under_basis}
        elif row.under_basis == "none":
            told["under_basis"] = "none"
        return self._part(JobReading, told, "readings", f"the reading {row.text or row.value_m} at {row.where}")

    def _fitting(self, row: FittingRecord) -> Fitting | None:
        try:
            kit = kit_of(json.dumps(row.kit))
        except FileFormatError as error:
            self.unfit.append(Unfit("the kit on the job", str(error), "choose"))
            return None
        told: dict[str, Any] = {"kit": kit, "state": row.state_key, "done": row.done, "ruled_out": tuple(row.ruled_out)}
        told["overruled"] = dict(row.overruled)
        told["card"] = self._parts(CardMark, row.card, "fit", "a step of the card")
        told["as_set"] = self._part(AsSet, row.as_set, "fitting", "who set it") if row.as_set else None
        told["ordered"] = self._part(Ordered, row.ordered, "fitting", "what was ordered") if row.ordered else None
        told["learnt"] = self._parts(Learnt, row.learnt, "fit", "what was learnt")
        told["setting"] = {name: pair for name, pair in row.setting.items() if None not in pair}
        return self._part(Fitting, told, "fitting", "the setting")


def _beyond(vehicle: Vehicle) -> dict[str, Any]:
    """Return what no form shows, its rear group standing where the wheelbase says: one corrected later moves the whole group."""
    told, group = dict(vehicle.beyond), vehicle.beyond.get("rear_group")
    stations = group.get("stations") if isinstance(group, dict) else None
    if (
        isinstance(group, dict)
        and stations
        and vehicle.wheelbase_m is not None
        and all(isinstance(s, (int, float)) for s in stations)
    ):
        told["rear_group"] = group | {"stations": [s - stations[0] + vehicle.wheelbase_m for s in stations]}
    return told


DIGITS = 9
"""Heights go out and come in to the nanometre, so that a file read back and written again is the same to the last digit."""


def latest_readings(record: JobRecord) -> list[Reading]:
    """Return the standing reading of each cell at each setting of the kits: the last one entered, unless it was withdrawn."""
    standing = {(r.state_id, r.phase, r.datum, r.place, r.setting): r for r in record.readings.all()}
    return [r for r in standing.values() if r.value_m is not None]


OF_STATE = tuple(f.name for f in LoadState._meta.concrete_fields if f.name in JobState.model_fields)
"""A state's facts, named alike in the core and in its record."""
OF_JOB = tuple(
    f.name
    for f in JobRecord._meta.concrete_fields
    if f.name in declared(Job) and f.name not in ("vehicle", "complaints")
)
"""A job's own facts, likewise; complaints stand beside what became of them."""
SHEETS = tuple(name for name, one in declared(Job).items() if not one.part and name not in (*OF_JOB, "complaints"))
"""Those without a column: kept among its sheets, each by its name."""


def _of_shop(record: JobRecord) -> dict[str, Any]:
    """Return what the shop says of every job, where it was read with it (see `load_record`)."""
    told = getattr(record, "shop_told", None) or {}
    if told.get("hour") is None:
        return {}
    return {"hour_price": told["hour"], "noses": {kind: (told[f"{kind}_from"], told[f"{kind}_to"]) for kind in WINDOWS}}


def _stored(record: JobRecord) -> dict[str, Any]:
    """Return a job's own facts as they are stored; of its sheets those that are there."""
    return {name: getattr(record, name) for name in OF_JOB} | {
        n: record.sheets[n] for n in SHEETS if record.sheets.get(n)
    }


def _place(item: LoadItemRecord) -> dict[str, float]:
    return {"station_m": item.station_m, "lateral_m": item.lateral_m}
