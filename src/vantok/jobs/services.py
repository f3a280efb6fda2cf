"""What a person can do to a job: each action one function, called inside `actions.change` or opening a job of its own."""

from __future__ import annotations

import re
from typing import Any, Protocol

from django.db import transaction
from django.utils import timezone
from pydantic import BaseModel
from simple_history.utils import bulk_create_with_history, update_change_reason

from vantok.choose.models import Fitting
from vantok.garage.models import BEYOND as VEHICLE_BEYOND
from vantok.garage.models import FACTS, Customer, Vehicle
from vantok.jobs.actions import begin_work, settled
from vantok.jobs.desk import Desk
from vantok.jobs.models import Inspection, Job
from vantok.jobs.to_core import DIGITS, SCALARS
from vantok.measure.models import Reading
from vantok.people.models import User
from vantok.people.rights import demand
from vantok.weigh.models import LoadItem, LoadState, TrailerItem
from vantok_core import job as core
from vantok_core.errors import FileFormatError, InputError
from vantok_core.judge.inspect import AREAS


class PlanLike(Protocol):
    """A load state or a plan file: whatever carries items, tanks, people and trailer items."""

    @property
    def items(self) -> tuple[core.LoadItem, ...]:
        """Items."""

    @property
    def tanks(self) -> tuple[core.Tank, ...]:
        """Tanks."""

    @property
    def people(self) -> tuple[core.People, ...]:
        """People."""

    @property
    def trailer_items(self) -> tuple[core.TrailerItem, ...]:
        """What is on the trailer."""


def next_number() -> str:
    """Return the next job number: year, then a count."""
    year = timezone.now().year
    last = Job.objects.filter(number__startswith=f"{year}-").order_by("-pk").values_list("number", flat=True).first()
    match = re.fullmatch(r"\d+-(\d+)", last or "")
    count = int(match[1]) + 1 if match else 1
    while Job.objects.filter(number=f"{year}-{count:03d}").exists():
        count += 1
    return f"{year}-{count:03d}"


def start_job(user: User, *, vehicle: Vehicle) -> Job:
    """Open a job on a vehicle, with an empty and one loaded state ready to fill."""
    with transaction.atomic():
        job = Job.objects.create(number=next_number(), vehicle=vehicle, opened_by=user)
        LoadState.objects.create(job=job, key="empty", name="Empty", empty=True, order=0)
        LoadState.objects.create(job=job, key="loaded", name="Loaded", order=1)
    settled(job.pk)
    return job


@transaction.atomic
def new_vehicle(*, customer: str, label: str, body: str) -> Vehicle:
    """Return a new vehicle for a known or new customer."""
    name = customer.strip()
    owner = Customer.objects.filter(name=name).first() or Customer.objects.create(name=name)
    return Vehicle.objects.create(customer=owner, label=label.strip(), body=body)


def free_key(job: Job, name: str) -> str:
    """Return a state key for a name that the job does not use yet."""
    base = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:24] or "state"
    taken = set(job.states.values_list("key", flat=True))
    return next(k for k in (base, *(f"{base}-{n}" for n in range(2, 99))) if k not in taken)


def import_job(user: User, found: core.Job) -> Job:
    """Make a new job of a job file; everything or nothing. Raises FileFormatError for a job without an empty state."""
    with transaction.atomic():
        job = _import_job(user, found)
    settled(job.pk)
    return job


