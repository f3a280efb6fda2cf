"""From a job's facts to a calibrated model: class estimates first, sharpened by every weighing and reading.

Source: method sections 2 to 4. What is assumed is listed, what is missing is listed with what it blocks.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, replace
from math import hypot

from vantok_core.classes import (
    BODIES,
    FACTORY_STOP,
    FREQUENCY,
    PLAN_LEAST,
    PLAN_SHARE,
    SCALE_SIGMA,
    SPRINGS,
    TYRES,
)
from vantok_core.elements.curve import force_curve
from vantok_core.elements.laws import Stop
from vantok_core.errors import InputError, StateError
from vantok_core.forms import sort_elements
from vantok_core.job import Job, JobReading, JobState
from vantok_core.num import G
from vantok_core.plan import scale_loads, tongue_of, weighed_loads
from vantok_core.rates.estimate import (
    KEPT,
    SIGMA_LN_K,
    TONGUE,
    Estimate,
    EstimationProblem,
    HeightReading,
    Place,
    Prediction,
    UncertainLoad,
    estimate,
    place_drop,
    with_masses,
)
from vantok_core.rates.simple import rate_for_frequency
from vantok_core.readings.tape import reading_sigma
from vantok_core.stance.report import StateReport, report
from vantok_core.stance.states import SolvedState, solve_states
from vantok_core.units import both
from vantok_core.vehicle import (
    AXLE_CORNERS,
    AXLES,
    Axle,
    AxleName,
    Element,
    Item,
    Lamp,
    LoadState,
    MainSpring,
    Tongue,
    Vehicle,
)

DEFAULT_TRACK = 1.65
AXLE_DATUM = {"ground_arch": "ground", "hub_arch": "hub"}
"""The core's datum of each arch datum."""
COUPLING_MASS = 5.0
"""What a trailer's coupling counts for as unsprung at each side, kg: its "front axle" is a ball, not a pair of wheels."""
SIDE_COUPLE_ARM = 0.5
"""Arm (m) of the pair of masses that stands for a load off to one side."""


class NotReadyError(InputError):
    """The job lacks what a model needs; `missing` lists it."""

    def __init__(self, missing: list[Missing]) -> None:
        names = ", ".join(m.what for m in missing)
        super().__init__("job", "a job without " + names, "that is needed before anything can be worked out")
        self.missing = missing


@dataclass(frozen=True, slots=True)
class Missing:
    """Something not known yet: what it is, what it blocks, the stage where it is entered; hard when nothing works without."""

    what: str
    blocks: str
    stage: str
    hard: bool = False


def missing(job: Job) -> list[Missing]:
    """Return what the job lacks, in the order of the work."""
    v = job.vehicle
    found = []
    hard = {
        "wheelbase": v.base_m, "front suspension": v.front_spring, "rear suspension": v.rear_spring,
        "tyre class": v.tyres,
    }  # fmt: skip
    found += [
        Missing(w, "all loads, rates and predictions", "vehicle", True) for w, value in hard.items() if value is None
    ]
    ratings = {
        "gross rating": v.gross_kg, "front axle rating": v.front_axle_kg, "rear axle rating": v.rear_axle_kg,
    }  # fmt: skip
    found += [
        Missing(w, "its margin; typical rates are rougher without it", "vehicle")
        for w, x in ratings.items()
        if x is None
    ]
    hitched = any(s.hitched for s in job.states)
    if hitched:
        towing = {"hitch overhang": v.hitch_overhang_m, "hitch rating": v.hitch_kg, "towed rating": v.towed_kg}
        found += [Missing(w, "the tongue's lever and hitch margins", "vehicle") for w, x in towing.items() if x is None]
    if job.empty is None:
        found.append(Missing("an empty state", "sag, rates and every comparison", "weigh", True))
    elif scale_loads(job.empty) is None:
        found.append(
            Missing("empty axle loads", "margins, ride frequency and bands (taken from the class meanwhile)", "weigh")
        )
    for state in job.loaded:
        gap = load_gap(job, state)
        if gap:
            found.append(Missing(gap, f"the rates, margins and predictions of “{state.name}”", "weigh"))
    return found


