"""What is laid out before a card is begun: tools, torques and parts, on one page.

Source: procedures of the trade, second part: one list at the top, missing said before the vehicle is opened. Heads are read off the fasteners.
"""

from __future__ import annotations

from dataclasses import dataclass

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
    found = []
    if told:
        values = {"low": Quantity(min(told), "torque"), "high": Quantity(max(told), "torque")}
        found.append(Say("torque wrench for {low} to {high}, its calibration in date", values))
    if any(one.whose == "vehicle" for one in fasteners):
        found.append(Say("the vehicle maker's torques"))
    if any(one.state == "locker" for one in fasteners):
        found.append(Say("thread locker; no oil on the same thread"))
    return found
