"""What the picture of a step shows: which parts of the axle it is about, what is off or loose as it is begun, where stands and jack are.

Everything follows from what the steps before it did, by the names they give to what they take off and put back. Source: procedures of the trade, second
part: the card knows the vehicle's state at each step.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from vantok_core.facts.kit import Fastener
from vantok_core.procedure.card import Card, Step
from vantok_core.procedure.standing import standing
from vantok_core.procedure.templates import usual_sheet

Part = Literal[
    "wheel",
    "damper",
    "spring",
    "axle_bolts",
    "stop",
    "bar",
    "link",
    "lines",
    "liner",
    "exhaust",
    "shackle",
    "key",
    "kit",
]
State = Literal["on", "off", "loose", "coming"]
NAMED: tuple[tuple[Part, tuple[str, ...]], ...] = (
    ("liner", ("liner", "wheel-arch", "splash", "guard")),
    ("wheel", ("wheel",)),
    ("lines", ("line clip", "hose", "lead")),
    ("link", ("link",)),
    ("axle_bolts", ("axle bolt", "u-bolt", "spring plate")),
    ("damper", ("damper", "shock", "strut", "knuckle", "mount")),
    ("shackle", ("shackle", "eye bolt")),
    ("stop", ("stop",)),
    ("exhaust", ("exhaust", "tail pipe")),
    ("bar", ("bar",)),
    ("key", ("key", "adjuster")),
    ("spring", ("spring", "coil", "centre bolt")),
)
"""Words by which what is taken off, put back or tightened is known to be a part of the axle: the first that is in its name."""
ALWAYS: tuple[Part, ...] = ("wheel", "spring", "damper", "stop")
"""Parts that every picture has; others only where a card names them."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Picture:
    """parts: each part's state as the step is begun; marked: those the step is about; lifted: on stands; jack: whether one carries the axle; marks_jack,
    marks_stands: whether the step is about them; side: the side seen, `once` where both are alike."""

    parts: Mapping[Part, State]
    marked: tuple[Part, ...]
    lifted: bool
    jack: bool
    marks_jack: bool
    marks_stands: bool
    side: str


def part_of(name: str) -> Part | None:
    """Return the part of the axle that a name is of; None where none is known by it."""
    said = name.lower()
    return next((part for part, words in NAMED if any(word in said for word in words)), None)


def picture(made: Card, step: Step, *, stop_out: bool = False) -> Picture | None:
    """Return the picture of a step of a card, all steps before it done; None where the step is about no part of the axle.

    Arguments: stop_out: whether the old stop was taken out where that was asked.
    """
    place: Part | None = usual_sheet(made.kit)["place"]
    if place is None:
        return None
    done = [one for one in made.steps[: made.steps.index(step)] if _counts(one, step)]
    up = standing(done).lifted
    marked = tuple(dict.fromkeys(_about(step, place)))
    jacked, stands = up and (step.gate == "move" or step.moves), step.gate == "stands"
    if not (marked or jacked or stands):
        return None
    states = _states(made, place, done, step)
    if stop_out and any(one.fact == "old_stop" for one in done):
        states["stop"] = "off"
    return Picture(
        parts=states,
        marked=marked,
        lifted=up,
        jack=jacked or (up and _jacked(done)),
        marks_jack=jacked,
        marks_stands=stands,
        side=step.side,
    )


def _jacked(done: Sequence[Step]) -> bool:
    """Tell whether the axle was moved on its jack since it was lifted last."""
    since = max((n for n, one in enumerate(done) if one.gate == "lift"), default=len(done))
    return any(one.moves for one in done[since:])


def _counts(one: Step, step: Step) -> bool:
    """Tell whether a step before another shows on its side: one of the same side, or of both."""
    return "once" in (one.side, step.side) or one.side == step.side


def _about(step: Step, place: Part) -> Iterable[Part]:
    """Yield the parts a step is about: what it takes off, puts back or tightens; a kit's own step without such a name is about the kit."""
    held = (_fastened(one, place) for one in step.fasteners)
    found = [*_parts(*step.opens, *step.closes, step.off, step.on), *(part for part in held if part is not None)]
    yield from found
    told = step.stands == "stands" or step.fact or step.air or step.trial or step.drawing
    if not found and step.key.startswith("kit") and told and not (step.moves and step.stands == "stands"):
        yield "stop" if step.fact == "old_stop" else place


def _fastened(one: Fastener, place: Part) -> Part | None:
    """Return the part a fastener holds: the kit's hold the kit, the vehicle's what they are named for."""
    return place if one.whose == "kit" else part_of(one.name)


def _states(made: Card, place: Part, done: Sequence[Step], step: Step) -> dict[Part, State]:
    """Return the state of every part of a card after some steps, as one of them is begun."""
    later = [one for one in made.steps[made.steps.index(step) :] if _counts(one, step)]
    tight = {part for one in later for f in one.fasteners if (part := _fastened(f, place)) is not None}
    found: dict[Part, State] = dict.fromkeys(ALWAYS, "on")
    for one in made.steps:
        found |= dict.fromkeys(_parts(*one.opens, one.off), "on")
    if place == "kit":
        found["kit"] = "coming"
    off: dict[str, None] = {}
    for one in done:
        off |= dict.fromkeys((*one.opens, one.off))
        back = (*one.closes, one.on)
        off = {name: None for name in off if name not in back}
        up = (*_parts(*back), *(("kit",) if place == "kit" and _brings(one, place) else ()))
        found |= {part: "loose" if part in tight else "on" for part in up}
    return found | dict.fromkeys(_parts(*off), "off")


def _parts(*names: str) -> tuple[Part, ...]:
    """Return the parts of the axle that some names are of."""
    return tuple(part for name in names if name and (part := part_of(name)) is not None)


def _brings(one: Step, place: Part) -> bool:
    """Tell whether the kit is up once a step is done: it goes in a way round, dry or empty, or is tightened."""
    plain = one.key.startswith(("kit", "rest")) and not one.irreversible
    tightened = any(_fastened(f, place) == "kit" for f in one.fasteners)
    return plain and (tightened or bool(one.drawing) or one.trial == "dry" or one.air == "out")
