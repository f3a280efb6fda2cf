"""The sentence of Set: how the kit is to be set and for what, or how it was set and what comes then."""

from __future__ import annotations

from vantok_core.aims.of_job import driven
from vantok_core.base.say import Quantity, Say, Verdict, Worded, in_turn
from vantok_core.facts import Fitting, Job
from vantok_core.kits.registry import family_of


def setting_said(part: Fitting) -> Say | None:
    """Return a kit's setting as one phrase, left and right apart only where they differ; None where none is told."""
    words: list[Say] = []
    for field in family_of(part.kit).settings:
        pair = part.setting.get(field.name)
        if pair is None:
            continue
        left, right = (Quantity(value, field.kind) for value in pair)
        sides: dict[str, Worded] = {"field": field.words, "left": left, "right": right}
        words.append(Say("{field} {left}" if pair[0] == pair[1] else "{field} left {left}, right {right}", sides))
    return in_turn(words, "; ") if words else None


def set_verdict(job: Job) -> Verdict:
    """Return the sentence of Set for the kit in hand (the job has one)."""
    part = job.fitting
    if part is None:
        return Verdict(tone="act", sentences=(NOTHING_TO_SET,))
    told, state = setting_said(part), job.state(part.state)
    load = f" for “{state.name}”" if state is not None else ""
    if part.done:
        set_to = (
            Say(
                "{part} is set{load}: {told}.",
                {"part": part.kit.name, "load": load, "told": told},
            )
            if told
            else None
        )
        said = set_to or Say("{part} is fitted: it has nothing to set.", {"part": part.kit.name})
        read = driven(job, "after") or any(one.phase == "after" for one in job.readings)
        return Verdict(tone="plain", sentences=(said,) if read else (said, PROVE_IT))
    if told is None:
        return Verdict(
            tone="act", sentences=(Say("{part}: confirm that it is on as its card says.", {"part": part.kit.name}),)
        )
    set_it = Say(
        "Set {part}{load}: {told}; then confirm it as made.",
        {"part": part.kit.name, "load": load, "told": told},
    )
    return Verdict(tone="act", sentences=(set_it,))


NOTHING_TO_SET = Say("No kit is taken: choose first, or go on to Prove if nothing is fitted.")
PROVE_IT = Say("Then prove it: by tape, and on the road.", act="alone")