def load_gap(job: Job, state: JobState) -> str:
    """Return what is lacking before a state's load is known against the empty vehicle's, in words; empty when it is known.

    Unknown is never nought: a state weighed beside an empty vehicle that was not, a trailer whose tongue nobody read and a
    tongue of unknown lever are not known. Source: method section 2.
    """
    weighed = scale_loads(state) is not None
    if state.empty or (weighed and job.empty is not None and scale_loads(job.empty) is not None):
        return ""
    gap = f"the load of “{state.name}”"
    if state.hitched and not state.tongue:
        gap = f"the tongue load of “{state.name}”"
    elif state.tongue and job.vehicle.hitch_overhang_m is None:
        gap = f"the hitch overhang, the lever of the tongue of “{state.name}”"
    elif state.contents or state.tongue:
        gap = ""
    elif weighed:
        gap = f"the empty axle loads, without which the weighed “{state.name}” tells no gain"
    return gap


def has_load(job: Job, state: JobState) -> bool:
    """Tell whether what a state carries is known against the empty vehicle."""
    return not load_gap(job, state)


@dataclass(frozen=True, slots=True, kw_only=True)
class JobModel:
    """The calibrated model of a job.

    vehicle: without any kit, at its best rates; prior: at class rates; states: core states by key, the empty one first;
    estimate: rates with covariance; assumed: what was taken from the class; side: inferred side couple by state, N m;
    unsolved: why a state of known load is not among them. A state of unknown load is not among them either.
    """

    job: Job
    vehicle: Vehicle
    prior: Vehicle
    states: Mapping[str, LoadState]
    estimate: Estimate
    assumed: tuple[str, ...]
    side: Mapping[str, float] = field(default_factory=dict)
    unsolved: Mapping[str, str] = field(default_factory=dict)
    kept: deque[tuple[Vehicle, dict[str, SolvedState]]] = field(
        default_factory=lambda: deque(maxlen=KEPT), init=False, repr=False, compare=False
    )

    def for_job(self, job: Job) -> JobModel:
        """Return this calibration for a job that rests it on the same facts (see `same_basis`)."""
        found = replace(self, job=job)
        found.kept.extend(self.kept)
        return found

    def solved(self, vehicle: Vehicle | None = None) -> dict[str, SolvedState]:
        """Return every state solved, with the given vehicle or the plain one; kept for the last few vehicles asked about."""
        used = vehicle or self.vehicle
        found = next((k for v, k in self.kept if v is used), None)
        if found is None:
            found = solve_states(used, list(self.states.values()), check_limits=False)
            self.kept.append((used, found))
        return found

    def solve(self, vehicle: Vehicle | None = None, *, check_limits: bool = False) -> dict[str, StateReport]:
        """Return the report of every state, with the given vehicle (a kit on it) or the plain one."""
        used = vehicle or self.vehicle
        solved = solve_states(used, list(self.states.values())) if check_limits else self.solved(used)
        return {key: report(used, one) for key, one in solved.items()}

    def read_mean(self, state: str, axle: AxleName, datum: str, phase: str = "before") -> float | None:
        """Return the mean of an axle's two readings (m), None unless both sides were read."""
        found = [self.job.read(state, corner, datum, phase) for corner in AXLE_CORNERS[axle]]
        values = [r.value_m for r in found if r is not None]
        return sum(values) / 2 if len(values) == 2 else None

    def heights(self, state: str, datum: str, vehicle: Vehicle | None = None) -> dict[str, Prediction]:
        """Return predicted heights by corner with the model's sigma (m), for axles whose empty height was read.

        The mean comes from the estimate with its band; each side adds its empty difference and the model's lean.
        """
        empty = self.job.empty
        core_datum = "hub" if datum == "hub_arch" else "ground"
        found: dict[str, Prediction] = {}
        if empty is None or state not in self.states:
            return found
        solved = self.solved(vehicle)[state]
        for axle in AXLES:
            place = Place(axle, core_datum)
            base = self.read_mean(empty.key, axle, datum)
            if base is None or place not in self.estimate.heights:
                continue
            mean = self.estimate.height(state, place, vehicle)
            for corner in AXLE_CORNERS[axle]:
                own = self.job.read(empty.key, corner, datum)
                lean = float(place_drop(solved, Place(corner, core_datum)) - place_drop(solved, place))
                offset = own.value_m - base if own else 0.0
                found[corner] = Prediction(value=mean.value + offset - lean, sigma=mean.sigma)
        return found


