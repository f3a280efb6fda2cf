"""What each choice would do: do nothing, move the load, and each kit on the shelf at its solved setting.

Source: method section 5. Limits come first: over one, the load is moved or removed, whatever the kits promise.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from vantok_core.catalogue import Kit
from vantok_core.errors import VantokError
from vantok_core.job import Job, JobState
from vantok_core.kits.fit import KIT_ELEMENT, FitCheck, fit_checks, spacer_stack, unspaced_gap, with_kit
from vantok_core.kits.target import TargetDrop, target_drop, target_state
from vantok_core.model import JobModel
from vantok_core.plan import reach, state_margins
from vantok_core.rates.estimate import Place, Prediction
from vantok_core.say import Quantity, Say, length, mass
from vantok_core.setting import set_gaps, set_pressures
from vantok_core.stance.report import StateReport
from vantok_core.suggest import Move, clearing_moves, moves
from vantok_core.vehicle import CORNERS, Item, Vehicle

TOUCHING = 0.002
"""A stop gap read at or under this (m) counts as touching: no gauge tells it from nought."""
MET = 0.012
"""A target counts as met within this much (m)."""
GAUGE_STEP = 5000.0
"""The gauge's step, Pa."""
FORWARD_PLACE = 0.40
"""How far forward load can usually go where no cab is in the way: share of the wheelbase behind the front axle."""

