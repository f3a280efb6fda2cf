"""What one load state shows, worked out once: heights and sags as read, rake, lean, beam, caster, camber, travel left, workings.

Source: method sections 1 and 4 (consequences).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from math import exp, hypot, sqrt
from typing import Any

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.names import ARCHES, BEAM_AT
from vantok_core.base.num import G, Real
from vantok_core.base.say import Quantity
from vantok_core.facts import Job, JobReading, JobState
from vantok_core.facts.classes import BODIES, SPRINGS
from vantok_core.judge.grounds.pitched import beam_moved, caster_moved
from vantok_core.judge.grounds.thresholds import RIDE_PITCHES, RIDES_FLAT
from vantok_core.judge.grounds.working import Working, explain
from vantok_core.loads.limits import Margin
from vantok_core.loads.plan import scale_loads, state_margins
from vantok_core.model import JobModel, corner_sigma, load_gap, mean_sigma
from vantok_core.physics.effects import travel_left, wheel_angle_change
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.stance.report import StateReport, ride_frequency
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, CORNERS, AxleName
from vantok_core.readings.tape import drop_between

WHEEL_ANGLES = ("camber", "toe")


@dataclass(frozen=True, kw_only=True)
class StateView:
    """What one state shows.

    read: heights read by corner (m) on the job's main datum; sag: read sag by corner; predicted sag comes from `report`;
    rake, rake_change, front_rise: m; lean: m of left-right difference, lean_band: its 90 % band as read; stop_gap: least gap left (m) by axle; travel: bump
    travel left as a share of the empty vehicle's, by axle; caster: degrees gained, with its band; angles: degrees of "front camber" and the
    like gained, for the wheels whose gain is known; ratio: rear over front ride frequency, ratio_band: its 90 % band; rides:
    what it means, in words, empty where nothing is to be said. band: 90 % band of a mean sag read (m), of the rake likewise.
    A trailer has no lamp, no caster and no front axle: those are None there.
    """

    state: JobState
    report: StateReport
    read: Mapping[str, float]
    sag: Mapping[str, float]
    rake: float | None
    rake_change: float | None
    front_rise: float | None
    lean: float | None
    lean_band: float
    stop_gap: Mapping[str, float]
    margins: tuple[Margin, ...]
    frequency: Mapping[str, float]
    travel: Mapping[str, float]
    caster: Quantity | None
    angles: Mapping[str, float]
    ratio: float | None
    ratio_band: tuple[float, float] | None
    rides: str
    beam: Quantity | None
    band: float
    front_lost: float | None
    work: Callable[[], list[Working]] = field(compare=False, repr=False)

    @cached_property
    def workings(self) -> tuple[Working, ...]:
        """Its figures worked through; done when asked for, since few pages show them."""
        return tuple(self.work())


def main_datum(job: Job) -> str:
    """Return the arch datum with most readings (ground to arch when there are none)."""
    return max(ARCHES, key=lambda d: sum(r.datum == d for r in job.readings))


def view_of(model: JobModel, state: JobState, report: StateReport, datum: str) -> StateView:
    """Return what a state shows on a datum."""
    job = model.job
    assert job.empty is not None
    read_at, empty_at = (_read_at(job, s, datum) for s in (state, job.empty))
    read, empty = ({c: r.value_m for c, r in at.items()} for at in (read_at, empty_at))
    sag = {
        c: drop_between(empty_at[c].value_m, r.value_m, empty_at[c].datum, r.datum)
        for c, r in read_at.items()
        if c in empty_at
    }
    means = {axle: _mean_over(job, state.key, axle, datum, read) for axle in AXLES}
    before = {axle: _mean_over(job, job.empty.key, axle, datum, empty) for axle in AXLES}
    rake = _minus(means["rear"], means["front"])
    gaps = stop_gaps(report) | gaps_read(job, state)
    return StateView(
        state=state,
        report=report,
        read=read,
        sag=sag,
        rake=rake,
        rake_change=_minus(rake, _minus(before["rear"], before["front"])),
        front_rise=_minus(means["front"], before["front"]),
        lean=_minus(read.get("RL"), read.get("RR")),
        lean_band=NINE_IN_TEN * hypot(*(corner_sigma(job, read_at[c]) for c in ("RL", "RR") if c in read_at)),
        stop_gap=gaps,
        margins=tuple(state_margins(job, state)),
        travel=travel_of(model, gaps),
        angles={} if state.empty else angles_gained(job, report),
        band=_sag_band(job, state.key, datum),
        work=lambda: _workings(model, state, report, read, empty, means),
        **_riding(model, report),
        **_of_tow_vehicle(model, state, report),
    )


def _mean_over(job: Job, state: str, axle: AxleName, datum: str, read: Mapping[str, float]) -> float | None:
    """Return an axle's mean height (m) off both its corners, else as read without a side."""
    whole = job.read(state, axle, datum)
    both = mean_of(read, AXLE_CORNERS[axle])
    return both if both is not None or whole is None else whole.value_m


