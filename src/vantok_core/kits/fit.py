"""A kit on a vehicle: fit checks before ordering, and the vehicle with it on (method section 5).

A check not yet measured is "to measure", never "pass".
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from math import exp

from vantok_core.base.num import G
from vantok_core.base.say import Say, in_turn, length, mass
from vantok_core.facts import Fitting, Job, JobState, Kit
from vantok_core.facts.classes import SPRINGS
from vantok_core.kits.already import without_already
from vantok_core.kits.checks import FitCheck, Status, rated_check, room_check
from vantok_core.kits.family import KIT_ELEMENT, Setting
from vantok_core.kits.registry import family_of
from vantok_core.kits.target import target_state
from vantok_core.kits.wishes import wish_checks
from vantok_core.loads.holding import Held
from vantok_core.loads.plan import state_margins
from vantok_core.model import JobModel
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import Vehicle
from vantok_core.rates.strength import with_strength


def all_checks(job: Job, kit: Kit) -> list[FitCheck]:
    """Return the checks of a kit on this vehicle, and what the customer wished of it. Raises FileFormatError for an unknown family."""
    return [*fit_checks(job, kit), *wish_checks(job, kit)]


def fit_checks(job: Job, kit: Kit) -> list[FitCheck]:
    """Return the checks of a kit on this vehicle, in the order one makes them. Raises FileFormatError for an unknown family."""
    own = [
        _spring_check(job, kit),
        _gross_check(job, kit),
        *_axle_check(job, kit),
        *_year_check(job, kit),
        *_hardware_checks(job, kit),
        *family_of(kit).checks(job, kit),
        _space_check(job, kit),
    ]
    return [*own, *_beside_check(job, kit)]


def standing_unfit(job: Job, n: int) -> tuple[FitCheck, ...]:
    """Return the checks that the n-th kit on a job (the first is 0) fails and no lead overruled: nothing of it is fitted or set until they are cured."""
    then = job.as_of(n + 1)
    part = job.parts[n]
    return tuple(
        c for c in fit_checks(then, part.kit) if c.status == "fail" and (c.final or c.key not in part.overruled)
    )


def _beside_check(job: Job, kit: Kit) -> list[FitCheck]:
    """Return that a kit of the same family is on the axle already, where one is: two do not go in one place."""
    same = [p.kit for p in job.earlier if (p.kit.family, p.kit.axle) == (kit.family, kit.axle)]
    if not same:
        return []
    why = Say(
        "{same} is on the {axle} axle already: set it anew, or take it off first.",
        {"same": same[0].name, "axle": kit.axle},
    )
    return [FitCheck(key="beside", words="beside what is on", status="fail", why=why, final=True)]


def _space_check(job: Job, kit: Kit) -> FitCheck:
    """Return whether there is room beside the tyre, and lines and exhaust stand clear; a kit that needs no room asks for the latter alone."""
    words, values = "space to tyre, brake and exhaust", {"space": length(kit.side_space_m)}
    sides = {"left": job.space_left_m, "right": job.space_right_m}
    known = [Say("{d} {side}", {"d": length(v), "side": side}) for side, v in sides.items() if v is not None]
    if job.lines == "close":
        why = Say("A line or the exhaust stands in its way: reroute it within the maker's rules first.")
        return FitCheck(key="space", words=words, status="fail", why=why, final=True)
    if not kit.side_space_m:
        why = Say(
            "Lines and exhaust stand clear." if job.lines else "Look whether lines and exhaust stand clear of it."
        )
        return FitCheck(key="space", words="lines and exhaust", status="pass" if job.lines else "measure", why=why)
    read = [value for value in sides.values() if value is not None]
    clear = " Lines and exhaust stand clear." if job.lines else ""
    why = Say("Read {said}; {space} is needed.{clear}", {**values, "said": in_turn(known, " and "), "clear": clear})
    if read:
        found = room_check("space", words, why, (min(read), min(read)), kit.side_space_m, final=True)
        if found.status == "fail" or (len(read) == 2 and job.lines):
            return found
    why = Say(
        "Measure frame to tyre sidewall with the tyre's bulge; {space} is needed. Look at exhaust and lines.", values
    )
    return FitCheck(key="space", words=words, status="measure", why=why)


def _spring_check(job: Job, kit: Kit) -> FitCheck:
    own = job.vehicle.front_spring if kit.axle == "front" else job.vehicle.rear_spring
    if own is None:
        every = set(SPRINGS) - {"coupling"} <= set(kit.springs)
        why = Say("It goes with any." if every else "The {axle} suspension is not recorded.", {"axle": kit.axle})
        return FitCheck(key="spring", words="spring type", status="pass" if every else "measure", why=why)
    fits = own in kit.springs
    listed = "; ".join(SPRINGS[s].words for s in kit.springs if s in SPRINGS)
    why = Say("{spring}; the kit is made for: {listed}.", {"spring": SPRINGS[own].words.capitalize(), "listed": listed})
    return FitCheck(key="spring", words="spring type", status="pass" if fits else "fail", why=why, final=True)


def _gross_check(job: Job, kit: Kit) -> FitCheck:
    gross = job.vehicle.gross_kg
    values = {"low": mass(kit.gross_min_kg), "high": mass(kit.gross_max_kg)}
    if gross is None:
        why = Say("The gross rating is not recorded; this variant is for {low} to {high}.", values)
        return FitCheck(key="variant", words="variant by gross mass", status="measure", why=why)
    if "gross_kg" in job.vehicle.defaults:
        why = Say(
            "{gross} is a starting estimate, no plate: read it; this variant is for {low} to {high}.",
            values | {"gross": mass(gross)},
        )
        return FitCheck(key="variant", words="variant by gross mass", status="measure", why=why)
    fits = kit.gross_min_kg <= gross <= kit.gross_max_kg
    why = Say("This variant is for {low} to {high}; its gross rating is {gross}.", values | {"gross": mass(gross)})
    return FitCheck(
        key="variant", words="variant by gross mass", status="pass" if fits else "fail", why=why, final=True
    )


def _axle_check(job: Job, kit: Kit) -> list[FitCheck]:
    """Return whether the axle it stands on is one its maker allows, by the heaviest state; nothing where its maker names none."""
    if kit.axle_max_kg is None:
        return []
    key, words = f"{kit.axle}_axle", "its own axle limit"
    loads = [(s, m) for s in job.states for m in state_margins(job, s) if m.key == key and m.load is not None]
    if not loads:
        why = Say(
            "It is made for {high} at most on the {axle} axle, whose load nobody knows: weigh it.",
            {"high": mass(kit.axle_max_kg), "axle": kit.axle},
        )
        return [FitCheck(key="axle", words=words, status="measure", why=why)]
    state, m = max(loads, key=lambda one: one[1].load or 0.0)
    held = Held(name=words, limit=kit.axle_max_kg, load=m.load or 0.0, sigma=m.sigma)
    return [rated_check("axle", words, held, state.name)]


def rated_checks(kit: Kit, state: JobState, loaded: StateReport) -> list[FitCheck]:
    """Return whether the pair presses with no more than its maker rates it for; loaded: the state's report with the kit on."""
    sides = loaded.elements.get(KIT_ELEMENT)
    if kit.rated_kg is None or not sides:
        return []
    load = sum(float(side.force) for side in sides.values()) / G
    held = Held(name="its rating", limit=kit.rated_kg, load=load, sigma=kit.strength_sigma * load)
    return [rated_check("rated", "its own rating", held, f"{state.name}, the pair presses with")]


