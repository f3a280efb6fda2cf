"""The stage a job stands at and its sentence, stored for the day board."""

from __future__ import annotations

from collections.abc import Iterable

from django.db import OperationalError, transaction

from vantok.desk.load import Desk
from vantok.desk.worked import log
from vantok.records.jobs.models import Job
from vantok_core.base.say import Say, Verdict
from vantok_core.base.work import TooMuchWorkError
from vantok_core.judge.hand_over.waiting import waits_for


def settle(pk: int) -> Desk:
    """Store the stage a job stands at and its sentence, for the day board; return the desk they were worked out on."""
    desk = Desk.look(pk)
    stage = desk.next_stage
    try:
        verdict = desk.verdict(OF_STAGE.get(stage, stage))
    except TooMuchWorkError:
        raise
    except Exception:
        log.exception("job %s: its sentence", pk)  # a bulkhead, as in Worked
        verdict = Verdict(
            tone="limit", sentences=(Say("Its sentence cannot be worked out from the figures as entered."),)
        )
    told = {
        "stage": stage,
        "verdict": verdict.parted("metric")[0][:MOST_KEPT],
        "verdict_us": verdict.parted("us")[0][:MOST_KEPT],
        "tone": verdict.tone,
        "waits": waits_for(desk.job, desk.cards),
        "stands": _stands(desk, stage),
        "told_stamp": desk.record.stamp,
    }
    with transaction.atomic():
        Job.every.filter(pk=pk).update(**told)
    return desk


def _stands(desk: Desk, stage: str) -> list[float] | None:
    """Return how far front and rear are down from empty in the state its stage is drawn in (m); None where nobody knows."""
    if desk.diagnosis is None:
        return None
    stance = desk.stance(stage)
    return [stance.d_f, stance.d_r] if stance.known else None


def settled(pk: int) -> None:
    """Bring the board's sentence up to date; where the database is busy the next look at the board does it."""
    try:
        settle(pk)
    except (OperationalError, TooMuchWorkError) as error:
        log.warning("job %s: its sentence waits for the next look: %s", pk, error)


MOST_KEPT = 400
"""Letters of a sentence that a job keeps: more than it ever leads with."""
OF_STAGE = {"choose": "diagnose"}
"""Stages whose sentence asks the whole shelf: the board says what is found instead."""


def unsettled(jobs: Iterable[Job]) -> list[int]:
    """Return the jobs whose stored sentence is older than they are, or not there in every unit system."""
    return [job.pk for job in jobs if job.told_stamp != job.stamp or (job.verdict and not job.verdict_us)]
