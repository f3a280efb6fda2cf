"""What the shop's jobs of a kit have in common, by kind of vehicle."""

from __future__ import annotations

from vantok.records.jobs.models import Job
from vantok.records.shelf.models import PatternRecord
from vantok_core.upkeep.patterns import DoneBefore


def rows_of(code: str = "", kind: str = "") -> dict[tuple[str, str], list[DoneBefore]]:
    """Return what was kept, by kit and kind; of one kit, or of one kind, where asked. Two queries, however many."""
    found = PatternRecord.objects.all()
    found = found.filter(code=code) if code else found
    found = found.filter(kind=kind) if kind else found
    came_back = (
        set(Job.objects.filter(came_back__isnull=False).values_list("came_back_id", flat=True)) if found else set()
    )
    kept: dict[tuple[str, str], list[DoneBefore]] = {}
    for row in found:
        told = row.told | {
            "setting": {n: tuple(p) for n, p in row.told.get("setting", {}).items()},
            "trouble": tuple(row.told.get("trouble", ())),
        }
        kept.setdefault((row.code, row.kind), []).append(
            DoneBefore(**told, came_back=row.job_id in came_back, outcome=row.outcome)
        )
    return kept
