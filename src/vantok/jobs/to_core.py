"""From records to the core's job, in one place."""

from __future__ import annotations

import json
from typing import cast

from vantok.choose.models import Fitting as FittingRecord
from vantok.jobs.models import Job as JobRecord
from vantok.measure.models import Reading
from vantok.shelf.models import kit_of
from vantok.weigh.models import LoadState
from vantok_core.job import (
    Complaint,
    Datum,
    Fitting,
    Inspected,
    Job,
    JobReading,
    JobState,
    LoadItem,
    Phase,
    ReadingPlace,
    School,
    Target,
)
from vantok_core.kits.fit import unspaced_gap


def job_to_core(record: JobRecord) -> Job:
    """Return the core's job of a record whose vehicle, states with items, readings and fitting are loaded."""
    states = list(record.states.all())
    keys = {state.pk: state.key for state in states}
    job = Job(
        number=record.number,
        customer=record.vehicle.customer.name,
        complaints=tuple(Complaint(code=code) for code in record.complaints),
        use=tuple(record.use), notes=record.notes, later=record.later,
        inspection=tuple(
            Inspected.model_validate({"area": i.area, "grade": i.grade, "note": i.note, "overruled": i.overruled})
            for i in record.inspections.all()
        ),
        vehicle=record.vehicle.to_core(),
        states=tuple(_state(state) for state in states),
        readings=tuple(_reading(reading, keys[reading.state_id]) for reading in latest_readings(record)),
        target=Target(school=cast("School", record.school), share=record.share, rake_m=record.rake_m, reason=record.target_reason),
    )  # fmt: skip
    fitting = getattr(record, "fitting", None)
    return job.model_copy(update={"fitting": fitting_to_core(job, fitting)}) if fitting else job


def latest_readings(record: JobRecord) -> list[Reading]:
    """Return the standing reading of each cell: the last one, unless it was withdrawn."""
    standing = {(r.state_id, r.phase, r.datum, r.place): r for r in record.readings.all()}
    return [r for r in standing.values() if r.value_m is not None]


def _state(state: LoadState) -> JobState:
    pads = (state.fl_kg, state.fr_kg, state.rl_kg, state.rr_kg)
    return JobState(
        key=state.key, name=state.name, empty=state.empty, front_kg=state.front_kg, rear_kg=state.rear_kg,
        corners_kg=None if None in pads else pads, tongue_kg=state.tongue_kg, trailer_kg=state.trailer_kg,
        conditions=state.conditions,
        **state.beyond,
        items=tuple(
            LoadItem(name=i.name, mass_kg=i.mass_kg, station_m=i.station_m, lateral_m=i.lateral_m) for i in state.items.all()
        ),
    )  # fmt: skip


def _reading(reading: Reading, key: str) -> JobReading:
    assert reading.value_m is not None
    return JobReading(
        state=key,
        phase=cast("Phase", reading.phase),
        datum=cast("Datum", reading.datum),
        place=cast("ReadingPlace", reading.place),
        value_m=reading.value_m,
        resolution_m=min(max(reading.step_m, 1e-4), 0.05),
        text=reading.text,
        by=str(reading.by or ""),
        at=reading.at,
    )


def fitting_to_core(job: Job, record: FittingRecord) -> Fitting:
    """Return the core's fitting; an insert's gap follows from its spacers."""
    kit = kit_of(json.dumps(record.kit))
    pressure = None if record.left_pa is None or record.right_pa is None else (record.left_pa, record.right_pa)
    gap = spacer = None
    if record.left_spacer_m is not None and record.right_spacer_m is not None:
        spacer = (record.left_spacer_m, record.right_spacer_m)
        bare = unspaced_gap(job, kit)
        gap = (bare[0] - spacer[0], bare[1] - spacer[1])
    return Fitting(kit=kit, pressure_pa=pressure, gap_m=gap, spacer_m=spacer, state=record.state_key, done=record.done)
