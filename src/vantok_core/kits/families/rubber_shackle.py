"""Rubber-torsion shackles: a soft joint in series with the leaf, for the empty ride; under load it gives a little more.

Source: method section 4.
"""

from __future__ import annotations

from collections.abc import Mapping

from vantok_core.base.say import Say
from vantok_core.facts import Job, Kit
from vantok_core.facts.parts import Positive
from vantok_core.kits.checks import FitCheck, width_checks
from vantok_core.kits.family import Data, Setting, Shown, Span, SpringFamily, quantities
from vantok_core.model import JobModel
from vantok_core.physics.vehicle import Shackle


class ShackleData(Data):
    """One shackle's rate, as the leaf feels it (N/m); width of its eye (m)."""

    rate_n_per_m: Positive
    bush_m: Positive | None = None


class ShackleFamily(SpringFamily[ShackleData]):
    """A shackle a side."""

    key = "rubber_shackle"
    words, many = "rubber-torsion shackle", "rubber-torsion shackles"
    answers = ("ride",)
    data = ShackleData
    settings = ()
    stands = "At the wheel"
    at_setting = "The leaf's end is free while the shackle is off: axle and frame each on stands, the leaf held. Which end forward is on the maker's sheet."
    care = (
        "Look at the rubber once a year for cracks, and that the shackle stands at the maker's angle under the usual load.",
    )
    range_served = 0.2
    bench = "leaf"
    work = "spring"
    drawn = "shackle"
    debates = ("helper_or_new",)

    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return whether its eye is as wide as the old bush and goes into the bracket."""
        return width_checks(job, kit, self.of(kit).bush_m)

    def change(self, job: Job, kit: Kit, setting: Setting) -> Shackle:
        """Return the joint in series."""
        return Shackle(k_s=self.of(kit).rate_n_per_m)

    def does(self, model: JobModel, kit: Kit, setting: Setting, state: str) -> list[Say]:
        """Return what it is for."""
        return [
            Say(
                "It is for the empty ride, which it makes softer; it lifts nothing, and under load it gives a little more."
            )
        ]

    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return nothing: it is not set."""
        return {}

    def highest_force(self, kit: Kit) -> float:
        """Return nought: it carries what the leaf carries."""
        return 0.0

    def scaled(self, kit: Kit, strength: float) -> Kit:
        """Return a kit with its rate scaled."""
        return kit.model_copy(update={"rate_n_per_m": self.of(kit).rate_n_per_m * strength})

    def shown(self, kit: Kit) -> list[Shown]:
        """Return its rate."""
        return [Shown(label="Rate of one shackle", values=quantities("rate", self.of(kit).rate_n_per_m))]


FAMILY = ShackleFamily()
