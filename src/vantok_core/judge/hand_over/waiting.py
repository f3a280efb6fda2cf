"""What a job waits for, for the day board: parts, the customer, a bag to be looked at again."""

from __future__ import annotations

from collections.abc import Sequence

from vantok_core.facts import Fitting, Job
from vantok_core.procedure.progress import Progress

MOST = 120
"""Letters of it that a board shows."""


def waits_for(job: Job, cards: Sequence[Progress]) -> str:
    """Return what a job waits for, in words; empty where only hands are wanted."""
    if parts := _parts(job, cards):
        return f"parts: {', '.join(parts)}"[:MOST]
    if job.quote is not None and job.quote.lines and not job.quote.answer and not job.parts:
        return "the customer’s answer to the quote"
    last = {test.side: test for test in job.proving.leaks}
    unread = [side for side, test in last.items() if test.p2_pa is None]
    return f"leak test to be read again: {', '.join(unread)}" if unread else ""


def _parts(job: Job, cards: Sequence[Progress]) -> list[str]:
    """Return what is missing from a box that was opened, or the kits that were ordered and whose boxes nobody has opened."""
    missing = [line for card in cards for line in card.missing]
    both = zip(job.parts, cards, strict=False)
    return missing or [_awaited(part) for part, card in both if part.ordered and not card.marks]


def _awaited(part: Fitting) -> str:
    """Return a kit that was ordered, and for when it is promised."""
    promised = part.ordered.promised if part.ordered else ""
    return f"{part.kit.name}, promised for {promised}" if promised else f"{part.kit.name}, ordered"
