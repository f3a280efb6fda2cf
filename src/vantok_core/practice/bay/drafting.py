"""How a case is made: a vehicle drawn from life until what the case turns on holds on it, with what is planted in it.

Source: method sections 19 and 21. A template says what it plants; the vehicle is never drawn from the program's own classes.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from vantok_core.base.errors import InputError, VantokError
from vantok_core.base.num import G
from vantok_core.facts import Complaint, Job, JobReading, JobState, LoadItem
from vantok_core.physics.vehicle import CORNERS, Axle, Vehicle
from vantok_core.practice.bay.case import (
    Case,
    Deed,
    Hidden,
    HiddenAxle,
    HiddenFault,
    HiddenLoad,
    Planted,
    Skill,
    Trap,
)
from vantok_core.practice.bay.truth import Now, heights, over_limits, reports
from vantok_core.practice.life import Drawn, Kind, drawn

MOST_DRAWS = 400
"""Vehicles drawn at most before a premise is given up."""
ASKED = {
    "carry": "What do you carry, and where?",
    "since": "Since when, and what was changed?",
    "use": "How is it used?",
    "tried": "What have you tried?",
}


@dataclass(slots=True, kw_only=True)
class Draft:
    """A case being made: a vehicle as drawn, and what is planted in it. told: the load as the owner tells it; loads: as it is; more: other facts told of the
    vehicle; hidden: changes of the truth."""

    rng: np.random.Generator
    one: Drawn
    told: list[LoadItem] = field(default_factory=list)
    loads: list[LoadItem] = field(default_factory=list)
    tongue: tuple[float, float] = (0.0, 0.0)
    trailer: float = 0.0
    more: dict[str, Any] = field(default_factory=dict)
    job: dict[str, Any] = field(default_factory=dict)
    hidden: dict[str, Any] = field(default_factory=dict)
    faults: list[HiddenFault] = field(default_factory=list)
    front: float = 1.0
    rear: float = 1.0
    gap: float | None = None
    answers: dict[str, str] = field(default_factory=dict)

    @property
    def base(self) -> float:
        """Wheelbase, m."""
        return self.one.truth.wheelbase

    @property
    def rated(self) -> float:
        """The rear axle's rating, kg."""
        return float(self.one.job.vehicle.rear_axle_kg or 0.0)

    @property
    def on_rear(self) -> float:
        """What the rear axle carries empty, kg."""
        return sum(float(f) for f in self.one.truth.rear.ref_load) / G

    def spare(self, share: float) -> float:
        """Return a share of what the rear axle may still carry, kg, to the ten."""
        return round((self.rated - self.on_rear) * share / 10.0) * 10.0

    def carry(self, name: str, true: float, told: float | None = None, at: float = 1.0, side: float = 0.0) -> None:
        """Put something on board: true, told: kg (told: None: as it is); at: share of the wheelbase; side: m to the left, which nobody tells."""
        station = round(at * self.base, 2)
        self.loads.append(LoadItem(name=name, mass_kg=true, station_m=station, lateral_m=side, movable=True))
        self.told.append(LoadItem(name=name, mass_kg=true if told is None else told, station_m=station, movable=True))


FITTING: frozenset[Deed] = frozenset(("helper", "insert", "bar", "damper"))
"""Deeds that put a kit on."""
BUDGET: dict[str, float] = {
    "fit": 600.0,
    "repair": 360.0,
    **dict.fromkeys(("nothing", "unload", "trailer", "lines"), 240.0),
}
"""Minutes of a good run, by what is right to do."""
TEACHES: dict[Trap, Skill] = {
    **dict.fromkeys(("none", "turn", "sheet", "stops", "droop"), "measure"),
    **dict.fromkeys(("scale", "corners", "front_scale", "tongue", "plate"), "weigh"),
    **dict.fromkeys(("fault", "tee", "soap"), "inspect"),
    **dict.fromkeys(("leave", "variant", "strong", "bar"), "choose"),
    **dict.fromkeys(("settle_after", "drive_before"), "prove"),
}
"""The skill each trap is of."""
Make = Callable[[Draft], None]
Holds = Callable[[Case], bool]


@dataclass(frozen=True, slots=True, kw_only=True)
class Template:
    """What a case turns on: title and level as shown beforehand; complaint and the customer's words; kinds it may be of; what makes and holds it; what is
    right; trap, lesson; course: the piece of road it is felt on."""

    key: str
    title: str
    level: int
    complaint: str
    words: str
    kinds: tuple[Kind, ...]
    make: Make
    holds: Holds
    causes: tuple[str, ...]
    deeds: tuple[Deed, ...]
    trap: Trap
    lesson: str
    look: tuple[str, ...] = ()
    course: str = "bump"
    felt: str = "loaded"

    @property
    def skills(self) -> tuple[Skill, ...]:
        """What it teaches, by what is right to do and by what it turns on."""
        fitted = set(self.deeds[:1]) & FITTING
        found: tuple[Skill, ...] = ("choose", "set", "prove") if fitted else ("diagnose",)
        return tuple(dict.fromkeys((TEACHES[self.trap], *found)))


def sag(case: Case) -> float:
    """Return by how much the rear truly sits lower in the judged state than empty, m."""
    return float(reports(case, only=(case.judged,))[case.judged].d_r)


def lean(case: Case) -> float:
    """Return by how much the left rear truly sits lower than the right in the judged state, against empty, m."""
    told = reports(case, only=(case.judged,))[case.judged]
    return float(told.ground_drop["RL"]) - float(told.ground_drop["RR"])


def gap_left(case: Case) -> float:
    """Return the least stop gap left at the rear in the judged state, m."""
    found = heights(case, reports(case, only=(case.judged,))[case.judged], "stop_gap", Now())
    return min(found["RL"], found["RR"])


