"""What a practice job's pages know of the bay: how the vehicle stands, what can be done here, what was answered."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.http import HttpRequest
from django.utils.functional import SimpleLazyObject

from vantok.desk.load import SPOKEN_OF, Desk
from vantok.desk.practising import acts_of, case_of
from vantok.practice.own import JOBS
from vantok.practice.written import WRITES
from vantok.records.practice.models import Done, Run
from vantok_core.base.names import DATUMS
from vantok_core.base.names import PLACES as PLACE_WORDS
from vantok_core.base.say import Quantity, length, mass
from vantok_core.judge.listen.inspect import AREAS
from vantok_core.practice.bay.case import CAUSES, DEEDS, Case
from vantok_core.practice.bay.difference import difference
from vantok_core.practice.bay.run import Act, standing_after

SHOWN = 2
"""Answers that stand open in the panel; the rest fold."""
TAPES = ("ground_arch", "hub_arch", "stop_gap", "pad_to_pad", "ground_hitch")
"""Where a tape is held in the bay."""
AT: dict[str, tuple[str, ...]] = {
    "listen": ("ask",),
    "inspect": ("look", "repair"),
    "vehicle": ("plate", "hang"),
    "weigh": ("load", "weigh", "tongue"),
    "measure": ("load", "settle", "turn", "tape"),
    "choose": (),
    "fit": ("fit", "repair"),
    "set": ("fit",),
    "prove": ("load", "settle", "turn", "tape", "drive", "log"),
}
"""What can be done at which page."""
OF_PAGE = {
    **dict.fromkeys(("scales", "trailer", "limits", "zones", "across", "tyres", "coach", "envelope"), "weigh"),
    **dict.fromkeys(("walk", "paste", "condition", "by-photo", "by-phone"), "measure"),
    **dict.fromkeys(("drive", "leak", "traces", "clear", "films"), "prove"),
    **dict.fromkeys(("beside", "tradeoff", "road", "quote"), "choose"),
    **dict.fromkeys(("card", "fails"), "set"),
    "assumptions": "diagnose",
}
"""Which stage a page is of, where it is not its own."""
ACT_WORDS = {
    "load": "Load it as",
    "settle": "Roll and bounce it",
    "turn": "Turn it round in the bay",
    "tape": "Hold the tape",
    "weigh": "Put it on four pads",
    "tongue": "Weigh the tongue",
    "hang": "Hang a rear wheel and read how far it goes down",
    "plate": "Read the plates",
    "look": "Look at",
    "ask": "Ask",
    "drive": "Drive it with its owner",
    "log": "Log a drive",
    "repair": "Have made good",
    "fit": "Fit it, set as it stands in the job",
}


def bay(request: HttpRequest) -> dict[str, Any]:
    """Return the bay of a practice job's page, looked up only where a page shows it."""
    found = request.resolver_match
    if found is None or not found.route.startswith(JOBS):
        return {}
    return {"bay": SimpleLazyObject(lambda: of_page(request))}


def of_page(request: HttpRequest) -> dict[str, Any]:
    """Return what the panel of a page shows."""
    found = request.resolver_match
    assert found is not None
    run = Run.objects.select_related("job").filter(job_id=found.kwargs["pk"]).first()
    if run is None:
        return {}
    page = OF_PAGE.get(found.url_name or "", found.url_name or "")
    case, acts, rows = case_of(run.code), acts_of(run), list(run.acts.all())
    desk, standing = Desk.look(run.job_id), standing_after(case, acts)
    states = {s.key: s.name for s in case.told.states}
    own = run.person_id == request.user.pk
    return {
        "run": run,
        "case": case,
        "own": own and run.handed_in is None,
        "minutes": sum(a.minutes for a in acts),
        "cost": _cost(desk, acts),
        "load": states.get(standing.state, ""),
        "standing": standing,
        "acts": [_act(kind, case, run, desk) for kind in AT.get(page, ())] if own else [],
        "answers": [shown(row, states) for row in reversed(rows) if row.answer],
        "open": SHOWN,
        "page": page,
        "back": request.get_full_path(),
        **_said(run, page, desk),
    }


