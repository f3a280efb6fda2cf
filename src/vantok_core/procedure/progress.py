"""Where a card stands: what is done, what comes next on either side, what is held and why, and the sentence for it."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from vantok_core.base.say import Quantity, Say, Verdict
from vantok_core.facts.fitting import CardMark, Learnt
from vantok_core.kits.quote import SECOND_SIDE
from vantok_core.procedure.card import Card, Step
from vantok_core.procedure.standing import Standing, standing

READ_FIRST = "The baseline is not read: read every height first, or say on Choose why it cannot be read."
"""What the baseline gate says where heights are asked for and were not read."""
STOPPED = "Order it, and say when it is there: the vehicle is not opened for a kit that is not complete."
TAKEN_OUT = "taken out"
NO_STOP = "There is no stop now: never drive it empty; if an air spring or insert fails, stop."
"""What is said where the old stop was taken out and the kit has none."""
BREAK = 30.0
"""Minutes without a mark from which on nobody was working (setting)."""
WILD = 10.0
"""A torque so many times its table's is a slip of the finger."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Progress:
    """A card with its marks: those still open in order, and lists of what is by feel, cannot be undone, was skipped or overruled. asked: what the
    baseline gate still asks for, empty where it was taken; stopped: why nothing of it is done for now (the kit does not fit), None where nothing
    stands in its way."""

    card: Card
    marks: Mapping[str, CardMark]
    asked: str
    stopped: Say | None = None

    @property
    def open(self) -> tuple[Step, ...]:
        """The steps not done yet."""
        return tuple(step for step in self.card.steps if not self.is_left(step))

    def is_left(self, step: Step) -> bool:
        """Tell whether a step was left behind: done, skipped or overruled, not stopped at."""
        mark = self.marks.get(step.key)
        return mark is not None and mark.state != "stopped"

    @property
    def next(self) -> Step | None:
        """The step that comes next."""
        return next(iter(self.open), None)

    @property
    def done(self) -> bool:
        """Whether nothing is left to do."""
        return not self.open

    @property
    def by_feel(self) -> tuple[str, ...]:
        """Fasteners that no wrench reached, with their side: to be looked at again after the first distance."""
        return tuple(
            f"{f.name}, {step.side}" if step.side != "once" else f.name
            for step in self.card.steps
            if (mark := self.marks.get(step.key))
            for f in step.fasteners
            if mark.each.get(f.name, mark.reached) == "feel"
        )

    @property
    def fought(self) -> tuple[Learnt, ...]:
        """What fought on this card, with what was tried: its fastener was changed or strained, and is looked at again like one by feel."""
        return tuple(one for step in self.card.steps for one in step.learnt if one.what == "fought")

    @property
    def again(self) -> tuple[str, ...]:
        """What is looked at again after the first distance: by feel, and what fought."""
        return tuple(dict.fromkeys((*self.by_feel, *(one.of or one.words for one in self.fought))))

    @property
    def torques(self) -> tuple[tuple[Step, str, float], ...]:
        """The fasteners that were brought to a torque, at their step, with it (N m)."""
        found: list[tuple[Step, str, float]] = []
        for step in self.card.steps:
            mark = self.marks.get(step.key)
            if mark is not None:
                found += [(step, name, torque) for name, torque in mark.each.items() if torque != "feel"]
                found += [(step, f.name, mark.torque_nm) for f in step.fasteners if mark.torque_nm is not None]
        return tuple(found)

    @property
    def irreversible(self) -> tuple[Step, ...]:
        """What was done that cannot be undone."""
        return tuple(
            s for s in self.card.steps if s.irreversible and s.key in self.marks and self.marks[s.key].state == "done"
        )

    @property
    def deviations(self) -> tuple[tuple[Step, CardMark], ...]:
        """What was skipped or overruled, with its reason."""
        return tuple(
            (s, m) for s in self.card.steps if (m := self.marks.get(s.key)) and m.state in ("skipped", "overruled")
        )

    @property
    def missing(self) -> tuple[str, ...]:
        """What is missing from the box, as found when it was unpacked; empty once it is there."""
        return tuple(line for mark in self.marks.values() if mark.state == "stopped" for line in mark.missing)

    @property
    def leftovers(self) -> str:
        """What parts were left over, and where they are kept, as written at the end."""
        return next((m.said for s, m in self.written if s.fact == "leftovers"), "")

    @property
    def written(self) -> tuple[tuple[Step, CardMark], ...]:
        """What was written down at the steps: settings as they were made, the old stop, the line's way."""
        return tuple(
            (s, m) for s in self.card.steps if (m := self.marks.get(s.key)) and (m.figure is not None or m.said)
        )

    @property
    def standing(self) -> Standing:
        """How the vehicle stands now, by the steps that were done."""
        return standing(s for s in self.card.steps if (m := self.marks.get(s.key)) and m.state in ("done", "overruled"))

    @property
    def stop_out(self) -> bool:
        """Whether the old stop was taken out, as written at its step."""
        return any(step.fact == "old_stop" and mark.said == TAKEN_OUT for step, mark in self.written)

    @property
    def no_stop(self) -> bool:
        """Whether the old stop was taken out, and the kit has none of its own."""
        return self.stop_out and not self.card.kit.own_stop

    def held(self, step: Step) -> str:
        """Return why a step cannot be ticked yet; empty where it can."""
        if self.stopped is not None:
            return self.stopped.in_both()
        if step.gate == "baseline" and self.asked:
            return self.asked
        if self.missing and step.key != "unpack":
            return f"Missing: {', '.join(self.missing)}. {STOPPED}"
        return self._first(step) or self._alone(step) or step.lacks

    def _first(self, step: Step) -> str:
        """Return what comes before a step, on its own side or for both; empty where nothing is left of that."""
        for earlier in self.card.steps[: self.card.steps.index(step)]:
            if not self.is_left(earlier) and (earlier.side == step.side or "once" in (earlier.side, step.side)):
                return f"First{' the gate' if earlier.gate else ''}: {earlier.words}"
        return ""

    def _alone(self, step: Step) -> str:
        """Return that the other side is finished first, where only one is done at a time and the other is begun; empty where it is not so."""
        other = [s for s in self.card.steps if s.alone and s.side != step.side] if step.alone else []
        left = next((s for s in other if not self.is_left(s)), None)
        begun = left is not None and any(self.is_left(s) for s in other)
        return f"One side at a time: first the {left.side} side, {left.words}" if left is not None and begun else ""

    def side(self, name: str) -> tuple[int, int]:
        """Return how many of a side's steps are done, of how many."""
        own = [s for s in self.card.steps if s.side == name]
        return sum(self.is_left(s) for s in own), len(own)

    def minutes(self, side: str) -> float | None:
        """Return the minutes of hands at a side, from mark to mark without its pauses; None while fewer than two have their time."""
        own = {step.key for step in self.card.steps if step.side == side}
        times = sorted(t for key, mark in self.marks.items() if key in own and (t := _time(mark.at)) is not None)
        return _worked(times) if len(times) > 1 else None

    @property
    def took(self) -> tuple[tuple[str, float], ...]:
        """Minutes of each side so far, from its first mark to its last."""
        return tuple((side, m) for side in ("left", "right") if (m := self.minutes(side)) is not None)

    @property
    def worked_minutes(self) -> float:
        """Minutes of hands at it: from mark to mark, without what was longer than a break, and what was told of a fight beyond that."""
        told = sum(one.minutes or 0.0 for one in self.fought if (one.minutes or 0.0) > BREAK)
        return told + _worked(sorted(t for mark in self.marks.values() if (t := _time(mark.at)) is not None))

    @property
    def took_in_all(self) -> float | None:
        """What the card took (minutes); None while a step is open or too few marks have their time: what it will have taken is not known yet."""
        return None if self.open else self.worked_minutes or None

    @property
    def minutes_left(self) -> float:
        """Minutes that the steps still open should take: their share of the kit's hours, or what the first side foretells of the other."""
        plain = [s for s in self.card.steps if not s.gate]
        if self.foretold is not None and all(s.side != "once" for s in self.open if not s.gate):
            return self.foretold
        return 60.0 * self.card.kit.hours * sum(not self.is_left(s) for s in plain) / max(len(plain), 1)

    @property
    def foretold(self) -> float | None:
        """How many minutes the other side will take, by what the first took; None before the first is done and once both are."""
        (done_l, all_l), (done_r, all_r) = self.side("left"), self.side("right")
        first = "left" if all_l and done_l == all_l else "right" if all_r and done_r == all_r else ""
        if not first or (done_l == all_l and done_r == all_r):
            return None
        took = self.minutes(first)
        return None if took is None else SECOND_SIDE * took


