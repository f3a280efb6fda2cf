"""The marks of a run by named rules, each with its reason; what it turns on has a rule of its own.

Source: method section 19.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from vantok_core.aims.of_job import needs_heights
from vantok_core.base.errors import VantokError
from vantok_core.base.say import Quantity, Say, length, mass
from vantok_core.facts import Job, Kit
from vantok_core.kits.choice import Shortlist
from vantok_core.kits.choose import shortlist
from vantok_core.kits.family import least
from vantok_core.kits.fit import fit_checks
from vantok_core.kits.registry import family_of
from vantok_core.kits.target import target_drop
from vantok_core.model import build_model
from vantok_core.practice.bay.case import CAUSES, DEEDS, Case, Trap, any_of
from vantok_core.practice.bay.drafting import FITTING
from vantok_core.practice.bay.run import EVIDENCE, Run, standing_after
from vantok_core.practice.bay.truth import Now, heights, known_job, over_limits, reports, wheel_loads

CORNERS = ("FL", "FR", "RL", "RR")
AS_WELL, HALF_AS_WELL = 0.010, 0.020
"""How much further from the height wanted than the best possible still counts whole, and by half (m)."""
KNOWN = 0.08
"""A load counts as known within this share of what it truly is."""
READ_RIGHT, ROSE_MOST = 0.008, 0.025
"""A height counts as read right within this (m); an empty rear lifted by more is a helper too strong (m)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """A rule's mark: its key and words, points got of how many, and why."""

    rule: str
    words: str
    got: float
    of: float
    why: Say

    @property
    def whole(self) -> bool:
        """Whether nothing was lost."""
        return self.got >= self.of


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """A run with what its rules look at worked out once: the shelf's best by the truth, where a kit is right."""

    run: Run
    shelf: Sequence[Kit]
    known: Job
    best: Shortlist | None

    @property
    def case(self) -> Case:
        """Its case."""
        return self.run.case


Judged = tuple[float, Say] | None
"""Share of its points (0 to 1) and why; None where a rule does not apply."""
Rule = Callable[[Seen], Judged]


def marks(run: Run, shelf: Sequence[Kit]) -> list[Mark]:
    """Return a run's marks by every rule that applies to its case; shelf: the kits there were to choose from."""
    seen = looked_at(run, shelf)
    told = TRAPS[run.case.trap]
    found = [_mark(key, words, of, rule(seen)) for key, words, of, rule in RULES if key not in told.instead]
    if run.case.trap != "none":
        found.append(_mark("trap", told.words, TRAP_POINTS, _trapped(seen)))
    return [one for one in found if one is not None]


def looked_at(run: Run, shelf: Sequence[Kit]) -> Seen:
    """Return a run with what the rules look at."""
    known = known_job(run.case)
    best = best_of(known, shelf) if run.case.deeds[0] in FITTING and needs_heights(run.job) else None
    return Seen(run=run, shelf=shelf, known=known, best=best)


def best_of(known: Job, shelf: Sequence[Kit]) -> Shortlist | None:
    """Return every kit of a shelf judged by the truth; None where nothing can be chosen on it."""
    try:
        return shortlist(build_model(known), shelf)
    except VantokError:
        return None


def _mark(key: str, words: str, of: float, judged: Judged) -> Mark | None:
    return None if judged is None else Mark(rule=key, words=words, got=round(of * judged[0], 1), of=of, why=judged[1])


def _yes(so: bool, why: str, why_not: str, **values: Quantity | str) -> Judged:
    return (1.0, Say(why, values)) if so else (0.0, Say(why_not, values))


def _baseline(seen: Seen) -> Judged:
    case, job = seen.case, seen.run.job
    if not needs_heights(job) and case.deeds[0] in FITTING:
        return _yes(
            seen.run.did("drive", phase="before"),
            "It was driven before any work: what is to be proved was felt first.",
            "It was never driven before the work: how it was, nobody can compare.",
        )
    states = [s.key for s in case.told.states]
    read = [job.read_over(s, axle, d) for s in states for axle in ("front", "rear") for d in ("ground_arch",)]
    hub = [job.read_over(s, axle, "hub_arch") for s in states for axle in ("front", "rear")]
    return _yes(
        all(read) or all(hub),
        "Empty and loaded heights were read at all four corners before any work.",
        "Not all four corners were read and written down, empty and loaded, before any work: there is no baseline.",
    )