def _said(run: Run, page: str, desk: Desk) -> dict[str, Any]:
    """Return what the trainee said at a page and how the tool holds otherwise, or what is to be said first."""
    spoken = SPOKEN_OF.get(page, page)
    finding = run.findings.filter(stage=spoken).first()
    structured = spoken == "diagnose"
    first = desk.silent.get(page) and run.mode == "after"
    return {
        "speaks": spoken if first or (structured and finding is None and page == "diagnose") else "",
        "structured": structured,
        "finding": finding,
        "causes": CAUSES,
        "deeds": DEEDS,
        "difference": _difference(desk, finding) if structured and run.mode != "off" else (),
    }


def _cost(desk: Desk, acts: tuple[Act, ...]) -> float:
    """Return what it has cost so far: the shop's hours, and the kits that went on, in its currency."""
    on = {a.what for a in acts if a.kind == "fit"}
    kits = sum(p.kit.price for p in desk.facts.job.parts if p.kit.code in on)
    return sum(a.minutes for a in acts) / 60.0 * desk.job.hour_price + kits


def _difference(desk: Desk, finding: Any) -> tuple[Any, ...]:
    return difference(desk.job, desk.diagnosis, finding.to_core()) if finding is not None else ()


def _act(kind: str, case: Case, run: Run, desk: Desk) -> dict[str, Any]:
    """Return an act as its form shows it: words, and what it can be done about."""
    options: dict[str, str] = {}
    if kind == "load":
        options = {s.key: s.name for s in case.told.states}
    elif kind == "tape":
        options = {name: DATUMS[name].words for name in TAPES}
    elif kind == "ask":
        options = {question: question for question in case.answers}
    elif kind == "look":
        options = {key: area.words for key, area in AREAS.items()}
    elif kind == "repair":
        found = run.acts.filter(kind="look").exclude(answer__grade="fine")
        options = {row.what: AREAS[row.what].words.split(":")[0] for row in found}
    elif kind == "fit":
        on = set(run.acts.filter(kind="fit").values_list("what", flat=True))
        options = {p.kit.code: p.kit.name for p in desk.facts.job.parts if p.kit.code not in on}
    needs = kind in ("load", "tape", "ask", "look", "repair", "fit")
    return {
        "kind": kind,
        "words": ACT_WORDS[kind],
        "options": options,
        "needs": needs,
        "shown": bool(options) or not needs,
    }


RATING_WORDS = {
    "front_axle_kg": "front axle",
    "rear_axle_kg": "rear axle",
    "gross_kg": "gross",
    "hitch_kg": "hitch",
    "towed_kg": "towed",
}
NAMES = {
    "plate": "plates",
    "hang": "hanging rear wheel",
    "weigh": "pads",
    "tongue": "tongue scale",
    "drive": "drive",
    "log": "log of a drive",
    "fit": "fitting",
}
"""What an answer is about, where it is not about one thing of several."""
IN_A_LOAD = ("tape", "weigh", "tongue", "drive", "log")
"""Kinds of answer that hold in the load they were got in alone."""


def about(row: Done) -> str:
    """Return what an answer is about, in words."""
    if row.what in AREAS:
        return AREAS[row.what].words.split(":")[0]
    return DATUMS[row.what].words if row.what in DATUMS else NAMES.get(row.kind, row.what)


def shown(row: Done, states: Mapping[str, str]) -> dict[str, Any]:
    """Return an answer as the panel shows it: about what, in which load (states: their names by key), its words, its figures."""
    told: list[tuple[str, Quantity]] = []
    answer = row.answer
    for place, value in answer.get("places", {}).items():
        told.append((PLACE_WORDS.get(place, place), length(value)))
    for place, kg in answer.get("pads", {}).items():
        told.append((PLACE_WORDS.get(place, place), mass(kg)))
    for name, kg in answer.get("ratings", {}).items():
        told.append((RATING_WORDS.get(name, name), mass(kg)))
    if "tongue_kg" in answer:
        told.append(("presses with", mass(answer["tongue_kg"])))
    if "droop_m" in answer:
        told.append(("goes down by", length(answer["droop_m"])))
    return {
        "row": row,
        "load": states.get(row.state, "") if row.kind in IN_A_LOAD else "",
        "about": about(row),
        "told": told,
        "words": answer.get("words", ""),
        "metric": answer.get("metric", ""),
        "us": answer.get("us", ""),
        "log": "rows" in answer,
        "writes": row.kind in WRITES,
    }
