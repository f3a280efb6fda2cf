"""What the census of the suspension says: what is perished or missing comes first, what was fitted later is to be read on and off."""

from __future__ import annotations

from vantok_core.base.say import Finding, Say
from vantok_core.facts import Job
from vantok_core.facts.hanging import HANGS

WORDS: dict[str, str] = {
    "stops": "The bump stops",
    "bar_front": "The front anti-roll bar",
    "bar_rear": "The rear anti-roll bar",
    "stabilizer": "The steering stabilizer’s bracket",
    "second_stage": "The springs’ second stage",
    "helper": "The helper springs",
    "bags": "The air bags",
    "insert": "The inserts",
    "dampers": "The dampers",
    "tyres": "The tyres",
    "lift": "The lift",
    "packers": "The packers",
    **{kind: f"The {words}" for kind, words in HANGS.items()},
}
LIFTING = ("helper", "bags", "insert", "lift", "packers")
"""What holds a vehicle up beside its springs: with one of these on from later, the heights as it came are not the factory’s."""


def census_findings(job: Job) -> list[Finding]:
    """Return what the census found: faults to mend first, and what was fitted later and is not said to be on."""
    found = []
    for one in job.vehicle.equipment:
        words = WORDS[one.kind]
        if one.fitted in ("perished", "missing"):
            are = "are" if words.endswith("s") and not words.endswith("bracket") else "is"
            what = Say(
                "{words} {are} {fitted}{noted}.",
                {"words": words, "are": are, "fitted": one.fitted, "noted": _noted(one.note)},
            )
            if one.kind in HANGS:
                do, key = Say("Have that put right before it is handed over."), f"hangs-{one.kind}"
            else:
                do, key = Say("Mend that first: what is worked out rests on it being sound."), f"fix-census-{one.kind}"
            found.append(Finding(key=key, tone="act", what=what, do=do))
        if one.fitted == "later" and one.kind in LIFTING and job.already is None:
            what = Say(
                "{words} were fitted later{noted}: the heights as it came have them on.",
                {"words": words, "noted": _noted(one.note)},
            )
            found.append(
                Finding(
                    key="came-with",
                    tone="plain",
                    what=what,
                    do=Say("Name them on Measure and read them on and off at one load."),
                )
            )
    return found


def _noted(note: str) -> str:
    """Return what was noted of a thing, in brackets."""
    return f" ({note})" if note else ""
