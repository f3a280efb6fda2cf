"""The sentence that each stage of a job ends in: what cannot be first, then what the stage has to say."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from vantok.desk.translate import latest_readings
from vantok_core.base.say import Say, Verdict
from vantok_core.judge.diagnose.diagnosis import Diagnosis
from vantok_core.judge.grounds.lead import led_by_limits
from vantok_core.judge.grounds.leaking import stopping
from vantok_core.judge.measure.doubts import held_back
from vantok_core.judge.verdicts import choose_verdict, sheet_verdict, start_verdict
from vantok_core.judge.weigh.loads import loads_verdict
from vantok_core.procedure.progress import card_verdict

if TYPE_CHECKING:
    from vantok.desk.load import Desk


def stage_verdict(desk: Desk, stage: str) -> Verdict:
    """Return the sentence a stage ends in."""
    if stage == "weigh":
        return loads_verdict(desk.job, desk.diagnosis.unweighed if desk.diagnosis else ())
    if desk.unfit:
        return Verdict(tone="limit", sentences=(Say(f"To mend: {desk.unfit[0]}. It is left out as unknown."),))
    if desk.problem:
        return Verdict(tone="limit", sentences=(Say(desk.problem),))
    if stage in ("listen", "vehicle") or desk.diagnosis is None:
        return start_verdict(desk.job, desk.missing)
    found = _judgement(desk, stage, desk.diagnosis)
    if stage not in ("measure", "fit"):  # what rests on the sheet; a card in hand leads its steps
        found = held_back(desk.job, found, desk.sheet)
    stops = stopping(desk.job) if stage in ("prove", "report") else ()
    return replace(found, tone="limit", sentences=(*stops, *found.sentences)) if stops else found


def _with_odd_cells(desk: Desk, verdict: Verdict) -> Verdict:
    """Return the sheet's sentence with the cells that stand marked as odd: over those nothing is green."""
    odd = sum(reading.flag == "odd" for reading in latest_readings(desk.record))
    if not odd or verdict.tone != "level":
        return verdict
    many = "One reading is" if odd == 1 else f"{odd} readings are"
    said = Say(f"{many} marked as odd on the sheet: read again, or left so on purpose, before they are relied on.")
    return replace(verdict, tone="act", sentences=(said, *verdict.sentences[1:]))


def _judgement(desk: Desk, stage: str, diagnosis: Diagnosis) -> Verdict:
    if stage == "fit" and desk.cards:
        worked_on = next((one for one in desk.cards if not one.done), desk.cards[-1])
        return led_by_limits(desk.job, card_verdict(worked_on), diagnosis.unweighed)
    if stage == "measure":
        return _with_odd_cells(desk, sheet_verdict(desk.job, desk.sheet, diagnosis))
    found = desk.shortlist if stage == "choose" else desk.chosen if stage == "set" else None
    if found is not None:
        return choose_verdict(desk.job, found, diagnosis.unweighed)
    if stage in ("prove", "report") and desk.proof is not None:
        return desk.proof.verdict
    if stage in ("prove", "report") and "proof" in desk.worked.problems:
        return Verdict(tone="limit", sentences=(Say(desk.worked.problems["proof"]),))
    return diagnosis.verdict
