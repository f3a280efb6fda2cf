"""After fitting: predicted against read, what would explain a miss best, and the next setting (method section 5).

Only readings taken at the setting the kit has now are judged. All of them together must lie in their joint band; where they do
not, the one cause that explains most of it is named, and a setting is offered only for what a rear kit can change.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import exp
from typing import Literal

import numpy as np

from vantok_core.base.errors import VantokError
from vantok_core.base.figure import NINE_IN_TEN, Figure
from vantok_core.base.names import PLACES
from vantok_core.base.num import FloatArray
from vantok_core.base.say import Quantity, Say, Verdict, length
from vantok_core.facts import Fitting, Job, JobReading
from vantok_core.judge.after_causes import LAST_CAUSE, Cause, Pattern, Weighed, pattern_words, weighed
from vantok_core.judge.lead import led_by_limits
from vantok_core.judge.proof_bands import Bands, Cell, bands
from vantok_core.judge.shown import main_datum
from vantok_core.judge.unweighed import unweighed
from vantok_core.kits.family import KIT_ELEMENT, Setting, SettingField
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.registry import family_of
from vantok_core.kits.staged import refitted
from vantok_core.kits.target import target_drop, target_state
from vantok_core.loads.plan import worst_margin
from vantok_core.model import JobModel
from vantok_core.physics.vehicle import CORNERS, Vehicle

AGAIN = ("read", "settled")
"""Causes that reading again, settled, answers."""
Named = Literal["corner", "rear", "front"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """One corner: empty, before and after height (m), predicted height with its joint band, miss; stale: a reading taken at another
    setting, which is not judged."""

    corner: str
    empty: float | None
    before: float | None
    predicted: Figure
    read: float | None
    stale: JobReading | None = None

    @property
    def miss(self) -> float | None:
        """Read less predicted, m."""
        return None if self.read is None else self.read - self.predicted.value

    @property
    def inside(self) -> bool | None:
        """Whether the reading lies in its own joint 90 % band; of many, one in ten does not by chance."""
        return None if self.read is None else not self.predicted.differs(self.read)


@dataclass(frozen=True, slots=True, kw_only=True)
class NextSetting:
    """A changed setting from the refitted model for a state, by name, SI."""

    state: str
    setting: Setting


@dataclass(frozen=True, slots=True, kw_only=True)
class Suspect:
    """What would explain the misses best: one corner's reading, the rear or the front of a state; its mean miss and band (m)."""

    named: Named
    state: str
    corner: str
    miss: float
    band: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Proof:
    """The proof of a job by state: comparisons, whether all read ones lie together in their joint band, what explains a miss
    best, the causes to look into by likelihood and which are open, the pattern of the misses in words, the next setting, verdict."""

    rows: Mapping[str, tuple[Compared, ...]]
    inside: bool | None
    suspect: Suspect | None
    causes: tuple[Weighed, ...]
    open: tuple[Cause, ...]
    pattern: str
    next: NextSetting | None
    verdict: Verdict


def prove(model: JobModel) -> Proof | None:
    """Return predicted against read for every state read after fitting; None without a kit chosen."""
    job = model.job
    if job.fitting is None:
        return None
    vehicle, datum = fitted_vehicle(model, job.fitting), main_datum(job)
    found = _bands(model, vehicle, datum)
    rows = _rows(job, found, datum)
    suspect = _suspect(found, job.fitting.kit.axle) if found.inside is False else None
    causes: tuple[Weighed, ...] = ()
    still: tuple[Cause, ...] = ()
    pattern = _pattern(job, found, suspect, datum) if suspect else None
    if suspect is not None and pattern is not None:
        causes = weighed(pattern, sealed=family_of(job.fitting.kit).sealed)
        still = tuple(w.cause for w in causes[:-1] if not _ruled_out(job, suspect, w.cause, datum))
    following = None
    if suspect is not None and suspect.named == "rear" and not still:
        following = _next_setting(model, job.fitting, found)
    told = unweighed(model)
    limits = worst_margin(job) is not None or any(one.margins for one in told)
    verdict = _verdict(job, rows, found, suspect, still, following, limits=limits)
    return Proof(
        rows=rows, inside=found.inside, suspect=suspect, causes=causes, open=still, pattern=pattern_words(pattern) if pattern else "",
        next=following, verdict=led_by_limits(job, verdict, told),
    )  # fmt: skip