def _read_at(job: Job, state: JobState, datum: str) -> dict[str, JobReading]:
    return {c: r for c in CORNERS if (r := job.read(state.key, c, datum))}


def stop_gaps(report: StateReport) -> dict[str, float]:
    """Return the least gap (m) the model leaves at each axle's own stops."""
    found = {axle: report.elements.get(f"{axle} bump stops") for axle in AXLES}
    return {
        axle: min(float(side.gap_left) for side in sides.values() if side.gap_left is not None)
        for axle, sides in found.items()
        if sides
    }


def _riding(model: JobModel, report: StateReport) -> dict[str, Any]:
    """Return ride frequencies by axle and what their ratio means; a trailer's one axle rides with no other."""
    frequency = {axle: axle_frequency(model, report, axle) for axle in AXLES}
    if BODIES[model.job.vehicle.body].trailer:
        del frequency["front"]
        return {"frequency": frequency, "ratio": None, "ratio_band": None, "rides": ""}
    ratio = frequency["rear"] / frequency["front"]
    band = _ratio_band(model, ratio)
    return {"frequency": frequency, "ratio": ratio, "ratio_band": band, "rides": _rides(ratio, band)}


def _of_tow_vehicle(model: JobModel, state: JobState, report: StateReport) -> dict[str, Any]:
    """Return what a trailer does not have: caster, headlamp beam, a front axle's loss."""
    body = BODIES[model.job.vehicle.body]
    if body.trailer:
        return {"caster": None, "beam": None, "front_lost": None}
    lost = front_lost(model.job, state, report)
    if state.empty:
        return {"caster": None, "beam": None, "front_lost": lost}
    base, errors = model.vehicle.wheelbase, model.axle_errors(state.key)
    return {
        "caster": caster_moved(report, base, errors),
        "beam": beam_moved(report, base, body.lamp, errors),
        "front_lost": lost,
    }


def gaps_read(job: Job, state: JobState) -> dict[str, float]:
    """Return the least stop gap read in a state (m) by axle: what the gauge says rules over what the model makes of it."""
    read = {
        axle: [r.value_m for c in AXLE_CORNERS[axle] if (r := job.read(state.key, c, "stop_gap"))] for axle in AXLES
    }
    return {axle: min(values) for axle, values in read.items() if values}


@dataclass(frozen=True, slots=True, kw_only=True)
class TapeView:
    """A state the model cannot speak of, as the tape alone shows it: why, what would tell more, heights and sags by corner, sag of the rear, rake,
    lean and stop gaps (m), band of a mean sag (m); load: whether its load is what is lacking."""

    state: JobState
    why: str
    cure: str
    load: bool
    read: Mapping[str, float]
    sag: Mapping[str, float]
    rear_sag: float | None
    rake: float | None
    lean: float | None
    stop_gap: Mapping[str, float]
    band: float


def tape_view(model: JobModel, state: JobState, datum: str) -> TapeView:
    """Return what the tape alone shows of a state."""
    job = model.job
    assert job.empty is not None
    read = {c: r.value_m for c in CORNERS if (r := job.read(state.key, c, datum))}
    sag = {c: r.value_m - read[c] for c in read if (r := job.read(job.empty.key, c, datum))}
    gap = load_gap(job, state)
    why = model.unsolved.get(state.key, "").replace(f"“{state.key}”", f"“{state.name}”")
    return TapeView(
        state=state,
        why=why or (gap.what if gap else ""),
        cure=gap.cure if gap else "",
        load=not why,
        read=read,
        sag=sag,
        rear_sag=mean_of(sag, ("RL", "RR")),
        rake=_minus(mean_of(read, ("RL", "RR")), mean_of(read, ("FL", "FR"))),
        lean=read["RL"] - read["RR"] if {"RL", "RR"} <= read.keys() else None,
        stop_gap=gaps_read(job, state),
        band=_sag_band(job, state.key, datum),
    )


