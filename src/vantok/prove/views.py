"""Heights after fitting, predicted beside read."""

from __future__ import annotations

from typing import Any

from vantok.measure.views import Measure
from vantok.prove.tables import proof_rows


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
            "proof": self.desk.proof,
            "tables": proof_rows(self.desk), "fitting": self.desk.job.fitting,
        }  # fmt: skip
