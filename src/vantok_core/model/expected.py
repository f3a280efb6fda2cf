"""What the calibrated model expects of a place not read yet.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from dataclasses import replace

from vantok_core.base.figure import Figure
from vantok_core.model.calibrated import JobModel
from vantok_core.model.readings import AXLE_DATUM, body_points
from vantok_core.model.side import left_less_right, side_couple
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName, Vehicle
from vantok_core.rates.places import Place, place_drop


def expected_height(model: JobModel, state: str, datum: str, place: str) -> Figure | None:
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
    return Figure(value=before.value_m - drop, sigma=model.estimate.drop(state, Place(axle, "hub")).sigma)


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
            left_less_right(solved, AXLE_CORNERS[axle], core_datum)
            - left_less_right(plain, AXLE_CORNERS[axle], core_datum)
        )
        / probe
        for axle in AXLES
    }
