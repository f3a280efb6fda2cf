"""What a debrief opens once a run is handed in: true heights beside what was read and foreseen, what it turned on, the best run, and the drive of the mistake.

Source: method section 19.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vantok_core.aims.of_job import needs_heights
from vantok_core.base.errors import VantokError
from vantok_core.base.say import Quantity, Say, Worded, length, mass
from vantok_core.facts import Fitting, Kit, LoadItem
from vantok_core.facts.quote import HOUR
from vantok_core.judge.listen.inspect import AREAS
from vantok_core.judge.prove.driving import COURSES
from vantok_core.judge.ride.ready import Configuration, Over
from vantok_core.judge.ride.told import Driven, drive_over
from vantok_core.model import JobModel
from vantok_core.physics.vehicle import CORNERS
from vantok_core.practice.bay.case import CAUSES, Case, any_of
from vantok_core.practice.bay.run import Act, Run
from vantok_core.practice.bay.scripted import best_run, careless_run
from vantok_core.practice.bay.truth import Now, heights, known_model, load_states, reports, standing


@dataclass(frozen=True, slots=True, kw_only=True)
class Height:
    """A corner's height in the judged state (m): as it truly is, as read (None: not read), as the model
    foresaw it with what was read (None: nothing foreseen)."""

    place: str
    true: float
    read: float | None
    foreseen: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Opened:
    """The truth of a case in sentences, its heights before and after, the best run's acts in words with minutes and cost, and why."""

    truth: tuple[Say, ...]
    before: tuple[Height, ...]
    after: tuple[Height, ...]
    best: tuple[str, ...]
    minutes: float
    cost: float
    kit: str


def opened(run: Run, shelf: Sequence[Kit], model: JobModel | None, *, hour_price: float = HOUR) -> Opened:
    """Return what is opened of a run. model: as calibrated by what the trainee read; hour_price: of an hour's work, in the shop's currency."""
    case, key = run.case, run.case.judged
    best = best_run(case, shelf)
    fitted = Now(parts=tuple(p for p in run.job.parts if p.kit.code in run.on), cured=run.cured)
    foreseen = _foreseen(model, key)
    kit = best.job.fitting.kit if best.job.fitting else None
    hours = best.minutes / 60.0
    return Opened(
        truth=tuple(_truth(case)),
        before=_heights(run, Now(), "before", foreseen),
        after=_heights(run, fitted, "after", {}) if fitted.parts else (),
        best=_in_words(best.acts, case, kit),
        minutes=best.minutes,
        cost=hours * hour_price + (kit.price if kit else 0.0),
        kit=kit.name if kit else "",
    )


def _foreseen(model: JobModel | None, key: str) -> Mapping[str, float]:
    if model is None or key not in model.states:
        return {}
    try:
        return {c: figure.value for c, figure in model.heights(key, "ground_arch").items()}
    except (VantokError, KeyError):
        return {}


def _heights(run: Run, now: Now, phase: str, foreseen: Mapping[str, float]) -> tuple[Height, ...]:
    key = run.case.judged
    true = heights(run.case, reports(run.case, now, (key,))[key], "ground_arch", now)
    read = {c: run.job.read(key, c, "ground_arch", phase) for c in CORNERS}
    return tuple(
        Height(place=c, true=true[c], read=r.value_m if (r := read[c]) else None, foreseen=foreseen.get(c))
        for c in CORNERS
    )


def _truth(case: Case) -> list[Say]:
    """Return the truth in sentences: cause, loads, springs, faults, floor."""
    hidden, told = case.hidden, []
    told.append(
        Say(
            "What was behind it: {cause}. Right was: {any_of}.",
            {"cause": CAUSES[case.causes[0]], "any_of": any_of(case.deeds)},
        )
    )
    was = {one.name: one for s in case.told.states for one in s.items}
    for load in hidden.loads:
        told += [_load(one, was.get(one.name)) for one in load.items]
        if load.tongue_kg:
            told.append(Say("The trailer presses with {kg}.", {"kg": mass(load.tongue_kg)}))
    rates = {"rate": Quantity(hidden.rear.rate_n_per_m, "rate")}
    told.append(Say("Its rear springs: {rate} at the wheel.", rates))
    if hidden.rear.second_n_per_m:
        values = {"k": Quantity(hidden.rear.second_n_per_m, "rate"), "z": length(hidden.rear.contact_m)}
        told.append(Say("A second stage adds {k} from {z} below empty on.", values))
    told.append(Say("Its rear stops stand {gap} off, empty.", {"gap": length(hidden.rear.gap_m)}))
    told += [
        Say("{area}: {f}", {"area": AREAS[f.area].words.split(":")[0].capitalize(), "f": f.words})
        for f in hidden.faults
    ]
    if any(hidden.floor_m):
        spread = max(hidden.floor_m) - min(hidden.floor_m)
        told.append(Say("The bay's floor falls by {fall} across it.", {"fall": length(spread)}))
    return told


