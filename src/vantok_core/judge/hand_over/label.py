"""What stays on the vehicle: a label of what is fitted, how it comes off, its limits and gap, in lines that fit their field.

Source: method section 17 and the trade's practice.
"""

from __future__ import annotations

from dataclasses import dataclass

from vantok_core.base.say import Quantity, Say
from vantok_core.base.units import System
from vantok_core.facts import Fitting, Job
from vantok_core.judge.set.said import setting_said
from vantok_core.kits.registry import family_of
from vantok_core.procedure.card import card
from vantok_core.procedure.progress import progress
from vantok_core.procedure.templates import label_lines


@dataclass(frozen=True, slots=True, kw_only=True)
class LabelPart:
    """A kit on the label: its name, how it is set, never under and never over, how it comes off and goes back."""

    name: str
    setting: str
    limits: str
    off: str
    back: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Label:
    """A label: its kits, its load, the least gap to a stop in the judged state (empty: not known), and what had to be shortened to fit, whole."""

    parts: tuple[LabelPart, ...]
    load: str
    gap: str
    shortened: tuple[str, ...]


def label(job: Job, units: System, widest: int = 96) -> Label:
    """Return the label of a job in a unit system; widest: letters that a line of it holds. Nothing fitted: no parts."""
    shortened: list[str] = []

    def fits(text: str) -> str:
        if len(text) <= widest:
            return text
        shortened.append(text)
        return text[: widest - 1].rsplit(" ", 1)[0] + "…"

    parts = tuple(
        LabelPart(
            name=fits(part.kit.name),
            setting=fits(_setting(part, units)),
            limits=fits("; ".join(one for one in (_limits(part, units), _without_stop(job, part)) if one)),
            off=fits(label_lines(part.kit)[0]),
            back=fits(label_lines(part.kit)[1]),
        )
        for part in job.parts
    )
    return Label(parts=parts, load=_load(job), gap=_gap(job, units), shortened=tuple(shortened))


def _without_stop(job: Job, part: Fitting) -> str:
    """Return that nothing carries when it is empty, where the old stop was taken out and the kit has none."""
    return (
        "no stop beneath: never empty"
        if progress(card(job, part.kit, part.learnt, part.setting), part.card).no_stop
        else ""
    )


def _setting(part: Fitting, units: System) -> str:
    if told := setting_said(part):
        return told.in_units(units)
    return "not set yet" if family_of(part.kit).spans(part.kit) else "nothing to set"


def _limits(part: Fitting, units: System) -> str:
    family = family_of(part.kit)
    if not family.sealed:
        return ""
    span = next(iter(family.spans(part.kit).values()))
    return Say(
        "never under {low}, never over {high}",
        {"low": Quantity(span.low, "pressure"), "high": Quantity(span.high, "pressure")},
    ).in_units(units)


def _load(job: Job) -> str:
    """Return the load that the last kit set is set for; of bags, cold. Empty where none is set."""
    told = [(p, s) for p in job.parts if p.setting and (s := job.state(p.state)) is not None]
    if not told:
        return ""
    part, state = told[-1]
    return f"Set for “{state.name}”" + (", cold." if family_of(part.kit).sealed else ".")


def _gap(job: Job, units: System) -> str:
    """Return the least stop gap as read with the kit on, whatever the state; empty where nobody read one: a label makes no estimate."""
    found = [(r.value_m, r) for r in job.readings if r.datum == "stop_gap" and r.phase == "after" and r.value_m >= 0.0]
    if not found:
        return ""
    value, read = min(found, key=lambda one: one[0])
    state = job.state(read.state)
    return f"{Quantity(value, 'length').in_units(units)} in “{state.name if state else read.state}”"
