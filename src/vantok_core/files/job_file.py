"""The job file: a whole job as JSON, read with a message that names the faulty field, and solved without any database."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import asdict, replace
from typing import Any

from vantok_core.base.check import read_form
from vantok_core.base.errors import FileFormatError, VantokError
from vantok_core.base.say import Finding
from vantok_core.base.units import System
from vantok_core.facts import Job, Kit
from vantok_core.files.cases.plain import plain
from vantok_core.files.door import read_json
from vantok_core.judge.diagnose.diagnosis import Diagnosis, diagnose
from vantok_core.judge.grounds.shown import StateView
from vantok_core.judge.grounds.unweighed import Unweighed, told, weigh_it
from vantok_core.judge.grounds.working import Working
from vantok_core.judge.measure.checks import check_sheet
from vantok_core.judge.measure.doubts import held_back
from vantok_core.judge.prove.proof import Proof
from vantok_core.judge.prove.proving import prove
from vantok_core.kits.choice import Choice
from vantok_core.kits.choose import shortlist
from vantok_core.kits.registry import checked, own_fields
from vantok_core.kits.staged import at_other_settings, staged
from vantok_core.loads.limits import Margin
from vantok_core.loads.plan import by_load, state_load, state_margins
from vantok_core.model import JobModel, build_model, missing

VERSION: int = Job.model_fields["version"].default


def _from_1(data: dict[str, Any]) -> dict[str, Any]:
    """Version 2 only adds fields (elements, changes, tanks, people, weight-distributing hitch), all of them optional."""
    return data | {"version": 2}


def _from_2(data: dict[str, Any]) -> dict[str, Any]:
    """Version 3 only adds fields (trailer items, tag axle, tyre indices, points, floor, friction), all of them optional."""
    return data | {"version": 3}


def _from_3(data: dict[str, Any]) -> dict[str, Any]:
    """Version 4 keeps the customer's words once, with the job; version 3 kept them with each complaint."""
    told = data.get("complaints")
    if not isinstance(told, list) or not all(isinstance(c, dict) for c in told):
        return data | {"version": 4}
    words = " ".join(str(c["words"]) for c in told if c.get("words"))
    return data | {
        "version": 4,
        "complaints": [{k: v for k, v in c.items() if k != "words"} for c in told],
        "words": words,
    }


def _from_4(data: dict[str, Any]) -> dict[str, Any]:
    """Version 5 only adds fields (what a reading was read at, whether it was read twice, causes ruled out), all of them optional."""
    return data | {"version": 5}


def _from_5(data: dict[str, Any]) -> dict[str, Any]:
    """Version 6 keeps a kit's setting by name; version 5 had a field each for pressures, gaps and spacers, of which spacers rule."""
    fitting = data.get("fitting")
    if not isinstance(fitting, dict):
        return data | {"version": 6}
    told = {name: fitting[name] for name in ("pressure_pa", "gap_m", "spacer_m") if fitting.get(name) is not None}
    if "spacer_m" in told:
        told.pop("gap_m", None)
    kept = {k: v for k, v in fitting.items() if k not in ("pressure_pa", "gap_m", "spacer_m")}
    return data | {"version": 6, "fitting": kept | {"setting": told}}


def _from_6(data: dict[str, Any]) -> dict[str, Any]:
    """Version 7 only adds fields (more on board, never empty, the heights wanted of such a vehicle), all of them optional."""
    return data | {"version": 7}


def _from_7(data: dict[str, Any]) -> dict[str, Any]:
    """Version 8 only adds the kits fitted before the one in hand, none without saying so."""
    return data | {"version": 8}


def _from_8(data: dict[str, Any]) -> dict[str, Any]:
    """Version 9 only adds fields (kits to follow, the quote), all of them optional."""
    return data | {"version": 9}


def _from_9(data: dict[str, Any]) -> dict[str, Any]:
    """Version 10 only adds fields (what a vehicle has of what variants of kits ask for), all of them optional."""
    return data | {"version": 10}


def _from_10(data: dict[str, Any]) -> dict[str, Any]:
    """Version 11 only adds fields (readings not settled, readings repeated), all of them optional."""
    return data | {"version": 11}


def _from_11(data: dict[str, Any]) -> dict[str, Any]:
    """Version 12 only adds fields (when a complaint is felt, the inspection after, tread, alignment, sources), all of them optional."""
    return data | {"version": 12}


def _from_12(data: dict[str, Any]) -> dict[str, Any]:
    """Version 13 only adds checks of a kit's fit that were overruled, none without saying so."""
    return data | {"version": 13}


def _from_17(data: dict[str, Any]) -> dict[str, Any]:
    """Version 18 only adds what the shop had learnt of the vehicle's class, and what was proved to be behind a complaint."""
    return data | {"version": 18}


def _from_18(data: dict[str, Any]) -> dict[str, Any]:
    """Version 19 only adds what the customer signed for."""
    return data | {"version": 19}


