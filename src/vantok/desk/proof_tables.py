"""Predicted beside read, as tables."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from vantok.desk.load import Desk
from vantok.records.measure.models import PLACES
from vantok_core.base.names import DATUMS as DATUM_WORDS
from vantok_core.facts import Job
from vantok_core.judge.prove.after_causes import KIT_CAUSE
from vantok_core.judge.prove.proof import Proof
from vantok_core.kits.already import Effect


def cause_rows(desk: Desk) -> list[dict[str, Any]]:
    """Return the causes of a miss in their order: whether each can be ticked off, is, or is answered by reading twice."""
    proof, fitting = desk.proof, desk.job.fitting
    if proof is None or fitting is None:
        return []
    return [
        {
            "cause": one.cause,
            "tick": one.cause is not KIT_CAUSE,
            "ticked": one.cause.key in fitting.ruled_out,
            "answered": one.cause is not KIT_CAUSE and one.cause not in proof.open,
            "tenths": max(round(10 * one.share), 0),
        }
        for one in proof.causes
    ]


def proof_rows(desk: Desk) -> list[dict[str, Any]]:
    """Return a table a state for the kit in hand: predicted, read, difference, inside or not."""
    return proof_tables(desk.job, desk.proof)


def proof_tables(job: Job, proof: Proof | None) -> list[dict[str, Any]]:
    """Return a table a state of a proof."""
    if proof is None:
        return []
    names = {s.key: s.name for s in job.states}
    words = dict(PLACES)
    tables: dict[str, list[dict[str, Any]]] = {}
    for key, rows in proof.rows.items():
        tables[key] = [{"row": row, "words": words[row.corner]} for row in rows]
    for point in proof.points:
        tables.setdefault(point.state, []).append({"row": point, "words": point.name})
    return [{"name": names[key], "rows": rows} for key, rows in tables.items() if rows]


def effect_rows(found: Sequence[Effect]) -> list[dict[str, Any]]:
    """Return what a kit was read to do, a row a place."""
    return [
        {
            "state": e.state,
            "place": e.place,
            "words": DATUM_WORDS[e.datum].words,
            "off": e.off,
            "on": e.on,
            "lift": e.lift.lift,
            "band": e.lift.band,
            "told": e.lift.told,
        }
        for e in found
    ]
