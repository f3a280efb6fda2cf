"""After fitting: predicted against read, what would explain a miss best, and the next setting (method section 5).

Only readings taken at the setting the kit has now are judged. All of them together must lie in their joint band; where they do
not, the one cause that explains most of it is named, and a setting is offered only for what a rear kit can change.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from vantok_core.errors import VantokError
from vantok_core.job import Fitting, Job, JobReading
from vantok_core.judge.checks import PLACE_WORDS
from vantok_core.judge.lead import led_by_limits
from vantok_core.judge.proof_bands import KIT_SIGMA, Bands, Cell, bands
from vantok_core.judge.views import main_datum
from vantok_core.kits.choose import GAUGE_STEP
from vantok_core.kits.fit import KIT_ELEMENT, spacer_stack, unspaced_gap, with_kit
from vantok_core.kits.target import target_drop, target_state
from vantok_core.model import JobModel, build_model
from vantok_core.num import FloatArray
from vantok_core.plan import worst_margin
from vantok_core.rates.estimate import Prediction
from vantok_core.say import Quantity, Say, Verdict, length
from vantok_core.setting import set_gaps, set_pressures
from vantok_core.vehicle import CORNERS, Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause:
    """Something that may be behind a missed height: key, words, kit families it can happen to (empty: all)."""

    key: str
    words: str
    families: tuple[str, ...] = ()


CAUSES = (
    Cause(key="read", words="the reading: read it again"),
    Cause(key="settled", words="not settled: roll it, bounce it, read again"),
    Cause(key="load", words="the load changed between prediction and reading"),
    Cause(key="leak", words="a leak: check the pressure, soap the whole bag", families=("air_spring",)),
    Cause(key="entered", words="the setting is not what was entered"),
)
"""Looked into in this order; only what is left after them is the kit's own strength, which another setting answers."""
LAST_CAUSE = Cause(key="kit", words="the kit's data: ask the maker")
Named = Literal["corner", "rear", "front"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """One corner: empty, before and after height (m), predicted height with sigma, miss and the joint band (m); stale: a reading
    taken at another setting, which is not judged."""

    corner: str
    empty: float | None
    before: float | None
    predicted: Prediction
    read: float | None
    band: float
    stale: JobReading | None = None

    @property
    def miss(self) -> float | None:
        """Read less predicted, m."""
        return None if self.read is None else self.read - self.predicted.value

    @property
    def inside(self) -> bool | None:
        """Whether the reading lies in its own joint 90 % band; of many, one in ten does not by chance."""
        return None if self.miss is None else abs(self.miss) <= self.band


@dataclass(frozen=True, slots=True, kw_only=True)
class NextSetting:
    """A changed setting from the refitted model for a state: pressures (Pa) or spacers (m)."""

    state: str
    pressure: tuple[float, float] | None
    spacers: tuple[tuple[float, ...], tuple[float, ...]] | None


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
    best, the causes to look into and which are open, the next setting, verdict."""

    rows: Mapping[str, tuple[Compared, ...]]
    inside: bool | None
    suspect: Suspect | None
    causes: tuple[Cause, ...]
    open: tuple[Cause, ...]
    next: NextSetting | None
    verdict: Verdict


def fitted_vehicle(model: JobModel, fitting: Fitting, vehicle: Vehicle | None = None) -> Vehicle:
    """Return the vehicle with the job's kit at its entered setting."""
    state = fitting.state if fitting.state in model.states else target_state(model)
    return with_kit(
        model.job, vehicle or model.vehicle, fitting.kit, pressure=fitting.pressure_pa, gap=fitting.gap_m, state=state
    )


def prove(model: JobModel) -> Proof | None:
    """Return predicted against read for every state read after fitting; None without a kit chosen."""
    job = model.job
    if job.fitting is None:
        return None
    vehicle, datum = fitted_vehicle(model, job.fitting), main_datum(job)
    found = _bands(model, vehicle, datum)
    rows = _rows(job, found, datum)
    suspect = _suspect(found) if found.inside is False else None
    causes: tuple[Cause, ...] = ()
    still: tuple[Cause, ...] = ()
    if suspect is not None:
        causes = tuple(c for c in CAUSES if not c.families or job.fitting.kit.family in c.families)
        still = tuple(c for c in causes if not _ruled_out(job, suspect, c, datum))
    following = None
    if suspect is not None and suspect.named == "rear" and not still:
        following = _next_setting(model, job.fitting, found)
    verdict = _verdict(job, rows, found, suspect, still, following)
    return Proof(
        rows=rows, inside=found.inside, suspect=suspect, causes=(*causes, LAST_CAUSE) if causes else (), open=still,
        next=following, verdict=led_by_limits(job, verdict),
    )  # fmt: skip


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
            cell, before = found.cells[i], job.read(key, corner, datum)
            empty = job.read(job.empty.key, corner, datum) if job.empty else None
            last = job.read(key, corner, datum, "after")
            rows.setdefault(key, []).append(
                Compared(
                    corner=corner, empty=empty.value_m if empty else None, before=before.value_m if before else None,
                    predicted=Prediction(value=cell.predicted, sigma=found.sigma(i)), band=found.band(i),
                    read=cell.read.value_m if cell.read else None, stale=last if cell.read is None else None,
                )
            )  # fmt: skip
    return {key: tuple(row) for key, row in rows.items()}


def _kit_scaled(model: JobModel, vehicle: Vehicle) -> Vehicle:
    """Return the vehicle with the kit a sigma weaker: what its data's spread does to the heights."""
    fitting = model.job.fitting
    assert fitting is not None
    weaker = 1.0 - KIT_SIGMA
    kit = fitting.kit
    loads = tuple(tuple(f * weaker for f in row) for row in kit.loads_n)
    points = tuple((c, f * weaker) for c, f in kit.points)
    return fitted_vehicle(
        model, fitting.model_copy(update={"kit": kit.model_copy(update={"loads_n": loads, "points": points})})
    )


def _suspect(found: Bands) -> Suspect:
    """Return the one thing that explains the misses best: the reading furthest outside its own band, the rear, or the front.

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
            gain = max(found.explains(p) for p in _patterns(found, cells, axle, states))
            told = _worst_mean(found, axle, states)
            if gain > most and told is not None:
                most, best = gain, Suspect(named=axle, state=told[0], corner="", miss=told[1], band=told[2])
    return best


def _patterns(found: Bands, cells: list[Cell], axle: str, states: set[str]) -> list[FloatArray]:
    """Return how the readings would stand if an axle stood off: alike in these states, at the rear also as a weaker kit has it."""
    alike = np.array([1.0 if c.axle == axle and c.state in states else 0.0 for c in cells])
    kit = np.array([found.kit[i] for i in found.judged])
    return [alike, kit] if axle == "rear" and kit.any() and len(states) > 1 else [alike]


def _worst_mean(found: Bands, axle: str, states: set[str]) -> tuple[str, float, float] | None:
    """Return the state whose axle mean lies furthest outside its own band, with its miss and band; None where none does."""
    means = {s: found.mean(s, "front" if axle == "front" else "rear") for s in states}
    outside = {s: m for s, m in means.items() if m is not None and abs(m[0]) > m[1]}
    if not outside:
        return None
    state = max(outside, key=lambda s: abs(outside[s][0]) / outside[s][1])
    return state, *outside[state]


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

    None where the rear of the target's state does not miss beyond its band, where no setting gets there, where it would be the
    present one, or where it would go the wrong way: what stands low needs more.
    """
    key = target_state(model)
    missed = found.mean(key, "rear")
    if missed is None or abs(missed[0]) <= missed[1]:
        return None
    try:
        refitted = build_model(model.job, fitted_vehicle(model, fitting, model.prior))
        drop = target_drop(refitted, refitted.solve()[key]).drop + _offset(refitted, fitting, key)
        states = list(refitted.states.values())
        start = fitted_vehicle(refitted, fitting)
        if fitting.kit.family == "air_spring":
            at = set_pressures(
                start, states, element=KIT_ELEMENT, state=key, target=(drop, drop), gauge_step=GAUGE_STEP
            )
            low, high = fitting.kit.p_min_pa or 0.0, fitting.kit.p_max_pa or 1e6
            left, right = (min(max(p, low), high) for p in at.rounded)
            now = fitting.pressure_pa or (0.0, 0.0)
            more = left + right - now[0] - now[1]
            following = NextSetting(state=key, pressure=(left, right), spacers=None)
        else:
            gaps = set_gaps(start, states, element=KIT_ELEMENT, state=key, target=(drop, drop)).exact
            bare = unspaced_gap(model.job, fitting.kit)
            held = [min(max(g, fitting.kit.gap_min_m), fitting.kit.gap_max_m) for g in gaps]
            stacks = [spacer_stack(fitting.kit, max(b - g, 0.0)) for b, g in zip(bare, held, strict=True)]
            more = sum(map(sum, stacks)) - sum(fitting.spacer_m or (0.0, 0.0))
            following = NextSetting(state=key, pressure=None, spacers=(stacks[0], stacks[1]))
    except VantokError:
        return None  # no setting of this kit gets there; the verdict then names the causes alone
    return following if more * missed[0] < 0.0 else None


def _offset(refitted: JobModel, fitting: Fitting, key: str) -> float:
    """Return what the refitted model still misses of the mean rear height (m, positive: it stands higher than modelled)."""
    datum = main_datum(refitted.job)
    predicted = refitted.heights(key, datum, fitted_vehicle(refitted, fitting))
    misses = [
        r.value_m - predicted[c].value
        for c in ("RL", "RR")
        if c in predicted and (r := refitted.job.at(key, c, datum, "after"))
    ]
    return sum(misses) / len(misses) if misses else 0.0


def _verdict(
    job: Job, rows: Mapping[str, tuple[Compared, ...]], found: Bands, suspect: Suspect | None, still: tuple[Cause, ...],
    following: NextSetting | None,
) -> Verdict:  # fmt: skip
    names = {s.key: s.name for s in job.states}
    if suspect is not None:
        return _missed(job, names, suspect, still, following)
    if not found.cells:
        text = "The empty vehicle was not read on this datum, so nothing is predicted that these heights could be held against."
        return Verdict(tone="act", sentences=(Say(text),))
    stale = [names[key] for key, row in rows.items() if any(r.stale is not None for r in row)]
    if found.inside is None:
        text = "Nothing has been read since the kit was fitted. Settle it and walk round again, empty as well."
        if stale:
            text = f"What was read in {', '.join(stale)} was read at another setting and is not judged: settle it and read again."
        return Verdict(tone="act", sentences=(Say(text),))
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
    if worst_margin(job) is None:
        sentences.append(Say("No limit is known: take the ratings off the plate and weigh it before it goes."))
        return Verdict(tone="act", sentences=tuple(sentences))
    sentences.append(Say("The heights are proved at this setting."))
    return Verdict(tone="level", sentences=tuple(sentences))


def _missed(
    job: Job, names: Mapping[str, str], suspect: Suspect, still: tuple[Cause, ...], following: NextSetting | None
) -> Verdict:
    side = "high" if suspect.miss > 0 else "low"
    values = {"miss": length(abs(suspect.miss)), "band": length(suspect.band)}
    what = {"corner": PLACE_WORDS.get(suspect.corner, ""), "rear": "the rear", "front": "the front"}[suspect.named]
    stands = Say(
        f"{names[suspect.state]}: {what} stands {{miss}} {side} against the prediction (band ± {{band}}).", values
    )
    if suspect.named == "front":
        matter = (
            "The front axle load has not changed; a front that came up is a reading, settling or load matter: read again, or weigh."
            if suspect.miss > 0
            else "A rear kit puts next to nothing on the front axle; read it again, settled, or weigh it."
        )
        return Verdict(tone="act", sentences=(stands, Say(matter)))
    if suspect.named == "corner":
        again = "First read it again, settled, with the same load."
        if still and still[0].key != "read":
            again = f"It read so twice. Look into: {still[0].words}."
        return Verdict(
            tone="act", sentences=(stands, Say(again if still else "Every usual cause was looked into: ask the maker."))
        )
    if still:
        first = (
            "First read it again, settled, with the same load."
            if still[0].key == "read"
            else f"Look into: {still[0].words}."
        )
        return Verdict(tone="act", sentences=(stands, Say(first)))
    if following is None:
        return Verdict(
            tone="act", sentences=(stands, Say(f"No other setting of this kit answers that: {LAST_CAUSE.words}."))
        )
    if following.pressure is not None:
        left, right = following.pressure
        told = Say(
            f"In “{names[following.state]}”, set {{l}} left and {{r}} right, and read again.",
            {"l": Quantity(left, "pressure"), "r": Quantity(right, "pressure")},
        )
    else:
        assert following.spacers is not None
        left, right = (sum(s) for s in following.spacers)
        told = Say(
            f"For “{names[following.state]}”, fit {{l}} of spacer left and {{r}} right, and read again.",
            {"l": length(left), "r": length(right)},
        )
    return Verdict(tone="act", sentences=(stands, told))
