"""A trainee's finding beside the tool's, and the difference explained by what each rests on.

Source: method section 19.
"""

from __future__ import annotations

from vantok_core.base.say import Say
from vantok_core.facts import Job
from vantok_core.judge.diagnose.causes import Likely, likely_causes
from vantok_core.judge.diagnose.diagnosis import Diagnosis
from vantok_core.kits.odds import odds_in_words
from vantok_core.practice.bay.case import CAUSES
from vantok_core.practice.bay.run import Said

NEAR = 0.8
"""A cause as likely as this share of the likeliest is no other opinion."""


def difference(job: Job, diagnosis: Diagnosis | None, said: Said) -> tuple[Say, ...]:
    """Return in what the tool, by what was read so far, holds otherwise than was said; it knows the readings, not the truth."""
    found = likely_causes(job, diagnosis)
    if not found or not found[0].causes:
        return (Say("By what stands in the job the tool holds nothing more likely than something else: read on."),)
    return tuple(_told(found[0], said))


def _told(one: Likely, said: Said) -> list[Say]:
    first = one.causes[0]
    own = next((c for c in one.causes if c.key == said.cause), None)
    told = [
        Say(
            "By what was read the tool holds “{first}” for the likeliest: {odds}.",
            {"first": first.words, "odds": odds_in_words(first.chance)},
        )
    ]
    if own is None:
        told.append(
            Say(
                "“{causes}” is not among what usually lies behind this complaint: what speaks for it has to be read.",
                {"causes": CAUSES.get(said.cause, said.cause)},
            )
        )
    elif own.key == first.key:
        told.append(Say("You said the same."))
    elif own.chance >= NEAR * first.chance:
        told.append(
            Say(
                "Yours is as likely by what was read: {odds}. The next test tells them apart.",
                {"odds": odds_in_words(own.chance)},
            )
        )
    else:
        told.append(Say("Yours: {odds}.", {"odds": odds_in_words(own.chance)}))
        told += list(first.speaks_for[:2]) + list(own.speaks_against[:2])
    if one.tests:
        told.append(Say("What would tell most now: {test}", {"test": one.tests[0].words}))
    return told
