"""What makes the sheet itself doubtful: four corners that lie on no one body, a row copied, heights no springs could have. Nothing that rests on it is told
until it is cleared.

Source: method section 21.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from math import hypot

from vantok_core.base.names import CORNERS, DEFAULT_TRACK, PLACES
from vantok_core.base.say import Finding, Say, Verdict, in_turn, length
from vantok_core.facts import Job, JobReading, JobState
from vantok_core.judge.grounds.lead import LOAD_FIRST, limits_said
from vantok_core.judge.measure.thresholds import CORNER_APART
from vantok_core.model import JobModel
from vantok_core.model.readings import TAPE_SIGMA
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES
from vantok_core.rates.traits import TYRE_SPREAD
from vantok_core.readings.corners import Corners, Residual, residual
from vantok_core.readings.tape import reading_sigma

GROUND, HUB = "ground_arch", "hub_arch"


def doubts(job: Job, model: JobModel | None = None) -> list[Finding]:
    """Return what makes the sheet doubtful as a whole, the copied rows first; model: tells whether springs were found that fit, and the squash of tyres,
    without which readings over the hub say nothing of the body."""
    return [*_copied(job), *_off_one_body(job, model), *_unsettled(model)]


def held_back(job: Job, verdict: Verdict, sheet: Sequence[Finding]) -> Verdict:
    """Return a stage's verdict, or what the sheet doubts in place of it: limits that are passed still lead."""
    doubt = next((finding for finding in sheet if finding.holds), None)
    if doubt is None:
        return verdict
    said = limits_said(job)
    lead = (said, LOAD_FIRST) if said is not None else ()
    return Verdict(tone="limit" if lead else "act", sentences=(*lead, doubt.what, doubt.do))


def _row(job: Job, state: str, phase: str, datum: str = GROUND) -> dict[str, JobReading] | None:
    """Return the four corners as read in a state on a datum; None unless all are there."""
    found = {c: r for c in CORNERS if (r := job.at(state, c, datum, phase))}
    return found if len(found) == len(CORNERS) else None


def _rows(job: Job) -> list[tuple[str, str, str, dict[str, JobReading]]]:
    """Return every whole row: state, its name, phase, corners."""
    told = [(s.key, s.name, phase) for s in job.states if not s.past for phase in ("before", "after")]
    return [(key, name, phase, row) for key, name, phase in told if (row := _row(job, key, phase))]


def _same(one: Mapping[str, JobReading], other: Mapping[str, JobReading]) -> bool:
    """Tell whether two rows read alike at every corner."""
    return all(abs(one[c].value_m - other[c].value_m) < 1e-4 for c in CORNERS)


def _copied(job: Job) -> list[Finding]:
    """Ask about four like figures in a row, and about a row that is one before it over again."""
    found = []
    rows = _rows(job)
    for n, (key, name, phase, row) in enumerate(rows):
        if len({round(r.value_m, 4) for r in row.values()}) == 1:
            text = "“{name}”: all four corners read {h}."
            found.append(
                _doubt(
                    f"alike-{key}-{phase}",
                    text,
                    "Was one figure copied? Read the four again.",
                    name=name,
                    h=next(iter(row.values())).value_m,
                )
            )
        alike = (first for _, first, then, other in rows[:n] if then == phase and _same(row, other))
        if first := next(alike, None):
            text, do = (
                "“{second}” reads at every corner as “{first}” does.",
                "Was the row copied? Read “{second}” again.",
            )
            found.append(_doubt(f"copied-{key}-{phase}", text, do, first=first, second=name))
    return found


def _unsettled(model: JobModel | None) -> list[Finding]:
    """Tell that the search for the springs' rates was ended before it settled: heights and loads are too far from one another for any springs."""
    if model is None or model.estimate.settled:
        return []
    worst = max(model.estimate.suspects(), key=lambda one: abs(one.standardised), default=None)
    text = "Heights and loads contradict each other so far that the search for the springs’ rates was stopped before it settled."
    if worst is None:
        return [_doubt("unsettled", text, "Settle it and read again, and check the loads.")]
    state, at = worst.reading.state, worst.reading.place.at
    again = "Settle it and read again, and check the loads; the {at} in “{state}” fits worst."
    name = next(s.name for s in model.job.states if s.key == state)
    return [_doubt("unsettled", text, again, at=at if at == "point" else f"{at} axle", state=name)]


Row = dict[str, tuple[float, float]]
"""A row as the ground has it: height and sigma by corner, m."""


