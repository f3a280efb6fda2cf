"""Options side by side: heights in every state with their bands, gaps, ride, roll, who carries, limits, what it costs, what it closes off.

Source: method sections 5, 8 and 9.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from vantok_core.base.errors import InputError
from vantok_core.base.figure import Figure
from vantok_core.base.num import G
from vantok_core.base.say import Say, mass
from vantok_core.benches.damper import damping_ratio, wheel_damping
from vantok_core.facts import JobState
from vantok_core.judge.choose.thresholds import HEAVIEST_USE
from vantok_core.kits.chances import cost_of
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.choice import Choice, Shortlist
from vantok_core.kits.cost import YearsCost
from vantok_core.kits.damping_left import damping_left
from vantok_core.kits.family import least
from vantok_core.kits.later import rise_of
from vantok_core.kits.registry import family_of
from vantok_core.loads.limits import Margin
from vantok_core.loads.plan import state_margins
from vantok_core.model import JobModel
from vantok_core.physics.stance.budget import Budget, roll_stiffness, stiffness_budget
from vantok_core.physics.stance.report import StateReport, report
from vantok_core.physics.stance.states import SolvedState
from vantok_core.physics.vehicle import AXLES, AxleName
from vantok_core.rates.places import Place


@dataclass(frozen=True, slots=True, kw_only=True)
class InState:
    """An option in a state. heights: by axle, mean of both sides (m), where a reading gave it a reference, else the drop from the reference;
    is_drop: whether it is that; gap: least stop gap left at the rear, m (None: none known); frequency: rear, Hz; damping: share of the
    damping ratio that is left with the dampers that are on; zeta: the ratio itself with rear dampers among its kits (None: none), taken
    upright; roll: rear roll stiffness, N m/rad, and its share of before; budget: who carries
    at the rear."""

    state: JobState
    heights: Mapping[AxleName, Figure]
    is_drop: Mapping[AxleName, bool]
    gap: float | None
    frequency: float
    damping: float
    zeta: float | None
    roll: float
    stiffer: float
    budget: Budget


@dataclass(frozen=True, slots=True, kw_only=True)
class Later:
    """How much higher the rear would stand with a planned change on top (m), against the same state without it."""

    words: str
    rear: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class Beside:
    """An option with all that it is compared by."""

    choice: Choice
    states: tuple[InState, ...]
    nearest: Margin | None
    later: tuple[Later, ...]
    cost: YearsCost
    hours: float
    upkeep: float
    bound: tuple[Say, ...]
    to_measure: tuple[FitCheck, ...]


def beside(model: JobModel, found: Shortlist, choice: Choice) -> Beside:
    """Return an option with all that it is compared by; its states are empty where nothing of it is predicted. Raises VantokError as the
    static solve does."""
    return Beside(
        choice=choice,
        states=_states(model, choice),
        nearest=_nearest(model, found, choice),
        later=_later(model, choice),
        cost=cost_of(choice),
        hours=sum(kit.hours for kit in choice.kits),
        upkeep=sum(kit.upkeep_per_year for kit in choice.kits),
        bound=_bound(choice),
        to_measure=tuple({c.words: c for c in choice.checks if c.open}.values()),
    )


def _states(model: JobModel, choice: Choice) -> tuple[InState, ...]:
    if choice.vehicle is None:
        return ()
    loaded = replace(model, states=choice.loads) if choice.loads is not None else model
    solved, plain = loaded.solved(choice.vehicle), model.solved()
    keys = list(solved)
    told = {axle: _heights(model, choice, axle, keys, solved) for axle in AXLES}
    found = []
    for n, key in enumerate(keys):
        state = model.job.state(key)
        if state is None:
            continue
        said, before = report(choice.vehicle, solved[key]), report(model.vehicle, plain[key])
        roll = roll_stiffness(solved[key], "rear")
        found.append(
            InState(
                state=state,
                heights={axle: told[axle][0][n] for axle in AXLES},
                is_drop={axle: told[axle][1] for axle in AXLES},
                gap=_least_gap(said),
                frequency=float(said.ride_frequency["RL"]),
                damping=damping_left(said, before, "rear"),
                zeta=_zeta(model, choice, said),
                roll=roll,
                stiffer=roll / roll_stiffness(plain[key], "rear"),
                budget=stiffness_budget(solved[key], "rear"),
            )
        )
    return tuple(found)


def _heights(
    model: JobModel, choice: Choice, axle: AxleName, keys: Sequence[str], solved: Mapping[str, SolvedState]
) -> tuple[list[Figure], bool]:
    """Return an axle's height in each state with its band, or its drop where no reading gave it a height."""
    estimate, place = model.estimate, Place(axle, "ground")
    assert choice.vehicle is not None
    strengths = choice.strengths
    try:
        found, drops = estimate.heights_with(keys, place, choice.vehicle, strengths, solved), False
    except InputError:
        found, drops = estimate.drops_with(keys, place, choice.vehicle, strengths, solved), True
    if choice.loads is None:
        return found, drops
    # Moved load stands elsewhere than the estimate's states have it: its value, with the band of the state it is moved in.
    plain, arm = model.solved(choice.vehicle), model.vehicle.wheelbase if axle == "rear" else 0.0
    shift = [_drop(solved[key], arm) - _drop(plain[key], arm) for key in keys]
    return [replace(f, value=f.value + (s if drops else -s)) for f, s in zip(found, shift, strict=True)], drops


