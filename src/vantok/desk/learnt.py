"""What a job taught of its kit, written at hand-over for the next vehicle of that kind."""

from __future__ import annotations

from typing import Any

from vantok.desk.load import Desk
from vantok.records.choose.models import kind_of
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import PatternRecord
from vantok_core.judge.prove.proof import Compared
from vantok_core.kits.fit import all_checks
from vantok_core.kits.target import target_state
from vantok_core.physics.vehicle import AXLE_CORNERS


def keep_pattern(record: Job, desk: Desk) -> None:
    """Keep what a job that is handed over taught of its kit; of an earlier hand-over it takes the place. Nothing of the customer is kept."""
    PatternRecord.objects.filter(job=record).delete()
    told, fitting = _of_job(desk), desk.job.fitting
    if told is None or fitting is None:
        return
    PatternRecord.objects.create(
        job=record, code=fitting.kit.code, kind=kind_of(record.vehicle, fitting.kit), told=told
    )


def _of_job(desk: Desk) -> dict[str, Any] | None:
    """Return what a job teaches of the kit in hand; None where its heights were not read at this setting, or another kit is on beside it."""
    fitting, proof = desk.job.fitting, desk.proof
    both = _read(desk)
    if fitting is None or proof is None or both is None or len(desk.job.parts) != 1:
        return None
    card = desk.cards[-1]
    trouble = [c.words for c in all_checks(desk.job, fitting.kit) if c.status == "fail"]
    trouble += [s.words for s, _ in card.deviations]
    seen = fitting.kit.seen.ratio if fitting.kit.seen else 1.0
    return {
        "gain": sum(_gain(row, row.read) for row in both) / 2.0,
        "predicted": sum(_gain(row, row.predicted.value) for row in both) / 2.0 / seen,
        "setting": {name: list(pair) for name, pair in fitting.setting.items()},
        "hours": None if card.took_in_all is None else card.took_in_all / 60.0,
        "missed": proof.inside is False,
        "trouble": trouble[:10],
    }


def _read(desk: Desk) -> list[Compared] | None:
    """Return both sides of the kit's axle in the judged state, where both were read before and with it; else nothing."""
    model, fitting, proof = desk.worked.in_hand, desk.job.fitting, desk.proof
    if model is None or fitting is None or proof is None:
        return None
    rows = {row.corner: row for row in proof.rows.get(target_state(model), ())}
    found = [rows[c] for c in AXLE_CORNERS["front" if fitting.kit.axle == "front" else "rear"] if c in rows]
    return found if len(found) == 2 and all(row.read is not None and row.before is not None for row in found) else None


def _gain(row: Compared, height: float | None) -> float:
    return (height or 0.0) - (row.before or 0.0)
