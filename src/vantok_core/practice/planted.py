"""Planted jobs: each with a known answer, and what has to be said of it, and what must not, written by hand before it was run.

What is said is asked of every stage. All vehicles are invented.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from vantok_core.base.errors import VantokError
from vantok_core.base.say import Finding, Say, Verdict
from vantok_core.facts import (
    Fitting,
    Job,
    JobReading,
    JobState,
    JobVehicle,
    Kit,
)
from vantok_core.judge.diagnose.diagnosis import Diagnosis, diagnose
from vantok_core.judge.hand_over.open_points import open_points
from vantok_core.judge.measure.catches import catches
from vantok_core.judge.measure.checks import check_sheet
from vantok_core.judge.measure.doubts import held_back
from vantok_core.judge.prove.proving import prove
from vantok_core.judge.verdicts import choose_verdict, sheet_verdict
from vantok_core.judge.weigh.loads import loads_verdict
from vantok_core.kits.choose import shortlist
from vantok_core.kits.fit import with_kit
from vantok_core.kits.staged import at_other_settings, staged
from vantok_core.model import build_model
from vantok_core.physics.stance.report import report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import CORNERS, Vehicle
from vantok_core.practice.life import bellows

STAGES = ("weigh", "measure", "diagnose", "choose", "prove")
HEIGHTS = {"FL": 0.865, "FR": 0.866, "RL": 0.900, "RR": 0.898}


@dataclass(frozen=True, slots=True, kw_only=True)
class Expected:
    """What a stage has to say: its tone (empty: any), parts of its sentence that are there, and parts that are not (regular expressions)."""

    tone: str = ""
    says: tuple[str, ...] = ()
    never: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Planted:
    """A planted job: its key, what is so of it, and what each stage has to say; every: what no stage may say."""

    key: str
    truth: str
    job: Job
    expects: Mapping[str, Expected]
    every: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Said:
    """All that is said of a job: a verdict a stage, the findings of sheet and diagnosis, what is open at hand-over."""

    verdicts: Mapping[str, Verdict]
    sheet: tuple[Finding, ...] = ()
    findings: tuple[Finding, ...] = ()
    open: tuple[Say, ...] = ()
    diagnosis: Diagnosis | None = None


def said_of(job: Job, shelf: Sequence[Kit] = ()) -> Said:
    """Return all that is said of a job, stage by stage, as its pages would say it."""
    verdicts = {"weigh": loads_verdict(job)}
    try:
        model = build_model(job)
    except VantokError:
        return Said(verdicts=verdicts, sheet=tuple(check_sheet(job)), open=tuple(open_points(job, None)))
    found = diagnose(model)
    verdicts["weigh"] = loads_verdict(job, found.unweighed)
    sheet = [*check_sheet(job, model), *catches(job, model)]
    verdicts["measure"] = sheet_verdict(job, sheet, found)
    verdicts["diagnose"] = found.verdict
    choices = _or_none(lambda: shortlist(staged(model), list(shelf) or [bellows()]))
    if choices is not None:
        verdicts["choose"] = choose_verdict(job, choices, found.unweighed)
    proof = _or_none(lambda: prove(at_other_settings(staged(model)))) if job.fitting else None
    if proof is not None:
        verdicts["prove"] = proof.verdict
    held = {
        stage: said if stage in ("weigh", "measure") else held_back(job, said, sheet)
        for stage, said in verdicts.items()
    }
    return Said(
        verdicts=held,
        sheet=tuple(sheet),
        findings=found.findings,
        open=tuple(open_points(job, proof, unweighed=found.unweighed)),
        diagnosis=found,
    )


def _or_none(call: Any) -> Any:
    try:
        return call()
    except VantokError:
        return None


def vehicle(**more: Any) -> JobVehicle:
    """Return a half-ton pickup on leaves, its plate read."""
    plain: dict[str, Any] = {
        "body": "pickup",
        "wheelbase_m": 3.4,
        "hitch_overhang_m": 1.2,
        "track_front_m": 1.68,
        "track_rear_m": 1.68,
        "front_spring": "coil_independent",
        "rear_spring": "leaf_solid",
        "tyres": "light_truck",
        "gross_kg": 2900.0,
        "front_axle_kg": 1500.0,
        "rear_axle_kg": 1650.0,
        "hitch_kg": 320.0,
        "towed_kg": 3000.0,
        "combination_kg": 5600.0,
    }
    return JobVehicle(**(plain | more))


def state(key: str = "loaded", **more: Any) -> JobState:
    """Return a loaded state."""
    return JobState(key=key, name=key.capitalize(), **more)


EMPTY = JobState(key="empty", name="Empty", empty=True, front_kg=1080, rear_kg=770)


def rows(
    heights: Mapping[str, Mapping[str, float]], phase: str = "before", setting: str = ""
) -> tuple[JobReading, ...]:
    """Return readings of arches by state and corner (m)."""
    return tuple(
        JobReading(state=s, place=c, value_m=round(h, 3), datum="ground_arch", phase=phase, setting=setting)  # type: ignore[arg-type]
        for s, row in heights.items()
        for c, h in row.items()
    )


def gaps(left: float = 0.095, right: float = 0.095) -> tuple[JobReading, ...]:
    """Return rear stop gaps of the empty vehicle; left, right: m."""
    return tuple(
        JobReading(state="empty", place=c, value_m=v, datum="stop_gap") for c, v in (("RL", left), ("RR", right))
    )


def solved_rows(job: Job, truth: Vehicle, phase: str = "before", setting: str = "") -> tuple[JobReading, ...]:
    """Return every state's corners as that vehicle stands, to the millimetre."""
    model = build_model(job.model_copy(update={"readings": tuple(r for r in job.readings if r.datum != "ground_arch")}))
    solved = solve_states(truth, list(model.states.values()), check_limits=False)
    return rows(
        {k: {c: HEIGHTS[c] - float(report(truth, one).ground_drop[c]) for c in CORNERS} for k, one in solved.items()},
        phase,
        setting,
    )


