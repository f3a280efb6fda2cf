"""What each choice would do: do nothing, move the load, and each kit on the shelf at its solved setting.

Source: method section 5. Limits come first: over one, the load is moved or removed, whatever the kits promise.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import partial
from math import hypot

from vantok_core.base.errors import VantokError
from vantok_core.base.figure import Figure
from vantok_core.base.say import Quantity, Say, length, mass
from vantok_core.facts import Job, JobState, Kit
from vantok_core.facts.classes import BODIES
from vantok_core.kits.already import without_already
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.choice import MET, Choice, Shortlist
from vantok_core.kits.damping_left import with_dampers_told
from vantok_core.kits.family import KIT_ELEMENT, Setting, least
from vantok_core.kits.fit import all_checks, droop_checks, rated_checks, with_kit
from vantok_core.kits.later import with_planned
from vantok_core.kits.ranking import by_weights, scores, weights_of
from vantok_core.kits.registry import family_of
from vantok_core.kits.screen import screened
from vantok_core.kits.sides import solve_for
from vantok_core.kits.target import TargetDrop, target_drop, target_state
from vantok_core.kits.tow import hitched, less_tongue
from vantok_core.kits.wishes import empty_ride_kept
from vantok_core.loads.moves import clearing_moves, movable, moves
from vantok_core.loads.plan import reach, state_margins
from vantok_core.model import JobModel
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import CORNERS, Item, Vehicle
from vantok_core.rates.places import Place

TOUCHING = 0.002
"""A stop gap read at or under this (m) counts as touching: no gauge tells it from nought."""
ANOTHER_VEHICLES = ("spring", "variant", "years", *(f"hardware-{n}" for n in range(6)))
"""Checks that a kit of another vehicle fails: nothing is predicted of it here."""
FORWARD_PLACE = 0.40
"""How far forward load can usually go where no cab is in the way: share of the wheelbase behind the front axle."""


def shortlist(model: JobModel, kits: Sequence[Kit]) -> Shortlist:
    """Return every choice judged against the job's target in its loaded state."""
    job = model.job
    key = target_state(model)
    state = next(s for s in job.states if s.key == key)
    plain = model.solve()
    target = target_drop(model, key)
    over = over_limits(job, state)
    nothing = _nothing(model, plain, key, target)
    moved = _move(model, state, key, target, plain)
    lighter = less_tongue(model, state, target, _empty(model, plain))
    bare = without_already(model)
    on = frozenset(part.kit.code for part in job.parts)
    lift = max(float(plain[key].d_r) - target.drop, 0.0)
    force = model.lifting_force(key, "rear", lift)
    worked, ruled, further = screened(job, kits, force, always=on)
    fitted = [evaluate_kit(model, kit, key, target, bare, checks) for kit, checks in worked]
    fitted += [_ruled_out(kit, checks) for kit, checks in ruled]
    fitted = with_dampers_told(job, _right_ones_named(fitted), model.solve(model.bare)[key])
    choices = [nothing, *_taken_off(model, key, target, bare), moved, *((lighter,) if lighter else ()), *fitted]
    against = _against_nothing(model, key, target) if nothing.meets else None
    found = Shortlist(
        state=state,
        target=target,
        choices=tuple(with_planned(model, state, choices)),
        recommended="",
        reason=Say(""),
        over=tuple(over),
        moves=tuple(moves(job, state, furthest_forward(job))),
        against=against,
        further=tuple(further),
        takes=_takes(force, lift),
    )
    return by_weights(found, weights_of(job))


def _takes(force: float, lift: float) -> Say | None:
    """Return what a lift (m) takes of whatever presses (force: N a side), with the springs' own rate over it; None where there is nothing to lift."""
    if lift < SPARE or force <= 0.0:
        return None
    values = {"f": Quantity(force, "force"), "lift": length(lift), "rate": Quantity(force / lift, "rate")}
    return Say("That takes about {f} a side at the wheel: {lift} against the springs’ own {rate}.", values)


SPARE = 0.003
"""A lift (m) too small to speak of the force it takes."""


def _ruled_out(kit: Kit, checks: tuple[FitCheck, ...]) -> Choice:
    """Return a kit that its data rule out, with the reasons; nothing is predicted of it."""
    out = tuple(c.told for c in checks if c.status == "fail")
    return Choice(key=kit.code, name=kit.name, kind="kit", kit=kit, out=out, checks=checks)


