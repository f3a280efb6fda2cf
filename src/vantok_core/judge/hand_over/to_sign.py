"""What a customer signs for: what cannot be undone, and advice they declined."""

from __future__ import annotations

from collections.abc import Sequence

from vantok_core.facts import Job
from vantok_core.judge.listen.inspect import standing_faults
from vantok_core.procedure.progress import Progress


def to_sign(job: Job, cards: Sequence[Progress]) -> tuple[str, ...]:
    """Return what is still to be signed for, in words: each step of a card that cannot be undone, each line of the quote that must be cured first and
    was declined, each fault that stands."""
    asked = [f"{one.card.kit.name}: {step.words}" for one in cards for step in one.card.steps if step.irreversible]
    if job.quote is not None:
        asked += [
            f"Declined: {line.what}" for line in job.quote.lines if line.why == "fix_first" and line.answer == "no"
        ]
    asked += [f"Driven on with a fault: {area.words.split(':')[0]}" for area, _ in standing_faults(job)]
    done = {one.what for one in job.signed}
    return tuple(what for what in dict.fromkeys(asked) if what not in done)
