"""The sentence that each stage of a job ends in: what cannot be first, then what the stage has to say."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from vantok.desk.translate import latest_readings
from vantok_core.aims.of_job import needs_heights
from vantok_core.base.say import Say, Verdict
from vantok_core.judge.aimed import aim_verdict, tongue_asked
from vantok_core.judge.choose.answered import answered_said
from vantok_core.judge.diagnose.diagnosis import Diagnosis
from vantok_core.judge.grounds.lead import led_by_limits, passed_limits
from vantok_core.judge.grounds.leaking import stopping
from vantok_core.judge.measure.doubts import held_back
from vantok_core.judge.set.said import set_verdict
from vantok_core.judge.verdicts import choose_verdict, chosen_verdict, sheet_verdict, start_verdict
from vantok_core.judge.weigh.loads import loads_verdict
from vantok_core.procedure.progress import card_verdict

if TYPE_CHECKING:
    from vantok.desk.load import Desk


def stage_verdict(desk: Desk, stage: str) -> Verdict:
    """Return the sentence a stage ends in."""
    first = _before_judgement(desk, stage)
    if first is not None:
        return first
    found = _judgement(desk, stage)
    if stage not in ("measure", "fit"):  # what rests on the sheet; a card in hand leads its steps
        found = held_back(desk.job, found, desk.sheet)
    stops = stopping(desk.job) if stage in ("prove", "report") else ()
    return replace(found, tone="limit", sentences=(*stops, *found.sentences)) if stops else found


def _before_judgement(desk: Desk, stage: str) -> Verdict | None:
    """Return what comes before a stage's own judgement: the loads, what cannot be, what is still to be found out; None where it can judge."""
    aimed = not needs_heights(desk.job)
    if stage == "weigh":
        asked = desk.diagnosis is not None or passed_limits(desk.job) or not aimed
        told = desk.diagnosis.unweighed if desk.diagnosis else ()
        if not asked and tongue_asked(desk.job):
            return aim_verdict(desk.job)
        return loads_verdict(desk.job, told) if asked else Verdict(tone="act", sentences=(NOT_ASKED,))
    if desk.unfit:
        return Verdict(
            tone="limit", sentences=(Say("To mend: {unfit}. It counts as unknown.", {"unfit": str(desk.unfit[0])}),)
        )
    if desk.problem:
        return Verdict(tone="limit", sentences=(Say(desk.problem),))
    if not aimed and (stage in ("listen", "vehicle") or desk.diagnosis is None):
        return start_verdict(desk.job, desk.missing)
    return None


NOT_ASKED = Say(
    "What it came for asks for no load. Weighed, it tells besides whether every limit holds; until then none is said to hold."
)
AIMED = ("listen", "vehicle", "choose", "prove", "report")
"""Stages whose sentence belongs to what a job came for, where that asks for no height."""


def _with_odd_cells(desk: Desk, verdict: Verdict) -> Verdict:
    """Return the sheet's sentence with the cells that stand marked as odd: over those nothing is green."""
    odd = sum(reading.flag == "odd" for reading in latest_readings(desk.record))
    if not odd or verdict.tone != "level":
        return verdict
    many = "One reading is" if odd == 1 else f"{odd} readings are"
    said = Say(
        "{many} marked as odd on the sheet: read again, or left so on purpose, before they are relied on.",
        {"many": many},
    )
    return replace(verdict, tone="act", sentences=(said, *verdict.sentences[1:]))


def _judgement(desk: Desk, stage: str) -> Verdict:
    diagnosis = desk.diagnosis
    told = _by_hand(desk, stage)
    if told is not None:
        return led_by_limits(desk.job, told, diagnosis.unweighed if diagnosis else ())
    if diagnosis is None or (stage in AIMED and not needs_heights(desk.job)):
        return aim_verdict(desk.job, answered_said(desk.job, desk.answering) if stage == "choose" else ())
    if stage == "measure":
        return _with_odd_cells(desk, sheet_verdict(desk.job, desk.sheet, diagnosis))
    if stage == "choose":
        found = desk.shortlist
        return diagnosis.verdict if found is None else choose_verdict(desk.job, found, diagnosis.unweighed)
    return _proved(desk, diagnosis) if stage in ("prove", "report") else diagnosis.verdict


def _by_hand(desk: Desk, stage: str) -> Verdict | None:
    """Return what a stage of the hands has to say of its own work; None for the others, and where the proof speaks."""
    job = desk.job
    if desk.diagnosis is not None and not job.parts and any(f.key == "unsolved" for f in desk.diagnosis.findings):
        return None
    if stage == "fit":
        return _on_the_card(desk)
    if stage == "set":
        taken = desk.chosen.choice(job.fitting.kit.code) if desk.chosen and job.fitting else None
        return chosen_verdict(taken) if taken and taken.out else set_verdict(job)
    return _not_proved(desk) if stage == "prove" and needs_heights(job) else None


def _not_proved(desk: Desk) -> Verdict | None:
    """Return why there is no proof by the tape yet; None where there is one, or where it says itself what is wrong."""
    if desk.proof is not None or "proof" in desk.worked.problems:
        return None
    return Verdict(tone="act", sentences=(NOTHING_READ if desk.job.parts else NOTHING_FITTED,))


def _on_the_card(desk: Desk) -> Verdict:
    """Return what the cards say: the first that is not done, else the last."""
    left = [one for one in desk.cards if not one.done]
    if not desk.cards:
        return Verdict(tone="act", sentences=(NOTHING_TAKEN,))
    if left and not any(one.marks for one in desk.cards) and all(part.done for part in desk.job.parts):
        return Verdict(tone="plain", sentences=(WITHOUT_CARD,))
    return card_verdict(left[0] if left else desk.cards[-1])


NOTHING_TAKEN = Say("No kit is taken: there is nothing to fit. Choose first.")
WITHOUT_CARD = Say("Set and confirmed without its card: no step of it is ticked.")
NOTHING_FITTED = Say("Nothing is fitted: there is nothing to prove.")
NOTHING_READ = Say("Read the heights with the kit on: nothing is proved yet.")


def _proved(desk: Desk, diagnosis: Diagnosis) -> Verdict:
    """Return what the proof says, or why there is none."""
    if desk.proof is not None:
        return desk.proof.verdict
    if "proof" in desk.worked.problems:
        return Verdict(tone="limit", sentences=(Say(desk.worked.problems["proof"]),))
    return diagnosis.verdict
