"""What each tyre carries and asks for: its load by pads or model, the pressure it takes, how far it squashes; and what its tread tells.

Source: method sections 1 (squash) and 13 (pressure); tread rules of thumb are this program's own.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from vantok_core.base.errors import InputError
from vantok_core.base.names import PLACES
from vantok_core.base.num import G
from vantok_core.base.say import Finding, Quantity, Say, Tone, Worded, mass
from vantok_core.benches.tyre import TyrePressure, tyre_pressure
from vantok_core.facts import Job, JobState, TreadRead
from vantok_core.facts.classes import LOAD_INDEX
from vantok_core.judge.weigh.thresholds import LEAST_TREAD, SET_UNDER, SIDES_ALIKE, UNEVEN
from vantok_core.model import JobModel
from vantok_core.physics.vehicle import CORNERS, AxleName


@dataclass(frozen=True, slots=True, kw_only=True)
class TyreLoad:
    """One wheel's tyre (of twins one of the two): its load (kg) and whether pads read it; what it allows (kg, None: index not known); the pressure it takes
    (Pa, None: not known), whether that is the axle's heavier side; as set (Pa, None: nobody read); squash (m, None without a model)."""

    place: str
    load: float
    read: bool
    allows: float | None
    takes: TyrePressure | None
    set_pa: float | None
    squash: float | None
    why_not: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class TyreSheet:
    """The four wheels of a state, and what is to be said of them."""

    state: JobState
    tyres: tuple[TyreLoad, ...]
    findings: tuple[Finding, ...]


def tyre_sheet(job: Job, state: JobState, model: JobModel | None) -> TyreSheet | None:
    """Return what each tyre carries in a state: off pads, else by the model; None where neither tells."""
    by_model = model.solve().get(state.key) if model is not None else None
    if state.corners_kg is None and by_model is None:
        return None
    found = []
    for n, place in enumerate(CORNERS):
        read = state.corners_kg is not None
        kg = (
            state.corners_kg[n]
            if state.corners_kg is not None
            else float(by_model.load[place]) / G
            if by_model
            else 0.0
        )
        found.append(_tyre(job, state, model, place, kg, read=read))
    return TyreSheet(state=state, tyres=tuple(found), findings=tuple(_said(job, state, found)))


def _tyre(job: Job, state: JobState, model: JobModel | None, place: str, kg: float, *, read: bool) -> TyreLoad:
    v, axle = job.vehicle, _axle(place)
    dual = axle == "rear" and v.dual_rear
    count = 2 if dual else 1
    index = (
        (v.rear_dual_index or v.rear_tyre_index)
        if dual
        else v.front_tyre_index
        if axle == "front"
        else v.rear_tyre_index
    )
    most_pa = v.front_tyre_most_pa if axle == "front" else v.rear_tyre_most_pa
    allows = LOAD_INDEX[index] if index is not None else None
    squash = kg * G / float(model.vehicle.axle(axle).tyre_rate) if model is not None else None
    each, takes, why = kg / count, None, ""
    if allows is None:
        why = "its load index is not entered"
    elif most_pa is None:
        why = "its greatest pressure, off its wall, is not entered"
    else:
        try:
            takes = tyre_pressure(each * G, most_load=allows * G, most_pressure=most_pa)
        except InputError:
            why = "it carries more than its index allows"
    tyres: Mapping[str, float] = (
        {str(c): pa for c, pa in state.condition.tyres_pa.items()} if state.condition is not None else {}
    )
    return TyreLoad(
        place=place,
        load=each,
        read=read,
        allows=allows,
        takes=takes,
        set_pa=tyres.get(place),
        squash=squash,
        why_not=why,
    )


def _axle(place: str) -> AxleName:
    return "front" if place[0] == "F" else "rear"


def _said(job: Job, state: JobState, tyres: list[TyreLoad]) -> list[Finding]:
    """Return loads over the index first, then pressures set too low, then the pressure each axle takes."""
    found = [f for one in tyres if (f := _over(one)) is not None]
    found += [f for one in tyres if (f := _wheel(job, one)) is not None]
    for left, right in ((tyres[0], tyres[1]), (tyres[2], tyres[3])):
        if left.takes is None or right.takes is None:
            continue
        wanted = max(left.takes.pressure, right.takes.pressure)
        axle = _axle(left.place)
        told = (
            "both sides get the heavier one’s"
            if abs(left.load - right.load) > SIDES_ALIKE * (left.load + right.load)
            else "both sides alike"
        )
        what = Say(
            "The {axle} tyres take {p} for this load, estimated from their index; {told}.",
            {"p": Quantity(wanted, "pressure"), "axle": axle, "told": told},
        )
        found.append(
            Finding(key=f"tyre-takes-{axle}", tone="plain", what=what, do=Say("The maker’s own table comes before it."))
        )
        for one in (left, right):
            if one.set_pa is not None and one.set_pa < wanted - SET_UNDER:
                what = Say(
                    "The {place} tyre stands at {at}, under what this load takes.",
                    {"at": Quantity(one.set_pa, "pressure"), "place": PLACES[one.place]},
                )
                found.append(
                    Finding(
                        key=f"tyre-low-{one.place}",
                        tone="act",
                        what=what,
                        do=Say("Pump it up cold before it is driven or measured."),
                    )
                )
    return found