def _sag_band(job: Job, state: str, datum: str) -> float:
    """Return the 90 % band (m) of the rear's mean sag as read: two means, each with its tape and its axle's friction."""
    assert job.empty is not None
    pairs = [
        [r for c in ("RL", "RR") if (r := job.read(key, c, datum))] for key in dict.fromkeys((job.empty.key, state))
    ]
    return NINE_IN_TEN * hypot(*(mean_sigma(job, pair) for pair in pairs if pair))


def _ratio_band(model: JobModel, ratio: float) -> tuple[float, float]:
    """Return the 90 % band of the rear over front ride frequency: it goes with the root of the rates' ratio."""
    found = model.estimate
    front, rear = found.sigma_ln["front"], found.sigma_ln["rear"]
    sigma = 0.5 * sqrt(max(front**2 + rear**2 - 2.0 * found.correlation * front * rear, 0.0))
    return ratio * exp(-NINE_IN_TEN * sigma), ratio * exp(NINE_IN_TEN * sigma)


def _rides(ratio: float | None, band: tuple[float, float] | None) -> str:
    """Return what a frequency ratio means in words; a difference inside its band is none."""
    if ratio is None or band is None:
        return ""
    if band[1] < RIDE_PITCHES:
        return "pitches"
    if ratio >= RIDES_FLAT and band[0] > RIDE_PITCHES:
        return "rides flat"
    return "about equal" if band[0] <= RIDE_PITCHES else ""


def mean_of(values: Mapping[str, float], corners: tuple[str, str]) -> float | None:
    """Return the mean of two corners (values: SI), None unless both are there."""
    both = [values[c] for c in corners if c in values]
    return sum(both) / 2 if len(both) == 2 else None


def _minus(a: float | None, b: float | None) -> float | None:
    return None if a is None or b is None else a - b


def axle_mean(values: Mapping[str, Real], axle: AxleName) -> float:
    """Return the mean of an axle's two sides."""
    left, right = AXLE_CORNERS[axle]
    return 0.5 * float(values[left] + values[right])


def axle_frequency(model: JobModel, report: StateReport, axle: AxleName) -> float:
    """Return an axle's ride frequency (Hz): of its mean rate over its mean sprung mass, as the working shows it."""
    return float(ride_frequency(axle_mean(report.bump_rate, axle), _sprung(model, report, axle)))


def _sprung(model: JobModel, report: StateReport, axle: AxleName) -> float:
    return max(axle_mean(report.load, axle) / G - model.vehicle.axle(axle).unsprung, 1.0)


def _camber_workings(job: Job, report: StateReport) -> list[Working]:
    found = []
    for axle in AXLES:
        gain = getattr(job.vehicle, f"{axle}_camber_gain")
        if gain is not None and independent(job, axle):
            found.append(explain("wheel_angle", gain=gain, hub_sag=axle_mean(report.hub_drop, axle)))
    return found


def travel_of(model: JobModel, gaps: Mapping[str, float]) -> dict[str, float]:
    """Return the bump travel left by axle, as a share of the smaller gap of the empty vehicle."""
    found: dict[str, float] = {}
    for axle in AXLES:
        stops = next((e for e in model.vehicle.axle(axle).elements if e.name == f"{axle} bump stops"), None)
        if axle not in gaps or stops is None:
            continue
        first = min(float(law.gap) for law in (stops.left, stops.right) if isinstance(law, Stop))
        if first > 0.0:
            found[axle] = travel_left(gaps[axle], first)
    return found


def independent(job: Job, axle: AxleName) -> bool:
    """Tell whether an axle's wheels are sprung one by one."""
    kind = job.vehicle.front_spring if axle == "front" else job.vehicle.rear_spring
    return kind in SPRINGS and not SPRINGS[kind].solid