def strength_read(model: JobModel) -> Say | None:
    """Return how strong the kit in hand was read to be at its other settings, against its data; None where it was read at no other."""
    strength = model.estimate.strength.get(KIT_ELEMENT)
    if strength is None:
        return None
    spread = exp(NINE_IN_TEN * model.estimate.strength_sigma[KIT_ELEMENT])
    values = {
        n: Quantity(v, "percent") for n, v in (("a", strength), ("low", strength / spread), ("high", strength * spread))
    }
    if strength / spread <= 1.0 <= strength * spread:
        return Say("Read at other settings too, it is as strong as its data say ({a}, {low} to {high}).", values)
    return Say(
        "Read at other settings too, it is {a} as strong as its data say ({low} to {high}); what is predicted here counts with that.",
        values,
    )


def _bands(model: JobModel, vehicle: Vehicle, datum: str) -> Bands:
    """Return every height with the kit on, with the covariance of what is read there."""
    softer = _kit_scaled(model, vehicle)
    cells, weaker = [], {}
    for key in model.states:
        other = model.heights(key, datum, softer)
        for corner, predicted in model.heights(key, datum, vehicle).items():
            read = model.job.at(key, corner, datum, "after")
            cells.append(Cell(state=key, corner=corner, predicted=predicted.value, read=read))
            weaker[key, corner] = other[corner].value
    return bands(model, cells, datum, vehicle, weaker)


def _rows(job: Job, found: Bands, datum: str) -> dict[str, tuple[Compared, ...]]:
    rows: dict[str, list[Compared]] = {}
    at = {(cell.state, cell.corner): i for i, cell in enumerate(found.cells)}
    for key in dict.fromkeys(cell.state for cell in found.cells):
        for corner in CORNERS:
            if (key, corner) not in at:
                continue
            i = at[key, corner]
            cell, before = found.cells[i], job.stood(key, corner, datum)
            empty = job.read(job.empty.key, corner, datum) if job.empty else None
            last = job.read(key, corner, datum, "after")
            rows.setdefault(key, []).append(
                Compared(
                    corner=corner, empty=empty.value_m if empty else None, before=before.value_m if before else None,
                    predicted=Figure(value=cell.predicted, sigma=found.band(i) / NINE_IN_TEN),
                    read=cell.read.value_m if cell.read else None, stale=last if cell.read is None else None,
                )
            )  # fmt: skip
    return {key: tuple(row) for key, row in rows.items()}


def _kit_scaled(model: JobModel, vehicle: Vehicle) -> Vehicle:
    """Return the vehicle with the kit a sigma weaker: what its data's spread does to the heights."""
    fitting = model.job.fitting
    assert fitting is not None
    weaker = family_of(fitting.kit).scaled(fitting.kit, exp(-fitting.kit.strength_sigma))
    return fitted_vehicle(model, fitting.model_copy(update={"kit": weaker}))


def _suspect(found: Bands, own: str) -> Suspect:
    """Return the one thing that explains the misses best: the reading furthest outside its own band, the rear, or the front. own: the kit's axle.

    Each is a pattern over the readings; the one that lessens the joint distance most is named. Source: own derivation.
    """
    at = found.judged
    cells = [found.cells[i] for i in at]
    misses = found.misses()
    furthest = max(range(len(at)), key=lambda n: abs(misses[n]) / found.band(at[n]))
    odd = cells[furthest]
    best = Suspect(
        named="corner", state=odd.state, corner=odd.corner, miss=float(misses[furthest]), band=found.band(at[furthest])
    )
    most = found.explains(np.eye(len(at))[furthest])
    for axle in ("rear", "front"):
        for states in ({c.state for c in cells}, *({c.state} for c in cells)):
            gain = max(found.explains(p) for p in _patterns(found, cells, axle, states, own))
            told = _worst_mean(found, axle, states)
            if gain > most and told is not None:
                most, best = gain, Suspect(named=axle, state=told[0], corner="", miss=told[1], band=told[2])
    return best


def _patterns(found: Bands, cells: list[Cell], axle: str, states: set[str], own: str) -> list[FloatArray]:
    """Return how the readings would stand if an axle stood off: alike in these states, at the kit's own also as a weaker kit has it."""
    alike = np.array([1.0 if c.axle == axle and c.state in states else 0.0 for c in cells])
    kit = np.array([found.kit[i] for i in found.judged])
    return [alike, kit] if axle == own and kit.any() and len(states) > 1 else [alike]