def _right_ones_named(choices: list[Choice]) -> list[Choice]:
    """Return the choices, one that is out as a wrong variant with the right one of its maker and family named, where the shelf has it."""
    right: dict[tuple[str, str, str], list[str]] = {}
    for c in choices:
        if c.kit and not c.out:
            right.setdefault(_like(c.kit), []).append(c.name)
    return [replace(c, out=(*c.out, *_instead(c, right))) if _wrong_variant(c) else c for c in choices]


def _wrong_variant(choice: Choice) -> bool:
    return any(c.key in ANOTHER_VEHICLES[1:] and c.status == "fail" for c in choice.checks)


def _like(kit: Kit) -> tuple[str, str, str]:
    return kit.family, kit.axle, kit.maker


def _instead(wrong: Choice, right: Mapping[tuple[str, str, str], list[str]]) -> list[Say]:
    """Return the right ones of a wrong variant's maker and family, the first few of them."""
    names = right.get(_like(wrong.kit), [])[:NAMED] if wrong.kit else []
    return [Say("For this vehicle: {names}.", {"names": ", ".join(names)})] if names else []


NAMED = 4
"""Right variants named for a wrong one (setting)."""


def over_limits(job: Job, state: JobState) -> list[Say]:
    """Return a line for each limit the state is over."""
    return [
        Say("{name} is {over} over its limit.", {"over": mass(-(m.margin or 0.0)), "name": m.name.capitalize()})
        for m in state_margins(job, state)
        if m.over
    ]


def furthest_forward(job: Job) -> float:
    """Return the foremost station (m) that load can go to: behind the cab's wall, where there is one."""
    place = reach(job)
    return max(FORWARD_PLACE * (job.vehicle.base_m or 0.0), place.wall if place else 0.0)


def _against_nothing(model: JobModel, key: str, target: TargetDrop) -> Say | None:
    """Return what the tape or the stop gauge says against doing nothing, though the model finds the height met; else None."""
    job, state = model.job, model.job.state(key)
    assert state is not None and job.empty is not None
    gaps = [r for c in CORNERS if (r := job.stood(key, c, "stop_gap"))]
    if gaps and min(r.value_m for r in gaps) <= TOUCHING:
        return Say("It stands on its bump stop as it is used: doing nothing leaves it there.")
    before = model.read_mean(job.empty.key, "rear", "ground_arch")
    stood = [r.value_m for c in ("RL", "RR") if (r := job.stood(key, c, "ground_arch"))]
    now = sum(stood) / 2 if len(stood) == 2 else None
    if before is not None and now is not None and before - now - target.drop > MET:
        read = {"sag": length(before - now), "wanted": length(target.drop)}
        text = (
            "The tape reads a rear sag of {sag} where {wanted} is wanted: settle that before anything is left as it is."
        )
        return Say(text, read)
    return None


def _nothing(model: JobModel, plain: dict[str, StateReport], key: str, target: TargetDrop) -> Choice:
    report, on = plain[key], model.job.already
    name = f"Keep what is on: {on.what}" if on else "Do nothing"
    if model.job.earlier:
        name = f"Nothing more: leave {', '.join(part.kit.name for part in model.job.earlier)} on"
    return Choice(
        key="nothing",
        name=name,
        kind="nothing",
        vehicle=model.vehicle,
        loaded=report,
        empty=_empty(model, plain),
        drop=model.estimate.drop(key, Place("rear", "ground"), model.on),
        miss=float(report.d_r) - target.drop,
    )


def unladen(model: JobModel) -> str:
    """Return the key of the reference state: empty, or as it came."""
    assert model.job.empty is not None
    return model.job.empty.key


def _empty(model: JobModel, reports: dict[str, StateReport]) -> StateReport:
    return reports[unladen(model)]


