"""The sentences of the stages before and after the diagnosis."""

from __future__ import annotations

from collections.abc import Sequence

from vantok_core.job import Job
from vantok_core.judge.checks import PLACE_WORDS, check_reading
from vantok_core.judge.diagnose import Diagnosis
from vantok_core.judge.inspect import standing_faults
from vantok_core.kits.choose import Choice, Shortlist
from vantok_core.model import Missing, has_load
from vantok_core.plan import state_load, state_margins, worst_margin
from vantok_core.say import Finding, Quantity, Say, Tone, Verdict, mass

WALK = ("FL", "RL", "RR", "FR")
"""Corners in the order one walks round the vehicle."""


def start_verdict(job: Job, lacks: Sequence[Missing]) -> Verdict:
    """Return what to find out next, before there is anything to judge."""
    hard = [m for m in lacks if m.hard]
    if hard:
        names = ", ".join(m.what for m in hard)
        return Verdict(
            tone="act",
            sentences=(Say(f"To find out: {names}. Without that there are no {hard[0].blocks.removeprefix('all ')}."),),
        )
    if lacks:
        return Verdict(
            tone="act",
            sentences=(Say(f"Enough to begin. Still unknown: {lacks[0].what}; it blocks {lacks[0].blocks}."),),
        )
    if not job.loaded:
        return Verdict(tone="act", sentences=(Say("Add a loaded state: as it is used, with its load known."),))
    return Verdict(tone="level", sentences=(Say("Vehicle and ratings are known: weigh and measure."),))


def loads_verdict(job: Job) -> Verdict:
    """Return the sentence of the weighing: limits first, the smallest margin speaks."""
    over = [(s, m) for s in job.states for m in state_margins(job, s) if m.margin is not None and m.over]
    if over:
        state, margin = min(over, key=lambda pair: pair[1].share or 0.0)
        values = {"over": mass(-(margin.margin or 0.0))}
        more = f" {len(over) - 1} more limit{'s are' if len(over) > 2 else ' is'} passed." if len(over) > 1 else ""
        text = (
            f"{state.name}: {margin.name} is {{over}} over.{more} Move or remove load first; no spring raises a rating."
        )
        return Verdict(tone="limit", sentences=(Say(text, values),))
    unknown = [s.name for s in job.loaded if not has_load(s)]
    if unknown:
        return Verdict(
            tone="act", sentences=(Say(f"The load of {unknown[0]} is not recorded: weigh it, or list what is on it."),)
        )
    blind = [s.name for s in job.states if state_load(job, s).front is None]
    if blind:
        return Verdict(
            tone="act", sentences=(Say(f"Weigh the empty vehicle: without it the margins of {blind[0]} stay unknown."),)
        )
    worst = worst_margin(job)
    if worst is None or not job.loaded:
        return Verdict(
            tone="act", sentences=(Say("Weigh it, and take the ratings off the plate: no margin is known yet."),)
        )
    state, margin = worst
    share = margin.share or 0.0
    values = {"margin": mass(margin.margin or 0.0), "share": Quantity(share, "percent")}
    text = f"Within every known limit. The nearest is the {margin.name} in {state.name}: {{margin}} left ({{share}})."
    return Verdict(tone="level" if share > 0.05 else "act", sentences=(Say(text, values),))


def sheet_verdict(job: Job, sheet: Sequence[Finding], diagnosis: Diagnosis) -> Verdict:
    """Return the sentence of the measuring sheet: what is odd first, then the next cell to read."""
    if sheet:
        return Verdict(tone="act", sentences=(sheet[0].what, sheet[0].do))
    datum = diagnosis.datum
    for reading in job.readings:
        if reading.phase == "before" and (odd := check_reading(job, reading)):
            name = next(s.name for s in job.states if s.key == reading.state)
            where = Say(f"{name}, {PLACE_WORDS[reading.place]}:")
            return Verdict(tone="act", sentences=(where, odd[0].what, odd[0].do))
    for state in job.states:
        unread = [place for place in WALK if job.read(state.key, place, datum) is None]
        if unread:
            begun = "" if len(unread) == len(WALK) else f", {PLACE_WORDS[unread[0]]}"
            baseline = "" if state.empty else "Baseline taken. "
            return Verdict(tone="act", sentences=(Say(f"{baseline}Next: {state.name}{begun}."),))
    if diagnosis.main is not None:
        agree = Say("All states read, and the readings agree with one another.")
        return Verdict(tone="level", sentences=(agree, diagnosis.verdict.sentences[0]))
    return Verdict(tone="act", sentences=(Say("Baseline taken. Load it as it is used, and read it again."),))


def choose_verdict(job: Job, found: Shortlist) -> Verdict:
    """Return the sentence of the choice."""
    if found.over:
        return Verdict(tone="limit", sentences=(found.over[0], found.reason))
    faults = standing_faults(job)
    if faults:
        area = faults[0][0]
        text = (
            f"Fix first: {area.words.split(':')[0]}. {area.do} Or overrule it on the inspection sheet, with the reason."
        )
        return Verdict(tone="limit", sentences=(Say(text),))
    choice = found.choice(found.recommended)
    chosen = found.choice(job.fitting.kit.code) if job.fitting else None
    if chosen is not None and chosen.kind == "kit":
        return _chosen_verdict(chosen)
    if choice is None:
        return Verdict(tone="act", sentences=(found.reason,))
    words = f"Take {choice.name}." if choice.kind == "kit" else f"{choice.name}."
    tone: Tone = "level" if choice.kind == "nothing" else "act"
    return Verdict(tone=tone, sentences=(Say(words), found.reason))


def _chosen_verdict(chosen: Choice) -> Verdict:
    """Return the sentence once a kit is chosen: does it fit, and what is still to measure before ordering."""
    name = Say(f"Chosen: {chosen.name}.")
    if chosen.out:
        return Verdict(tone="limit", sentences=(name, Say("It does not fit:"), chosen.out[0]))
    open_checks = [c.words for c in chosen.checks if c.status == "measure"]
    if open_checks:
        return Verdict(tone="act", sentences=(name, Say(f"Before ordering, measure: {', '.join(open_checks)}.")))
    return Verdict(tone="level", sentences=(name,))
