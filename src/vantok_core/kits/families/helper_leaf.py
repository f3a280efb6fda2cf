"""Helper leaves with rollers: a leaf over the pack whose ends bear on rollers; the roller's hole sets how hard it presses.

Set by the hole, the same on both sides: a leaf cures no lean, and unlike holes twist the axle. What somebody sets unlike is
predicted as set. Source: method sections 4 and 10.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from typing import Annotated, Any

from pydantic import Field, model_validator

from vantok_core.base.errors import VantokError
from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job, Kit
from vantok_core.facts.classes import is_tapered
from vantok_core.facts.parts import NotNegative, Positive
from vantok_core.kits.checks import FitCheck
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
from vantok_core.kits.setting import solve_sides, with_element
from vantok_core.model import JobModel
from vantok_core.physics.elements.laws import Helper
from vantok_core.physics.vehicle import Element, Vehicle

HOLE = "hole_count"
LEAVES = ("leaf_solid", "two_stage_leaf_solid")
"""What a helper leaf can lie on: a pack of several leaves."""


class HelperLeafData(Data):
    """One leaf's rate (N/m), and its preload on the empty vehicle (N) in each hole, the weakest first."""

    rate_n_per_m: Positive
    preloads_n: Annotated[tuple[NotNegative, ...], Field(min_length=1, max_length=12)]

    @model_validator(mode="after")
    def _rises(self) -> HelperLeafData:
        if any(b <= a for a, b in itertools.pairwise(self.preloads_n)):
            raise ValueError("each hole must press harder than the one before")
        return self

    def preload(self, hole: float) -> float:
        """Return the preload (N) in a hole (counted from 1; one that is not there counts as the nearest that is)."""
        return self.preloads_n[round(held(hole, 1, len(self.preloads_n))) - 1]

    def nearest(self, preload: float) -> float:
        """Return the hole whose preload comes nearest to one wanted (N)."""
        return float(1 + min(range(len(self.preloads_n)), key=lambda n: abs(self.preloads_n[n] - preload)))


