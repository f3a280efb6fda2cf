"""The sentence of a job that asks for no height: what could be the whole cause first, then the drive, the part, the drive again.

Source: method section 20.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from vantok_core.aims.aim import AIMS
from vantok_core.aims.of_job import driven, in_words, job_aims, pulling_apart
from vantok_core.base.say import Say, Tone, Verdict, length
from vantok_core.facts import Job
from vantok_core.judge.grounds.lead import led_by_limits
from vantok_core.judge.listen.inspect import AREAS, standing_faults
from vantok_core.judge.prove.driving import answers
from vantok_core.kits.choice import MET
from vantok_core.kits.registry import FAMILIES, family_of
from vantok_core.loads.nose import nose_of, noses
from vantok_core.loads.plan import state_margins

FINE, HELPED = ("fine now",), ("fine now", "better")


def aim_verdict(job: Job, answered: Sequence[Say] = ()) -> Verdict:
    """Return what to do next for what a job came for, limits first; no height is asked for. answered: what is said of the parts that answer it, once it is
    their turn."""
    return led_by_limits(job, _next(job, answered), ())


def apart_said(job: Job) -> tuple[Say, ...]:
    """Return which aims of a job pull against each other, with what each costs the other; level and a rake that is none among them."""
    return _level_or_raked(job) + tuple(
        Say(
            "{one} and {other} pull apart: {costs}. Say which counts more before a part is chosen.",
            {"one": one.words.capitalize(), "other": other.words, "costs": costs},
        )
        for one, other, costs in pulling_apart(job)
    )


def _level_or_raked(job: Job) -> tuple[Say, ...]:
    rake = job.target.rake_m
    if AIMS["rake"] not in job_aims(job) or job.target.school != "level" or abs(rake) <= MET:
        return ()
    way = "below" if rake > 0.0 else "above"
    return (
        Say(
            "Level and a rake of {r} contradict: level leaves the rear {off} {way} what the rake asks, the rake leaves it "
            "that far from level. Say at Target which it is to be.",
            {"r": length(rake, signed=True), "off": length(abs(rake)), "way": way},
        ),
    )


def tongue_asked(job: Job) -> bool:
    """Tell whether what a job came for asks what the tongue and the trailer weigh."""
    return any(aim.towing for aim in job_aims(job))


def stops_choice(job: Job) -> Say | None:
    """Return what of the trailer's load stands before any part of a job that came for its calm; None where nothing does."""
    if not tongue_asked(job):
        return None
    negative = next((one for one in noses(job) if one.word == "negative"), None)
    if negative is not None:
        return Say("First bring the trailer's load forward: it lifts the ball.")
    over = next((m for s in job.states for m in state_margins(job, s) if m.over and m.key in OF_TOWING), None)
    return Say("First take off what is over: {over}.", {"over": over.name}) if over is not None else None


OF_TOWING = ("hitch", "towed", "combination", "trailer_axle", "trailer_tyres")


def _next(job: Job, answered: Sequence[Say]) -> Verdict:
    words = in_words(job_aims(job))
    first = _first(job, words)
    if first is not None:
        return first
    if not driven(job, "before"):
        return _say(
            "Nothing found stands behind {aims} yet. Drive it before anything is fitted, and grade it; from memory where it cannot be driven any more.",
            {"aims": words},
        )
    waiting = [part.kit for part in job.parts if not part.done]
    if waiting:
        family = family_of(waiting[0])
        return _say(
            "Fit {kit} by its card, set the {family} and confirm it; then drive again.",
            {"kit": waiting[0].name, "family": family.words},
        )
    return _result(job, words) if job.parts or driven(job, "after") else _to_choose(job, words, answered)


def _first(job: Job, words: str) -> Verdict | None:
    """Return what stands before any part: a fault found, what could be the whole cause and nobody looked at, a trailer's nose; None where nothing does."""
    faults = standing_faults(job)
    if faults:
        area = faults[0][0]
        return _say("Fix first: {area}. {do}", {"area": _short(area.words), "do": area.do}, tone="limit")
    if unknown := unlooked(job):
        return _say(
            "For {aims} no height is needed. Look first at: {points}. Any of them could be the whole cause.",
            {
                "aims": in_words(aim for aim in job_aims(job) if not aim.heights) or words,
                "points": ", ".join(_short(AREAS[key].words) for key in unknown),
            },
        )
    if not tongue_asked(job) or job.parts:
        return None
    if noses(job):
        return _say("That comes before any part: cure it, then drive the same course again, slower.")
    if any(nose_of(job, state) for state in job.states):
        return None
    return _say("Weigh the tongue and the trailer as it travels: too little on the tongue could be the whole cause.")


def _to_choose(job: Job, words: str, answered: Sequence[Say]) -> Verdict:
    """Return what is to be chosen, or that no part is made for it."""
    if answered:
        return Verdict(tone="act", sentences=(Say("Driven and graded before."), *answered))
    if not any(aim.key in family.answers for aim in job_aims(job) for family in FAMILIES.values()):
        return _say(
            "No part answers {aims}: cure what was found, then drive the same course again and grade it.",
            {"aims": words},
        )
    return _say("Driven and graded before. Choose what answers {aims}, or fit nothing.", {"aims": words})


def _result(job: Job, words: str) -> Verdict:
    """Return what the drives say of it, once the part is on."""
    if not driven(job, "after"):
        return _say("Now drive the same course again, at the same speed and load, and grade {aims}.", {"aims": words})
    values = {"aims": words, "be": "are" if len(job_aims(job)) > 1 else "is"}
    found = [one for one in answers(job) if one.word != "open"]
    if not found:
        return _say(
            "No grade after answers {aims}: drive the course of before, and grade the same points.", {"aims": words}
        )
    if all(one.word in FINE for one in found):
        return _say("By the drive, {aims} {be} fine now.", values, tone="level")
    if all(one.word in HELPED for one in found):
        return _say("By the drive, {aims} {be} better, not yet fine.", values)
    went = "worse" if any(one.word == "worse" for one in found) else "no better"
    return _say(
        "By the drive, {aims} {be} {went}: look for the cause again before more parts.", values | {"went": went}
    )


def unlooked(job: Job) -> list[str]:
    """Return the inspection's areas nobody graded that could be the whole cause of what the job came for."""
    graded = {one.area for one in job.inspection if one.grade}
    return list(dict.fromkeys(key for aim in job_aims(job) for key in aim.first if key in AREAS and key not in graded))


def _short(words: str) -> str:
    return words.split(":", maxsplit=1)[0]


def _say(text: str, values: Mapping[str, str] | None = None, tone: Tone = "act") -> Verdict:
    return Verdict(tone=tone, sentences=(Say(text, values or {}),))