def _settled(seen: Seen) -> Judged:
    rows = [n for n, act in enumerate(seen.run.acts) if act.kind == "tape" and act.phase == "before"]
    if not rows:
        return None
    told = [standing_after(seen.case, seen.run.acts[:n]).settled for n in rows]
    return _yes(
        all(told),
        "It was rolled and bounced before each row was read.",
        "At least one row was read before it was rolled and bounced: friction is in its heights.",
    )


def _weighed(seen: Seen) -> Judged:
    state = seen.run.job.state(seen.case.judged)
    known = state is not None and (state.corners_kg is not None or (state.front_kg and state.rear_kg))
    return _yes(
        bool(known),
        "The load was weighed as it is used.",
        "No weight of the load was written down: limits and springs rest on what was told.",
    )


def _inspected(seen: Seen) -> Judged:
    if not seen.case.look:
        return None
    looked = [area for area in seen.case.look if seen.run.did("look", area)]
    share = len(looked) / len(seen.case.look)
    why = (
        "Everything that could be the whole cause was looked at."
        if share == 1.0
        else "Not all that could be the whole cause was looked at."
    )
    return share, Say(why)


def _cause(seen: Seen) -> Judged:
    said, right = seen.run.said, seen.case.causes
    if said is None:
        return 0.0, Say("No cause was named. It was: {cause}.", {"cause": CAUSES[right[0]]})
    return _yes(
        said.cause in right,
        "The cause was named: {named}.",
        "“{named}” was named. It was: {was}.",
        named=CAUSES.get(said.cause, said.cause),
        was=CAUSES[right[0]],
    )


def _deed(seen: Seen) -> Judged:
    said, right = seen.run.said, seen.case.deeds
    if said is None:
        return 0.0, Say("Nothing was decided. Right was: {any_of}.", {"any_of": any_of(right)})
    return _yes(
        said.deed in right,
        "What was decided is right: {deed}.",
        "“{deed}” was decided. Right was: {right}.",
        deed=DEEDS[said.deed],
        right=any_of(right),
    )


def _guessed(seen: Seen) -> Judged:
    said = [n for n, act in enumerate(seen.run.acts) if act.kind == "say"]
    if not said:
        return None
    looked = any(act.kind in EVIDENCE for act in seen.run.acts[: said[0]])
    return _yes(
        looked,
        "The finding was said after something of the vehicle was read or looked at.",
        "The finding was said before anything was read or looked at: that is a guess, right or wrong.",
    )


def _limits(seen: Seen) -> Judged:
    over, run = over_limits(seen.case), seen.run
    if not over:
        return None
    unloaded = run.said is not None and run.said.deed == "unload"
    return _yes(
        unloaded and not run.on,
        "Over its plate it was unloaded first; nothing was fitted onto an overload.",
        "It stands {over} over its plate, and that was not put first: no part raises a rating.",
        over=mass(max(over.values())),
    )


def _height(seen: Seen) -> Judged:
    best = _best_miss(seen)
    if best is None:
        return None
    miss = _miss(seen)
    if miss is None:
        return 0.0, Say("Nothing that lifts was fitted: the height wanted was not reached.")
    share = 1.0 if miss <= best + AS_WELL else 0.5 if miss <= best + HALF_AS_WELL else 0.0
    return share, Say(
        "It stands {miss} from the height wanted; the best possible is {best}.",
        {"miss": length(miss), "best": length(best)},
    )


def _best_miss(seen: Seen) -> float | None:
    """Return how near the shelf's best truly comes (m); None where no kit is asked or comes near."""
    if seen.best is None:
        return None
    told = [abs(c.miss) for c in seen.best.choices if c.kind == "kit" and not c.out and c.miss is not None]
    return min(told) if told else None


