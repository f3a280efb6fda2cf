"""What the baseline's gate still names before the vehicle is opened: every state and every aim of the job that nothing was taken of.

Source: procedures of the trade: what is not read before a kit is on is never read.
"""

from __future__ import annotations

from vantok_core.aims.of_job import baseline_taken, driven, job_aims, needs_heights
from vantok_core.facts import Job
from vantok_core.judge.measure.checks import baseline_missing
from vantok_core.procedure.progress import READ_FIRST

DRIVE_FIRST = "Drive it before, and grade it; from memory where it cannot be driven."


def baseline_asked(job: Job) -> str:
    """Return what the baseline's gate holds for; empty where what the job is proved against was taken."""
    if baseline_missing(job):
        return READ_FIRST
    return "" if baseline_taken(job) else DRIVE_FIRST


def baseline_points(job: Job) -> tuple[str, ...]:
    """Return what the gate has said for itself, a line each: a state that was not read, or read before it was settled, an aim that no drive stands for."""
    return (*_of_states(job), *_of_aims(job))


def _of_states(job: Job) -> tuple[str, ...]:
    if not needs_heights(job):
        return ()
    found = []
    for state in (one for one in job.states if not one.past):
        own = [r for r in job.readings if r.state == state.key and r.phase == "before"]
        if not own:
            found.append(f"“{state.name}” was not read before: it will be compared with nothing")
        elif any(r.unsettled for r in own):
            found.append(f"“{state.name}” was read before it settled: rolled, bounced, and read again")
    return tuple(found)


def _of_aims(job: Job) -> tuple[str, ...]:
    aims = [aim.words for aim in job_aims(job) if aim.proof == "drive" and not aim.heights]
    if not aims or driven(job, "before"):
        return ()
    return (f"{' and '.join(aims)}: no drive before it is graded, so none can be compared",)
