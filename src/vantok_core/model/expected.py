"""What the calibrated model expects of a place not read yet.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from vantok_core.base.figure import Figure
from vantok_core.base.names import ARCHES
from vantok_core.model.calibrated import JobModel
from vantok_core.model.readings import body_points
from vantok_core.physics.vehicle import AXLE_CORNERS, CORNERS, AxleName
from vantok_core.rates.places import Place, place_drop


def expected_height(model: JobModel, state: str, datum: str, place: str) -> Figure | None:
    """Return the height (m) that the model expects of a place not read yet, None where nothing gives it a reference or the
    state's load is unknown.

    Arches, hitch and named points: by the estimate. Stop gaps: the empty gap less the predicted hub drop where the springs
    stand; pad to pad and bracket to bracket likewise. Source: method sections 3 and 4.
    """
    if state not in model.states:
        return None
    if datum in ARCHES:
        return model.heights(state, datum).get(place)
    if datum in ("ground_hitch", "ground_point"):
        point = body_points(model.job).get(place)
        known = point is not None and point in model.estimate.heights
        return model.estimate.height(state, point) if known and point is not None else None
    if datum == "coil_gap":
        return _coil_gap(model, state, place)
    empty = model.job.empty
    before = model.job.read(empty.key, place, datum) if empty else None
    if before is None or place not in ("FL", "FR", "RL", "RR"):
        return None
    axle = _axle(place)
    drop = spring_travel(model, state, place)
    return Figure(value=before.value_m - drop, sigma=model.estimate.drop(state, Place(axle, "hub")).sigma)


def spring_travel(model: JobModel, state: str, corner: str) -> float:
    """Return how far the spring of a corner has come down from the empty state (m), where it stands.

    Formula: `i (z_mean + y_s / (t / 2) (z - z_mean))` on a solid axle, whose spring stands inboard and feels less of the tilt;
    `i z` on an independent one. Source: method section 4.
    """
    axle = _axle(corner)
    solved = model.solved()[state]
    hubs = {c: float(place_drop(solved, Place(c, "hub"))) for c in AXLE_CORNERS[axle]}
    mean = sum(hubs.values()) / 2
    own, spring = model.vehicle.axle(axle), model.vehicle.axle(axle).spring
    inboard = 2.0 * spring.y / own.track if own.solid and spring.y is not None else 1.0
    return float(spring.ratio) * (mean + inboard * (hubs[corner] - mean))


def _coil_gap(model: JobModel, state: str, corner: str) -> Figure | None:
    """Return the gap between windings to expect (m): the empty one less the spring's travel shared out over its active coils; None where these are not
    counted, or nothing was read empty."""
    empty, axle = model.job.empty, _axle(corner)
    before = model.job.read(empty.key, corner, "coil_gap") if empty else None
    coils = model.job.vehicle.sizes.get(f"{axle}_coils")  # type: ignore[call-overload] # one of its names
    if before is None or not coils:
        return None
    sigma = model.estimate.drop(state, Place(axle, "hub")).sigma / coils
    return Figure(value=before.value_m - spring_travel(model, state, corner) / coils, sigma=sigma)


def _axle(corner: str) -> AxleName:
    return "front" if corner[0] == "F" else "rear"


def derived_height(model: JobModel, state: str, datum: str, corner: str) -> float | None:
    """Return an arch height (m) on one datum from a reading on another, where both were read empty; None elsewhere.

    Formula: `ground now = ground empty - hub drop - squash`, squash the tyre's part of the predicted drop; one that rides on the wheel without it. The
    drop comes off another arch datum, else off what tells the spring's travel (see `hub_drop_read`). It is derived, not measured. Source: method section 1.
    """
    empty = model.job.empty
    if datum not in ARCHES or corner not in CORNERS or empty is None or state not in model.states:
        return None
    base = model.job.read(empty.key, corner, datum)
    solved = model.solved()[state]
    squash = float(place_drop(solved, Place(corner, "ground")) - place_drop(solved, Place(corner, "hub")))
    hub = hub_drop_read(model, state, corner, squash, leave=datum)
    return None if base is None or hub is None else base.value_m - hub - (squash if datum == "ground_arch" else 0.0)


OF_SPRING = ("bracket", "pad_to_pad", "access_hole", "stop_gap", "coil_gap")
"""Datums between frame and axle: their change is the spring's travel, of windings a coil's share of it."""


def hub_drop_read(model: JobModel, state: str, corner: str, squash: float, leave: str = "") -> float | None:
    """Return how far a hub has come up against the body (m) by what was read empty and in a state; None where nothing tells.

    Off an arch datum; else the spring's travel of both sides, turned back: `z = (mean + (s - mean) / inboard) / i`. squash: the tyre's part, m; leave: a
    datum not to ask. Source: method sections 1 and 4.
    """
    for datum in ARCHES:
        drop = None if datum == leave else _change(model, state, corner, datum)
        if drop is not None:
            return drop - (squash if datum == "ground_arch" else 0.0)
    for datum in OF_SPRING:
        drop = _off_spring(model, state, corner, datum)
        if drop is not None:
            return drop
    return None


def _off_spring(model: JobModel, state: str, corner: str, datum: str) -> float | None:
    """Return how far a hub has come up against the body (m) by the travel of both its axle's springs on a datum; None where it was not read there."""
    axle = _axle(corner)
    own, spring = model.vehicle.axle(axle), model.vehicle.axle(axle).spring
    inboard = 2.0 * spring.y / own.track if own.solid and spring.y is not None else 1.0
    coils = model.job.vehicle.sizes.get(f"{axle}_coils") if datum == "coil_gap" else 1.0  # type: ignore[call-overload] # one of its names
    left, right = (_change(model, state, c, datum) for c in AXLE_CORNERS[axle])
    if left is None or right is None or not coils or (datum == "stop_gap" and not _clear(model, state, axle)):
        return None
    mean, mine = 0.5 * (left + right), left if corner.endswith("L") else right
    return float(coils * (mean + (mine - mean) / inboard) / spring.ratio)


def _change(model: JobModel, state: str, corner: str, datum: str) -> float | None:
    """Return by how much a datum reads less than empty (m)."""
    assert model.job.empty is not None
    before, now = (model.job.read(key, corner, datum) for key in (model.job.empty.key, state))
    return None if before is None or now is None else before.value_m - now.value_m


def _clear(model: JobModel, state: str, axle: AxleName) -> bool:
    """Tell whether an axle's stops were read clear of their pads: one that touches tells no travel."""
    return all((r := model.job.read(state, c, "stop_gap")) is not None and r.value_m > 0.0 for c in AXLE_CORNERS[axle])
