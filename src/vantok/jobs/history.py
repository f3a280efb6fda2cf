"""The history of a job across its records, and putting a change back."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import models, transaction
from django.http import Http404

from vantok.choose.models import Fitting
from vantok.garage.models import Vehicle
from vantok.jobs.desk import refresh
from vantok.jobs.models import Inspection, Job
from vantok.measure.models import Photo, Reading
from vantok.people.models import User
from vantok.weigh.models import LoadItem, LoadState, TrailerItem


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One change: when, who, what, from what to what; kind and id for putting it back (empty when it cannot be)."""

    when: datetime
    who: str
    what: str
    old: str
    new: str
    kind: str = ""
    id: int = 0


KINDS: dict[str, type[models.Model]] = {
    "job": Job, "photo": Photo, "vehicle": Vehicle, "state": LoadState, "item": LoadItem, "trailer": TrailerItem, "fitting": Fitting, "inspection": Inspection,
}  # fmt: skip


def _of_job(job: Job) -> dict[str, Any]:
    return {
        "job": Job.history.filter(id=job.pk),
        "photo": Photo.history.filter(job_id=job.pk),
        "vehicle": Vehicle.history.filter(id=job.vehicle_id),
        "state": LoadState.history.filter(job_id=job.pk),
        "item": LoadItem.history.filter(state__job_id=job.pk),
        "trailer": TrailerItem.history.filter(state__job_id=job.pk),
        "fitting": Fitting.history.filter(job_id=job.pk),
        "inspection": Inspection.history.filter(job_id=job.pk),
    }


def changes(job: Job, most: int = 200) -> list[Change]:
    """Return a job's changes, the latest first."""
    found: list[Change] = []
    for kind, records in _of_job(job).items():
        rows = list(records.select_related("history_user").order_by("id", "history_date", "history_id")[: 4 * most])
        before: dict[Any, Any] = {}
        for row in rows:
            found += _changes_of(kind, before.get(row.id), row)
            before[row.id] = row
    found += _readings(job)
    return sorted(found, key=lambda c: c.when, reverse=True)[:most]


def _changes_of(kind: str, old: Any, row: Any) -> list[Change]:
    named = str(getattr(row, "name", ""))
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
        return [Change(**common, what=name, old="", new="removed", kind=kind, id=row.history_id)]
    delta = row.diff_against(old)
    return [
        Change(
            **common,
            what=f"{name}: {_label(kind, c.field)}",
            old=_shown(c.old),
            new=_shown(c.new),
            kind=kind,
            id=old.history_id,
        )
        for c in delta.changes
    ]


def _label(kind: str, field: str) -> str:
    return str(getattr(KINDS[kind]._meta.get_field(field), "verbose_name", field))


def _shown(value: Any) -> str:
    if value in (None, "", []):
        return "unknown"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.4g}"
    if isinstance(value, dict):
        return str(value.get("name", "…"))
    return ", ".join(str(v) for v in value) if isinstance(value, list) else str(value)


def _readings(job: Job) -> list[Change]:
    found: list[Change] = []
    before: dict[tuple[Any, ...], Reading] = {}
    for r in Reading.objects.filter(job=job).select_related("by", "state").order_by("pk"):
        cell = (r.state_id, r.phase, r.datum, r.place)
        old = before.get(cell)
        what = (
            f"{r.state.name}, {'with the kit' if r.phase == 'after' else 'before'}: {r.get_datum_display()}, {r.where}"
        )
        found.append(
            Change(
                when=r.at,
                who=str(r.by or ""),
                what=what,
                old=old.text if old else "",
                new=r.text or "withdrawn",
                kind="reading" if old else "",
                id=old.pk if old else 0,
            )
        )
        before[cell] = r
    return found


@transaction.atomic
def put_back(user: User, job: Job, kind: str, identity: str) -> str:
    """Put a record back as it was in a history row, or a cell back to an earlier reading; say what was done."""
    if not identity.isdigit():
        raise Http404
    if kind == "reading":
        old = Reading.objects.filter(job=job, pk=int(identity)).first()
        if old is None:
            raise Http404
        Reading.objects.create(
            job=job, state=old.state, phase=old.phase, datum=old.datum, place=old.place, value_m=old.value_m, step_m=old.step_m,
            floor_m=old.floor_m, friction_m=old.friction_m, instrument=old.instrument, note=old.note, text=old.text, unit=old.unit,
            by=user,
        )  # fmt: skip
        refresh(job)
        return f"Put back: {old.text or 'no reading'}."
    row = _of_job(job)[kind].filter(history_id=int(identity)).first() if kind in KINDS else None
    if row is None:
        raise Http404
    row.instance.save()
    refresh(job)
    return "Put back as it was."
