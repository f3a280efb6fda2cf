"""The history of a job across its records."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, cast

from django.utils.timezone import localtime

from vantok.board.within import WITHIN, figure, within
from vantok.people.models import User
from vantok.people.rights import may, right_to_change
from vantok.records.choose.models import Fitting
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import USES, Inspection, Job
from vantok.records.measure.models import Photo, Reading
from vantok.records.weigh.models import LoadItem, LoadState, TrailerItem
from vantok_core.aims.aim import AIMS
from vantok_core.aims.complaints import COMPLAINT_WORDS
from vantok_core.base.units import System, show
from vantok_core.facts.fitting import Ordered
from vantok_core.judge.listen.inspect import AREAS
from vantok_core.judge.prove.after_causes import CAUSES
from vantok_core.kits.choice import WEIGHT_WORDS
from vantok_core.kits.registry import SETTINGS
from vantok_core.kits.wishes import WISHES


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One change: when, who, what, from what to what; kind, id, field and path for putting it back (empty when it cannot be), and what that would do."""

    when: datetime
    who: str
    what: str
    old: str
    new: str
    kind: str = ""
    id: int = 0
    field: str = ""
    path: str = ""
    undo: str = ""


KINDS: dict[str, Any] = {
    "job": Job,
    "photo": Photo,
    "vehicle": Vehicle,
    "state": LoadState,
    "item": LoadItem,
    "trailer": TrailerItem,
    "fitting": Fitting,
    "inspection": Inspection,
}


def of_job(job: Job) -> dict[str, Any]:
    """Return the history of each kind of record that a job has, those that are gone too."""
    states = LoadState.history.filter(job_id=job.pk).values("id")  # those that are gone too
    return {
        "job": Job.history.filter(id=job.pk),
        "photo": Photo.history.filter(job_id=job.pk),
        "vehicle": Vehicle.history.filter(id=job.vehicle_id),
        "state": LoadState.history.filter(job_id=job.pk),
        "item": LoadItem.history.filter(state_id__in=states),
        "trailer": TrailerItem.history.filter(state_id__in=states),
        "fitting": Fitting.history.filter(job_id=job.pk),
        "inspection": Inspection.history.filter(job_id=job.pk),
    }


def changes(job: Job, person: User | None = None, most: int = 200) -> list[Change]:
    """Return a job's changes, the latest first, in the reader's units; each that the person may put back says what that would do."""
    units = cast("System", person.units) if person else "metric"
    found: list[Change] = []
    for kind, records in of_job(job).items():
        rows = list(records.select_related("history_user").order_by("id", "history_date", "history_id")[: 4 * most])
        before: dict[Any, Any] = {}
        for row in rows:
            found += _changes_of(kind, before.get(row.id), row, units)
            before[row.id] = row
    found += _readings(job)
    latest = sorted(found, key=lambda c: c.when, reverse=True)[:most]
    return [c if _may(person, c) else replace(c, kind="", undo="") for c in latest]


def _may(person: User | None, one: Change) -> bool:
    """Tell whether a person may put a change back (nobody named: whoever may)."""
    right = right_to_change(one.kind, one.field, one.path.partition("/")[0])
    return right is not None and (person is None or may(person, right))


def _changes_of(kind: str, old: Any, row: Any, units: System) -> list[Change]:
    named = str(row.kit.get("name", "")) if kind == "fitting" else str(getattr(row, "name", ""))
    area = str(getattr(row, "area", ""))
    words = {
        "state": "state",
        "item": "item",
        "trailer": "on the trailer:",
        "fitting": "kit and setting",
        "inspection": "inspection",
        "photo": "photograph",
    }
    name = (
        f"{words.get(kind, kind)} {named or getattr(row, 'caption', '') or (AREAS[area].words.split(':')[0] if area in AREAS else area)}".strip()
        if kind in words
        else kind
    )
    who = str(row.history_user or "the program")
    common = {"when": row.history_date, "who": who}
    if row.history_type == "+" or (old is None and row.history_type == "~"):
        return [Change(**common, what=name, old="", new="entered")]
    if row.history_type == "-":
        return [
            Change(**common, what=name, old="", new="removed", kind=kind, id=row.history_id, undo=f"puts {name} back")
        ]
    delta = row.diff_against(old)
    found: list[Change] = []
    for c in delta.changes:
        same = common | {"kind": kind, "id": old.history_id, "field": c.field}
        if (kind, c.field) in WITHIN:
            found += [
                Change(**same, what=f"{name}: {one.words}", old=one.old, new=one.new, path=one.path, undo=one.undo)
                for one in within(c.old, c.new, units)
            ]
            continue
        before, now = shown(kind, c.field, c.old, units), shown(kind, c.field, c.new, units)
        found.append(
            Change(
                **same,
                what=f"{name}: {label(kind, c.field)}",
                old=before,
                new=now,
                undo=f"{label(kind, c.field)} back to {before}",
            )
        )
    return found