def front_lost(case: Case) -> float:
    """Return the share of the front axle's empty load that is gone in the judged state."""
    return float(reports(case, only=(case.judged,))[case.judged].front_share_lost)


def within(low: float, high: float, *more: Holds) -> Holds:
    """Return a premise: a true sag between two figures (low, high: m), no limit passed, and more."""
    return lambda case: low <= sag(case) <= high and not over_limits(case) and all(one(case) for one in more)


def free(case: Case) -> bool:
    """Tell whether the rear stops stand free by a finger in the judged state."""
    return gap_left(case) > 0.012


def _axle(one: Axle, law: str, softer: float, gap: float | None) -> HiddenAxle:
    stop = one.elements[0].left
    return HiddenAxle(
        solid=one.solid,
        track_m=one.track,
        unsprung_kg=one.unsprung,
        tyre_rate_n_per_m=round(float(one.tyre_rate)),
        ref_load_n=(round(float(one.ref_load[0])), round(float(one.ref_load[1]))),
        law=law,  # type: ignore[arg-type]
        rate_n_per_m=round(float(one.spring.k) * softer),
        second_n_per_m=round(float(one.spring.k2) * softer),
        contact_m=round(float(one.spring.z2), 3),
        place_m=one.spring.y,
        gap_m=round(float(getattr(stop, "gap", 0.07)), 3) if gap is None else gap,
    )


def case_of(template: Template, draft: Draft, code: str, seed: int) -> Case:
    """Return the case of a draft."""
    one, truth = draft.one, draft.one.truth
    ratings = _ratings(draft, truth)
    told = {name: None for name in ratings} | draft.more
    vehicle = one.job.vehicle.model_copy(update={**told, "year": 2019})
    told_tongue, true_tongue = draft.tongue
    name = "Hitched" if draft.trailer else "Loaded"
    loaded = JobState(key="loaded", name=name, items=tuple(draft.told), tongue_kg=told_tongue, trailer_kg=draft.trailer)
    job = Job(
        vehicle=vehicle,
        states=(JobState(key="empty", name="Empty", empty=True), loaded),
        complaints=(Complaint(code=template.complaint, load="hitched" if draft.trailer else template.felt),),  # type: ignore[arg-type]
        words=template.words,
        **draft.job,
    )
    more: dict[str, Any] = {
        "stands_m": tuple(round(one.stands[c], 4) for c in CORNERS),
        "loads": (HiddenLoad(state="loaded", items=tuple(draft.loads), tongue_kg=true_tongue),),
        "strength": round(float(np.exp(draft.rng.normal(0.0, 0.05))), 3),
        "faults": tuple(draft.faults),
        "ratings": ratings,
    }
    hidden = Hidden(
        wheelbase_m=truth.wheelbase,
        front=_axle(truth.front, truth.front.spring.kind, draft.front, None),
        rear=_axle(truth.rear, truth.rear.spring.kind, draft.rear, draft.gap),
        **(more | draft.hidden),
    )
    return Case(
        code=code,
        title=template.title,
        level=template.level,
        skills=template.skills,
        told=job,
        answers={ASKED[key]: words for key, words in draft.answers.items()},
        hidden=hidden,
        causes=template.causes,
        deeds=template.deeds,
        look=template.look,
        trap="none" if template.trap == "sheet" else template.trap,
        lesson=template.lesson,
        course=template.course,
        minutes=BUDGET["fit" if template.deeds[0] in FITTING else template.deeds[0]],
        seed=seed,
    )


def _ratings(draft: Draft, truth: Vehicle) -> dict[str, float]:
    rated = draft.one.job.vehicle
    told = {
        name: round(float(getattr(rated, name)) / 10.0) * 10.0 for name in ("front_axle_kg", "rear_axle_kg", "gross_kg")
    }
    if draft.trailer:
        told |= {"hitch_kg": round(draft.rated * 0.16 / 10) * 10.0 + 60.0, "towed_kg": 3000.0}
    return told


def make(template: Template, code: str, seed: int) -> Case:
    """Return a case of a template, drawn from a seed until its premise holds. Raises InputError where none is found."""
    rng = np.random.default_rng([seed, sum(template.key.encode())])
    for _ in range(MOST_DRAWS):
        draft = Draft(rng=rng, one=drawn(rng, template.kinds[int(rng.integers(len(template.kinds)))]))
        try:
            template.make(draft)
            case = case_of(template, draft, code, seed)
            if template.holds(case):
                return _told_wrong(case) if template.trap == "sheet" else case
        except VantokError:
            continue  # such a vehicle cannot stand so: another is drawn
    raise InputError("seed", seed, f"no vehicle was found on which “{template.title}” could be")


def _told_wrong(case: Case) -> Case:
    """Return the case with rows a colleague is said to have read, one figure of them wrong: by a datum on the rear
    left, or by half an inch on the rear right."""
    told, rng = reports(case), np.random.default_rng(case.seed)
    by_datum = case.complaint == "sags"
    wrong = ("empty", "RL", -0.043) if by_datum else ("loaded", "RR", -0.0127)
    readings = tuple(
        JobReading(
            state=state,
            datum="ground_arch",
            place=place,
            value_m=round(
                value + float(rng.normal(0.0, 0.0015)) + (wrong[2] if (state, place) == wrong[:2] else 0.0), 3
            ),
            by="a colleague",
        )
        for state, one in told.items()
        for place, value in heights(case, one, "ground_arch", Now()).items()
    )
    planted = Planted(state=wrong[0], datum="ground_arch", place=wrong[1])
    told_so = case.told.model_copy(update={"readings": readings})
    return case.model_copy(update={"told": told_so, "planted": planted, "trap": "sheet"})