def _worked(times: Sequence[datetime]) -> float:
    """Return the minutes between marks in their order, pauses left out."""
    gaps = ((b - a).total_seconds() / 60.0 for a, b in itertools.pairwise(times))
    return sum(gap for gap in gaps if gap <= BREAK)


def _time(text: str) -> datetime | None:
    """Return when a mark was made; without a zone it is taken as universal time, so that all can be compared; None where it does not read."""
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        return None
    return found if found.tzinfo else found.replace(tzinfo=UTC)


def progress(card: Card, marks: Sequence[CardMark], *, asked: str = "", stopped: Say | None = None) -> Progress:
    """Return where a card stands; a mark of a step that the card no longer has is kept with the kit, and counts for nothing here."""
    known = {step.key for step in card.steps}
    return Progress(card=card, marks={m.key: m for m in marks if m.key in known}, asked=asked, stopped=stopped)


def torque_odd(told: float | None, read: float) -> Say | None:
    """Return what is odd about a torque as read against its table's (read, told: N m; told None: it has none); None where nothing is."""
    if told is None or 1.0 / WILD < read / told < WILD:
        return None
    text = "{read} against {told} in the table: look at the wrench and the unit."
    return Say(text, {"read": Quantity(read, "torque"), "told": Quantity(told, "torque")})


