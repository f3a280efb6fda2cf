"""The sentence of Set: how the kit is to be set and for what, or how it was set and what comes then."""

from __future__ import annotations

from vantok_core.aims.of_job import driven
from vantok_core.base.say import Quantity, Say, Verdict
from vantok_core.facts import Fitting, Job
from vantok_core.kits.registry import family_of


def setting_said(part: Fitting) -> Say | None:
    """Return a kit's setting as one phrase, left and right apart only where they differ; None where none is told."""
    words: list[str] = []
    values: dict[str, Quantity] = {}
    for field in family_of(part.kit).settings:
        pair = part.setting.get(field.name)
        if pair is None:
            continue
        left, right = (Quantity(value, field.kind) for value in pair)
        values |= {f"{field.name}_l": left, f"{field.name}_r": right}
        both = f"{{{field.name}_l}}"
        apart = f"left {both}, right {{{field.name}_r}}"
        words.append(f"{field.words} {both if pair[0] == pair[1] else apart}")
    return Say("; ".join(words), values) if words else None


def set_verdict(job: Job) -> Verdict:
    """Return the sentence of Set for the kit in hand (the job has one)."""
    part = job.fitting
    if part is None:
        return Verdict(tone="act", sentences=(NOTHING_TO_SET,))
    told, state = setting_said(part), job.state(part.state)
    load = f" for “{state.name}”" if state is not None else ""
    if part.done:
        set_to = Say(f"{part.kit.name} is set{load}: {told.template}.", told.values) if told else None
        said = set_to or Say(f"{part.kit.name} is fitted: it has nothing to set.")
        read = driven(job, "after") or any(one.phase == "after" for one in job.readings)
        return Verdict(tone="plain", sentences=(said,) if read else (said, PROVE_IT))
    if told is None:
        return Verdict(tone="act", sentences=(Say(f"{part.kit.name}: confirm that it is on as its card says."),))
    set_it = Say(f"Set {part.kit.name}{load}: {told.template}; then confirm it as made.", told.values)
    return Verdict(tone="act", sentences=(set_it,))


NOTHING_TO_SET = Say("No kit is taken: choose first, or go on to Prove if nothing is fitted.")
PROVE_IT = Say("Then prove it: by tape, and on the road.", act="alone")
