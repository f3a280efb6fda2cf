"""One height as read; and what a phone read of the body: how it stands, how it swings."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from vantok_core.facts.declared import Of
from vantok_core.facts.kinds import MARK, AxleKey, Datum, Facts, Gain, Key, Line, Name, Phase, PointKey, Sentence

Unsettled = Literal["", "lifted", "drift"]


class PhoneLevel(Facts):
    """How a phone laid on the body read it, twice with the phone turned round between: pitch (nose down positive) and lean (left down positive), radians, its
    own error taken out as half the difference, and what is left (sigma, radians)."""

    state: Key
    phase: Phase = "before"
    pitch: Annotated[float, Field(ge=-0.6, le=0.6, allow_inf_nan=False)]
    lean: Annotated[float, Field(ge=-0.6, le=0.6, allow_inf_nan=False)]
    sigma: Annotated[float, Field(gt=0.0, le=0.2, allow_inf_nan=False)]
    by: Name = ""
    at: datetime | None = None


class Pushed(Facts):
    """A push test off a phone or logger: an end pushed down and let go, how often it swings (Hz), how it is damped (share of critical), each with its sigma."""

    state: Key
    phase: Phase = "before"
    axle: AxleKey
    frequency: Annotated[float, Field(gt=0.1, le=20.0, allow_inf_nan=False)]
    frequency_sigma: Annotated[float, Field(ge=0.0, le=10.0, allow_inf_nan=False)]
    damping: Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False)]
    damping_sigma: Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False)]
    by: Name = ""
    at: datetime | None = None


MOST_REPEATS = 9
"""How often one place is read at most for its repeatability."""


class JobReading(Facts):
    """One height as read: where, on which datum, in which state, before or after the kit, how, by whom and when.

    place: a corner, "hitch", or the key of one of the vehicle's points. value_m: the height with the floor's slope taken
    out; floor_m: what was taken off the tape's own figure for it. friction_m: half the difference of a pressed and a lifted
    reading, whose mean value_m is. setting: which kits were on and how set when it was read (the job's mark; empty: as now); twice:
    whether it was doubted and then read the same again. under_kg: what the load was known to add at front and rear when it was
    read, by under_basis (plan, scale, scale with what was moved since, none: not known then; empty: not noted).
    told_gain_m: by how much somebody said it had come up (down: below nought), beside the reading.
    unsettled: lifted since it was last rolled and bounced, or seen to drift one way; repeats_m: each of several readings of it, as the tape had them.
    """

    state: Key
    phase: Phase = "before"
    datum: Datum
    place: PointKey
    value_m: Annotated[float, Field(ge=-0.05, le=5.0, allow_inf_nan=False), Of("length")]
    resolution_m: Annotated[float, Field(ge=1e-5, le=0.05, allow_inf_nan=False), Of("length")] = 0.001
    floor_m: Annotated[float, Field(ge=-0.3, le=0.3, allow_inf_nan=False), Of("length")] = 0.0
    friction_m: Annotated[float, Field(ge=0.0, le=0.2, allow_inf_nan=False), Of("length")] | None = None
    instrument: Annotated[Line, Field(max_length=10)] = ""
    note: Sentence = ""
    text: Line = ""
    unit: Annotated[Line, Field(max_length=4)] = ""
    by: Name = ""
    at: datetime | None = None
    setting: Annotated[Line, Field(max_length=MARK)] = ""
    twice: bool = False
    under_kg: tuple[Gain, Gain] | None = None
    under_basis: Literal["", "none", "plan", "scale", "moved"] = ""
    unsettled: Unsettled = ""
    told_gain_m: Annotated[float, Field(ge=-1.0, le=1.0, allow_inf_nan=False), Of("length")] | None = None
    repeats_m: Annotated[
        tuple[Annotated[float, Field(ge=-0.05, le=5.0, allow_inf_nan=False), Of("length")], ...],
        Field(max_length=MOST_REPEATS),
    ] = ()
