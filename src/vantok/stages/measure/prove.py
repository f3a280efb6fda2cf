"""Heights after fitting, predicted beside read."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse

from vantok.desk.parts import lazy_parts
from vantok.desk.proof_tables import cause_rows, effect_rows, proof_rows
from vantok.desk.proving import by_drive_alone, ways
from vantok.people.acts import act
from vantok.records.measure.models import DATUMS
from vantok.stages.measure.causes import rule_out
from vantok.stages.measure.pages import Measure
from vantok.stages.measure.sheet import Sheet
from vantok_core.base.names import ARCHES
from vantok_core.judge.prove.after_causes import CAUSES
from vantok_core.kits.already import fitted_effects

OF_POINTS = ("ground_hitch", "ground_point")
"""The datums of points away from the arches."""


class Prove(Measure):
    """The sheet after the kit is on, and the comparison."""

    stage = "prove"
    phase = "after"

    @property
    def datum(self) -> str:
        """The datum the job is read on: before and after are never compared on two."""
        return self.desk.datum

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the comparison."""
        context = super().get_context_data(**kwargs)
        return context | {
            "drive_alone": by_drive_alone(self.desk.job),
            "ways": ways(self.desk.job, "prove"),
            "proof": self.desk.proof,
            "points_read": self._points(),
            "arches_read": any(r.datum in ARCHES for r in self.desk.job.readings),
            "effects": effect_rows(fitted_effects(self.desk.job)),
            "parts": lazy_parts(self.desk) if self.desk.job.earlier else (),
            "tables": proof_rows(self.desk),
            "causes": cause_rows(self.desk),
            "fitting": self.desk.job.fitting,
        }

    def _points(self) -> list[dict[str, Any]]:
        """Return the same points again: the cells of what was read before at the hitch and at named points."""
        read = {r.datum for r in self.desk.job.readings if r.phase == "before"}
        sheets = [Sheet(self.desk, self.phase, datum, units=self.units) for datum in OF_POINTS if datum in read]
        words = dict(DATUMS)
        return [{"words": words[one.datum], "places": one.places, "rows": one.rows()} for one in sheets]

    @act("set", "rule-out")
    def _rule_out(self) -> HttpResponse:
        """Note which causes of a missed height were ruled out."""
        known = {cause.key for cause in CAUSES}
        with self.change() as record:
            rule_out(record, [key for key in self.request.POST.getlist("cause") if key in known])
        return self.back()
