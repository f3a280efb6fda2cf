"""From complaint to cause: what usually lies behind each complaint, weighed by what was found, with the next test to make."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job
from vantok_core.judge.diagnose import Diagnosis, lost_surely
from vantok_core.judge.inspect import AREAS


@dataclass(frozen=True, slots=True, kw_only=True)
class Suspicion:
    """A usual cause: its words, the finding keys and inspection areas that speak for it, the test that would tell."""

    words: str
    findings: tuple[str, ...] = ()
    areas: tuple[str, ...] = ()
    test: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause:
    """A likely cause of a complaint: words, evidence for and against in words, the next test, and its weight."""

    complaint: str
    words: str
    speaks_for: tuple[Say, ...]
    speaks_against: tuple[Say, ...]
    test: str
    weight: float


OVERLOAD = Suspicion(
    words="overload at the rear",
    findings=("over-rear_axle", "over-gross", "over-rear_tyres"),
    test="Weigh it as it is used, axle by axle.",
)
TIRED = Suspicion(
    words="tired or cracked rear springs", findings=("soft-springs",), areas=("leaf_shape", "leaf_cracks", "coils"),
    test="Compare the empty height with the other side and the class; look at the leaves unloaded.",
)  # fmt: skip
BEHIND = Suspicion(
    words="load behind the axle, tongue included",
    findings=("front-light", "front-lost", "nose-up"),
    test="Move one heavy item forward and measure again.",
)
DAMPING = Suspicion(
    words="worn dampers", areas=("dampers",), test="Bounce the tail: it should come to rest within a swing and a half."
)
STOPS = Suspicion(
    words="bump stops struck",
    findings=("stop-rear", "stop-front"),
    areas=("stops",),
    test="Read the stop gap loaded; look for bright marks.",
)
PITCH = Suspicion(
    words="rear rides slower than the front",
    findings=("pitching",),
    test="Drive the full-width bump at the fixed speed, before and after.",
)
SIDE = Suspicion(
    words="load to one side", findings=("lean",), test="Weigh the corners, or turn the vehicle round and read again."
)
LAMPS = Suspicion(
    words="nose up under load", findings=("nose-up", "lamps"), test="Mark the beam on a wall empty and loaded."
)
PLAY = Suspicion(
    words="play in steering or bushes",
    areas=("steering", "bushes", "bearings"),
    test="Rock the wheel with the weight on it; feel each joint.",
)
LIGHT_FRONT = Suspicion(
    words="light front axle", findings=("front-light",), test="Weigh the front hitched and unhitched."
)
TYRES = Suspicion(
    words="tyres: pressure or wear", areas=("tyres",), test="Set pressures for the load and drive the same course."
)
STIFF = Suspicion(
    words="springs stiffer than the empty vehicle needs",
    findings=(),
    areas=("air",),
    test="Drive the course empty with the pressure at its minimum.",
)

TAIL = Suspicion(
    words="a long or low tail",
    findings=("tail-low",),
    test="Read the lowest point behind the rear wheels as a named point, as it is used: its height and how far back it lies.",
)
SIDE_STIFF = Suspicion(
    words="too stiff from side to side: an anti-roll bar, springs or bags",
    test="Drive a bump under one side, then again with the bar uncoupled where its maker allows it, on a closed course.",
)
BUMP_STEER = Suspicion(
    words="wheels that steer as they move up and down",
    findings=("front-toe", "rear-toe"),
    test="Read the toe at two heights: what it gains is steered at every bump.",
)

SUSPICIONS: dict[str, tuple[Suspicion, ...]] = {
    "sags": (OVERLOAD, TIRED, BEHIND, SIDE),
    "nose_up": (LAMPS, BEHIND, OVERLOAD, TIRED),
    "leans": (SIDE, TIRED, PLAY),
    "bottoms": (STOPS, OVERLOAD, TIRED, DAMPING),
    "porpoises": (DAMPING, PITCH, BEHIND),
    "harsh": (STIFF, STOPS, TYRES),
    "rolls": (SIDE, DAMPING, PLAY),
    "wags": (BEHIND, LIGHT_FRONT, TYRES, PLAY),
    "wanders": (PLAY, LIGHT_FRONT, TYRES),
    "tyres": (TYRES, PLAY, OVERLOAD),
    "tail_drags": (TAIL, OVERLOAD, BEHIND, TIRED),
    "head_tossed": (SIDE_STIFF, DAMPING),
    "darts": (PLAY, BUMP_STEER, TYRES, DAMPING),
    "trailer": (BEHIND, LIGHT_FRONT, DAMPING),
}


FRONT_LOST = 0.03
"""Share of the front axle's load lost from which load behind the axle is evident."""


def likely_causes(job: Job, diagnosis: Diagnosis) -> list[Cause]:
    """Return the causes of each complaint that something speaks for, most evidence first; else the first one to test."""
    evidence = {f.key: f.what for f in diagnosis.findings}
    lost = lost_surely(diagnosis.main, diagnosis.unweighed) if diagnosis.main else None
    if lost is not None and lost > FRONT_LOST:
        least = "at least " if diagnosis.main and diagnosis.off_springs(diagnosis.main.state.key) else ""
        text = f"The front axle has lost {least}{{lost}} of its load."
        evidence["front-lost"] = Say(text, {"lost": Quantity(lost, "percent")})
    grades = {one.area: one.grade for one in job.inspection}
    found: list[Cause] = []
    for complaint in job.complaints:
        causes = [_weighed(complaint.code, s, evidence, grades) for s in SUSPICIONS.get(complaint.code, ())]
        causes.sort(key=lambda c: -c.weight)
        found += [c for c in causes if c.speaks_for] or causes[:1]
    return found


def _weighed(complaint: str, suspicion: Suspicion, evidence: Mapping[str, Say], grades: Mapping[str, str]) -> Cause:
    names = {area: AREAS[area].words.split(":")[0].capitalize() for area in suspicion.areas}
    speaks_for = [evidence[key] for key in suspicion.findings if key in evidence]
    speaks_for += [Say(f"{names[a]} found at fault.") for a in suspicion.areas if grades.get(a) == "fault"]
    speaks_for += [Say(f"{names[a]} to watch.") for a in suspicion.areas if grades.get(a) == "watch"]
    against = [Say(f"{names[a]} found fine.") for a in suspicion.areas if grades.get(a) == "fine"]
    if suspicion.findings and not any(key in evidence for key in suspicion.findings):
        against.append(Say("Nothing measured speaks for it."))
    return Cause(
        complaint=complaint, words=suspicion.words, speaks_for=tuple(speaks_for), speaks_against=tuple(against),
        test=suspicion.test, weight=len(speaks_for) - 0.5 * len(against),
    )  # fmt: skip
