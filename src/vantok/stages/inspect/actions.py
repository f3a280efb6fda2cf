"""Grading an area of the inspection."""

from __future__ import annotations

from typing import Any

from vantok.people.models import User
from vantok.people.rights import demand
from vantok.records.jobs.models import Inspection, Job
from vantok_core.judge.listen.inspect import AREAS

TEXT = 200


def record_inspection(person: User, job: Job, area: str, told: dict[str, Any]) -> None:
    """Store one area: grade, note, overruled, where, after, after_note; an empty grade takes the area off the sheet. Only what changed becomes history.

    Raises RefusedError where a fault that stops a choice is called cured, or overruled, by somebody who may not.
    """
    standing, grade = Inspection.objects.filter(job=job, area=area).first(), told["grade"]
    if (
        standing is not None
        and standing.grade == "fault"
        and AREAS[area].stops
        and (grade != "fault" or _cured(standing, told))
    ):
        demand(person, "cure")
    if not grade:
        Inspection.objects.filter(job=job, area=area).delete()
        return
    one = standing or Inspection(job=job, area=area)
    held = {
        "grade": grade,
        "note": told["note"][:TEXT],
        "overruled": told["overruled"][:TEXT] if grade == "fault" else "",
        "where": list(told["where"]),
        "after": told["after"],
        "after_note": told["after_note"][:TEXT],
    }
    if held["overruled"] and held["overruled"] != one.overruled:
        demand(person, "overrule")
    if standing is None or any(getattr(one, name) != value for name, value in held.items()):
        for name, value in held.items():
            setattr(one, name, value)
        one.full_clean()
        one.save()


def _cured(standing: Inspection, told: dict[str, Any]) -> bool:
    """Tell whether a fault is called anything else after the work, and was not before."""
    return told["after"] not in ("", "fault", standing.after)
