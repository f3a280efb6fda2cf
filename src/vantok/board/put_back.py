"""Putting a change back: one field, a removed record, or a cell's earlier reading; nothing else moves with it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import Any, cast

from django.http import Http404

from vantok.board.history import KINDS, label, of_job, shown
from vantok.board.within import KEY_WORDS, WITHIN, entry_mark, entry_words
from vantok.desk.actions import change
from vantok.desk.opening import free_key
from vantok.desk.readings import Cell, put_reading, standing
from vantok.people.models import User
from vantok.people.rights import RefusedError, demand, right_to_change
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Inspection, Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadItem, LoadState, TrailerItem
from vantok.stages.inspect.actions import record_inspection
from vantok_core.base.errors import InputError
from vantok_core.base.units import System


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """What is to be put back: the kind of record, the history's row, the field (empty: a record that was removed), and why."""

    kind: str
    id: int
    field: str = ""
    path: str = ""
    reason: str = ""


def put_back(user: User, pk: int, asked: Asked) -> str:
    """Put one field back as it was, a removed record back in, or a cell back to an earlier reading; say what was done.

    Only what was asked for changes: what was changed since in other fields stands. Raises InputError with why it cannot be,
    RefusedError where this person may not change it, Http404 for what is no part of the job's history.
    """
    if asked.kind == "reading":
        return _reading_back(user, pk, asked)
    if asked.kind not in KINDS:
        raise Http404
    if (asked.kind, asked.field) in WITHIN and not asked.path:
        raise Http404  # what holds several things is put back one by one
    right = right_to_change(asked.kind, asked.field, asked.path.partition("/")[0])
    if right is None:
        raise RefusedError("Nobody puts that back: it has its own place, or none.")
    with change(user, pk, right) as job:
        row = of_job(job)[asked.kind].filter(history_id=asked.id).first()
        if row is None:
            raise Http404
        if row.history_type == "-" or not asked.field:
            demand(user, right_to_change(asked.kind) or "")
            return _record_back(user, job, asked.kind, row)
        record = KINDS[asked.kind].objects.filter(pk=row.id).first()
        if record is None:
            raise InputError(asked.kind, str(row.instance), "it was removed since; put the removal back first")
        old = getattr(row, _attribute(asked.kind, asked.field))
        if asked.path:
            return _part_back(record, asked, old, cast("System", user.units))
        if asked.kind == "inspection":
            told = {name: getattr(record, name) for name in GRADED} | {asked.field: old}
            record_inspection(user, job, record.area, told)
        else:
            setattr(record, asked.field, old)
            record.full_clean(validate_unique=True)
            record.save()
    now = shown(asked.kind, asked.field, getattr(row, asked.field), cast("System", user.units))
    return f"Put back: {label(asked.kind, asked.field)} is {now} again."


GRADED = ("grade", "note", "overruled", "where", "after", "after_note")
"""What a graded area says: put back by the same way as it is written, so that the same rights hold."""


def _part_back(record: Any, asked: Asked, old: Any, units: System) -> str:
    """Put one thing back in a field that holds several: a key, or one entry of a list by its mark; the rest stands. Raises InputError for nothing to do."""
    key, _, mark = asked.path.partition("/")
    now = dict(getattr(record, asked.field) or {})
    before, words = (old or {}).get(key), KEY_WORDS.get(key, key.replace("_", " "))
    if mark:
        now[key], said = _entry_back(now.get(key) or [], before or [], mark, words, units)
    else:
        now.pop(key, None)
        now |= {} if before in (None, "", [], {}) else {key: before}
        said = f"Put back: {words}."
    setattr(record, asked.field, now)
    record.full_clean(validate_unique=True)
    record.save()
    return said


def _entry_back(now: list[Any], before: list[Any], mark: str, words: str, units: System) -> tuple[list[Any], str]:
    """Return a list with one entry as it was before, and what was done. Raises InputError for one that is in neither."""
    place = next((n for n, one in enumerate(now) if entry_mark(one) == mark), None)
    then = next((one for one in before if entry_mark(one) == mark), None)
    if then is None and place is None:
        raise InputError(words, mark, "it is not there any more")
    if then is None and place is not None:
        return [*now[:place], *now[place + 1 :]], f"Taken off: {words}, {entry_words(now[place], units)}."
    entries = [*now, then] if place is None else [*now[:place], then, *now[place + 1 :]]
    return entries, f"Put back: {words}, {entry_words(then, units)}."


def _attribute(kind: str, field: str) -> str:
    if field not in {f.name for f in KINDS[kind]._meta.concrete_fields}:
        raise Http404
    return field


def _record_back(user: User, job: Job, kind: str, row: Any) -> str:
    """Put a removed record back in, with what was removed along with it."""
    model = KINDS[kind]
    if model.objects.filter(pk=row.id).exists():
        raise InputError(kind, str(row.instance), "it is there already")
    if kind in ("item", "trailer") and not LoadState.objects.filter(pk=row.state_id, job=job).exists():
        raise InputError(kind, str(row.instance), "its state was removed too; put the state back first")
    if kind == "inspection" and Inspection.objects.filter(job=job, area=row.area).exists():
        raise InputError(kind, row.area, "this area was graded anew since; change it on the sheet")
    record = row.instance
    if kind == "inspection":
        record_inspection(user, job, row.area, {name: getattr(record, name) for name in GRADED})
        return f"Put back: {record}."
    if kind == "fitting":
        _room_for(job, record)
    if kind == "state" and LoadState.objects.filter(job=job, key=record.key).exists():
        record.key = free_key(job, record.name)
    record.save(force_insert=True)
    if kind == "state":
        for things in (LoadItem, TrailerItem):
            for gone in things.history.filter(
                state_id=row.id, history_type="-", history_date__gte=row.history_date - TOGETHER
            ):
                gone.instance.save(force_insert=True)
    return f"Put back: {record}."


def _room_for(job: Job, kit: Fitting) -> None:
    """Make room for a kit that goes back on: the one in its place, if it is the last, goes into the history in its turn. Raises InputError
    where others went on after it."""
    count = Fitting.objects.filter(job=job).count()
    if kit.order < count - 1:
        raise InputError("fitting", str(kit), "others went on after it: take those off first")
    Fitting.objects.filter(job=job, order=kit.order).delete()
    kit.order = min(kit.order, count)


TOGETHER = timedelta(seconds=5)
"""What was removed this shortly before its state went with it."""


def _reading_back(user: User, pk: int, asked: Asked) -> str:
    """Put a cell back to an earlier reading, as a new one above the others."""
    old = Reading.objects.filter(job_id=pk, pk=asked.id).select_related("state").first()
    if old is None:
        raise Http404
    cell = Cell(state=old.state, phase=old.phase, datum=old.datum, place=old.place)
    last = standing(pk, cell)
    same = {
        n: getattr(old, n)
        for n in (
            "value_m",
            "step_m",
            "floor_m",
            "friction_m",
            "instrument",
            "note",
            "text",
            "unit",
            "told_by",
            "setting",
        )
    }
    put_reading(user, pk, cell, Reading(**same), seen=last.pk if last else 0, reason=asked.reason)
    return f"Put back: {old.text or 'no reading'}."
