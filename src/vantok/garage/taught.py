"""What the shop's jobs taught, kit by kit and kind by kind; what they cost against what was quoted; the fleet as a file."""

from __future__ import annotations

import csv
from collections.abc import Iterable
from io import StringIO
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.views import View
from django.views.generic import TemplateView

from vantok.desk.lessons import key_of, teaching
from vantok.desk.load import Desk
from vantok.desk.patterns import rows_of
from vantok.fields.files import csv_answer
from vantok.records.garage.models import Vehicle
from vantok.records.handover.models import Recall
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import KitRecord
from vantok_core.base.say import Quantity
from vantok_core.facts import Proving
from vantok_core.files.plan_csv import as_text
from vantok_core.judge.choose.offer import offer
from vantok_core.judge.prove.driving import CATEGORIES, changes
from vantok_core.kits.registry import family_of
from vantok_core.upkeep.lessons import as_learnt, kind_said
from vantok_core.upkeep.patterns import pattern

LATEST = 60
"""Jobs whose cost is looked at, the latest first."""
COLUMNS = (
    "vehicle",
    "customer",
    "plate",
    "vin",
    "body",
    "wheelbase_m",
    "gross_kg",
    "front_spring",
    "rear_spring",
    "jobs",
    "last_job",
    "last_opened",
    "last_sentence",
    "next_due",
    "due_what",
)


class Taught(TemplateView):
    """Patterns by kit and kind of vehicle; quoted against true; come-backs."""

    template_name = "garage/taught.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add them."""
        kits = {record.code: record.to_core() for record in KitRecord.objects.all()}
        rows, told = [], teaching("strength")
        for (code, kind), done in sorted(rows_of().items()):
            found, kit = pattern(done), kits.get(code)
            if found is not None and kit is not None:
                words = {f.name: (f.words, f.kind) for f in family_of(kit).settings}
                setting = [(words[n][0], Quantity(v, words[n][1])) for n, v in found.setting.items() if n in words]
                seen = as_learnt(kit, told.get(key_of(code, kind), ())).seen
                rows.append({"kit": kit, "kind": kind_said(kind), "found": found, "setting": setting, "seen": seen})
        return super().get_context_data(rows=rows, costs=costs(), felt=felt(), **kwargs)


def felt() -> list[dict[str, Any]]:
    """Return how often what was felt on a drive went as the model had foreseen it, by category, over every job driven before and after."""
    counts: dict[str, list[int]] = {}
    for told in Job.objects.exclude(proving={}).values_list("proving", flat=True):
        for change in changes(Proving.model_validate(told).drives):
            if change.foreseen is not None and not change.told:
                row = counts.setdefault(change.category, [0, 0])
                row[0] += change.went == change.foreseen
                row[1] += 1
    return [{"words": CATEGORIES[key][1], "right": right, "of": of} for key, (right, of) in counts.items()]


def costs() -> list[dict[str, Any]]:
    """Return the quote of each of the latest jobs against hours worked, and what came back of it, under warranty told apart."""
    found = []
    for job in (
        Job.objects.exclude(quote={})
        .select_related("vehicle")
        .prefetch_related("come_backs")
        .order_by("-opened")[:LATEST]
    ):
        desk = Desk.look(job.pk)
        if desk.job.quote is None:
            continue
        told = offer(desk.job.quote)
        hours, open_ = worked(desk)
        backs = [(one, worked(Desk.look(one.pk))[0]) for one in job.come_backs.all()]
        found.append(
            {
                "job": job,
                "quoted": told.sums.hours,
                "worked": hours,
                "under_way": open_,
                "sums": told.sums,
                "more": None if hours is None else hours - told.sums.hours,
                "open": len(told.open),
                "backs": [{"job": one, "hours": h} for one, h in backs],
                "answer": desk.job.quote.answer,
                "warranty": _sum(h for one, h in backs if one.warranty),
                "paid": _sum(h for one, h in backs if not one.warranty),
            }
        )
    return found


def worked(desk: Desk) -> tuple[float | None, bool]:
    """Return the hours of hands on a job's cards, None where one is unfinished or untimed, and whether one is begun and not finished."""
    taken = [card.took_in_all for card in desk.cards]
    known = [minutes for minutes in taken if minutes is not None]
    hours = sum(known) / 60.0 if known and len(known) == len(taken) else None
    return hours, any(card.open and card.marks for card in desk.cards)


def _sum(hours: Iterable[float | None]) -> float | None:
    """Return the sum of what is known; None where nothing is."""
    known = [one for one in hours if one is not None]
    return sum(known) if known else None


class FleetCsv(View):
    """Every vehicle with its last job and what is due next."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """Send it."""
        jobs: dict[int, list[Job]] = {}
        for job in Job.objects.order_by("opened").only("vehicle", "number", "opened", "verdict"):
            jobs.setdefault(job.vehicle_id, []).append(job)
        due: dict[int, Recall] = {}
        for recall in Recall.objects.filter(state="open").select_related("job").order_by("-due"):
            due[recall.job.vehicle_id] = recall
        out = StringIO()
        writer = csv.DictWriter(out, COLUMNS, lineterminator="\r\n")
        writer.writeheader()
        for vehicle in Vehicle.objects.select_related("customer").order_by("customer__name", "label"):
            writer.writerow(as_text(_row(vehicle, jobs.get(vehicle.pk, []), due.get(vehicle.pk))))
        return csv_answer(out.getvalue(), "fleet")


def _row(vehicle: Vehicle, jobs: list[Job], recall: Recall | None) -> dict[str, Any]:
    last = jobs[-1] if jobs else None
    facts = {
        name: getattr(vehicle, name)
        for name in ("plate", "vin", "body", "wheelbase_m", "gross_kg", "front_spring", "rear_spring")
    }
    return {name: "" if value is None else value for name, value in facts.items()} | {
        "vehicle": vehicle.label,
        "customer": vehicle.customer.name,
        "jobs": len(jobs),
        "last_job": last.number if last else "",
        "last_opened": last.opened.date().isoformat() if last else "",
        "last_sentence": last.verdict if last else "",
        "next_due": (recall.until or recall.due).isoformat() if recall else "",
        "due_what": recall.words if recall else "",
    }
