"""What the report tells: a page for the customer, and behind it the technician's."""

from __future__ import annotations

from typing import Any

from django.utils import timezone
from django.utils.functional import SimpleLazyObject

from vantok.desk.close_up import seen_closely
from vantok.desk.load import Desk
from vantok.desk.parts import part_rows
from vantok.desk.pressures import card_of
from vantok.desk.proof_tables import proof_rows
from vantok.drawing.axle import axle_svg
from vantok.drawing.ride_still import still_svg
from vantok.drawing.side import stance_svg, strip_svg
from vantok.drawing.signature import signature_svg
from vantok.records.measure.models import Photo, Reading
from vantok_core.aims.complaints import COMPLAINT_WORDS
from vantok_core.aims.of_job import needs_heights
from vantok_core.base.say import Quantity
from vantok_core.base.units import System
from vantok_core.facts.proving import Drive, LeakTest
from vantok_core.judge.choose.offer import offer
from vantok_core.judge.grounds.leaking import WHAT, WHERE, LeakSaid, leak_said
from vantok_core.judge.hand_over.result import result_claims
from vantok_core.judge.listen.inspect import AREAS, marked_baseline
from vantok_core.judge.prove.driving import CATEGORIES, COURSES, FELT, GRADES
from vantok_core.judge.prove.road_logs import road_logs_told
from vantok_core.kits.already import fitted_effects, told
from vantok_core.kits.registry import family_of
from vantok_core.procedure.progress import NO_STOP
from vantok_core.upkeep.care import care_tasks

ALWAYS_TOLD = ("gross", "front_axle", "rear_axle", "coupling")
"""Limits that the report has a line for, known or not."""
ANSWERS = {"cured": "cured", "better": "better", "same": "no better", "left": "left as it is, agreed"}
"""What can have become of a complaint, in words."""
OF_HEIGHT = "Headlamps and wheel alignment are checked at the height the vehicle is now driven at."
OF_AIR = "Let the air out before touching a bag or its line."
CAUTIONS = (
    "No part raises a rating. The plate on the vehicle still rules; stay within every axle, tyre and hitch limit.",
    "Have the kit's fasteners, and axle-bolt nuts that were undone, checked after the first short distance, to the maker's torque.",
    OF_HEIGHT,
    "Work under a raised vehicle only on stands on level ground.",
    OF_AIR,
    "The maker's instructions and local rules come before this sheet.",
)


def _offer(desk: Desk) -> dict[str, Any] | None:
    """Return what an assessment ends in: the choice that is offered, and why; None for a job in which something is fitted."""
    found = desk.shortlist if desk.job.assessment else None
    if found is None:
        return None
    choice = found.choice(found.recommended)
    return {"choice": choice, "reason": found.reason, "state": found.state, "target": found.target}


def _cautions(desk: Desk) -> tuple[str, ...]:
    parts = desk.job.parts
    care = dict.fromkeys(line for part in parts for line in family_of(part.kit).care)
    if not parts:
        return CAUTIONS[:1] + CAUTIONS[-1:]
    if any(one.no_stop for one in desk.cards):
        care = {NO_STOP: None, **care}
    applies = {OF_HEIGHT: needs_heights(desk.job), OF_AIR: any(family_of(part.kit).sealed for part in parts)}
    return (*care, *(one for one in CAUTIONS if applies.get(one, True)))


def _photos(desk: Desk) -> list[Photo]:
    """Return the job's photographs whose files are there, with the words of the inspection area they show."""
    found = list(desk.record.photos.filter(gone=False).select_related("reading__state", "by"))
    for photo in found:
        photo.words = AREAS[photo.area].words if photo.area in AREAS else ""  # type: ignore[attr-defined]
        photo.there = photo.file.storage.exists(photo.file.name or "")  # type: ignore[attr-defined]
    return found


def _baselines(desk: Desk) -> list[tuple[Reading, Reading]]:
    """Return the readings of the baseline that were changed after work began, each with the one before it."""
    found, before = [], dict[tuple[object, ...], Reading]()
    rows = Reading.objects.filter(job=desk.record, phase="before").select_related("by", "state").order_by("pk")
    for row in rows:
        cell = (row.state_id, row.datum, row.place)
        if row.reason and cell in before:
            found.append((before[cell], row))
        before[cell] = row
    return found


def report_body(desk: Desk, units: System, *, working: bool = False) -> dict[str, Any]:
    """Return what the report tells in a unit system, worked out from the job as it stands; working: with the figures worked through."""
    return _of_the_vehicle(desk, working=working) | _of_the_work(desk) | _drawn_and_kept(desk, units)


