"""Whether the tail drags: the clearance behind the rear wheels and the departure angle, by state and with the kit.

Formula: the angle of the line from where the rear tyre stands on the ground to the lowest point, `atan(h / x)`, `x` its distance behind
the rear axle. Source: plane geometry; the tyre's own bulge is left out, so the angle is a little too small, never too large.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, degrees, radians

from vantok_core.aims.of_job import job_aims
from vantok_core.base.errors import VantokError
from vantok_core.base.say import Finding, Quantity, Say, length
from vantok_core.facts import Job, JobState
from vantok_core.judge.diagnose.thresholds import STEEP
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.staged import staged
from vantok_core.model import JobModel, body_points
from vantok_core.physics.vehicle import Vehicle
from vantok_core.rates.places import Place


@dataclass(frozen=True, slots=True, kw_only=True)
class Tail:
    """One point behind the rear axle in one state: name, distance behind it (m), height above ground and departure angle as it is, and
    with the kit (m, degrees; None where not told); read: whether the tape told the height."""

    state: JobState
    point: str
    behind: float
    height: float
    read: bool
    with_kit: float | None

    @property
    def angle(self) -> float:
        """Departure angle as it is, degrees."""
        return degrees(atan2(self.height, self.behind))

    @property
    def angle_with_kit(self) -> float | None:
        """Departure angle with the kit, degrees."""
        return None if self.with_kit is None else degrees(atan2(self.with_kit, self.behind))


def tails(model: JobModel) -> tuple[Tail, ...]:
    """Return every point read above ground behind the rear axle, the hitch among them, in every state that can be told."""
    job, found = model.job, []
    vehicle = _with_kit(model)
    names = {p.key: p.name for p in job.vehicle.points} | {"hitch": "hitch"}
    for key, place in body_points(job).items():
        behind = place.station - model.vehicle.wheelbase
        if behind <= 0.0 or place not in model.estimate.heights:
            continue
        for state in job.judged if job.never_empty else job.states:
            if state.key in model.states and not state.past:
                found.append(_tail(model, state, key, place, names[key], vehicle))
    return tuple(found)


def _tail(model: JobModel, state: JobState, key: str, place: Place, name: str, vehicle: Vehicle | None) -> Tail:
    datum = "ground_hitch" if key == "hitch" else "ground_point"
    read, after = (model.job.at(state.key, key, datum, phase) for phase in ("before", "after"))
    with_kit = after.value_m if after else None
    if with_kit is None and vehicle is not None:
        with_kit = _height_on(model, state, place, vehicle)
    return Tail(
        state=state,
        point=name,
        behind=place.station - model.vehicle.wheelbase,
        read=read is not None,
        with_kit=with_kit,
        height=read.value_m if read else model.estimate.height(state.key, place).value,
    )


def _height_on(model: JobModel, state: JobState, place: Place, vehicle: Vehicle) -> float | None:
    try:
        return model.estimate.height(state.key, place, vehicle).value
    except VantokError:
        return None  # the stages say why this setting cannot be solved


def _with_kit(model: JobModel) -> Vehicle | None:
    if model.job.fitting is None:
        return None
    try:
        return fitted_vehicle(staged(model), model.job.fitting)
    except VantokError:
        return None  # the stages say why this setting cannot be solved


def tail_findings(job: Job, found: tuple[Tail, ...]) -> list[Finding]:
    """Return that the tail hangs low, by its lowest departure angle; only where the customer complains of it, or it is under the ramp's."""
    if not found:
        return []
    worst = min(found, key=lambda t: t.angle)
    asked = any(aim.key == "clearance" for aim in job_aims(job))
    if worst.angle >= STEEP and not asked:
        return []
    values = {"h": length(worst.height), "x": length(worst.behind), "a": Quantity(radians(worst.angle), "angle")}
    what = Say(
        "{state}: the {point} hangs {h} above ground, {x} behind the rear axle: it drags on a ramp steeper than {a}.",
        {**values, "state": worst.state.name, "point": worst.point},
    )
    do = Say("Less load behind the axle, or more height at the rear.")
    if worst.with_kit is not None and worst.angle_with_kit is not None:
        with_kit = {"a": Quantity(radians(worst.angle_with_kit), "angle"), "h": length(worst.with_kit)}
        do = Say("With the kit it clears {h}, a ramp of {a}.", with_kit)
    return [Finding(key="tail-low", at="tail", tone="act" if worst.angle < STEEP else "plain", what=what, do=do)]