def measured(
    states: Sequence[JobState], *, softer: float = 1.0, of: JobVehicle | None = None, more: Sequence[JobReading] = ()
) -> Job:
    """Return a job of some states, read as a vehicle stands whose rear springs are so many times their class's (a ratio)."""
    job = Job(number="P-1", vehicle=of or vehicle(), states=tuple(states), readings=tuple(more))
    return job.model_copy(update={"readings": (*job.readings, *solved_rows(job, truth_of(job, softer)))})


def truth_of(job: Job, softer: float = 1.0) -> Vehicle:
    """Return a job's vehicle with rear springs so many times their class's (a ratio)."""
    prior = build_model(
        job.model_copy(update={"readings": tuple(r for r in job.readings if r.datum == "stop_gap")})
    ).prior
    spring = replace(prior.rear.spring, k=float(prior.rear.spring.k) * softer, k2=float(prior.rear.spring.k2) * softer)
    return replace(prior, rear=replace(prior.rear, spring=spring))


def fitted(
    base: Job,
    strength: float,
    pressure: float,
    target: float | None = None,
    *,
    done: bool = True,
    read: bool = True,
) -> Job:
    """Return a job with bags on, really so many times as strong as their data (a ratio), set to a pressure (Pa; target: share of the sag
    to take out) and read in every state."""
    kit = bellows()
    pads = tuple(JobReading(state="empty", datum="pad_to_pad", place=c, value_m=0.165) for c in ("RL", "RR"))
    fitting = Fitting(kit=kit, setting={"pressure_pa": (pressure, pressure)}, state="loaded", done=done)
    job = base.model_copy(update={"readings": (*base.readings, *pads), "fitting": fitting})
    if target is not None:
        job = job.model_copy(
            update={"target": job.target.model_copy(update={"school": "share_of_sag", "share": target})}
        )
    if not read:
        return job
    really = with_kit(job, truth_of(base), bellows(strength), {"pressure_pa": (pressure, pressure)}, state="loaded")
    return job.model_copy(
        update={
            "readings": (
                *job.readings,
                *solved_rows(job.model_copy(update={"fitting": None}), really, "after", job.mark),
            )
        }
    )