def _worst_mean(found: Bands, axle: str, states: set[str]) -> tuple[str, float, float] | None:
    """Return the state whose axle mean lies furthest outside its own band, with its miss and band; None where none does."""
    means = {s: found.mean(s, "front" if axle == "front" else "rear") for s in states}
    outside = {s: m for s, m in means.items() if m is not None and abs(m[0]) > m[1]}
    if not outside:
        return None
    state = max(outside, key=lambda s: abs(outside[s][0]) / outside[s][1])
    return state, *outside[state]


def _pattern(job: Job, found: Bands, suspect: Suspect, datum: str) -> Pattern:
    """Return how the misses lie."""
    corners = [suspect.corner] if suspect.corner else [c for c in CORNERS if c[0] == suspect.named[0].upper()]
    there = [r for c in corners if (r := job.at(suspect.state, c, datum, "after"))]
    axle = "front" if corners[0].startswith("F") else "rear"
    mean = found.mean(suspect.state, "rear" if axle == "front" else "front")
    return Pattern(
        one_side=suspect.named == "corner", other_axle=mean is not None and abs(mean[0]) > mean[1], drifting=any(r.unsettled == "drift" for r in there),
        unsettled=any(r.unsettled == "lifted" for r in there), high=suspect.miss > 0.0,
    )  # fmt: skip


def _ruled_out(job: Job, suspect: Suspect, cause: Cause, datum: str) -> bool:
    """Tell whether a cause was looked into: ticked off, or the doubted heights read the same twice."""
    assert job.fitting is not None
    if cause.key in job.fitting.ruled_out:
        return True
    if cause.key != "read":
        return False
    corners = [suspect.corner] if suspect.corner else [c for c in CORNERS if c[0] == suspect.named[0].upper()]
    again = [job.at(suspect.state, c, datum, "after") for c in corners]
    return all(r is not None and r.twice for r in again)


def _next_setting(model: JobModel, fitting: Fitting, found: Bands) -> NextSetting | None:
    """Return the setting that meets the target on the model refitted with the readings taken with the kit.

    None for a front kit, where the rear of the target's state does not miss beyond its band, where no setting gets there, where it would be the
    present one, or where it would go the wrong way: what stands low needs more.
    """
    key = target_state(model)
    missed = found.mean(key, "rear")
    if fitting.kit.axle == "front" or missed is None or abs(missed[0]) <= missed[1]:
        return None
    following = better_setting(model, fitting, key)
    if following is None:
        return None  # no setting of this kit gets there; the verdict then names the causes alone
    raised = sum(sum(pair) - sum(fitting.setting.get(name, (0.0, 0.0))) for name, pair in following.items())
    return NextSetting(state=key, setting=following) if raised * missed[0] < 0.0 else None


def better_setting(model: JobModel, fitting: Fitting, key: str) -> Setting | None:
    """Return the setting that meets the target in a state on the model refitted with what was read with the kit on; None where none does."""
    try:
        learned = refitted(model, fitting)
        more = _offset(learned, fitting, key)
        left, right = target_drop(learned, key).sides

        def at(setting: Setting) -> Vehicle:
            return fitted_vehicle(learned, fitting.model_copy(update={"setting": dict(setting)}))

        return family_of(fitting.kit).sought(learned, fitting.kit, at, key, (left + more, right + more))
    except VantokError:
        return None


def _offset(learned: JobModel, fitting: Fitting, key: str) -> float:
    """Return what the refitted model still misses of the mean rear height (m, positive: it stands higher than modelled)."""
    datum = main_datum(learned.job)
    predicted = learned.heights(key, datum, fitted_vehicle(learned, fitting))
    misses = [
        r.value_m - predicted[c].value
        for c in ("RL", "RR")
        if c in predicted and (r := learned.job.at(key, c, datum, "after"))
    ]
    return sum(misses) / len(misses) if misses else 0.0


