"""After fitting: predicted against read, what would explain a miss best, and the next setting (method section 5).

Only readings taken at the setting the kit has now are judged. All of them together must lie in their joint band; where they do
not, the one cause that explains most of it is named, and a setting is offered only for what a rear kit can change.
"""

from __future__ import annotations

from dataclasses import replace
from math import hypot

import numpy as np

from vantok_core.base.errors import VantokError
from vantok_core.base.figure import NINE_IN_TEN, Figure
from vantok_core.base.num import FloatArray
from vantok_core.base.say import Verdict
from vantok_core.facts import Fitting, Job
from vantok_core.judge.grounds.lead import led_by_limits
from vantok_core.judge.grounds.shown import main_datum
from vantok_core.judge.grounds.unweighed import unweighed
from vantok_core.judge.prove.after_causes import KIT_CAUSE, Cause, Pattern, pattern_words, weighed
from vantok_core.judge.prove.at_points import at_points, points_said
from vantok_core.judge.prove.proof import Compared, NextSetting, Proof, Reached, Strength, Suspect
from vantok_core.judge.prove.proof_said import proof_said
from vantok_core.kits.family import KIT_ELEMENT, Setting
from vantok_core.kits.fit import fitted_vehicle, weaker_vehicle
from vantok_core.kits.proof_bands import Bands, Cell, bands
from vantok_core.kits.registry import family_of
from vantok_core.kits.sides import evened
from vantok_core.kits.staged import refitted
from vantok_core.kits.target import target_drop, target_state
from vantok_core.loads.plan import worst_margin
from vantok_core.model import AXLE_DATUM, JobModel, mean_sigma
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, CORNERS, Vehicle


def prove(model: JobModel) -> Proof | None:
    """Return the proof: the height wanted, then the prediction, each against what was read after fitting; None without a kit chosen."""
    job = model.job
    if job.fitting is None:
        return None
    vehicle, datum = fitted_vehicle(model, job.fitting), main_datum(job)
    found = _bands(model, vehicle, datum)
    reached = against_target(model, datum)
    proof = Proof(
        rows=_rows(job, found, datum),
        inside=found.inside,
        suspect=None,
        causes=(),
        open=(),
        pattern="",
        next=None,
        verdict=Verdict(tone="act", sentences=()),
        reached=reached,
        strength=strength_read(model, datum),
        points=at_points(model, vehicle),
    )
    if found.inside is False:
        proof = _looked_into(job, found, proof, datum)
    doubted = proof.suspect is not None and (proof.suspect.named != job.fitting.kit.axle or bool(proof.open))
    if reached is not None and not reached.met and not doubted:
        proof = replace(proof, next=_next_setting(model, job.fitting, reached))
    told = unweighed(model)
    limits = worst_margin(job) is not None or any(one.margins for one in told)
    alone = points_said(job, proof.points, limits=limits) if proof.inside is None else None
    return replace(proof, verdict=led_by_limits(job, alone or proof_said(job, proof, limits=limits), told))


def _looked_into(job: Job, found: Bands, proof: Proof, datum: str) -> Proof:
    """Return a proof of heights that do not lie in their joint band, with what explains it best and the causes to look into."""
    assert job.fitting is not None
    suspect = _suspect(found, job.fitting.kit.axle)
    pattern = _pattern(job, found, suspect, datum)
    causes = weighed(pattern, sealed=family_of(job.fitting.kit).sealed)
    still = tuple(w.cause for w in causes if w.cause is not KIT_CAUSE and not _ruled_out(job, suspect, w.cause, datum))
    return replace(proof, suspect=suspect, causes=causes, open=still, pattern=pattern_words(pattern))