def _import_job(user: User, found: core.Job) -> Job:
    if found.empty is None:
        raise FileFormatError("job.states", "there is no empty state")
    name = found.customer or "From a job file"
    owner = Customer.objects.filter(name=name).first() or Customer.objects.create(name=name)
    facts = {name: getattr(found.vehicle, name) for name in FACTS}
    vehicle = Vehicle.objects.create(
        customer=owner,
        label=found.vehicle.label or "Vehicle from a job file",
        **facts,
        points=[point.model_dump() for point in found.vehicle.points],
        beyond=_beyond(found.vehicle, VEHICLE_BEYOND),
    )
    number = found.number if found.number and not Job.objects.filter(number=found.number).exists() else next_number()
    target = found.target
    job = Job.objects.create(
        number=number, vehicle=vehicle, opened_by=user, complaints=[c.code for c in found.complaints], use=list(found.use),
        words=found.words, notes=found.notes, later=found.later, no_baseline=found.no_baseline,
        space_left_m=found.space_left_m, space_right_m=found.space_right_m, lines=found.lines, school=target.school, share=target.share,
        rake_m=target.rake_m, beam_m=target.beam_m, target_state=target.state, target_reason=target.reason,
        answers={c.code: c.answer for c in found.complaints if c.answer},
    )  # fmt: skip
    Inspection.objects.bulk_create(Inspection(job=job, **one.model_dump()) for one in found.inspection)
    states = {state.key: _import_state(job, state, n) for n, state in enumerate(found.states)}
    Reading.objects.bulk_create(_import_reading(user, job, states[r.state], r) for r in found.readings)
    if found.fitting is not None:
        _import_fitting(job, found.fitting)
    return job


def _import_reading(user: User, job: Job, state: LoadState, r: core.JobReading) -> Reading:
    """Return a reading as a file tells it: who read it and when are the file's; whoever imports it is kept beside."""
    tape = round(r.value_m + r.floor_m, DIGITS)
    return Reading(
        job=job, state=state, phase=r.phase, datum=r.datum, place=r.place, value_m=tape, step_m=r.resolution_m, floor_m=r.floor_m,
        friction_m=r.friction_m, instrument=r.instrument, note=r.note, text=r.text or f"{tape * 1000:g} mm", unit=r.unit or "mm",
        by=user, told_by=r.by, at=r.at or timezone.now(), setting=r.setting, flag="twice" if r.twice else "",
        under_front_kg=r.under_kg[0] if r.under_kg else None, under_rear_kg=r.under_kg[1] if r.under_kg else None,
        under_basis=r.under_basis,
    )  # fmt: skip


def _beyond(facts: BaseModel, names: tuple[str, ...]) -> dict[str, Any]:
    """Return those of the named facts that were told, as the file has them."""
    told = facts.model_dump(mode="json", exclude_defaults=True, exclude_none=True)
    return {name: told[name] for name in names if name in told}


def _import_state(job: Job, state: core.JobState, order: int) -> LoadState:
    pads = state.corners_kg or (None,) * 4
    record = LoadState.objects.create(
        job=job, key=state.key, name=state.name, empty=state.empty, order=order, fl_kg=pads[0], fr_kg=pads[1], rl_kg=pads[2],
        rr_kg=pads[3], **{name: getattr(state, name) for name in SCALARS},
    )  # fmt: skip
    put_plan(record, state)
    return record


def put_plan(record: LoadState, plan: PlanLike) -> None:
    """Put a plan's items, tanks, people and trailer items onto a state that carries nothing yet."""
    things = [LoadItem(state=record, kind="item", **item.model_dump()) for item in plan.items]
    things += [LoadItem(state=record, kind="tank", **tank.model_dump()) for tank in plan.tanks]
    things += [LoadItem(state=record, kind="people", name=f"{p.count} people", **p.model_dump()) for p in plan.people]
    bulk_create_with_history(things, LoadItem)
    bulk_create_with_history(
        [TrailerItem(state=record, **thing.model_dump()) for thing in plan.trailer_items], TrailerItem
    )


def _import_fitting(job: Job, fitting: core.Fitting) -> None:
    pressure, spacer = fitting.pressure_pa or (None, None), fitting.spacer_m or (None, None)
    Fitting.objects.create(
        job=job, kit=fitting.kit.model_dump(mode="json"), state_key=fitting.state, left_pa=pressure[0], right_pa=pressure[1],
        left_spacer_m=spacer[0], right_spacer_m=spacer[1], done=fitting.done, ruled_out=list(fitting.ruled_out),
    )  # fmt: skip


