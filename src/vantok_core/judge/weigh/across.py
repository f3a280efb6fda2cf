"""From side to side: what the pads know that the plan does not, and what would take a lean out.

Source: method sections 2 and 4, each answer tried on the solved state; least squares (textbook).
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

from vantok_core.base.errors import VantokError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import G
from vantok_core.base.say import Quantity, Say, Tone, Verdict, Worded, length, mass
from vantok_core.facts import Fitting, Job, JobState, LoadItem
from vantok_core.judge.grounds.shown import main_datum
from vantok_core.judge.grounds.thresholds import CONTRADICTS
from vantok_core.judge.weigh.thresholds import LEVEL_AGAIN, NARROW
from vantok_core.kits.family import AlikeFamily, SettingField, Span
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.registry import family_of
from vantok_core.loads.plan import reach
from vantok_core.model import JobModel
from vantok_core.model.pads import PAD, Unlisted
from vantok_core.model.readings import AXLE_DATUM, reading_own_sigma
from vantok_core.physics.vehicle import AXLE_CORNERS, Vehicle
from vantok_core.rates.places import Place, place_drop


def unlisted_said(found: Unlisted) -> Verdict:
    """Return what pads show beyond the plan, in words."""
    kg, sigma, station, lateral, misfit = found.mass, found.sigma, found.station, found.lateral, found.misfit
    tone: Tone = "act"
    values = {"m": mass(abs(kg)), "s": mass(NINE_IN_TEN * sigma)}
    if station is None or lateral is None:
        told = [Say("The pads carry what the plan lists, to within {s}.", values)]
        tone = "level"
    elif kg > 0.0:
        where: dict[str, Worded] = {
            "x": length(station[0]),
            "sx": length(NINE_IN_TEN * station[1]),
            "y": length(abs(lateral[0])),
            "side": "left" if lateral[0] > 0.0 else "right",
            "sy": length(NINE_IN_TEN * lateral[1]),
        }
        told = [
            Say(
                "The pads carry {m} more than the plan lists (± {s}), about {x} behind the front axle (± {sx}) and {y} to the "
                "{side} (± {sy}). Look there.",
                {**values, **where},
            )
        ]
    else:
        told = [
            Say(
                "The pads carry {m} less than the plan lists (± {s}): something on it is lighter, or not aboard.",
                values,
            )
        ]
    if misfit > CONTRADICTS * PAD:
        tone = "act"
        told.append(
            Say(
                "No single load explains the pads ({d} remains at one of them): a pad off level, or a corner that binds. Weigh again.",
                {"d": mass(misfit)},
            )
        )
    return Verdict(tone=tone, sentences=tuple(told))


@dataclass(frozen=True, slots=True, kw_only=True)
class Across:
    """One way to take a lean out: its words with the figures, the rear's left less right after it (m), what it leaves to do or cannot do."""

    kind: str
    words: Say
    left: float
    note: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Levelling:
    """A state's lean at the rear (left less right, m) with its 90 % band, the sentence, and the ways to take it out, what leaves least first."""

    state: JobState
    lean: float
    band: float
    said: Verdict
    ways: tuple[Across, ...] = ()


def levelling(model: JobModel, state: JobState) -> Levelling | None:
    """Return what would take a state's lean at the rear out: one thing moved across, or the kit's two sides set apart.

    None where the rear was not read on both sides in it, or its load is not known. A lean inside its band is none. Raises VantokError where it cannot be
    solved. Source: method section 4 (a small couple tried on the solved state), own search.
    """
    job, datum = model.job, main_datum(model.job)
    phase = "after" if job.fitting else "before"
    read = [job.at(state.key, c, datum, phase) for c in AXLE_CORNERS["rear"]]
    if read[0] is None or read[1] is None or state.key not in model.states:
        return None
    lean = read[0].value_m - read[1].value_m
    band = NINE_IN_TEN * hypot(*(reading_own_sigma(job, r) for r in read if r is not None))
    if abs(lean) <= band:
        said = Verdict(
            tone="level",
            sentences=(
                Say("Left and right stand alike, to within {b}: there is no lean to take out.", {"b": length(band)}),
            ),
        )
        return Levelling(state=state, lean=lean, band=band, said=said)
    vehicle = fitted_vehicle(model, job.fitting) if job.fitting else model.vehicle
    effect = model.side_effects(datum, vehicle)[state.key]["rear"]
    ways = [*_moves(job, state, lean, effect), *_settings(model, state, lean, datum)]
    ways.sort(key=lambda w: abs(w.left))
    low = "right" if lean > 0.0 else "left"
    text = "The rear stands {d} lower on the {low} (± {b})."
    if not ways:
        text += " Nothing listed can be moved across and no kit of this job sets its sides apart: weigh the corners, then compare the springs."
    said = Verdict(tone="act", sentences=(Say(text, {"d": length(abs(lean)), "low": low, "b": length(band)}),))
    return Levelling(state=state, lean=lean, band=band, said=said, ways=tuple(ways))


