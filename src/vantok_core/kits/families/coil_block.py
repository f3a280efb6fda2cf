"""Blocks and inserts between the windings of a coil: some coils are taken out of action, rigidly or across rubber, so the rest is stiffer.

Put in with the coil let down: it lifts by what it then holds open at ride height, and loses less under load. Source: method section 4.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

from pydantic import Field

from vantok_core.base.say import Quantity, Say, length
from vantok_core.facts import Job, Kit
from vantok_core.facts.parts import Positive
from vantok_core.kits.checks import FitCheck, size_check
from vantok_core.kits.family import Data, Setting, Shown, Span, SpringFamily, quantities
from vantok_core.model import JobModel
from vantok_core.physics.vehicle import CoilBlock

Gap = Annotated[float, Field(gt=0.0, le=0.2)]
ASSUMED_COILS = 7.0
"""Active coils taken until they are counted."""
LEAST_LEFT = 1.0
"""Coils that must stay free."""


class CoilBlockData(Data):
    """Coils it takes out of action; the rate of what lies between them (N/m; none: rigid); the gap between windings at ride height that it is made for
    (m); how wide it holds that gap open (m; none: its maker does not say)."""

    blocked_coils: Annotated[float, Field(gt=0.0, le=6.0)]
    insert_rate_n_per_m: Positive | None = None
    gap_min_m: Gap
    gap_max_m: Gap
    holds_m: Gap | None = None


class CoilBlockFamily(SpringFamily[CoilBlockData]):
    """A block or insert in each coil."""

    key = "coil_block"
    words, many = "coil block or insert", "coil blocks and inserts"
    data = CoilBlockData
    settings = ()
    stands = "At the wheel"
    at_setting = (
        "Never spread a coil with a lever under load: let the axle hang on stands until the windings part by themselves. The same winding on "
        "both sides."
    )
    care = (
        "Look after the first short distance, and once a year, that each sits in its winding; a coil must never close on it in full bump.",
    )
    range_served = 0.3
    work = "spring"
    drawn = "between windings"
    debates = ("block_or_camber",)

    def construction(self, kit: Kit) -> str:
        """Return a block between windings."""
        return "winding_block"

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether the gap takes it, and coils enough stay free."""
        own = self.of(kit)
        return [
            size_check(job, kit, "coil_gap_m", own.gap_min_m, own.gap_max_m),
            size_check(job, kit, "coils", own.blocked_coils + LEAST_LEFT, 20.0),
        ]

    def change(self, job: Job, kit: Kit, setting: Setting) -> CoilBlock:
        """Return the coils out of action, of those counted, else of a usual number; put in where the coil, let down, opens as wide as it holds."""
        own = self.of(kit)
        coils = _coils(job, kit) or ASSUMED_COILS
        active = max(coils, own.blocked_coils + LEAST_LEFT)
        z_fit = active * (_gap(job, kit, own) - own.holds_m) if own.holds_m is not None else 0.0
        return CoilBlock(active=active, blocked=own.blocked_coils, insert_rate=own.insert_rate_n_per_m, z_fit=z_fit)

    def does(self, model: JobModel, kit: Kit, setting: Setting, state: str) -> list[Say]:
        """Return what it holds open, or that this is not known; that the coils were not counted, where they were not."""
        own, job = self.of(kit), model.job
        counted = Say("Its coils are not counted: {n} are taken.", {"n": Quantity(ASSUMED_COILS, "count")})
        return [_held_open(own, _read_gap(job, kit)), *([counted] if _coils(job, kit) is None else [])]

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return nothing: it is not set."""
        return {}

    def highest_force(self, kit: Kit) -> float:
        """Return nought: it carries through the coil, and has no load of its own."""
        return 0.0

    def scaled(self, kit: Kit, strength: float) -> Kit:
        """Return a kit that takes so many times the coils out of action."""
        return kit.model_copy(update={"blocked_coils": min(self.of(kit).blocked_coils * strength, 6.0)})

    def shown(self, kit: Kit) -> list[Shown]:
        """Return coils, rate between them and gap."""
        own = self.of(kit)
        found = [Shown(label="Coils out of action", values=quantities("count", own.blocked_coils))]
        if own.insert_rate_n_per_m is not None:
            found.append(Shown(label="Rate between them", values=quantities("rate", own.insert_rate_n_per_m)))
        if own.holds_m is not None:
            found.append(Shown(label="Holds the windings apart", values=quantities("length", own.holds_m)))
        return [*found, Shown(label="Gap between windings", values=quantities("length", own.gap_min_m, own.gap_max_m))]


def _held_open(own: CoilBlockData, gap: float | None) -> Say:
    if own.holds_m is None:
        return Say(
            "Its maker does not say how wide it holds the windings: what it lifts at ride height is taken as nothing."
        )
    values = {"holds": length(own.holds_m)}
    if gap is None:
        return Say(
            "It holds the windings {holds} apart. Read the gap where it goes: until then it is taken to lift nothing.",
            values,
        )
    text = (
        "It holds the windings {holds} apart, which stand {gap} apart at ride height: it goes in with the coil let down"
    )
    lifts = ", and lifts by what it holds open." if own.holds_m > gap else ", and lifts nothing there."
    return Say(text + lifts, values | {"gap": length(gap)})


def _gap(job: Job, kit: Kit, own: CoilBlockData) -> float:
    """Return the gap between windings (m), never wider than it holds: until it is read, as wide."""
    gap = _read_gap(job, kit)
    assert own.holds_m is not None
    return own.holds_m if gap is None else min(gap, own.holds_m)


def _read_gap(job: Job, kit: Kit) -> float | None:
    return job.vehicle.sizes.get("front_coil_gap_m" if kit.axle == "front" else "rear_coil_gap_m")


def _coils(job: Job, kit: Kit) -> float | None:
    return job.vehicle.sizes.get("front_coils" if kit.axle == "front" else "rear_coils")


FAMILY = CoilBlockFamily()
