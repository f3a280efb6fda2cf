"""One axle seen closely in one state: how far each side stands down, what gap is left, how each kit stands, who carries the load.

Source: method sections 4 and 9.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from vantok_core.facts import Fitting
from vantok_core.judge.listen.inspect import stops_gone
from vantok_core.judge.set.thresholds import LEAST_FORCE
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.registry import family_of
from vantok_core.kits.staged import part_name
from vantok_core.model import JobModel
from vantok_core.model.prior import has_second_stage
from vantok_core.physics.stance.budget import side_loads
from vantok_core.physics.stance.report import ElementReport, StateReport
from vantok_core.physics.vehicle import AXLE_CORNERS, AxleName, Vehicle

SIDES = ("left", "right")


@dataclass(frozen=True, slots=True, kw_only=True)
class KitSeen:
    """A kit on one side as it stands: force at the wheel N; pressure Pa, height m and gap m, None where it has none; compression m since the
    reference; shape: as its family tells kinds of it apart, empty where it does not."""

    fitting: Fitting
    in_hand: bool
    force: float
    shape: str = ""
    compression: float = 0.0
    pressure: float | None = None
    height: float | None = None
    gap: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class SideSeen:
    """One side of an axle: drop and drop in the state compared with, of the body on its wheel, m; gap to the stop m (read: by gauge, not by
    the model) and to the second stage m, None where there is none; who carries how much at the wheel, N; its kits."""

    drop: float
    other: float
    stop_gap: float | None
    stop_read: bool
    second_gap: float | None
    carries: Mapping[str, float]
    kits: tuple[KitSeen, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class CloseUp:
    """An axle close up: the kind of its spring, the state's name, the one compared with, its left and right side."""

    axle: AxleName
    spring: str
    name: str
    against: str
    sides: tuple[SideSeen, SideSeen]


def close_up(
    model: JobModel,
    axle: AxleName,
    state: str,
    vehicle: Vehicle,
    fitting: Fitting | None = None,
    other: StateReport | None = None,
) -> CloseUp | None:
    """Return an axle close up in a state; None where its spring or its state is not known to the model.

    Arguments: state: its key; vehicle: as it stands, with its kits; fitting: the kit in hand where it is among them; other: the report of what it is
    compared with, else the reference. Raises VantokError where the state cannot be solved. Source: method sections 4 and 9.
    """
    job = model.job
    spring = job.vehicle.front_spring if axle == "front" else job.vehicle.rear_spring
    if state not in model.states or spring is None:
        return None
    report, solved = model.solve(vehicle)[state], model.solved(vehicle)[state]
    loads = side_loads(solved, axle)
    sides = tuple(_side(model, axle, state, vehicle, report, loads, n, fitting, other) for n in range(2))
    named = next(s for s in job.states if s.key == state)
    return CloseUp(axle=axle, spring=spring, name=named.name, against="", sides=(sides[0], sides[1]))


def _side(
    model: JobModel,
    axle: AxleName,
    state: str,
    vehicle: Vehicle,
    report: StateReport,
    loads: Mapping[str, tuple[float, float]],
    n: int,
    fitting: Fitting | None,
    other: StateReport | None,
) -> SideSeen:
    corner, side = AXLE_CORNERS[axle][n], SIDES[n]
    of_side = {name: sides[side] for name, sides in report.elements.items() if side in sides}
    stop = of_side.get(f"{axle} bump stops")
    read = model.job.read(state, corner, "stop_gap", "after" if fitting else "before")
    gap = read.value_m if read and not stops_gone(model.job) else None
    spring = vehicle.axle(axle).spring
    main = of_side.get(spring.name)
    second = (
        float(spring.z2 - main.compression)
        if main is not None and _above(spring.k2) and has_second_stage(model.job, axle) and not spring.changes
        else None
    )
    return SideSeen(
        drop=float(report.hub_drop[corner]),
        other=0.0 if other is None else float(other.hub_drop[corner]),
        stop_gap=gap if gap is not None or stops_gone(model.job) else _gap(stop),
        stop_read=gap is not None,
        second_gap=second,
        carries={name: pair[n] for name, pair in loads.items() if abs(pair[n]) >= LEAST_FORCE},
        kits=_kits(model, axle, of_side, loads, n, fitting),
    )


def _kits(
    model: JobModel,
    axle: AxleName,
    of_side: Mapping[str, ElementReport],
    loads: Mapping[str, tuple[float, float]],
    n: int,
    fitting: Fitting | None,
) -> tuple[KitSeen, ...]:
    job = model.job
    on = [(part_name(place), part, False) for place, part in enumerate(job.earlier)]
    if fitting is not None:
        on.append((KIT_ELEMENT, fitting, True))
    found = []
    for name, part, in_hand in on:
        if part.kit.axle != axle:
            continue
        seen = of_side.get(name)
        force = loads.get(name, (0.0, 0.0))[n]
        shape = str(getattr(family_of(part.kit).of(part.kit), "shape", ""))
        found.append(
            KitSeen(fitting=part, in_hand=in_hand, force=force, shape=shape)
            if seen is None
            else KitSeen(
                fitting=part,
                in_hand=in_hand,
                force=force,
                shape=shape,
                compression=float(seen.compression),
                gap=_gap(seen),
                pressure=None if seen.pressure is None else float(seen.pressure),
                height=None if seen.height is None else float(seen.height),
            )
        )
    return tuple(found)


def _gap(seen: ElementReport | None) -> float | None:
    return None if seen is None or seen.gap_left is None else float(seen.gap_left)


def _above(value: object) -> bool:
    return float(value) > 0.0  # type: ignore[arg-type]  # one vehicle at a time here