def same_basis(one: Job, other: Job) -> bool:
    """Tell whether two jobs calibrate alike: same vehicle, states and readings before a kit; words, kit and proof may differ."""

    def basis(job: Job) -> tuple[object, ...]:
        return job.vehicle, job.states, tuple(r for r in job.readings if r.phase == "before")

    return basis(one) == basis(other)


def expected_height(model: JobModel, state: str, datum: str, place: str) -> Prediction | None:
    """Return the height (m) that the model expects of a place not read yet, None where nothing gives it a reference or the
    state's load is unknown.

    Arches, hitch and named points: by the estimate. Stop gaps: the empty gap less the predicted hub drop where the springs
    stand; pad to pad and bracket to bracket likewise. Source: method sections 3 and 4.
    """
    if state not in model.states:
        return None
    if datum in ("ground_arch", "hub_arch"):
        return model.heights(state, datum).get(place)
    if datum in ("ground_hitch", "ground_point"):
        point = body_points(model.job).get(place)
        known = point is not None and point in model.estimate.heights
        return model.estimate.height(state, point) if known and point is not None else None
    empty = model.job.empty
    before = model.job.read(empty.key, place, datum) if empty else None
    if before is None or place not in ("FL", "FR", "RL", "RR"):
        return None
    axle: AxleName = "front" if place[0] == "F" else "rear"
    drop = spring_travel(model, state, place)
    return Prediction(value=before.value_m - drop, sigma=model.estimate.drop(state, Place(axle, "hub")).sigma)


def spring_travel(model: JobModel, state: str, corner: str) -> float:
    """Return how far the spring of a corner has come down from the empty state (m), where it stands.

    Formula: `i (z_mean + y_s / (t / 2) (z - z_mean))` on a solid axle, whose spring stands inboard and feels less of the tilt;
    `i z` on an independent one. Source: method section 4.
    """
    axle: AxleName = "front" if corner[0] == "F" else "rear"
    solved = model.solved()[state]
    hubs = {c: float(place_drop(solved, Place(c, "hub"))) for c in AXLE_CORNERS[axle]}
    mean = sum(hubs.values()) / 2
    own, spring = model.vehicle.axle(axle), model.vehicle.axle(axle).spring
    inboard = 2.0 * spring.y / own.track if own.solid and spring.y is not None else 1.0
    return float(spring.ratio) * (mean + inboard * (hubs[corner] - mean))


def derived_height(model: JobModel, state: str, datum: str, corner: str) -> float | None:
    """Return an arch height (m) on one datum from the reading on the other, where both were read empty; None elsewhere.

    Formula: `ground now = ground empty - (hub empty - hub now) - squash`, squash the tyre's part of the predicted drop; the
    hub's height by the same line turned round. It is derived, not measured. Source: method section 1.
    """
    other = "hub_arch" if datum == "ground_arch" else "ground_arch"
    empty = model.job.empty
    if datum not in ("ground_arch", "hub_arch") or empty is None or state not in model.states:
        return None
    base, before, now = (
        model.job.read(key, corner, d) for key, d in ((empty.key, datum), (empty.key, other), (state, other))
    )
    if base is None or before is None or now is None:
        return None
    solved = model.solved()[state]
    squash = float(place_drop(solved, Place(corner, "ground")) - place_drop(solved, Place(corner, "hub")))
    drop = before.value_m - now.value_m
    return base.value_m - drop - (squash if datum == "ground_arch" else -squash)


