"""What a person can do to a job: each action one function, in one transaction, ending with the board's sentence fresh."""

from __future__ import annotations

import re
from typing import Any, Protocol

from django.db import transaction
from django.utils import timezone
from pydantic import BaseModel
from simple_history.utils import update_change_reason

from vantok.choose.models import Fitting
from vantok.garage.models import BEYOND as VEHICLE_BEYOND
from vantok.garage.models import FACTS, Customer, Vehicle
from vantok.jobs.desk import Desk, refresh
from vantok.jobs.models import Inspection, Job
from vantok.jobs.to_core import SCALARS
from vantok.measure.models import Reading
from vantok.people.models import User
from vantok.weigh.models import LoadItem, LoadState, TrailerItem
from vantok_core import job as core
from vantok_core.errors import FileFormatError


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


@transaction.atomic
def start_job(user: User, *, vehicle: Vehicle) -> Job:
    """Open a job on a vehicle, with an empty and one loaded state ready to fill."""
    job = Job.objects.create(number=next_number(), vehicle=vehicle, opened_by=user)
    LoadState.objects.create(job=job, key="empty", name="Empty", empty=True, order=0)
    LoadState.objects.create(job=job, key="loaded", name="Loaded", order=1)
    refresh(job)
    return job


@transaction.atomic
def new_vehicle(*, customer: str, label: str, body: str) -> Vehicle:
    """Return a new vehicle for a known or new customer."""
    owner, _ = Customer.objects.get_or_create(name=customer.strip())
    return Vehicle.objects.create(customer=owner, label=label.strip(), body=body)


def free_key(job: Job, name: str) -> str:
    """Return a state key for a name that the job does not use yet."""
    base = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:24] or "state"
    taken = set(job.states.values_list("key", flat=True))
    return next(k for k in (base, *(f"{base}-{n}" for n in range(2, 99))) if k not in taken)


@transaction.atomic
def import_job(user: User, found: core.Job) -> Job:
    """Make a new job of a job file; everything or nothing. Raises FileFormatError for a job without an empty state."""
    if found.empty is None:
        raise FileFormatError("job.states", "there is no empty state")
    owner, _ = Customer.objects.get_or_create(name=found.customer or "From a job file")
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
        words=" ".join(c.words for c in found.complaints).strip(), notes=found.notes, later=found.later, no_baseline=found.no_baseline,
        school=target.school, share=target.share, rake_m=target.rake_m, target_reason=target.reason,
    )  # fmt: skip
    Inspection.objects.bulk_create(Inspection(job=job, **one.model_dump()) for one in found.inspection)
    states = {state.key: _import_state(job, state, n) for n, state in enumerate(found.states)}
    for r in found.readings:
        Reading.objects.create(
            job=job, state=states[r.state], phase=r.phase, datum=r.datum, place=r.place, value_m=r.value_m + r.floor_m,
            step_m=r.resolution_m, floor_m=r.floor_m, friction_m=r.friction_m, instrument=r.instrument, note=r.note,
            text=r.text or f"{(r.value_m + r.floor_m) * 1000:g} mm", unit="mm", by=user,
        )  # fmt: skip
    if found.fitting is not None:
        _import_fitting(job, found.fitting)
    refresh(job)
    return job


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
    for item in plan.items:
        LoadItem.objects.create(state=record, kind="item", **item.model_dump())
    for tank in plan.tanks:
        LoadItem.objects.create(state=record, kind="tank", **tank.model_dump())
    for people in plan.people:
        LoadItem.objects.create(state=record, kind="people", name=f"{people.count} people", **people.model_dump())
    for thing in plan.trailer_items:
        TrailerItem.objects.create(state=record, **thing.model_dump())


def _import_fitting(job: Job, fitting: core.Fitting) -> None:
    pressure, spacer = fitting.pressure_pa or (None, None), fitting.spacer_m or (None, None)
    Fitting.objects.create(
        job=job, kit=fitting.kit.model_dump(mode="json"), state_key=fitting.state, left_pa=pressure[0], right_pa=pressure[1],
        left_spacer_m=spacer[0], right_spacer_m=spacer[1], done=fitting.done,
    )  # fmt: skip


@transaction.atomic
def say_no_baseline(job: Job, reason: str) -> None:
    """Store why the empty vehicle cannot be read any more; empty takes it back."""
    job.no_baseline = reason.strip()[:200]
    job.save()
    refresh(job)


@transaction.atomic
def choose_kit(job: Job, kit: dict[str, Any]) -> Fitting:
    """Put a kit on the job, at the setting the model solved; a kit chosen before is replaced (and kept in the history)."""
    Fitting.objects.filter(job=job).delete()
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
    refresh(job)
    return fitting


@transaction.atomic
def record_inspection(job: Job, area: str, grade: str, note: str, overruled: str) -> None:
    """Store one area's grade; an empty grade takes the area off the sheet. Only what changed becomes history."""
    standing = Inspection.objects.filter(job=job, area=area).first()
    if not grade:
        if standing is not None:
            standing.delete()
        return
    one = standing or Inspection(job=job, area=area)
    told = {"grade": grade, "note": note[:200], "overruled": overruled[:200] if grade == "fault" else ""}
    if standing is None or any(getattr(one, name) != value for name, value in told.items()):
        for name, value in told.items():
            setattr(one, name, value)
        one.full_clean()
        one.save()
