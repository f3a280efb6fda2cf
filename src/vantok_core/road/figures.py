"""What a run says: accelerations and comfort, lean, tyre loads, strikes, settling and rebounds (method sections 7 and 15)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from vantok_core.base.num import FloatArray
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.stance.states import SolvedState
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, Vehicle
from vantok_core.road.comfort import comfort_word, running_rms, weighted_rms
from vantok_core.road.ride_set import RideSet
from vantok_core.road.simulate import Run, drive

JOLT = 3.0
"""An acceleration above this (m/s2) is a jolt."""
OFF = 0.1
"""Share of the greatest departure that still counts as off its final height."""


@dataclass(frozen=True, slots=True, kw_only=True)
class RideResult:
    """What a run gave: peak and W_k-weighted acceleration m/s2, what is felt (the greatest second of an event, else the whole run: m/s2), its comfort word
    and jolts by point; peak and final roll rad; least tyre load N
    by corner; stop strikes and peak force N by element and side; greatest departure m of the body over the rear axle, and, where road and
    manoeuvre come to an end, its settling time s and rebounds; the body's mass kg, centre m, inertias kg m2; traces for drawing."""

    peak_acc: dict[str, float]
    weighted_rms: dict[str, float]
    felt: dict[str, float]
    comfort: dict[str, str]
    jolts: dict[str, int]
    peak_roll: float
    final_roll: float
    least_tyre_load: dict[str, float]
    stops: dict[str, dict[str, dict[str, float]]]
    peak_drop_rear: float
    settling_time_rear: float | None
    rebounds: int | None
    m_s: float
    s_c: float
    y_c: float
    pitch_inertia: float
    roll_inertia: float
    defaults: tuple[str, ...]
    time: FloatArray
    rear_body: FloatArray


def ride(vehicle: Vehicle, solved: SolvedState, run: RideSet) -> RideResult:
    """Return the figures of a run; see `drive` for arguments and errors. Source: method section 7."""
    return figures(drive(vehicle, solved, run))


def figures(found: Run) -> RideResult:
    """Return the figures of a run. Source: method sections 7 and 15."""
    run, body = found.set, found.ridden.body
    rear_body = found.trace(found.x, found.ridden.wheelbase, 0.0)
    at_points = {p.name: found.trace(found.acc, p.station, p.lateral) for p in run.points}
    over = _over(found)
    whole = {name: weighted_rms(a, run.sample_rate) for name, a in at_points.items()}
    felt = whole if over is None else {name: running_rms(a, run.sample_rate) for name, a in at_points.items()}
    corners = [corner for name in AXLES for corner in AXLE_CORNERS[name]]
    return RideResult(
        peak_acc={name: float(np.max(np.abs(a))) for name, a in at_points.items()},
        weighted_rms=whole,
        felt=felt,
        comfort={name: comfort_word(value) for name, value in felt.items()},
        jolts={name: jolts(a) for name, a in at_points.items()},
        peak_roll=float(np.max(np.abs(found.x[:, 2]))),
        final_roll=float(found.x[-1, 2]),
        least_tyre_load={c: float(np.min(found.tyres[:, i])) for i, c in enumerate(corners)},
        stops=_strikes(found),
        peak_drop_rear=float(np.max(np.abs(rear_body))),
        settling_time_rear=None if over is None else settling_time(rear_body, run.sample_rate),
        rebounds=None if over is None else rebounds(rear_body, run.sample_rate, over),
        m_s=body.mass,
        s_c=body.station,
        y_c=body.lateral,
        pitch_inertia=body.pitch,
        roll_inertia=body.roll,
        defaults=found.ridden.defaults,
        time=np.arange(len(found.x)) / run.sample_rate,
        rear_body=rear_body,
    )


def _over(run: Run) -> float | None:
    """Return when both axles are past the shape and the manoeuvre is over (s), None where one has no end."""
    road, turn = run.set.road.end, run.set.manoeuvre.end
    if road is None or turn is None:
        return None
    return max((road + run.ridden.wheelbase) / run.set.speed, turn)


def jolts(acceleration: FloatArray, limit: float = JOLT) -> int:
    """Return how often an acceleration (m/s2) goes above a limit (m/s2): runs of samples count once. Source: method section 15."""
    above = np.abs(acceleration) > limit
    return int(np.sum(above[1:] & ~above[:-1]) + above[0])


def settling_time(height: FloatArray, sample_rate: float, final: float | None = None) -> float:
    """Return the last time (s) at which a height (m) is off its final one by more than a tenth of its greatest departure from it.

    Arguments: sample_rate: Hz, SI 1/s; final: m, the last sample where not said. Source: additions to method section 7.
    """
    departed = np.abs(height - (height[-1] if final is None else final))
    outside = np.flatnonzero(departed > OFF * np.max(departed))
    return float(outside[-1] / sample_rate) if len(outside) else 0.0


def rebounds(height: FloatArray, sample_rate: float, after: float, final: float | None = None) -> int:
    """Return how many swings of a height (m) larger than a tenth of the greatest come at or after a time (s).

    Arguments: sample_rate: Hz, SI 1/s; after: s; final: m, the last sample where not said. Source: method section 15.
    """
    departed = height - (height[-1] if final is None else final)
    steps = np.diff(departed)
    turns = np.flatnonzero(steps[1:] * steps[:-1] < 0.0) + 1
    large = np.abs(departed[turns]) > OFF * np.max(np.abs(departed))
    return int(np.sum(large & (turns / sample_rate >= after - 1e-9)))


def _strikes(run: Run) -> dict[str, dict[str, dict[str, float]]]:
    """Return, for each stop or insert, how often it was struck (force after none; touching at the start is no strike) and its greatest
    force (N)."""
    found: dict[str, dict[str, dict[str, float]]] = {}
    for a, axle in enumerate(run.ridden.axles):
        z = run.travel(2 * a), run.travel(2 * a + 1)
        for line in axle.lines:
            for side, law, c in zip(("left", "right"), (line.left, line.right), line.compressions(*z), strict=True):
                if isinstance(law, Stop):
                    pressed = np.asarray(law.at(np.asarray(c))[0])
                    onsets = int(np.sum((pressed[1:] > 0.0) & ~(pressed[:-1] > 0.0)))
                    found.setdefault(line.name, {})[side] = {"strikes": onsets, "peak_force": float(np.max(pressed))}
    return found
