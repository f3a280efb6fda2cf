"""How the vehicle stands in the middle of a card: what carries it, what is off, how much air is in, which spring is relieved, by the steps that were done.

Source: procedures of the trade, second part: the card knows the vehicle's state at each step.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from vantok_core.base.say import Say
from vantok_core.procedure.card import Step

AIR = {"out": "no air in", "minimum": "air at the minimum", "working": "air at its pressure"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """lifted: whether it stands on stands; off: what is off, with its side; air: how much is in (empty: none was let out or filled); relieved: whether a
    spring is relieved on any side."""

    lifted: bool
    off: tuple[tuple[str, str], ...]
    air: str
    relieved: bool

    @property
    def said(self) -> Say:
        """How it stands, in a line; empty where it stands as it came."""
        told = [f"{what}, {side}" if side != "once" else what for what, side in self.off]
        parts = [
            "on stands" if self.lifted else "",
            f"off: {'; '.join(told)}" if told else "",
            AIR.get(self.air, ""),
            "a spring relieved" if self.relieved else "",
        ]
        words = " · ".join(part for part in parts if part)
        return Say("Now: {words}." if words else "", {"words": words})


def standing(done: Iterable[Step]) -> Standing:
    """Return how a vehicle stands after some steps of its card were done, in their order."""
    off: dict[tuple[str, str], None] = {}
    relieved: set[str] = set()
    lifted, air = False, ""
    for step in done:
        if step.gate in ("lift", "lower"):
            lifted = step.gate == "lift"
        for name in (*step.closes, step.on):
            for key in [key for key in off if key[0] == name and step.side in (key[1], "once")]:
                del off[key]
        for name in (*step.opens, step.off):
            if name:
                off[name, step.side] = None
        air = step.air or air
        if step.energy:
            relieved = relieved | {step.side} if step.energy == "unloads" else _carried(relieved, step)
    return Standing(lifted=lifted, off=tuple(off), air=air, relieved=bool(relieved))


def _carried(relieved: set[str], step: Step) -> set[str]:
    """Return the sides still relieved after a step that lets a spring go or takes it up again."""
    if step.energy != "loads":
        return relieved
    return set() if step.side == "once" or relieved == {"once"} else relieved - {step.side}
