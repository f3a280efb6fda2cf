"""Replacement packs and coils: a new main spring a side, of its own rate and free height; nothing to set.

Source: method section 4.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

from pydantic import Field

from vantok_core.facts import Job, Kit
from vantok_core.facts.classes import is_tapered
from vantok_core.facts.parts import NotNegative, Positive
from vantok_core.kits.checks import FitCheck, size_check, width_checks
from vantok_core.kits.family import Data, Setting, Shown, Span, SpringFamily, quantities
from vantok_core.physics.vehicle import Replacement

LEAVES = ("leaf_solid", "two_stage_leaf_solid", "parabolic_solid")


class ReplacementData(Data):
    """One spring's rate (N/m) and the load it carries at the old one's height on the empty vehicle (N); a second stage's rate (N/m) and where it
    begins below that height (m); leaf widths it goes with (m); width of its eye (m); strut: whether the coil stands on a strut."""

    rate_n_per_m: Positive
    load_at_height_n: Positive
    second_rate_n_per_m: NotNegative = 0.0
    second_at_m: Annotated[float, Field(ge=-0.3, le=0.5)] = 0.05
    width_min_m: Positive = 0.03
    width_max_m: Positive = 0.15
    bush_m: Positive | None = None
    strut: bool = False


class ReplacementFamily(SpringFamily[ReplacementData]):
    """A new spring a side."""

    key = "replacement_spring"
    words, many = "replacement pack or coil", "replacement packs and coils"
    data = ReplacementData
    settings = ()
    stands = "At the wheel"
    at_setting = (
        "The main spring comes out: axle and frame each on stands, wheels chocked, brake hose and cables watched as the axle goes down; coils only "
        "with a spring compressor in good order. Bushes are tightened at ride height."
    )
    care = (
        "New springs settle in the first weeks: have the heights read again, the axle bolts drawn up, and headlamps and alignment looked at.",
    )
    range_served = 0.5
    work = "spring"
    drawn = "main spring"
    debates = ("helper_or_new", "block_or_camber")

    def construction(self, kit: Kit) -> str:
        """Return a pack of leaves, a coil, or the coil of a strut."""
        if any(spring in LEAVES or is_tapered(spring) for spring in kit.springs):
            return "leaf_pack"
        return "strut" if self.of(kit).strut else "coil_change"

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether a pack is as wide as the old one, and its eyes as wide as their bushes and brackets."""
        own, spring = self.of(kit), job.vehicle.front_spring if kit.axle == "front" else job.vehicle.rear_spring
        if spring not in LEAVES:
            return []
        return [
            size_check(job, kit, "leaf_width_m", own.width_min_m, own.width_max_m),
            *width_checks(job, kit, own.bush_m),
        ]

    def change(self, job: Job, kit: Kit, setting: Setting) -> Replacement:
        """Return the new spring, compressed at the old height by what it carries there."""
        own = self.of(kit)
        return Replacement(
            k=own.rate_n_per_m,
            c_ref=own.load_at_height_n / own.rate_n_per_m,
            k2=own.second_rate_n_per_m,
            z2=own.second_at_m,
        )

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return nothing: it is not set."""
        return {}

    def highest_force(self, kit: Kit) -> float:
        """Return its force with the vehicle 100 mm down (N)."""
        own = self.of(kit)
        return own.load_at_height_n + 0.1 * own.rate_n_per_m

    def scaled(self, kit: Kit, strength: float) -> Kit:
        """Return a kit with its rates and load scaled."""
        own = self.of(kit)
        told = {n: getattr(own, n) * strength for n in ("rate_n_per_m", "load_at_height_n", "second_rate_n_per_m")}
        return kit.model_copy(update=told)

    def shown(self, kit: Kit) -> list[Shown]:
        """Return rates and load."""
        own = self.of(kit)
        found = [
            Shown(label="Rate of one spring", values=quantities("rate", own.rate_n_per_m)),
            Shown(label="Load at the old height, empty", values=quantities("force", own.load_at_height_n)),
        ]
        if own.second_rate_n_per_m > 0.0:
            second = Shown(label="Second stage adds", values=quantities("rate", own.second_rate_n_per_m))
            found += [second, Shown(label="It begins further down by", values=quantities("length", own.second_at_m))]
        return found


FAMILY = ReplacementFamily()
