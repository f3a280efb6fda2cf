"""Runs by script: the best one, and one that is as good but for what its case turns on. The debrief tells the best; tests hold the marks against both.

Source: method section 19.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from vantok_core.aims.of_job import needs_heights
from vantok_core.facts import Fitting, Inspected, Job, JobReading, Kit
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.family import Setting
from vantok_core.kits.fit import fit_checks
from vantok_core.kits.registry import family_of
from vantok_core.practice.bay.answers import gauged, hung, looked, tape, tongue_weighed, weighed, went
from vantok_core.practice.bay.case import Case, Trap
from vantok_core.practice.bay.drafting import FITTING
from vantok_core.practice.bay.marks import best_of, stands_calm
from vantok_core.practice.bay.run import MINUTES, REPAIR_HOURS, Act, ActKind, Run, Said, standing_after
from vantok_core.practice.bay.truth import Now, known_job

STEP = 0.001
CORNERS = ("FL", "FR", "RL", "RR")


@dataclass(slots=True, kw_only=True)
class Trainee:
    """Somebody at work on a case: acts, and the job as it grows. missed: what it turns on and is not seen (empty: nothing is missed)."""

    case: Case
    shelf: Sequence[Kit]
    missed: Trap | Literal[""]
    seed: int = 1
    acts: list[Act] = field(default_factory=list)
    said: Said | None = None
    job: Job

    def act(self, kind: ActKind, what: str = "", hours: float | None = None) -> None:
        """Do something; hours: what it takes (3600 s each), as usual where not told."""
        at = standing_after(self.case, self.acts)
        phase: Literal["before", "after"] = "after" if any(a.kind == "fit" for a in self.acts) else "before"
        took = MINUTES[kind] if hours is None else 60.0 * hours
        self.acts.append(Act(kind=kind, state=at.state, what=what, minutes=took, phase=phase))

    @property
    def now(self) -> Now:
        """How the vehicle stands."""
        on = {a.what for a in self.acts if a.kind == "fit"}
        return Now(
            parts=tuple(p for p in self.job.parts if p.kit.code in on),
            cured=frozenset(a.what for a in self.acts if a.kind == "repair"),
        )

    def change(self, **facts: Any) -> None:
        """Write something into the job."""
        self.job = self.job.model_copy(update=facts)

    def read(self, datum: str) -> None:
        """Hold the tape to a datum, and write down what it reads."""
        self.act("tape", datum)
        act = self.acts[-1]
        at = standing_after(self.case, self.acts)
        mark = self.job.mark if act.phase == "after" else ""
        found = tuple(
            JobReading(state=at.state, datum=datum, place=place, phase=act.phase, value_m=value, setting=mark)  # type: ignore[arg-type]
            for place, value in tape(self.case, self.seed, at, self.now, datum, STEP).items()
        )
        kept = tuple(r for r in self.job.readings if not any(_same(r, one) for one in found))
        planted = self.case.planted
        wrong = [
            r
            for r in self.job.readings
            if planted
            and self.missed == "sheet"
            and (r.state, r.datum, r.place) == (planted.state, planted.datum, planted.place)
        ]
        found = tuple(r for r in found if not any(_same(r, one) for one in wrong))
        self.change(readings=(*kept, *wrong, *found))

    def weigh(self) -> None:
        """Put it on the pads, or write down what was told."""
        self.act("weigh")
        at = standing_after(self.case, self.acts)
        on = weighed(self.case, at, self.now)
        pads = tuple(on[c] for c in CORNERS)
        told: dict[str, Any] = {"corners_kg": pads}
        if self.missed == "scale" and at.state == self.case.judged:
            told = {"front_kg": on["FL"] + on["FR"], "rear_kg": 0.7 * (on["RL"] + on["RR"])}
        if self.missed in ("corners", "front_scale") and at.state == self.case.judged:
            told = {
                "front_kg": None if self.missed == "front_scale" else on["FL"] + on["FR"],
                "rear_kg": on["RL"] + on["RR"],
            }
        tongue = tongue_weighed(self.case, at)
        if tongue is not None and self.missed != "tongue":
            self.act("tongue")
            told["tongue_kg"] = tongue
        self.change(states=tuple(s.model_copy(update=told) if s.key == at.state else s for s in self.job.states))


def _same(one: JobReading, other: JobReading) -> bool:
    return (one.state, one.datum, one.place, one.phase) == (other.state, other.datum, other.place, other.phase)


def best_run(case: Case, shelf: Sequence[Kit]) -> Run:
    """Return the run that earns every mark."""
    return _worked(case, shelf, "")


def careless_run(case: Case, shelf: Sequence[Kit]) -> Run:
    """Return a run as good, but for what its case turns on."""
    return _worked(case, shelf, case.trap)


def _worked(case: Case, shelf: Sequence[Kit], missed: Trap | Literal[""]) -> Run:
    one = Trainee(case=case, shelf=shelf, missed=missed, job=case.told)
    for question in case.answers:
        one.act("ask", question)
    one.act("plate")
    ratings = {
        k: v
        for k, v in case.hidden.ratings.items()
        if not (missed == "plate" and k in case.told.vehicle.model_fields_set and k == "rear_axle_kg")
    }
    one.change(vehicle=one.job.vehicle.model_copy(update=ratings))
    _look(one)
    if missed != "drive_before" and case.deeds[0] in FITTING:
        one.act("drive", case.course)
    for state in case.told.states:
        one.act("load", state.key)
        one.act("settle")
        one.read("ground_arch")
        if missed != "stops" and state.empty:
            one.read("stop_gap")
        one.weigh()
    if case.trap == "turn" and missed != "turn":
        one.act("turn")
        one.act("settle")
        one.read("ground_arch")
    if case.trap == "droop" and missed != "droop":
        one.act("hang")
        one.change(vehicle=one.job.vehicle.model_copy(update={"rear_droop_m": hung(case)}))
    one.act("say")
    one.said = Said(cause=case.causes[0], deed=case.deeds[0])
    _do(one)
    return Run(case=case, acts=tuple(one.acts), job=one.job, said=one.said)


def _look(one: Trainee) -> None:
    """Look at what the complaint makes likely, and grade what is found."""
    found = []
    for area in one.case.look:
        one.act("look", area)
        seen = looked(one.case, area)
        blind = one.missed in ("fault", "tee", "soap") and seen.grade != "fine"
        found.append(Inspected(area=area, grade="fine" if blind else seen.grade))  # type: ignore[arg-type]
    one.change(inspection=tuple(found))
    pair = gauged(one.case)
    if pair is not None and one.job.already is not None:
        one.change(already=one.job.already.model_copy(update={"found_pa": pair}))


def _do(one: Trainee) -> None:
    """Do what is right, or what misses it."""
    case = one.case
    if case.deeds[0] == "repair" and one.missed != "fault":
        for fault in case.hidden.faults:
            one.act("repair", fault.area, REPAIR_HOURS)
    wrong = MISTAKES.get(one.missed) if one.missed else None
    chosen = wrong(one) if wrong is not None else _right(one) if case.deeds[0] in FITTING else None
    if chosen is None:
        return
    kit, setting = chosen
    one.change(fitting=Fitting(kit=kit, setting=dict(setting), state=case.judged, done=True))
    one.act("fit", kit.code, kit.hours)
    if one.missed != "settle_after":
        one.act("settle")
    one.read("ground_arch")
    one.act("drive", case.course)


Chosen = tuple[Kit, Setting]


def _right(one: Trainee) -> Chosen | None:
    """Return what is right to fit: by the height, or by what it came for."""
    return _by_height(one) if needs_heights(one.job) else _by_aim(one)


def _by_aim(one: Trainee) -> Chosen | None:
    """Return a kit that fits, lifts nothing and is felt to hold the roll; where none is felt, the first that would be taken for it."""
    known = known_job(one.case)
    able = [k for k in one.shelf if _holds_roll(k) and _fits(fit_checks(known, k))]
    felt = (k for k in able if went(one.case, _with(one, k)).get("rolls") == "better")
    found = next(felt, able[0] if able else None)
    return (found, {}) if found is not None else None


def _with(one: Trainee, kit: Kit, setting: Setting | None = None) -> Now:
    return Now(parts=(Fitting(kit=kit, setting=dict(setting or {}), state=one.case.judged),))


def _holds_roll(kit: Kit) -> bool:
    family = family_of(kit)
    return not family.lifts and "roll" in family.answers


def _by_height(one: Trainee) -> Chosen | None:
    """Return the kit that comes nearest the height, of those as near the cheapest."""
    best = best_of(known_job(one.case), one.shelf)
    able = [c for c in best.choices if c.kit is not None and not c.out and c.miss is not None] if best else []
    near = [(c.kit, c.setting, c.miss) for c in able if c.kit is not None and family_of(c.kit).lifts]
    if one.case.trap == "strong":
        near = [(kit, setting, miss) for kit, setting, miss in near if _calm(one, kit, setting)]
    if not near:
        return None
    kit, setting, _ = min(near, key=lambda told: (round(abs(told[2] or 0.0), 3), told[0].price))
    return kit, setting


def _calm(one: Trainee, kit: Kit, setting: Setting) -> bool:
    """Tell whether the empty vehicle still stands near its height with a kit on."""
    return stands_calm(one.case, _with(one, kit, setting))


def _any(one: Trainee, wanted: Callable[[Kit, Sequence[FitCheck]], bool], *, least: bool = False) -> Chosen | None:
    """Return the first kit that is wanted, set to the most it takes (least: to nothing in particular)."""
    known = known_job(one.case)
    found = next((kit for kit in one.shelf if wanted(kit, fit_checks(known, kit))), None)
    return (found, _most(found)) if found is not None else None


def _most(kit: Kit) -> Setting:
    """Return a kit set to the most it takes."""
    return {name: (span.high, span.high) for name, span in family_of(kit).spans(kit).items()}


def _fits(checks: Sequence[FitCheck]) -> bool:
    return not any(c.status == "fail" for c in checks)


def _lifting(kit: Kit, checks: Sequence[FitCheck]) -> bool:
    return _fits(checks) and family_of(kit).lifts and kit.axle == "rear"


def _wrong_variant(one: Trainee) -> Chosen | None:
    """Return a kit as near the height as the right one, that is made for another vehicle."""
    right = _right(one)
    known = known_job(one.case)
    for kit in one.shelf:
        if family_of(kit).lifts and kit.axle == "rear" and not _fits(fit_checks(known, kit)) and right is not None:
            return kit, _most(kit)
    return None


MISTAKES: Mapping[Trap, Callable[[Trainee], Chosen | None]] = {
    "fault": lambda one: _any(one, _lifting),
    "leave": lambda one: _any(one, _lifting),
    "variant": _wrong_variant,
    "strong": lambda one: _any(one, lambda kit, checks: _lifting(kit, checks) and not _calm(one, kit, _most(kit))),
    "bar": lambda one: _any(one, _lifting),
}
"""What those fit who miss it."""
