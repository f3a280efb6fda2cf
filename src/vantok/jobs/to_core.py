"""From records to the core's job, in one place."""

from __future__ import annotations

import json
from typing import cast

from vantok.choose.models import Fitting as FittingRecord
from vantok.jobs.models import Job as JobRecord
from vantok.measure.models import Reading
from vantok.shelf.models import kit_of
from vantok.weigh.models import LoadItem as LoadItemRecord
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
    People,
    Phase,
    School,
    Tank,
    Target,
    TrailerItem,
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
        use=tuple(record.use), no_baseline=record.no_baseline, notes=record.notes, later=record.later,
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


SCALARS = (
    "front_kg", "rear_kg", "tongue_kg", "trailer_kg", "trailer_axle_m", "restored", "trailer_axle_rating_kg", "trailer_tyres_kg",
    "trailer_scale_kg", "tag_kg", "weighed_at", "changed_at", "weighed_gain_kg", "conditions",
)  # fmt: skip
"""A state's facts, named alike in the core and in its record."""


def _state(state: LoadState) -> JobState:
    pads = (state.fl_kg, state.fr_kg, state.rl_kg, state.rr_kg)
    items = list(state.items.all())
    return JobState(
        key=state.key, name=state.name, empty=state.empty, corners_kg=None if None in pads else pads,
        **{name: getattr(state, name) for name in SCALARS},
        items=tuple(
            LoadItem(name=i.name, mass_kg=i.mass_kg or 0.0, height_m=i.height_m, **_place(i)) for i in items if i.kind == "item"
        ),
        tanks=tuple(
            Tank(name=i.name, capacity_l=i.capacity_l or 1.0, fill=i.fill, kg_per_l=i.kg_per_l, **_place(i))
            for i in items if i.kind == "tank"
        ),
        people=tuple(
            People(count=i.count, mass_kg=i.mass_kg or 75.0, **_place(i)) for i in items if i.kind == "people"
        ),
        trailer_items=tuple(
            TrailerItem(name=t.name, mass_kg=t.mass_kg, behind_ball_m=t.behind_ball_m) for t in state.trailer_items.all()
        ),
    )  # fmt: skip


def _place(item: LoadItemRecord) -> dict[str, float]:
    return {"station_m": item.station_m, "lateral_m": item.lateral_m}


def _reading(reading: Reading, key: str) -> JobReading:
    assert reading.value_m is not None
    return JobReading(
        state=key, phase=cast("Phase", reading.phase), datum=cast("Datum", reading.datum), place=reading.place,
        value_m=reading.value_m - reading.floor_m, resolution_m=min(max(reading.step_m, 1e-4), 0.05), floor_m=reading.floor_m,
        friction_m=reading.friction_m, instrument=reading.instrument, note=reading.note, text=reading.text,
        by=str(reading.by or ""), at=reading.at,
    )  # fmt: skip


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
