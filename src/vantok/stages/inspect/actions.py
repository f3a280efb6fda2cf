"""Grading an area of the inspection."""

from __future__ import annotations

from vantok.people.models import User
from vantok.people.rights import demand
from vantok.records.jobs.models import Inspection, Job
from vantok_core.judge.inspect import AREAS


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