def build_model(job: Job, fitted: Vehicle | None = None, near: JobModel | None = None) -> JobModel:
    """Return the job's calibrated model.

    Arguments: job; fitted: the vehicle with its kit on, so that readings taken with it teach too; near: a model of nearly the
    same facts (one reading more or less), which only makes the search shorter. Raises NotReadyError
    with what is missing, InputError for figures that cannot be, StateError from the static solve.
    """
    hard = [m for m in missing(job) if m.hard]
    if hard:
        raise NotReadyError(hard)
    states, loads = _core_states(job)
    unsolved: dict[str, str] = {}
    gaps = {axle: _gaps_read(job, axle) for axle in AXLES}
    while True:
        try:
            model = _calibrated(job, fitted, near, states, loads, unsolved, gaps)
        except StateError as error:
            # One state that cannot be does not take the others with it; the empty one is what all the others rest on.
            if error.state not in states or error.state == next(iter(states)):
                raise
            unsolved[error.state] = str(error)
            del states[error.state]
            continue
        found = {axle: gaps[axle] or _gaps_from_loaded(model, axle) for axle in AXLES}
        if found == gaps:
            return model
        near, gaps = model, found


Gaps = tuple[float, float, str]
"""Stop gaps of the empty vehicle, left and right (m), and what is assumed about them (nothing: both were read)."""


def _gaps_read(job: Job, axle: AxleName) -> Gaps | None:
    """Return an axle's stop gaps as read on the empty vehicle; a side not read is taken like the other, None without any."""
    left, right = (job.read(job.empty.key, corner, "stop_gap") if job.empty else None for corner in AXLE_CORNERS[axle])
    one = left or right
    if one is None:
        return None
    alike = "" if left and right else f"{axle} stop gap alike on both sides"
    return (left or one).value_m, (right or one).value_m, alike


def _gaps_from_loaded(model: JobModel, axle: AxleName) -> Gaps | None:
    """Return an axle's empty stop gaps from those read in the loaded state that stands nearest to empty, None without any.

    Formula: the gap read plus what the springs have come down by since the empty state (the model honours the heights read
    there). Source: method section 4, turned round.
    """
    found = []
    for state in model.job.carried:
        read = {c: r for c in AXLE_CORNERS[axle] if (r := model.job.read(state.key, c, "stop_gap"))}
        if state.key in model.states and read:
            down = {c: spring_travel(model, state.key, c) for c in AXLE_CORNERS[axle]}
            empty = {c: r.value_m + down[c] for c, r in read.items()}
            found.append((sum(down.values()), empty, state.name))
    if not found:
        return None
    _, empty, name = min(found, key=lambda one: abs(one[0]))
    alike = "" if len(empty) == 2 else ", alike on both sides"
    left, right = (empty.get(c, next(iter(empty.values()))) for c in AXLE_CORNERS[axle])
    return left, right, f"empty {axle} stop gap from the one read in “{name}”{alike}"


def _calibrated(
    job: Job, fitted: Vehicle | None, near: JobModel | None, states: Mapping[str, LoadState],
    loads: Mapping[str, UncertainLoad], unsolved: Mapping[str, str], gaps: Mapping[AxleName, Gaps | None],
) -> JobModel:  # fmt: skip
    """Return the model calibrated on the given states. Raises StateError naming the state that cannot be solved."""
    assumed = [gap[2] for gap in gaps.values() if gap and gap[2]]
    prior = _air_set_in(_prior_vehicle(job, gaps, assumed), states, assumed)
    used = [name for state in states.values() for name in (*(i.name for i in state.items), f"{state.name}:{TONGUE}")]
    problem = EstimationProblem(
        vehicle=prior, states=list(states.values()), readings=_mean_readings(job, states, fitted is not None),
        loads={name: loads[name] for name in used if name in loads}, sigma_ln=_prior_sigma(job), fitted=fitted,
    )  # fmt: skip
    found = estimate(problem, near.estimate if near is not None else None)
    weighed = {key: _weighed(state, found.loads) for key, state in states.items()}
    weighed, side = _with_side_couples(job, found.vehicle, weighed)
    vehicle = _with_pads(job, found.vehicle, weighed, side, assumed)
    model = JobModel(
        job=job, vehicle=vehicle, prior=prior, states=weighed, estimate=found, assumed=tuple(assumed), side=side,
        unsolved=dict(unsolved),
    )  # fmt: skip
    model.solved()
    return model


