"""Checks on a reading while the tape is still in the hand, and on a sheet as a whole (method section 3).

A check never refuses a reading: it says what is odd, and why, and what to do.
"""

from __future__ import annotations

from collections.abc import Callable
from math import hypot

from vantok_core.aims.of_job import needs_heights
from vantok_core.base.errors import VantokError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.names import ARCHES, CORNERS, DATUMS, DEFAULT_TRACK, PLACES
from vantok_core.base.say import Finding, Say, length
from vantok_core.facts import Job, JobReading, JobState
from vantok_core.facts.classes import plausible
from vantok_core.judge.grounds.thresholds import CONTRADICTS
from vantok_core.judge.listen.inspect import marked_baseline
from vantok_core.judge.measure.doubts import doubts
from vantok_core.judge.measure.thresholds import ODD, ROSE, WIDEST_SIDE
from vantok_core.model import JobModel, expected_height, load_gap, off_springs, reading_own_sigma
from vantok_core.model.rate_band import rate_of
from vantok_core.physics.vehicle import AXLES
from vantok_core.readings.plane import PlanePoint, fit_plane

Unseen = Callable[[], JobModel | None]
"""Makes the model that has not seen a reading; None where there can be none."""


def check_reading(job: Job, reading: JobReading, unseen: Unseen = lambda: None) -> list[Finding]:
    """Return what is odd about one reading, given all others; the model that has not seen it, asked for only where nothing plainer is odd, sharpens that."""
    found = _range_check(job, reading)
    if not found and reading.datum in ARCHES and reading.place in CORNERS:
        found += _side_check(job, reading)
        found += _state_check(job, reading)
    judged = job.empty is not None and reading.state != job.empty.key and reading.phase == "before"
    if judged and not found and (model := unseen()) is not None:
        found += _band_check(job, reading, model)
    return found


def _finding(key: str, what: Say, do: str, **values: str) -> Finding:
    return Finding(key=key, tone="act", holds=key == "datum-mix", what=what, do=Say(do, values))


def _range_check(job: Job, reading: JobReading) -> list[Finding]:
    low, high = plausible(reading.datum, job.vehicle.body)
    if low <= reading.value_m <= high:
        return []
    words = DATUMS[reading.datum].words
    values = {"value": length(reading.value_m), "low": length(low), "high": length(high)}
    hint = "Read it again."
    for other in (*ARCHES, "ground_hitch"):
        span = plausible(other, job.vehicle.body)
        if other != reading.datum and span[0] <= reading.value_m <= span[1]:
            hint = f"By its size it could be {DATUMS[other].words}: check the datum, then read again."
            break
    if low <= 10 * reading.value_m <= high:
        hint = "Ten times as much would fit: was it centimetres?"
    return [
        _finding(
            "range",
            Say("{value} is outside what {words} can be here ({low} to {high}).", {**values, "words": words}),
            hint,
        )
    ]


def _side_check(job: Job, reading: JobReading) -> list[Finding]:
    other = job.read(reading.state, CORNERS[reading.place].beside, reading.datum, reading.phase)
    if other is None or abs(other.value_m - reading.value_m) <= WIDEST_SIDE:
        return []
    values = {"d": length(abs(other.value_m - reading.value_m))}
    return [
        _finding(
            "sides",
            Say("{d} between left and right: more than lean usually explains.", values),
            "Read both sides again; check that both stand on the same floor.",
        )
    ]


def _state_check(job: Job, reading: JobReading) -> list[Finding]:
    """Find a rear that stands higher loaded than empty."""
    empty = job.empty
    if empty is None or reading.phase != "before" or job.never_empty:
        return []  # a vehicle that is never empty may well be lighter in another state
    if reading.state == empty.key or reading.place in ("FL", "FR"):
        return []
    base = job.read(empty.key, reading.place, reading.datum)
    if base is None or reading.value_m <= base.value_m + ROSE:
        return []
    values = {"rise": length(reading.value_m - base.value_m)}
    return [
        _finding(
            "rises",
            Say("It stands {rise} higher loaded than empty: a rear does not rise under load.", values),
            "Check the state, the datum and the corner; roll and bounce the vehicle, then read again.",
        )
    ]


def _band_check(job: Job, reading: JobReading, model: JobModel) -> list[Finding]:
    """Find a reading outside the joint band of the model (learned without it) and the tape; where only the class speaks, it says so."""
    if reading.state not in model.states:
        return []
    try:
        expected = expected_height(model, reading.state, reading.datum, reading.place)
    except VantokError:
        return []
    if expected is None:
        return []
    sigma = hypot(expected.sigma, reading_own_sigma(job, reading))
    miss = reading.value_m - expected.value
    if abs(miss) <= ODD * NINE_IN_TEN * sigma:
        return []
    side = "higher" if miss > 0 else "lower"
    rests = "the loads and the other readings" if taught(model, reading.place) else "its class, which varies by half"
    values = {"miss": length(abs(miss)), "expected": length(expected.value), "band": length(NINE_IN_TEN * sigma)}
    return [
        _finding(
            "band",
            Say(
                "{miss} {side} than expected ({expected} ± {band} from {rests}).",
                {**values, "side": side, "rests": rests},
            ),
            "Settle the vehicle and read it again; if it stays, check the load.",
        )
    ]


def taught(model: JobModel, place: str) -> bool:
    """Tell whether this vehicle's own readings taught the spring's rate under a place, or both where it stands on neither."""
    axles = AXLES if place not in CORNERS and place not in AXLES else (AXLES[place[0].upper() == "R"],)
    return all(rate_of(model, axle).learned for axle in axles)