def _from_19(data: dict[str, Any]) -> dict[str, Any]:
    """Version 20 only adds what else hangs on the axle to what is looked for."""
    return data | {"version": 20}


def _from_16(data: dict[str, Any]) -> dict[str, Any]:
    """Version 17 only adds fields: heads of fasteners, what alike ones are for, a place that touches and is overruled."""
    return data | {"version": 17}


def _from_15(data: dict[str, Any]) -> dict[str, Any]:
    """Version 16 only adds fields: pressures as found, the rake as an aim, how wide a block holds the windings."""
    return data | {"version": 16}


def _from_14(data: dict[str, Any]) -> dict[str, Any]:
    """Version 15 only adds fields: what a job is for, whether a state was settled, a kit's own ratings, the shop's windows for noses."""
    return data | {"version": 15}


def _from_13(data: dict[str, Any]) -> dict[str, Any]:
    """Version 14 only adds the mark of what can be moved, on nothing without saying so."""
    return data | {"version": 14}


MIGRATIONS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: _from_1,
    2: _from_2,
    3: _from_3,
    4: _from_4,
    5: _from_5,
    6: _from_6,
    7: _from_7,
    8: _from_8,
    9: _from_9,
    10: _from_10,
    11: _from_11,
    12: _from_12,
    13: _from_13,
    14: _from_14,
    15: _from_15,
    16: _from_16,
    17: _from_17,
    18: _from_18,
    19: _from_19,
}
"""From version n to n + 1: a function on the file's dictionary."""


def read_job(text: str) -> Job:
    """Return the job of a file's text.

    Raises FileFormatError naming the place: no JSON, not a job, a version this program does not know, a faulty field.
    """
    data = read_json(text)
    if not isinstance(data, dict) or data.get("format") != "vantok-job":
        raise FileFormatError("format", "this is not a job file: “format” must be “vantok-job”")
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version > VERSION or version < 1:
        raise FileFormatError("version", f"version {version!r} is not known; this program reads 1 to {VERSION}")
    while data["version"] < VERSION:
        data = MIGRATIONS[data["version"]](data)
    job = read_form(Job, _with_own_kit(data), "job")
    if job.fitting is not None:
        checked(job.fitting.kit, "job.fitting.kit")
    for n, part in enumerate(job.earlier):
        checked(part.kit, f"job.earlier.{n}.kit")
    return job


def _with_own_kit(data: dict[str, Any]) -> dict[str, Any]:
    """Return a file's data with its kit rid of the fields that other families once left in it, empty."""
    fitting = data.get("fitting")
    if not isinstance(fitting, dict) or not isinstance(fitting.get("kit"), dict):
        return data
    return data | {"fitting": fitting | {"kit": own_fields(fitting["kit"])}}


def write_job(job: Job) -> str:
    """Return the job as the text of a file."""
    return json.dumps(job.model_dump(mode="json", exclude_none=True), indent=2, ensure_ascii=False) + "\n"


SHOWN = 3
"""Letters of a masked registration or VIN that stay: enough to tell two vehicles of one shop apart."""


def masked(job: Job) -> Job:
    """Return the job with its registration and VIN masked but for their ends, for a file that leaves the shop."""
    v = job.vehicle
    hidden = {
        name: f"…{text[-SHOWN:]}" for name in ("plate", "vin") if (text := getattr(v, name)) and len(text) > SHOWN
    }
    return job.model_copy(update={"vehicle": v.model_copy(update=hidden)})


def job_schema() -> dict[str, Any]:
    """Return the job file's JSON schema."""
    return Job.model_json_schema()


def solve_job(
    job: Job, kits: list[Kit] | None = None, system: System = "metric", *, working: bool = False
) -> dict[str, Any]:
    """Return all results of a job as plain dictionaries: what is missing, loads, diagnosis, choices, proof.

    A part that cannot be worked out says why under "error" instead of failing the rest.
    """
    job = by_load(job)
    sheet = check_sheet(job)
    found: dict[str, Any] = {
        "number": job.number,
        "missing": [asdict(m) for m in missing(job)],
        "loads": {s.key: _loads(job, s.key) for s in job.states},
        "sheet": [_finding(f, system) for f in sheet],
    }
    try:
        model = build_model(job)
    except VantokError as error:
        return found | {"diagnosis": {"error": str(error)}}
    found["diagnosis"] = _or_error(lambda: _diagnosis(_held(job, diagnose(model), sheet), system, working))
    shelf = kits or ([job.fitting.kit] if job.fitting else [])
    found["choices"] = _or_error(lambda: _choices(staged(model), shelf, system))
    if job.fitting is not None:
        found["proof"] = _or_error(lambda: _proof(_held(job, prove(at_other_settings(staged(model))), sheet), system))
    for count, part in enumerate(job.earlier, 1):
        before = model.for_job(job.as_of(count))
        found.setdefault("earlier", []).append(
            {
                "kit": part.kit.name,
                "proof": _or_error(lambda b=before: _proof(prove(at_other_settings(staged(b))), system)),
            }
        )
    return found