WEIGHTS = {"target": 0.40, "empty_ride": 0.20, "stop_gap": 0.10, "range": 0.10, "cost": 0.12, "upkeep": 0.08}
WEIGHT_WORDS = {
    "target": "distance to the target, loaded", "empty_ride": "empty stance and ride left alone",
    "stop_gap": "stop gap left, loaded", "range": "range of loads served", "cost": "cost fitted", "upkeep": "upkeep",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """One choice with what the model says of it; reports are None where it could not be solved."""

    key: str
    name: str
    kind: Literal["nothing", "move", "kit"]
    kit: Kit | None = None
    out: tuple[Say, ...] = ()
    checks: tuple[FitCheck, ...] = ()
    notes: tuple[Say, ...] = ()
    pressure: tuple[float, float] | None = None
    gap: tuple[float, float] | None = None
    spacers: tuple[tuple[float, ...], tuple[float, ...]] | None = None
    vehicle: Vehicle | None = None
    loaded: StateReport | None = None
    empty: StateReport | None = None
    drop: Prediction | None = None
    miss: float | None = None
    scores: dict[str, float] = field(default_factory=dict)

    @property
    def score(self) -> float:
        """Weighted sum of the criteria, 0 to 1."""
        return sum(WEIGHTS[name] * value for name, value in self.scores.items())

    @property
    def meets(self) -> bool:
        """Whether it brings the rear to the target."""
        return self.miss is not None and abs(self.miss) <= MET


@dataclass(frozen=True, slots=True, kw_only=True)
class Shortlist:
    """All choices, best first, those that are out last; the recommended key; the target; over-limit lines."""

    state: JobState
    target: TargetDrop
    choices: tuple[Choice, ...]
    recommended: str
    reason: Say
    over: tuple[Say, ...]
    moves: tuple[Move, ...]

    def choice(self, key: str) -> Choice | None:
        """Return a choice by key."""
        return next((c for c in self.choices if c.key == key), None)


def shortlist(model: JobModel, kits: Sequence[Kit]) -> Shortlist:
    """Return every choice judged against the job's target in its loaded state."""
    job = model.job
    key = target_state(model)
    state = next(s for s in job.states if s.key == key)
    plain = model.solve()
    target = target_drop(model, plain[key])
    over = over_limits(job, state)
    nothing = _nothing(model, plain, key, target)
    moved = _move(model, state, key, target, plain)
    fitted = [evaluate_kit(model, kit, key, target, plain) for kit in kits]
    ranked = sorted(fitted, key=_rank)
    recommended, reason = _recommend(
        over, nothing, moved, ranked, _against_nothing(model, key, target) if nothing.meets else None
    )
    return Shortlist(
        state=state, target=target, choices=(nothing, moved, *ranked), recommended=recommended,
        reason=reason, over=tuple(over), moves=tuple(moves(job, state, furthest_forward(job))),
    )  # fmt: skip


def over_limits(job: Job, state: JobState) -> list[Say]:
    """Return a line for each limit the state is over."""
    return [
        Say(f"{m.name.capitalize()} is {{over}} over its limit.", {"over": mass(-m.margin)})
        for m in state_margins(job, state)
        if m.margin is not None and m.over
    ]


def furthest_forward(job: Job) -> float:
    """Return the foremost station (m) that load can go to: behind the cab's wall, where there is one."""
    place = reach(job)
    return max(FORWARD_PLACE * (job.vehicle.base_m or 0.0), place.wall if place else 0.0)


def _rank(choice: Choice) -> tuple[bool, bool, float]:
    """Return how choices are ranked: those that fit, of them those that reach the target by their score, the rest by their miss."""
    reaches = choice.meets
    return (
        bool(choice.out),
        not reaches,
        -choice.score if reaches else abs(choice.miss if choice.miss is not None else 1.0),
    )


def _against_nothing(model: JobModel, key: str, target: TargetDrop) -> Say | None:
    """Return what the tape or the stop gauge says against doing nothing, though the model finds the height met; else None."""
    job, state = model.job, model.job.state(key)
    assert state is not None and job.empty is not None
    gaps = [r for c in CORNERS if (r := job.read(key, c, "stop_gap"))]
    if gaps and min(r.value_m for r in gaps) <= TOUCHING:
        return Say("It stands on its bump stop as it is used: doing nothing leaves it there.")
    before, now = (model.read_mean(k, "rear", "ground_arch") for k in (job.empty.key, key))
    if before is not None and now is not None and before - now - target.drop > MET:
        read = {"sag": length(before - now), "wanted": length(target.drop)}
        text = (
            "The tape reads a rear sag of {sag} where {wanted} is wanted: settle that before anything is left as it is."
        )
        return Say(text, read)
    return None


def _recommend(
    over: list[Say], nothing: Choice, moved: Choice, ranked: list[Choice], against: Say | None
) -> tuple[str, Say]:
    able = [c for c in ranked if not c.out and c.miss is not None]
    if over:
        return "move", Say(
            "Over a limit: move or remove load first. No kit raises a rating, whatever its label claims."
        )
    if nothing.meets and against is None:
        return "nothing", Say("The loaded height is already where it is wanted; a helper would only add stiffness.")
    if moved.meets:
        return "move", Say("Moving the load does it without a part.")
    if able and able[0].meets:
        return able[0].key, against or Say(
            "It reaches the target, and of those that do it has the best sum of all criteria."
        )
    if able:
        miss = able[0].miss or 0.0
        way = "low" if miss > 0 else "high"
        values = {"miss": length(abs(miss))}
        text = f"Nothing on the shelf reaches the target: {able[0].name} comes nearest and leaves the rear {{miss}} {way} of it."
        return "", against or Say(text, values)
    return "", Say("Nothing on the shelf fits; see why each is out, or measure what is still to measure.")


def _nothing(model: JobModel, plain: dict[str, StateReport], key: str, target: TargetDrop) -> Choice:
    report = plain[key]
    return Choice(
        key="nothing", name="Do nothing", kind="nothing", vehicle=model.vehicle, loaded=report, empty=_empty(model, plain),
        drop=model.estimate.drop(key, Place("rear", "ground")), miss=float(report.d_r) - target.drop,
    )  # fmt: skip


def _empty(model: JobModel, reports: dict[str, StateReport]) -> StateReport:
    assert model.job.empty is not None
    return reports[model.job.empty.key]


def _move(model: JobModel, state: JobState, key: str, target: TargetDrop, plain: dict[str, StateReport]) -> Choice:
    """Return what the best single move of an item would do; without one, what a move does in general, or why none is left."""
    found = moves(model.job, state, furthest_forward(model.job))
    if not found:
        if state.items:
            none = Say("Nothing on the plan can go further forward: it stands there, or the cab's wall is in the way.")
            return Choice(key="move", name="Take load off", kind="move", notes=(none,))
        each = Say("No item is on the plan. Each {m} moved {d} forward takes {r} off the rear axle.", {
            "m": mass(100.0), "d": length(1.0), "r": mass(100.0 / model.vehicle.wheelbase)})  # fmt: skip
        return Choice(key="move", name="Move the load", kind="move", notes=(each,))
    clearing = clearing_moves(model.job, state)
    move = clearing[0] if clearing else found[0]
    items = (
        Item(mass=-move.item.mass_kg, station=move.item.station_m, lateral=move.item.lateral_m, name="from"),
        Item(
            mass=move.item.mass_kg, station=move.item.station_m - move.forward, lateral=move.item.lateral_m, name="to"
        ),
    )
    report = _with_items(model, key, items)
    note = Say(
        f"Move {move.item.name} ({{m}}) {{d}} forward: {{r}} off the rear axle and onto the front.",
        {"m": mass(move.item.mass_kg), "d": length(move.forward), "r": mass(move.relief)},
    )
    return Choice(
        key="move", name="Move the load", kind="move", notes=(note,), vehicle=model.vehicle, loaded=report,
        empty=_empty(model, plain), miss=float(report.d_r) - target.drop,
        drop=Prediction(value=float(report.d_r), sigma=model.estimate.drop(key, Place("rear", "ground")).sigma),
    )  # fmt: skip


def _with_items(model: JobModel, key: str, items: tuple[Item, ...]) -> StateReport:
    states = dict(model.states)
    states[key] = replace(states[key], items=(*states[key].items, *items))
    return replace(model, states=states).solve()[key]


def evaluate_kit(model: JobModel, kit: Kit, key: str, target: TargetDrop, plain: dict[str, StateReport]) -> Choice:
    """Return a kit at its solved setting, with its checks, predictions and scores."""
    checks = fit_checks(model.job, kit)
    out = [Say(f"{c.words.capitalize()}: " + c.why.template, c.why.values) for c in checks if c.status == "fail"]
    if kit.axle == "front":
        out.append(Say("It lifts the front; the height wanted is one at the rear, which it does not bring."))
        return Choice(key=kit.code, name=kit.name, kind="kit", kit=kit, out=tuple(out), checks=tuple(checks))
    try:
        if kit.family == "air_spring":
            setting = _set_air(model, kit, key, target.drop)
        else:
            setting = _set_insert(model, kit, key, target.drop)
        reports = model.solve(setting.vehicle)
    except VantokError as error:
        return Choice(
            key=kit.code,
            name=kit.name,
            kind="kit",
            kit=kit,
            out=(*out, Say(str(error))),
            checks=tuple(checks),
        )
    loaded, empty = reports[key], _empty(model, reports)
    miss = float(loaded.d_r) - target.drop
    return Choice(
        key=kit.code, name=kit.name, kind="kit", kit=kit, out=tuple(out), checks=tuple(checks), notes=setting.notes,
        pressure=setting.pressure, gap=setting.gap, spacers=setting.spacers, vehicle=setting.vehicle, loaded=loaded,
        empty=empty, drop=model.estimate.drop(key, Place("rear", "ground"), setting.vehicle), miss=miss,
        scores=_scores(model, kit, miss, loaded, empty, _empty(model, plain)),
    )  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class _Set:
    vehicle: Vehicle
    notes: tuple[Say, ...] = ()
    pressure: tuple[float, float] | None = None
    gap: tuple[float, float] | None = None
    spacers: tuple[tuple[float, ...], tuple[float, ...]] | None = None


def _set_air(model: JobModel, kit: Kit, key: str, drop: float) -> _Set:
    """Return the pressures for the target, kept within the kit's limits, with what that means in the other states."""
    low, high = kit.p_min_pa or 0.0, kit.p_max_pa or 1e6
    notes: list[Say] = []
    try:
        start = with_kit(model.job, model.vehicle, kit, state=key)
        found = set_pressures(
            start,
            list(model.states.values()),
            element=KIT_ELEMENT,
            state=key,
            target=(drop, drop),
            gauge_step=GAUGE_STEP,
        )
        wanted = found.rounded
    except VantokError:
        wanted = _nearest_end(model, kit, key, drop)
    pressure = (min(max(wanted[0], low), high), min(max(wanted[1], low), high))
    limits = {"low": Quantity(low, "pressure"), "high": Quantity(high, "pressure")}
    if max(wanted) > high:
        notes.append(Say("The target asks for more than its maximum of {high}; held there, it falls short.", limits))
    if min(wanted) < low:
        notes.append(
            Say("The target asks for less than its minimum of {low}; kept there, it stands a little high.", limits)
        )
    vehicle = with_kit(model.job, model.vehicle, kit, pressure=pressure, state=key)
    notes += _empty_pressure(model, vehicle, low)
    return _Set(vehicle=vehicle, pressure=pressure, notes=tuple(notes))


def _nearest_end(model: JobModel, kit: Kit, key: str, drop: float) -> tuple[float, float]:
    """Return the limit pressure that comes nearest to an unreachable target."""
    ends = ((kit.p_min_pa or 0.0,) * 2, (kit.p_max_pa or 1e6,) * 2)

    def miss(pressure: tuple[float, float]) -> float:
        vehicle = with_kit(model.job, model.vehicle, kit, pressure=pressure, state=key)
        return abs(float(model.solve(vehicle)[key].d_r) - drop)

    return min(ends, key=miss)


def _empty_pressure(model: JobModel, vehicle: Vehicle, low: float) -> list[Say]:
    sides = _empty(model, model.solve(vehicle)).elements[KIT_ELEMENT]
    pressures = [float(side.pressure or 0.0) for side in sides.values()]
    if min(pressures) < low:
        return [
            Say(
                "Unloaded with the valves shut it would fall to {p}, under the minimum of {low}: the bag could pinch. "
                "Set it again when empty.",
                {"p": Quantity(min(pressures), "pressure"), "low": Quantity(low, "pressure")},
            )
        ]
    return []


def _set_insert(model: JobModel, kit: Kit, key: str, drop: float) -> _Set:
    """Return the spacer stacks whose gap comes nearest to the target, within the kit's window."""
    notes: list[Say] = []
    bare = unspaced_gap(model.job, kit)
    start = with_kit(model.job, model.vehicle, kit)
    try:
        found = set_gaps(start, list(model.states.values()), element=KIT_ELEMENT, state=key, target=(drop, drop))
        wanted = found.exact
    except VantokError:
        wanted = (kit.gap_min_m, kit.gap_min_m)
        notes.append(Say("No gap of this insert reaches the target; the smallest it allows is shown."))
    held = tuple(min(max(g, kit.gap_min_m), kit.gap_max_m) for g in wanted)
    if max(held[0] - wanted[0], held[1] - wanted[1]) > 0.001:
        notes.append(
            Say(
                "The target asks for a gap of {g}; the kit allows {low} at least.",
                {"g": length(min(wanted)), "low": length(kit.gap_min_m)},
            )
        )
    stacks = (spacer_stack(kit, max(bare[0] - held[0], 0.0)), spacer_stack(kit, max(bare[1] - held[1], 0.0)))
    gap = (bare[0] - sum(stacks[0]), bare[1] - sum(stacks[1]))
    return _Set(vehicle=with_kit(model.job, model.vehicle, kit, gap=gap), gap=gap, spacers=stacks, notes=tuple(notes))


def _scores(
    model: JobModel, kit: Kit, miss: float, loaded: StateReport, empty: StateReport, empty_plain: StateReport
) -> dict[str, float]:
    """Return each criterion from 0 (poor) to 1 (good)."""
    rise = abs(float(empty.d_r))
    stiffer = float(empty.ride_frequency["RL"]) / max(float(empty_plain.ride_frequency["RL"]), 0.1) - 1.0
    gaps = [float(s.gap_left) for e in loaded.elements.values() for s in e.values() if s.gap_left is not None]
    fraction = {"air_spring": 1.0, "insert": 0.6}
    return {
        "target": _falling(abs(miss), 0.040),
        "empty_ride": 0.5 * _falling(rise, 0.050) + 0.5 * _falling(max(stiffer, 0.0), 0.5),
        "stop_gap": 1.0 if not gaps else min(max(min(gaps) / 0.03, 0.0), 1.0) if kit.family == "air_spring" else 0.6,
        "range": fraction[kit.family],
        "cost": _falling(kit.price + 80.0 * kit.hours, 1500.0),
        "upkeep": _falling(kit.upkeep_per_year, 60.0),
    }


def _falling(value: float, worst: float) -> float:
    return max(1.0 - value / worst, 0.0)