def _load(one: LoadItem, was: LoadItem | None) -> Say:
    values: dict[str, Worded] = {"one": one.name.capitalize(), "kg": mass(one.mass_kg), "side": ""}
    if abs(one.lateral_m) > 0.1:
        to = {"y": length(abs(one.lateral_m)), "side": "left" if one.lateral_m > 0 else "right"}
        values["side"] = Say(", {y} to the {side}", to)
    if was is not None and abs(was.mass_kg - one.mass_kg) > 1.0:
        return Say("{one}: {kg}{side}; {told} was told.", {**values, "told": mass(was.mass_kg)})
    return Say("{one}: {kg}{side}.", values)


ACTS: Mapping[str, str] = {
    "ask": "ask the owner",
    "plate": "read the plates",
    "load": "load it as",
    "settle": "roll and bounce it",
    "turn": "turn it round",
    "tape": "hold the tape:",
    "hang": "hang the rear wheel and read",
    "weigh": "put it on the pads",
    "tongue": "weigh the tongue",
    "look": "look at",
    "drive": "drive it",
    "log": "log a drive",
    "repair": "cure",
    "fit": "fit",
    "say": "say what you found",
}
"""Each act in words."""


def _in_words(acts: Sequence[Act], case: Case, kit: Kit | None) -> tuple[str, ...]:
    """Return acts in words, those that follow one another of one kind in one line."""
    found: list[tuple[str, list[str]]] = []
    for act in acts:
        what = _what(act, case, kit)
        if found and found[-1][0] == act.kind:
            found[-1][1].append(what)
        else:
            found.append((act.kind, [what]))
    lines = (f"{ACTS[kind]} {', '.join(w for w in whats if w)}".strip() for kind, whats in found)
    return tuple(line[:1].upper() + line[1:] for line in lines)


def _what(act: Act, case: Case, kit: Kit | None) -> str:
    if act.kind == "load":
        return next(f"“{s.name}”" for s in case.told.states if s.key == act.what)
    if act.kind in ("look", "repair"):
        return AREAS[act.what].words.split(":")[0]
    if act.kind == "tape":
        return act.what.replace("_", " to ") if act.what != "stop_gap" else "stop gap"
    if act.kind == "fit":
        return kit.name if kit else act.what
    return ""


def drives(run: Run, shelf: Sequence[Kit]) -> tuple[tuple[Driven, ...], Over]:
    """Return the case's piece of road driven on one clock: as it came, as it was left, and as the best run leaves it. Raises
    VantokError where it cannot be driven."""
    case = run.case
    states = load_states(case)
    best = best_run(case, shelf)
    left = Now(parts=tuple(p for p in run.job.parts if p.kit.code in run.on), cured=run.cured)
    own = [Configuration(key="came", words="as it came", vehicle=standing(case, Now()), states=states)]
    if left.parts:
        own.append(Configuration(key="left", words="as you left it", vehicle=standing(case, left), states=states))
    if best.on and needs_heights(run.job):
        now = Now(parts=tuple(_as_fittings(best)))
        own.append(
            Configuration(key="best", words="as the best run leaves it", vehicle=standing(case, now), states=states)
        )
    mistake = careless_run(case, shelf)
    if mistake.on and mistake.on != best.on:
        now = Now(parts=tuple(_as_fittings(mistake)))
        own.append(
            Configuration(key="mistake", words="with the usual mistake", vehicle=standing(case, now), states=states)
        )
    over = Over(piece=case.course, speed=COURSES[case.course].speed / 3.6, side="both", state=case.judged)
    return drive_over(known_model(case), own, over), over


def _as_fittings(run: Run) -> list[Fitting]:
    return [p for p in run.job.parts if p.kit.code in run.on]
