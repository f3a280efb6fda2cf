"""Fit-order puzzles from real cards: a few steps to be put in order, judged by the card's own prover, which says what would have gone wrong.

Source: procedures of the trade, second part; method section 19.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.facts import Job, JobVehicle, Kit
from vantok_core.procedure.card import Card, Step, card
from vantok_core.procedure.prover import Fault, faults

OF_GATES = ("moved without a gate", "gate missing", "gate for nothing")
"""Rules that speak of gates, which follow their steps by themselves."""
MOST = 7
"""Steps of a puzzle at most."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Puzzle:
    """A puzzle: the kit whose card it is of, its steps as shown (shuffled), by their keys; the card itself."""

    kit: Kit
    shown: tuple[Step, ...]
    card: Card


def puzzle(shelf: Sequence[Kit], seed: int) -> Puzzle:
    """Return a puzzle by its seed. Raises InputError where no card of the shelf has enough steps that hang together."""
    rng = np.random.default_rng([seed, 11])
    for n in rng.permutation(len(shelf)):
        kit = shelf[int(n)]
        made = card(_job_of(kit), kit)
        steps = _one_side(made)
        if len(steps) >= 4:
            order = [steps[int(i)] for i in rng.permutation(len(steps))]
            return Puzzle(kit=kit, shown=tuple(order if order != steps else order[::-1]), card=made)
    raise InputError("shelf", len(shelf), "no card on it has steps enough to put in order")


def _job_of(kit: Kit) -> Job:
    spring = kit.springs[0] if kit.springs else "leaf_solid"
    return Job(vehicle=JobVehicle(rear_spring=spring, front_spring=spring))


def _one_side(made: Card) -> list[Step]:
    """Return the steps that declare what they do to the vehicle, of one side and of both together, the first few of them and the last."""
    told = [s for s in made.steps if not s.gate and s.side != "right" and _declares(s)]
    return told if len(told) <= MOST else [*told[: MOST - 1], told[-1]]


def _declares(step: Step) -> bool:
    return bool(step.opens or step.closes or step.moves or step.air or step.energy or step.trial or step.off or step.on)


@dataclass(frozen=True, slots=True, kw_only=True)
class Judged:
    """How an order was: what would have gone wrong in it, in words at its step; the card's own order."""

    wrong: tuple[tuple[str, str], ...]
    order: tuple[str, ...]

    @property
    def right(self) -> bool:
        """Whether nothing would have gone wrong."""
        return not self.wrong


def judged(one: Puzzle, keys: Sequence[str]) -> Judged:
    """Return how an order (step keys) was. Other orders than the card's own are right where its prover finds nothing new. Raises
    InputError for steps that are not those of the puzzle."""
    shown = {step.key: step for step in one.shown}
    if sorted(keys) != sorted(shown):
        raise InputError("order", len(keys), "put each step in its place, once")
    places = [n for n, step in enumerate(one.card.steps) if step.key in shown]
    steps = list(one.card.steps)
    for place, key in zip(places, keys, strict=True):
        steps[place] = replace(shown[key], stands=steps[place].stands, anywhere=True)
    own = list(one.card.steps)
    for place in places:
        own[place] = replace(own[place], anywhere=True)
    known = {_told(f) for f in faults(replace(one.card, steps=tuple(own)))}
    found = faults(replace(one.card, steps=tuple(steps)))
    new = [f for f in found if f.rule not in OF_GATES and _told(f) not in known]
    words = {step.key: step.words for step in one.card.steps}
    return Judged(
        wrong=tuple(dict.fromkeys((words.get(f.key, ""), f.words) for f in new)),
        order=tuple(s.words for s in one.card.steps if s.key in shown),
    )


def _told(fault: Fault) -> tuple[str, str]:
    return fault.rule, fault.words