def _of_the_vehicle(desk: Desk, *, working: bool) -> dict[str, Any]:
    """Return what was told, found and weighed."""
    said, answers = COMPLAINT_WORDS, desk.record.answers
    views = desk.diagnosis.views if desk.diagnosis else ()
    return {
        "complaints": [
            {"words": said.get(c, c), "answer": ANSWERS.get(answers.get(c, ""), "")} for c in desk.record.complaints
        ],
        "diagnosis": desk.diagnosis,
        "result": result_claims(desk.job, desk.diagnosis, desk.proof) if desk.diagnosis else [],
        "already": desk.worked.already,
        "marked": marked_baseline(desk.job),
        "margins": [(v.state.name, m) for v in views for m in v.margins if m.limit is not None or m.key in ALWAYS_TOLD],
        "limits": _limits(desk),
        "workings": [w for v in views if not v.state.past for w in v.workings] if working else (),
    }


def _of_the_work(desk: Desk) -> dict[str, Any]:
    """Return what was fitted, set and proved, and what it can and cannot do."""
    proving, quote = desk.job.proving, desk.job.quote
    return {
        "proof": desk.proof,
        "tables": proof_rows(desk),
        "fitting": desk.job.fitting,
        "cautions": _cautions(desk),
        "parts": part_rows(desk),
        "by_drive": not needs_heights(desk.job),
        "rolled": desk.rolled,
        "all_done": all(part.done for part in desk.job.parts),
        "offer": _offer(desk),
        "effects": [told(e) for e in fitted_effects(desk.job) if not e.axle],
        "failures": [f for f in desk.worked.failures if f.said],
        "benches": proving.benches,
        "care": care_tasks(desk.job, [line for card in desk.cards for line in card.again]),
        "proving": proving,
        "clearances": [(f"{WHAT[c.what]}, {WHERE[c.where]}", c) for c in proving.clearances],
        "drives": [_drive(desk, one) for one in proving.drives],
        "logs": road_logs_told(desk.job),
        "leaks": _leaks(desk),
        "signed": [(one, signature_svg(one)) for one in desk.job.signed],
        "quote": quote,
        "quoted": offer(quote) if quote else None,
    }


def _leaks(desk: Desk) -> list[tuple[LeakTest, LeakSaid]]:
    """Return the leak tests that were read again, or that bubbled."""
    return [
        (one, leak_said(one, timezone.now())) for one in desk.job.proving.leaks if one.p2_pa is not None or one.bubbles
    ]


def _drawn_and_kept(desk: Desk, units: System) -> dict[str, Any]:
    """Return drawings, the pressure card, photographs and readings; what is dear only once it is asked for."""
    return {
        "rides": [(one, still_svg(one, units)) for one in desk.job.proving.rides],
        "strip": SimpleLazyObject(lambda: strip_svg(desk.strip(), units) if desk.diagnosis else ""),
        "before": SimpleLazyObject(lambda: _before(desk, units)),
        "standing": SimpleLazyObject(lambda: desk.stance("report").name),
        "closely": SimpleLazyObject(lambda: _closely(desk, units)),
        "pressures": SimpleLazyObject(lambda: card_of(desk, units)),
        "photos": SimpleLazyObject(lambda: _photos(desk)),
        "baselines": SimpleLazyObject(lambda: _baselines(desk)),
        "readings": [r for r in desk.record.readings.all() if r.value_m is not None],
    }


def _limits(desk: Desk) -> list[dict[str, Any]]:
    """Return the nearest limit of each loaded state that has one, with the load it rests on."""
    found = []
    for view in desk.diagnosis.views if desk.diagnosis else ():
        known = [m for m in view.margins if m.limit is not None and m.margin is not None]
        if known and not view.state.past and not view.state.empty:
            found.append(
                {"state": view.state.name, "nearest": min(known, key=lambda m: (m.margin or 0.0) / (m.limit or 1.0))}
            )
    return found


def _judged(desk: Desk) -> str:
    """Return the state the work was for: the diagnosis' own; empty where nothing was measured."""
    main = desk.diagnosis.main if desk.diagnosis else None
    return main.state.key if main else ""


def _before(desk: Desk, units: System) -> Any:
    """Return the vehicle as it stood loaded before, where a kit is on and it was measured; else nothing."""
    key = _judged(desk)
    return stance_svg(desk.stance("diagnose", state=key), units) if key and desk.job.fitting else ""


def _closely(desk: Desk, units: System) -> Any:
    """Return the axle's close-up as the report has it; nothing where the model cannot tell."""
    found = seen_closely(desk, "report")
    return axle_svg(found, units) if found and desk.job.fitting else ""


def _drive(desk: Desk, one: Drive) -> dict[str, Any]:
    """Return a drive in words: course, speed, load, and its grades by how they are."""
    state = desk.job.state(one.state)
    by_grade = {
        words: [CATEGORIES[key][1] for key, grade in one.grades.items() if grade == name and key in CATEGORIES]
        for name, words in GRADES.items()
    }
    return {
        "one": one,
        "course": COURSES[one.course].words if one.course in COURSES else one.course,
        "state": state.name if state else "as it stood",
        "speed": Quantity(one.speed_kmh / 3.6, "speed") if one.speed_kmh else None,
        "grades": [(words, names) for words, names in by_grade.items() if names],
        "felt": [FELT.get(f, f) for f in one.felt],
    }
