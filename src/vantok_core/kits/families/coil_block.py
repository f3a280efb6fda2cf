"""Blocks and inserts between the windings of a coil: some coils are taken out of action, rigidly or across rubber, so the rest is stiffer.

Put in at ride height, empty: nothing is lifted there, and less is lost under load. Source: method section 4.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

from pydantic import Field

from vantok_core.base.say import Quantity, Say
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
    """Coils it takes out of action; the rate of what lies between them (N/m; none: rigid); the gap between windings it goes into (m)."""

    blocked_coils: Annotated[float, Field(gt=0.0, le=6.0)]
    insert_rate_n_per_m: Positive | None = None
    gap_min_m: Gap
    gap_max_m: Gap


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
    debates = ("block_or_camber",)

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether the gap takes it, and coils enough stay free."""
        own = self.of(kit)
        return [
            size_check(job, kit, "coil_gap_m", own.gap_min_m, own.gap_max_m),
            size_check(job, kit, "coils", own.blocked_coils + LEAST_LEFT, 20.0),
        ]

    def change(self, job: Job, kit: Kit, setting: Setting) -> CoilBlock:
        """Return the coils out of action, of those counted, else of a usual number."""
        own = self.of(kit)
        coils = _coils(job, kit) or ASSUMED_COILS
        active = max(coils, own.blocked_coils + LEAST_LEFT)
        return CoilBlock(active=active, blocked=own.blocked_coils, insert_rate=own.insert_rate_n_per_m)

    def does(self, model: JobModel, kit: Kit, setting: Setting, state: str) -> list[Say]:
        """Return that the coils were not counted, where they were not."""
        if _coils(model.job, kit) is not None:
            return []
        return [Say("Its coils are not counted: {n} are taken.", {"n": Quantity(ASSUMED_COILS, "count")})]

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
        return [*found, Shown(label="Gap between windings", values=quantities("length", own.gap_min_m, own.gap_max_m))]


def _coils(job: Job, kit: Kit) -> float | None:
    return job.vehicle.sizes.get("front_coils" if kit.axle == "front" else "rear_coils")


FAMILY = CoilBlockFamily()
