"""What would make a card wrong: the vehicle's state is carried through its steps, and each rule of the hands is held against it.

A rule speaks only of what a card declares (`facts.kit.KitStep`): of steps that say nothing of the vehicle, nothing is proved. Source: procedures of the
trade, second part ("a card is a machine with states").
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Literal

from vantok_core.base.say import Say
from vantok_core.facts.kit import KitStep
from vantok_core.procedure.card import Card, Side, Step

Rule = Literal[
    "left off",
    "back before off",
    "lowered open",
    "lowered loose",
    "empty bag",
    "working off the ground",
    "clamped hanging",
    "moved without a gate",
    "locker before the gap",
    "trial not read",
    "stored energy",
    "relieved at the end",
    "drilled",
    "no caution",
    "not tightened",
    "tightened twice",
    "one side at a time",
    "gate missing",
    "gate for nothing",
    "not alike",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class Fault:
    """What is wrong with a card: the step it shows at, the rule it breaks, and the sentence."""

    key: str
    rule: Rule
    words: str


@dataclass
class _Side:
    """What is so of one side: what is off, with the step it came off at and whether that was off the ground; air in; spring relieved; trial."""

    open: dict[str, Step] = field(default_factory=dict)
    air: str = ""
    relieved: bool = False
    trial: str = ""


def faults(card: Card) -> tuple[Fault, ...]:
    """Return everything that makes a card wrong, in the order of its steps; nothing where it can be followed."""
    found = _Walk(card).all()
    order = {step.key: n for n, step in enumerate(card.steps)}
    return tuple(sorted(dict.fromkeys(found), key=lambda one: order.get(one.key, len(order))))


def declares(step: KitStep) -> bool:
    """Tell whether a step says anything of what it does to the vehicle: of a sheet none of whose steps do, little is proved."""
    return bool(step.opens or step.closes or step.moves or step.air or step.energy or step.trial)


def cannot_be(card: Card) -> Say | None:
    """Return why a card cannot be followed, at its first step that shows it; None where it can."""
    found = faults(card)
    if not found:
        return None
    step = card.step(found[0].key)
    where = f" (“{step.words}”)" if step else ""
    why = f"{found[0].words[0].lower()}{found[0].words[1:].rstrip('.')}{where}"
    return Say("This card cannot be: {why}. Mend its sheet on the shelf.", {"why": why})


class _Walk:
    """A walk through a card."""

    def __init__(self, card: Card) -> None:
        self.card, self.steps = card, card.steps
        names = tuple(dict.fromkeys(s.side for s in card.steps if s.side != "once" and not s.gate))
        self.sides: dict[Side, _Side] = {name: _Side() for name in names}
        if not names:
            self.sides["once"] = _Side()
        self.lifted = False
        self.passed: list[str] = []

    def all(self) -> Iterator[Fault]:
        """Yield every fault."""
        for step in self.steps:
            if step.gate:
                yield from self._at_gate(step)
            else:
                yield from self._at_step(step)
        yield from self._at_the_end()
        yield from _tightened(self.card, tuple(self.sides))
        yield from _gates(self.steps)
        yield from _got_at(self.steps)
        yield from _alone(self.steps)
        yield from _alike(self.steps, tuple(self.sides))

    def of(self, step: Step) -> list[_Side]:
        """Return the sides a step is done at."""
        return [self.sides[step.side]] if step.side in self.sides else list(self.sides.values())

    def _at_gate(self, step: Step) -> Iterator[Fault]:
        self.passed.append(step.gate)
        if step.gate == "lower":
            yield from self._lowering(step)

    def _at_step(self, step: Step) -> Iterator[Fault]:
        up = step.stands == "stands"
        if up != self.lifted and not step.anywhere:
            if ("lift" if up else "lower") not in self.passed:
                yield _fault(step, "moved without a gate", f"it is {'lifted' if up else 'lowered'} here without a gate")
                if not up:
                    yield from self._lowering(step)
            self.lifted = up
        if step.moves and "move" not in self.passed:
            yield _fault(step, "moved without a gate", "body or axle move here without a gate")
        self.passed = []
        yield from self._plain(step)
        for side in self.of(step):
            yield from self._on_side(step, side)

    def _plain(self, step: Step) -> Iterator[Fault]:
        """Yield what is wrong with a step by itself."""
        for one in step.fasteners:
            if one.at_ride_height and step.stands != "ride_height":
                yield _fault(
                    step,
                    "clamped hanging",
                    f"{one.name} is tightened without the weight on the wheels: its rubber is wound up",
                )
        if step.air == "working" and step.stands == "stands":
            yield _fault(step, "working off the ground", "working pressure is filled before it stands on its wheels")
        if step.irreversible and self.card.kit.drilling is False:
            yield _fault(step, "drilled", "it drills, cuts or welds, and the kit is one that does not")
        if (step.irreversible or step.moves or step.energy or step.air in ("minimum", "working")) and not step.caution:
            yield _fault(step, "no caution", "work that can hurt is told without its caution")

    def _on_side(self, step: Step, side: _Side) -> Iterator[Fault]:
        """Yield what is wrong with a step by what was done before it on a side, and carry the side on."""
        if step.energy == "releases" and not side.relieved:
            yield _fault(step, "stored energy", "a spring is let go of that still carries load")
        side.relieved = {"unloads": True, "loads": False}.get(step.energy, side.relieved)
        for name in step.closes:
            if name not in side.open and any(name in later.opens for later in self._later(step)):
                yield _fault(step, "back before off", f"{name} goes back before it came off")
            side.open.pop(name, None)
        for name in step.opens:
            side.open[name] = step
        side.air = step.air or side.air
        locked = any(one.state == "locker" for one in step.fasteners)
        if locked and side.trial == "dry":
            yield _fault(step, "locker before the gap", "locker goes on before the gap is read")
        side.trial = step.trial or side.trial

    def _later(self, step: Step) -> Sequence[Step]:
        return [s for s in self.steps[self.steps.index(step) + 1 :] if s.side in (step.side, "once")]

    def _lowering(self, at: Step) -> Iterator[Fault]:
        """Yield what must not be so as it comes down."""
        for name, side in self.sides.items():
            where = f", {name}" if name != "once" else ""
            for what, step in side.open.items():
                if step.stands == "stands":
                    yield _fault(at, "lowered open", f"{what} is still off as it is lowered{where}")
            if side.air == "out":
                yield _fault(at, "empty bag", f"it is lowered onto an empty air spring{where}")
            if side.relieved:
                yield _fault(at, "lowered loose", f"it is lowered with its spring not yet taken up again{where}")
            if side.trial != "dry":
                yield from self._loose(at, name)

    def _loose(self, at: Step, name: Side) -> Iterator[Fault]:
        """Yield the fasteners that are tightened off the ground only after this lowering, though their part was worked on before it."""
        n = self.steps.index(at)
        mine = [s for s in self.steps if s.side in (name, "once") and s.key.startswith("kit")]
        begun = any(s.stands == "stands" for s in mine if self.steps.index(s) < n)
        for step in (s for s in mine if begun and self.steps.index(s) > n and s.stands == "stands"):
            for one in step.fasteners:
                if not one.at_ride_height:
                    yield _fault(at, "lowered loose", f"{one.name} is still loose as it is lowered")

    def _at_the_end(self) -> Iterator[Fault]:
        """Yield what is left off, relieved or unread once everything is done."""
        for name, side in self.sides.items():
            where = f", {name}" if name != "once" else ""
            for what, step in side.open.items():
                yield _fault(step, "left off", f"{what} comes off and never goes back{where}")
            if side.relieved:
                last = next(s for s in reversed(self.steps) if s.energy == "unloads")
                yield _fault(last, "relieved at the end", f"the spring relieved here never carries again{where}")
            if side.trial == "dry":
                dry = next(s for s in reversed(self.steps) if s.trial == "dry")
                yield _fault(dry, "trial not read", "parts go in dry and nothing is read before the end")


def _got_at(steps: Sequence[Step]) -> Iterator[Fault]:
    """Yield what comes off to get at the kit and never goes back."""
    back = {s.on for s in steps if s.on}
    for step in steps:
        if step.off and step.off not in back:
            yield _fault(step, "left off", f"{step.off} comes off and never goes back")


def _tightened(card: Card, sides: Sequence[Side]) -> Iterator[Fault]:
    """Yield the fasteners of a kit's table that a side does not tighten, or tightens twice."""
    for side in sides:
        told = [(one.name, step) for step in card.steps if step.side in (side, "once") for one in step.fasteners]
        names = [name for name, _ in told]
        where = f", {side}" if side != "once" else ""
        for one in card.kit.fasteners:
            if one.name not in names and not one.only:
                yield Fault(
                    key=card.steps[-1].key, rule="not tightened", words=f"{one.name} is never tightened{where}."
                )
        for n, (name, step) in enumerate(told):
            if name in names[:n]:
                yield _fault(step, "tightened twice", f"{name} was tightened before{where}")


