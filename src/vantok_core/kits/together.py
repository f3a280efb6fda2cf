"""Several kits fitted together, taken as one option: what they do, what they take staged and at once, and what either way gives up.

Source: method section 9. All but the one that is set most finely stand at their least; that one is set for the height wanted.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import partial

from vantok_core.base.errors import InputError
from vantok_core.base.say import Say
from vantok_core.facts import Job, JobReading, Kit
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.choice import Choice, Shortlist
from vantok_core.kits.choose import drops_with, unladen
from vantok_core.kits.cost import FAMILY_ORDER, Bundle
from vantok_core.kits.family import KIT_ELEMENT, Setting, least, named
from vantok_core.kits.fit import all_checks, with_kit
from vantok_core.kits.hours import hours_of
from vantok_core.kits.ranking import scores
from vantok_core.kits.registry import family_of
from vantok_core.kits.sides import solve_for
from vantok_core.model import JobModel
from vantok_core.physics.vehicle import AXLE_CORNERS, Vehicle

SEPARATOR = "+"
"""Between the codes of kits that make one option."""
NEAR = 0.002
"""How near the height wanted is near enough not to set a further kit for it, m."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Together:
    """Kits as one option: the kits in the order they go on, each one's setting (SI), the option itself, and their hours."""

    kits: tuple[Kit, ...]
    settings: Mapping[str, Setting]
    choice: Choice
    hours: Bundle


def together(model: JobModel, found: Shortlist, kits: Sequence[Kit]) -> Together:
    """Return two or more kits as one option in the shortlist's state.

    Raises InputError where they cannot go together (two of one kind on an axle, too many, one that is out), and what the static solve
    raises. Source: method section 9.
    """
    kits = sorted(
        kits, key=lambda kit: (FAMILY_ORDER[family_of(kit).work], family_of(kit).range_served, kit.axle != "front")
    )
    if len(kits) < 2:
        raise InputError("kits", ", ".join(kit.name for kit in kits) or "none", "two or more of them make one option")
    hours = hours_of(kits)
    _none_gives_back(kits)
    for n, kit in enumerate(kits):
        if not _lifting_first(kits, n):
            _alone(found, kit)
    settings = _settings(model, found, kits)
    checks = _checked(model, found, kits, settings)
    vehicle = _all_on(model, found, kits, settings)
    reports = model.solve(vehicle)
    loaded, empty = reports[found.state.key], reports[unladen(model)]
    names = {_name(n): kit.strength_sigma for n, kit in enumerate(kits)}
    drop, empty_drop = drops_with(model, (found.state.key, unladen(model)), vehicle, names)
    miss = float(loaded.d_r) - found.target.drop
    notes = [note for kit in kits for note in family_of(kit).does(model, kit, settings[kit.code], found.state.key)]
    whole = kits[-1].model_copy(
        update={
            "price": sum(k.price for k in kits),
            "hours": hours.at_once,
            "upkeep_per_year": sum(k.upkeep_per_year for k in kits),
        }
    )
    choice = Choice(
        key=SEPARATOR.join(k.code for k in kits),
        name=", ".join(k.name for k in kits),
        kind="bundle",
        checks=tuple(checks),
        notes=tuple(notes),
        setting=settings[kits[-1].code],
        vehicle=vehicle,
        loaded=loaded,
        empty=empty,
        drop=drop,
        empty_drop=empty_drop,
        miss=miss,
        elements=tuple(names),
        hour_price=model.job.hour_price,
        scores=scores(model, whole, found.state.key, miss, vehicle, loaded, empty),
        with_it=tuple(kits),
    )
    return Together(kits=tuple(kits), settings=settings, choice=choice, hours=hours)


def _checked(model: JobModel, found: Shortlist, kits: Sequence[Kit], settings: Mapping[str, Setting]) -> list[FitCheck]:
    """Return the checks of all kits, each with those on that go on before it. Raises InputError for one that is then out."""
    checks: list[FitCheck] = []
    for n, kit in enumerate(kits):
        first = _lifting_first(kits, n)
        raised = _raised(model, found, first, settings) if first else None
        own = all_checks(raised, kit) if raised is not None else _alone(found, kit)
        failed = next((c for c in own if c.status == "fail"), None)
        if failed is not None:
            raise InputError("kits", kit.name, failed.told)
        checks += own
    return checks


def _alone(found: Shortlist, kit: Kit) -> tuple[FitCheck, ...]:
    """Return a kit's checks by itself. Raises InputError where it is out."""
    alone = found.choice(kit.code)
    if alone is not None and alone.out:
        raise InputError("kits", kit.name, alone.out[0])
    return alone.checks if alone is not None else ()


