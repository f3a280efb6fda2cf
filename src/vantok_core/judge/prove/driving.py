"""The drive before and after: what is graded, on which course; what changed, what became of each complaint, what to change next.

Source: method section 15 (felt words and their axes); the grades are the technician's and the owner's own, never computed.
"""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vantok_core.aims.complaints import COMPLAINTS
from vantok_core.base.say import Say
from vantok_core.facts import Job
from vantok_core.facts.proving import Drive, Graded, Loop
from vantok_core.kits.registry import family_of

CATEGORIES: dict[str, tuple[str, str]] = {
    "play": ("steering", "play"),
    "returns": ("steering", "comes back to the middle"),
    "pulls": ("steering", "pulls to a side"),
    "wanders": ("steering", "wanders"),
    "lane_change": ("steering", "lane change"),
    "kick": ("steering", "kicks at the wheel"),
    "darts": ("steering", "darts aside on bumps"),
    "harsh": ("ride", "harsh"),
    "bounces": ("ride", "bounces on"),
    "porpoises": ("ride", "porpoises"),
    "tossed": ("ride", "throws heads from side to side"),
    "hops": ("ride", "axle hops"),
    "vibrates": ("ride", "vibrates"),
    "noise": ("ride", "noise"),
    "rolls": ("body", "rolls"),
    "squats": ("body", "squats"),
    "tail_wags": ("body", "tail wags"),
    "sways": ("body", "trailer sways"),
    "bottoms": ("body", "bottoms"),
    "brakes": ("braking", "braking"),
    "tyres": ("tyres", "tyre wear"),
    "stance": ("stance", "stance"),
}
"""What is graded: its group and words."""
GRADES: dict[Graded, str] = {"fine": "fine", "marginal": "marginal", "poor": "poor", "upgrade": "an upgrade wished"}
RANK: dict[Graded, int] = {"fine": 0, "marginal": 1, "poor": 2, "upgrade": 3}


@dataclass(frozen=True, slots=True, kw_only=True)
class Course:
    """A course: words, its usual speed (km/h), and what to mind on it."""

    words: str
    speed: float
    caution: str


