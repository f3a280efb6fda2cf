"""From a job's facts to its calibrated model: class first, sharpened by every weighing and reading.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from vantok_core.base.errors import StateError
from vantok_core.facts import Job
from vantok_core.model.calibrated import JobModel
from vantok_core.model.expected import spring_travel
from vantok_core.model.missing import NotReadyError, missing
from vantok_core.model.prior import Gaps, air_set_in, prior_sigma, prior_traits, prior_vehicle
from vantok_core.model.pushed import with_pushes
from vantok_core.model.readings import mean_readings
from vantok_core.model.side import with_pads, with_side_couples
from vantok_core.model.states import core_states
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName, LoadState, Vehicle
from vantok_core.rates.calibrate import estimate
from vantok_core.rates.estimate import ALWAYS
from vantok_core.rates.problem import EstimationProblem, UncertainLoad
from vantok_core.rates.trial import TONGUE, with_masses

On = tuple[Job, Vehicle]
"""The job with kits on as they were when its heights after were read, and the vehicle with them on."""


def build_model(
    job: Job, fitted: Sequence[On] = (), near: JobModel | None = None, strengths: Mapping[str, float] | None = None
) -> JobModel:
    """Return the job's calibrated model.

    Arguments: job; fitted: kits on, so that readings taken with them teach too; near: a model of nearly the
    same facts (one reading more or less), which only makes the search shorter; strengths: sigma of ln a by element, a being the factor
    on a kit's force. Raises NotReadyError
    with what is missing, InputError for figures that cannot be, StateError from the static solve.
    """
    hard = [m for m in missing(job) if m.hard]
    if hard:
        raise NotReadyError(hard)
    states, loads = core_states(job)
    unsolved: dict[str, str] = {}
    gaps = {axle: _gaps_read(job, axle) for axle in AXLES}
    while True:
        try:
            model = _calibrated(job, (fitted, strengths or {}), near, states, loads, unsolved, gaps)
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
    job: Job,
    kits: tuple[Sequence[On], Mapping[str, float]],
    near: JobModel | None,
    states: Mapping[str, LoadState],
    loads: Mapping[str, UncertainLoad],
    unsolved: Mapping[str, str],
    gaps: Mapping[AxleName, Gaps | None],
) -> JobModel:
    """Return the model calibrated on the given states. Raises StateError naming the state that cannot be solved."""
    assumed = [gap[2] for gap in gaps.values() if gap and gap[2]]
    prior = air_set_in(prior_vehicle(job, gaps, assumed), states, assumed)
    prior, sigma, pushed = with_pushes(job, prior, states, prior_sigma(job))
    used = [name for state in states.values() for name in (*(i.name for i in state.items), f"{state.name}:{TONGUE}")]
    problem = EstimationProblem(
        vehicle=prior,
        states=list(states.values()),
        readings=mean_readings(job, states, [on for on, _ in kits[0]]),
        loads={name: loads[name] for name in used if name in loads},
        sigma_ln=sigma,
        fitted=[vehicle for _, vehicle in kits[0]],
        strengths=kits[1],
        traits=prior_traits(job, prior),
    )
    found = estimate(problem, near.estimate if near is not None else None)
    weighed = {key: with_masses(state, found.loads) for key, state in states.items()}
    weighed, side = with_side_couples(job, found.vehicle, weighed)
    vehicle = with_pads(job, found.vehicle, weighed, side, assumed)
    model = JobModel(
        job=job,
        vehicle=vehicle,
        prior=prior,
        states=weighed,
        estimate=found,
        assumed=tuple(assumed),
        side=side,
        unsolved=dict(unsolved),
        pushed=pushed,
    )
    model.solved()
    for key in weighed:  # one on the edge of lifting a wheel has no band: it is told as one that cannot be
        found.drop(key, ALWAYS[0])
    return model