def _held(job: Job, found: Any, sheet: list[Finding]) -> Any:
    """Return a diagnosis or a proof with its sentence held back where the sheet is doubtful."""
    return found and replace(found, verdict=held_back(job, found.verdict, sheet))


def _or_error(call: Any) -> Any:
    try:
        return call()
    except VantokError as error:
        return {"error": str(error)}


def _loads(job: Job, key: str) -> Any:
    state = job.state(key)
    assert state is not None
    load = state_load(job, state)
    return plain(load) | {"margins": [_margin(m) for m in state_margins(job, state)]}


def _margin(margin: Margin) -> dict[str, Any]:
    return {
        "limit": margin.name,
        "limit_kg": margin.limit,
        "load_kg": margin.load,
        "margin_kg": margin.margin,
        "over": margin.over,
    }


def _finding(finding: Finding, system: System) -> dict[str, str]:
    return {
        "key": finding.key,
        "tone": finding.tone,
        "what": finding.what.in_units(system),
        "do": finding.do.in_units(system),
    }


def _diagnosis(found: Diagnosis, system: System, working: bool) -> dict[str, Any]:
    return {
        "verdict": found.verdict.in_units(system),
        "tone": found.verdict.tone,
        "datum": found.datum,
        "assumed": list(found.assumed),
        "rates": [plain(r) for r in found.rates],
        "findings": [_finding(f, system) for f in found.findings],
        "states": {view.state.key: _view(view, system, working) for view in found.views},
        "by_tape_alone": {
            t.state.key: {"why": t.why, "sag_m": dict(t.sag), "stop_gap_m": dict(t.stop_gap)} for t in found.tapes
        },
        "off_springs": {one.state.key: _off_springs(one, system) for one in found.unweighed},
        "restore": [_working(w, system) for w in found.restore],
    }


def _off_springs(one: Unweighed, system: System) -> dict[str, Any]:
    """Return what the springs tell of a load nobody weighed, and of its limits (kg; bands of 90 %)."""
    return {
        "told": told(one).in_units(system),
        "limits": weigh_it(one).in_units(system),
        "more_on_board": plain(one.read) if one.read is not None else None,
        "gain_kg": {part: {"value": value, "sigma": sigma} for part, (value, sigma) in one.gain.items()},
        "margins": {key: plain(margin) for key, margin in one.margins.items()},
    }


def _view(view: StateView, system: System, working: bool) -> dict[str, Any]:
    shown = {
        "sag_m": dict(view.sag),
        "rake_m": view.rake,
        "rake_change_m": view.rake_change,
        "front_rise_m": view.front_rise,
        "lean_m": view.lean,
        "stop_gap_m": dict(view.stop_gap),
        "headlamp_rise_m": view.beam.value if view.beam else None,
        "front_share_lost": view.front_lost,
        "frequency_hz": dict(view.frequency),
        "model": plain(view.report),
    }
    if working:
        shown["working"] = [_working(w, system) for w in view.workings]
    return shown


def _working(working: Working, system: System) -> dict[str, Any]:
    return {
        "title": working.title,
        "formula": working.words,
        "source": working.source,
        "figures": {label: q.in_units(system) for label, q in working.figures},
        "result": working.result.in_units(system),
    }


def _choices(model: JobModel, kits: list[Kit], system: System) -> dict[str, Any]:
    found = shortlist(model, kits)
    return {
        "target_drop_m": found.target.drop,
        "target": found.target.reason.in_units(system),
        "recommended": found.recommended,
        "reason": found.reason.in_units(system),
        "over": [s.in_units(system) for s in found.over],
        "choices": [_choice(c, system) for c in found.choices],
    }


def _choice(choice: Choice, system: System) -> dict[str, Any]:
    return {
        "key": choice.key,
        "name": choice.name,
        "out": [s.in_units(system) for s in choice.out],
        "notes": [s.in_units(system) for s in choice.notes],
        "score": choice.score,
        "miss_m": choice.miss,
        "setting": dict(choice.setting),
        "rear_drop_loaded_m": None if choice.loaded is None else float(choice.loaded.d_r),
        "rear_drop_empty_m": None if choice.empty is None else float(choice.empty.d_r),
        "checks": [{"check": c.words, "status": c.status, "why": c.why.in_units(system)} for c in choice.checks],
    }


def _proof(proof: Proof | None, system: System) -> dict[str, Any] | None:
    return (
        None
        if proof is None
        else {
            "verdict": proof.verdict.in_units(system),
            "inside": proof.inside,
            "causes": [c.words for c in (w.cause for w in proof.causes)],
            "open": [c.words for c in proof.open],
            "rows": {
                key: [plain(r) | {"miss": r.miss, "inside": r.inside} for r in rows] for key, rows in proof.rows.items()
            },
        }
    )