def _verdict(
    job: Job, rows: Mapping[str, tuple[Compared, ...]], found: Bands, suspect: Suspect | None, still: tuple[Cause, ...],
    following: NextSetting | None, *, limits: bool,
) -> Verdict:  # fmt: skip
    names = {s.key: s.name for s in job.states}
    if suspect is not None:
        return _missed(job, names, suspect, still, following)
    if found.inside is None:
        return Verdict(
            tone="act",
            sentences=(_unread(job, [names[k] for k, row in rows.items() if any(r.stale for r in row)], found),),
        )
    misses, at = found.misses(), found.judged
    worst = max(range(len(at)), key=lambda n: abs(misses[n]) / found.band(at[n]))
    values = {"miss": length(abs(misses[worst])), "band": length(found.band(at[worst]))}
    sentences = [
        Say(
            "The heights lie within what was predicted, taken together (furthest out: {miss}, its own band ± {band}).",
            values,
        )
    ]
    unread = [names[key] for key, row in rows.items() if any(r.read is None for r in row)]
    if unread:
        sentences.append(Say(f"Still to read at this setting: {', '.join(unread)}."))
        return Verdict(tone="act", sentences=tuple(sentences))
    if rough := _rough(job, list(rows)):
        where = ", ".join(names[key] for key in rough)
        sentences.append(
            Say(f"Not settled when read: {where}. Roll it, bounce it and read again before it is called proved.")
        )
        return Verdict(tone="act", sentences=tuple(sentences))
    if not limits:
        sentences.append(Say("No limit is known: take the ratings off the plate and weigh it before it goes."))
        return Verdict(tone="act", sentences=tuple(sentences))
    sentences.append(Say("The heights are proved at this setting."))
    return Verdict(tone="level", sentences=tuple(sentences))


def _rough(job: Job, states: list[str]) -> list[str]:
    """Return the states in which a height read with the kit on was not settled."""
    datum = main_datum(job)
    return [key for key in states if any((r := job.at(key, c, datum, "after")) and r.unsettled for c in CORNERS)]


def _unread(job: Job, stale: list[str], found: Bands) -> Say:
    """Return why nothing is judged yet. stale: states read at another setting."""
    if not found.cells:
        which = "The vehicle as it stands" if job.never_empty else "The empty vehicle"
        return Say(
            f"{which} was not read on this datum, so nothing is predicted that these heights could be held against."
        )
    if stale:
        text = f"What was read in {', '.join(stale)} was read at another setting and is not judged: settle it and read again."
        return Say(text)
    again = "." if job.never_empty else ", empty as well."
    return Say(f"Nothing has been read since the kit was fitted. Settle it and walk round again{again}")


def _missed(
    job: Job, names: Mapping[str, str], suspect: Suspect, still: tuple[Cause, ...], following: NextSetting | None
) -> Verdict:
    side = "high" if suspect.miss > 0 else "low"
    values = {"miss": length(abs(suspect.miss)), "band": length(suspect.band)}
    what = {"corner": PLACES.get(suspect.corner, ""), "rear": "the rear", "front": "the front"}[suspect.named]
    stands = Say(
        f"{names[suspect.state]}: {what} stands {{miss}} {side} against the prediction (band ± {{band}}).", values
    )
    assert job.fitting is not None
    own = job.fitting.kit.axle
    if suspect.named not in ("corner", own):
        matter = (
            f"The {suspect.named} axle load has not changed; a {suspect.named} that came up is a reading, settling or load matter: read again, or weigh."
            if suspect.miss > 0
            else f"A {own} kit puts next to nothing on the {suspect.named} axle; read it again, settled, or weigh it."
        )
        return Verdict(tone="act", sentences=(stands, Say(matter)))
    if suspect.named == "corner":
        again = "First read it again, settled, with the same load."
        if still and still[0].key not in AGAIN:
            again = f"It read so twice. Look into: {still[0].words}."
        return Verdict(
            tone="act", sentences=(stands, Say(again if still else "Every usual cause was looked into: ask the maker."))
        )
    if still:
        first = (
            "First read it again, settled, with the same load."
            if still[0].key in AGAIN
            else f"Look into: {still[0].words}."
        )
        return Verdict(tone="act", sentences=(stands, Say(first)))
    if following is None:
        return Verdict(
            tone="act", sentences=(stands, Say(f"No other setting of this kit answers that: {LAST_CAUSE.words}."))
        )
    fields = family_of(job.fitting.kit).settings
    told = tuple(_order(field, following, names) for field in fields if field.name in following.setting)
    return Verdict(tone="act", sentences=(stands, *told))


def _order(field: SettingField, following: NextSetting, names: Mapping[str, str]) -> Say:
    """Return what to set, and where, in words."""
    left, right = following.setting[field.name]
    values = {"left": Quantity(left, field.kind), "right": Quantity(right, field.kind)}
    return Say(f"In “{names[following.state]}”, {field.order}, and read again.", values)
