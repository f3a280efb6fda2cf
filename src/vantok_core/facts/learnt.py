"""What a shop had learnt of a vehicle's class from its own closed jobs, as a job rests on it."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from vantok_core.facts.kinds import AxleKey, Facts


class ClassLearnt(Facts):
    """Of an axle: by what factor the shop's own vehicles of the class differ from the class's rate, the ln-sigma of the next one's, and from how many."""

    axle: AxleKey
    factor: Annotated[float, Field(ge=0.1, le=10.0, allow_inf_nan=False)]
    sigma_ln: Annotated[float, Field(gt=0.0, le=1.0, allow_inf_nan=False)]
    n: Annotated[int, Field(ge=1, le=1_000_000)]
