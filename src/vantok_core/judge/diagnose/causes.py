"""From complaint to cause: how likely each usual cause is by what was found, and the test that tells most for its minutes.

Odds: `p_i = w_i prod f / sum`, with `w_i` how often a cause is behind the complaint, `f` a factor for each kind of evidence, and something else at a
weight of its own, so that no list claims to be whole. A test is worth the bits it is expected to take off what is not known, by its minutes.
Source: Bayes's rule and Shannon's information, own weights in `data/causes.json`, which the lead may put the shop's own in place of.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from math import log2
from pathlib import Path
from typing import Any

from vantok_core.aims.complaints import COMPLAINTS
from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Complaint, Job
from vantok_core.judge.diagnose.diagnosis import Diagnosis, lost_surely
from vantok_core.judge.diagnose.thresholds import FRONT_LOST, LITTLE_TRAVEL, MOST_WEIGHT, UNLIKE_PRESSURES
from vantok_core.judge.grounds.lead import noses_said
from vantok_core.judge.grounds.shown import StateView
from vantok_core.judge.listen.inspect import AREAS, tells_of
from vantok_core.kits.registry import family_of
from vantok_core.loads.nose import nose_of, noses
from vantok_core.loads.plan import state_load
from vantok_core.physics.vehicle import AxleName
from vantok_core.upkeep.learning import cause_shares

DATA = Path(__file__).parent / "data" / "causes.json"
OWN = {"usual": (0.0, MOST_WEIGHT), "minutes": (1.0, 480.0), "evidence": (0.01, MOST_WEIGHT)}
"""What of the table a shop may put its own in place of, and between which figures."""
EVIDENCE = {
    "limit": "a limit passed",
    "found": "a finding for it",
    "not_found": "looked for, not found",
    "fault": "its part at fault",
    "watch": "its part to watch",
    "fine": "its parts found fine",
    "told": "felt as it would be",
    "told_against": "felt the other way",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause:
    """A likely cause of a complaint: its key and words, how likely (0 to 1), evidence for and against in words, the test that tells."""

    complaint: str
    key: str
    words: str
    chance: float
    speaks_for: tuple[Say, ...]
    speaks_against: tuple[Say, ...]
    test: str


@dataclass(frozen=True, slots=True, kw_only=True)
class NextTest:
    """A test worth making for a complaint: its words, the sheet its result goes on, minutes, and the bits it is expected to tell."""

    key: str
    words: str
    at: str
    minutes: float
    bits: float

    @property
    def rate(self) -> float:
        """Bits by the minute."""
        return self.bits / self.minutes


@dataclass(frozen=True, slots=True, kw_only=True)
class Likely:
    """What may be behind one complaint: its causes, likeliest first; how likely it is something else; the tests, what tells most by the minute first."""

    complaint: Complaint
    causes: tuple[Cause, ...]
    other: float
    tests: tuple[NextTest, ...]


@cache
def table() -> Mapping[str, Any]:
    """Return the table of causes and tests as it comes."""
    found: Mapping[str, Any] = json.loads(DATA.read_text(encoding="utf-8"))
    return found


def with_own(own: Mapping[str, Mapping[str, float]]) -> Mapping[str, Any]:
    """Return the table with a shop's own figures in place (see `OWN`). Raises InputError naming a figure that cannot be, or is not in it."""
    told = table()
    causes = {key: dict(one) for key, one in told["causes"].items()}
    tests = {key: dict(one) for key, one in told["tests"].items()}
    evidence: dict[str, Any] = dict(told["evidence"])
    tables: tuple[tuple[str, dict[str, Any], str], ...] = (
        ("usual", causes, "usual"),
        ("minutes", tests, "minutes"),
        ("evidence", evidence, ""),
    )
    for kind, held, name in tables:
        low, high = OWN[kind]
        for key, value in own.get(kind, {}).items():
            if key not in held:
                raise InputError(f"{kind}.{key}", value, "there is no such line in the table")
            if not low <= value <= high:
                raise InputError(f"{kind}.{key}", value, f"between {low:g} and {high:g}")
            if name:
                held[key][name] = value
            else:
                held[key] = value
    return dict(told) | {"causes": causes, "tests": tests, "evidence": evidence}