def _fitted(seen: Seen) -> Now:
    run = seen.run
    return Now(parts=tuple(p for p in run.job.parts if p.kit.code in run.on), cured=run.cured)


def _miss(seen: Seen) -> float | None:
    """Return how far from the height the job wants its rear truly stands (m); None where nothing that lifts went on."""
    now = _fitted(seen)
    if not any(family_of(p.kit).lifts for p in now.parts):
        return None
    known = seen.known.model_copy(update={"target": seen.run.job.target})
    target = target_drop(build_model(known), seen.case.judged)
    return abs(float(reports(seen.case, now, (seen.case.judged,))[seen.case.judged].d_r) - target.drop)


def _order(seen: Seen) -> Judged:
    marks_made = [mark for part in seen.run.job.parts for mark in part.card]
    if not marks_made:
        return None
    return _yes(
        not any(mark.state in ("overruled", "skipped") for mark in marks_made),
        "Its card was worked through in order, no gate passed over.",
        "A gate or a step of the card was passed over.",
    )


def _proved(seen: Seen) -> Judged:
    run, case = seen.run, seen.case
    if not run.on:
        return None
    lifts = any(family_of(p.kit).lifts for p in run.job.parts if p.kit.code in run.on)
    read = all(run.job.at(case.judged, c, "ground_arch", "after") for c in CORNERS)
    return _yes(
        read if lifts else run.did("drive", phase="after"),
        "It was proved after the work by what it came for.",
        "It was not proved after the work: what was done is only believed."
        if not lifts
        else "Its four corners were not read again after the work: what was done is only believed.",
    )


def _minutes(seen: Seen) -> Judged:
    took, most = seen.run.minutes, seen.case.minutes
    return _yes(
        took <= most,
        "It took {took}, of {most} for a good run.",
        "It took {took}; a good run takes {most} at most.",
        took=Quantity(took / 60.0, "hours"),
        most=Quantity(most / 60.0, "hours"),
    )


RULES: tuple[tuple[str, str, float, Rule], ...] = (
    ("baseline", "Read before work began", 15.0, _baseline),
    ("settled", "Rolled and bounced before reading", 5.0, _settled),
    ("weighed", "Weighed, not told", 10.0, _weighed),
    ("inspected", "Looked at what could be the whole cause", 10.0, _inspected),
    ("guessed", "Found, not guessed", 5.0, _guessed),
    ("cause", "Cause named", 15.0, _cause),
    ("deed", "The right thing decided", 15.0, _deed),
    ("limits", "Limits kept", 15.0, _limits),
    ("height", "Near the height wanted", 10.0, _height),
    ("order", "Steps in a safe order", 5.0, _order),
    ("proved", "Proved", 10.0, _proved),
    ("minutes", "Minutes", 5.0, _minutes),
)
TRAP_POINTS = 15.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Turns:
    """What a case can turn on: its words, whether a run saw it, why and why not; instead: rules it stands in place of."""

    words: str
    saw: Callable[[Seen], bool]
    why: str
    why_not: str
    instead: tuple[str, ...] = ()


def _trapped(seen: Seen) -> Judged:
    told = TRAPS[seen.case.trap]
    return _yes(told.saw(seen), told.why, "{seen_as} {lesson}", seen_as=told.why_not, lesson=seen.case.lesson)


