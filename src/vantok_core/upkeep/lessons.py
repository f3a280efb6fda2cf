"""What a closed job teaches: its springs' rates by class, its kit's strength, both by its readings alone; and what was foretold beside what was read.

Source: method sections 22 and 26.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from math import exp, log, sqrt

from vantok_core.base.say import Say, mass
from vantok_core.facts import Job, Kit
from vantok_core.facts.classes import BODIES, SPRINGS
from vantok_core.facts.kit import SeenHere
from vantok_core.facts.learnt import ClassLearnt
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel, learnt_of
from vantok_core.physics.vehicle import AXLES, AxleName
from vantok_core.upkeep.learning import CLASS, STRENGTH, SURE, Priors, Taught, taught

BAND_FROM, BAND_STEP = 400.0, 1.3
"""Bands of rating: from this axle rating on (kg), each so many times the one before."""
OWN_READINGS = 0.02
"""Readings that took less than this off the prior's variance (a share of it) say nothing of their own."""
MANY = 100
"""Of more lessons than these one alone hardly moves what all teach."""
FAR = 2.5
"""A job further off the others than so many of its own and their sigmas is named."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Lesson:
    """One figure a closed job teaches: kind: rate, strength, hours or cause; key: of what class, kit or complaint; value: ln of the figure over the
    usual one, with its ln-sigma; vehicle: whose, by which one counts once; weighed: whether its loads stood on a scale."""

    kind: str
    key: str
    value: float
    sigma: float
    vehicle: str = ""
    weighed: bool = True


def band_of(rating: float | None) -> str:
    """Return the band of rating of an axle (kg) in words; empty where nobody knows it."""
    if rating is None or rating <= 0.0:
        return ""
    step = int(log(max(rating, BAND_FROM) / BAND_FROM) / log(BAND_STEP) + 1e-9)
    low = BAND_FROM * BAND_STEP**step
    return f"{low:.0f}-{low * BAND_STEP:.0f}"


def class_of(job: Job, axle: AxleName) -> str:
    """Return the class an axle belongs to: body style, axle, spring, tyre class, band of rating; empty where springs or rating are not known."""
    v = job.vehicle
    spring = v.front_spring if axle == "front" else v.rear_spring
    band = band_of(v.front_axle_kg if axle == "front" else v.rear_axle_kg)
    return f"{v.body} {axle} {spring} {v.tyres or 'light_truck'} {band}" if spring and band else ""


def class_said(key: str) -> Say:
    """Return a class in words: body, axle, spring, band of rating; a key that does not read, as it stands."""
    parts = key.split()
    low, _, high = parts[-1].partition("-") if parts else ("", "", "")
    if (
        len(parts) != CLASS_PARTS
        or parts[0] not in BODIES
        or parts[2] not in SPRINGS
        or not (low.isdecimal() and high.isdecimal())
    ):
        return Say(key)
    values = {"low": mass(float(low)), "high": mass(float(high))}
    body, axle, spring = BODIES[parts[0]].words, parts[1], SPRINGS[parts[2]].words
    return Say(
        "{body}, {axle}: {spring}, rated {low} to {high}",
        {**values, "body": body.capitalize(), "axle": axle, "spring": spring},
    )


CLASS_PARTS = 5


def kind_said(key: str) -> str:
    """Return in words the kind of vehicle a card is learnt on, body and spring, with a side where there is one; what does not read, as it stands."""
    kind, _, side = key.partition(", ")
    body, _, spring = kind.partition(" ")
    told = [
        BODIES[body].words if body in BODIES else body,
        SPRINGS[spring].words if spring in SPRINGS else spring,
        side,
    ]
    return ", ".join(one for one in told if one)


def weighed_throughout(job: Job) -> bool:
    """Tell whether the loads of every state whose heights were read stood on a scale."""
    read = {r.state for r in job.readings if r.phase == "before"}
    states = [s for s in job.states if s.key in read and not s.past]
    return len(states) > 1 and all(s.corners_kg is not None or (s.front_kg and s.rear_kg) for s in states)


def rates_told(model: JobModel) -> list[Lesson]:
    """Return what a job's readings alone say of its springs, by class: what was taken of the class before is taken out of it.

    Formula: `1/s^2 = 1/s_post^2 - 1/s_prior^2`, the centre likewise, in ln of the rate over the class's. Nothing of an axle whose rate its maker gives, of
    an unknown class, or known no better than 0.15. Source: method section 22.
    """
    found = []
    for axle in AXLES:
        key, learnt = class_of(model.job, axle), learnt_of(model.job, axle)
        given = model.job.vehicle.front_rate_n_per_m if axle == "front" else model.job.vehicle.rear_rate_n_per_m
        if not key or given:
            continue
        before, after = model.estimate.problem.sigma_ln[axle], model.estimate.sigma_ln[axle]
        more = 1.0 / after**2 - 1.0 / before**2
        if more <= 0.0:
            continue
        own, prior = model.vehicle.axle(axle).spring, model.prior.axle(axle).spring
        centre = log(learnt.factor) if learnt else 0.0
        post = centre + log(float(own.k + max(own.k2, 0.0)) / float(prior.k + prior.k2))
        value = (post / after**2 - centre / before**2) / more
        if 1.0 / sqrt(more) >= SURE:
            continue
        weighed = weighed_throughout(model.job)
        found.append(Lesson(kind="rate", key=key, value=value, sigma=1.0 / sqrt(more), weighed=weighed))
    return found


def strength_told(model: JobModel, name: str, code: str, prior_sigma: float) -> Lesson | None:
    """Return what heights with a kit on alone say of its strength; name: its element's; prior_sigma: of ln before them (ratio). None where they say nothing."""
    strength, after = model.estimate.strength.get(name), model.estimate.strength_sigma.get(name)
    if strength is None or not after or not strength > 0.0:
        return None
    more = 1.0 / after**2 - 1.0 / prior_sigma**2
    if more * prior_sigma**2 < OWN_READINGS:
        return None
    return Lesson(kind="strength", key=code, value=log(strength) / after**2 / more, sigma=1.0 / sqrt(more))


