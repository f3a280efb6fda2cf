"""Storing a height: read as typed, held against what the person saw, stamped with the load and setting of its time."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from django.http import QueryDict

from vantok.desk.actions import begin_work, change
from vantok.desk.load import Desk
from vantok.desk.typed import reading_of
from vantok.people.models import User
from vantok.people.rights import RefusedError, may
from vantok.records.jobs.models import Job
from vantok.records.measure.models import INSTRUMENTS, Reading
from vantok.records.weigh.models import LoadState
from vantok_core.base.names import WALK
from vantok_core.base.units import System
from vantok_core.facts import Job as JobFacts
from vantok_core.loads.plan import gain_of
from vantok_core.readings.floor import OPPOSITE
from vantok_core.readings.tape import drifts


@dataclass(frozen=True, slots=True, kw_only=True)
class Cell:
    """A cell of the measuring sheet."""

    state: LoadState
    phase: str
    datum: str
    place: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Aside:
    """What goes with a reading: the instrument it was taken with, a note, why a baseline is changed after work began, and whether the place is
    read again (said so) rather than a figure corrected."""

    instrument: str = ""
    note: str = ""
    reason: str = ""
    again: bool = False


def aside_of(told: QueryDict) -> Aside:
    """Return what a form tells beside a reading."""
    words = {name: told.get(name, "") for name in ("instrument", "note", "reason")}
    return Aside(**words, again=told.get("again") == "1")


class ConflictError(Exception):
    """Somebody else wrote into the cell since it was shown; `standing` is their reading."""

    def __init__(self, standing: Reading) -> None:
        super().__init__("the cell has changed")
        self.standing = standing


class LockedError(RefusedError):
    """The baseline stands since work on the vehicle began; `may`: whether this person may change it with a reason."""

    def __init__(self, *, may_change: bool, read: bool = True) -> None:
        end = (
            "Say why to change it; both figures stand in the report."
            if may_change
            else "The lead can change it, with a reason."
        )
        if not read:
            end = f"What is read now is not how it came. {'Say why it counts as such.' if may_change else 'The lead can enter it, with a reason.'}"
        super().__init__(f"The baseline stands since work began. {end}")
        self.may_change = may_change


APART = 0.003
"""Two readings of one place that lie further apart (m) are read once more."""
AGAIN = 0.003
"""A second reading of a place this near to the first (m) answers the doubt about it."""


def standing(job_id: int, cell: Cell) -> Reading | None:
    """Return the last reading of a cell, withdrawn or not."""
    found = Reading.objects.filter(
        job_id=job_id, state=cell.state, phase=cell.phase, datum=cell.datum, place=cell.place
    )
    return found.select_related("by").order_by("-pk").first()


def record_reading(
    user: User, job_id: int, cell: Cell, text: str, *, seen: int, token: str = "", aside: Aside | None = None
) -> Reading | None:
    """Store what was typed into a cell; empty text withdraws the reading; `745 to 751` is pressed and lifted.

    `seen`: id of the reading the person had before them (0: none); `token`: the browser's name for this entry, so that one
    sent again after a dropped connection counts once. Raises UnitError for text that is no length, ConflictError when
    the cell changed under the hand, LockedError for a baseline that stands, RefusedError on a job that was handed over.
    Nothing here asks the model: a reading is stored whatever can be made of it.
    """
    text = text.strip()
    if token and (again := Reading.objects.filter(job_id=job_id, token=token).first()):
        if again.text == text:
            return again
        token = ""  # the same form once more, with another figure in it
    read = reading_of(text, cast("System", user.units), cell.datum) if text else Reading(value_m=None, text="", unit="")
    told = aside or Aside()
    read.token, read.note = token, told.note[:200]
    read.instrument = told.instrument if told.instrument in dict(INSTRUMENTS) else ""
    read.again = told.again
    return put_reading(user, job_id, cell, read, seen=seen, reason=told.reason)


def put_reading(user: User, job_id: int, cell: Cell, read: Reading, *, seen: int, reason: str = "") -> Reading | None:
    """Put a reading on top of its cell, under the lock; None for a withdrawal where nothing stands. Raises as `record_reading`."""
    with change(user, job_id, "measure", facts=False) as job:
        if read.token and (again := Reading.objects.filter(job_id=job_id, token=read.token).first()):
            return again  # two pages sent it at once
        last = standing(job_id, cell)
        if last is not None and last.pk != seen:
            return _their_own(user, last, read)
        if read.value_m is None and last is None:
            return None
        _demand_moment(user, job, cell, reason, read=last is not None)
        read.job, read.state, read.by = job, cell.state, user
        _stamped(Desk.look(job.pk).facts.job, cell, read)
        read.phase, read.datum, read.place = cell.phase, cell.datum, cell.place
        read.reason = reason.strip()[:200] if job.began else ""
        read.floor_m = read.floor_m or floor_of(job, cell.datum, cell.place)
        read.flag = "twice" if _same_again(last, read) else ""
        read.unsettled = _unsettled(job, cell, read)
        read.full_clean(
            exclude=[
                "job",
                "state",
                "by",
                "value_m",
                "friction_m",
                "text",
                "unit",
                "under_front_kg",
                "under_rear_kg",
                "told_gain_m",
                "repeats",
            ]
        )
        read.save()
        if cell.phase == "after":
            begin_work(job)
    return read


def _their_own(user: User, last: Reading, read: Reading) -> Reading:
    """Return what stands where it is a person's own same figure, from another page of theirs. Raises ConflictError for any other."""
    if last.by_id == user.pk and last.text == read.text and read.text:
        return last
    raise ConflictError(last)


