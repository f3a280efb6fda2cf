"""What a form of the card says: how a step was left, what was written down at it, what it taught."""

from __future__ import annotations

import hashlib
from datetime import date
from typing import Any, Literal, TypeVar

from django.http import QueryDict
from django.utils import timezone

from vantok.desk.parts import setting_of
from vantok.fields.ids import identity
from vantok.people.models import User
from vantok_core.base.check import read_form
from vantok_core.base.errors import FileFormatError, InputError, UnitError
from vantok_core.base.units import System, parse
from vantok_core.facts import CardMark, Job, Learnt
from vantok_core.facts.fitting import Ordered
from vantok_core.facts.kit import ANSWERS, FACTS, Fastener
from vantok_core.procedure.card import Step, card, may_follow
from vantok_core.procedure.progress import Progress, torque_odd
from vantok_core.procedure.prover import cannot_be

Part = TypeVar("Part", CardMark, Learnt, Ordered)
STATES: dict[str, Literal["done", "skipped", "overruled", "stopped"]] = {
    "tick": "done",
    "skip": "skipped",
    "overrule": "overruled",
    "stop": "stopped",
}


class SaidError(InputError):
    """A refusal that is a whole sentence."""

    def __init__(self, sentence: str) -> None:
        super().__init__("step", "this", sentence)
        self.args = (f"{sentence} Nothing was changed.",)


def stamp_of(fitting: int, step: Step) -> str:
    """Return what a form of a step is for: the kit it stands on the card of, and what the step says there."""
    says = repr((step.key, step.words, step.asks, step.fasteners, step.side, step.fact))
    return f"{fitting}.{hashlib.sha256(says.encode()).hexdigest()[:10]}"


def hold_to(fitting: int, found: Progress, told: QueryDict) -> None:
    """Raise SaidError where a form is of another kit's card, or of a step that reads otherwise now: it is told what it was for, and nothing is done."""
    step, stamp = found.card.step(told.get("key", "")), told.get("card", "")
    if step is not None and stamp == stamp_of(fitting, step):
        return
    other = stamp.partition(".")[0] != str(fitting)
    now = f"{found.card.kit.name} is on the card now" if other else "the card reads otherwise now"
    raise SaidError(
        f"This was for another card ({told.get('key', 'no step') or 'no step'}): {now}. Look at the card as it stands, and tick what was done."
    )


def mark_of(person: User, units: System, found: Progress, told: QueryDict) -> CardMark:
    """Return the mark that a form makes of a step. Raises InputError where it cannot be."""
    action, step = told.get("action", ""), found.card.step(told.get("key", ""))
    if step is None:
        raise InputError(
            "step", told.get("key", ""), "the card has no such step: its kit was changed, and the card with it"
        )
    if action == "learn" or action not in STATES:
        action = "tick"
    note, missing = told.get("note", "").strip()[:200], _missing(found, step, told)
    if action in ("skip", "overrule") and not note:
        raise SaidError("Say why: the report keeps the reason.")
    if step.gate:
        _hold(action, step, told)
    if step.key == "unpack":
        _counted(action, missing, told)
    done = {**_reached(units, step, told), **_written(units, found, step, told)} if action == "tick" else {}
    mark = dict(
        key=step.key,
        state=STATES[action],
        **done,
        missing=missing if action == "stop" else (),
        note=note,
        by=str(person)[:120],
        at=timezone.now().isoformat(timespec="seconds"),
    )
    return _checked(CardMark, mark)


def ordered_of(person: User, told: QueryDict) -> Ordered:
    """Return what a form tells of an order made today. Raises SaidError where it cannot be."""
    expected = told.get("expected", "").strip()
    try:
        promised = date.fromisoformat(expected).isoformat() if expected else None
    except ValueError as error:
        raise SaidError("Promised for: that is no day. Nothing was kept.") from error
    made = {"on": timezone.localdate().isoformat(), "expected": promised, "of": told.get("of", "").strip()[:40]}
    return _checked(Ordered, made | {"by": str(person)[:120]})


def _checked(kind: type[Part], told: dict[str, Any]) -> Part:
    """Return a part of the card as told. Raises InputError for what it cannot be: a figure out of bounds, characters that cannot be shown."""
    try:
        return read_form(kind, told, "step")
    except FileFormatError as error:
        raise SaidError(f"{error.reason.rstrip('.')}.") from error


def _hold(action: str, step: Step, told: QueryDict) -> None:
    """Hold a gate: raises InputError until each of its points is so, and for one that is skipped."""
    so = {identity(n) for n in told.getlist("so")}
    if action == "tick" and (left := [ask for n, ask in enumerate(step.asks, 1) if n not in so]):
        raise SaidError(f"A gate holds until each of its points is so. Not said yet: {'; '.join(left)}.")
    if action == "skip":
        raise SaidError("A gate is not skipped: the lead may overrule it, with the reason.")


def _missing(found: Progress, step: Step, told: QueryDict) -> tuple[str, ...]:
    """Return the lines of the box's list, and the tools, that are not ticked as there."""
    there = {identity(n) for n in told.getlist("there")}
    if step.key != "unpack":
        return ()
    return tuple(line for n, line in enumerate((*found.card.contents, *found.card.tools), 1) if n not in there)