def _gates(steps: Sequence[Step]) -> Iterator[Fault]:
    """Yield gates that are missing, and those that guard nothing."""
    last, names = steps[-1], [step.gate for step in steps if step.gate]
    for name in ("baseline", "end"):
        if names.count(name) != 1:
            yield _fault(last, "gate missing", f"there is not one gate “{name}”")
    yield from _baseline(steps)
    lifts, gated = any(s.stands == "stands" for s in steps), "lift" in names
    if gated and not lifts:
        at = next(s for s in steps if s.gate == "lift")
        yield _fault(at, "gate for nothing", "a lifting gate where nothing is lifted")
    if lifts and not gated:
        yield _fault(last, "gate missing", "it is lifted without a gate")
    for one, after in pairwise(steps):
        if one.gate == "move" and not after.moves:
            yield _fault(one, "gate for nothing", "a gate before a movement that does not come")


def _baseline(steps: Sequence[Step]) -> Iterator[Fault]:
    """Yield the first step that opens the vehicle, where the baseline's gate comes after it."""
    opening = (n for n, s in enumerate(steps) if s.irreversible or s.opens or s.off)
    first, gate = next(opening, None), next((n for n, s in enumerate(steps) if s.gate == "baseline"), None)
    if first is not None and gate is not None and gate > first:
        yield _fault(steps[first], "gate missing", "it is opened before the baseline’s gate")


def _alone(steps: Sequence[Step]) -> Iterator[Fault]:
    """Yield where one side is begun while the other, that is to be done alone, is not finished."""
    own = [s for s in steps if s.alone]
    for n, step in enumerate(own):
        if n and own[n - 1].side != step.side and any(s.side == own[n - 1].side for s in own[n + 1 :]):
            yield _fault(
                step, "one side at a time", f"the {step.side} side is begun before the {own[n - 1].side} side is done"
            )


def _alike(steps: Sequence[Step], sides: Sequence[Side]) -> Iterator[Fault]:
    """Yield the steps that one side has and the other has not."""
    if len(sides) < 2:
        return
    told = {side: {s.words for s in steps if s.side == side and s.key.startswith("kit")} for side in sides}
    for step in steps:
        if step.side in told and step.key.startswith("kit") and not step.one_sided:
            for other in sides:
                if step.words not in told[other]:
                    yield _fault(step, "not alike", f"the {other} side has no such step")


def _fault(step: Step, rule: Rule, words: str) -> Fault:
    return Fault(key=step.key, rule=rule, words=f"{words[0].upper()}{words[1:]}.")
