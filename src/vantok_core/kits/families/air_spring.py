"""Air springs in pairs: bellows beside the spring, sleeves, bags inside a coil.

Set by pressure, left and right, in the state it is used in; shut in for the others. Source: method sections 4 and 5.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, model_validator

from vantok_core.base.errors import InputError, VantokError
from vantok_core.base.say import Quantity, Say, length
from vantok_core.facts import Job, Kit
from vantok_core.facts.parts import NotNegative, Positive
from vantok_core.kits.checks import FitCheck, empty_reading, read_elsewhere, room_check, size_check
from vantok_core.kits.curves import Typed
from vantok_core.kits.family import (
    KIT_ELEMENT,
    OF_HEIGHT,
    At,
    Data,
    ElementFamily,
    Pair,
    Setting,
    SettingField,
    Shown,
    Solved,
    Span,
    held,
    quantities,
)
from vantok_core.kits.setting import set_pressures
from vantok_core.model import JobModel
from vantok_core.physics.elements.air import AirSpring, AreaTable, Volume
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import Element, Vehicle

FREED = 0.010
"""Past the longest height of its table by this much, a bag that nothing holds at its ends presses nothing, m (setting)."""
GAUGE_STEP = 5000.0
"""The gauge's step, Pa."""
PRESSURE = "pressure_pa"


class AirData(Data):
    """Pressure limits (Pa gauge); one bag's load table (N by height m and pressure Pa); its volume (m3 at m); the pad-to-pad window (m).
    line: one valve a side, or both bags on one line; shape: bellows or sleeve beside the spring, or a bag inside its coil, bare or sleeved;
    through: how a bag gets into its coil; diameter_m: of a bag inside a coil."""

    p_min_pa: NotNegative
    p_max_pa: Positive
    heights_m: Annotated[tuple[Positive, ...], Field(min_length=2, max_length=80)]
    pressures_pa: Annotated[tuple[Positive, ...], Field(min_length=1, max_length=80)]
    loads_n: Annotated[tuple[tuple[NotNegative, ...], ...], Field(max_length=80)]
    volume_m3: Positive | None = None
    volume_at_m: Positive | None = None
    pad_min_m: Positive
    pad_max_m: Positive
    line: Literal["separate", "tee"] = "separate"
    shape: Literal["bellows", "sleeve", "in_coil"] = "bellows"
    sleeved: bool = False
    through: Literal["coil_out", "windings"] = "coil_out"
    diameter_m: Positive | None = None

    @model_validator(mode="after")
    def _makes_a_bag(self) -> AirData:
        if not (self.p_min_pa < self.p_max_pa and self.pad_min_m < self.pad_max_m):
            raise ValueError("the lower pressure and the lower pad-to-pad height must be below the upper ones")
        try:
            self.bag(0.5 * (self.heights_m[0] + self.heights_m[-1]), 1e5)
        except InputError as error:
            raise ValueError(str(error)) from error
        return self

    @cached_property
    def _area(self) -> AreaTable:
        heights, loads = list(self.heights_m), [list(r) for r in self.loads_n]
        if self.shape == "in_coil":  # it is held by nothing: seats further apart than it reaches let it stand free
            heights, loads = [*heights, heights[-1] + FREED], [*loads, [0.0] * len(loads[-1])]
        return AreaTable.from_loads(heights, list(self.pressures_pa), loads)

    @property
    def reach(self) -> float:
        """How far apart seats may stand before a bag inside a coil presses nothing (m)."""
        return self.heights_m[-1] + FREED

    def bag(self, h_ref: float, p_set: float) -> AirSpring:
        """Return one bag at its reference height (m) and set pressure (Pa gauge)."""
        if self.volume_m3 is not None and self.volume_at_m is not None:
            volume = Volume(v0=self.volume_m3, h0=self.volume_at_m)
        else:
            volume = Volume(v0=float(self._area.at(h_ref, p_set)[0]) * h_ref, h0=h_ref, assumed=True)
        return AirSpring(h_ref=h_ref, area=self._area, volume=volume, p_set=p_set)

    @property
    def pad_middle(self) -> float:
        """Middle of the pad-to-pad window (m); the height taken until it is measured."""
        return 0.5 * (self.pad_min_m + self.pad_max_m)


