"""The axle close-up of a job: which axle, which state, with or without the kit, against what."""

from __future__ import annotations

from dataclasses import replace

from vantok.desk.load import FITTED_STAGES, Desk
from vantok_core.base.errors import VantokError
from vantok_core.facts import Fitting
from vantok_core.judge.set.close_up import CloseUp, close_up
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.target import target_state
from vantok_core.model import JobModel
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import AxleName


def axle_of(desk: Desk) -> AxleName:
    """Return the axle worth seeing closely: the kit's, else the one a kit is sought for."""
    if desk.job.fitting is not None:
        return "front" if desk.job.fitting.kit.axle == "front" else "rear"
    return "rear" if desk.job.target.front_raise_m is None else "front"


def seen_closely(
    desk: Desk, stage: str, state: str = "", other: str = "", fitting: Fitting | None = None
) -> CloseUp | None:
    """Return the close-up a stage shows; `state` and `other` as the drawing's; None where the model cannot tell."""
    model = desk.worked.in_hand
    if model is None:
        return None
    key, _, kit = state.partition("+")
    with_kit = bool(kit) if state else stage in FITTED_STAGES
    drawn = (fitting or desk.job.fitting) if with_kit else None
    try:
        key = key or target_state(model)
        vehicle = fitted_vehicle(model, drawn) if drawn else model.vehicle
        against, report = _compared(desk, model, key, other, fitted=drawn is not None)
        found = close_up(model, axle_of(desk), key, vehicle, drawn, report)
    except VantokError:
        return None  # the stage's own sentence says why nothing can be solved
    name = next(s.name for s in desk.job.states if s.key == key)
    name += ", with the kit as the model has it" if drawn else ", as the model has it"
    return found and replace(found, name=name, against=against)


def _compared(desk: Desk, model: JobModel, key: str, other: str, *, fitted: bool) -> tuple[str, StateReport | None]:
    """Return what the close-up is drawn against: what was asked for, else the same state without the kit, else the reference."""
    then, _, kit = other.partition("+")
    if not other:
        if fitted:
            return "without the kit", model.solve().get(key)
        return ("as it came" if desk.job.never_empty else "empty"), None
    name = next(s.name for s in desk.job.states if s.key == then)
    used = fitted_vehicle(model, desk.job.fitting) if kit and desk.job.fitting else model.vehicle
    return name + (", with the kit" if kit else ""), model.solve(used).get(then)
