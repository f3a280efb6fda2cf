"""Bump-stop inserts in pairs: rubber or foam that the axle comes to rest on.

Set by spacers, left and right, which close the gap read on the empty vehicle. Source: method sections 4 and 5.
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
from vantok_core.kits.checks import FitCheck, Status, empty_reading, read_elsewhere, room_check, standing_reading
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
from vantok_core.kits.setting import set_gaps
from vantok_core.model import JobModel
from vantok_core.physics.elements.curve import Curve, force_curve
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.vehicle import Element

Gap = Annotated[float, Field(ge=-1.0, le=1.0, allow_inf_nan=False)]
SPACER, GAP = "spacer_m", "gap_m"
ASSUMED_STOP_GAP = 0.065
"""Empty stop gap taken until it is read, m."""


class InsertData(Data):
    """One insert's force (N) by how far it is pressed (m); the gap it may have (m); how much further it reaches than the stop it
    replaces (m); its spacers (m); whether it may stand in contact; whether it screws
    into the captive nut of the stop; mount: how one that does not is held."""

    points: Annotated[tuple[tuple[Positive, NotNegative], ...], Field(min_length=1, max_length=80)]
    gap_min_m: Gap = 0.0
    gap_max_m: Gap = 0.06
    longer_m: Gap = 0.0
    spacers_m: Annotated[tuple[Positive, ...], Field(max_length=6)] = ()
    contact: bool = False
    screw_in: bool = False
    mount: Literal["bracket", "clamp"] = "bracket"

    @model_validator(mode="after")
    def _makes_a_stop(self) -> InsertData:
        try:
            self.stop(0.0)
        except InputError as error:
            raise ValueError(str(error)) from error
        return self

    @cached_property
    def _curve(self) -> Curve:
        return force_curve(self.points)

    def stop(self, gap: float) -> Stop:
        """Return one insert with its gap (m) in the reference state."""
        return Stop(gap=gap, curve=self._curve)


PRESSED_MOST = 0.010
"""How far an insert whose maker allows contact may stand pressed on the unladen vehicle, m (setting)."""
UNTOUCHED = 0.005
"""Gap (m) at which an insert counts as untouched when empty: no tape tells a smaller one from contact."""
NUTS: Mapping[str, tuple[Status, str]] = {
    "": (
        "measure",
        "Look through the frame at the captive nut and its weld, from above too: rust sits on the hidden side.",
    ),
    "sound": ("pass", "Looked at: sound."),
    "rusted": (
        "measure",
        "Rusted: penetrating oil on the thread's top now, and a reserve for it in the quote; try the old stop by its metal.",
    ),
    "gone": ("fail", "The captive nut is gone or turns: a plate behind the frame comes first."),
}
"""What the look at the captive nuts of the stops means."""


def nut_check(job: Job) -> FitCheck:
    """Return how the captive nuts stand that a stop's successor screws into."""
    status, why = NUTS[job.vehicle.stop_nuts]
    return FitCheck(key="nuts", words="captive nuts of the stops", status=status, why=Say(why))


def unspaced_gap(job: Job, kit: Kit, longer_m: float) -> Pair:
    """Return an insert's gap (m) without spacers, left and right, from the stop gaps read (else an assumed one)."""
    read = empty_reading(job, kit.axle, "stop_gap") or (ASSUMED_STOP_GAP, ASSUMED_STOP_GAP)
    return read[0] - longer_m, read[1] - longer_m


def spacer_stack(sizes: tuple[float, ...], wanted: float) -> tuple[float, ...]:
    """Return the stack of spacers nearest to a wanted thickness, at most two of each of the sizes (all m)."""
    stacks: list[tuple[float, ...]] = [()]
    for size in sizes:
        stacks = [stack + (size,) * n for stack in stacks for n in range(3)]
    return min(stacks, key=lambda stack: (abs(sum(stack) - wanted), len(stack)))


