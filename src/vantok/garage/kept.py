"""What a vehicle's page tells of its years: where its heights go, how its kit settled, damage by visit, pictures of one angle beside one another."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Inspection, Job
from vantok.records.measure.models import Photo, Reading
from vantok_core.base.say import Verdict
from vantok_core.facts.proving import Proving
from vantok_core.judge.listen.inspect import AREAS
from vantok_core.judge.visits.over_visits import Going, Line, going, since_fitting
from vantok_core.upkeep.settling import EXPECTED

Lines = list[tuple[str, list[tuple[datetime, float]]]]


def goings(vehicle: Vehicle, lines: Lines) -> list[Going]:
    """Return where each height goes that was read at two visits or more; the rear's loaded one against its stop gap, where that was read."""
    gap = _last_gap(vehicle)
    found = []
    for name, line in lines:
        own_gap = gap if name.startswith("rear") and "empty" not in name else None
        told = going(Line(name=name, visits=tuple((when.date(), height) for when, height in line), gap=own_gap))
        if told.trend is not None:
            found.append(told)
    return found


def _last_gap(vehicle: Vehicle) -> float | None:
    """Return the least stop gap read at the rear at the last visit that read one (m), None where nobody did."""
    rows = Reading.objects.filter(
        job__vehicle=vehicle, datum="stop_gap", place__in=("RL", "RR"), value_m__isnull=False
    ).order_by("-at")
    last = rows.first()
    if last is None:
        return None
    same = rows.filter(job_id=last.job_id, state_id=last.state_id, phase=last.phase).values_list("value_m", flat=True)
    return min(value for value in same if value is not None)


def settled_since(vehicle: Vehicle, lines: Lines) -> list[Verdict]:
    """Return how far each height with a kit has come down since it was first read with it, against what that kit is expected to."""
    first = Job.objects.filter(vehicle=vehicle, fittings__isnull=False).order_by("pk").first()
    fitting = first.fittings.last() if first else None
    if fitting is None:
        return []
    told = fitting.kit.get("settling_m")
    expected = (
        EXPECTED.get("leaf" if "leaf" in str(fitting.kit.get("family")) else "solid", 0.0)
        if told is None
        else float(told)
    )
    axle = str(fitting.kit.get("axle", "rear"))
    return [
        since_fitting(name.capitalize(), line[0][1], line[-1][1], expected)
        for name, line in lines
        if name.startswith(axle) and name.endswith("with the kit") and line[0][0].date() != line[-1][0].date()
    ]


def damage(vehicle: Vehicle) -> list[dict[str, Any]]:
    """Return each area of the inspection with its grade by visit, those that were ever watched, at fault or wished for."""
    rows = Inspection.objects.filter(job__vehicle=vehicle).select_related("job").order_by("job__opened")
    by_area: dict[str, list[Inspection]] = {}
    for row in rows:
        by_area.setdefault(row.area, []).append(row)
    return [
        {"words": AREAS[area].words.split(":")[0] if area in AREAS else area, "visits": found}
        for area, found in by_area.items()
        if any(one.grade != "fine" for one in found)
    ]


def pressures(vehicle: Vehicle) -> list[dict[str, Any]]:
    """Return the leak tests of all visits, oldest first: what was pressed up to and read again."""
    found = []
    for job in Job.objects.filter(vehicle=vehicle).exclude(proving={}).order_by("opened"):
        found += [{"job": job, "test": test} for test in Proving.model_validate(job.proving).leaks]
    return found


def same_angle(vehicle: Vehicle) -> list[dict[str, Any]]:
    """Return photographs of one area or caption at two visits or more, beside one another."""
    by_angle: dict[str, list[Photo]] = {}
    rows = Photo.objects.filter(job__vehicle=vehicle, gone=False).select_related("job", "reading").order_by("at")
    for photo in rows:
        words = (
            AREAS[photo.area].words.split(":")[0]
            if photo.area in AREAS
            else photo.caption or (photo.reading.where if photo.reading else "")
        )
        if words:
            by_angle.setdefault(words.lower(), []).append(photo)
    return [
        {"words": words, "photos": found} for words, found in by_angle.items() if len({p.job_id for p in found}) > 1
    ]
