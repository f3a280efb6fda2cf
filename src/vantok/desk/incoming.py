"""A job file's facts taken in as records."""

from __future__ import annotations

import re
from typing import Any, Protocol

from django.db import transaction
from pydantic import BaseModel
from simple_history.utils import bulk_create_with_history

from vantok.desk.opening import next_number
from vantok.desk.reading_rows import as_reading
from vantok.desk.settle import settled
from vantok.desk.translate import OF_JOB, OF_STATE, SHEETS
from vantok.people.models import User
from vantok.records.choose.models import Fitting
from vantok.records.garage.models import BEYOND, COLUMNS, Customer, Vehicle
from vantok.records.jobs.models import Inspection, Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadItem, LoadState, TrailerItem
from vantok_core import facts as core
from vantok_core.base.errors import FileFormatError
from vantok_core.facts.declared import declared


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


def import_job(user: User, found: core.Job) -> Job:
    """Make a new job of a job file; everything or nothing. Raises FileFormatError for a job without an empty state."""
    with transaction.atomic():
        job = _import_job(user, found)
    settled(job.pk)
    return job


def _import_job(user: User, found: core.Job) -> Job:
    if found.empty is None:
        raise FileFormatError("job.states", "there is no empty state")
    vehicle = _import_vehicle(found)
    target = found.target
    job = Job.objects.create(
        number=_own_number(found),
        vehicle=vehicle,
        opened_by=user,
        complaints=[c.code for c in found.complaints],
        answers={c.code: c.answer for c in found.complaints if c.answer},
        heard={c.code: told for c in found.complaints if (told := _told(c, HEARD))},
        sheets=_told(found, SHEETS),
        school=target.school,
        share=target.share,
        rake_m=target.rake_m,
        beam_m=target.beam_m,
        target_state=target.state,
        target_reason=target.reason,
        length_m=target.length_m,
        length_right_m=target.length_right_m,
        target_source=target.source,
        front_raise_m=target.front_raise_m,
        contact=target.contact,
        **{name: _as_stored(value) for name in OF_JOB if (value := getattr(found, name)) is not None},
    )
    Inspection.objects.bulk_create(Inspection(job=job, **one.model_dump()) for one in found.inspection)
    states = {state.key: _import_state(job, state, n) for n, state in enumerate(found.states)}
    Reading.objects.bulk_create(as_reading(user, job, states[r.state], r) for r in found.readings)
    for order, part in enumerate(found.parts):
        _import_fitting(job, part, order)
    return job


def _own_number(found: core.Job) -> str:
    """Return the number a job comes in with: its own, else (taken, or nothing a number is made of) the next of the shop."""
    fits = bool(NUMBER.fullmatch(found.number or ""))
    return found.number if fits and not Job.every.filter(number=found.number).exists() else next_number()


NUMBER = re.compile(r"[\w .-]{1,20}")
"""What a job's number may be made of: it stands in addresses and file names."""
HEARD = tuple(declared(core.Complaint))
"""What is told of a complaint beside that it is one."""


def _dumped(one: BaseModel | None) -> dict[str, Any]:
    """Return a part as it is stored; nothing where there is none."""
    return one.model_dump(mode="json") if one is not None else {}


def _as_stored(value: Any) -> Any:
    """Return a fact as its column holds it: of several facts a document, of several things a list."""
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    return [_as_stored(one) for one in value] if isinstance(value, tuple) else value


def _import_vehicle(found: core.Job) -> Vehicle:
    name = found.customer or "From a job file"
    owner = Customer.objects.filter(name=name).first() or Customer.objects.create(name=name)
    told = {name: _as_stored(getattr(found.vehicle, name)) for name in COLUMNS}
    told["label"] = found.vehicle.label or "Vehicle from a job file"
    return Vehicle.objects.create(
        customer=owner,
        **told,
        beyond=_told(found.vehicle, BEYOND),
    )


def _told(facts: BaseModel, names: tuple[str, ...]) -> dict[str, Any]:
    """Return those of the named facts that were told, as the file has them."""
    told = facts.model_dump(mode="json", exclude_defaults=True, exclude_none=True)
    return {name: told[name] for name in names if name in told}


def _import_state(job: Job, state: core.JobState, order: int) -> LoadState:
    pads = state.corners_kg or (None,) * 4
    record = LoadState.objects.create(
        job=job,
        order=order,
        fl_kg=pads[0],
        fr_kg=pads[1],
        rl_kg=pads[2],
        rr_kg=pads[3],
        **{name: _as_stored(value) for name in OF_STATE if (value := getattr(state, name)) is not None},
    )
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


def _import_fitting(job: Job, fitting: core.Fitting, order: int) -> None:
    Fitting.objects.create(
        job=job,
        order=order,
        kit=fitting.kit.model_dump(mode="json"),
        state_key=fitting.state,
        setting={name: list(pair) for name, pair in fitting.setting.items()},
        done=fitting.done,
        ruled_out=list(fitting.ruled_out),
        card=[one.model_dump(mode="json", exclude_none=True) for one in fitting.card],
        learnt=[one.model_dump(mode="json") for one in fitting.learnt],
        as_set=_dumped(fitting.as_set),
        ordered=_dumped(fitting.ordered),
        overruled=dict(fitting.overruled),
    )