def _state_known(seen: Seen, part: str) -> bool:
    """Tell whether the judged state's loads stand in the job as they truly are: all of it, all corners, its front, or its tongue."""
    case = seen.case
    state = seen.run.job.state(case.judged)
    if state is None:
        return False
    on = wheel_loads(reports(case, only=(case.judged,))[case.judged])
    if part == "tongue":
        true = next((one.tongue_kg for one in case.hidden.loads if one.state == case.judged), 0.0)
        return state.tongue_kg is not None and abs(state.tongue_kg - true) <= max(KNOWN * true, 6.0)
    if part == "corners":
        told = state.corners_kg
        return told is not None and all(
            abs(kg - on[c]) <= max(KNOWN * on[c], 15.0) for c, kg in zip(CORNERS, told, strict=True)
        )
    pads = state.corners_kg
    front = state.front_kg if pads is None else pads[0] + pads[1]
    rear = state.rear_kg if pads is None else pads[2] + pads[3]
    pairs = [(front, on["FL"] + on["FR"])] + ([] if part == "front" else [(rear, on["RL"] + on["RR"])])
    return all(kg is not None and abs(kg - true) <= 0.5 * KNOWN * true for kg, true in pairs)


def _plate_read(seen: Seen) -> bool:
    told, true = seen.run.job.vehicle.rear_axle_kg, seen.case.hidden.ratings["rear_axle_kg"]
    return told is not None and abs(told - true) <= 0.01 * true


def _sheet_mended(seen: Seen) -> bool:
    planted = seen.case.planted
    assert planted is not None
    read = seen.run.job.read(planted.state, planted.place, planted.datum)
    true = heights(seen.case, reports(seen.case, only=(planted.state,))[planted.state], planted.datum, Now())
    return read is not None and abs(read.value_m - true[planted.place]) <= READ_RIGHT


def _fault_first(seen: Seen) -> bool:
    graded = {one.area: one.grade for one in seen.run.job.inspection}
    faults = [one.area for one in seen.case.hidden.faults]
    return all(graded.get(area) in ("fault", "watch") for area in faults) and not seen.run.on


def _variant_right(seen: Seen) -> bool:
    on = [p for p in seen.run.job.parts if p.kit.code in seen.run.on]
    return not any(c.status == "fail" for p in on for c in fit_checks(seen.known, p.kit))


def _not_too_strong(seen: Seen) -> bool:
    return stands_calm(seen.case, _fitted(seen))


def stands_calm(case: Case, now: Now) -> bool:
    """Tell whether the empty vehicle still stands near its height with its kits on; what is set anew for each load is then let down to its least."""
    empty = next(s.key for s in case.told.states if s.empty)
    parts = tuple(
        p.model_copy(update={"setting": least(family_of(p.kit).spans(p.kit)), "state": empty})
        if family_of(p.kit).sealed
        else p
        for p in now.parts
    )
    told = reports(case, Now(parts=parts, cured=now.cured), (empty,))[empty]
    return -float(told.d_r) <= ROSE_MOST


def _graded(seen: Seen, *areas: str) -> bool:
    graded = {one.area for one in seen.run.job.inspection if one.grade != "fine"}
    return any(area in graded for area in areas)


def _settled_after(seen: Seen) -> bool:
    acts = seen.run.acts
    rows = [n for n, act in enumerate(acts) if act.kind == "tape" and act.phase == "after"]
    return bool(rows) and all(standing_after(seen.case, acts[:n]).settled for n in rows)


def _no_lift(seen: Seen) -> bool:
    return not any(family_of(p.kit).lifts for p in seen.run.job.parts if p.kit.code in seen.run.on)


def _stops_read(seen: Seen) -> bool:
    return all(any(seen.run.job.read(s.key, c, "stop_gap") for s in seen.case.told.states) for c in ("RL", "RR"))


def _droop_read(seen: Seen) -> bool:
    told = seen.run.job.vehicle.rear_droop_m
    return told is not None and abs(told - seen.case.hidden.droop_m) <= 0.01