def _moves(job: Job, state: JobState, lean: float, effect: float) -> list[Across]:
    """Return what each listed thing would do, moved across as far as it takes or can; effect: m of lean by a newton metre (left down positive)."""
    place = reach(job)
    if place is None:
        return []
    wanted, found = -lean / effect, []
    for item in state.contents:
        if item.mass_kg <= 0.0:
            continue
        side = min(max(item.lateral_m + wanted / (item.mass_kg * G), -place.half_width), place.half_width)
        moved = side - item.lateral_m
        left = lean + effect * moved * item.mass_kg * G
        if abs(moved) < NARROW:
            continue
        way = "left" if moved > 0.0 else "right"
        note = "" if abs(left) < abs(lean) * LEVEL_AGAIN else "as far as the vehicle is wide"
        words = Say("Move {item} {d} to the {way}.", {"d": length(abs(moved)), "item": item.name, "way": way})
        found.append(Across(kind="move" if isinstance(item, LoadItem) else "store", words=words, left=left, note=note))
    return found


def _settings(model: JobModel, state: JobState, lean: float, datum: str) -> list[Across]:
    """Return the kit in hand with its sides set apart, within what it allows and in its steps; nothing where it has one setting for both."""
    fitting = model.job.fitting
    if fitting is None or fitting.kit.axle != "rear":
        return []
    family, found = family_of(fitting.kit), []
    if isinstance(family, AlikeFamily):
        return []
    spans = family.spans(fitting.kit)
    for one in family.settings:
        pair = fitting.setting.get(one.name)
        best = (
            _apart(model, fitting, one, spans[one.name], pair, state.key, lean, datum)
            if pair and one.name in spans
            else None
        )
        if best is not None:
            found.append(best)
    return found


def _apart(
    model: JobModel,
    fitting: Fitting,
    one: SettingField,
    span: Span,
    pair: tuple[float, float],
    key: str,
    lean: float,
    datum: str,
) -> Across | None:
    """Return a setting with as much more on one side as less on the other, what leaves least lean within its span."""

    def change(apart: float) -> tuple[tuple[float, float], float]:
        sides = tuple(_stepped(min(max(v, span.low), span.high), span.step) for v in (pair[0] + apart, pair[1] - apart))
        other = fitting.model_copy(update={"setting": fitting.setting | {one.name: (sides[0], sides[1])}})
        moved = _rear_lean(model, fitted_vehicle(model, other), key, datum) - now
        return (sides[0], sides[1]), lean + moved

    try:
        now = _rear_lean(model, fitted_vehicle(model, fitting), key, datum)
        room = 0.5 * (span.high - span.low)
        tried = [change(room * n / 40.0) for n in range(-40, 41)]
    except VantokError:
        return None
    sides, left = min(tried, key=lambda t: (round(abs(t[1]), 4), abs(t[0][0] - t[0][1])))
    if sides == tuple(pair) or abs(left) >= abs(lean):
        return None
    values = {"l": Quantity(sides[0], one.kind), "r": Quantity(sides[1], one.kind)}
    note = "within the kit's own limits; confirm it on Set, and read again"
    return Across(
        kind="set",
        words=Say("Set the {one} to {l} left, {r} right.", {**values, "one": one.words}),
        left=left,
        note=note,
    )


def _stepped(value: float, step: float) -> float:
    return step * round(value / step) if step > 0.0 else value


def _rear_lean(model: JobModel, vehicle: Vehicle, key: str, datum: str) -> float:
    """Return the rear's left less right height (m), by the model."""
    solved = model.solved(vehicle)[key]
    left, right = (float(place_drop(solved, Place(c, AXLE_DATUM[datum]))) for c in AXLE_CORNERS["rear"])
    return right - left