class AirSpringFamily(ElementFamily[AirData]):
    """A bag a side, each with its own valve."""

    key = "air_spring"
    words, many = "air spring", "air springs"
    answers = (*OF_HEIGHT, "roll")
    data = AirData
    settings = (SettingField(name=PRESSURE, words="pressure", kind="pressure"),)
    sealed = True
    stands = "Pressure"
    at_setting = (
        "Stand clear of the bag while it fills; keep hands from between its plates. Never over {high}, never under {low}. "
        "Let the air out before undoing any fitting."
    )
    care = (
        "Set the pressure for each load, and never drive under the minimum or over the maximum given above.",
        "Look at the pressure each week, and before each trip under load; air that is lost is looked for, not topped up.",
    )
    range_served = 1.0
    bench = "air"
    work = "air"
    drawn = "bag"
    debates = ("air_or_solid", "one_line_or_two", "empty_or_minimum", "all_back_or_part")
    typed = {
        "loads_n": Typed(
            shape="grid",
            columns=(("height", "length"), ("pressure", "pressure"), ("force of one bag", "force")),
            with_=("heights_m", "pressures_pa"),
        ),
    }

    def construction(self, kit: Kit) -> str:
        """Return bellows beside the spring, a sleeve in the stop's place, or a bag inside a coil: coil out for it, or fed in between its windings."""
        own = self.of(kit)
        if own.shape == "in_coil":
            return "bag_between_windings" if own.through == "windings" else "bag_in_coil"
        return "sleeve_at_stop" if own.shape == "sleeve" and kit.replaces_stop else "bellows"

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether it stands in its pad-to-pad window."""
        own = self.of(kit)
        values = {"low": length(own.pad_min_m), "high": length(own.pad_max_m)}
        inside = (
            [size_check(job, kit, "coil_inside_m", own.diameter_m, 0.4)]
            if own.shape == "in_coil" and own.diameter_m
            else []
        )
        read = empty_reading(job, kit.axle, "pad_to_pad")
        if read is None:
            text = "Mock it up at ride height, not lifted, and read pad to pad; the window is {low} to {high}."
            why = Say(read_elsewhere(job, kit, "pad_to_pad") + text, values)
            return [*inside, FitCheck(key="pads", words="pad-to-pad window", status="measure", why=why)]
        values |= {"left": length(read[0]), "right": length(read[1])}
        why = Say("Read {left} left and {right} right; the window is {low} to {high}.", values)
        return [*inside, room_check("pads", "pad-to-pad window", why, read, own.pad_min_m, own.pad_max_m)]

    def element(self, job: Job, kit: Kit, setting: Setting, state: str | None, place: float | None) -> Element:
        """Return the bags at a pressure; their reference height is as read, else the middle of the window."""
        own = self.of(kit)
        heights = empty_reading(job, kit.axle, "pad_to_pad") or (own.pad_middle, own.pad_middle)
        p_left, p_right = setting.get(PRESSURE, (own.p_min_pa, own.p_min_pa))
        if own.line == "tee":
            p_left = p_right = 0.5 * (p_left + p_right)
        left, right = own.bag(heights[0], p_left), own.bag(heights[1], p_right)
        return Element(
            name=KIT_ELEMENT,
            left=left,
            right=right,
            ratio=kit.ratio,
            y=place,
            set_state=state,
            teed=own.line == "tee",
            p_min=own.p_min_pa,
            p_max=own.p_max_pa,
        )

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return its pressures, lowest to highest."""
        own = self.of(kit)
        return {PRESSURE: Span(low=own.p_min_pa, high=own.p_max_pa, step=GAUGE_STEP)}

    def sought(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Setting:
        """Return the pressures for drops left and right (m), to the gauge's step and within the limits."""
        left, right = self._wanted(model, at({}), state, drop)
        own = self.of(kit)
        return {PRESSURE: (held(left, own.p_min_pa, own.p_max_pa), held(right, own.p_min_pa, own.p_max_pa))}

    @staticmethod
    def _wanted(model: JobModel, start: Vehicle, state: str, drop: Pair) -> Pair:
        states = list(model.states.values())
        return set_pressures(
            start, states, element=KIT_ELEMENT, state=state, target=drop, gauge_step=GAUGE_STEP
        ).rounded

    def solve(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Solved:
        """Return the pressures for the target, kept within the kit's limits, and what is said where those hold them."""
        own, notes = self.of(kit), list[Say]()
        try:
            wanted = self._wanted(model, at({}), state, drop)
        except VantokError:
            wanted = self._nearest_end(model, kit, at, state, drop)
        limits = {"low": Quantity(own.p_min_pa, "pressure"), "high": Quantity(own.p_max_pa, "pressure")}
        if max(wanted) > own.p_max_pa:
            notes.append(
                Say("The target asks for more than its maximum of {high}; held there, it falls short.", limits)
            )
        if min(wanted) < own.p_min_pa:
            text = "The target asks for less than its minimum of {low}; kept there, it stands a little high."
            notes.append(Say(text, limits))
        kept = (held(wanted[0], own.p_min_pa, own.p_max_pa), held(wanted[1], own.p_min_pa, own.p_max_pa))
        return Solved(setting={PRESSURE: kept}, notes=tuple(notes))

    def _nearest_end(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Pair:
        """Return the limit pressure that comes nearest to an unreachable target."""
        own = self.of(kit)

        def miss(pressure: float) -> float:
            return abs(float(model.solve(at({PRESSURE: (pressure, pressure)}))[state].d_r) - 0.5 * (drop[0] + drop[1]))

        best = min((own.p_min_pa, own.p_max_pa), key=miss)
        return best, best

    def emptied(self, kit: Kit, empty: StateReport) -> list[Say]:
        """Return that bags shut loaded fall under their minimum when it is unloaded, where they do."""
        low = self.of(kit).p_min_pa
        pressures = [float(p) for side in empty.elements[KIT_ELEMENT].values() if (p := side.pressure) is not None]
        if not pressures or min(pressures) >= low:
            return []
        text = (
            "Unloaded with the valves shut it would fall to {p}, under the minimum of {low}: the bag could pinch. "
            "Set it again when empty."
        )
        return [Say(text, {"p": Quantity(min(pressures), "pressure"), "low": Quantity(low, "pressure")})]

    def alike(self, kit: Kit) -> str:
        """Return that bags on one line have one pressure."""
        return "Both bags are on one line: they have one pressure." if self.of(kit).line == "tee" else ""

    def does(self, model: JobModel, kit: Kit, setting: Setting, state: str) -> list[Say]:
        """Return what its line and its place give up."""
        own, found = self.of(kit), list[Say]()
        if own.line == "tee":
            found.append(
                Say(
                    "On one line: no side trim, and its pressure gives no roll support, since the bags pass their air across."
                )
            )
        if own.shape == "in_coil":
            found.append(_in_coil(model.job, kit, own))
        return found

    def gap_score(self, gaps: list[float]) -> float:
        """Return how free of the stops the vehicle stands: 30 mm and more is full marks."""
        return 1.0 if not gaps else held(min(gaps) / 0.03, 0.0, 1.0)

    def highest_force(self, kit: Kit) -> float:
        """Return the largest force in the load table (N)."""
        return max(max(row) for row in self.of(kit).loads_n)

    def scaled(self, kit: Kit, strength: float) -> Kit:
        """Return a kit with its loads scaled."""
        return kit.model_copy(update={"loads_n": [[f * strength for f in row] for row in self.of(kit).loads_n]})

    def shown(self, kit: Kit) -> list[Shown]:
        """Return pressure limits and window."""
        own = self.of(kit)
        return [
            Shown(label="Pressure, lowest and highest", values=quantities("pressure", own.p_min_pa, own.p_max_pa)),
            Shown(label="Pad to pad at ride height", values=quantities("length", own.pad_min_m, own.pad_max_m)),
        ]

    def table(self, kit: Kit) -> tuple[list[str], list[list[Quantity]]] | None:
        """Return the force of one bag by height and pressure."""
        own = self.of(kit)
        top = [Quantity(0.0, ""), *quantities("pressure", *own.pressures_pa)]
        rows = [
            [*quantities("length", h), *quantities("force", *forces)]
            for h, forces in zip(own.heights_m, own.loads_n, strict=True)
        ]
        return ["Force of one bag by height and pressure"], [top, *rows]


def _in_coil(job: Job, kit: Kit, own: AirData) -> Say:
    """Return what a bag inside a coil does where the coil is extended: nothing once the seats stand further apart than it reaches."""
    bare = "" if own.sleeved else " A bare bag takes little pressure: never over its maximum."
    read, values = empty_reading(job, kit.axle, "pad_to_pad"), {"reach": length(own.reach)}
    if read is None:
        text = (
            "Inside the coil: where the seats stand {reach} apart or more, it lifts nothing. Read seat to seat unladen."
        )
    elif min(read) >= own.reach:
        text = "Inside the coil, whose seats stand {h} apart unladen: it reaches {reach} and lifts nothing there."
    else:
        text = "Inside the coil, whose seats stand {h} apart unladen: it presses there too, up to {reach}."
    stands = Say(text, values | ({"h": length(min(read))} if read else {}))
    return Say("{stands} It keeps its minimum when empty.{bare}", {"stands": stands, "bare": bare})


FAMILY = AirSpringFamily()
