"""Slips that a sheet shows once the model stands beside it: sides swapped, a gain no tape tells, one side fitted, a lean that an equal gain left as it was.

Each is asked about, never decided. Source: method sections 3 and 8, own derivation.
"""

from __future__ import annotations

from dataclasses import replace
from math import hypot

from vantok_core.base.errors import VantokError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.names import PLACES
from vantok_core.base.say import Finding, Say, length
from vantok_core.facts import Job, JobState
from vantok_core.judge.grounds.shown import main_datum
from vantok_core.judge.measure.thresholds import ABOARD, HEAD_STEP, LEAST_RADIUS, MOST_RADIUS, NEAR_GROSS, SWAP_WORTH
from vantok_core.loads.couple import SIDE
from vantok_core.loads.plan import scale_loads
from vantok_core.model import JobModel, corner_sigma
from vantok_core.model.readings import AXLE_DATUM
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, CORNERS, AxleName
from vantok_core.rates.places import Place, place_drop


def catches(job: Job, model: JobModel | None) -> list[Finding]:
    """Return what looks like a slip, in the order of the states."""
    datum, found = main_datum(job), [*_no_empty(job), *_recited(job), *_datums(job)]
    for state in job.carried:
        if state.past:
            continue
        for axle in AXLES:
            found += _swapped(job, model, state, axle, datum) + _gains(job, state, axle, datum)
    return found


def _finding(key: str, text: str, do: str, **values: float | str) -> Finding:
    held = key.startswith(("swapped-", "datums-"))
    told = {n: v if isinstance(v, str) else length(abs(v)) for n, v in values.items()}
    return Finding(key=key, tone="act", holds=held, what=Say(text, told), do=Say(do, told))


def _pair(job: Job, state: str, axle: AxleName, datum: str, phase: str) -> tuple[float, float, float] | None:
    """Return an axle's left and right reading at the present setting and their joint sigma (m), None unless both are there."""
    found = [job.at(state, corner, datum, phase) for corner in AXLE_CORNERS[axle]]
    if found[0] is None or found[1] is None:
        return None
    return found[0].value_m, found[1].value_m, hypot(*(corner_sigma(job, r) for r in found if r is not None))


def _swapped(job: Job, model: JobModel | None, state: JobState, axle: AxleName, datum: str) -> list[Finding]:
    """Ask whether left and right were swapped, where the other way round is what the load's place makes, and this way is not."""
    read, wanted = _pair(job, state.key, axle, datum, "before"), _lean_of_the_load(job, model, state, axle, datum)
    if read is None or wanted is None:
        return []
    lean, band = read[0] - read[1], NINE_IN_TEN * read[2]
    if abs(wanted) < SWAP_WORTH or abs(lean - wanted) <= 2.0 * band or abs(-lean - wanted) > band:
        return []
    text = "“{state}”, {axle}: left and right differ by {lean} the other way round from what the load's place makes ({wanted})."
    return [
        _finding(
            f"swapped-{state.key}-{axle}",
            text,
            "Were the sides swapped on the sheet? Read both again.",
            state=state.name,
            axle=axle,
            lean=lean,
            wanted=wanted,
        )
    ]


def _lean_of_the_load(job: Job, model: JobModel | None, state: JobState, axle: AxleName, datum: str) -> float | None:
    """Return by how much left should stand over right (m) by where the listed load lies, the reference's own difference with it; None where that cannot be
    said."""
    if model is None or job.empty is None or state.key not in model.states or not state.items:
        return None
    base = _pair(job, job.empty.key, axle, datum, "before")
    if base is None:
        return None
    load = model.states[state.key]
    plain = replace(load, items=tuple(i for i in load.items if i.name != SIDE))
    try:
        solved = solve_states(model.vehicle, [plain], check_limits=False)[load.name]
    except VantokError:
        return None  # the stage's own sentence says why it cannot be solved
    kind = AXLE_DATUM[datum]
    left, right = (float(place_drop(solved, Place(c, kind))) for c in AXLE_CORNERS[axle])
    return base[0] - base[1] - (left - right)