TRAPS: Mapping[Trap, Turns] = {
    "none": Turns(words="", saw=lambda _: True, why="", why_not=""),
    "scale": Turns(
        words="Weighed, whatever was told",
        saw=lambda s: _state_known(s, "axles"),
        why="The load was put on the scale, and the sheet has what it truly is.",
        why_not="The load stands in the sheet as it was told, and it is another one.",
        instead=("weighed",),
    ),
    "corners": Turns(
        words="Weighed wheel by wheel",
        saw=lambda s: _state_known(s, "corners"),
        why="Four pads told how the load stands across.",
        why_not="How the load stands across was not weighed, or not written down as it is.",
        instead=("weighed",),
    ),
    "front_scale": Turns(
        words="Front axle weighed",
        saw=lambda s: _state_known(s, "front"),
        why="The front axle on the scale told what it had lost.",
        why_not="What the front axle carries was not weighed, or not written down as it is.",
        instead=("weighed",),
    ),
    "tongue": Turns(
        words="Tongue weighed",
        saw=lambda s: _state_known(s, "tongue"),
        why="The tongue was weighed, and the sheet has what it truly presses with.",
        why_not="The tongue stands in the sheet as it was told, and it is another one.",
    ),
    "plate": Turns(
        words="The plate, not the label",
        saw=_plate_read,
        why="The rating in the job is the plate's.",
        why_not="The rating in the job is the sales sheet's.",
    ),
    "turn": Turns(
        words="Floor before vehicle",
        saw=lambda s: s.run.did("turn"),
        why="It was turned round, and what stayed with the bay is the floor's.",
        why_not="It was never turned round: floor and vehicle were not told apart.",
    ),
    "sheet": Turns(
        words="A contradiction caught",
        saw=_sheet_mended,
        why="The figure that contradicted the others was read again.",
        why_not="The figure that was wrong on the sheet still stands there.",
    ),
    "stops": Turns(
        words="Stop gap read",
        saw=_stops_read,
        why="The gap at the stops was read.",
        why_not="The gap at the stops was not read on both sides, or not written down.",
    ),
    "fault": Turns(
        words="The fault first",
        saw=_fault_first,
        why="The fault was found and graded, and nothing was bolted over it.",
        why_not="The fault was not found, or something was bolted over it.",
    ),
    "leave": Turns(
        words="Leave it alone",
        saw=lambda s: not s.run.on,
        why="Nothing was fitted where nothing is needed.",
        why_not="Something was fitted where nothing is needed.",
        instead=("minutes",),
    ),
    "variant": Turns(
        words="The right variant",
        saw=_variant_right,
        why="What was fitted is made for this vehicle.",
        why_not="What was fitted is not made for this vehicle.",
        instead=("height",),
    ),
    "strong": Turns(
        words="Not too strong",
        saw=_not_too_strong,
        why="Empty it stands as it did, or near.",
        why_not="Empty it now stands on tiptoe.",
        instead=("height",),
    ),
    "droop": Turns(
        words="Hanging wheel read",
        saw=_droop_read,
        why="The hanging wheel was read before a part went in that it can pull out.",
        why_not="How far the wheel hangs was not read, or not written down as it is.",
    ),
    "tee": Turns(
        words="Lines followed",
        saw=lambda s: _graded(s, "air"),
        why="The lines were followed to their tee.",
        why_not="The lines were not followed, or what they show was not written down.",
    ),
    "soap": Turns(
        words="Soaped",
        saw=lambda s: _graded(s, "air_soaped"),
        why="Soap found where the air goes.",
        why_not="It was not soaped, or what the soap showed was not written down.",
    ),
    "bar": Turns(
        words="Roll by a bar",
        saw=_no_lift,
        why="No spring was stiffened for what a bar does.",
        why_not="A spring was stiffened for what a bar does.",
    ),
    "settle_after": Turns(
        words="Settled after the work",
        saw=_settled_after,
        why="It was rolled and bounced before it was read again.",
        why_not="After the work it was read as it had come to rest.",
    ),
    "drive_before": Turns(
        words="Driven before the work",
        saw=lambda s: s.run.did("drive", phase="before"),
        why="It was driven before anything was fitted.",
        why_not="It was never driven before the work.",
        instead=("baseline",),
    ),
}
"""What a case turns on, by its trap."""


def total(found: Sequence[Mark]) -> float:
    """Return a run's points as a share of all there were, 0 to 1."""
    most = sum(one.of for one in found)
    return sum(one.got for one in found) / most if most else 0.0
