"""A job card made of a kit's steps, the vehicle, its inspection and what must come off: in order, by side, with the gates that hold.

Source: procedures of the trade; the order is that of the hands: baseline, unpack, lift, off, the kit on either side, down, on, end.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import groupby
from typing import Literal

from vantok_core.base.say import Say
from vantok_core.facts import Job, Kit
from vantok_core.facts.fitting import Learnt
from vantok_core.facts.hanging import told_at
from vantok_core.facts.kit import Fastener, KitStep
from vantok_core.kits.registry import family_of
from vantok_core.procedure.lifting import hands, lifting
from vantok_core.procedure.templates import common, steps_of, usual_sheet, work_of
from vantok_core.procedure.variants import Set, of_variant

Side = Literal["left", "right", "once"]
Stands = Literal["wheels", "stands", "ride_height"]
GateName = Literal["baseline", "lift", "stands", "move", "lower", "weight", "end"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """A step of a card. key: its own, stable while the kit is; fasteners: tightened in it; gate: the name of a gate, empty for a plain step; asks: what a
    gate asks, a line each; why: of a gate; off, on: what is taken off or put back; anywhere: whether it stands on its wheels or not; drawing: which way round;
    people: how many it takes; fact: what is written down at it; told: sentences with figures; learnt: what the shop learnt at it, or of it. opens, closes,
    moves, air, energy, trial, alone: what it does to the vehicle (`KitStep`); one_sided: whether the other side has no such step; lacks: what must be said
    before it is known how it is done, empty where nothing is."""

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
    anywhere: bool = False
    drawing: str = ""
    people: int = 1
    fact: str = ""
    told: tuple[Say, ...] = ()
    learnt: tuple[Learnt, ...] = ()
    opens: tuple[str, ...] = ()
    closes: tuple[str, ...] = ()
    moves: bool = False
    air: str = ""
    energy: str = ""
    trial: str = ""
    alone: bool = False
    one_sided: bool = False
    lacks: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """A card: the kit, its steps in order, the list to unpack, the tools to lay out, and whether its steps are its maker's or its construction's usual ones."""

    kit: Kit
    steps: tuple[Step, ...]
    contents: tuple[str, ...]
    tools: tuple[str, ...]
    own: bool

    def step(self, key: str) -> Step | None:
        """Return a step by key."""
        return next((one for one in self.steps if one.key == key), None)


def card(
    job: Job, kit: Kit, learnt: Sequence[Learnt] = (), setting: Set | None = None, baseline: Sequence[str] = ()
) -> Card:
    """Return the card of a kit on a job's vehicle, with what the shop learnt on others of its kind at the steps it belongs to.

    Arguments: setting: left and right, SI, by which alike fasteners are told apart; baseline: what the baseline's gate names of this job besides.
    """
    parts = [
        replace(step, fasteners=kept, lacks=lacks)
        for step in _with_learnt(_moved(list(_parts(job, kit)), learnt), learnt)
        for kept, lacks in (of_variant(step.fasteners, job, setting or {}, step.side),)
    ]
    tools = tuple(usual_sheet(kit)["tools"])
    steps = tuple(_with_gates(parts, job, kit, baseline))
    return Card(kit=kit, steps=steps, contents=kit.contents, tools=tools, own=bool(kit.steps))


def _parts(job: Job, kit: Kit) -> Iterator[Step]:
    """Yield the plain steps in order; the gates come between them.

    What is done to get at it: on its wheels first, then what nobody has described, then off the ground, right before the kit's own work there; back in
    reverse, what is done off the ground before it is lowered.
    """
    texts = common()
    own = steps_of(kit)
    lifted = bool(kit.access) or any(step.stands == "stands" for step in own)
    yield Step(key="unpack", **texts["unpack"], told=hands(kit, lifted=lifted))
    yield Step(key="threads", **texts["threads"], caution=_rust(job))
    access = [one for one in enumerate(kit.access) if not _of_its_own(one[1], own)]
    off, on = list(_works(access, "off")), list(_works(access, "on"))
    plain = [(n, what) for n, what in access if work_of(what) is None]
    before, up, down = _of_sides(kit, own)
    yield from _standing(off, on_wheels=True)
    for n, what in plain:
        yield Step(key=f"off-{n}", words=texts["off"]["words"].format(what=what), stands="stands", off=what)
    yield from (*before, *_standing(off, on_wheels=False), *up)
    yield from (step for step in on if step.stands == "stands")
    yield from (*down, *(step for step in on if step.stands != "stands"))
    for n, what in reversed(plain):
        words = texts["on"]["words"].format(what=what)
        yield Step(key=f"on-{n}", words=words, check=texts["on"]["check"], on=what, anywhere=True)


def _standing(steps: Sequence[Step], *, on_wheels: bool) -> list[Step]:
    """Return the steps that are done with the vehicle on its wheels, or the others."""
    return [step for step in steps if (step.stands == "wheels") == on_wheels]


def _of_its_own(what: str, own: Sequence[KitStep]) -> bool:
    """Tell whether a kit's own steps take off and put back what its access names: it is then not done twice."""
    work, opened = work_of(what), [name.lower() for step in own for name in step.opens]
    return work is not None and any(word in name for name in opened for word in work["match"])


