"""A job as it stood at a moment: its records read back from their history, its heights up to then."""

from __future__ import annotations

from collections import defaultdict
from datetime import datetime
from typing import Any

from vantok.desk.translate import Facts
from vantok.records.choose.models import Fitting
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Inspection, Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadItem, LoadState, TrailerItem
from vantok_core import facts as core


def job_at(pk: int, when: datetime) -> core.Job | None:
    """Return the core's job as it stood at a moment; None where it was not there yet."""
    record: Job | None = Job.history.as_of(when).filter(pk=pk).first()
    if record is None:
        return None
    states = list(LoadState.history.as_of(when).filter(job_id=pk))
    keys = [state.pk for state in states]
    items, things = defaultdict[int, list[Any]](list), defaultdict[int, list[Any]](list)
    for model, held in ((LoadItem, items), (TrailerItem, things)):
        for row in model.history.as_of(when).filter(state_id__in=keys):
            held[row.state_id].append(row)
    for state in states:
        _hold(
            state,
            items=sorted(items[state.pk], key=lambda i: i.pk),
            trailer_items=sorted(things[state.pk], key=lambda i: i.pk),
        )
    by_key = {state.pk: state for state in states}
    readings = [
        r
        for r in Reading.objects.filter(job_id=pk, at__lte=when).select_related("by").order_by("pk")
        if r.state_id in by_key
    ]
    for row in readings:
        row.state = by_key[row.state_id]
    vehicle = Vehicle.history.as_of(when).filter(pk=record.vehicle_id).first()
    if vehicle is not None:
        record.vehicle = vehicle
    _hold(
        record,
        states=sorted(states, key=lambda s: (s.order, s.pk)),
        readings=readings,
        inspections=sorted(Inspection.history.as_of(when).filter(job_id=pk), key=lambda i: i.pk),
        fittings=sorted(Fitting.history.as_of(when).filter(job_id=pk), key=lambda f: (f.order, f.pk)),
    )
    return Facts(record).job


def _hold(record: Any, **rows: list[Any]) -> None:
    """Give a record of then its related rows of then."""
    record._prefetched_objects_cache = rows