def _year_check(job: Job, kit: Kit) -> list[FitCheck]:
    """Return whether the vehicle is of the years a kit is made for, where it names some."""
    if kit.years is None:
        return []
    made, year = f"made for {kit.years[0]} to {kit.years[1]}", job.vehicle.year
    if year is None:
        return [
            FitCheck(
                key="years",
                words="model year",
                status="measure",
                why=Say("The model year is not recorded; this variant is {made}.", {"made": made}),
            )
        ]
    fits = kit.years[0] <= year <= kit.years[1]
    return [
        FitCheck(
            key="years",
            words="model year",
            status="pass" if fits else "fail",
            why=Say("The vehicle is of {year}; this variant is {made}.", {"year": year, "made": made}),
        )
    ]


HARDWARE: dict[bool | None, tuple[Status, str]] = {
    None: ("measure", "Look, and note it under the sizes that kits ask for: "),
    True: ("pass", "The vehicle has it: "),
    False: ("fail", "The vehicle does not have it: "),
}


def _hardware_checks(job: Job, kit: Kit) -> list[FitCheck]:
    """Return whether the vehicle has what the variant is made for, by each line of it that was looked at."""
    found = []
    for n, line in enumerate(kit.hardware):
        status, why = HARDWARE[job.vehicle.hardware.get(line)]
        said = Say("{why}{line}.", {"why": why, "line": line})
        found.append(FitCheck(key=f"hardware-{n}", words="variant by what is there", status=status, why=said))
    return found


