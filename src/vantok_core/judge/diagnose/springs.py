"""What the springs tell: rates with bands, soft or tired ones, friction of the leaves, when a stop will touch (method 3)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from vantok_core.base.names import ARCHES
from vantok_core.base.num import FloatArray
from vantok_core.base.say import Finding, Quantity, Say, length, mass
from vantok_core.facts import Job
from vantok_core.judge.diagnose.thresholds import ANGLE_WORTH, BOTH_LEAN, CONTACT_MOST, EVEN_PADS, TIRED_SIDE
from vantok_core.judge.grounds.shown import StateView
from vantok_core.model import JobModel
from vantok_core.model.rate_band import rate_of
from vantok_core.model.stops import may_touch
from vantok_core.physics.stance.report import report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName, Item

CONTACT_STEPS = 49
"""Masses tried at once, 25 kg apart."""


def stop_contact(model: JobModel, key: str, axle: AxleName) -> float | None:
    """Return how much more load over an axle (kg) brings its first stop into contact in a state; negative when it touches.

    Masses put over the axle are solved as one batch, and the gap's crossing of nought is read between two of them. None where
    no stop gap was read, or where even 1200 kg more does not reach it. Source: method section 4, own search.
    """
    name = f"{axle} bump stops"
    station = 0.0 if axle == "front" else model.vehicle.wheelbase

    def gaps(kg: FloatArray) -> FloatArray | None:
        states = dict(model.states)
        states[key] = replace(states[key], items=(*states[key].items, Item(mass=kg, station=station, name="more")))
        solved = solve_states(model.vehicle, list(states.values()), check_limits=False)[key]
        sides = report(model.vehicle, solved).elements.get(name)
        if not sides:
            return None
        least: FloatArray = np.min(
            [np.broadcast_to(s.gap_left, len(kg)) for s in sides.values() if s.gap_left is not None], axis=0
        )
        return least

    here = gaps(np.zeros(1))
    if here is None:
        return None
    tried = np.linspace(0.0, CONTACT_MOST, CONTACT_STEPS) * (1.0 if here[0] > 0.0 else -1.0)
    left = gaps(tried)
    assert left is not None
    crossing = np.flatnonzero(left[:-1] * left[1:] <= 0.0)
    if not len(crossing):
        return None
    n = int(crossing[0])
    return float(tried[n] + (tried[n + 1] - tried[n]) * left[n] / (left[n] - left[n + 1]))


def friction_bands(job: Job) -> dict[str, float]:
    """Return the largest friction band (m) by axle, from heights read pressed and lifted."""
    found: dict[str, float] = {}
    for reading in job.readings:
        if reading.friction_m is None or reading.phase != "before":
            continue
        axle = "front" if reading.place in ("FL", "FR") else "rear"
        found[axle] = max(found.get(axle, 0.0), reading.friction_m)
    return found


def spring_findings(model: JobModel, view: StateView) -> list[Finding]:
    """Return what the springs tell in the state spoken of."""
    return [
        *_ride(view),
        *_against_class(model),
        *_stops_unread(model, view),
        *_uneven(model.job),
        *_contact(model, view),
        *_friction(model.job),
        *_angles(view),
    ]


def _ride(view: StateView) -> list[Finding]:
    if view.rides != "pitches":
        return []
    values = {"r": Quantity(view.frequency["rear"], "frequency"), "f": Quantity(view.frequency["front"], "frequency")}
    what = Say("Rear rides slower than the front ({r} against {f}): it will pitch and porpoise.", values)
    do = Say("More rear rate with damping to match, or less load behind the axle.")
    return [Finding(key="pitching", tone="act", topic="frequency", what=what, do=do)]


def _against_class(model: JobModel) -> list[Finding]:
    """Say where the rear springs read softer or stiffer than their class, which varies by half and accuses nobody."""
    rate = rate_of(model, "rear")
    if not rate.learned or rate.low <= rate.usual <= rate.high:
        return []
    word = "softer" if rate.rate < rate.usual else "stiffer"
    values = {"k": Quantity(rate.rate, "rate"), "u": Quantity(rate.usual, "rate")}
    than = Say("{n} of your own of its class" if rate.own else "the class, which varies by half", {"n": rate.own})
    what = Say(
        "The rear springs read {word} than {than}: {k} a side against {u}.", {**values, "word": word, "than": than}
    )
    return [Finding(key="against-class", at="rear", tone="plain", topic="rates", what=what)]


def _stops_unread(model: JobModel, view: StateView) -> list[Finding]:
    """Ask for a stop gap nobody read, where by its usual size the stop may be touching."""
    return [
        Finding(
            key="stops-unread",
            at=axle,
            tone="act",
            topic="stop gap",
            what=Say("Nobody read the {axle} stop gaps, and with this load a stop may be touching.", {"axle": axle}),
            do=Say("Read them: what is told of springs and loads holds if the stops are free."),
        )
        for axle in may_touch(model, view.state.key)
    ]


def _uneven(job: Job) -> list[Finding]:
    """Find an empty vehicle that stands lower on one side although nothing says that its load lies there: at both axles the floor comes first."""
    if job.never_empty:
        return []  # what it carries is on it, and may well lie to one side
    pairs = {axle: next((pair for datum in ARCHES if (pair := _pair(job, axle, datum))), None) for axle in AXLES}
    leans = {axle: pair[0] - pair[1] for axle, pair in pairs.items() if pair}
    if len(leans) == 2 and leans["front"] * leans["rear"] > 0.0 and min(map(abs, leans.values())) > BOTH_LEAN:
        return [_floor(leans)]
    return [
        _tired(axle, lean) for axle, lean in leans.items() if abs(lean) >= TIRED_SIDE and not _off_centre(job, axle)
    ]


def _floor(leans: Mapping[AxleName, float]) -> Finding:
    low = "left" if leans["rear"] < 0.0 else "right"
    what = Say(
        "Empty, it stands lower on the {low} at both axles, {f} in front and {r} behind.",
        {"f": length(abs(leans["front"])), "r": length(abs(leans["rear"])), "low": low},
    )
    do = Say("The floor first: turn it round and read again. Then the load across, then the springs.")
    return Finding(key="floor", tone="act", topic="springs", what=what, do=do)


def _tired(axle: AxleName, lean: float) -> Finding:
    low = "left" if lean < 0.0 else "right"
    what = Say(
        "Empty, the {low} {axle} stands {d} lower than the other side.",
        {"d": length(abs(lean)), "low": low, "axle": axle},
    )
    do = Say(
        "A tired or broken spring there, a bent seat, or load on that side: weigh the corners empty, compare the springs."
    )
    return Finding(key=f"tired-{axle}", tone="act", topic="springs", what=what, do=do)


def _pair(job: Job, axle: AxleName, datum: str) -> tuple[float, float] | None:
    assert job.empty is not None
    left, right = (job.read(job.empty.key, corner, datum) for corner in AXLE_CORNERS[axle])
    return (left.value_m, right.value_m) if left is not None and right is not None else None


def _off_centre(job: Job, axle: AxleName) -> bool:
    """Tell whether empty corner pads already explain a lean."""
    corners = job.empty.corners_kg if job.empty else None
    if corners is None:
        return False
    left, right = corners[:2] if axle == "front" else corners[2:]
    return abs(left - right) > EVEN_PADS * max(left + right, 1.0)


def _contact(model: JobModel, view: StateView) -> list[Finding]:
    found = []
    for axle in AXLES:
        if axle not in view.travel or view.stop_gap[axle] <= 0.0:
            continue
        more = stop_contact(model, view.state.key, axle)
        values = {"gap": length(view.stop_gap[axle]), "left": Quantity(view.travel[axle], "percent")}
        when = Say(".") if more is None else Say("; it touches with {more} more over that axle.", {"more": mass(more)})
        what = Say(
            "{axle} stop gap {gap}, {left} of the empty travel{when}",
            {**values, "axle": axle.capitalize(), "when": when},
        )
        found.append(Finding(key=f"travel-{axle}", at=axle, tone="plain", topic="stop gap", what=what))
    return found


def _friction(job: Job) -> list[Finding]:
    return [
        Finding(
            key=f"friction-{axle}",
            at="front" if axle == "front" else "rear",
            tone="plain",
            topic="friction",
            what=Say(
                "The {axle} springs hold by friction: ± {f} about the mean of pressed and lifted.",
                {"f": length(band), "axle": axle},
            ),
            do=Say("A difference smaller than that says nothing."),
        )
        for axle, band in friction_bands(job).items()
        if band > 0.0
    ]


def _angles(view: StateView) -> list[Finding]:
    """Say what sag does to an independent axle's camber and toe."""
    ways = {"camber": ("top out", "top in"), "toe": ("toe in", "toe out")}
    found = []
    for name, change in view.angles.items():
        axle, angle = name.split()
        if abs(change) < ANGLE_WORTH:
            continue
        way = ways[angle][0 if change > 0 else 1]
        what = Say(
            "Sag turns the {axle} wheels {a} {way}.", {"a": Quantity(abs(change), "degrees"), "axle": axle, "way": way}
        )
        do = Say("Holding the height holds it; align at the height it is driven at.")
        found.append(Finding(key=f"{axle}-{angle}", tone="act", topic=angle, what=what, do=do))
    return found