def _move(model: JobModel, state: JobState, key: str, target: TargetDrop, plain: dict[str, StateReport]) -> Choice:
    """Return what the best single move of an item would do; without one, what a move does in general, or why none is left."""
    found = moves(model.job, state, furthest_forward(model.job))
    if not found:
        if state.items and not movable(state):
            none = Say(
                "Nothing on the plan is marked as a thing that can be moved: mark on Weigh what can, and it is tried."
            )
            return Choice(key="move", name="Move the load", kind="move", notes=(none,))
        if state.items:
            none = Say(
                "Nothing on the plan can go further forward: it stands there, the cab's wall is in the way, or no zone has "
                "room for it. What is left: less load{or_else}.",
                {"or_else": ", less tongue load, or a hitch that gives load back" if state.hitched else ""},
            )
            return Choice(key="move", name="Take load off", kind="move", notes=(none,))
        each = Say(
            "No item is on the plan. Each {m} moved {d} forward takes {r} off the rear axle.",
            {"m": mass(100.0), "d": length(1.0), "r": mass(100.0 / model.vehicle.wheelbase)},
        )
        return Choice(key="move", name="Move the load", kind="move", notes=(each,))
    clearing = clearing_moves(model.job, state)
    move = clearing[0] if clearing else found[0]
    items = (
        Item(mass=-move.item.mass_kg, station=move.item.station_m, lateral=move.item.lateral_m, name="from"),
        Item(
            mass=move.item.mass_kg, station=move.item.station_m - move.forward, lateral=move.item.lateral_m, name="to"
        ),
    )
    loads = {**model.states, key: replace(model.states[key], items=(*model.states[key].items, *items))}
    report = replace(model, states=loads).solve()[key]
    ahead = "coupling, which is the ball" if BODIES[model.job.vehicle.body].trailer else "front"
    note = Say(
        "Move {item} ({m}) {d} forward {where}: {r} off the rear axle and onto the {ahead}.",
        {
            "m": mass(move.item.mass_kg),
            "d": length(move.forward),
            "r": mass(move.relief),
            "item": move.item.name,
            "where": move.zone.where,
            "ahead": ahead,
        },
    )
    return Choice(
        key="move",
        name="Move the load",
        kind="move",
        notes=(note,),
        vehicle=model.vehicle,
        loaded=report,
        empty=_empty(model, plain),
        miss=float(report.d_r) - target.drop,
        drop=Figure(value=float(report.d_r), sigma=model.estimate.drop(key, Place("rear", "ground"), model.on).sigma),
        loads=loads,
        shift=(move.relief, -move.relief),
    )


Bare = tuple[Vehicle, float]
"""The vehicle with what was on when it came taken off, and the sigma of a height that rests on it (m)."""


def _taken_off(model: JobModel, key: str, target: TargetDrop, bare: Bare) -> tuple[Choice, ...]:
    """Return what taking off what was on when it came would do; nothing where nothing was on."""
    if model.job.already is None:
        return ()
    name = f"Take off what is on: {model.job.already.what}"
    if bare[0] is model.vehicle:
        read = Say("What it does was not read on and off, or is not told apart from nothing: nothing is predicted.")
        return (Choice(key="remove", name=name, kind="nothing", notes=(read,)),)
    reports = model.solve(bare[0])
    drop = model.estimate.drop(key, Place("rear", "ground"), bare[0])
    return (
        Choice(
            key="remove",
            name=name,
            kind="nothing",
            vehicle=bare[0],
            loaded=reports[key],
            empty=_empty(model, reports),
            drop=Figure(value=drop.value, sigma=hypot(drop.sigma, bare[1])),
            miss=float(reports[key].d_r) - target.drop,
        ),
    )


def evaluate_kit(
    model: JobModel, kit: Kit, key: str, target: TargetDrop, bare: Bare | None = None, checked: Sequence[FitCheck] = ()
) -> Choice:
    """Return a kit at its solved setting, with its checks, predictions and scores; bare: the vehicle it goes on, the model's unless given; checked: its
    checks, where they were made."""
    base, rests = bare or (model.vehicle, 0.0)
    checks = list(checked or all_checks(model.job, kit))
    out = [c.told for c in checks if c.status == "fail"]
    if any(c.status == "fail" and c.key in ANOTHER_VEHICLES for c in checks):
        return _ruled_out(kit, tuple(checks))
    family = family_of(kit)
    if family.gives_back:
        state = model.job.state(key)
        assert state is not None
        unladen_plain = _empty(model, model.solve(model.bare))
        shift, gave = family.shift(model.job, kit, state), tuple(family.gave(model.job, kit, state))
        return hitched(model, state, target, unladen_plain, kit, tuple(checks), shift, gave)
    if kit.axle == "front" or not family.lifts:
        return _set_by_hand(model, kit, key, base, (checks, out))
    try:
        solved = solve_for(model, kit, partial(_at, model, base, kit, key), key, target.sides)
        vehicle = _at(model, base, kit, key, solved.setting)
        reports = model.solve(vehicle)
    except VantokError as error:
        return Choice(
            key=kit.code,
            name=kit.name,
            kind="kit",
            kit=kit,
            out=(*out, Say(str(error))),
            checks=tuple(checks),
        )
    loaded, empty, before = reports[key], _empty(model, reports), _empty(model, model.solve(model.bare))
    drop, empty_drop = drops_with(model, (key, unladen(model)), vehicle, {KIT_ELEMENT: kit.strength_sigma}, rests)
    miss = float(loaded.d_r) - target.drop
    state = model.job.state(key)
    assert state is not None
    rated = rated_checks(kit, state, loaded)
    ride = [*empty_ride_kept(model.job, empty, before), *droop_checks(model.job, kit, empty), *rated]
    checks += ride
    out += [c.told for c in ride if c.status == "fail"]
    unloaded = [] if model.job.never_empty else family.emptied(kit, empty)
    return Choice(
        key=kit.code,
        name=kit.name,
        kind="kit",
        kit=kit,
        out=tuple(out),
        checks=tuple(checks),
        notes=(*solved.notes, *family.does(model, kit, solved.setting, key), *unloaded, *_not_the_makers(kit)),
        setting=solved.setting,
        vehicle=vehicle,
        loaded=loaded,
        empty=empty,
        drop=drop,
        empty_drop=empty_drop,
        miss=miss,
        hour_price=model.job.hour_price,
        scores=scores(model, kit, key, miss, vehicle, loaded, empty),
    )


