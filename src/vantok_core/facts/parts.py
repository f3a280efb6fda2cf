"""Springs, stops, bars and air springs as they stand in a file; `model.parts` makes physics of them."""

from __future__ import annotations

import itertools
from typing import Annotated, Literal

from pydantic import Field, model_validator

from vantok_core.base.check import Form
from vantok_core.base.num import P_ATM

Positive = Annotated[float, Field(gt=0.0, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0.0, allow_inf_nan=False)]
Finite = Annotated[float, Field(allow_inf_nan=False)]
Pair = Finite | tuple[Finite, Finite]
PositivePair = Positive | tuple[Positive, Positive]
NotNegativePair = NotNegative | tuple[NotNegative, NotNegative]
MOST_NEAR = 0.3
"""The nearest two axles of a group stand to one another, m."""


class ChangeForm(Form):
    """One change made to a main spring; each figure alike on both sides, or left and right."""

    law: Literal["coil_block", "shackle", "replacement", "torsion_bar_adjuster"]
    N: PositivePair | None = None
    n: PositivePair | None = None
    k_i: NotNegativePair | None = None
    z_fit: Pair = 0.0
    k_s: PositivePair | None = None
    k: PositivePair | None = None
    c_ref: Pair | None = None
    k2: NotNegativePair = 0.0
    z2: Pair = 0.0
    w: PositivePair = 0.003
    shift: Pair | None = None

    @property
    def unlike(self) -> bool:
        """Whether it differs between the sides."""
        return any(isinstance(getattr(self, name), tuple) for name in type(self).model_fields)


class TableForm(Form):
    """A maker's load table: F (N), a row per height (m), a column per gauge pressure (Pa)."""

    h: tuple[Finite, ...]
    p: tuple[Finite, ...]
    F: tuple[tuple[Finite, ...], ...]


class AreaForm(Form):
    """Mean effective area: A0 (m2) at h0 (m) and its slope dA_dh (m)."""

    A0: Positive
    dA_dh: Finite = 0.0
    h0: Finite


class VolumeForm(Form):
    """Air volume: V0 (m3) at h0 (m), or the maker's heights h (m) and volumes V (m3)."""

    V0: Positive | None = None
    h0: Finite | None = None
    h: tuple[Finite, ...] | None = None
    V: tuple[Positive, ...] | None = None


class ElementForm(Form):
    """One spring, stop, helper, air spring or bar of an axle, one of each side unless `sides` says which."""

    law: str
    name: str | None = None
    role: Literal["main"] | None = None
    fitted: Literal["reference", "kit"] | None = None
    sides: Literal["both", "left", "right"] = "both"
    i: Positive = 1.0
    y: Finite | None = None
    k: Positive | NotNegative | None = None
    k2: NotNegative = 0.0
    z2: Finite = 0.0
    w: Positive = 0.003
    parabolic: bool = False
    mods: tuple[ChangeForm, ...] = ()
    gap: Pair | None = None
    points: tuple[tuple[Finite, Finite], ...] | None = None
    preload: Pair = 0.0
    arch: Pair | None = None
    h_ref: PositivePair | None = None
    table: TableForm | None = None
    area: AreaForm | None = None
    volume: VolumeForm | None = None
    p_set: Pair | None = None
    set_state: str | None = None
    p_min: NotNegative | None = None
    p_max: Positive | None = None
    p_atm: Positive = P_ATM
    teed: bool = False
    K: NotNegative | None = None


class GroupForm(Form):
    """A rear group's axle stations (m) and loads (N)."""

    stations: tuple[Finite, ...]
    loads: tuple[NotNegative, ...]

    @model_validator(mode="after")
    def _can_be(self) -> GroupForm:
        if len(self.stations) != len(self.loads) or not sum(self.loads) > 0.0:
            raise ValueError("each axle of the group needs a station and a load, not all nought")
        if any(b - a < MOST_NEAR for a, b in itertools.pairwise(self.stations)):
            raise ValueError("the axles of the group must stand one behind another")
        return self
