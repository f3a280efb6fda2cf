"""Added leaves: a leaf more in the pack a side, with a free arch beyond the pack's; nothing to set.

Source: method section 4.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

from pydantic import Field

from vantok_core.base.say import Say
from vantok_core.facts import Job, Kit
from vantok_core.facts.classes import is_tapered
from vantok_core.facts.parts import Positive
from vantok_core.kits.checks import FitCheck, size_check
from vantok_core.kits.family import (
    KIT_ELEMENT,
    OF_HEIGHT,
    AlikeFamily,
    Data,
    ElementFamily,
    Setting,
    Shown,
    Span,
    quantities,
)
from vantok_core.physics.elements.laws import AddedLeaf
from vantok_core.physics.vehicle import Element

Width = Annotated[float, Field(gt=0.0, le=0.3)]


class AddedLeafData(Data):
    """One leaf's rate (N/m); its free arch beyond the pack's on the empty vehicle (m); leaf widths it goes with (m)."""

    rate_n_per_m: Positive
    arch_m: Annotated[float, Field(ge=-0.1, le=0.4)]
    width_min_m: Width = 0.04
    width_max_m: Width = 0.12


class AddedLeafFamily(AlikeFamily[AddedLeafData], ElementFamily[AddedLeafData]):
    """A leaf a side, inside the pack."""

    key = "added_leaf"
    words, many = "added leaf", "added leaves"
    answers = (*OF_HEIGHT, "windup")
    data = AddedLeafData
    settings = ()
    stands = "At the wheel"
    at_setting = (
        "A pack under its bolt is loaded: clamp it before the centre bolt comes out. Frame on stands, wheels chocked, axle held. New axle bolts, "
        "tightened at ride height to the maker's torque."
    )
    care = ("Have the axle bolts drawn up again after the first short distance; the leaf settles in the first weeks.",)
    range_served = 0.3
    bench = "leaf"
    work = "spring"
    drawn = "leaf below"
    debates = ("helper_or_new",)

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether the pack is as wide as the leaf; onto tapered leaves none goes, whatever its list says."""
        own = self.of(kit)
        spring = job.vehicle.front_spring if kit.axle == "front" else job.vehicle.rear_spring
        if is_tapered(spring):
            why = Say(
                "A tapered leaf takes no added leaf: replace the spring, fit a floating helper that is listed for it, or have a pack made."
            )
            return [FitCheck(key="pack", words="a pack of several leaves", status="fail", why=why, final=True)]
        return [size_check(job, kit, "leaf_width_m", own.width_min_m, own.width_max_m)]

    def element(self, job: Job, kit: Kit, setting: Setting, state: str | None, place: float | None) -> Element:
        """Return the leaves; place: m from the centre line."""
        own = self.of(kit)
        law = AddedLeaf(k=own.rate_n_per_m, arch=own.arch_m)
        return Element(name=KIT_ELEMENT, left=law, right=law, ratio=kit.ratio, y=place)

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return nothing: a leaf is not set."""
        return {}

    def highest_force(self, kit: Kit) -> float:
        """Return its force with the vehicle 100 mm down (N)."""
        own = self.of(kit)
        return own.rate_n_per_m * max(own.arch_m + 0.1, 0.0)

    def scaled(self, kit: Kit, strength: float) -> Kit:
        """Return a kit with its rate scaled."""
        return kit.model_copy(update={"rate_n_per_m": self.of(kit).rate_n_per_m * strength})

    def shown(self, kit: Kit) -> list[Shown]:
        """Return rate, arch and widths."""
        own = self.of(kit)
        return [
            Shown(label="Rate of one leaf", values=quantities("rate", own.rate_n_per_m)),
            Shown(label="Free arch beyond the pack's", values=quantities("length", own.arch_m)),
            Shown(
                label="Leaf width, narrowest and widest", values=quantities("length", own.width_min_m, own.width_max_m)
            ),
        ]


FAMILY = AddedLeafFamily()
