"""What closed jobs taught the shop, as the next one uses it: rates by class, strengths of kits, hours of cards, what was behind complaints.

Practice teaches nothing (it is never handed over); a job from a file, or one whose loads nobody weighed, does not count unless a lead says so.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from math import log
from typing import Any

from django.utils import timezone

from vantok.records.choose.models import kind_of
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok.records.learnt.models import Foretold, Lesson
from vantok_core import facts as core
from vantok_core.facts import Kit
from vantok_core.facts.learnt import ClassLearnt
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.registry import family_of, read_kit
from vantok_core.kits.staged import refitted
from vantok_core.kits.target import target_state
from vantok_core.physics.vehicle import AXLES
from vantok_core.upkeep.learning import HOURS, Taught
from vantok_core.upkeep.lessons import Lesson as Told
from vantok_core.upkeep.lessons import as_learnt, class_learnt, class_of, learn, rates_told, strength_told

LEARNT = "class_learnt"
"""Under which name a job's sheets keep what it was decided on."""


def teaching(kind: str, keys: Iterable[str] = ()) -> dict[str, list[Told]]:
    """Return the lessons of a kind that count, by key, in the order of their visits; of some keys alone where asked."""
    rows = Lesson.objects.filter(kind=kind, off="", job__practice=False)
    wanted = list(keys)
    found: dict[str, list[Told]] = {}
    told = (rows.filter(key__in=wanted) if wanted else rows).values_list("key", "value", "sigma", "job__vehicle_id")
    for key, value, sigma, vehicle in told:
        found.setdefault(key, []).append(Told(kind=kind, key=key, value=value, sigma=sigma, vehicle=str(vehicle)))
    return found


def learnt_now(job: core.Job) -> tuple[ClassLearnt, ...]:
    """Return what the shop has learnt by now of a vehicle's class."""
    keys = [key for axle in AXLES if (key := class_of(job, axle))]
    return class_learnt(job, teaching("rate", keys)) if keys else ()


def with_learnt(record: Job, job: core.Job) -> core.Job:
    """Return a job with what the shop has learnt of its class: until a kit is taken or it is handed over as it is known now, from then on as it was."""
    decided = record.done or LEARNT in record.sheets or bool(record.fittings.all())
    return job if decided else job.model_copy(update={LEARNT: learnt_now(job)})


def settle_estimate(record: Job, job: core.Job) -> None:
    """Keep with a job what the shop had learnt when it was decided on; what is learnt later does not change it by itself."""
    if LEARNT not in record.sheets and not record.fittings.exists():
        record.sheets = record.sheets | {LEARNT: [one.model_dump(mode="json") for one in learnt_now(job)]}
        record.save()


def learnt_since(job: core.Job) -> list[tuple[ClassLearnt | None, ClassLearnt]]:
    """Return what has been learnt of a decided job's class since, by axle: as it was (None: nothing), and as it is now."""
    then = {one.axle: one for one in job.class_learnt}
    return [(then.get(one.axle), one) for one in learnt_now(job) if one != then.get(one.axle)]


def key_of(code: str, kind: str) -> str:
    """Return under which key a kit's strength and hours on a kind of vehicle are learnt."""
    return f"{code} on {kind}"[:80]


def seen_here(vehicle: Vehicle, kits: list[Kit]) -> list[Kit]:
    """Return kits as strong as they were read to be on vehicles of this kind here, with what spread is left."""
    told = teaching("strength")
    return [as_learnt(kit, told.get(key_of(kit.code, kind_of(vehicle, kit)), ())) for kit in kits] if told else kits


def entry_seen_here(vehicle: Vehicle, entry: dict[str, Any]) -> dict[str, Any]:
    """Return a catalogue entry as `seen_here` has its kit."""
    kit = read_kit(entry)
    seen = seen_here(vehicle, [kit])[0]
    return entry if seen is kit else seen.model_dump(mode="json", exclude_none=True)


def hours_learnt(vehicle: Vehicle, kits: Iterable[Kit]) -> Mapping[str, Taught]:
    """Return what finished cards taught of the hours of kits on vehicles of this kind, by code; of those alone that taught some."""
    keys = {kit.code: key_of(kit.code, kind_of(vehicle, kit)) for kit in kits}
    told = teaching("hours", keys.values()) if keys else {}
    return {code: learn(told[key], HOURS) for code, key in keys.items() if key in told}


