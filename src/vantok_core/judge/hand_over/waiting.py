"""What a job waits for, for the day board: parts, the customer, a bag to be looked at again."""

from __future__ import annotations

from collections.abc import Sequence

from vantok_core.facts import Job
from vantok_core.procedure.progress import Progress

MOST = 120
"""Letters of it that a board shows."""


def waits_for(job: Job, cards: Sequence[Progress]) -> str:
    """Return what a job waits for, in words; empty where only hands are wanted."""
    missing = [line for card in cards for line in card.missing]
    if missing:
        return f"parts: {', '.join(missing)}"[:MOST]
    if job.quote is not None and job.quote.lines and not job.quote.answer and not job.parts:
        return "the customer’s answer to the quote"
    last = {test.side: test for test in job.proving.leaks}
    unread = [side for side, test in last.items() if test.p2_pa is None]
    return f"leak test to be read again: {', '.join(unread)}" if unread else ""
