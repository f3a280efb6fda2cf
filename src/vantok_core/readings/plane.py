"""The body as a plane: drops, rake, pitch, lean, and what to make of a reading that does not fit.

Source: method section 1.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from vantok_core.base.errors import InputError


def rake(front_height: float, rear_height: float) -> float:
    """Return rear height less front height on one datum (m)."""
    return rear_height - front_height


def lean(left_height: float, right_height: float, width: float) -> float:
    """Return the lean, left higher positive.

    Formula: `(left height - right height) / width`. Arguments: heights and arch-to-arch width: m. Result: rad.
    Raises InputError for a width not above zero. Source: method section 1, ISO 8855 roll.
    """
    if not width > 0.0:
        raise InputError("width", width, "it must be above zero")
    return (left_height - right_height) / width


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanePoint:
    """A drop reading: station and lateral place m, drop m, its sigma m."""

    station: float
    drop: float
    sigma: float
    lateral: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaneFit:
    """The plane through drop readings, and each reading's misfit.

    d_0: m at station 0; theta, phi: rad; misfit: read less plane, m; standardised: misfit over its own standard
    deviation; closing: the change of that reading alone which would best remove the misfit, m; spare: readings to
    spare; suspect: index of the most suspect reading, None when the misfits cannot tell.
    """

    d_0: float
    theta: float
    phi: float
    misfit: tuple[float, ...]
    standardised: tuple[float, ...]
    closing: tuple[float, ...]
    chi2: float
    spare: int
    suspect: int | None


def fit_plane(points: Sequence[PlanePoint]) -> PlaneFit:
    """Return the weighted least-squares plane `d = d_0 + theta s - phi y` through drop readings.

    Lean is fitted only where the lateral places differ. Raises InputError for too few readings to span the plane or a
    sigma not above zero. Source: method section 1; standard regression diagnostics (leverage h: the misfit's
    variance is sigma^2 (1 - h), and moving one reading by misfit / (1 - h) puts it on the others' plane).
    """
    if any(not p.sigma > 0.0 for p in points):
        raise InputError("sigma", [p.sigma for p in points], "each must be above zero")
    lateral = np.array([p.lateral for p in points])
    with_lean = bool(points) and float(np.ptp(lateral)) > 1e-9
    columns = [np.ones(len(points)), np.array([p.station for p in points])] + ([-lateral] if with_lean else [])
    design = np.column_stack(columns) if points else np.empty((0, 2))
    sigma = np.array([p.sigma for p in points])
    read = np.array([p.drop for p in points])
    weighted = design / sigma[:, None]
    if len(points) < design.shape[1] or np.linalg.matrix_rank(weighted) < design.shape[1]:
        raise InputError("points", len(points), "two stations (and two sides, for lean) are needed to lay a plane")
    inverse = np.linalg.inv(weighted.T @ weighted)
    beta = inverse @ weighted.T @ (read / sigma)
    misfit = read - design @ beta
    free = np.maximum(1.0 - np.einsum("ij,jk,ik->i", weighted, inverse, weighted), 0.0)
    tested = free > 1e-9
    safe = np.where(tested, free, 1.0)
    standardised = np.where(tested, misfit / (sigma * np.sqrt(safe)), 0.0)
    closing = np.where(tested, -misfit / safe, 0.0)
    spare = len(points) - design.shape[1]
    return PlaneFit(
        d_0=float(beta[0]),
        theta=float(beta[1]),
        phi=float(beta[2]) if with_lean else 0.0,
        misfit=tuple(misfit.tolist()),
        standardised=tuple(standardised.tolist()),
        closing=tuple(closing.tolist()),
        chi2=float(np.sum((misfit / sigma) ** 2)),
        spare=spare,
        suspect=int(np.argmax(np.abs(standardised))) if spare > 1 else None,
    )