def _drop(solved: SolvedState, wheelbase: float) -> float:
    return float(solved.at.u + wheelbase * solved.at.theta)


def _least_gap(said: StateReport) -> float | None:
    gaps = said.gaps
    return min(gaps) if gaps else None


def _zeta(model: JobModel, choice: Choice, said: StateReport) -> float | None:
    """Return the rear's damping ratio with the dampers among an option's kits, one a side, taken upright; None where none are or nothing is sprung."""
    rates = [
        family_of(kit).damping(kit, choice.setting if kit is choice.kit else least(family_of(kit).spans(kit)))
        for kit in choice.kits
        if kit.axle == "rear"
    ]
    told = [
        (rate, kit.ratio)
        for rate, kit in zip(rates, (k for k in choice.kits if k.axle == "rear"), strict=True)
        if rate is not None
    ]
    rate = 0.5 * float(said.bump_rate["RL"] + said.bump_rate["RR"])
    sprung = 0.5 * float(said.axle_load("rear")) / G - float(model.vehicle.rear.unsprung)
    if not told or sprung <= 0.0 or rate <= 0.0:
        return None
    return damping_ratio(sum(wheel_damping(c, 1.0, ratio) for c, ratio in told), rate, sprung)


def _nearest(model: JobModel, found: Shortlist, choice: Choice) -> Margin | None:
    """Return the limit with the least margin in the state judged, with load moved where the option moves it; None where none is known."""
    front, rear = choice.shift or (0.0, 0.0)
    shift = {"rear_axle": rear, "front_axle": front, "gross": front + rear}
    known = [
        replace(m, load=(m.load or 0.0) + shift.get(m.key, 0.0))
        for m in state_margins(model.job, found.state)
        if m.margin is not None and not (choice.shift and m.key.endswith("_tyres"))
    ]
    return min(known, key=lambda m: m.share or 0.0) if known else None


def _later(model: JobModel, choice: Choice) -> tuple[Later, ...]:
    """Return how it would stand once what is planned for later is on."""
    rows: list[Later] = []
    for change in model.job.planned:
        if choice.vehicle is None or change.state not in model.states:
            continue
        state = model.job.state(change.state)
        assert state is not None
        rise = rise_of(model, change, choice.vehicle)["rear"]
        rows.append(Later(words=f"{change.name}, in “{state.name}”", rear=rise))
    return tuple(rows)


def _bound(choice: Choice) -> tuple[Say, ...]:
    """Return what cannot be undone, and what is then given up."""
    found = []
    for kit in choice.kits:
        of = f"{kit.name}: " if len(choice.kits) > 1 else ""
        if kit.drilling:
            found.append(Say("{of}frame or axle is drilled; that stays.", {"of": of}))
        if kit.reversible is False:
            found.append(Say("{of}it does not come off without a trace.", {"of": of}))
        if kit.drilling is None and kit.reversible is None:
            found.append(Say("{of}nobody has said whether it can be undone.", {"of": of}))
        if kit.replaces_stop and not kit.own_stop:
            found.append(Say("{of}the stop goes, and it has none of its own.", {"of": of}))
        if family_of(kit).lifts and kit.gross_max_kg < HEAVIEST_USE:
            found.append(
                Say(
                    "{of}made for up to {m} gross; a heavier use later needs another.",
                    {"m": mass(kit.gross_max_kg), "of": of},
                )
            )
    return tuple(found)
