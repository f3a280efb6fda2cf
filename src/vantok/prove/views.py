"""Heights after fitting, predicted beside read."""

from __future__ import annotations

from typing import Any

from vantok.jobs.desk import Desk
from vantok.measure.models import PLACES
from vantok.measure.views import Measure, Sheet


def proof_rows(desk: Desk) -> list[dict[str, Any]]:
    """Return a table a state: predicted, read, difference, inside or not."""
    proof = desk.proof
    if proof is None:
        return []
    names = {s.key: s.name for s in desk.job.states}
    words = dict(PLACES)
    return [
        {"name": names[key], "rows": [{"row": row, "words": words[row.corner]} for row in rows]}
        for key, rows in proof.rows.items()
        if rows
    ]


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
