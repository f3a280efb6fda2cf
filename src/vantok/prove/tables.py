"""Predicted beside read, as tables."""

from __future__ import annotations

from typing import Any

from vantok.jobs.desk import Desk
from vantok.measure.models import PLACES


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
