"""What happens if what is fitted fails: a bag on one side, both, leaves of the pack; what it lands on, how it leans, what the driver does then.

Source: method section 12.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from vantok_core.base.errors import VantokError
from vantok_core.base.say import Say, length
from vantok_core.facts import Fitting, Job
from vantok_core.judge.set.thresholds import LEANS
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel
from vantok_core.physics.elements.air import AirSpring
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.settings import element_named
from vantok_core.physics.vehicle import AXLE_CORNERS, Vehicle
from vantok_core.physics.what_if import METAL_CURVE, BrokenLeaf, DeadBag, Failed, Side, what_if

LANDS = {
    "own stop": "lands on its own stop",
    "vehicle stop": "lands on the vehicle’s stop",
    "metal": "stands metal on metal",
    "none": "comes down without touching",
}
SIDES: tuple[tuple[str, tuple[Side, ...]], ...] = (
    ("Left bag bursts", ("left",)),
    ("Right bag bursts", ("right",)),
    ("Both bags empty", ("left", "right")),
)
STANDS_ON = {
    "own stop": "the kit’s own stop",
    "vehicle stop": "the vehicle’s stop",
    "metal": "metal on metal",
    "none": "nothing: the springs alone",
}
WORST = ("metal", "own stop", "vehicle stop", "none")
Tone = Literal["limit", "act"]


@dataclass(frozen=True, slots=True, kw_only=True)
class InState:
    """A failure in a state: further drop of the axle (m), lean left less right (m), what it rests on, least tyre load (N). Room between tyre and arch is told
    nowhere: nobody measured it downwards."""

    key: str
    name: str
    drop: float
    lean: float
    rests: str
    least_tyre: float

    @property
    def words(self) -> str:
        """What it stands on, in words."""
        return STANDS_ON[self.rests]


@dataclass(frozen=True, slots=True, kw_only=True)
class Failure:
    """Something that fails: what, how it goes in each state, the sentence that follows from the worst of them, or why it cannot be told."""

    what: str
    states: tuple[InState, ...] = ()
    said: Say | None = None
    tone: Tone = "act"
    problem: str = ""


def failures(model: JobModel, fitting: Fitting) -> tuple[Failure, ...]:
    """Return what can fail of a kit and of the springs it stands beside, each told with its worst state."""
    vehicle = fitted_vehicle(model, fitting)
    return tuple(_told(model, vehicle, fitting, what, failure) for what, failure in _kinds(model.job, vehicle, fitting))


def _kinds(job: Job, vehicle: Vehicle, fitting: Fitting) -> Iterator[tuple[str, DeadBag | BrokenLeaf]]:
    kit = fitting.kit
    if family_of(kit).sealed:
        element = element_named(vehicle, KIT_ELEMENT)
        closed = min(kit.own["heights_m"])
        own = _own_stop(element.left, element.right, closed) if kit.own_stop else None
        for words, which in SIDES[2:] if element.teed else SIDES:
            yield words, DeadBag(element=KIT_ELEMENT, sides=which, own_stop=own, closed_height=closed)
    leaves = job.vehicle.sizes.get("front_leaves" if kit.axle == "front" else "rear_leaves")
    if leaves and leaves >= 2:
        yield "A leaf breaks, left", BrokenLeaf(axle=kit.axle, side="left", gone=1, leaves=round(leaves))
        yield "A leaf breaks, right", BrokenLeaf(axle=kit.axle, side="right", gone=1, leaves=round(leaves))


def _own_stop(left: object, right: object, closed: float) -> tuple[Stop, Stop] | None:
    """Return the kit's own stop as a solid one at the bag's lowest height: its curve is nobody's."""
    if not isinstance(left, AirSpring) or not isinstance(right, AirSpring):
        return None
    return Stop(gap=left.h_ref - closed, curve=METAL_CURVE), Stop(gap=right.h_ref - closed, curve=METAL_CURVE)


def _told(model: JobModel, vehicle: Vehicle, fitting: Fitting, what: str, failure: DeadBag | BrokenLeaf) -> Failure:
    try:
        found = what_if(vehicle, list(model.states.values()), failure)
    except VantokError as error:
        return Failure(what=what, problem=str(error))
    states = tuple(_in_state(model.job, key, one) for key, one in found.items())
    worst = min(states, key=lambda s: (WORST.index(s.rests), -abs(s.lean)))
    return Failure(what=what, states=states, said=_said(worst), tone="limit" if worst.rests == "metal" else "act")


def _in_state(job: Job, key: str, one: Failed) -> InState:
    state = job.state(key)
    return InState(
        key=key,
        name=state.name if state else key,
        drop=max(one.further_drop[c] for c in AXLE_CORNERS[one.axle]),
        lean=one.leans,
        rests=min((one.rests_on[s] for s in ("left", "right")), key=WORST.index),
        least_tyre=one.least_tyre_load,
    )


def _said(worst: InState) -> Say:
    """Return what follows for the driver from a failure's worst state."""
    leans = Say("")
    if abs(worst.lean) >= LEANS:
        side = "left" if worst.lean > 0.0 else "right"
        leans = Say(", leans {lean} {side}", {"lean": length(abs(worst.lean)), "side": side})
    if worst.rests == "metal":
        return Say(
            "Metal on metal in “{worst}”{leans}: do not drive; have it carried.",
            {"worst": worst.name, "leans": leans},
        )
    lands = LANDS[worst.rests]
    return Say(
        "{lands} in “{worst}”, {drop} lower{leans}: look first that no tyre touches; if none does, slowly to a safe "
        "place, and no further.",
        {"lands": lands.capitalize(), "worst": worst.name, "drop": length(worst.drop), "leans": leans},
    )