def card_verdict(found: Progress) -> Verdict:
    """Return the sentence of the card at this moment."""
    step = found.next
    if step is None:
        feel = len(found.by_feel)
        more = (
            (
                Say(
                    "{feel} by feel: look at {which} again after the first distance.",
                    {"feel": feel, "which": "them" if feel > 1 else "it"},
                ),
            )
            if feel
            else ()
        )
        return Verdict(
            tone="level",
            sentences=(
                Say("The card of {card} is done: set it, then read the heights.", {"card": found.card.kit.name}),
                *more,
            ),
        )
    if found.stopped is not None:
        return Verdict(tone="limit", sentences=(found.stopped,))
    where = _where(found)
    felt = f"{len(found.by_feel)} by feel. " if found.by_feel else ""
    if found.missing:
        return Verdict(
            tone="limit",
            sentences=(
                Say("Missing: {missing}. {stopped}", {"missing": ", ".join(found.missing), "stopped": STOPPED}),
            ),
        )
    if held := found.held(step):
        return Verdict(tone="limit", sentences=(Say(held),))
    loose, at = _loose(found), f", {step.side}" if step.side != "once" else ""
    wait = f" Do not lower yet: {loose} still loose." if loose and step.gate == "lower" else ""
    stands = (Say("{where}{felt}", {"where": where, "felt": felt}),) if where or felt else ()
    if step.gate:
        return Verdict(
            tone="act", sentences=(Say("At a gate: {step}{wait}", {"step": step.words, "wait": wait}), *stands)
        )
    return Verdict(tone="act", sentences=(Say("Next{at}: {step}", {"at": at, "step": step.words}), *stands))


def _where(found: Progress) -> str:
    """Return how far either side is, in words."""
    sides = []
    for name in ("left", "right"):
        done, count = found.side(name)
        if count:
            now = "done" if done == count else f"at step {done + 1} of {count}" if done else "not begun"
            sides.append(f"{name} side {now}")
    return f"{', '.join(sides).capitalize()}. " if sides else ""


def _loose(found: Progress) -> str:
    """Return the fasteners of this lift that are not tightened yet, in words."""
    names = [f.name for s in found.open if s.stands == "stands" for f in s.fasteners]
    return f"{', '.join(dict.fromkeys(names))} {'is' if len(names) == 1 else 'are'}" if names else ""