def _prior_sigma(job: Job) -> dict[AxleName, float]:
    """Return the prior sigma of ln k: the class's, or five per cent where the rate was given."""
    given = {"front": job.vehicle.front_rate_n_per_m, "rear": job.vehicle.rear_rate_n_per_m}
    return {axle: 0.05 if given[axle] else SIGMA_LN_K for axle in AXLES}


def _air_set_in(vehicle: Vehicle, states: Mapping[str, LoadState], assumed: list[str]) -> Vehicle:
    """Return the vehicle with air that was set in a state nobody can solve taken as set empty, and say so."""
    for name in AXLES:
        axle, elements = vehicle.axle(name), []
        for element in vehicle.axle(name).elements:
            if element.set_state and element.set_state not in states:
                assumed.append(f"{element.name} set on the empty vehicle, as “{element.set_state}” is not known")
                element = replace(element, set_state=next(iter(states)))  # noqa: PLW2901
            elements.append(element)
        axle = replace(axle, elements=tuple(elements))
        vehicle = replace(vehicle, front=axle) if name == "front" else replace(vehicle, rear=axle)
    return vehicle


def _prior_vehicle(job: Job, gaps: Mapping[AxleName, Gaps | None], assumed: list[str]) -> Vehicle:
    v = job.vehicle
    assert v.base_m is not None
    loads = scale_loads(job.empty) if job.empty else None
    if loads is None:
        assumed.append("empty axle loads from the class")
        loads = _typical_axle_loads(job)
    for name, value in (("front track", v.track_front_m), ("rear track", v.track_rear_m)):
        if value is None:
            assumed.append(f"{name} of {both('length', DEFAULT_TRACK)}")
    return Vehicle(
        wheelbase=v.base_m, front=_prior_axle(job, "front", loads[0], gaps["front"]),
        rear=_prior_axle(job, "rear", loads[1], gaps["rear"]),
        lamp=Lamp(station=BODIES[v.body].lamp),
    )  # fmt: skip


def _typical_axle_loads(job: Job) -> tuple[float, float]:
    """Return typical empty axle loads (kg) from the ratings, or from the tyre class without them."""
    v = job.vehicle
    by_class = {"car": (900.0, 700.0), "light_truck": (1350.0, 1000.0), "medium_duty": (2200.0, 2600.0)}
    front, rear = by_class[v.tyres or "light_truck"]
    return (0.75 * v.front_axle_kg if v.front_axle_kg else front, 0.5 * v.rear_axle_kg if v.rear_axle_kg else rear)


def unsprung_mass(job: Job, axle: AxleName) -> float:
    """Return the class's unsprung mass of a corner (kg)."""
    tyres = TYRES[job.vehicle.tyres or "light_truck"]
    if axle == "front" and BODIES[job.vehicle.body].trailer:
        return COUPLING_MASS
    if axle == "front":
        return tyres.unsprung_front
    return tyres.unsprung_rear + (tyres.second_wheel if job.vehicle.dual_rear else 0.0)


