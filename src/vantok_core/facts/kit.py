"""A kit as a shelf or a job file carries it: what every kit has, and its family's own data, which `kits.registry` checks."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from vantok_core.facts.declared import Of
from vantok_core.facts.kinds import MADE_KNOWN, UNKNOWN_MAKE, Facts, Line, Name, Sentence
from vantok_core.facts.parts import NotNegative, Positive


class Variant(Facts):
    """What a fastener is for, where several are alike: by a setting's name (SI) or the model `year`, from the least to the most of it."""

    by: Annotated[str, Field(pattern=r"^[a-z][a-z_]{0,29}$")]
    low: Annotated[float, Field(allow_inf_nan=False)]
    high: Annotated[float, Field(allow_inf_nan=False)]

    @model_validator(mode="after")
    def _the_right_way_round(self) -> Variant:
        if self.low > self.high:
            raise ValueError("low: the least is more than the most")
        return self


class Fastener(Facts):
    """A row of a kit's fastener table. torque_nm: N m in the state the maker means (None: by feel); dry, oiled, or with locker; at_ride_height:
    tightened only with the weight on the wheels; stages: in how many steps; crosswise: from corner to corner; whose: the kit's, or one of the
    vehicle's own, whose torque its maker tells; head_m: its head or nut across the flats, m; only: what it is for where several are alike."""

    name: Name
    count: Annotated[int, Field(ge=1, le=64)] = 1
    torque_nm: Annotated[float, Field(gt=0.0, le=2000.0, allow_inf_nan=False), Of("torque")] | None = None
    state: Literal["dry", "oiled", "locker"] = "dry"
    at_ride_height: bool = False
    stages: Annotated[int, Field(ge=1, le=5)] = 1
    crosswise: bool = False
    whose: Literal["kit", "vehicle"] = "kit"
    head_m: Annotated[float, Field(gt=0.0, le=0.12, allow_inf_nan=False), Of("length")] | None = None
    only: Annotated[tuple[Variant, ...], Field(max_length=2)] = ()


Drawing = Literal[
    "arrow_front",
    "bag_straight",
    "crosswise",
    "groove_down",
    "leaf_order",
    "link_level",
    "long_above",
    "marked_end_forward",
    "roll_plate",
    "taper",
    "thick_rearward",
    "washer",
]
"""Ways round that a step may be drawn with."""
FACTS = {
    "spacer_stands": "Spacers used under the pad, pad to pad as read",
    "old_stop": "The old stop: left in, or taken out",
    "leftovers": "Leftover parts, and where they are kept",
    "line_route": "Where the line runs, and where its valve is",
    "gap": "Gap to the pad as read, left and right",
    "arch": "Arch of the spring, eye to eye over the centre",
    "winding": "Which winding it sits in, counted from the lower end",
    "threads": "Both ends, and the threads that show",
    "rest_length": "The damper’s length at rest, left and right",
    "stroke": "Rod’s stroke to spare at either lock",
    "link_of": "Links or clips in use, both sides",
}
"""What may be written down at a step beside a setting, and how it is asked for."""
ANSWERS = {"old_stop": ("left in", "taken out")}
"""The answers there are to some of it."""


class KitStep(Facts):
    """A step of a kit's own. side: on each side, once, or on one alone; stands: on its wheels, on stands, or at ride height; tightens: names of fasteners;
    irreversible: drilled, cut or welded; caution, check, if_fails: a sentence each; drawing: which way round it goes; people: how many it takes; fact: what is
    written down at it: what the kit is set by, or one of `FACTS`. What it does to the vehicle: opens, closes: what is taken off or loosened, and put back or
    tightened, by name; moves: body or axle go up or down; air: how much is in after it; energy: a spring is relieved, let go of, or takes up its load again;
    trial: parts in dry, and then read on the wheels; alone: on one side at a time."""

    words: Annotated[str, Field(min_length=1, max_length=300)]
    side: Literal["each", "once", "left", "right"] = "each"
    stands: Literal["wheels", "stands", "ride_height"] = "stands"
    tightens: Annotated[tuple[Name, ...], Field(max_length=8)] = ()
    irreversible: bool = False
    caution: Sentence = ""
    check: Sentence = ""
    if_fails: Sentence = ""
    drawing: Drawing | Literal[""] = ""
    people: Annotated[int, Field(ge=1, le=4)] = 1
    fact: Annotated[str, Field(pattern=r"^([a-z][a-z_]{0,29})?$")] = ""
    opens: Annotated[tuple[Name, ...], Field(max_length=8)] = ()
    closes: Annotated[tuple[Name, ...], Field(max_length=8)] = ()
    moves: bool = False
    air: Literal["", "out", "minimum", "working"] = ""
    energy: Literal["", "unloads", "releases", "loads"] = ""
    trial: Literal["", "dry", "read"] = ""
    alone: bool = False


class Care(Facts):
    """What is looked at later, after so many months or kilometres, whichever comes first (at least one of them)."""

    what: Name
    months: Annotated[float, Field(gt=0.0, le=240.0)] | None = None
    km: Annotated[float, Field(gt=0.0, le=1e6)] | None = None

    @model_validator(mode="after")
    def _has_a_date(self) -> Care:
        if self.months is None and self.km is None:
            raise ValueError("it needs months or km")
        return self


