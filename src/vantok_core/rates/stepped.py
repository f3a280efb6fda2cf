"""Figures worked out at a trial of the unknowns and a step to either side of it, and the slopes that follow.

Source: method section 3.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from vantok_core.base.num import FloatArray

STEP, STEP_OF_LOAD, STEP_OF_TRAIT = 1e-5, 1e-4, 1.0
"""Step of a rate's logarithm, of a load's direction or a kit's strength in its own sigma, and of a trait where its reach is asked."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Steps:
    """How the unknowns are stepped: traits by their own sigma or by little (wide); those with a kink too (kinks)."""

    wide: bool
    kinks: bool

    def of(self, j: int, first_trait: int) -> float:
        """Return the step of an unknown by its place, in its own unit; first_trait: where the traits begin."""
        return _step(j, first_trait, wide=self.wide)


def _step(j: int, first_trait: int, *, wide: bool) -> float:
    if wide and j >= first_trait:
        return STEP_OF_TRAIT
    return STEP if j < 2 else STEP_OF_LOAD


@dataclass(frozen=True, slots=True)
class Drops:
    """A drop (m) at the unknowns and, in pairs, a step above and below each of those in `moving`; wide: as `Steps`."""

    values: FloatArray
    moving: tuple[int, ...]
    wide: bool = True

    def gradient(self, size: int, first_trait: int) -> FloatArray:
        """Return the slope of the drop in each of `size` unknowns (m for one of its unit); first_trait: where the traits begin."""
        found = np.zeros(size)
        for i, j in enumerate(self.moving):
            step = _step(j, first_trait, wide=self.wide)
            found[j] = (self.values[1 + 2 * i] - self.values[2 + 2 * i]) / (2.0 * step)
        return found
