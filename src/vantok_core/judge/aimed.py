"""The sentence of a job that asks for no height: what could be the whole cause first, then the drive, the part, the drive again.

Source: method section 20.
"""

from __future__ import annotations

from vantok_core.aims.of_job import driven, in_words, job_aims
from vantok_core.base.say import Say, Verdict
from vantok_core.facts import Job
from vantok_core.judge.grounds.lead import led_by_limits
from vantok_core.judge.listen.inspect import AREAS, standing_faults
from vantok_core.judge.prove.driving import answers
from vantok_core.kits.registry import family_of

FINE, HELPED = ("fine now",), ("fine now", "better")


def aim_verdict(job: Job) -> Verdict:
    """Return what to do next for what a job came for, limits first; no height is asked for."""
    return led_by_limits(job, _next(job), ())


def _next(job: Job) -> Verdict:
    faults = standing_faults(job)
    if faults:
        area = faults[0][0]
        return _say(f"Fix first: {_short(area.words)}. {area.do}", tone="limit")
    words = in_words(job_aims(job))
    if unknown := unlooked(job):
        points = ", ".join(_short(AREAS[key].words) for key in unknown)
        return _say(f"For {words} no height is needed. Look first at: {points}. Any of them could be the whole cause.")
    if not driven(job, "before"):
        return _say(
            f"Nothing found stands behind {words} yet. Drive it before anything is fitted, and grade it; from memory where it cannot be driven any more."
        )
    if not job.parts:
        return _say(f"Driven and graded before. Choose what answers {words}, or fit nothing.")
    waiting = [part.kit for part in job.parts if not part.done]
    if waiting:
        family = family_of(waiting[0])
        return _say(f"Fit {waiting[0].name} by its card, set the {family.words} and confirm it; then drive again.")
    return _result(job, words)


def _result(job: Job, words: str) -> Verdict:
    """Return what the drives say of it, once the part is on."""
    if not driven(job, "after"):
        return _say(f"Now drive the same course again, at the same speed and load, and grade {words}.")
    found = [one for one in answers(job) if one.word != "open"]
    if not found:
        return _say(f"No grade after answers {words}: drive the course of before, and grade the same points.")
    if all(one.word in FINE for one in found):
        return _say(f"By the drive, {words} is fine now.", tone="level")
    if all(one.word in HELPED for one in found):
        return _say(f"By the drive, {words} is better, not yet fine.")
    worse = any(one.word == "worse" for one in found)
    return _say(
        f"By the drive, {words} is {'worse' if worse else 'no better'}: look for the cause again before more parts."
    )


def unlooked(job: Job) -> list[str]:
    """Return the inspection's areas nobody graded that could be the whole cause of what the job came for."""
    graded = {one.area for one in job.inspection if one.grade}
    return list(dict.fromkeys(key for aim in job_aims(job) for key in aim.first if key in AREAS and key not in graded))


def _short(words: str) -> str:
    return words.split(":", maxsplit=1)[0]


def _say(text: str, tone: str = "act") -> Verdict:
    return Verdict(tone="limit" if tone == "limit" else "level" if tone == "level" else "act", sentences=(Say(text),))
