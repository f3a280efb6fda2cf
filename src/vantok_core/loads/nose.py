"""What a trailer's nose carries in a state, and whether that is within its window: by the trailer's kind, as any other limit.

Source: method section 27.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vantok_core.facts import Job, JobState, JobVehicle
from vantok_core.facts.classes import BODIES
from vantok_core.facts.kinds import TrailerKind
from vantok_core.loads.plan import state_load
from vantok_core.loads.trailer_beam import WINDOWS

Word = Literal["negative", "light", "good", "heavy"]
KIND: dict[str, TrailerKind] = {"ball": "ball", "gooseneck": "pin", "pin": "pin", "caravan": "caravan"}
"""The kind of trailer a hitch is for."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Nose:
    """A state's tongue and trailer (kg), the tongue's share, its window, and what is so of it."""

    state: JobState
    tongue: float
    trailer: float
    window: tuple[float, float]
    word: Word

    @property
    def share(self) -> float:
        """The tongue's share of the trailer."""
        return self.tongue / self.trailer


def trailer_kind(vehicle: JobVehicle) -> TrailerKind:
    """Return which window a trailer has: of one that is the job's own vehicle by its body, of one it tows by its hitch."""
    if BODIES[vehicle.body].trailer:
        return "caravan" if vehicle.body == "caravan" else "ball"
    return KIND[vehicle.hitch_kind]


def window_of(job: Job) -> tuple[float, float]:
    """Return the least and the greatest share that a trailer's nose should carry, as the shop has it."""
    kind = trailer_kind(job.vehicle)
    return job.noses.get(kind, WINDOWS[kind])


def window_words(window: tuple[float, float]) -> str:
    """Return a window in words, as 10 to 15 %; window: two, each a share."""
    return f"{100.0 * window[0]:.0f} to {100.0 * window[1]:.0f} %"


def nose_word(share: float, window: tuple[float, float]) -> Word:
    """Return what is so of a tongue that carries such a share of its trailer; the window's edges are inside."""
    if share < 0.0:
        return "negative"
    return "light" if share < window[0] else "heavy" if share > window[1] else "good"


def nose_of(job: Job, state: JobState) -> Nose | None:
    """Return what a state's trailer has on its nose; None without one, or where its tongue or its mass is not known."""
    if state.past or state.empty:
        return None
    tongue, trailer = state.tongue, state.trailer
    if BODIES[job.vehicle.body].trailer:
        load = state_load(job, state)
        if load.front is None or load.rear is None:
            return None
        tongue, trailer = load.front, load.front + load.rear
    if not trailer or (not tongue and not state.trailer_items):
        return None
    window = window_of(job)
    return Nose(state=state, tongue=tongue, trailer=trailer, window=window, word=nose_word(tongue / trailer, window))


def noses(job: Job) -> list[Nose]:
    """Return what is out of its window in any state, what lifts the ball first."""
    found = [nose for s in job.states if (nose := nose_of(job, s)) is not None and nose.word != "good"]
    return sorted(found, key=lambda nose: nose.word != "negative")
