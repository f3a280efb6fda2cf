"""A job card made of a kit's steps, the vehicle, its inspection and what must come off: in order, by side, with the gates that hold.

Source: procedures of the trade; the order is that of the hands: baseline, unpack, lift, off, the kit on either side, down, on, end.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from vantok_core.facts import Job, Kit
from vantok_core.facts.kit import Fastener, KitStep
from vantok_core.kits.registry import family_of
from vantok_core.procedure.templates import common, steps_of

Side = Literal["left", "right", "once"]
Stands = Literal["wheels", "stands", "ride_height"]
GateName = Literal["baseline", "lift", "lower", "weight", "end"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """A step of a card. key: its own, stable while the kit is; fasteners: tightened in it; gate: the name of a gate, empty for a plain step; asks: what a
    gate asks, a line each; why: of a gate; off, on: what is taken off or put back."""

    key: str
    words: str
    side: Side = "once"
    stands: Stands = "wheels"
    fasteners: tuple[Fastener, ...] = ()
    irreversible: bool = False
    caution: str = ""
    check: str = ""
    if_fails: str = ""
    gate: GateName | Literal[""] = ""
    asks: tuple[str, ...] = ()
    why: str = ""
    off: str = ""
    on: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """A card: the kit, its steps in order, the list to unpack, and whether its steps are its maker's or the family's usual ones."""

    kit: Kit
    steps: tuple[Step, ...]
    contents: tuple[str, ...]
    own: bool

    def step(self, key: str) -> Step | None:
        """Return a step by key."""
        return next((one for one in self.steps if one.key == key), None)


def card(job: Job, kit: Kit) -> Card:
    """Return the card of a kit on a job's vehicle."""
    parts = list(_parts(job, kit))
    return Card(kit=kit, steps=tuple(_with_gates(parts)), contents=kit.contents, own=bool(kit.steps))


def _parts(job: Job, kit: Kit) -> Iterator[Step]:
    """Yield the plain steps in order; the gates come between them."""
    texts = common()
    yield Step(key="unpack", **texts["unpack"])
    yield Step(key="threads", **texts["threads"], caution=_rust(job))
    for n, what in enumerate(kit.access):
        yield Step(key=f"off-{n}", words=texts["off"]["words"].format(what=what), stands="stands", off=what)
    own = steps_of(kit)
    yield from _of_sides(kit, own)
    for n, what in reversed(list(enumerate(kit.access))):
        yield Step(key=f"on-{n}", words=texts["on"]["words"].format(what=what), check=texts["on"]["check"], on=what)


def _rust(job: Job) -> str:
    """Return what the inspection says of the captive nuts that a screwed part goes into."""
    return {
        "rusted": "The captive nuts are rusted: oil from above, and time.",
        "gone": "A captive nut is gone: the flat-bar repair comes first.",
    }.get(job.vehicle.stop_nuts, "")


def _of_sides(kit: Kit, own: Sequence[KitStep]) -> Iterator[Step]:
    """Yield a kit's steps: before it is lifted, off the ground, and down again, in each on one side and then on the other.

    What is done once after both sides comes after both. A fastener that no step names is tightened before it comes down.
    """
    sides: tuple[Side, ...] = ("left", "right") if family_of(kit).both_sides else ("once",)
    table = {one.name: one for one in kit.fasteners}
    named = {name for step in own for name in step.tightens}
    rest = tuple(one for name, one in table.items() if name not in named)
    up = [n for n, step in enumerate(own) if step.stands == "stands"]
    first, last = (up[0], up[-1] + 1) if up else (len(own), len(own))
    numbered = list(enumerate(own))
    yield from _of_part(numbered[:first], sides, table)
    yield from _of_part(numbered[first:last], sides, table)
    if rest:
        words = common()["rest"]["words"].format(what=", ".join(one.name for one in rest))
        for side in sides:
            yield Step(key=f"rest-{side}", words=words, side=side, stands="stands" if up else "wheels", fasteners=rest)
    yield from _of_part(numbered[last:], sides, table)


def _of_part(part: Sequence[tuple[int, KitStep]], sides: Sequence[Side], table: dict[str, Fastener]) -> Iterator[Step]:
    """Yield the steps of one part of the work: what is done once before any side's, each side's, and what is done once after them."""
    last = max((n for n, step in part if step.side == "each"), default=-1)
    once = [(n, step) for n, step in part if step.side == "once"]
    yield from _at_side("once", [(n, step) for n, step in once if n < last or last < 0], table)
    for side in sides:
        yield from _at_side(side, [(n, step) for n, step in part if step.side == "each"], table)
    yield from _at_side("once", [(n, step) for n, step in once if n > last >= 0], table)


def _at_side(side: Side, steps: Sequence[tuple[int, KitStep]], table: dict[str, Fastener]) -> Iterator[Step]:
    """Yield numbered steps as they are done at a side."""
    for n, step in steps:
        yield _step(f"kit-{n}-{side}", step, side, table)


def _step(key: str, step: KitStep, side: Side, table: dict[str, Fastener]) -> Step:
    return Step(
        key=key, words=step.words, side=side, stands=step.stands, fasteners=tuple(table[n] for n in step.tightens), irreversible=step.irreversible,
        caution=step.caution, check=step.check, if_fails=step.if_fails,
    )  # fmt: skip


def _with_gates(parts: Sequence[Step]) -> Iterator[Step]:
    """Yield the steps with a gate before what it guards: before the first that opens the vehicle, before each lifting and each lowering, before
    what is tightened with the weight on the wheels, and at the end."""
    count: dict[GateName, int] = {}

    def gate(name: GateName) -> Step:
        count[name] = count.get(name, 0) + 1
        told = common()["gates"][name]
        return Step(
            key=f"gate-{name}-{count[name]}", words=told["words"], gate=name, asks=tuple(told["asks"]), why=told["why"]
        )

    lifted = weighed = False
    for step in parts:
        if not count and (step.off or step.key.startswith(("kit", "rest"))):
            yield gate("baseline")
        if lifted != (step.stands == "stands") and not step.on:
            yield gate("lower" if lifted else "lift")
            lifted, weighed = not lifted, False
        if step.fasteners and not lifted and step.stands == "ride_height" and not weighed:
            weighed = True
            yield gate("weight")
        yield step
    if lifted:
        yield gate("lower")
    yield gate("end")