def _over(one: TyreLoad) -> Finding | None:
    """Return that a tyre carries more than its index allows, where that is known."""
    if one.allows is None or one.load <= one.allows:
        return None
    about = "" if one.read else "by the model "
    what = Say(
        "The {place} tyre carries {about}{kg}; its index allows {most}.",
        {"kg": mass(one.load), "most": mass(one.allows), "place": PLACES[one.place], "about": about},
    )
    do = (
        "Take load off that wheel before anything else; no pressure carries more."
        if one.read
        else "Weigh the corners: by the model it is over."
    )
    return Finding(key=f"tyre-over-{one.place}", tone="limit" if one.read else "act", what=what, do=Say(do))


def _wheel(job: Job, one: TyreLoad) -> Finding | None:
    """Return that a wheel carries more than its own rating, where that is known."""
    rated = job.vehicle.front_wheel_kg if _axle(one.place) == "front" else job.vehicle.rear_wheel_kg
    if rated is None or one.load <= rated:
        return None
    about = "" if one.read else "by the model "
    what = Say(
        "The {place} wheel carries {about}{kg}; it is rated {most}.",
        {"kg": mass(one.load), "most": mass(rated), "place": PLACES[one.place], "about": about},
    )
    do = (
        "Take load off it before anything else: a better tyre raises no wheel."
        if one.read
        else "Weigh the corners: by the model it is over."
    )
    return Finding(key=f"wheel-over-{one.place}", tone="limit" if one.read else "act", what=what, do=Say(do))


@dataclass(frozen=True, slots=True, kw_only=True)
class Worn:
    """One tyre's tread: what was read, its pattern's key (of the tyre bench; empty: even as far as a gauge tells), and the sentence."""

    read: TreadRead
    pattern: str
    said: Say
    tone: Tone


WORN_WORDS = {
    "": "worn evenly, as far as the gauge tells",
    "centre": "worn in the middle",
    "shoulders": "worn on both shoulders",
    "inner": "worn on the inner edge",
    "outer": "worn on the outer edge",
}
BEHIND = {
    "": "",
    "centre": "too much pressure for the load; weigh the axle and set the pressure for it",
    "shoulders": "too little pressure, or overload; weigh the axle and set the pressure for it",
    "inner": "camber top in or toe out; have both measured at the height it is driven at",
    "outer": "camber top out or toe in; have both measured at the height it is driven at",
}


def worn(job: Job) -> tuple[Worn, ...]:
    """Return what each tyre's tread tells, its worst place held against a usual rule; a difference within the gauge tells nothing."""
    found = []
    for one in job.tread:
        pattern, least = _pattern(one), min(one.inner_m, one.middle_m, one.outer_m)
        text = "{place}: {worn}. Most likely {behind}." if pattern else "{place}: {worn}."
        tone: Tone = "act" if pattern else "level"
        if least <= LEAST_TREAD:
            text += " It is down to {least}, where many countries’ rules end it: hold it against yours."
            tone = "limit"
        values: dict[str, Worded] = {
            "place": PLACES[one.place].capitalize(),
            "worn": WORN_WORDS[pattern],
            "behind": BEHIND[pattern],
            "least": Quantity(least, "depth"),
        }
        found.append(Worn(read=one, pattern=pattern, said=Say(text, values), tone=tone))
    return tuple(found)


def _pattern(one: TreadRead) -> str:
    """Return the pattern of wear of a tyre by three depths, empty where they differ by less than is spoken of."""
    edges = 0.5 * (one.inner_m + one.outer_m)
    if abs(one.inner_m - one.outer_m) > UNEVEN:
        return "inner" if one.inner_m < one.outer_m else "outer"
    if edges - one.middle_m > UNEVEN:
        return "centre"
    if one.middle_m - edges > UNEVEN:
        return "shoulders"
    return ""