def angles_gained(job: Job, report: StateReport) -> dict[str, float]:
    """Return camber and toe gained (degrees) by the independent axles whose gains are known, at their mean hub sag."""
    found = {}
    for axle in AXLES:
        sag = axle_mean(report.hub_drop, axle)
        for angle in WHEEL_ANGLES:
            gain = getattr(job.vehicle, f"{axle}_{angle}_gain")
            if gain is not None and independent(job, axle):
                found[f"{axle} {angle}"] = wheel_angle_change(gain, sag)
    return found


def front_lost(job: Job, state: JobState, report: StateReport) -> float | None:
    """Return the share of the front's load that a state takes away; None for the empty one, or where the empty vehicle was not weighed."""
    known = job.empty is not None and scale_loads(job.empty) is not None
    return float(report.front_share_lost) if known and not state.empty else None


def _workings(
    model: JobModel,
    state: JobState,
    report: StateReport,
    read: Mapping[str, float],
    empty: Mapping[str, float],
    means: Mapping[AxleName, float | None],
) -> list[Working]:
    job, found = model.job, []
    length_m = model.vehicle.wheelbase
    if means["front"] is not None and means["rear"] is not None:
        found.append(explain("rake", front_height=means["front"], rear_height=means["rear"]))
    if "RL" in read and "RR" in read:
        width = model.vehicle.rear.track
        found.append(explain("lean", left_height=read["RL"], right_height=read["RR"], width=width))
    if state.empty:
        return found
    for axle in AXLES:
        before, now = mean_of(empty, AXLE_CORNERS[axle]), means[axle]
        if before is not None and now is not None:
            found.append(explain("sag", before=before, now=now))
    if state.tongue and job.vehicle.hitch_overhang_m is not None:
        lever = {"tongue_mass": state.tongue, "overhang": job.vehicle.hitch_overhang_m, "wheelbase": length_m}
        found += [explain("tongue_rear", **lever), explain("tongue_front", **lever)]
    d_f, d_r = float(report.d_f), float(report.d_r)
    found.append(explain("pitch", d_f=d_f, d_r=d_r, wheelbase=length_m))
    body = BODIES[job.vehicle.body]
    for axle in AXLES[1:] if body.trailer else AXLES:
        rate = axle_mean(report.bump_rate, axle)
        found.append(explain("frequency", rate=rate, sprung_mass=_sprung(model, report, axle)))
    if not body.trailer:
        lamp = {"lamp_station": body.lamp, "distance": BEAM_AT}
        found.append(explain("headlamp", d_f=d_f, d_r=d_r, wheelbase=length_m, **lamp))
        found.append(explain("caster", theta=(d_r - d_f) / length_m))
    found += _camber_workings(job, report)
    found += _front_working(model, state, report)
    found += _rate_workings(model, report)
    total = sum(float(report.load[c]) for c in CORNERS) / G
    height = BODIES[job.vehicle.body].centre_height
    pitch = (d_r - d_f) / length_m
    found.append(explain("levelling", mass=total, centre_height=height, pitch=pitch, wheelbase=length_m))
    return found


def _front_working(model: JobModel, state: JobState, report: StateReport) -> list[Working]:
    if BODIES[model.job.vehicle.body].trailer or front_lost(model.job, state, report) is None:
        return []
    left, right = model.vehicle.front.ref_load
    return [explain("front_lost", front_now=float(report.axle_load("front")) / G, front_empty=float(left + right) / G)]


def _rate_workings(model: JobModel, report: StateReport) -> list[Working]:
    gained = 0.5 * (float(report.axle_load("rear")) - empty_rear_load(model))
    hub = axle_mean(report.hub_drop, "rear")
    if gained <= 0.0 or hub <= 0.0:
        return []
    tyre = float(model.vehicle.rear.tyre_rate)
    return [explain("wheel_rate", force_side=gained, sag=hub), explain("series_rate", k_w=gained / hub, k_t=tyre)]


def empty_rear_load(model: JobModel) -> float:
    """Return the rear axle's load in the reference state (N)."""
    left, right = model.vehicle.rear.ref_load
    return float(left + right)
