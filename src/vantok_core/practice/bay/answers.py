"""How a case's vehicle answers: to tape, scale, questions, eyes, jack and a drive. Each answer is what a technician would get, never the truth itself.

Friction and the tape's own error are drawn from life, the same again for the same act. Source: method sections 15, 19 and 21.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from vantok_core.aims.complaints import COMPLAINTS
from vantok_core.base.errors import InputError
from vantok_core.base.names import CORNERS as PLACES
from vantok_core.base.say import Quantity, Say
from vantok_core.facts.classes import friction_of
from vantok_core.judge.listen.inspect import AREAS
from vantok_core.judge.prove.driving import CATEGORIES, COURSES, Went
from vantok_core.judge.ride.foreseen import foreseen
from vantok_core.judge.ride.ready import Configuration, Over, ready, usual_dampers
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES
from vantok_core.practice.bay.case import Case
from vantok_core.practice.bay.run import Standing
from vantok_core.practice.bay.truth import (
    Now,
    bare,
    heights,
    known_model,
    load_states,
    reports,
    standing,
    wheel_loads,
)
from vantok_core.practice.life import TAPE
from vantok_core.road.simulate import drive_all

SETTLED = 0.5
"""Share of its friction that a body rolled and bounced still hides."""
SCALE_STEP, TONGUE_STEP = 5.0, 1.0
"""What scales tell apart, kg."""
ON_GROUND = ("ground_arch", "ground_hitch")


def _rng(case: Case, seed: int, *about: object) -> np.random.Generator:
    """Return draws that are the same again for one run and one thing asked."""
    return np.random.default_rng([case.seed, seed, *("|".join(map(str, about)).encode())])


def friction(case: Case, seed: int, now: Standing) -> dict[str, float]:
    """Return what friction leaves in each corner's height as it came to rest, m."""
    rng, found = _rng(case, seed, "rest", now.state, now.epoch), {}
    left = SETTLED if now.settled else 1.0
    for axle in AXLES:
        alike, own = friction_of(case.hidden.front.law if axle == "front" else case.hidden.rear.law)
        common = rng.normal(0.0, alike)
        for corner in AXLE_CORNERS[axle]:
            found[corner] = left * float(common + rng.normal(0.0, own))
    return found


def tape(case: Case, seed: int, at: Standing, now: Now, datum: str, step: float) -> dict[str, float]:
    """Return what a tape held at a datum reads at each place (m, to its step, m), on the bay's floor as it lies. Raises InputError for a datum that nobody
    reads on it."""
    told = reports(case, now, (at.state,))[at.state]
    true = heights(case, told, datum, now)
    if not true:
        raise InputError("datum", datum, "nothing can be read there on this vehicle")
    rubs, rng = friction(case, seed, at), _rng(case, seed, "tape", at.state, at.epoch, datum)
    found = {}
    for place, value in true.items():
        held = value + rubs.get(place, 0.0) + float(rng.normal(0.0, TAPE))
        if datum in ON_GROUND and place in rubs:
            held += floor_under(case, place, turned=at.turned)
        found[place] = max(round(held / step) * step, 0.0)
    return found


def floor_under(case: Case, corner: str, *, turned: bool) -> float:
    """Return what the bay's floor adds at a corner (m), facing in or out."""
    order = ("FL", "FR", "RL", "RR")
    spot = PLACES[corner].across if turned else corner
    return case.hidden.floor_m[order.index(spot)]


def weighed(case: Case, at: Standing, now: Now) -> dict[str, float]:
    """Return what four pads read, kg."""
    return {
        c: round(kg / SCALE_STEP) * SCALE_STEP
        for c, kg in wheel_loads(reports(case, now, (at.state,))[at.state]).items()
    }


def tongue_weighed(case: Case, at: Standing) -> float | None:
    """Return what the tongue scale reads (kg); None where nothing hangs on."""
    load = next((one for one in case.hidden.loads if one.state == at.state), None)
    return round(load.tongue_kg / TONGUE_STEP) * TONGUE_STEP if load and load.tongue_kg else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """What is found in an area: its grade, in words."""

    grade: str
    words: str


def looked(case: Case, area: str, cured: frozenset[str] = frozenset()) -> Seen:
    """Return what is found in an area by who looks. Raises InputError for one nobody inspects."""
    if area not in AREAS:
        raise InputError("area", area, "nobody inspects that")
    fault = next((one for one in case.hidden.faults if one.area == area), None)
    if fault is None or area in cured:
        return Seen(grade="fine", words="Nothing out of the ordinary.")
    return Seen(grade=fault.grade, words=fault.words)


def hung(case: Case) -> float:
    """Return how far a hanging rear wheel goes down from where it stands empty, m."""
    return round(case.hidden.droop_m, 3)


