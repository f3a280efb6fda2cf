"""The history of a job across its records."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, cast

from django.utils.timezone import localtime

from vantok.people.models import User
from vantok.people.rights import may, right_to_change
from vantok.records.choose.models import Fitting
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import COMPLAINTS, USES, Inspection, Job
from vantok.records.measure.models import Photo, Reading
from vantok.records.weigh.models import LoadItem, LoadState, TrailerItem
from vantok_core.base.units import System, show
from vantok_core.judge.after_causes import CAUSES
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


WITHIN = {("job", "proving"), ("job", "sheets"), ("vehicle", "beyond")}
"""Fields that hold several facts, each with a key of its own: they change, and are put back, by what changed in them."""
KINDS: dict[str, Any] = {
    "job": Job, "photo": Photo, "vehicle": Vehicle, "state": LoadState, "item": LoadItem, "trailer": TrailerItem, "fitting": Fitting, "inspection": Inspection,
}  # fmt: skip


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
    words = {
        "state": "state",
        "item": "item",
        "trailer": "on the trailer:",
        "fitting": "kit and setting",
        "inspection": "inspection",
        "photo": "photograph",
    }
    name = (
        f"{words.get(kind, kind)} {named or getattr(row, 'caption', '') or getattr(row, 'area', '')}".strip()
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Within:
    """A change of one thing in a field that holds several: its path (key, and the entry's mark in a list), in words, from what to what."""

    path: str
    words: str
    old: str
    new: str
    undo: str


def within(old: Any, new: Any, units: System) -> list[Within]:
    """Return what changed in a field that holds several things, key by key and, in a list, entry by entry."""
    before, now = old or {}, new or {}
    found: list[Within] = []
    for key in dict.fromkeys([*before, *now]):
        was, is_now, words = before.get(key), now.get(key), KEY_WORDS.get(key, key.replace("_", " "))
        if was == is_now or (not was and not is_now):
            continue
        if isinstance(was or is_now, list):
            found += _entries(key, words, was or [], is_now or [], units)
        else:
            told = _fact(key, was, units)
            found.append(
                Within(path=key, words=words, old=told, new=_fact(key, is_now, units), undo=f"{words} back to {told}")
            )
    return found


def _entries(key: str, words: str, was: list[Any], now: list[Any], units: System) -> list[Within]:
    """Return the entries of a list that were added, taken off or changed, each by its mark."""
    old, new = {entry_mark(e): e for e in was}, {entry_mark(e): e for e in now}
    found = []
    for mark in dict.fromkeys([*old, *new]):
        before, after = old.get(mark), new.get(mark)
        if before == after:
            continue
        one = entry_words(before or after, units)
        undo = f"takes off {words}: {one}" if before is None else f"puts {words} back as: {entry_words(before, units)}"
        found.append(
            Within(
                path=f"{key}/{mark}",
                words=words,
                old=entry_words(before, units) if before else "",
                new=entry_words(after, units) if after else "taken off",
                undo=undo,
            )
        )
    return found


def entry_mark(entry: Any) -> str:
    """Return what an entry of a list is known by: its own key, else a digest of all it says."""
    if isinstance(entry, dict) and entry.get("key"):
        return str(entry["key"])
    return hashlib.sha256(json.dumps(entry, sort_keys=True).encode()).hexdigest()[:12]


KEY_WORDS = {
    "leaks": "leak test", "clearances": "clearance", "drives": "drive", "loops": "one change", "benches": "bench answer", "roads": "setting by road",
    "front_wheel_kg": "front wheel rating", "rear_wheel_kg": "rear wheel rating", "front_tyre_most_pa": "front tyres' highest pressure",
    "rear_tyre_most_pa": "rear tyres' highest pressure", "own": "own figures", "meant": "what was meant", "pushes": "push test", "levels": "level by phone",
    "aligned": "alignment sheet", "aligned_after": "alignment sheet after", "front_overhang_m": "front overhang",
}  # fmt: skip
SAYS = (
    "side", "moment", "what", "where", "found", "bubbles", "p1_pa", "p2_pa", "course", "rater", "outcome", "stays", "road", "said", "words", "axle", "file",
    "start_m", "end_m", "name", "text", "at_m", "value_m",
)  # fmt: skip
"""What of an entry is told in the history, in this order."""


def entry_words(entry: Any, units: System) -> str:
    """Return an entry of a list in a line."""
    if not isinstance(entry, dict):
        return _fact("", entry, units)
    told = [
        _fact(name, entry[name], units).replace("_", " ") for name in SAYS if entry.get(name) not in (None, "", [], {})
    ]
    return ", ".join(told)[:120] or "as it was"


def _fact(name: str, value: Any, units: System) -> str:
    """Return one figure or word of a field that holds several."""
    if value in (None, "", [], {}):
        return "unknown"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, (int, float)):
        return _figure(name, float(value), units)
    if isinstance(value, dict):
        return ", ".join(f"{k.replace('_', ' ')} {_fact(k, v, units)}" for k, v in list(value.items())[:6])
    if isinstance(value, list):
        return f"{len(value)} in all"
    return str(value)


def label(kind: str, field: str) -> str:
    """Return what a field is called."""
    return str(getattr(KINDS[kind]._meta.get_field(field), "verbose_name", field))


PHASE_WORDS = {"before": "before", "after": "with the kit", "off": "what was on taken off"}
CODES = dict(COMPLAINTS) | dict(USES) | dict(WISHES) | {cause.key: cause.words for cause in CAUSES}
KIND_OF = {"_kg": "mass", "_m": "length", "_pa": "pressure", "_l": "volume", "_n_per_m": "rate"}
"""What a figure is, by the end of its field's name."""
SHARES = ("share", "restored", "fill")


def shown(kind: str, field: str, value: Any, units: System) -> str:
    """Return a value as a person reads it: figures in their units, codes by their words."""
    if value in (None, "", [], {}) or isinstance(value, bool):
        return {True: "yes", False: "no"}.get(value, "unknown") if isinstance(value, bool) else "unknown"
    if kind == "fitting" and field == "setting":
        return "; ".join(_set_to(name, pair, units) for name, pair in value.items())
    if isinstance(value, (dict, list)):
        return _listed(field, value)
    if isinstance(value, (int, float)):
        return _figure(field, float(value), units)
    if isinstance(value, datetime):
        return f"{localtime(value):%-d %b %Y %H:%M}"
    return str(dict(KINDS[kind]._meta.get_field(field).flatchoices).get(value, value))


def _listed(field: str, value: Any) -> str:
    """Return a list, or a record within a record, in words."""
    if field == "weights":
        return ", ".join(f"{WEIGHT_WORDS[name]} {100 * weight:.0f} %" for name, weight in value.items())
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


def _figure(field: str, value: float, units: System) -> str:
    measured = next((k for end, k in KIND_OF.items() if field.endswith(end)), None)
    if measured is None and field in SHARES:
        measured = "percent"
    return f"{value:g}" if measured is None else show(measured, value, units)


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