def last_of_each(told: Iterable[Lesson]) -> list[Lesson]:
    """Return lessons in the order of their visits, of each vehicle the last alone; those of no vehicle all."""
    found: dict[str, Lesson] = {}
    for n, one in enumerate(told):
        key = one.vehicle or f"#{n}"
        found.pop(key, None)
        found[key] = one
    return list(found.values())


def learn(told: Sequence[Lesson], prior: Priors = CLASS) -> Taught:
    """Return what lessons of one key teach the next one of it, whatever order they came in."""
    counted = last_of_each(told)
    return taught([(one.value, one.sigma) for one in counted], prior)


def class_learnt(job: Job, told: Mapping[str, Sequence[Lesson]]) -> tuple[ClassLearnt, ...]:
    """Return what a shop had learnt of a vehicle's class, by axle; told: lessons by their key, those that teach."""
    found = []
    for axle in AXLES:
        lessons = told.get(class_of(job, axle), ())
        if lessons:
            one = learn(lessons)
            sigma = min(max(one.sigma_ln, 0.01), 1.0)
            found.append(ClassLearnt(axle=axle, factor=min(max(exp(one.mu), 0.1), 10.0), sigma_ln=sigma, n=one.n))
    return tuple(found)


def outliers(told: Sequence[Lesson], prior: Priors = CLASS) -> list[Lesson]:
    """Return lessons far from what the others teach, by their own error and the spread: damped already, and to be looked at."""
    counted = last_of_each(told)
    whole = taught([(o.value, o.sigma) for o in counted], prior)
    found = []
    for one in counted:
        rest = whole if len(counted) > MANY else taught([(o.value, o.sigma) for o in counted if o is not one], prior)
        if abs(one.value - rest.mu) > FAR * sqrt(one.sigma**2 + rest.sigma_ln**2):
            found.append(one)
    return found


def as_learnt(kit: Kit, told: Iterable[Lesson]) -> Kit:
    """Return a kit with its data as strong as it was read to be, and saying so; unchanged where nothing tells, or it lifts nothing."""
    lessons = list(told)
    if not lessons or not family_of(kit).lifts:
        return kit
    found = learn(lessons, STRENGTH["maker" if kit.maker_data else "like"])
    ratio = min(max(found.factor, 0.3), 3.0)
    seen = SeenHere(count=found.n, ratio=ratio, sigma=min(max(found.sigma_ln, 0.01), 1.0))
    return family_of(kit).scaled(kit, ratio).model_copy(update={"seen": seen})
