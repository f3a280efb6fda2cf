"""What the shop's jobs taught of its kits, by kind of vehicle, as the next vehicle of that kind uses it."""

from __future__ import annotations

from typing import Any

from vantok.records.choose.models import kind_of
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import PatternRecord
from vantok_core.facts import Kit
from vantok_core.kits.registry import read_kit
from vantok_core.upkeep.patterns import DoneBefore, as_seen


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


def seen_here(vehicle: Vehicle, kits: list[Kit]) -> list[Kit]:
    """Return kits with their strength as it was read on vehicles of this kind here, where at least five tell."""
    if not PatternRecord.objects.exists():
        return kits
    kept = rows_of()
    return [as_seen(kit, kept.get((kit.code, kind_of(vehicle, kit)), ())) for kit in kits]


def entry_seen_here(vehicle: Vehicle, entry: dict[str, Any]) -> dict[str, Any]:
    """Return a catalogue entry as `seen_here` has its kit."""
    kit = read_kit(entry)
    seen = seen_here(vehicle, [kit])[0]
    return entry if seen is kit else seen.model_dump(mode="json", exclude_none=True)