def _not_the_makers(kit: Kit) -> tuple[Say, ...]:
    """Return that a kit's data are nobody's, where they are not its maker's."""
    return (
        ()
        if kit.maker_data
        else (Say("Its data are not its maker's, but taken from a like kit: what it does is told in a wide band."),)
    )


def drops_with(
    model: JobModel, states: Sequence[str], vehicle: Vehicle, strengths: Mapping[str, float], rests: float = 0.0
) -> list[Figure]:
    """Return the rear drops in some states with kits on, whose strengths nobody has read (by element, sigma of ln a, a share); rests: sigma
    of what they stand on (m)."""
    found = model.estimate.drops_with(states, Place("rear", "ground"), vehicle, strengths, model.solved(vehicle))
    return [Figure(value=one.value, sigma=hypot(one.sigma, rests)) for one in found]


def _at(model: JobModel, base: Vehicle, kit: Kit, key: str, setting: Setting) -> Vehicle:
    """Return the vehicle with a kit on at a setting."""
    return with_kit(model.job, base, kit, setting, state=key)


def _set_by_hand(model: JobModel, kit: Kit, key: str, base: Vehicle, found: tuple[list[FitCheck], list[Say]]) -> Choice:
    """Return a kit that the height wanted at the rear does not set, at its least: a front kit, or one that lifts nothing."""
    family, (checks, out) = family_of(kit), found
    try:
        plain = model.solve(base)
        setting = _front_setting(model, kit, key, base, plain[key])
        vehicle = _at(model, base, kit, key, setting)
        reports = model.solve(vehicle) if family.lifts else plain
    except VantokError as error:
        return Choice(
            key=kit.code, name=kit.name, kind="kit", kit=kit, out=(*out, Say(str(error))), checks=tuple(checks)
        )
    empty = _empty(model, reports)
    ride = droop_checks(model.job, kit, empty) if family.lifts else []
    out = [
        *out,
        *(c.told for c in ride if c.status == "fail"),
    ]
    notes = family.does(model, kit, setting, key)
    if kit.axle == "front" and family.lifts:
        notes.append(_of_front(model, float(plain[key].d_f - reports[key].d_f)))
    return Choice(
        key=kit.code,
        name=kit.name,
        kind="kit",
        kit=kit,
        out=tuple(out),
        checks=(*checks, *ride),
        notes=tuple(notes),
        setting=setting,
        vehicle=vehicle,
        loaded=reports[key],
        empty=empty,
    )


def _front_setting(model: JobModel, kit: Kit, key: str, base: Vehicle, plain: StateReport) -> Setting:
    """Return the setting of a kit that the rear does not set: for the front as it is wanted, where that is said, else its least."""
    family, wanted = family_of(kit), model.job.target.front_raise_m
    if kit.axle != "front" or wanted is None or not family.lifts or not family.spans(kit):
        return least(family.spans(kit))
    drops = float(plain.ground_drop["FL"]) - wanted, float(plain.ground_drop["FR"]) - wanted
    return solve_for(model, kit, partial(_at, model, base, kit, key), key, drops).setting


def _of_front(model: JobModel, rise: float) -> Say:
    """Return what a front kit does to the front (rise: m), and what that means for the rear."""
    wanted = model.job.target.front_raise_m
    values = {"rise": length(rise, signed=True)}
    if wanted is None:
        text = (
            "It moves the front by {rise} at its least. The height wanted is one at the rear, which it does not bring: say what the front is to be "
            "raised by, or set it by hand, read the front, then choose the rear to suit it."
        )
        return Say(text, values)
    values |= {"wanted": length(wanted, signed=True), "off": length(rise - wanted, signed=True)}
    return Say(
        "It moves the front by {rise}, {off} from the {wanted} wanted. Fit it first, read the front, then choose the rear to suit it.",
        values,
    )