def _counted(action: str, missing: tuple[str, ...], told: QueryDict) -> None:
    """Raise InputError for a box that is ticked without being counted, and for one said to lack something that lacks nothing."""
    if action == "tick" and missing:
        raise SaidError(f"Not counted: {', '.join(missing)}. Tick what is there, or say that it is missing.")
    if action == "stop" and not missing:
        raise SaidError("Everything on the list is ticked as there: nothing is missing.")


def _written(units: System, found: Progress, step: Step, told: QueryDict) -> dict[str, Any]:
    """Return what was written down at a step. Raises InputError where it is blank, none of its answers, or a figure that does not read."""
    text, field = told.get("fact", "").strip(), setting_of(found, step)
    if not step.fact or (step.fact == "leftovers" and not text):
        return {}
    words = field.words if field else FACTS.get(step.fact, step.fact)
    if not text:
        raise SaidError(f"Write it down first: {words[0].lower()}{words[1:]}.")
    if step.fact in ANSWERS and text not in ANSWERS[step.fact]:
        raise SaidError(f"It is one of: {', '.join(ANSWERS[step.fact])}.")
    if step.fact in ANSWERS and not told.get("note", "").strip():
        _alike(found, step, text)
    return {"said": text[:200]} if field is None else {"figure": _read(field.kind, text, units)}


def _alike(found: Progress, step: Step, text: str) -> None:
    """Raise InputError where the other side was answered otherwise, and no note says why."""
    other = next((m.said for s, m in found.written if s.words == step.words and s.key != step.key), text)
    if other != text:
        raise SaidError(f"The other side was {other}, this one is {text}: note why they differ, and tick again.")


def _reached(units: System, step: Step, told: QueryDict) -> dict[str, Any]:
    """Return how each of a step's fasteners was tightened: to its table's torque, to another as read, or by feel. Raises InputError for one of which nothing
    is said, for a torque that does not read, and for one far from its table's."""
    return (
        {"each": {one.name: _of_one(units, one, n, told) for n, one in enumerate(step.fasteners)}}
        if step.fasteners
        else {}
    )


def _of_one(units: System, one: Fastener, n: int, told: QueryDict) -> float | str:
    text, how = told.get(f"torque-{n}", "").strip(), told.get(f"reached-{n}", "")
    if text:
        read = _read("torque", text, units)
        odd = torque_odd(one.torque_nm, read)
        if odd is not None and told.get("sure") != "1":
            raise SaidError(odd.in_units(units))
        return read
    if how == "told" and one.torque_nm is not None:
        return one.torque_nm
    if how != "feel":
        raise SaidError(f"Say of {one.name} how it was tightened: to a figure, or by feel.")
    return "feel"


def _read(kind: str, text: str, units: System) -> float:
    try:
        return parse(kind, text, units).value
    except UnitError as error:
        raise SaidError(str(error)) from error


def learnt_of(person: User, found: Progress, told: QueryDict) -> Learnt:
    """Return what a card taught at a step. Raises InputError where nothing is said, or it is said of no step."""
    words, step = " ".join(told.get("words", "").split())[:300], found.card.step(told.get("key", ""))
    if step is None or not words:
        raise SaidError("Say what is to be known at this step.")
    what, after = "note", ""
    if told.get("what") in ("step", "left_out", "moved"):
        what = str(told.get("what"))
    if what == "moved":
        other = found.card.step(told.get("after", ""))
        plain = [one for one in found.card.steps if not one.gate]
        if other is None or not may_follow(plain, step, other):
            raise SaidError("It can only go after a step of the same side, with nothing lifted or lowered between.")
        after = other.key
    told_at = timezone.localdate().isoformat()
    return _checked(
        Learnt, {"what": what, "key": step.key, "words": words, "after": after, "by": str(person)[:120], "at": told_at}
    )


def fought_of(person: User, found: Progress, told: QueryDict) -> Learnt:
    """Return what fought at the step a card stands at. Raises InputError where nothing is said of it, or its minutes do not read."""
    words, step = " ".join(told.get("words", "").split())[:300], found.next
    if step is None or not words:
        raise SaidError("Say what was tried.")
    minutes = told.get("minutes", "").strip().replace(",", ".")
    if minutes and not minutes.replace(".", "", 1).isdecimal():
        raise SaidError(f"Minutes: {minutes[:20]} is no number.")
    day = timezone.localdate().isoformat()
    return _checked(
        Learnt,
        {
            "what": "fought",
            "key": step.key,
            "words": words,
            "of": told.get("of", "").strip()[:120],
            "minutes": float(minutes) if minutes else None,
            "by": str(person)[:120],
            "at": day,
        },
    )


def hold_to_proof(job: Job, place: int, told: Learnt) -> None:
    """Raise SaidError where what a card is taught would make it one that cannot be followed."""
    part = job.parts[place]
    why = cannot_be(card(job, part.kit, (*part.learnt, told), part.setting))
    if why is not None and cannot_be(card(job, part.kit, part.learnt, part.setting)) is None:
        raise SaidError(why.in_both().replace(" Mend its sheet on the shelf.", ""))