def _demand_moment(user: User, job: Job, cell: Cell, reason: str, *, read: bool) -> None:
    """Raise RefusedError for a height with the kit on a job without one, LockedError for a baseline once the work began (see `_unlock`)."""
    if cell.phase == "after" and not job.fittings.exists():
        raise RefusedError("There is no kit on this job: a height with the kit is read once one is on it.")
    if cell.phase == "before" and job.began is not None:
        _unlock(user, reason, read=read)


def _stamped(facts: JobFacts, cell: Cell, read: Reading) -> None:
    """Note under which load, and at which setting of the kit, a height is read: it is never paired with another one."""
    state = facts.state(cell.state.key)
    gain = gain_of(facts, state) if state is not None and not state.empty else None
    read.under_basis = "none"
    if gain is not None:
        (read.under_front_kg, read.under_rear_kg), read.under_basis = gain
    if not read.setting:
        shown = facts.read(cell.state.key, cell.place, cell.datum, cell.phase)
        withdrawn = read.value_m is None and shown is not None
        read.setting = shown.setting if withdrawn and shown else facts.mark_of(cell.phase)


def stamp_loads(job: Job, state: LoadState | None = None) -> None:
    """Note the present load, and setting, with heights that have none noted: those of a state, or of the whole job."""
    rows = Reading.objects.filter(job=job, under_front_kg__isnull=True).select_related("state")
    facts = Desk.look(job.pk).facts.job
    for row in rows if state is None else rows.filter(state=state):
        _stamped(facts, Cell(state=row.state, phase=row.phase, datum=row.datum, place=row.place), row)
        row.save(update_fields=["under_front_kg", "under_rear_kg", "under_basis", "setting"])


def stamp_settings(job: Job) -> None:
    """Note the kits' settings of now with heights that have none noted, before a setting changes."""
    facts = Desk.look(job.pk).facts.job
    for phase in ("after", "off"):
        if mark := facts.mark_of(phase):
            Reading.objects.filter(job=job, phase=phase, setting="").update(setting=mark)


def same_load(job: Job, state: LoadState) -> None:
    """Say that a state's load is the one its heights were read under, and only its figures have become better."""
    facts = Desk.look(job.pk).facts.job
    told = facts.state(state.key)
    gain = gain_of(facts, told) if told is not None else None
    if gain is None:
        return
    Reading.objects.filter(job=job, state=state).update(
        under_front_kg=gain[0][0], under_rear_kg=gain[0][1], under_basis=gain[1]
    )


def _unlock(user: User, reason: str, *, read: bool) -> None:
    """Raise LockedError unless the lead changes a standing baseline, or adds to it, and says why."""
    lead = may(user, "baseline")
    if not lead or not reason.strip():
        raise LockedError(may_change=lead, read=read)


def apart_of(read: Reading) -> float | None:
    """Return how far a reading lies from the one before it in its cell (m), None without one."""
    own = Reading.objects.filter(
        job_id=read.job_id, state=read.state_id, phase=read.phase, datum=read.datum, place=read.place, pk__lt=read.pk
    )
    before = own.filter(value_m__isnull=False).last()
    if before is None or before.value_m is None or read.value_m is None:
        return None
    return abs(read.value_m - before.value_m)


def _same_again(last: Reading | None, now: Reading) -> bool:
    """Tell whether a place doubted before has been read the same once more."""
    if last is None or last.value_m is None or now.value_m is None:
        return False
    return last.flag != "" and abs(last.value_m - now.value_m) <= AGAIN


SEEN_BEFORE = 2
"""How many readings of a cell before this one tell a drift with it."""


def _unsettled(job: Job, cell: Cell, read: Reading) -> str:
    """Return why a reading is not settled: it drifts, by itself or against those before it at one setting and load, or the vehicle was lifted."""
    if read.value_m is None:
        return ""
    chain = read.repeats
    if not chain:
        same = Reading.objects.filter(
            job=job,
            state=cell.state,
            phase=cell.phase,
            datum=cell.datum,
            place=cell.place,
            setting=read.setting,
            under_front_kg=read.under_front_kg,
            value_m__isnull=False,
            unsettled__in=("", "drift"),
        )
        before = list(same.order_by("-pk")[:SEEN_BEFORE]) if read.again else []
        if (
            len(before) == SEEN_BEFORE and before[0].again
        ):  # each said to be the same place read again, none a correction
            chain = [*(r.value_m for r in reversed(before)), read.value_m]
    if len(chain) > SEEN_BEFORE and drifts(chain, read.step_m):
        return "drift"
    return "lifted" if job.lifted else ""


def doubt(reading: Reading, *, odd: bool) -> None:
    """Note whether a reading just taken was odd against the model, so that the doubt stays until it is answered."""
    if odd and reading.flag == "":
        reading.flag = "odd"
        Reading.objects.filter(pk=reading.pk).update(flag="odd")


def floor_of(job: Job, datum: str, place: str) -> float:
    """Return what the floor of the job's bay adds to a reading (m): only where the tape stands on it at a wheel."""
    if job.bay is None or datum != "ground_arch" or place not in WALK:
        return 0.0
    return job.bay.floor[OPPOSITE[place] if job.facing_out else place]