def likely_causes(
    job: Job,
    diagnosis: Diagnosis | None,
    told: Mapping[str, Any] | None = None,
    proved: Mapping[str, Mapping[str, int]] | None = None,
) -> list[Likely]:
    """Return what may be behind each complaint (told: the table, with a shop's own figures where it has them; proved: how often each cause was behind it
    here, by complaint); without a diagnosis by inspection and words alone."""
    told, evidence = _for(job, told or table()), _evidence(diagnosis) | _of_nose(job) | _of_bags(job)
    known = _knowable(job, diagnosis.main) | set(evidence) if diagnosis and diagnosis.main else set(evidence)
    if any(nose_of(job, state) for state in job.states):
        known.add("nose")
    if job.already is not None and job.already.found_pa is not None:
        known.add("bags")
    grades = {one.area: one.grade for one in job.inspection}
    return [
        _likely(one, with_proved(told, one.code, (proved or {}).get(one.code, {})), evidence, known, grades)
        for one in job.complaints
        if one.code in COMPLAINTS
    ]


def areas_to_look_at(job: Job, told: Mapping[str, Any] | None = None) -> tuple[str, ...]:
    """Return the inspection's areas that may be behind what was complained of, the usual cause first. told: the table, with a shop's own figures."""
    causes = _for(job, told or table())["causes"]
    named = [
        causes[key]
        for one in job.complaints
        if one.code in COMPLAINTS
        for key in COMPLAINTS[one.code].causes
        if key in causes
    ]
    order = sorted(named, key=lambda cause: -float(cause["usual"]))
    return tuple(dict.fromkeys(area for cause in order for area in cause.get("areas", ())))


ELSE = "something_else"


def with_proved(told: Mapping[str, Any], complaint: str, proved: Mapping[str, int]) -> Mapping[str, Any]:
    """Return the table with the usual weights of a complaint's causes as the shop's own proved cases leave them.

    The weights as they come count as twenty cases (`upkeep.learning.cause_shares`). Source: method section 22.
    """
    keys = [key for key in COMPLAINTS[complaint].causes if key in told["causes"]]
    cases = {key: n for key, n in proved.items() if key in keys and n > 0}
    if not cases:
        return told
    weights = {key: float(told["causes"][key]["usual"]) for key in keys} | {ELSE: float(told[ELSE])}
    whole = sum(weights.values())
    shares = {key: share * whole for key, (share, _) in cause_shares(weights, cases).items()}
    causes = {key: one | {"usual": shares[key]} if key in keys else one for key, one in told["causes"].items()}
    return dict(told) | {"causes": causes, ELSE: shares[ELSE]}


def _of_nose(job: Job) -> dict[str, Say]:
    """Return that a trailer's nose is too light, where it is."""
    said = noses_said(job)
    return {"nose": said[0]} if said and noses(job)[0].word != "heavy" else {}


def _of_bags(job: Job) -> dict[str, Say]:
    """Return that the air springs that were on came with unlike pressures, where they did."""
    found = job.already.found_pa if job.already is not None else None
    if found is None or abs(found[0] - found[1]) <= UNLIKE_PRESSURES:
        return {}
    values = {side: Quantity(p, "pressure") for side, p in zip(("left", "right"), found, strict=True)}
    return {"bags": Say("The air springs came with {left} left and {right} right.", values)}


def _for(job: Job, told: Mapping[str, Any]) -> Mapping[str, Any]:
    """Return the table with only those areas under a cause that tell of it on this vehicle: of one axle's springs those of its kind, found there."""
    where = {one.area: {zone[0] for zone in one.where} for one in job.inspection}

    def kept(cause: Mapping[str, Any]) -> Mapping[str, Any]:
        axle: AxleName | None = cause.get("axle")
        if axle is None:
            return cause
        there = [
            area
            for area in cause.get("areas", ())
            if tells_of(area, job, axle) and (not where.get(area) or axle[0].upper() in where[area])
        ]
        return dict(cause) | {"areas": there}

    air = has_air(job)
    there = {key: kept(cause) for key, cause in told["causes"].items() if air or not cause.get("air")}
    return dict(told) | {"causes": there}


def has_air(job: Job) -> bool:
    """Tell whether any air spring is on a vehicle, as far as anybody said."""
    fitted = any(one.kind == "bags" and one.fitted in ("factory", "later", "perished") for one in job.vehicle.equipment)
    return fitted or job.already is not None or any(family_of(part.kit).sealed for part in job.parts)