COURSES: dict[str, Course] = {
    "bump": Course(words="single bump, both wheels", speed=20.0, caution="Cupboards shut, load tied, nobody standing."),
    "staggered": Course(
        words="staggered bumps, side after side", speed=15.0, caution="Hold the wheel lightly, thumbs out."
    ),
    "ditch": Course(
        words="ditch on the skew, walking pace", speed=5.0, caution="Look underneath first: tail, tanks, steps."
    ),
    "rail": Course(words="rail crossing", speed=30.0, caution="Only with a clear view both ways; never stop on it."),
    "potholes": Course(words="potholes", speed=30.0, caution="Not with a tyre of doubtful age."),
    "washboard": Course(words="washboard", speed=40.0, caution="Two minutes at most: dampers heat up."),
    "gravel": Course(words="gravel", speed=50.0, caution="Grip is less than it feels."),
    "slalom": Course(words="slalom", speed=30.0, caution="An empty yard, nobody within reach; never near the tip."),
    "roundabout": Course(words="roundabout", speed=30.0, caution="Raise the speed lap by lap, never for a grade."),
    "lane_change": Course(
        words="lane change", speed=60.0, caution="On a closed or empty road; one hand never leaves the wheel."
    ),
    "gust": Course(
        words="side wind, a passing lorry", speed=90.0, caution="Both hands on the wheel; slower the harder it blows."
    ),
    "launch": Course(words="hard start", speed=30.0, caution="Hitch and load checked; nobody in front."),
    "motorway": Course(
        words="motorway, steady",
        speed=90.0,
        caution="A trailer's own limit holds; traffic first, the sheet when parked.",
    ),
    "returns": Course(
        words="return to centre", speed=20.0, caution="Let the wheel run through open hands on an empty yard."
    ),
    "usual": Course(
        words="the owner’s own way",
        speed=50.0,
        caution="The law of the road first; the sheet is filled in when parked.",
    ),
}
BRIEFING = (
    "Load tied, cupboards and doors shut, seat belts on; locker has had its time; wheel nuts to torque.",
    "A word to stop is agreed: whoever says it, the drive ends at the next safe place.",
    "Hands stay on the wheel; no stunt is asked for; what is felt is written when parked.",
)
FELT: dict[str, str] = {
    "hard_edge": "hard, short blows",
    "bounces_on": "bounces on",
    "rolls": "leans over",
    "bottoms": "hits bottom",
    "pushed": "pushed about",
    "darts": "darts aside",
    "calm": "calm",
    "planted": "planted",
}
Went = Literal["better", "worse", "same"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """A category before and after, by one rater on one course: the grades and how it went; told: one of them is from memory; foreseen: how the model
    expected it to go (None: it said nothing)."""

    category: str
    course: str
    rater: str
    before: Graded
    after: Graded
    went: Went
    told: bool
    foreseen: Went | None = None


def alike(one: Drive, other: Drive) -> bool:
    """Tell whether two drives can be held against each other: same rater, course, speed and load."""
    return (one.rater, one.course, one.speed_kmh, one.state) == (
        other.rater,
        other.course,
        other.speed_kmh,
        other.state,
    )


def changes(drives: Sequence[Drive]) -> tuple[Change, ...]:
    """Return what changed, category by category: the last drive after against the last before it that is alike; others are not compared."""
    found = dict[tuple[str, str, str], Change]()
    for after in (d for d in drives if d.moment == "after"):
        before = next((d for d in reversed(drives) if d.moment == "before" and alike(d, after)), None)
        if before is None:
            continue
        for category in after.grades.keys() & before.grades.keys():
            then, now = before.grades[category], after.grades[category]
            went: Went = "same" if then == now else "better" if RANK[now] < RANK[then] else "worse"
            found[category, after.course, after.rater] = Change(
                category=category,
                course=after.course,
                rater=after.rater,
                before=then,
                after=now,
                went=went,
                told=before.told or after.told,
                foreseen=after.foreseen.get(category),
            )
    order = list(CATEGORIES)
    return tuple(
        sorted(
            found.values(), key=lambda c: (order.index(c.category) if c.category in order else 99, c.course, c.rater)
        )
    )


def not_compared(drives: Sequence[Drive]) -> tuple[Drive, ...]:
    """Return the drives after that nothing before is alike to."""
    before = [d for d in drives if d.moment == "before"]
    return tuple(d for d in drives if d.moment == "after" and not any(alike(b, d) for b in before))


@dataclass(frozen=True, slots=True, kw_only=True)
class Agreement:
    """How far owner and technician agree: of how many categories both graded in one moment on one course, how many alike, and within one grade."""

    both: int
    alike: int
    near: int


def agreement(drives: Sequence[Drive]) -> Agreement:
    """Return how far the two raters agree, category by category, on their last drives of a moment and course."""
    last = {(d.moment, d.course, d.rater): d for d in drives}
    pairs = []
    for (moment, course, rater), owner in last.items():
        other = last.get((moment, course, "technician"))
        if rater == "owner" and other is not None:
            pairs += [(owner.grades[c], other.grades[c]) for c in owner.grades.keys() & other.grades.keys()]
    return Agreement(
        both=len(pairs), alike=sum(a == b for a, b in pairs), near=sum(abs(RANK[a] - RANK[b]) <= 1 for a, b in pairs)
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """What the drives say of a complaint: its code, the word, and whether it rests on memory."""

    code: str
    word: Literal["fine now", "better", "no better", "worse", "open"]
    told: bool = False


def graded(code: str) -> tuple[str, ...]:
    """Return the categories whose grades answer a complaint; of one that no grade asks of it stays open until somebody says."""
    return COMPLAINTS[code].grades if code in COMPLAINTS else ()


def asked(job: Job) -> tuple[str, ...]:
    """Return the categories whose grades answer what a job came for, in the sheet's order; none where no grade answers it."""
    own = {category for c in job.complaints for category in graded(c.code)}
    return tuple(category for category in CATEGORIES if category in own)


def answers(job: Job) -> tuple[Answer, ...]:
    """Return what the grades after say of each complaint; without a grade before and after on one course it stays open."""
    found = changes(job.proving.drives)
    return tuple(_answer(c.code, [one for one in found if one.category in graded(c.code)]) for c in job.complaints)


def _answer(code: str, own: Sequence[Change]) -> Answer:
    if not own:
        return Answer(code=code, word="open")
    told = any(c.told for c in own)
    if any(c.went == "worse" for c in own):
        return Answer(code=code, word="worse", told=told)
    if all(c.after == "fine" for c in own) and any(c.went == "better" for c in own):
        return Answer(code=code, word="fine now", told=told)
    return Answer(code=code, word="better" if any(c.went == "better" for c in own) else "no better", told=told)


NEXT: dict[str, tuple[str, str]] = {
    "harsh": ("less", "harsh: less spring or a softer click takes the edge off"),
    "hard_edge": ("less", "hard blows: less spring or a softer click takes the edge off"),
    "bounces": ("damp", "bounces on: more damping, not more spring"),
    "bounces_on": ("damp", "bounces on: more damping, not more spring"),
    "porpoises": ("damp", "porpoises: more damping, not more spring"),
    "bottoms": ("more", "bottoms: more spring, or more room to the stop"),
    "squats": ("more", "squats: more spring under the load"),
    "stance": ("more", "stands low: more spring, by the tape and not by the eye"),
    "rolls": ("bar", "rolls: a bar or separate lines hold it, more pressure alone hardly does"),
    "tail_wags": ("load", "wags: load forward, overhang and tyre pressures first"),
    "pushed": ("bar", "pushed about: tyre pressures and a bar before more spring"),
    "darts": ("steer", "darts: toe, bump steer and play before a stabilizer"),
    "kick": ("steer", "kicks: play, balance and bump steer before a stabilizer"),
    "returns": ("steer", "does not come back: tight joints and caster first; a damper that centres only hides it"),
    "tossed": ("less", "throws heads: softer from side to side, a bar let down a hole or less in the bags"),
    "hops": ("damp", "hops: dampers and wind-up before more spring"),
    "sways": ("load", "sways: slower, load forward on the trailer, tongue share and its tyres first"),
    "wanders": ("steer", "wanders: play, toe, caster and front load before any part"),
    "lane_change": ("steer", "uneasy in a lane change: tyre pressures and bars first"),
    "pulls": ("steer", "pulls: tyres, brakes and geometry; no kit cures it"),
}
"""What a poor grade or a felt word asks for, and how it is told: more or less of the setting, damping, a bar, the load, the steering."""


@dataclass(frozen=True, slots=True, kw_only=True)
class NextChange:
    """The one thing to change next, told: the setting's way where it is the kit's own (more, less), else empty."""

    said: Say
    way: Literal["more", "less", ""] = ""


def next_change(job: Job) -> NextChange | None:
    """Return what to change next from the grades and felt words of the last drive after; None where nothing asks for it, or nothing was driven."""
    after = [d for d in job.proving.drives if d.moment == "after"]
    if not after:
        return None
    last = after[-1]
    poor = sorted((g, c) for c, g in last.grades.items() if RANK[g] >= 1)
    asked = [c for _, c in sorted(poor, key=lambda pair: -RANK[pair[0]])] + [f for f in last.felt if f in NEXT]
    wants = [NEXT[one] for one in asked if one in NEXT]
    if not wants:
        return None
    if {"more", "less"} <= {way for way, _ in wants}:
        text = "It asks for more and for less at once: the middle is here; damping or an insert comes next, not more spring."
        return NextChange(said=Say(text))
    way, words = wants[0]
    ours = _own_way(job, way)
    return NextChange(
        said=Say(
            "{words}. {step}One thing at a time, then the same drive again.",
            {"words": words.capitalize(), "step": _step(job, ours)},
        ),
        way=ours,
    )


def _own_way(job: Job, way: str) -> Literal["more", "less", ""]:
    """Return which way the kit's own setting goes for what is asked; empty where it is not the kit's matter."""
    if job.fitting is None:
        return ""
    kit, family = job.fitting.kit, family_of(job.fitting.kit)
    if way == "damp":
        return "more" if family.damping(kit, {}) is not None else ""
    if not (family.lifts and family.set_by(kit)) or family.gives_back:
        return ""
    ways: dict[str, Literal["more", "less"]] = {"more": "more", "less": "less"}
    return ways.get(way, "")


def _step(job: Job, way: str) -> str:
    if not way or job.fitting is None:
        return ""
    field = next(iter(family_of(job.fitting.kit).set_by(job.fitting.kit)), None)
    return f"Next: one step {way} of {field.words}. " if field else ""


def middle_found(loops: Sequence[Loop]) -> bool:
    """Tell whether the middle has been found: a change one way and its opposite both made it worse from the same setting, and were put back."""
    worse = [one for one in loops if one.outcome == "worse" and one.stays == "put_back"]
    return any(
        a.mark_before == b.mark_before and a.mark_after != b.mark_after
        for n, a in enumerate(worse)
        for b in worse[n + 1 :]
    )


def first_by_lot(number: str, count: int) -> Literal["before", "after"]:
    """Return which of two settings is driven first, by lot: the same for one job and one pair, known to nobody beforehand."""
    return random.Random(f"{number} {count}").choice(("before", "after"))  # noqa: S311 - a lot, not a secret