def _prior_axle(job: Job, axle: AxleName, load_kg: float, gaps: Gaps | None) -> Axle:
    v = job.vehicle
    kind = SPRINGS[(v.front_spring if axle == "front" else v.rear_spring) or "leaf_solid"]
    track = (v.track_front_m if axle == "front" else v.track_rear_m) or DEFAULT_TRACK
    tyres = TYRES[v.tyres or "light_truck"]
    unsprung = unsprung_mass(job, axle)
    rating = v.front_axle_kg if axle == "front" else v.rear_axle_kg
    rated = rating if rating and rating > load_kg else load_kg * (1.15 if axle == "front" else 1.5)
    given = v.front_rate_n_per_m if axle == "front" else v.rear_rate_n_per_m
    rate = given or rate_for_frequency(max(rated / 2 - unsprung, 50.0), FREQUENCY[axle])
    k2 = rate * kind.second_stage
    if k2 and not given:  # at rated load both stages carry: the class frequency is theirs together
        rate, k2 = rate / (1.0 + kind.second_stage), rate * kind.second_stage / (1.0 + kind.second_stage)
    place = None if not kind.solid else kind.place * track / 2
    left, right = _reference_sides(job, axle, load_kg)
    forms, changes = (v.front_elements, v.front_changes) if axle == "front" else (v.rear_elements, v.rear_changes)
    named = [(e.name or f"{axle} {e.law.replace('_', ' ')} {i + 1}", e) for i, e in enumerate(forms)]
    bars, others = sort_elements(axle, kind.law, named)
    return Axle(
        solid=kind.solid, track=track, unsprung=unsprung,
        tyre_rate=tyres.rate * (2 if axle == "rear" and v.dual_rear else 1), ref_load=(left * G, right * G),
        spring=MainSpring(
            name=f"{axle} springs", kind=kind.law, k=rate, k2=k2, z2=kind.second_at, y=place,
            changes=tuple(c.build() for c in changes),
        ),
        elements=(*_factory_stops(axle, gaps, place), *others), bars=bars,
    )  # fmt: skip


def _reference_sides(job: Job, axle: AxleName, load_kg: float) -> tuple[float, float]:
    corners = job.empty.corners_kg if job.empty else None
    if corners is None:
        return load_kg / 2, load_kg / 2
    return (corners[0], corners[1]) if axle == "front" else (corners[2], corners[3])


def _factory_stops(axle: AxleName, gaps: Gaps | None, place: float | None) -> tuple[Element, ...]:
    """Return the axle's bump stops, where their gaps are known."""
    if gaps is None:
        return ()
    curve = force_curve(FACTORY_STOP)
    left, right = (Stop(gap=gap, curve=curve) for gap in gaps[:2])
    return (Element(name=f"{axle} bump stops", left=left, right=right, y=place, fitted="reference"),)


def _core_states(job: Job) -> tuple[dict[str, LoadState], dict[str, UncertainLoad]]:
    """Return core states by key (the empty one first) and the sigma of every load."""
    empty = job.empty
    assert empty is not None
    states = {empty.key: LoadState(name=empty.key)}
    loads: dict[str, UncertainLoad] = {}
    for state in job.carried:
        if has_load(job, state):
            states[state.key] = _core_state(job, empty, state, loads)
    return states, loads


def _core_state(job: Job, empty: JobState, state: JobState, loads: dict[str, UncertainLoad]) -> LoadState:
    now, before = weighed_loads(job, state), scale_loads(empty)
    length = job.vehicle.base_m or 0.0
    if now is not None and before is not None:
        gains = (now[0] - before[0], now[1] - before[1])
        items = []
        for i, (gain, station) in enumerate(zip(gains, (0.0, length), strict=True)):
            name = f"{state.key}:{AXLES[i]}"
            loads[name] = UncertainLoad(mass=gain, sigma=SCALE_SIGMA * 2**0.5)
            items.append(Item(mass=gain, station=station, lateral=_pad_lateral(job, empty, state, i, gain), name=name))
        return LoadState(name=state.key, items=tuple(items))
    items = []
    for i, item in enumerate(state.contents):
        name = f"{state.key}:{i}:{item.name}"
        loads[name] = UncertainLoad(mass=item.mass_kg, sigma=max(PLAN_SHARE * item.mass_kg, PLAN_LEAST))
        items.append(Item(mass=item.mass_kg, station=item.station_m, lateral=item.lateral_m, name=name))
    overhang = job.vehicle.hitch_overhang_m
    tongue: Tongue | None = None
    if state.tongue and overhang is not None:
        name = f"{state.key}:{TONGUE}"
        loads[name] = UncertainLoad(mass=state.tongue, sigma=max(PLAN_SHARE * abs(state.tongue), PLAN_LEAST))
        tongue = tongue_of(state, overhang)
    return LoadState(name=state.key, items=tuple(items), tongue=tongue)


