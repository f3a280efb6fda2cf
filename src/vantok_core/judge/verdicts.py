"""The sentences of the stages before and after the diagnosis."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from vantok_core.aims.of_job import in_words, job_aims
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.names import PLACES
from vantok_core.base.say import Finding, Say, Tone, Verdict, length
from vantok_core.facts import Job
from vantok_core.judge.diagnose.diagnosis import Diagnosis
from vantok_core.judge.grounds.lead import NO_LIMIT, led_by_limits, probably_over
from vantok_core.judge.grounds.unweighed import Unweighed
from vantok_core.judge.listen.inspect import standing_faults
from vantok_core.judge.measure.checks import baseline_missing, check_reading
from vantok_core.judge.weigh.loads import way_out
from vantok_core.kits.choice import Choice, Shortlist
from vantok_core.loads.plan import worst_margin
from vantok_core.model import Missing

WALK = ("FL", "RL", "RR", "FR")
"""Corners in the order one walks round the vehicle."""


NO_BASELINE = Say(
    "The empty vehicle is not read yet. Read it before any work starts: once a kit is on, it can never be measured again."
)


NO_REFERENCE = Say(
    "It is not read as it stands yet. Read it before any work starts: once a kit is on, that can never be measured again."
)


def start_verdict(job: Job, lacks: Sequence[Missing]) -> Verdict:
    """Return what to find out next, before there is anything to judge."""
    hard = [m for m in lacks if m.hard]
    if hard:
        names = ", ".join(m.what for m in hard)
        return Verdict(
            tone="act",
            sentences=(
                Say(
                    "To find out: {names}. Without that there are no {blocks}.",
                    {"names": names, "blocks": hard[0].blocks.removeprefix("all ")},
                ),
            ),
        )
    if lacks:
        return Verdict(
            tone="act",
            sentences=(
                Say(
                    "Enough to begin. Still unknown: {lack}; it blocks {blocks}.",
                    {"lack": lacks[0].what, "blocks": lacks[0].blocks},
                ),
            ),
        )
    if not job.judged:
        return Verdict(tone="act", sentences=(Say("Add a loaded state: as it is used, with its load known."),))
    return Verdict(tone="level", sentences=(Say("Vehicle and ratings are known: weigh and measure."),))


def sheet_verdict(job: Job, sheet: Sequence[Finding], diagnosis: Diagnosis) -> Verdict:
    """Return the sentence of the measuring sheet: limits passed, what is odd, then the next cell to read."""
    return led_by_limits(job, _sheet(job, sheet, diagnosis), diagnosis.unweighed)


def _sheet(job: Job, sheet: Sequence[Finding], diagnosis: Diagnosis) -> Verdict:
    found = _odd_on_sheet(job, sheet, diagnosis) or _next_to_read(job, diagnosis.datum)
    if found:
        return Verdict(tone="act", sentences=found)
    untold = next((f for f in diagnosis.findings if f.key == "load-unknown"), None)
    if diagnosis.main is None and untold is not None:
        return Verdict(tone="act", sentences=(diagnosis.stance, untold.what, untold.do))
    if diagnosis.main is not None:
        agree = Say("All states read, and the readings agree with one another.")
        return Verdict(tone="level", sentences=(agree, diagnosis.stance))
    return Verdict(tone="act", sentences=(Say("Baseline taken. Load it as it is used, and read it again."),))


def _odd_on_sheet(job: Job, sheet: Sequence[Finding], diagnosis: Diagnosis) -> tuple[Say, ...]:
    """Return what is odd: a state that cannot be solved first, then the sheet as a whole, then a reading."""
    lost = [f for f in diagnosis.findings if f.key == "unsolved"]
    for finding in (*lost, *(f for f in sheet if f.tone == "act")):
        return finding.what, finding.do
    for reading in job.readings:
        if reading.phase == "before" and (odd := check_reading(job, reading)):
            name = next(s.name for s in job.states if s.key == reading.state)
            where = f"{name}, {PLACES.get(reading.place, reading.place.replace('-', ' '))}:"
            return Say("{where} {what}", {"where": where, "what": odd[0].what}), odd[0].do
    return ()


def _next_to_read(job: Job, datum: str) -> tuple[Say, ...]:
    """Return the next state and corner to read; nothing when all are."""
    for state in job.states:
        unread = [place for place in WALK if not state.past and job.read(state.key, place, datum) is None]
        if unread:
            begun = "" if len(unread) == len(WALK) else f", {PLACES[unread[0]]}"
            baseline = "" if state.empty or job.never_empty else "Baseline taken. "
            return (
                Say("{baseline}Next: {state}{begun}.", {"baseline": baseline, "state": state.name, "begun": begun}),
            )
    return ()


def choose_verdict(job: Job, found: Shortlist, unweighed: Sequence[Unweighed] = ()) -> Verdict:
    """Return the sentence of the choice. unweighed: what the springs tell of the loads nobody weighed."""
    said = led_by_limits(job, _choice(job, found), unweighed)
    if worst_margin(job) is None and not unweighed and said.tone == "act":
        return replace(said, sentences=(*said.sentences, NO_LIMIT))
    return said


def _choice(job: Job, found: Shortlist) -> Verdict:
    stopped = _stopped(job, found)
    if stopped is not None:
        return stopped
    choice = found.choice(found.recommended)
    chosen = found.choice(job.fitting.kit.code) if job.fitting else None
    if chosen is not None and chosen.kind == "kit":
        return chosen_verdict(chosen, done=job.fitting is not None and job.fitting.done)
    if choice is None:
        return Verdict(tone="act", sentences=(found.reason,))
    words = Say("Take {choice}." if choice.kind == "kit" else "{choice}.", {"choice": choice.name})
    if others := in_words(aim for aim in job_aims(job) if not aim.heights):
        said = Say("For the height: {words}", {"words": words}), found.reason, *_of_estimate(found)
        return Verdict(
            tone="act",
            sentences=(
                *said,
                Say("For {others}: choose by what answers it, and drive.", {"others": others}, act="alone"),
            ),
        )
    tone: Tone = "level" if choice.kind == "nothing" else "act"
    return Verdict(tone=tone, sentences=(words, found.reason, *_of_estimate(found)))


def _stopped(job: Job, found: Shortlist) -> Verdict | None:
    """Return what comes before any choice: load over a limit, a fault, a limit likelier passed than not, the vehicle not read yet."""
    if found.over:
        return Verdict(tone="limit", sentences=(way_out(job, found.state),))
    faults = standing_faults(job)
    if faults:
        area = faults[0][0]
        return Verdict(
            tone="limit",
            sentences=(
                Say(
                    "Fix first: {area}. {do} Or overrule it on the inspection sheet, with the reason.",
                    {"area": area.words.split(":")[0], "do": area.do},
                ),
            ),
        )
    if probably_over(job):
        return Verdict(tone="act", sentences=(Say("Weigh it before anything is ordered or fitted."),))
    if baseline_missing(job):
        return Verdict(tone="limit", sentences=(NO_REFERENCE if job.never_empty else NO_BASELINE,))
    return None


def _of_estimate(found: Shortlist) -> tuple[Say, ...]:
    """Return that the target is itself an estimate, where it is one: reaching it is no surer than it."""
    band = NINE_IN_TEN * found.target.sigma
    return (Say("That target is itself an estimate, ± {b}.", {"b": length(band)}),) if band else ()


def chosen_verdict(chosen: Choice, *, done: bool = False) -> Verdict:
    """Return the sentence once a kit is chosen: does it fit, and what is still to measure before ordering."""
    name = Say("Chosen: {chosen}.", {"chosen": chosen.name})
    if chosen.out:
        out = Say("It does not fit: {why}", {"why": chosen.out[0]})
        return Verdict(tone="limit", sentences=(name, out))
    if done:
        return Verdict(tone="plain", sentences=(Say("{chosen} is chosen, and set.", {"chosen": chosen.name}),))
    open_checks = [c.words for c in chosen.checks if c.open]
    if open_checks:
        return Verdict(
            tone="act",
            sentences=(
                name,
                Say("Before ordering, measure: {open_checks}.", {"open_checks": ", ".join(open_checks)}, act="alone"),
            ),
        )
    return Verdict(tone="level", sentences=(name,))
