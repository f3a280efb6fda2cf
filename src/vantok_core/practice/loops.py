"""Simulated loops of set, read, set again: how many changes a technician needs until the tape says that the height is there.

Each vehicle is drawn and read as in `life`; the kit is set as the model says, read, and set again as the model taught by that reading says.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import exp

import numpy as np

from vantok_core.facts import Fitting, Job, JobReading
from vantok_core.facts.kinds import UNKNOWN_MAKE
from vantok_core.judge.prove.proving import better_setting
from vantok_core.kits.choice import MET
from vantok_core.kits.choose import shortlist
from vantok_core.kits.fit import with_kit
from vantok_core.kits.target import target_drop, target_state
from vantok_core.model import build_model
from vantok_core.practice.life import KIT_SPREAD, SOLID, bellows, drawn, tape

MOST_CHANGES = 3
REAR = ("RL", "RR")


@dataclass(frozen=True, slots=True, kw_only=True)
class LoopTrial:
    """One loop: whether the tape said it was there, after how many changes of the first setting (None: not within three), and whether the kit's own limits
    stood in the way."""

    changes: int | None
    at_limit: bool


def loop_trials(rng: np.random.Generator, count: int, *, known: bool = True) -> list[LoopTrial]:
    """Return `count` simulated loops of a kit that by its data reaches the height wanted; known: by its maker's data, else by those of a like kit."""
    found: list[LoopTrial] = []
    while len(found) < count:
        trial = _trial(rng, known=known)
        if trial is not None:
            found.append(trial)
    return found


def _trial(rng: np.random.Generator, *, known: bool) -> LoopTrial | None:
    """Return a loop; None for a vehicle that the kit does not bring there even by the model."""
    one = drawn(rng, SOLID[int(rng.integers(len(SOLID)))])
    kit = bellows().model_copy(update={"maker_data": known})
    really = bellows(exp(rng.normal(0.0, KIT_SPREAD if known else UNKNOWN_MAKE)))
    pads = tuple(JobReading(state="empty", datum="pad_to_pad", place=c, value_m=0.165) for c in REAR)
    job = one.job.model_copy(update={"readings": (*tape(rng, one, one.truth, tuple(one.states), "before"), *pads)})
    model = build_model(job)
    choice = shortlist(model, (kit,)).choice(kit.code)
    if choice is None or not choice.setting or not choice.meets:
        return None
    key, setting = target_state(model), dict(choice.setting)
    for changes in range(MOST_CHANGES + 1):
        fitted = with_kit(job, one.truth, really, setting, state=key)
        read = tape(rng, one, fitted, tuple(one.states), "after")
        tried = job.model_copy(
            update={
                "readings": (*job.readings, *read),
                "fitting": Fitting(kit=kit, setting=setting, state=key, done=True),
            }
        )
        if abs(_miss(tried, key)) <= MET:
            return LoopTrial(changes=changes, at_limit=False)
        following = better_setting(build_model(tried), tried.fitting, key) if tried.fitting else None
        if following is None or following == setting:
            return LoopTrial(changes=None, at_limit=following is not None)
        setting = dict(following)
    return LoopTrial(changes=None, at_limit=False)


def _miss(job: Job, key: str) -> float:
    """Return how far the mean rear height as read stands off the height wanted (m), both against the empty vehicle as read."""
    empty = job.empty
    assert empty is not None
    then, now = (
        [r.value_m for c in REAR if (r := job.at(state, c, "ground_arch", phase))]
        for state, phase in ((empty.key, "before"), (key, "after"))
    )
    return sum(now) / 2 - sum(then) / 2 + target_drop(build_model(job), key).drop