def label(kind: str, field: str) -> str:
    """Return what a field is called."""
    return str(getattr(KINDS[kind]._meta.get_field(field), "verbose_name", field))


PHASE_WORDS = {"before": "before", "after": "with the kit", "off": "what was on taken off"}
CODES: Mapping[str, str] = {
    **COMPLAINT_WORDS,
    **dict(USES),
    **{wish: words for wish, words in WISHES.items()},
    **{cause.key: cause.words for cause in CAUSES},
    **{key: aim.words for key, aim in AIMS.items()},
}


def shown(kind: str, field: str, value: Any, units: System) -> str:
    """Return a value as a person reads it: figures in their units, codes by their words."""
    if value in (None, "", [], {}) or isinstance(value, bool):
        return {True: "yes", False: "no"}.get(value, "unknown") if isinstance(value, bool) else "unknown"
    if kind == "fitting" and field == "setting":
        return "; ".join(_set_to(name, pair, units) for name, pair in value.items())
    if isinstance(value, (dict, list)):
        return _listed(field, value)
    if isinstance(value, (int, float)):
        return figure(field, float(value), units)
    if isinstance(value, datetime):
        return f"{localtime(value):%-d %b %Y %H:%M}"
    return str(dict(KINDS[kind]._meta.get_field(field).flatchoices).get(value, value))


def _listed(field: str, value: Any) -> str:
    """Return a list, or a record within a record, in words."""
    if field == "ordered":
        return Ordered(**value).told
    if field == "weights":
        return ", ".join(f"{WEIGHT_WORDS[name]} {100 * weight:.0f} %" for name, weight in value.items())
    if isinstance(value, dict) and all(isinstance(on, bool) for on in value.values()):
        return ", ".join(f"{'with' if on else 'without'} {CODES.get(name, name)}" for name, on in value.items())
    told = [value.get("name") or value.get("what", "…")] if isinstance(value, dict) else value
    return ", ".join(CODES.get(v, v) if isinstance(v, str) else _one(v) for v in told)


def _one(value: Any) -> str:
    """Return one thing of a list: what was fitted, else that there is one."""
    return (
        f"{value['kind'].replace('_', ' ')} {value['fitted']}" if isinstance(value, dict) and "fitted" in value else "…"
    )


def _set_to(name: str, pair: list[float | None], units: System) -> str:
    """Return one thing a kit is set by, in words, left and right."""
    field = SETTINGS.get(name)
    sides = ["not entered" if v is None else show(field.kind, v, units) if field else f"{v:g}" for v in pair]
    return f"{field.words if field else name} {' and '.join(sides)}"


def _typed(reading: Reading) -> str:
    """Return a height as it was typed, with its unit where only a figure was."""
    bare = reading.text and not any(c.isalpha() or c in "'\"′″" for c in reading.text)
    return f"{reading.text}\u00a0{reading.unit}" if bare else reading.text


def _readings(job: Job) -> list[Change]:
    found: list[Change] = []
    before: dict[tuple[Any, ...], Reading] = {}
    for r in Reading.objects.filter(job=job).select_related("by", "state").order_by("pk"):
        cell = (r.state_id, r.phase, r.datum, r.place, r.setting)
        old = before.get(cell)
        gone = (_typed(old) or "no reading") if old else ""
        what = f"{r.state.name}, {PHASE_WORDS[r.phase]}: {r.get_datum_display()}, {r.where}"
        found.append(
            Change(
                when=r.at,
                who=r.reader,
                what=what,
                old=_typed(old) if old else "",
                new=(_typed(r) or "withdrawn") + (f" ({r.reason})" if r.reason else ""),
                kind="reading" if old else "",
                id=old.pk if old else 0,
                undo=f"reads {gone} again" if old else "",
            )
        )
        before[cell] = r
    return found