def causes_proved() -> dict[str, Counter[str]]:
    """Return how often each cause was what was behind a complaint here, by complaint."""
    found: dict[str, Counter[str]] = {}
    for key in Lesson.objects.filter(kind="cause", off="", job__practice=False).values_list("key", flat=True):
        complaint, _, cause = key.partition(" ")
        found.setdefault(complaint, Counter())[cause] += 1
    return found


def keep_lessons(record: Job, desk: Any) -> None:
    """Keep what a job that is handed over taught; of an earlier hand-over it takes the place, and what a lead said of it stays."""
    off_by_lead = {(row.kind, row.key) for row in record.lessons.all() if row.off == "lead"}
    record.lessons.all().delete()
    record.foretold.all().delete()
    now = timezone.now()
    imported = record.readings.exclude(told_by="").exists()
    for one, usual in _told(record, desk):
        why = "imported" if imported else "unweighed" if not one.weighed else ""
        off = "lead" if (one.kind, one.key[:80]) in off_by_lead else why
        row = Lesson(
            job=record, kind=one.kind, key=one.key[:80], value=one.value, sigma=one.sigma, usual=usual, off=off
        )
        row.at = now
        row.save()
    Foretold.objects.bulk_create(_foretold(record, desk, now))


def _told(record: Job, desk: Any) -> list[tuple[Told, float]]:
    """Return every lesson of a job, each with the usual figure it is told against (SI)."""
    model, fitting = desk.worked.model, desk.job.fitting
    found: list[tuple[Told, float]] = []
    if model is not None:
        usual = {class_of(desk.job, a): _usual(model, a) for a in AXLES}
        found += [(one, usual[one.key]) for one in rates_told(model)]
    if fitting is not None and len(desk.job.parts) == 1:
        found += _of_kit(record, desk)
    for complaint in desk.job.complaints:
        if complaint.answer == "cured" and complaint.cause:
            key = f"{complaint.code} {complaint.cause}"
            found.append((Told(kind="cause", key=key, value=0.0, sigma=0.0), 0.0))
    return found


def _usual(model: Any, axle: Any) -> float:
    """Return the class's own rate of an axle, N/m: what was learnt of it taken out."""
    spring = model.prior.axle(axle).spring
    learnt = next((one.factor for one in model.job.class_learnt if one.axle == axle), 1.0)
    return float(spring.k + spring.k2) / learnt


def _of_kit(record: Job, desk: Any) -> list[tuple[Told, float]]:
    """Return what a job's one kit taught: its strength by the heights read with it, the hours of its finished card."""
    fitting, found = desk.job.fitting, list[tuple[Told, float]]()
    staged, proof = desk.worked.staged, desk.proof
    if staged is not None and proof is not None and family_of(fitting.kit).lifts:
        seen = fitting.kit.seen.ratio if fitting.kit.seen else 1.0
        key = key_of(fitting.kit.code, kind_of(record.vehicle, fitting.kit))
        one = strength_told(refitted(staged, fitting), KIT_ELEMENT, key, fitting.kit.strength_sigma)
        if one is not None:
            value = one.value + log(seen)
            found.append((Told(kind=one.kind, key=key, value=value, sigma=one.sigma), 1.0))
    return found + _hours(key_of(fitting.kit.code, kind_of(record.vehicle, fitting.kit)), desk.cards[-1], fitting.kit)


def _hours(key: str, card: Any, kit: Kit) -> list[tuple[Told, float]]:
    """Return what a finished card took, pauses out, in all and at either side, against its sheet's hours; nothing of an unfinished one."""
    if not card.took_in_all or not kit.hours > 0.0:
        return []
    sides = [(f"{key}, {side} side"[:80], minutes, kit.hours / 2.0) for side, minutes in card.took if minutes > 0.0]
    return [
        (Told(kind="hours", key=name, value=log(minutes / 60.0 / usual), sigma=0.0), usual)
        for name, minutes, usual in ((key, card.took_in_all, kit.hours), *sides)
    ]


def _foretold(record: Job, desk: Any, now: Any) -> list[Foretold]:
    """Return each corner's height as foretold and as read, in the state the kit was set for."""
    proof, model, fitting = desk.proof, desk.worked.in_hand, desk.job.fitting
    if proof is None or model is None or fitting is None:
        return []
    klass = class_of(desk.job, "front" if fitting.kit.axle == "front" else "rear")
    return [
        Foretold(
            job=record,
            code=fitting.kit.code,
            klass=klass,
            corner=row.corner,
            predicted_m=row.predicted.value,
            read_m=row.read,
            band_m=row.predicted.band,
            at=now,
        )
        for row in proof.rows.get(target_state(model), ())
        if row.read is not None
    ]
