"""What one load state shows, worked out once: heights and sags as read, rake, lean, beam, caster, camber, travel left, workings.

Source: method sections 1 and 4 (consequences).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from vantok_core.classes import BODIES, SPRINGS
from vantok_core.effects import caster_change, travel_left, wheel_angle_change
from vantok_core.job import Job, JobState
from vantok_core.judge.working import Working, explain
from vantok_core.loads.limits import Margin
from vantok_core.model import JobModel, unsprung_mass
from vantok_core.num import G
from vantok_core.plan import scale_loads, state_margins
from vantok_core.readings.tape import drop_between
from vantok_core.stance.report import StateReport
from vantok_core.vehicle import AXLE_CORNERS, AXLES, CORNERS, AxleName

LAMP_DISTANCE = 10.0
"""How far ahead the headlamp beam is judged, m."""
WHEEL_ANGLES = ("camber", "toe")


@dataclass(frozen=True, slots=True, kw_only=True)
class StateView:
    """What one state shows.

    read: heights read by corner (m) on the job's main datum; sag: read sag by corner; predicted sag comes from `report`;
    rake, rake_change, front_rise: m; lean: m of left-right difference; stop_gap: least gap left (m) by axle; travel: bump
    travel left as a share of the empty vehicle's, by axle; caster: degrees gained; angles: degrees of "front camber" and the
    like gained, for the wheels whose gain is known; ratio: rear over front ride frequency.
    """

    state: JobState
    report: StateReport
    read: Mapping[str, float]
    sag: Mapping[str, float]
    rake: float | None
    rake_change: float | None
    front_rise: float | None
    lean: float | None
    stop_gap: Mapping[str, float]
    margins: tuple[Margin, ...]
    frequency: Mapping[str, float]
    travel: Mapping[str, float]
    caster: float
    angles: Mapping[str, float]
    ratio: float | None
    beam: float
    front_lost: float | None
    workings: tuple[Working, ...]


def main_datum(job: Job) -> str:
    """Return the arch datum with most readings (ground to arch when there are none)."""
    counts = {d: sum(r.datum == d for r in job.readings) for d in ("ground_arch", "hub_arch")}
    return "hub_arch" if counts["hub_arch"] > counts["ground_arch"] else "ground_arch"


def view_of(model: JobModel, state: JobState, report: StateReport, datum: str) -> StateView:
    """Return what a state shows on a datum."""
    job = model.job
    assert job.empty is not None
    read_at = {c: r for c in CORNERS if (r := job.read(state.key, c, datum))}
    empty_at = {c: r for c in CORNERS if (r := job.read(job.empty.key, c, datum))}
    read = {c: r.value_m for c, r in read_at.items()}
    empty = {c: r.value_m for c, r in empty_at.items()}
    sag = {
        c: drop_between(empty_at[c].value_m, r.value_m, empty_at[c].datum, r.datum)
        for c, r in read_at.items()
        if c in empty_at
    }
    means = {axle: mean_of(read, AXLE_CORNERS[axle]) for axle in AXLES}
    before = {axle: mean_of(empty, AXLE_CORNERS[axle]) for axle in AXLES}
    rake = _minus(means["rear"], means["front"])
    gaps: dict[str, float] = {
        axle: min(float(side.gap_left) for side in sides.values() if side.gap_left is not None)
        for axle in AXLES
        if (sides := report.elements.get(f"{axle} bump stops"))
    }
    lamp = BODIES[job.vehicle.body].lamp
    frequency: dict[str, float] = {axle: axle_frequency(report, axle) for axle in AXLES}
    pair = [read.get(c) for c in ("RL", "RR")]
    return StateView(
        state=state, report=report, read=read, sag=sag, rake=rake, rake_change=_minus(rake, _minus(before["rear"], before["front"])),
        front_rise=_minus(means["front"], before["front"]), lean=_minus(pair[0], pair[1]), stop_gap=gaps,
        margins=tuple(state_margins(job, state)),
        frequency=frequency, ratio=frequency["rear"] / frequency["front"] if frequency["front"] > 0.0 else None,
        travel=_travel(job, gaps), caster=0.0 if state.empty else caster_change(float(report.theta)),
        angles={} if state.empty else _angles(job, report),
        beam=float(_beam(report, model.vehicle.wheelbase, lamp)), front_lost=_front_lost(job, state, report),
        workings=tuple(_workings(model, state, report, read, empty, means)),
    )  # fmt: skip


def mean_of(values: Mapping[str, float], corners: tuple[str, str]) -> float | None:
    """Return the mean of two corners, None unless both are there."""
    both = [values[c] for c in corners if c in values]
    return sum(both) / 2 if len(both) == 2 else None


def _minus(a: float | None, b: float | None) -> float | None:
    return None if a is None or b is None else a - b


def axle_frequency(report: StateReport, axle: AxleName) -> float:
    """Return an axle's mean ride frequency (Hz)."""
    left, right = AXLE_CORNERS[axle]
    return 0.5 * float(report.ride_frequency[left] + report.ride_frequency[right])