def _works(access: Sequence[tuple[int, str]], way: Literal["off", "on"]) -> Iterator[Step]:
    """Yield the steps of the works to get at it that are described: what comes off in order, or what goes back in reverse."""
    known = [(n, what, work) for n, what in access if (work := work_of(what)) is not None]
    for n, what, work in known if way == "off" else known[::-1]:
        for i, told in enumerate(work[way]):
            yield Step(
                key=f"{way}-{n}" if i == 0 else f"{way}-{n}-{i}",
                words=told["words"].format(what=what.capitalize()),
                stands=told["stands"],
                caution=told.get("caution", ""),
                check=told.get("check", ""),
                if_fails=told.get("if_fails", ""),
                drawing=told.get("drawing", ""),
                off=what if way == "off" else "",
                on=what if way == "on" else "",
            )


def _rust(job: Job) -> str:
    """Return what the inspection says of the captive nuts that a screwed part goes into."""
    return {
        "rusted": "The captive nuts are rusted: oil from above, and time.",
        "gone": "A captive nut is gone: the flat-bar repair comes first.",
    }.get(job.vehicle.stop_nuts, "")


def _of_sides(kit: Kit, own: Sequence[KitStep]) -> tuple[list[Step], list[Step], list[Step]]:
    """Return a kit's steps: before it is lifted, off the ground, and down again, in each on one side and then on the other.

    What is done once after both sides comes after both. A fastener that no step names is tightened before it comes down.
    """
    sides: tuple[Side, ...] = ("left", "right") if family_of(kit).both_sides else ("once",)
    table = {one.name: one for one in kit.fasteners}
    named = {name for step in own for name in step.tightens}
    rest = tuple(one for name, one in table.items() if name not in named)
    up = [n for n, step in enumerate(own) if step.stands == "stands"]
    first, last = (up[0], up[-1] + 1) if up else (len(own), len(own))
    numbered = list(enumerate(own))
    lifted = list(_of_part(numbered[first:last], sides, table))
    if rest:
        words = common()["rest"]["words"].format(what=", ".join(one.name for one in rest))
        lifted += [
            Step(key=f"rest-{side}", words=words, side=side, stands="stands" if up else "wheels", fasteners=rest)
            for side in sides
        ]
    return list(_of_part(numbered[:first], sides, table)), lifted, list(_of_part(numbered[last:], sides, table))


def _of_part(part: Sequence[tuple[int, KitStep]], sides: Sequence[Side], table: dict[str, Fastener]) -> Iterator[Step]:
    """Yield the steps of one part of the work in their order: what is done on each side on one and then on the other, before what comes next for both."""
    for once, run in groupby(part, key=lambda one: one[1].side == "once"):
        steps = list(run)
        for side in ("once",) if once else sides:
            own = [(n, step) for n, step in steps if side == "once" or step.side in (side, "each")]
            yield from _at_side(side, own, table)


def _at_side(side: Side, steps: Sequence[tuple[int, KitStep]], table: dict[str, Fastener]) -> Iterator[Step]:
    """Yield numbered steps as they are done at a side."""
    for n, step in steps:
        yield _step(f"kit-{n}-{side}", step, side, table)


def _step(key: str, step: KitStep, side: Side, table: dict[str, Fastener]) -> Step:
    return Step(
        key=key,
        words=step.words,
        side=side,
        stands=step.stands,
        fasteners=tuple(table[n] for n in step.tightens),
        irreversible=step.irreversible,
        caution=step.caution,
        check=step.check,
        if_fails=step.if_fails,
        drawing=step.drawing,
        people=step.people,
        fact=step.fact,
        opens=step.opens,
        closes=step.closes,
        moves=step.moves,
        air=step.air,
        energy=step.energy,
        trial=step.trial,
        alone=step.alone,
        one_sided=step.side in ("left", "right"),
    )