def _evidence(diagnosis: Diagnosis | None) -> dict[str, Say]:
    """Return what was found, by its key."""
    if diagnosis is None:
        return {}
    evidence = {f.key: f.what for f in diagnosis.findings}
    little = [axle for axle, share in diagnosis.main.travel.items() if share < LITTLE_TRAVEL] if diagnosis.main else []
    told = [evidence[f"travel-{axle}"] for axle in little if f"travel-{axle}" in evidence]
    if told:
        evidence["little-travel"] = told[0]
    lost = lost_surely(diagnosis.main, diagnosis.unweighed) if diagnosis.main else None
    if lost is not None and lost > FRONT_LOST:
        least = "at least " if diagnosis.main and diagnosis.off_springs(diagnosis.main.state.key) else ""
        evidence["front-lost"] = Say(
            "The front axle has lost {least}{lost} of its load.", {"lost": Quantity(lost, "percent"), "least": least}
        )
    return evidence


def _knowable(job: Job, view: StateView) -> set[str]:
    """Return the findings that would be there if they were so: only of these does it tell that they are not.
    A plan alone tells of no limit that it is held."""
    weighed = state_load(job, view.state).basis in ("scale", "moved")
    found = {f"over-{m.key}" for m in view.margins if m.margin is not None and weighed}
    found |= {f"{name.replace(' ', '-')}" for name in view.angles}
    if (
        view.travel and min(view.travel.values()) >= LITTLE_TRAVEL
    ):  # one that stands close at rest may well strike on the road
        found |= {f"stop-{axle}" for axle in view.travel} | {"little-travel"}
    for key, known in (
        ("front-light", view.front_lost),
        ("front-lost", view.front_lost),
        ("nose-up", view.rake),
        ("lean", view.lean),
        ("lamps", view.beam),
        ("pitching", view.ratio if view.rides else None),
    ):
        if known is not None:
            found.add(key)
    return found


def _likely(
    complaint: Complaint,
    told: Mapping[str, Any],
    evidence: Mapping[str, Say],
    known: set[str],
    grades: Mapping[str, str],
) -> Likely:
    weighed = [
        (key, *_weighed(told["causes"][key], complaint, told["evidence"], evidence, known, grades))
        for key in COMPLAINTS[complaint.code].causes
        if key in told["causes"]
    ]
    other = float(told["something_else"])
    whole = other + sum(weight for _, weight, _, _ in weighed)
    causes = [
        Cause(
            complaint=complaint.code,
            key=key,
            words=told["causes"][key]["words"],
            chance=weight / whole,
            speaks_for=tuple(speaks),
            speaks_against=tuple(against),
            test=told["tests"][told["causes"][key]["test"]]["words"],
        )
        for key, weight, speaks, against in weighed
    ]
    causes.sort(key=lambda c: -c.chance)
    made = {told["causes"][c]["test"] for c in told["causes"] if _answered(told["causes"][c], known, grades)}
    chances = {c.key: c.chance for c in causes}
    tests = [
        NextTest(
            key=key,
            words=test["words"],
            at=test["at"],
            minutes=test["minutes"],
            bits=information(chances, other / whole, test["tells"], test["false"]),
        )
        for key, test in told["tests"].items()
        if key not in made and any(c in chances for c in test["tells"])
    ]
    return Likely(
        complaint=complaint,
        causes=tuple(causes),
        other=other / whole,
        tests=tuple(sorted(tests, key=lambda t: -t.rate)),
    )


RATED_SELDOM = ("over-rear_tyres", "over-front_tyres")
"""Limits that few jobs enter: that they are lacking keeps no test from being made."""


def _answered(cause: Mapping[str, Any], known: set[str], grades: Mapping[str, str]) -> bool:
    """Tell whether all that would speak for or against a cause has been looked at: its test would tell nothing new."""
    findings, areas = cause.get("findings", ()), cause.get("areas", ())
    told = [key in known for key in findings if key not in RATED_SELDOM] + [area in grades for area in areas]
    return bool(told) and all(told)