def say_no_baseline(job: Job, reason: str) -> None:
    """Store why the empty vehicle cannot be read any more; empty takes it back."""
    job.no_baseline = reason.strip()[:200]
    job.save()


class OnTheJobError(InputError):
    """A kit is on the job already; it is only replaced when that is said."""

    def __init__(self, fitting: Fitting) -> None:
        super().__init__("kit", str(fitting), "it is on the job already")
        self.fitting = fitting


def choose_kit(job: Job, kit: dict[str, Any], *, instead_of: int = 0) -> Fitting:
    """Put a kit on the job, at the setting the model solved.

    Arguments: instead_of: id of the fitting it replaces, which the history keeps with its setting. Raises OnTheJobError
    where another one is on the job and was not named.
    """
    standing = Fitting.objects.filter(job=job).first()
    if standing is not None:
        if standing.pk != instead_of:
            raise OnTheJobError(standing)
        standing.delete()
    desk = Desk.open(job.pk)
    choice = desk.shortlist.choice(kit["code"]) if desk.shortlist else None
    fitting = Fitting(job=job, kit=kit)
    if choice is not None and desk.shortlist is not None:
        fitting.state_key = desk.shortlist.state.key
        if choice.pressure:
            fitting.left_pa, fitting.right_pa = choice.pressure
        if choice.spacers:
            fitting.left_spacer_m, fitting.right_spacer_m = (sum(stack) for stack in choice.spacers)
    fitting.save()
    update_change_reason(fitting, "chosen")
    if job.proposal:
        job.proposal = {}
        job.save()
    return fitting


def propose_kit(person: User, job: Job, kit: dict[str, Any], why: str) -> None:
    """Put a kit forward for a technician to take or leave."""
    job.proposal = {"code": kit["code"], "name": kit["name"], "by": str(person), "why": why.strip()[:200]}
    job.save()


SETTING = ("left_pa", "right_pa", "left_spacer_m", "right_spacer_m")


def rule_out(job: Job, causes: list[str]) -> None:
    """Note which causes of a missed height were looked into and found not to be it."""
    fitting = Fitting.objects.filter(job=job).first()
    if fitting is not None and sorted(fitting.ruled_out) != sorted(causes):
        fitting.ruled_out = causes
        fitting.save()


def save_setting(job: Job, fitting: Fitting) -> None:
    """Store a kit's setting; once it is set on the vehicle, work has begun and the baseline stands.

    What was ruled out as the cause of a miss was so at the setting of then: another one begins anew.
    """
    standing = Fitting.objects.get(pk=fitting.pk)
    if any(getattr(standing, name) != getattr(fitting, name) for name in SETTING):
        fitting.ruled_out = []
    fitting.save()
    if fitting.done:
        begin_work(job)


def record_inspection(person: User, job: Job, area: str, grade: str, note: str, overruled: str) -> None:
    """Store one area's grade; an empty grade takes the area off the sheet. Only what changed becomes history.

    Raises RefusedError where a fault that stops a choice is called cured, or overruled, by somebody who may not.
    """
    standing = Inspection.objects.filter(job=job, area=area).first()
    if standing is not None and standing.grade == "fault" and grade != "fault" and AREAS[area].stops:
        demand(person, "cure")
    if not grade:
        if standing is not None:
            standing.delete()
        return
    one = standing or Inspection(job=job, area=area)
    told = {"grade": grade, "note": note[:200], "overruled": overruled[:200] if grade == "fault" else ""}
    if told["overruled"] and told["overruled"] != one.overruled:
        demand(person, "overrule")
    if standing is None or any(getattr(one, name) != value for name, value in told.items()):
        for name, value in told.items():
            setattr(one, name, value)
        one.full_clean()
        one.save()