def against_target(model: JobModel, datum: str) -> Reached | None:
    """Return how the rear as read with the kit on stands to the height wanted, the tape against the aim; None for a kit that sets no rear height,
    or where the heights of then and now were not both read. Source: method sections 24 and 26."""
    job = model.job
    assert job.fitting is not None
    if job.fitting.kit.axle != "rear" or not family_of(job.fitting.kit).lifts or job.empty is None:
        return None
    try:
        key = target_state(model)
        wanted = target_drop(model, key)
    except VantokError:
        return None
    before = [r for c in AXLE_CORNERS["rear"] if (r := job.read(job.empty.key, c, datum))]
    after = [r for c in AXLE_CORNERS["rear"] if (r := job.at(key, c, datum, "after"))]
    if len(before) != 2 or len(after) != 2 or AXLE_DATUM.get(datum) != "ground":
        return None
    above = sum(r.value_m for r in after) / 2 - sum(r.value_m for r in before) / 2 + wanted.drop
    band = NINE_IN_TEN * hypot(mean_sigma(job, after), mean_sigma(job, before), wanted.sigma)
    return Reached(state=key, above=above, band=band)


def strength_read(model: JobModel, datum: str) -> Strength | None:
    """Return how strong the kit in hand was read to be with it on, at all its settings; None where no height was read with it, or it presses on nothing."""
    fitting = model.job.fitting
    if fitting is None or not any(r.phase == "after" and r.datum == datum for r in model.job.readings):
        return None
    try:
        learned = refitted(model, fitting)
    except VantokError:
        return None
    found = learned.estimate
    if KIT_ELEMENT not in found.strength or not _presses(fitted_vehicle(learned, fitting)):
        return None
    return Strength(
        q=found.strength[KIT_ELEMENT], sigma_ln=found.strength_sigma[KIT_ELEMENT], prior=fitting.kit.strength_sigma
    )


def _presses(vehicle: Vehicle) -> bool:
    """Tell whether the kit in hand stands beside the springs as an element of its own."""
    return any(e.name == KIT_ELEMENT for axle in AXLES for e in vehicle.axle(axle).elements)


def _bands(model: JobModel, vehicle: Vehicle, datum: str) -> Bands:
    """Return every height with the kit on, with the covariance of what is read there."""
    assert model.job.fitting is not None
    model.estimate.together([*model.states], vehicle)
    cells = [
        Cell(state=key, corner=corner, predicted=predicted.value, read=model.job.at(key, corner, datum, "after"))
        for key in model.states
        for corner, predicted in model.heights(key, datum, vehicle).items()
    ]
    return bands(model, cells, datum, vehicle, weaker_vehicle(model, model.job.fitting))


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
                    corner=corner,
                    empty=empty.value_m if empty else None,
                    before=before.value_m if before else None,
                    predicted=Figure(value=cell.predicted, sigma=found.band(i) / NINE_IN_TEN),
                    read=cell.read.value_m if cell.read else None,
                    stale=last if cell.read is None else None,
                )
            )
    return {key: tuple(row) for key, row in rows.items()}


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
        one_side=suspect.named == "corner",
        other_axle=mean is not None and abs(mean[0]) > mean[1],
        drifting=any(r.unsettled == "drift" for r in there),
        unsettled=any(r.unsettled == "lifted" for r in there),
        high=suspect.miss > 0.0,
    )


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


def _next_setting(model: JobModel, fitting: Fitting, reached: Reached) -> NextSetting | None:
    """Return the setting that meets the height wanted with the kit as strong as it was read to be.

    None where no setting gets there, where it would be the present one, or where it would go the wrong way: what stands low needs more.
    """
    following = better_setting(model, fitting, reached.state)
    if following is None:
        return None  # no setting of this kit gets there; the verdict says so
    raised = sum(sum(pair) - sum(fitting.setting.get(name, (0.0, 0.0))) for name, pair in following.items())
    return NextSetting(state=reached.state, setting=following) if raised * reached.above < 0.0 else None


def better_setting(model: JobModel, fitting: Fitting, key: str) -> Setting | None:
    """Return the setting that meets the target in a state on the model refitted with what was read with the kit on; None where none does."""
    try:
        learned = refitted(model, fitting)
        more = _offset(learned, fitting, key)
        left, right = target_drop(learned, key).sides

        def at(setting: Setting) -> Vehicle:
            return fitted_vehicle(learned, fitting.model_copy(update={"setting": dict(setting)}))

        wanted = left + more, right + more
        return evened(
            learned, fitting.kit, key, family_of(fitting.kit).sought(learned, fitting.kit, at, key, wanted), wanted
        )[0]
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