def _camber_workings(job: Job, report: StateReport) -> list[Working]:
    found = []
    for axle in AXLES:
        gain, corner = getattr(job.vehicle, f"{axle}_camber_gain"), AXLE_CORNERS[axle][0]
        if gain is not None and independent(job, axle):
            found.append(explain("wheel_angle", gain=gain, hub_sag=float(report.hub_drop[corner])))
    return found


def _travel(job: Job, gaps: Mapping[str, float]) -> dict[str, float]:
    """Return the bump travel left by axle, as a share of the smaller gap read on the empty vehicle."""
    assert job.empty is not None
    found = {}
    for axle in AXLES:
        if axle not in gaps:
            continue
        read = [job.read(job.empty.key, c, "stop_gap") for c in AXLE_CORNERS[axle]]
        first = min((r.value_m for r in read if r is not None), default=0.0)
        if first > 0.0:
            found[axle] = travel_left(gaps[axle], first)
    return {str(axle): share for axle, share in found.items()}


def independent(job: Job, axle: AxleName) -> bool:
    """Tell whether an axle's wheels are sprung one by one."""
    kind = job.vehicle.front_spring if axle == "front" else job.vehicle.rear_spring
    return kind in SPRINGS and not SPRINGS[kind].solid


def _angles(job: Job, report: StateReport) -> dict[str, float]:
    """Return camber and toe gained (degrees) by the independent axles whose gains are known, at their mean hub sag."""
    found = {}
    for axle in AXLES:
        left, right = AXLE_CORNERS[axle]
        sag = 0.5 * float(report.hub_drop[left] + report.hub_drop[right])
        for angle in WHEEL_ANGLES:
            gain = getattr(job.vehicle, f"{axle}_{angle}_gain")
            if gain is not None and independent(job, axle):
                found[f"{axle} {angle}"] = wheel_angle_change(gain, sag)
    return found


def _beam(report: StateReport, wheelbase: float, lamp: float) -> float:
    return float(LAMP_DISTANCE * report.theta - report.drop_at(wheelbase, lamp))


def _front_lost(job: Job, state: JobState, report: StateReport) -> float | None:
    known = job.empty is not None and scale_loads(job.empty) is not None
    return float(report.front_share_lost) if known and not state.empty else None


def _workings(
    model: JobModel, state: JobState, report: StateReport, read: Mapping[str, float], empty: Mapping[str, float],
    means: Mapping[AxleName, float | None],
) -> list[Working]:  # fmt: skip
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
    lamp = BODIES[job.vehicle.body].lamp
    found.append(explain("headlamp", d_f=d_f, d_r=d_r, wheelbase=length_m, lamp_station=lamp, distance=LAMP_DISTANCE))
    for axle in AXLES:
        corner = AXLE_CORNERS[axle][0]
        sprung = float(report.load[corner]) / G - unsprung_mass(job, axle)
        found.append(explain("frequency", rate=float(report.tangent_rate[corner]), sprung_mass=max(sprung, 1.0)))
    found.append(explain("caster", theta=(d_r - d_f) / length_m))
    found += _camber_workings(job, report)
    if _front_lost(job, state, report) is not None:
        left, right = model.vehicle.front.ref_load
        found.append(
            explain("front_lost", front_now=float(report.axle_load("front")) / G, front_empty=float(left + right) / G)
        )
    gained = 0.5 * (float(report.axle_load("rear")) - empty_rear_load(model))
    hub = 0.5 * float(report.hub_drop["RL"] + report.hub_drop["RR"])
    if gained > 0.0 and hub > 0.0:
        found.append(explain("wheel_rate", force_side=gained, sag=hub))
        rate = gained / hub
        found.append(explain("series_rate", k_w=rate, k_t=float(model.vehicle.rear.tyre_rate)))
    total = sum(float(report.load[c]) for c in CORNERS) / G
    height = BODIES[job.vehicle.body].centre_height
    pitch = (d_r - d_f) / length_m
    found.append(explain("levelling", mass=total, centre_height=height, pitch=pitch, wheelbase=length_m))
    return found


def empty_rear_load(model: JobModel) -> float:
    """Return the rear axle's load in the reference state (N)."""
    left, right = model.vehicle.rear.ref_load
    return float(left + right)