def _gains(job: Job, state: JobState, axle: AxleName, datum: str) -> list[Finding]:
    """Ask about what a kit was read to do on either side of its axle in a state."""
    fitting = job.fitting
    before, after = (_pair(job, state.key, axle, datum, phase) for phase in ("before", "after"))
    if fitting is None or fitting.kit.axle != axle or before is None or after is None:
        return []
    gains = after[0] - before[0], after[1] - before[1]
    band = NINE_IN_TEN * hypot(before[2], after[2])
    where = {"state": state.name, "axle": axle}
    if max(map(abs, gains)) <= band / 2**0.5:
        text = "“{state}”, {axle}: what it gained ({left} left, {right} right) is not told apart from nothing (± {band} a side)."
        return [
            _finding(
                f"no-gain-{state.key}",
                text,
                "Read again, settled, before it is called an effect.",
                **where,
                left=gains[0],
                right=gains[1],
                band=band / 2**0.5,
            )
        ]
    if min(map(abs, gains)) <= band / 2**0.5 and abs(gains[0] - gains[1]) > band and _alike(job):
        still = AXLE_CORNERS[axle][0 if abs(gains[0]) < abs(gains[1]) else 1]
        text = "“{state}”, {axle}: only one side gained ({left} left, {right} right), though both are set alike."
        return [
            _finding(
                f"one-side-{state.key}",
                text,
                "Look at the {still}: is it fitted, set, and its valve open?",
                still=PLACES[still],
                **where,
                left=gains[0],
                right=gains[1],
            )
        ]
    lean, now = before[0] - before[1], after[0] - after[1]
    if abs(lean) > max(SWAP_WORTH, band) and abs(now - lean) <= band:
        text = "“{state}”, {axle}: both sides gained alike, so the lean of {lean} is still there ({now})."
        return [
            _finding(
                f"lean-stays-{state.key}",
                text,
                "An equal gain cures no lean: move the load, or set the sides apart.",
                **where,
                lean=lean,
                now=now,
            )
        ]
    return []


def _recited(job: Job) -> list[Finding]:
    """Ask about a gain that somebody said and that the difference of the readings does not bear out, by more than both tapes' steps."""
    found = []
    for reading in job.readings:
        if reading.told_gain_m is None:
            continue
        base = job.empty.key if reading.phase == "before" and job.empty is not None else reading.state
        before = (
            job.read(base, reading.place, reading.datum) if (base, reading.phase) != (reading.state, "before") else None
        )
        if before is None:
            continue
        gain = reading.value_m - before.value_m
        if abs(gain - reading.told_gain_m) <= reading.resolution_m + before.resolution_m + HEAD_STEP:
            continue
        way, said = ("up" if gain >= 0.0 else "down"), ("up" if reading.told_gain_m >= 0.0 else "down")
        found.append(
            _finding(
                f"recited-{reading.state}-{reading.place}",
                "{place}: said to have come {said} by {told}; by its readings it is {way} by {gain}.",
                "The readings rule: look at both again.",
                place=PLACES.get(reading.place, reading.place).capitalize(),
                said=said,
                told=reading.told_gain_m,
                way=way,
                gain=gain,
            )
        )
    return found


def _datums(job: Job) -> list[Finding]:
    """Ask about a corner whose heights over ground and over the hub do not lie a tyre's radius apart: one of them is on another datum, or swapped."""
    found = []
    for state in job.states:
        for place in CORNERS:
            ground, hub = (job.read(state.key, place, datum) for datum in ("ground_arch", "hub_arch"))
            if ground is None or hub is None or LEAST_RADIUS <= (radius := ground.value_m - hub.value_m) <= MOST_RADIUS:
                continue
            text = "“{state}”, {place}: ground to arch and hub to arch lie {radius} apart, which is no tyre’s radius ({low} to {high})."
            do = "One of the two was read on another datum, or the columns were swapped: read both again."
            where = {"state": state.name, "place": PLACES[place]}
            span = {"radius": radius, "low": LEAST_RADIUS, "high": MOST_RADIUS}
            found.append(_finding(f"datums-{state.key}-{place}", text, do, **where, **span))
    return found


def _no_empty(job: Job) -> list[Finding]:
    """Ask whether the empty state is one: things listed on it, people or water aboard as it was read, or nearly its whole allowed weight on the scale."""
    empty = job.empty
    if empty is None or job.never_empty:
        return []
    why, stood, weighed = [], empty.condition, scale_loads(empty)
    if any(item.mass_kg > 0.0 for item in empty.contents):
        why.append("things are listed on it")
    if stood is not None and stood.people:
        why.append(f"{stood.people} aboard as it was read")
    if stood is not None and (stood.water or 0.0) >= ABOARD:
        why.append("its water was full")
    gross = job.vehicle.gross_kg
    if (
        weighed is not None
        and gross is not None
        and "gross_kg" not in job.vehicle.defaults
        and sum(weighed) > NEAR_GROSS * gross
    ):
        why.append(f"it weighs {sum(weighed) / gross:.0%} of what it may".replace("%", "\u00a0%"))
    if not why:
        return []
    do = "Unload it and read it again, or say on Measure that it is never empty and is judged as it stands."
    return [
        Finding(
            key="empty-not",
            tone="act",
            what=Say("“{empty}” cannot be empty: {why}.", {"empty": empty.name, "why": ", ".join(why)}),
            do=Say(do),
        )
    ]


def _alike(job: Job) -> bool:
    """Tell whether the kit in hand is set about alike on both sides."""
    assert job.fitting is not None
    return all(abs(a - b) <= 0.5 * max(abs(a), abs(b), 1e-9) for a, b in job.fitting.setting.values())