def _pad_lateral(job: Job, empty: JobState, state: JobState, axle: int, gain: float) -> float:
    """Return the lateral place (m) that gives an axle's gain the roll moment its corner pads read."""
    if state.corners_kg is None or empty.corners_kg is None or abs(gain) < 1.0:
        return 0.0
    tracks = (job.vehicle.track_front_m or DEFAULT_TRACK, job.vehicle.track_rear_m or DEFAULT_TRACK)
    i = 2 * axle
    moved = (state.corners_kg[i] - state.corners_kg[i + 1]) - (empty.corners_kg[i] - empty.corners_kg[i + 1])
    return moved * tracks[axle] / (2.0 * gain)


def reading_own_sigma(job: Job, reading: JobReading) -> float:
    """Return a reading's own sigma (m): its tape step and how its axle settles."""
    v = job.vehicle
    kind = v.front_spring if reading.place in ("FL", "FR") else v.rear_spring
    settle = SPRINGS[kind].settle if kind in SPRINGS else 0.003
    return reading_sigma(reading.resolution_m, settle)


def _mean_readings(job: Job, states: Collection[str], with_kit: bool) -> list[HeightReading]:
    """Return the axle-mean height readings of the given states (and the hitch), those with a kit only when it is known."""
    found: list[HeightReading] = []
    for phase in ("before", "after") if with_kit else ("before",):
        for state in job.states:
            if state.key not in states:
                continue
            for datum, core_datum in (("ground_arch", "ground"), ("hub_arch", "hub")):
                for axle in AXLES:
                    pair = [job.at(state.key, corner, datum, phase) for corner in AXLE_CORNERS[axle]]
                    both = [r for r in pair if r is not None]
                    if len(both) == 2:
                        sigma = hypot(*(reading_own_sigma(job, r) for r in both)) / 2
                        mean = sum(r.value_m for r in both) / 2
                        place = Place(axle, core_datum)
                        found.append(
                            HeightReading(
                                state=state.key, place=place, value=mean, sigma=sigma, with_kit=phase == "after"
                            )
                        )
            for key, place in body_points(job).items():
                one = job.at(state.key, key, "ground_hitch" if key == "hitch" else "ground_point", phase)
                if one is not None:
                    sigma = reading_own_sigma(job, one)
                    found.append(
                        HeightReading(
                            state=state.key, place=place, value=one.value_m, sigma=sigma, with_kit=phase == "after"
                        )
                    )
    return found


def body_points(job: Job) -> dict[str, Place]:
    """Return the body's points read above ground away from the arches, by key: the hitch and the vehicle's named points."""
    v = job.vehicle
    found = {p.key: Place("point", p.key, p.station_m, p.lateral_m) for p in v.points}
    if v.base_m is not None and v.hitch_overhang_m is not None:
        found["hitch"] = Place("point", "hitch", v.base_m + v.hitch_overhang_m)
    return found


def _weighed(state: LoadState, masses: Mapping[str, float]) -> LoadState:
    """Return the state with each load at its best value."""
    return with_masses(state, masses)


def side_couple(moment: float) -> tuple[Item, Item]:
    """Return two items that together are a pure roll couple (N m, left side down positive)."""
    mass = moment / (2.0 * SIDE_COUPLE_ARM * G)
    return (
        Item(mass=mass, station=0.0, lateral=SIDE_COUPLE_ARM, name="side"),
        Item(mass=-mass, station=0.0, lateral=-SIDE_COUPLE_ARM, name="side"),
    )


def _with_side_couples(
    job: Job, vehicle: Vehicle, states: dict[str, LoadState]
) -> tuple[dict[str, LoadState], dict[str, float]]:
    """Return the states with the side load that the left/right readings show, where no pads weighed it, empty and loaded."""
    assert job.empty is not None
    found, side = dict(states), {}
    for state in job.carried:
        if state.key not in states or (state.corners_kg is not None and job.empty.corners_kg is not None):
            continue
        moment = _side_moment(job, vehicle, states[state.key], state.key)
        if moment is not None:
            side[state.key] = moment
            found[state.key] = replace(states[state.key], items=(*states[state.key].items, *side_couple(moment)))
    return found, side


