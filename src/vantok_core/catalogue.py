"""A kit's published data, as a catalogue file carries it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from vantok_core.elements.air import AirSpring, AreaTable, Volume
from vantok_core.elements.curve import force_curve
from vantok_core.elements.laws import Stop
from vantok_core.errors import InputError

Positive = Annotated[float, Field(gt=0.0, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0.0, allow_inf_nan=False)]
Gap = Annotated[float, Field(ge=-1.0, le=1.0, allow_inf_nan=False)]


class Kit(BaseModel):
    """One kit: an air spring pair or a bump-stop insert pair, with its limits, window, cost and work.

    place: lateral place as a share of half the track; ratio: its travel over the wheel's. Lengths m, pressures Pa;
    longer_m: how much further an insert reaches than the stop it replaces. Forces N, masses kg, hours for both sides together, price in the shop's currency.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    code: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,40}$")]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    maker: Annotated[str, Field(max_length=120)]
    family: Literal["air_spring", "insert"]
    axle: Literal["front", "rear"] = "rear"
    springs: Annotated[tuple[str, ...], Field(max_length=30)]
    gross_min_kg: NotNegative = 0.0
    gross_max_kg: Positive = 60_000.0
    place: Annotated[float, Field(gt=0.0, le=1.0)] = 0.58
    ratio: Positive = 1.0
    replaces_stop: bool = False
    own_stop: bool = True
    side_space_m: NotNegative = 0.0
    price: NotNegative
    hours: NotNegative
    upkeep_per_year: NotNegative = 0.0
    notes: Annotated[str, Field(max_length=2000)] = ""
    # air spring
    p_min_pa: NotNegative | None = None
    p_max_pa: Positive | None = None
    heights_m: Annotated[tuple[Positive, ...], Field(max_length=80)] = ()
    pressures_pa: Annotated[tuple[Positive, ...], Field(max_length=80)] = ()
    loads_n: tuple[tuple[NotNegative, ...], ...] = ()
    volume_m3: Positive | None = None
    volume_at_m: Positive | None = None
    pad_min_m: Positive | None = None
    pad_max_m: Positive | None = None
    # insert
    points: Annotated[tuple[tuple[Positive, NotNegative], ...], Field(max_length=80)] = ()
    gap_min_m: Gap = 0.0
    gap_max_m: Gap = 0.06
    longer_m: Gap = 0.0
    spacers_m: Annotated[tuple[Positive, ...], Field(max_length=6)] = ()
    contact: bool = False

    @model_validator(mode="after")
    def _has_its_data(self) -> Kit:
        try:
            if self.family == "air_spring":
                if None in (self.p_min_pa, self.p_max_pa, self.pad_min_m, self.pad_max_m):
                    raise ValueError("an air spring needs its pressure limits and its pad-to-pad window")
                self.air(0.5 * (self.heights_m[0] + self.heights_m[-1]) if self.heights_m else 0.2, 1e5)
            else:
                self.insert(0.0)
        except InputError as error:
            raise ValueError(str(error)) from error
        return self

    def air(self, h_ref: float, p_set: float) -> AirSpring:
        """Return one bag at its reference height (m) and set pressure (Pa)."""
        area = AreaTable.from_loads(list(self.heights_m), list(self.pressures_pa), [list(r) for r in self.loads_n])
        if self.volume_m3 is not None and self.volume_at_m is not None:
            volume = Volume(v0=self.volume_m3, h0=self.volume_at_m)
        else:
            volume = Volume(v0=float(area.at(h_ref, p_set)[0]) * h_ref, h0=h_ref, assumed=True)
        return AirSpring(h_ref=h_ref, area=area, volume=volume, p_set=p_set)

    def insert(self, gap: float) -> Stop:
        """Return one insert with its gap (m) in the reference state."""
        return Stop(gap=gap, curve=force_curve(self.points))

    @property
    def pad_middle(self) -> float:
        """Middle of the pad-to-pad window (m); the height taken until it is measured."""
        return 0.5 * ((self.pad_min_m or 0.0) + (self.pad_max_m or 0.0))

    @property
    def highest_force(self) -> float:
        """The largest force in its published data (N)."""
        if self.family == "air_spring":
            return max(max(row) for row in self.loads_n)
        return self.points[-1][1]