class HelperLeafFamily(ElementFamily[HelperLeafData]):
    """A leaf a side, over the pack."""

    key = "helper_leaf"
    words, many = "helper leaf", "helper leaves"
    answers = (*OF_HEIGHT, "windup")
    data = HelperLeafData
    settings = (
        SettingField(
            name=HOLE, words="hole", kind="count", order="put the rollers in hole {left} left and {right} right"
        ),
    )
    stands = "At the wheel"
    at_setting = (
        "The ends are drawn down with clamps: stored energy, keep hands away. Frame on stands, wheels chocked. It floats on its "
        "rollers and never clamps the pack. Holes {low} to {high}."
    )
    care = ("Have the axle bolts and the rollers' bolts checked after the first short distance, and once a year.",)
    range_served = 0.4
    bench = "leaf"
    work = "helper"
    drawn = "leaf above"
    debates = ("air_or_solid", "helper_or_new")
    typed = {"preloads_n": Typed(shape="list", columns=(("preload by hole, the weakest first", "force"),))}

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether there is a pack for it to lie on."""
        own = job.vehicle.front_spring if kit.axle == "front" else job.vehicle.rear_spring
        words = "a pack of several leaves"
        if own is None:
            why = Say("Count the leaves: it lies on a pack; on tapered leaves only where its maker lists it for them.")
            return [FitCheck(key="pack", words=words, status="measure", why=why)]
        if own in LEAVES:
            return [FitCheck(key="pack", words=words, status="pass", why=Say("It lies on the pack."))]
        if is_tapered(own) and own in kit.springs:
            why = Say(
                "Tapered leaves, for which its maker lists it: it floats on its rollers, never clamped into the spring. Look at the leaf for cracks first."
            )
            return [FitCheck(key="pack", words="tapered leaf", status="pass", why=why)]
        why = Say("There is no pack of several leaves for it to lie on, and its maker lists it for nothing else.")
        return [FitCheck(key="pack", words=words, status="fail", why=why, final=True)]

    def element(self, job: Job, kit: Kit, setting: Setting, state: str | None, place: float | None) -> Element:
        """Return the leaves with their rollers in a hole, the weakest without one; place: m from the centre line."""
        own = self.of(kit)
        left, right = (Helper(preload=own.preload(h), k=own.rate_n_per_m) for h in setting.get(HOLE, (1, 1)))
        return Element(name=KIT_ELEMENT, left=left, right=right, ratio=kit.ratio, y=place)

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return its holes."""
        return {HOLE: Span(low=1.0, high=float(len(self.of(kit).preloads_n)), step=1.0)}

    def sought(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Setting:
        """Return the holes whose height comes nearest to drops left and right (m). Raises VantokError where no preload gets there."""
        return self._alike(kit, self._preloads(model, kit, at({}), state, drop))

    def _alike(self, kit: Kit, preloads: Pair) -> Setting:
        """Return the one hole, alike on both sides, that comes nearest to two wanted preloads (N)."""
        hole = self.of(kit).nearest(0.5 * (preloads[0] + preloads[1]))
        return {HOLE: (hole, hole)}

    def _preloads(self, model: JobModel, kit: Kit, start: Vehicle, state: str, drop: Pair) -> Pair:
        """Return the preloads (N) that would bring a state to drops left and right (m) exactly."""
        own = self.of(kit)
        element = next(e for e in start.axle(kit.axle).elements if e.name == KIT_ELEMENT)

        def pressed(left: Any, right: Any) -> Vehicle:
            laws = [Helper(preload=p, k=own.rate_n_per_m) for p in (left, right)]
            changed = Element(name=element.name, left=laws[0], right=laws[1], ratio=element.ratio, y=element.y)
            return with_element(start, changed)

        states = [s for s in model.states.values() if s.name == state]
        most = 4.0 * own.preloads_n[-1] + 5000.0
        return solve_sides(start, states, KIT_ELEMENT, drop, "ground", pressed, (-most, most))

    def solve(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Solved:
        """Return the holes for the target; where it asks for less than the weakest or more than the strongest, that is said."""
        own, notes = self.of(kit), list[Say]()
        try:
            wanted = self._preloads(model, kit, at({}), state, drop)
        except VantokError:
            wanted = (own.preloads_n[-1], own.preloads_n[-1])
            notes.append(Say("No hole of this helper reaches the target; the strongest is shown."))
        if max(wanted) < 0.0:
            notes.append(Say("Its rate alone, without any preload, already lifts more than is wanted."))
        elif max(wanted) > own.preloads_n[-1]:
            values = {"most": Quantity(own.preloads_n[-1], "force")}
            notes.append(Say("The target asks for more than its strongest hole's {most} on the empty vehicle.", values))
        return Solved(setting=self._alike(kit, wanted), notes=tuple(notes))

    def gap_score(self, gaps: list[float]) -> float:
        """Return how free of the stops the vehicle stands (gaps: m): 30 mm and more is full marks."""
        return 1.0 if not gaps else held(min(gaps) / 0.03, 0.0, 1.0)

    def highest_force(self, kit: Kit) -> float:
        """Return its force in the strongest hole with the vehicle 100 mm down (N)."""
        own = self.of(kit)
        return own.preloads_n[-1] + 0.1 * own.rate_n_per_m

    def scaled(self, kit: Kit, strength: float) -> Kit:
        """Return a kit with rate and preloads scaled."""
        own = self.of(kit)
        told = {"rate_n_per_m": own.rate_n_per_m * strength, "preloads_n": [p * strength for p in own.preloads_n]}
        return kit.model_copy(update=told)

    def shown(self, kit: Kit) -> list[Shown]:
        """Return rate and number of holes."""
        own = self.of(kit)
        return [
            Shown(label="Rate of one leaf", values=quantities("rate", own.rate_n_per_m)),
            Shown(label="Holes", values=quantities("count", float(len(own.preloads_n)))),
        ]

    def table(self, kit: Kit) -> tuple[list[str], list[list[Quantity]]] | None:
        """Return the preload of one leaf by hole."""
        rows = [[*quantities("count", n + 1.0), *quantities("force", p)] for n, p in enumerate(self.of(kit).preloads_n)]
        return ["Preload of one leaf on the empty vehicle, by hole"], rows


FAMILY = HelperLeafFamily()