def _weighed(
    cause: Mapping[str, Any],
    complaint: Complaint,
    factor: Mapping[str, float],
    evidence: Mapping[str, Say],
    known: set[str],
    grades: Mapping[str, str],
) -> tuple[float, list[Say], list[Say]]:
    """Return a cause's weight with what speaks for and against it."""
    graded = [
        (AREAS[area].words.split(":")[0].capitalize(), grades[area])
        for area in cause.get("areas", ())
        if area in grades
    ]
    there = [key for key in cause.get("findings", ()) if key in evidence]
    felt, other = _felt(cause, complaint)
    speaks = [evidence[key] for key in there] + _said(graded, ("fault", "watch"))
    speaks += [Say("Felt {felt}, as it would be.", {"felt": felt})] if felt else []
    against = _said(graded, ("fine",)) + ([Say("Felt {other}.", {"other": other})] if other else [])
    found = _of_findings(cause.get("findings", ()), there, known, factor)
    if not there and found < 1.0:
        against.append(Say("Of what was read, nothing speaks for it."))
    weight = float(cause["usual"]) * found * _of_areas([grades.get(a) for a in cause.get("areas", ())], factor)
    weight *= (factor["told"] if felt else 1.0) * (factor["told_against"] if other else 1.0)
    return weight, speaks, against


def _said(graded: Sequence[tuple[str, str]], wanted: Sequence[str]) -> list[Say]:
    return [
        Say("{name} {graded}.", {"name": name, "graded": GRADED[grade]}) for name, grade in graded if grade in wanted
    ]


GRADED = {"fault": "found at fault", "watch": "to watch", "fine": "found fine"}


def _of_findings(findings: Sequence[str], there: Sequence[str], known: set[str], factor: Mapping[str, float]) -> float:
    """Return what the readings make of a cause's weight: findings that say the same count once, the strongest; none only as far as they could be told."""
    if there:
        return factor["limit"] if any(key.startswith("over-") for key in there) else factor["found"]
    looked = sum(key in known for key in findings)
    return float(factor["not_found"] ** (looked / len(findings))) if findings else 1.0


def _of_areas(graded: Iterable[str | None], factor: Mapping[str, float]) -> float:
    """Return what the inspection of a cause's parts makes of its weight: the worst grade counts; fine only as far as they were looked at."""
    told = list(graded)
    if "fault" in told:
        return factor["fault"]
    if "watch" in told:
        return factor["watch"]
    return float(factor["fine"] ** (told.count("fine") / len(told))) if told else 1.0


WITH_WORDS = {"any": "with any load", "empty": "empty", "loaded": "loaded", "hitched": "with the trailer on"}
ROAD_WORDS = {
    "smooth": "on smooth road",
    "bumps": "on bumps",
    "ruts": "in ruts",
    "bends": "in bends",
    "motorway": "on the motorway",
    "off_road": "off the road",
}


def _felt(cause: Mapping[str, Any], complaint: Complaint) -> tuple[str, str]:
    """Return how the complaint is felt that speaks for a cause, and that speaks against it, in words (empty: neither)."""
    felt = []
    if complaint.load and complaint.load in cause.get("load", ()):
        felt.append(WITH_WORDS[complaint.load])
    if complaint.road and complaint.road in cause.get("road", ()):
        felt.append(ROAD_WORDS[complaint.road])
    other = WITH_WORDS[complaint.load] if complaint.load and complaint.load in cause.get("not_load", ()) else ""
    return " and ".join(felt), f"{other} too" if other else ""


def information(chances: Mapping[str, float], other: float, tells: Mapping[str, float], false: float) -> float:
    """Return the bits a test is expected to tell about what is behind a complaint.

    Formula: `H(p) - sum_r P(r) H(p | r)` over its two results, `P(yes | cause)` being `tells` of it, `false` of any other. Arguments: chances: each
    cause's share, other: that of something else, one together; tells, false: each a share. Source: Shannon.
    """
    prior = [*chances.values(), other]
    says = [*(tells.get(key, false) for key in chances), false]
    left = 0.0
    for result in (says, [1.0 - s for s in says]):
        joint = [p * s for p, s in zip(prior, result, strict=True)]
        if (whole := sum(joint)) > 0.0:
            left += whole * _entropy([j / whole for j in joint])
    return max(_entropy(prior) - left, 0.0)


def _entropy(shares: Iterable[float]) -> float:
    """Return the bits not known, by the chance of each possibility (shares that make one)."""
    return -sum(s * log2(s) for s in shares if s > 0.0)