def gauged(case: Case, hours: float = 0.0) -> tuple[float, float] | None:
    """Return what a gauge finds in the bags that were on when it came, left and right (Pa); hours: after so many (h). None without any."""
    pair = case.hidden.on_setting.get("pressure_pa")
    if pair is None:
        return None
    return max(pair[0] - case.hidden.leak_pa_per_hour * hours, 0.0), pair[1]


@dataclass(frozen=True, slots=True, kw_only=True)
class Driven:
    """What a drive tells: grades by category as the sheet has them, and what the owner says."""

    grades: Mapping[str, str]
    words: tuple[Say, ...]


WENT: Mapping[Went, str] = {"better": "fine", "same": "poor", "worse": "poor"}
ALWAYS = ("harsh", "bounces", "rolls", "noise")
"""Graded on every drive."""
OF_HEIGHT = ("stance", "squats")
"""Graded by how far its rear hangs down."""


def driven(case: Case, now: Now, *, cured_cause: bool) -> Driven:
    """Return what a drive over the course of its complaint tells with the vehicle as it stands now; cured_cause: whether what was
    behind the complaint is out of the way (a joint made good, a load moved)."""
    complaint = COMPLAINTS[case.complaint]
    grades: dict[str, str] = dict.fromkeys((*ALWAYS, *complaint.grades), "fine")
    grades |= dict.fromkeys(complaint.grades, "poor")
    for category, how in went(case, now).items():
        if category in complaint.grades:
            grades[category] = WENT[how]
        elif how == "worse":
            grades[category] = "marginal"
    if now.parts:
        up = "fine" if _up(case, now) else "poor"
        grades |= {category: up for category in OF_HEIGHT if category in grades}
    if cured_cause or case.deeds[0] == "nothing":
        grades |= dict.fromkeys(complaint.grades, "fine")
    return Driven(grades=grades, words=_owner(case, grades))


def went(case: Case, now: Now) -> dict[str, Went]:
    """Return how each category of the ride goes against how it came."""
    if not now.parts or case.course not in COURSES:
        return {}
    model, states = known_model(case), load_states(case)
    before = Configuration(key="before", words="as it came", vehicle=standing(case, Now()), states=states)
    after = Configuration(key="after", words="as it is", vehicle=standing(case, now), states=states)
    speed = COURSES[case.course].speed / 3.6
    return foreseen(model, before, after, Over(piece=case.course, speed=speed, side="both", state=case.judged))


def _up(case: Case, now: Now) -> bool:
    """Tell whether at least half of the sag is gone."""
    key = case.judged
    before = float(reports(case, only=(key,))[key].d_r)
    return float(reports(case, now, (key,))[key].d_r) < 0.5 * before


def _owner(case: Case, grades: Mapping[str, str]) -> tuple[Say, ...]:
    """Return the owner's words after a drive."""
    course = COURSES[case.course]
    complaint = COMPLAINTS[case.complaint]
    poor = [CATEGORIES[key][1] for key in complaint.grades if grades.get(key) == "poor"]
    worse = [CATEGORIES[key][1] for key, grade in grades.items() if grade == "marginal"]
    speed = {"speed": Quantity(course.speed / 3.6, "speed")}
    if poor:
        said = [
            Say(
                "Over the {course} at {speed}: “It is still there: {poor}.”",
                {**speed, "course": course.words, "poor": ", ".join(poor)},
            )
        ]
    elif complaint.grades and case.deeds[0] != "nothing":
        said = [Say("Over the {course} at {speed}: “What I came for is gone.”", {**speed, "course": course.words})]
    else:
        said = [
            Say("Over the {course} at {speed}: “I cannot tell that from the seat.”", {**speed, "course": course.words})
        ]
    return (*said, *([Say("“But now: {worse}.”", {"worse": ", ".join(worse)})] if worse else []))


def logged(case: Case, now: Now, *, rate: float = 200.0) -> Sequence[tuple[float, float]]:
    """Return a log over the course of its complaint: time (s) and vertical acceleration over the rear axle (m/s2); rate: samples a second, Hz."""
    model = known_model(case)
    one = Configuration(key="now", words="now", vehicle=standing(case, now), states=load_states(case))
    over = Over(piece=case.course, speed=COURSES[case.course].speed / 3.6, side="both", state=case.judged)
    (run,) = drive_all([ready(model, one, over, usual_dampers(model))])
    every = max(round(run.set.sample_rate / rate), 1)
    rng = _rng(case, 0, "log", len(now.parts))
    felt = run.trace(run.acc, bare(case).wheelbase, 0.0)[::every]
    noise = rng.normal(0.0, 0.03, len(felt))
    return [(n * every / run.set.sample_rate, float(a + e)) for n, (a, e) in enumerate(zip(felt, noise, strict=True))]
