"""The alignment sheet: what a bench read before and after, what changed beyond its error, and what pulls to a side.

Source: method section 4 (sag turns the wheels); what a difference between the sides does is common practice.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from vantok_core.base.say import Finding, Quantity, Say, in_turn
from vantok_core.facts import Aligned, Job
from vantok_core.judge.diagnose.diagnosis import Diagnosis
from vantok_core.judge.diagnose.thresholds import BENCH_OFF, PULLS

ANGLES: Mapping[str, str] = {
    "camber_fl": "camber, front left",
    "camber_fr": "camber, front right",
    "camber_rl": "camber, rear left",
    "camber_rr": "camber, rear right",
    "toe_fl": "toe-in, front left",
    "toe_fr": "toe-in, front right",
    "toe_rl": "toe-in, rear left",
    "toe_rr": "toe-in, rear right",
    "caster_fl": "caster, left",
    "caster_fr": "caster, right",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class AngleRow:
    """An angle before and after (degrees, None: not read), what changed (None where either is lacking), and whether that is more than the bench's error."""

    key: str
    words: str
    before: float | None
    after: float | None
    change: float | None
    told: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class AlignmentSheet:
    """The rows of the sheet and what is to be said of it."""

    rows: tuple[AngleRow, ...]
    findings: tuple[Finding, ...]


def alignment(job: Job, diagnosis: Diagnosis | None = None) -> AlignmentSheet:
    """Return the alignment sheet as read; with the diagnosis, what the sag of the judged state does to the angles beside it."""
    rows, before, after = [], job.aligned or Aligned(), job.aligned_after or Aligned()
    for key, words in ANGLES.items():
        one, two = getattr(before, key), getattr(after, key)
        change = None if one is None or two is None else two - one
        rows.append(
            AngleRow(
                key=key,
                words=words,
                before=one,
                after=two,
                change=change,
                told=change is not None and abs(change) > BENCH_OFF,
            )
        )
    last = after if any(row.after is not None for row in rows) else before
    return AlignmentSheet(rows=tuple(rows), findings=tuple([*_pulls(last), *_toe(last), *_state(job, diagnosis)]))


def _pulls(sheet: Aligned) -> list[Finding]:
    """Say to which side the front would pull by what is read on it."""
    found = []
    caster, camber = (_less(sheet, f"{name}_fl", f"{name}_fr") for name in ("caster", "camber"))
    if caster is not None and abs(caster) > PULLS:
        side = "right" if caster > 0.0 else "left"
        what = Say(
            "Caster differs by {a} between the sides: it pulls to the {side}, where there is less.",
            {"a": Quantity(abs(caster), "degrees"), "side": side},
        )
        found.append(
            Finding(
                key="pull-caster",
                tone="act",
                what=what,
                do=Say("Look for a bent arm or a spring seat off its place before it is adjusted away."),
            )
        )
    if camber is not None and abs(camber) > PULLS:
        side = "left" if camber > 0.0 else "right"
        what = Say(
            "Camber differs by {a} between the sides: it pulls to the {side}, whose top leans out more.",
            {"a": Quantity(abs(camber), "degrees"), "side": side},
        )
        found.append(
            Finding(
                key="pull-camber", tone="act", what=what, do=Say("Level the vehicle first: a lean shows as camber.")
            )
        )
    return found


def _toe(sheet: Aligned) -> list[Finding]:
    found = []
    for axle, words in (("f", "front"), ("r", "rear")):
        left, right = (getattr(sheet, f"toe_{axle}{side}") for side in "lr")
        if left is not None and right is not None and axle == "r" and abs(left - right) > 2.0 * BENCH_OFF:
            what = Say(
                "The {words} axle points {a} to one side: it runs askew.",
                {"a": Quantity(abs(left - right) / 2.0, "degrees"), "words": words},
            )
            found.append(
                Finding(
                    key="askew",
                    tone="act",
                    what=what,
                    do=Say("Look at spring bolts, arms and bushes before anything is adjusted."),
                )
            )
    return found


def _state(job: Job, diagnosis: Diagnosis | None) -> list[Finding]:
    """Say at what load it was read, where that is not the load it is driven at; and what sag does to the angles."""
    main = diagnosis.main if diagnosis is not None else None
    sheet = job.aligned_after or job.aligned
    if sheet is None or main is None:
        return []
    name = next((s.name for s in job.states if s.key == sheet.state), "")
    if sheet.state and sheet.state != main.state.key and name:
        turned = [
            Say("{angle} {by}", {"angle": key, "by": Quantity(value, "degrees", signed=True)})
            for key, value in main.angles.items()
            if abs(value) > BENCH_OFF
        ]
        by = Say(" Sag there turns the wheels by {turned}.", {"turned": in_turn(turned, ", ")}) if turned else ""
        what = Say(
            "It was read in “{name}”, and is driven in “{state}”.{by}",
            {"name": name, "state": main.state.name, "by": by},
        )
        return [Finding(key="aligned-at", tone="act", what=what, do=Say("Align it at the height it is driven at."))]
    return []


def _less(sheet: Aligned, left: str, right: str) -> float | None:
    one, two = getattr(sheet, left), getattr(sheet, right)
    return None if one is None or two is None else one - two