def _off_one_body(job: Job, model: JobModel | None) -> list[Finding]:
    """Find rows whose four corners no rigid body has, by themselves or against the empty one."""
    rows = _over_ground_rows(job, model)
    empty = next((row for state, phase, row in rows if state.empty and phase == "before"), None)
    found = [(one, off) for one in rows if (off := _off(job, one[2], empty))]
    others = sum(1 for *_, row in rows if row != empty)
    of_empty = 1 < len(found) == others and not any(alone for _, (_, alone) in found)
    return [_told(job, s.key, s.name, phase, *off, of_empty=of_empty) for (s, phase, _), off in found]


def _over_ground_rows(job: Job, model: JobModel | None) -> list[tuple[JobState, str, Row]]:
    """Return every whole row as the ground has it, with its state and phase."""
    phases = [(s, phase) for s in job.states if not s.past for phase in ("before", "after")]
    return [one for state, phase in phases if (one := _over_ground(job, model, state, phase))]


def _off(job: Job, row: Row, empty: Row | None) -> tuple[Residual, bool] | None:
    """Return by how much a row is off one body, by itself (True) or against the empty one; None where it is not."""
    if (alone := _residual(job, [row])).told:
        return alone, True
    if empty is not None and row != empty and (against := _residual(job, [empty, row])).told:
        return against, False
    return None


def _over_ground(job: Job, model: JobModel | None, state: JobState, phase: str) -> tuple[JobState, str, Row] | None:
    """Return a whole row over the ground; one read over the hubs has each tyre's squash taken off, where the model tells it. None for neither."""
    if row := _row(job, state.key, phase):
        return state, phase, {c: (r.value_m, reading_sigma(r.resolution_m, TAPE_SIGMA)) for c, r in row.items()}
    row = _row(job, state.key, phase, HUB)
    if row is None or model is None or state.key not in model.states:
        return None
    loads, told = model.solve()[state.key].load, {}
    for axle in AXLES:
        for corner in AXLE_CORNERS[axle]:
            squash, one = float(loads[corner]) / float(model.vehicle.axle(axle).tyre_rate), row[corner]
            told[corner] = (
                one.value_m - squash,
                hypot(reading_sigma(one.resolution_m, TAPE_SIGMA), TYRE_SPREAD * squash),
            )
    return state, phase, told


def _residual(job: Job, rows: Sequence[Row]) -> Residual:
    tape = [
        Corners(heights={c: h for c, (h, _) in row.items()}, sigma={c: s for c, (_, s) in row.items()}) for row in rows
    ]
    return residual(tape, job.vehicle.track_front_m or DEFAULT_TRACK, job.vehicle.track_rear_m or DEFAULT_TRACK)


def _told(job: Job, key: str, name: str, phase: str, off: Residual, alone: bool, *, of_empty: bool) -> Finding:
    """Return what does not agree, what would close it at each corner, and whom another state or datum accuses."""
    text = "“{name}”: its four corners lie on no one body{against}, by {r} (beyond ± {limit})."
    odd = _accused(job, key, phase)
    assert job.empty is not None
    if odd:
        do = Say("Over the hub only the {odd} moved otherwise: read it again, on the same datum.", {"odd": PLACES[odd]})
    elif of_empty:
        do = Say("Every loaded row says so: read “{empty}” again if it can still be.", {"empty": job.empty.name})
    else:
        do = Say("A wrong reading or datum, a floor that is not plane, or a soft body: read the four again.")
    each = [Say("{place} {by}", {"place": PLACES[c], "by": length(off.correction[c], signed=True)}) for c in CORNERS]
    against = "" if alone else " against the empty row"
    finding = _doubt(f"corners-{key}-{phase}", text, "", name=name, against=against, r=abs(off.r), limit=off.limit)
    closes = Say("{do} One of these would close it: {closes}.", {"do": do, "closes": in_turn(each, ", ")})
    return replace(finding, do=closes)


def _accused(job: Job, state: str, phase: str) -> str:
    """Return the corner that moved otherwise over ground than over its hub, where both were read empty and in the state; empty where none stands out."""
    if job.empty is None:
        return ""
    rows = [
        _row(job, key, at, datum) for datum in (GROUND, HUB) for key, at in ((job.empty.key, "before"), (state, phase))
    ]
    ground_0, ground, hub_0, hub = rows
    if ground_0 is None or ground is None or hub_0 is None or hub is None:
        return ""
    apart = {c: (ground[c].value_m - ground_0[c].value_m) - (hub[c].value_m - hub_0[c].value_m) for c in CORNERS}
    ranked = sorted(CORNERS, key=lambda c: abs(apart[c] - sorted(apart.values())[1]))
    worst, next_worst = ranked[-1], ranked[-2]
    return worst if abs(apart[worst] - apart[next_worst]) > CORNER_APART else ""


def _doubt(key: str, text: str, do: str, **values: float | str) -> Finding:
    told = {n: v if isinstance(v, str) else length(v) for n, v in values.items()}
    return Finding(key=key, tone="act", holds=True, what=Say(text, told), do=Say(do, told))