def _moved(parts: list[Step], learnt: Sequence[Learnt]) -> Iterator[Step]:
    """Yield the steps in the order the shop found better: a step goes after another of its own side, where all between stand on the vehicle alike."""
    for one in (told for told in learnt if told.what == "moved"):
        keys = [step.key for step in parts]
        if one.key in keys and one.after in keys:
            step, to = parts[keys.index(one.key)], keys.index(one.after)
            if may_follow(parts, step, parts[to]):
                rest = [other for other in parts if other is not step]
                to = [other.key for other in rest].index(one.after)
                parts = [*rest[: to + 1], step, *rest[to + 1 :]]
    yield from parts


def may_follow(parts: Sequence[Step], step: Step, other: Step) -> bool:
    """Tell whether a step may be done after another instead of in its own place: both the kit's own, of one side, and nothing is lifted or lowered between."""
    if (
        step.key == other.key
        or not step.key.startswith("kit")
        or not other.key.startswith("kit")
        or step.side != other.side
    ):
        return False
    low, high = sorted((parts.index(step), parts.index(other)))
    return len({one.stands for one in parts[low : high + 1]}) == 1


def _with_learnt(parts: Iterator[Step], learnt: Sequence[Learnt]) -> Iterator[Step]:
    """Yield the steps, each with what was learnt at it, and after it the steps of the shop's own; one whose place is gone comes at the end."""
    left = list(learnt)
    for step in parts:
        own = [one for one in left if one.key == step.key]
        left = [one for one in left if one not in own]
        yield replace(step, learnt=tuple(one for one in own if one.what != "step"))
        for one in own:
            if one.what == "step":
                yield _shops_own(one, learnt.index(one), step.side, step.stands)
    yield from (_shops_own(one, learnt.index(one), "once", "wheels") for one in left if one.what == "step")


def _shops_own(one: Learnt, n: int, side: Side, stands: Stands) -> Step:
    return Step(key=f"learnt-{n}", words=one.words, side=side, stands=stands, learnt=(one,))


def _with_gates(parts: Sequence[Step], job: Job, kit: Kit, baseline: Sequence[str]) -> Iterator[Step]:
    """Yield the steps with a gate before what it guards: before the first that opens the vehicle, before each lifting, on the stands, before body or axle move
    and before each lowering, before what is tightened with the weight on the wheels, and at the end."""
    gates = _Gates(job=job, kit=kit, parts=parts, baseline=baseline)
    for step in parts:
        yield from gates.before(step)
        yield step
    if gates.lifted:
        yield gates.one("lower")
    yield gates.one("end")


@dataclass
class _Gates:
    """The gates of a card, counted as they are made; parts: its plain steps, by which a gate asks only what applies; baseline: what its first names besides."""

    job: Job
    kit: Kit
    parts: Sequence[Step]
    baseline: Sequence[str] = ()
    count: dict[GateName, int] = field(default_factory=dict)
    lifted: bool = False
    weighed: bool = False

    def before(self, step: Step) -> Iterator[Step]:
        """Yield the gates that stand before a step."""
        if not self.count and (step.off or step.key.startswith(("kit", "rest"))):
            yield self.one("baseline")
        if self.lifted != (step.stands == "stands") and not step.anywhere:
            names: tuple[GateName, ...] = ("lower",) if self.lifted else ("lift", "stands")
            yield from (self.one(name) for name in names)
            self.lifted, self.weighed = not self.lifted, False
        if (step.fasteners or step.on) and step.stands == "ride_height" and not (self.lifted or self.weighed):
            self.weighed = True
            yield self.one("weight")
        if step.moves:
            yield self.one("move", step.side)

    def one(self, name: GateName, side: Side = "once") -> Step:
        """Return the next gate of a name."""
        self.count[name] = self.count.get(name, 0) + 1
        text = common()["gates"][name]
        plan = lifting(self.job, self.kit) if name in ("lift", "stands") else None
        first = tuple(Say(one) for one in usual_sheet(self.kit)["first"]) if name == "end" else ()
        return Step(
            key=f"gate-{name}-{self.count[name]}",
            words=f"{text['words']} {plan.words}" if plan and name == "lift" else text["words"],
            side=side,
            gate=name,
            asks=(
                *text["asks"],
                *(plan.asks if plan and name == "stands" else ()),
                *self._where_so(text.get("if", {})),
                *(self.baseline if name == "baseline" else ()),
            ),
            why=text["why"],
            told=(*(plan.told if plan and name == "lift" else first), *told_at(self.job.vehicle.fitted, name)),
            fact="leftovers" if name == "end" else "",
        )

    def _where_so(self, asks: Mapping[str, str]) -> Iterator[str]:
        """Yield what is asked only where the work was so: a wheel was off, something was locked."""
        so = {
            "wheel": any("wheel" in name.lower() for step in self.parts for name in (step.on, *step.closes)),
            "locker": any(one.state == "locker" for step in self.parts for one in step.fasteners),
        }
        yield from (words for name, words in asks.items() if so[name])
