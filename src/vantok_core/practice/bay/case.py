"""A practice case: the job as it comes in, what is hidden of its vehicle, and what a good run of it comes to.

A case is also a file; one that is damaged is refused in words. Source: method section 19.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

from pydantic import Field, model_validator

from vantok_core.aims.complaints import COMPLAINTS
from vantok_core.facts import Job, Kit, LoadItem
from vantok_core.facts.kinds import Facts, Kilograms, Line, Metres, Name, Pascals, PositiveMetres, Rating, Sentence
from vantok_core.judge.diagnose.causes import table
from vantok_core.judge.listen.inspect import AREAS

Corners = tuple[
    Annotated[float, Field(ge=-5.0, le=5.0, allow_inf_nan=False)],
    Annotated[float, Field(ge=-5.0, le=5.0, allow_inf_nan=False)],
    Annotated[float, Field(ge=-5.0, le=5.0, allow_inf_nan=False)],
    Annotated[float, Field(ge=-5.0, le=5.0, allow_inf_nan=False)],
]
"""A length at front left, front right, rear left, rear right, m."""
Rate = Annotated[float, Field(gt=0.0, le=1e7, allow_inf_nan=False)]
Trap = Literal[
    "none",
    "scale",
    "corners",
    "front_scale",
    "tongue",
    "plate",
    "turn",
    "sheet",
    "stops",
    "fault",
    "leave",
    "variant",
    "strong",
    "droop",
    "tee",
    "soap",
    "bar",
    "settle_after",
    "drive_before",
]
Skill = Literal["measure", "weigh", "inspect", "diagnose", "choose", "set", "prove"]
SKILLS: Mapping[Skill, str] = {
    "measure": "measuring",
    "weigh": "weighing and limits",
    "inspect": "inspecting",
    "diagnose": "naming the cause",
    "choose": "choosing",
    "set": "setting",
    "prove": "proving",
}
CAUSES: Mapping[str, str] = {
    **{key: one["words"] for key, one in table()["causes"].items()},
    "load": "the load alone, on sound springs",
    "floor": "the floor, not the vehicle",
    "sheet": "a figure on the sheet that is wrong",
    "as_it_should": "nothing: it sits as it should",
}
"""What may be named as the cause: what usually lies behind a complaint, and that it is none of the vehicle's."""
Deed = Literal["nothing", "unload", "trailer", "repair", "helper", "insert", "bar", "lines", "damper"]
DEEDS: Mapping[Deed, str] = {
    "nothing": "Nothing is fitted: explain what was found",
    "unload": "Take load off, or move it, before anything else",
    "trailer": "Load the trailer anew",
    "repair": "Cure the fault first",
    "helper": "Fit something that lifts the rear",
    "insert": "Fit bump-stop inserts",
    "bar": "Fit an anti-roll bar",
    "lines": "Give each side its own line, and set it by itself",
    "damper": "Fit a damper or steering stabilizer",
}
"""What may be done about it."""


def any_of(deeds: Sequence[Deed]) -> str:
    """Return in words what is right to do: more than one thing may be."""
    return "; or ".join(DEEDS[deed][0].lower() + DEEDS[deed][1:] for deed in deeds)


class HiddenAxle(Facts):
    """An axle as it truly is: track m; unsprung mass kg and tyre rate N/m a corner; ref_load_n: wheel loads empty, left and right; its springs by their law,
    rate and what a second stage adds (N/m), where that meets (m below empty); place_m: from the centre line; gap_m: stop gap empty."""

    solid: bool
    track_m: PositiveMetres
    unsprung_kg: Annotated[float, Field(ge=0.0, le=1000.0)]
    tyre_rate_n_per_m: Rate
    ref_load_n: tuple[Rate, Rate]
    law: Literal["coil", "torsion_bar", "leaf", "parabolic"]
    rate_n_per_m: Rate
    second_n_per_m: Annotated[float, Field(ge=0.0, le=1e7)] = 0.0
    contact_m: Annotated[float, Field(ge=0.0, le=1.0)] = 0.0
    place_m: PositiveMetres | None = None
    gap_m: Annotated[float, Field(ge=0.0, le=0.3)] = 0.07


class HiddenLoad(Facts):
    """What a state truly carries: things at their places, and what the trailer truly presses on the hitch with (kg)."""

    state: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,30}$")]
    items: Annotated[tuple[LoadItem, ...], Field(max_length=40)] = ()
    tongue_kg: Kilograms = 0.0


