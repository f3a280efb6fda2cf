"""The pressure card of a job as its page, its paper, the label and the report show it."""

from __future__ import annotations

from typing import Any

from vantok.desk.load import Desk
from vantok_core.base.errors import VantokError
from vantok_core.base.say import Quantity
from vantok_core.base.units import System
from vantok_core.judge.set.card_for import SHORT, job_card
from vantok_core.kits.pressure_card import Cell


def card_of(desk: Desk, units: System) -> dict[str, Any]:
    """Return the card in the driver's units, worked out once for a desk; or why there is none."""
    model, fitting = desk.worked.in_hand, desk.job.fitting
    if model is None or fitting is None:
        return {"problem": "There is no kit on the job, or its model cannot be made yet."}
    try:
        found = desk.kept(("card", units), lambda: job_card(model, fitting, units))
    except VantokError as error:
        return {"problem": str(error)}
    rows = [
        (Quantity(payload, "mass"), [_shown(cell) for cell in row])
        for payload, row in zip(found.payloads, found.cells, strict=True)
    ]
    return {"card": found, "tongues": [Quantity(t, "mass") for t in found.tongues], "rows": rows, "kit": fitting.kit}


def _shown(cell: Cell) -> dict[str, Any]:
    """Return a cell as it is shown: limits passed, the maximum, or pressures, one where both sides are alike."""
    if cell.over:
        return {"over": ", ".join(SHORT[name] for name in cell.over)}
    if cell.pressure is None:
        return {"beyond": True}
    left, right = cell.pressure
    sides = [Quantity(left, "pressure")] if left == right else [Quantity(left, "pressure"), Quantity(right, "pressure")]
    return {"sides": sides, "floor": any(cell.floor)}
