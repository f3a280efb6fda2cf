"""What is said of a kit on the job that does not fit the vehicle: nothing of it is fitted or set until that is cured, or overruled where it may be."""

from __future__ import annotations

from vantok_core.base.say import Say
from vantok_core.facts import Job
from vantok_core.kits.fit import standing_unfit


def unfit_said(job: Job, n: int) -> Say | None:
    """Return why the n-th kit on a job (the first is 0) is neither fitted nor set; None where nothing stands in its way."""
    failed = standing_unfit(job, n)
    if not failed:
        return None
    first = max(failed, key=lambda one: one.final)
    end = (
        "Take it off the job and choose another." if first.final else "Cure it, or the lead overrules it with a reason."
    )
    return Say(
        "{part} does not fit: {why} {end}",
        {"part": job.parts[n].kit.name, "why": first.why, "end": end},
    )
