"""Heights after fitting, predicted beside read."""

from __future__ import annotations

from typing import Any

from vantok.measure.views import Measure, Sheet
from vantok.prove.tables import proof_rows


class Prove(Measure):
    """The sheet after the kit is on, and the comparison."""

    stage = "prove"
    phase = "after"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the comparison."""
        context = super().get_context_data(**kwargs)
        return context | {
            "rows": Sheet(self.desk, "after", self.desk.datum).rows(), "datum": self.desk.datum, "proof": self.desk.proof,
            "tables": proof_rows(self.desk), "fitting": self.desk.job.fitting,
        }  # fmt: skip