def _none_gives_back(kits: Sequence[Kit]) -> None:
    """Raise InputError for a kit that moves load instead of standing on an axle."""
    if giving := [kit.name for kit in kits if family_of(kit).gives_back]:
        raise InputError(
            "kits",
            giving[0],
            "it moves load: enter on Weigh, Trailer what it gives back, and the others are judged with it",
        )


def _lifting_first(kits: Sequence[Kit], n: int) -> list[Kit]:
    """Return the kits that raise the axle of the n-th before it goes on."""
    return [kit for kit in kits[:n] if kit.axle == kits[n].axle and family_of(kit).lifts]


def _raised(model: JobModel, found: Shortlist, first: Sequence[Kit], settings: Mapping[str, Setting]) -> Job:
    """Return the job as it stands with some kits on: what was read between axle and frame, unladen, wider by what they lift there."""
    key, axle = unladen(model), first[0].axle
    with_them, without = (model.solve(one)[key] for one in (_all_on(model, found, first, settings), model.vehicle))
    rise = {c: float(without.hub_drop[c] - with_them.hub_drop[c]) for c in AXLE_CORNERS[axle]}

    def wider(read: JobReading) -> JobReading:
        if read.state != key or read.datum not in BETWEEN or read.place not in rise:
            return read
        return read.model_copy(update={"value_m": read.value_m + rise[read.place]})

    return model.job.model_copy(update={"readings": tuple(wider(r) for r in model.job.readings)})


BETWEEN = ("stop_gap", "pad_to_pad")
"""Heights read between axle and frame."""


def said_of(found: Together) -> tuple[Say, ...]:
    """Return what staged and at once give up, in a sentence each."""
    order = ", then ".join(kit.name for kit in found.kits)
    staged = Say(
        "One after the other: {order}; {staged} h in all, one drive after each. Their effects stay separate: what each "
        "does is read before the next goes on, and the rest can be left off when the first is enough.",
        {"order": order, "staged": f"{found.hours.staged:g}"},
    )
    saved = f", {found.hours.saved:g} h less, since what must come off comes off once" if found.hours.saved > 0 else ""
    at_once = Say(
        "All at once: {at_once} h{saved}. What each of them does is then not told apart, and a fault after it may be "
        "any of them.",
        {"at_once": f"{found.hours.at_once:g}", "saved": saved},
    )
    return staged, at_once


def _settings(model: JobModel, found: Shortlist, kits: Sequence[Kit]) -> dict[str, Setting]:
    """Return each kit's setting: all at their least, then the one set most finely is solved for the height wanted, and where that does not
    get there, the next with it."""
    settings: dict[str, Setting] = {kit.code: least(family_of(kit).spans(kit)) for kit in kits}
    lifting = [kit for kit in kits if kit.axle == "rear" and family_of(kit).lifts and settings[kit.code]]
    for kit in sorted(lifting, key=lambda kit: -family_of(kit).range_served):
        at = partial(_with_one_at, model, found, kits, settings, kit)
        settings[kit.code] = solve_for(model, kit, at, found.state.key, found.target.sides).setting
        stands = model.solve(_all_on(model, found, kits, settings))[found.state.key]
        if abs(float(stands.d_r) - found.target.drop) <= NEAR:
            break
    return settings


def _with_one_at(
    model: JobModel, found: Shortlist, kits: Sequence[Kit], settings: Mapping[str, Setting], one: Kit, setting: Setting
) -> Vehicle:
    """Return the vehicle with the kits on, one of them at a setting, under the name of a kit in hand, so that its family finds it."""
    others = _all_on(model, found, [kit for kit in kits if kit is not one], settings)
    return _on(model, found, others, one, setting)


def _on(model: JobModel, found: Shortlist, base: Vehicle, kit: Kit, setting: Setting) -> Vehicle:
    return with_kit(model.job, base, kit, setting, state=found.state.key)


def _all_on(model: JobModel, found: Shortlist, kits: Sequence[Kit], settings: Mapping[str, Setting]) -> Vehicle:
    """Return the vehicle with the kits on, each under a name of its own, the one set last under that of a kit in hand."""
    vehicle = model.vehicle
    for n, kit in enumerate(kits):
        vehicle = named(_on(model, found, vehicle, kit, settings[kit.code]), _name(n))
    return vehicle


def _name(place: int) -> str:
    return f"{KIT_ELEMENT} to go on {place + 1}"