class SeenHere(Facts):
    """How strong a shop read a kit to be on vehicles of one kind: of how many, against its data, and the sigma of ln of that."""

    count: Annotated[int, Field(ge=1, le=1_000_000)]
    ratio: Annotated[float, Field(ge=0.3, le=3.0)]
    sigma: Annotated[float, Field(gt=0.0, le=1.0)]


class Kit(BaseModel):
    """One kit, for both sides, with its window, cost and work; what its family adds is kept beside and read by that family.

    place: lateral place as a share of half the track; ratio: its travel over the wheel's; side_space_m: room it needs beside the
    tyre. Masses kg, hours for both sides together, price and upkeep in the shop's currency. drilling: whether frame or axle is drilled; reversible: whether it
    comes off without a trace; None: nobody has said. life_years: until it is renewed; access: what must come off first, with its hours,
    which count among the kit's; prerequisites, contents: a line each; claims: what its label promises, kept apart and never used;
    years: first and last model year it is made for; hardware: what the vehicle must have, a line each, as one looks for it;
    fasteners, steps: of its sheet, for the fitting card; care: what is looked at later;
    axle_max_kg: the heaviest axle it may stand on; rated_kg: what the pair may press with, by its maker; None: nobody has said;
    settling_m: how far it is expected to settle after fitting; mass_kg: its heaviest piece; maker_data: whether its data are its maker's, or taken
    from a like kit; seen: how strong this shop read it to be on vehicles of the kind, with which its data here were multiplied.
    """

    model_config = ConfigDict(extra="allow", frozen=True)

    code: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,40}$")]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    maker: Annotated[str, Field(max_length=120)]
    family: Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")]
    axle: Literal["front", "rear"] = "rear"
    springs: Annotated[tuple[str, ...], Field(max_length=30)]
    gross_min_kg: NotNegative = 0.0
    gross_max_kg: Positive = 60_000.0
    axle_max_kg: Positive | None = None
    rated_kg: Positive | None = None
    place: Annotated[float, Field(gt=0.0, le=1.0)] = 0.58
    ratio: Positive = 1.0
    replaces_stop: bool = False
    own_stop: bool = True
    side_space_m: NotNegative = 0.0
    price: Annotated[NotNegative, Field(le=1e6)]
    hours: Annotated[NotNegative, Field(le=1000.0)]
    upkeep_per_year: Annotated[NotNegative, Field(le=1e5)] = 0.0
    drilling: bool | None = None
    reversible: bool | None = None
    life_years: Positive | None = None
    access: Annotated[dict[Annotated[str, Field(min_length=1, max_length=60)], NotNegative], Field(max_length=12)] = {}
    prerequisites: Annotated[tuple[Line, ...], Field(max_length=12)] = ()
    contents: Annotated[tuple[Line, ...], Field(max_length=60)] = ()
    claims: Annotated[str, Field(max_length=500)] = ""
    hardware: Annotated[tuple[Name, ...], Field(max_length=6)] = ()
    years: tuple[Annotated[int, Field(ge=1900, le=2100)], Annotated[int, Field(ge=1900, le=2100)]] | None = None
    notes: Annotated[str, Field(max_length=2000)] = ""
    fasteners: Annotated[tuple[Fastener, ...], Field(max_length=40)] = ()
    steps: Annotated[tuple[KitStep, ...], Field(max_length=60)] = ()
    care: Annotated[tuple[Care, ...], Field(max_length=12)] = ()
    settling_m: Annotated[float, Field(ge=0.0, le=0.05), Of("length")] | None = None
    maker_data: bool = True
    seen: SeenHere | None = None
    mass_kg: Annotated[float, Field(gt=0.0, le=500.0, allow_inf_nan=False), Of("mass")] | None = None

    @model_validator(mode="after")
    def _can_be(self) -> Kit:
        if self.gross_min_kg >= self.gross_max_kg:
            raise ValueError("gross_min_kg: the window is upside down: its lower end must be below its upper one")
        if self.years is not None and self.years[0] > self.years[1]:
            raise ValueError("years: the first year comes after the last")
        known = {one.name for one in self.fasteners}
        for n, step in enumerate(self.steps):
            if lost := [name for name in step.tightens if name not in known]:
                raise ValueError(f"steps.{n}.tightens: “{lost[0]}” is not in the fastener table")
        return self

    @property
    def strength_sigma(self) -> float:
        """Sigma of ln a, a being the factor on its force: as this shop read it, with its maker's data, or with data that are nobody's (method section 8)."""
        if self.seen is not None:
            return self.seen.sigma
        return MADE_KNOWN if self.maker_data else UNKNOWN_MAKE

    @property
    def own(self) -> Mapping[str, Any]:
        """The family's own data, as it stands in the file."""
        return self.model_extra or {}

    @cached_property
    def read(self) -> dict[str, Any]:
        """What its family has made of its own data, so that it is read once."""
        return {}

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Kit:
        """Return a copy with some data changed; what was made of the old data is not carried over."""
        copied = super().model_copy(update=update, deep=deep)
        copied.__dict__.pop("read", None)
        return copied