class InsertFamily(ElementFamily[InsertData]):
    """An insert a side, in the place of the stop or beside it."""

    key = "insert"
    words, many = "bump-stop insert", "bump-stop inserts"
    answers = (*OF_HEIGHT, "roll")
    data = InsertData
    settings = (
        SettingField(name=SPACER, words="spacer", kind="length", order="fit {left} of spacer left and {right} right"),
    )
    stands = "Insert gap"
    at_setting = (
        "Stands on the chassis, never a jack alone; wheel chocked. Both sides the same unless the load says otherwise."
    )
    care = ("An insert carries only when it is touched: look at it once a year for cracks, and that it sits tight.",)
    range_served = 0.6
    bench = "insert"
    work = "insert"
    drawn = "stop insert"
    debates = ("air_or_solid", "gap_or_contact", "over_a_standing_stop")
    typed = {
        "points": Typed(shape="pairs", columns=(("pressed by", "length"), ("force of one", "force"))),
        "spacers_m": Typed(shape="list", columns=(("spacer", "length"),)),
    }

    def construction(self, kit: Kit) -> str:
        """Return screwed into the stop's nut, clamped, or hung in a bracket."""
        own = self.of(kit)
        return "insert_screwed" if own.screw_in else "insert_clamped" if own.mount == "clamp" else "insert_bracketed"

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether the gap without spacers is one the kit allows, and what it screws into."""
        own = self.of(kit)
        return [self._gap_check(job, kit, own), *([nut_check(job)] if own.screw_in else [])]

    def _gap_check(self, job: Job, kit: Kit, own: InsertData) -> FitCheck:
        read = standing_reading(job, kit.axle, "stop_gap")
        values = {"low": length(own.gap_min_m), "high": length(own.gap_max_m), "longer": length(own.longer_m)}
        if read is None and job.earlier and empty_reading(job, kit.axle, "stop_gap"):
            why = Say("The stop gap was read before what is on now went on: read it again as it stands.")
            return FitCheck(key="gap", words="stop gap", status="measure", why=why)
        if read is None:
            text = "Read the stop gap empty on both sides; the insert reaches {longer} further than the stop."
            why = Say(read_elsewhere(job, kit, "stop_gap") + text, values)
            return FitCheck(key="gap", words="stop gap", status="measure", why=why)
        gaps = [r - own.longer_m for r in read]
        values |= {"left": length(gaps[0]), "right": length(gaps[1])}
        why = Say(
            "Without spacers the gap would be {left} left, {right} right; the kit allows {low} to {high}.", values
        )
        found = room_check("gap", "stop gap", why, (gaps[0], gaps[1]), own.gap_min_m)
        pressed = -min(gaps)
        if found.status != "fail" or not own.contact or pressed > PRESSED_MOST:
            return found
        text = (
            "{left} left, {right} right without spacers: it stands pressed by {pressed} from the start, which its maker allows. It carries unladen too, and "
            "rides firmer there; lift evenly until it goes in."
        )
        why = Say(text, values | {"pressed": length(pressed)})
        return FitCheck(key="gap", words="stop gap", status="marginal", why=why)

    def element(self, job: Job, kit: Kit, setting: Setting, state: str | None, place: float | None) -> Element:
        """Return the inserts at the gap their spacers leave (one told as a gap stands as it is)."""
        own = self.of(kit)
        bare, spacer = unspaced_gap(job, kit, own.longer_m), setting.get(SPACER)
        gap = (bare[0] - spacer[0], bare[1] - spacer[1]) if spacer else setting.get(GAP, bare)
        return Element(name=KIT_ELEMENT, left=own.stop(gap[0]), right=own.stop(gap[1]), ratio=kit.ratio, y=place)

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return its spacers, none to two of each; nothing to set without any."""
        sizes = self.of(kit).spacers_m
        return {SPACER: Span(low=0.0, high=sum(2 * s for s in sizes), step=min(sizes))} if sizes else {}

    def sought(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Setting:
        """Return the stacks of spacers whose gap comes nearest to what drops left and right (m) ask for."""
        states = list(model.states.values())
        wanted = set_gaps(at({}), states, element=KIT_ELEMENT, state=state, target=drop).exact
        return self._stacked(model.job, kit, wanted)

    def _stacked(self, job: Job, kit: Kit, wanted: Pair) -> Setting:
        own = self.of(kit)
        bare = unspaced_gap(job, kit, own.longer_m)
        gaps = [held(g, own.gap_min_m, own.gap_max_m) for g in wanted]
        left, right = (sum(spacer_stack(own.spacers_m, max(b - g, 0.0))) for b, g in zip(bare, gaps, strict=True))
        return {SPACER: (left, right)}

    def solve(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Solved:
        """Return the spacers for the target, and what is said where no gap reaches it or the kit's own limit holds it."""
        own, notes = self.of(kit), list[Say]()
        states = list(model.states.values())
        try:
            wanted = set_gaps(at({}), states, element=KIT_ELEMENT, state=state, target=drop).exact
        except VantokError:
            wanted = (own.gap_min_m, own.gap_min_m)
            notes.append(Say("No gap of this insert reaches the target; the smallest it allows is shown."))
        if own.gap_min_m - min(wanted) > 0.001:
            values = {"g": length(min(wanted)), "low": length(own.gap_min_m)}
            notes.append(Say("The target asks for a gap of {g}; the kit allows {low} at least.", values))
        school = model.job.target.contact
        if school == "contact" and not own.contact:
            notes.append(Say("Its maker allows no contact: it is set with a gap."))
        elif school == "contact":
            wanted = (0.0, 0.0)
            notes.append(
                Say("Set in contact, as this job wants it: it carries from the first millimetre, unladen too.")
            )
        elif school == "gap" and min(wanted) < UNTOUCHED:
            wanted = (max(wanted[0], UNTOUCHED), max(wanted[1], UNTOUCHED))
            notes.append(
                Say(
                    "Set with a gap of {g}, as this job wants it: the unladen ride is left alone.",
                    {"g": length(UNTOUCHED)},
                )
            )
        return Solved(setting=self._stacked(model.job, kit, wanted), notes=tuple(notes))

    def gap_score(self, gaps: list[float]) -> float:
        """Return a middling mark: an insert is meant to be touched, whatever gaps (m) are left."""
        return 0.6 if gaps else 1.0

    def highest_force(self, kit: Kit) -> float:
        """Return the force at the last point of its curve (N)."""
        return self.of(kit).points[-1][1]

    def scaled(self, kit: Kit, strength: float) -> Kit:
        """Return a kit with its forces scaled."""
        return kit.model_copy(update={"points": [[c, f * strength] for c, f in self.of(kit).points]})

    def made_of(self, kit: Kit, name: str, value: float) -> tuple[float, ...]:
        """Return the spacers of a stack (m)."""
        return spacer_stack(self.of(kit).spacers_m, value) if name == SPACER else (value,)

    def shown(self, kit: Kit) -> list[Shown]:
        """Return gap limits, reach and spacers."""
        own = self.of(kit)
        found = [
            Shown(label="Gap, smallest and largest", values=quantities("length", own.gap_min_m, own.gap_max_m)),
            Shown(label="Reaches further than the stop it replaces by", values=quantities("length", own.longer_m)),
        ]
        return [
            *found,
            *([Shown(label="Spacers", values=quantities("length", *own.spacers_m))] if own.spacers_m else []),
        ]

    def table(self, kit: Kit) -> tuple[list[str], list[list[Quantity]]] | None:
        """Return the force of one insert by how far it is pressed."""
        rows = [[*quantities("length", c), *quantities("force", f)] for c, f in self.of(kit).points]
        return ["Force of one insert by how far it is pressed"], rows


FAMILY = InsertFamily()