def _with_pads(
    job: Job, vehicle: Vehicle, states: Mapping[str, LoadState], side: Mapping[str, float], assumed: list[str]
) -> Vehicle:
    """Return the vehicle with the empty left/right split that gives a loaded state the corner loads its pads read.

    Only where the empty vehicle itself stood on no pads. What the heights say of the load's own side is taken out of it first;
    where they say nothing, the load is taken as even, and that is told. Source: own derivation from the corners' balance.
    """
    assert job.empty is not None
    padded = next((s for s in job.loaded if s.corners_kg is not None and s.key in states), None)
    if job.empty.corners_kg is not None or padded is None or padded.corners_kg is None:
        return vehicle
    solved = solve_states(vehicle, list(states.values()), check_limits=False)[padded.key]
    loads = report(vehicle, solved).load
    changed = {}
    for i, axle in enumerate(AXLES):
        left, right = AXLE_CORNERS[axle]
        pads = padded.corners_kg[2 * i] - padded.corners_kg[2 * i + 1]
        shift = 0.5 * (pads * G - float(loads[left] - loads[right]))
        before = vehicle.axle(axle).ref_load
        now = (before[0] + shift, before[1] - shift)
        if min(float(n) for n in now) <= G * vehicle.axle(axle).unsprung:
            return vehicle  # no vehicle stands so: the pads or the loads are wrong, and the weighing says so
        changed[axle] = replace(vehicle.axle(axle), ref_load=now)
    its = "its load's own side read off the heights" if padded.key in side else "its load taken as even"
    assumed.append(f"empty left/right split from the pads of “{padded.name}”, {its}")
    return replace(vehicle, front=changed["front"], rear=changed["rear"])


def _side_moment(job: Job, vehicle: Vehicle, state: LoadState, key: str) -> float | None:
    """Return the added roll couple (N m) that fits the change of left/right difference best."""
    assert job.empty is not None
    probe = 500.0
    loaded = replace(state, name="probe", items=(*state.items, *side_couple(probe)))
    try:
        solved = solve_states(vehicle, [state, loaded], check_limits=False)
    except StateError:
        return None  # on the edge of lifting a wheel: what a couple would do cannot be told
    top = bottom = 0.0
    for datum, core_datum in (("ground_arch", "ground"), ("hub_arch", "hub")):
        for axle in AXLES:
            corners = AXLE_CORNERS[axle]
            before = [job.read(job.empty.key, c, datum) for c in corners]
            now = [job.read(key, c, datum) for c in corners]
            if not all(before) or not all(now):
                continue
            pairs = [b.value_m - n.value_m for b, n in zip(before, now, strict=True) if b and n]
            base = _difference(solved[key], corners, core_datum)
            per_moment = (_difference(solved["probe"], corners, core_datum) - base) / probe
            sigma = hypot(*(reading_own_sigma(job, r) for r in (*before, *now) if r))
            top += (pairs[0] - pairs[1] - base) * per_moment / sigma**2
            bottom += (per_moment / sigma) ** 2
    return top / bottom if bottom else None


def side_effect(model: JobModel, state: str, datum: str, vehicle: Vehicle) -> dict[AxleName, float]:
    """Return what a newton metre of side couple adds to each axle's left less right height (m) in a state, on a vehicle.

    Source: method section 4, a small couple tried on the solved state.
    """
    probe, at = 300.0, dict(model.states)
    at[state] = replace(at[state], items=(*at[state].items, *side_couple(probe)))
    solved = solve_states(vehicle, list(at.values()), check_limits=False)[state]
    plain, core_datum = model.solved(vehicle)[state], AXLE_DATUM[datum]
    return {
        axle: -(
            _difference(solved, AXLE_CORNERS[axle], core_datum) - _difference(plain, AXLE_CORNERS[axle], core_datum)
        )
        / probe
        for axle in AXLES
    }


def _difference(solved: SolvedState, corners: tuple[str, str], datum: str) -> float:
    left, right = (float(place_drop(solved, Place(corner, datum))) for corner in corners)
    return left - right