DROOP_LEAST, RISE_WORTH = 0.020, 0.020
"""Droop that must be left with the kit on (m), and the rise of the empty vehicle from which it is worth asking (m)."""


def droop_checks(job: Job, kit: Kit, reference: StateReport) -> list[FitCheck]:
    """Return whether the wheels of the empty vehicle (or as it stands) still hang free with a kit on: it must not top out.

    Formula: droop measured without it, less the hub's rise with it. Arguments: reference: its report with the kit on. Source: own
    derivation: what the spring lifts the body by, the wheel has less to hang.
    """
    droop = job.vehicle.front_droop_m if kit.axle == "front" else job.vehicle.rear_droop_m
    corners = ("FL", "FR") if kit.axle == "front" else ("RL", "RR")
    rise = max(-float(reference.hub_drop[c]) for c in corners)
    values = {"rise": length(rise)}
    if droop is None:
        if rise < RISE_WORTH:
            return []
        why = Say(
            "It raises the unladen vehicle by {rise}: hang the wheel and read how far it goes down (Vehicle, droop).",
            values,
        )
        return [FitCheck(key="droop", words="droop to spare", status="measure", why=why)]
    left = droop - rise
    values |= {"droop": length(droop), "left": length(left, signed=True)}
    why = Say("It hangs {droop}, and the kit raises it by {rise}: {left} remains before it tops out.", values)
    return [room_check("droop", "droop to spare", why, (left, left), DROOP_LEAST)]


def with_kit(
    job: Job, vehicle: Vehicle, kit: Kit, setting: Setting | None = None, *, state: str | None = None
) -> Vehicle:
    """Return the vehicle with a kit on it.

    Arguments: setting: by name, left and right, SI; without one the family's lowest; state: where it is set. Reference heights come
    from the readings, else from the middle of the kit's window.
    """
    axle = family_of(kit).fitted(job, kit, vehicle.axle(kit.axle), setting or {}, state)
    return replace(vehicle, front=axle) if kit.axle == "front" else replace(vehicle, rear=axle)


def fitted_vehicle(model: JobModel, fitting: Fitting, vehicle: Vehicle | None = None) -> Vehicle:
    """Return the vehicle (the model's own unless another is given) with the job's kit at its entered setting, in place of one that was on;
    as strong as the model has learned it to be."""
    base = without_already(model, vehicle)[0]
    found = with_kit(model.job, base, fitting.kit, fitting.setting, state=set_in(model, fitting))
    return with_strength(found, model.estimate.strength)


def weaker_vehicle(model: JobModel, fitting: Fitting) -> Vehicle:
    """Return the vehicle with a kit a sigma weaker than its data has it: what their spread does to the heights."""
    weaker = family_of(fitting.kit).scaled(fitting.kit, exp(-fitting.kit.strength_sigma))
    return fitted_vehicle(model, fitting.model_copy(update={"kit": weaker}))


def set_in(model: JobModel, fitting: Fitting) -> str:
    """Return the state a kit is set in: as noted, else the one its target is wanted in."""
    return fitting.state if fitting.state in model.states else target_state(model)


def kept_within(kit: Kit, setting: Mapping[str, tuple[float, float]]) -> dict[str, tuple[float, float]]:
    """Return a setting (SI) kept within the kit's limits, in what it is set by; anything else is left out."""
    spans = family_of(kit).spans(kit)
    return {
        name: (min(max(left, spans[name].low), spans[name].high), min(max(right, spans[name].low), spans[name].high))
        for name, (left, right) in setting.items()
        if name in spans
    }