class HiddenFault(Facts):
    """What is found in an area by who looks: its grade and words; lifts_m: by how much the corners stand higher once it is cured."""

    area: str
    grade: Literal["watch", "fault"]
    words: Sentence
    lifts_m: Corners = (0.0, 0.0, 0.0, 0.0)

    @model_validator(mode="after")
    def _known(self) -> HiddenFault:
        if self.area not in AREAS:
            raise ValueError(f"area: nobody inspects “{self.area}”")
        return self


class Hidden(Facts):
    """The truth of a case. stands_m: ground to arch empty on a plane floor; hub_m: hub above ground empty; floor_m: what the bay's floor adds at each wheel's
    spot, nose to the wall; strength: of any kit against its data; on: a kit that was on when it came, its setting left and right; leak_pa_per_hour: of
    the left bag; ratings: as the plates have them; pads_m: between a bag's pads, empty; droop_m: of the rear wheels."""

    wheelbase_m: PositiveMetres
    overhang_m: Metres = 1.15
    front: HiddenAxle
    rear: HiddenAxle
    stands_m: Corners
    hub_m: PositiveMetres = 0.36
    floor_m: Corners = (0.0, 0.0, 0.0, 0.0)
    loads: tuple[HiddenLoad, ...] = ()
    strength: Annotated[float, Field(ge=0.5, le=2.0)] = 1.0
    on: Kit | None = None
    on_setting: dict[str, tuple[float, float]] = {}
    leak_pa_per_hour: Pascals = 0.0
    faults: Annotated[tuple[HiddenFault, ...], Field(max_length=14)] = ()
    ratings: dict[Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")], Rating] = {}
    pads_m: PositiveMetres = 0.165
    droop_m: Annotated[float, Field(gt=0.0, le=0.5)] = 0.11


class Planted(Facts):
    """A figure that stood wrong on the sheet when the job came: its state, datum, place."""

    state: str
    datum: str
    place: str


class Case(Facts):
    """A case. code and title tell nothing of what is hidden; told: the job as it comes in, its complaints and the customer's words in it; answers: what the
    owner says when asked, by the question; causes and deeds: those that are right, the best first; look: the areas a good run looks at; trap, lesson: what it
    turns on, and in a sentence why; courses: the piece of road its complaint is felt on; minutes: for a good run."""

    format: Literal["vantok-practice-case"] = "vantok-practice-case"
    version: Literal[1] = 1
    code: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{1,20}$")]
    title: Name
    level: Annotated[int, Field(ge=1, le=3)] = 1
    skills: tuple[Skill, ...]
    told: Job
    answers: Annotated[dict[Line, Sentence], Field(max_length=8)] = {}
    hidden: Hidden
    causes: Annotated[tuple[str, ...], Field(min_length=1, max_length=6)]
    deeds: Annotated[tuple[Deed, ...], Field(min_length=1, max_length=4)]
    look: Annotated[tuple[str, ...], Field(max_length=14)] = ()
    trap: Trap = "none"
    planted: Planted | None = None
    lesson: Sentence
    course: Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")] = "bump"
    minutes: Annotated[float, Field(ge=10.0, le=2000.0)] = 240.0
    seed: Annotated[int, Field(ge=0, le=2**32)] = 1

    @model_validator(mode="after")
    def _holds_together(self) -> Case:
        keys = {state.key for state in self.told.states}
        if lost := [load.state for load in self.hidden.loads if load.state not in keys]:
            raise ValueError(f"hidden.loads: the job has no state “{lost[0]}”")
        if self.told.empty is None:
            raise ValueError("told.states: one state has to be the empty one")
        if unknown := [key for key in self.causes if key not in CAUSES]:
            raise ValueError(f"causes: nobody knows “{unknown[0]}”")
        if unknown := [area for area in self.look if area not in AREAS]:
            raise ValueError(f"look: nobody inspects “{unknown[0]}”")
        if not any(one.code in COMPLAINTS for one in self.told.complaints):
            raise ValueError("told.complaints: a case begins with a complaint")
        if (self.trap == "sheet") != (self.planted is not None):
            raise ValueError("planted: the figure that stands wrong belongs to the trap of the sheet, and to no other")
        return self

    @property
    def complaint(self) -> str:
        """The code of what the customer complains of."""
        return next(one.code for one in self.told.complaints if one.code in COMPLAINTS)

    @property
    def judged(self) -> str:
        """The key of the state that is judged: the last with load."""
        return next((s.key for s in reversed(self.told.states) if not s.empty), self.told.states[0].key)
