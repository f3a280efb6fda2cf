"""What is laid out before a card is begun: tools, torques and parts, on one page.

Source: procedures of the trade, second part: one list at the top, missing said before the vehicle is opened. Heads by the fasteners' data.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from vantok_core.base.say import Quantity, Say
from vantok_core.facts.kit import Fastener
from vantok_core.procedure.card import Card


@dataclass(frozen=True, slots=True, kw_only=True)
class Torqued:
    """A fastener of a card as it is tightened: how many on the whole vehicle, and in which order among the steps."""

    fastener: Fastener
    count: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Needs:
    """What a card needs: tools, a sentence each; its fasteners in the order they are tightened; the parts of its box."""

    tools: tuple[Say, ...]
    torques: tuple[Torqued, ...]
    parts: tuple[str, ...]


def needs(made: Card) -> Needs:
    """Return what a card needs before it is begun."""
    fasteners = [one for step in made.steps for one in step.fasteners]
    order = {one.name: one for one in fasteners}
    torqued = tuple(
        Torqued(fastener=one, count=one.count * sum(other.name == name for other in fasteners))
        for name, one in order.items()
    )
    told = [*_of_lifting(made), *_of_fasteners(fasteners), *(Say(one) for one in made.tools)]
    return Needs(tools=tuple(told), torques=torqued, parts=made.contents)


def _of_lifting(made: Card) -> list[Say]:
    if not any(step.gate == "lift" for step in made.steps):
        return []
    return [Say("jack, stands for what the axle may carry, chocks, a second protection")]


def _of_fasteners(fasteners: list[Fastener]) -> list[Say]:
    told = [one.torque_nm for one in fasteners if one.torque_nm is not None]
    found = _of_heads(fasteners)
    if told:
        values = {"low": Quantity(min(told), "torque"), "high": Quantity(max(told), "torque")}
        found.append(Say("torque wrench for {low} to {high}, its calibration in date", values))
    if any(one.whose == "vehicle" for one in fasteners):
        found.append(Say("the vehicle maker's torques"))
    if any(one.state == "locker" for one in fasteners):
        found.append(Say("thread locker; no oil on the same thread"))
    return found


INCH = 0.0254
WHOLE = 5e-5
"""A head this near (m) to a whole millimetre is a metric one; any other is told as its fraction of an inch."""


def _of_heads(fasteners: list[Fastener]) -> list[Say]:
    """Return the sockets by the heads of the fasteners, millimetres and inches beside each other; and that others are read off the vehicle."""
    heads = sorted({one.head_m for one in fasteners if one.head_m is not None})
    found = [Say("sockets and spanners: {map}", {"map": ", ".join(map(head_words, heads))})] if heads else []
    if any(one.head_m is None for one in fasteners):
        found.append(Say("the other heads read off the fasteners, before anything is opened"))
    return found


def head_words(head: float) -> str:
    """Return a head across its flats (m) as its spanner is called, with the other system's figure beside it."""
    if abs(head - round(head, 3)) < WHOLE:
        return f"{1e3 * head:.0f} mm ({head / INCH:.2f} in)"
    part = Fraction(round(32.0 * head / INCH), 32)
    whole, rest = divmod(part.numerator, part.denominator)
    words = f"{whole} " * (whole > 0) + f"{rest}/{part.denominator}" * (rest > 0)
    return f"{words.strip()} in ({1e3 * head:.1f} mm)"