def expected_before(job: Job, reading: JobReading) -> Job:
    """Return the job without one cell's readings, so that a reading is not held against itself."""
    kept = tuple(
        r
        for r in job.readings
        if (r.state, r.place, r.datum, r.phase) != (reading.state, reading.place, reading.datum, reading.phase)
    )
    return job.model_copy(update={"readings": kept})


def baseline_missing(job: Job) -> bool:
    """Tell whether the reference (empty, or as it stands) was not read before a kit, and nobody said why: every arch on one datum, or the hitch by itself."""
    if job.no_baseline or not needs_heights(job):
        return False
    empty = job.empty
    if empty is None:
        return True
    arches = any(all(job.read_over(empty.key, axle, datum) for axle in AXLES) for datum in ARCHES)
    return not (arches or job.read(empty.key, "hitch", "ground_hitch"))


def check_sheet(job: Job, model: JobModel | None = None) -> list[Finding]:
    """Return what is odd about the sheet as a whole: missing baseline, loads, mixed datums, readings off the plane; model: tells how far tyres are squashed
    under readings over the hub."""
    found = []
    empty = job.empty
    datums: dict[str, set[str]] = {s.key: set() for s in job.states}
    for r in job.readings:
        if r.datum.endswith("arch") and r.state in datums:
            datums[r.state].add(r.datum)
    if empty is None or not datums.get(empty.key):
        what = "It is not read as it stands yet." if job.never_empty else "There is no empty baseline yet."
        do = "Read it before any work starts: it can never be measured again afterwards."
        found.append(_finding("baseline", Say(what), do))
    for state in job.carried:
        if state.past:
            found.append(_load_changed(job, state))
            continue
        found += _loaded_check(job, state, datums[state.key], datums[empty.key] if empty else set())
        found += _plane_check(job, state.key)
    return [*found, *doubts(job, model), *marked_baseline(job)]


def _load_changed(job: Job, state: JobState) -> Finding:
    """Return that heights were read under a load of then, and what to do."""
    then = next((s for s in job.loaded if state.name.startswith(s.name)), state)
    said = Say(
        "The load of “{then}” was changed after its heights were read: they are kept with the load of then.",
        {"then": then.name},
    )
    return _finding(
        "load-changed", said, "Read “{then}” again, or say on the sheet that the load is the same.", then=then.name
    )


def _loaded_check(job: Job, state: JobState, datums: set[str], empty: set[str]) -> list[Finding]:
    """Return what is odd about one loaded state, given the arch datums it and the empty vehicle were read on."""
    found, gap = [], load_gap(job, state)
    if datums and gap:
        rest = "it is read off the springs alone" if off_springs(job, state) else "nothing but its heights is told"
        said = Say(
            "“{state}” is read, but nobody knows {gap}: {rest}.", {"state": state.name, "gap": gap.what, "rest": rest}
        )
        found.append(_finding("no-load", said, gap.cure))
    if datums and empty and not datums & empty:
        said = Say("“{state}” was read on another datum than empty.", {"state": state.name})
        found.append(
            _finding("datum-mix", said, "Read both on one datum: readings on different datums are never subtracted.")
        )
    return found


PLANE_LEAST = 5
"""Readings needed before one of them can be named: three lay the plane, and two must be to spare."""


def body_places(job: Job) -> list[tuple[str, str, float, float]]:
    """Return the places of the body read above ground: place, datum, station and lateral place (m); hitch and points where known."""
    v = job.vehicle
    # A height at one axle of a rear group keeps that axle's own station.
    length_m = v.wheelbase_m or v.base_m
    if length_m is None:
        return []
    front, rear = (v.track_front_m or DEFAULT_TRACK) / 2, (v.track_rear_m or DEFAULT_TRACK) / 2
    found = [
        ("FL", "ground_arch", 0.0, front),
        ("FR", "ground_arch", 0.0, -front),
        ("RL", "ground_arch", length_m, rear),
        ("RR", "ground_arch", length_m, -rear),
    ]
    if v.hitch_overhang_m is not None:
        found.append(("hitch", "ground_hitch", length_m + v.hitch_overhang_m, 0.0))
    return found + [(p.key, "ground_point", p.station_m, p.lateral_m) for p in v.points]


def _plane_check(job: Job, state: str) -> list[Finding]:
    """Hold the drops of a state at arches, hitch and named points against one plane."""
    empty = job.empty
    if empty is None:
        return []
    points, names = [], []
    for place, datum, station, lateral in body_places(job):
        before, now = job.read(empty.key, place, datum), job.read(state, place, datum)
        if before is None or now is None:
            continue
        sigma = hypot(reading_own_sigma(job, before), reading_own_sigma(job, now))
        points.append(PlanePoint(station=station, lateral=lateral, drop=before.value_m - now.value_m, sigma=sigma))
        names.append(PLACES.get(place, place.replace("-", " ")))
    if len(points) < PLANE_LEAST:
        return []
    fit = fit_plane(points)
    worst = max(abs(s) for s in fit.standardised)
    if worst <= CONTRADICTS:
        return []
    index = fit.suspect if fit.suspect is not None else 0
    values = {"close": length(fit.closing[index], signed=True)}
    return [
        _finding(
            "plane",
            Say(
                "The readings do not lie on one flat body: most suspect is {name} ({close} would close it).",
                {**values, "name": names[index]},
            ),
            "Read that place again.",
        )
    ]
