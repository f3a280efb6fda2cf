"""What the shop has learnt of its own closed jobs, with its error, the jobs behind it and a switch; and what that did to its predictions. For the lead."""

from __future__ import annotations

from collections.abc import Sequence
from math import exp
from typing import Any, ClassVar, cast

from django.contrib import messages
from django.db import transaction
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.views.generic import TemplateView

from vantok.desk.lessons import causes_proved
from vantok.drawing.foretold import foretold_svg
from vantok.fields.ids import identity
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.learnt.models import OFF, Foretold, Lesson
from vantok.records.shelf.models import KitRecord
from vantok_core.aims.complaints import COMPLAINT_WORDS, COMPLAINTS
from vantok_core.base.say import Quantity, Say
from vantok_core.base.units import System
from vantok_core.judge.diagnose.causes import ELSE, table
from vantok_core.rates.class_rate import SPREAD
from vantok_core.upkeep.foretold import Miss, by, drift, held, worst
from vantok_core.upkeep.learning import CLASS, HOURS, STRENGTH, Priors, Taught, cause_shares
from vantok_core.upkeep.lessons import class_said, kind_said, learn, outliers

KIND_OF = {"rate": "rate", "strength": "ratio", "hours": "hours"}
PRIORS: dict[str, Priors] = {"rate": CLASS, "strength": STRENGTH["maker"], "hours": HOURS}
WORDS = {"rate": "Springs, by class", "strength": "Kits’ strength", "hours": "Hours of a card"}
SHOWN = 25
"""Jobs behind a line that are shown, the latest."""
ALONE = {"rate": SPREAD}
"""ln-sigma of a figure that nobody of the shop has taught, where it is not its prior's two together."""

READ = ("kind", "key", "value", "sigma", "usual", "off", "job__number", "job__stage", "job__vehicle__label")
"""What the page shows of a lesson, its job and its vehicle: a shop has tens of thousands, and a whole job is long to read."""


class Lessons(TemplateView):
    """Rates, strengths, hours, causes; predicted against read."""

    template_name = "garage/lessons.html"
    rights: ClassVar[str] = "shop"
    seen_by: ClassVar[str] = "shop"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return all of it."""
        units = cast("System", cast("User", self.request.user).units)
        rows = list(Lesson.objects.filter(job__practice=False).select_related("job__vehicle").only(*READ))
        kits = dict(KitRecord.objects.values_list("code", "name"))
        parts = [
            {"kind": kind, "words": words, "keys": _keys([r for r in rows if r.kind == kind], kind, kits)}
            for kind, words in WORDS.items()
        ]
        told = _misses(kits, units)
        return super().get_context_data(
            parts=[part for part in parts if part["keys"]],
            causes=_causes(),
            told=held(told) if told else None,
            by_kit=by(told, lambda one: one.kit),
            by_class=by(told, lambda one: one.klass),
            drift=drift(told),
            worst=_found_later(worst(told)),
            svg=foretold_svg(told, units) if told else "",
            **kwargs,
        )

    def post(self, request: HttpRequest) -> HttpResponse:
        """Let a row, or all of a key, count or not."""
        told = request.POST
        rows = Lesson.objects.filter(job__practice=False)
        if told.get("action") == "row":
            rows = rows.filter(pk=identity(told.get("row")))
        else:
            rows = rows.filter(kind=told.get("kind", ""), key=told.get("key", ""))
        on = told.get("to") == "on"
        with transaction.atomic():
            changed = sum(_switched(row, on=on) for row in rows)
        if not changed:
            messages.error(request, "There is no such line. Nothing was changed.")
        return HttpResponseRedirect(f"{reverse('lessons')}#{told.get('kind', '')}")


def _found_later(told: Sequence[Miss]) -> list[dict[str, Any]]:
    """Return the worst with what was found later: the jobs they came back as, and their first finding."""
    rows = Job.objects.filter(came_back__number__in=[one.job for one in told]).select_related("came_back")
    later: dict[str, list[Job]] = {}
    for row in rows:
        if row.came_back is not None:
            later.setdefault(row.came_back.number, []).append(row)
    return [{"one": one, "later": later.get(one.job, [])} for one in told]


def _switched(row: Lesson, *, on: bool) -> int:
    row.off = "" if on else "lead"
    row.save(update_fields=["off"])
    return 1


def _keys(rows: Sequence[Lesson], kind: str, kits: dict[str, str]) -> list[dict[str, Any]]:
    """Return what is learnt of each key of a kind: with it, without it, and the jobs behind it."""
    found: dict[str, list[Lesson]] = {}
    for row in rows:
        found.setdefault(row.key, []).append(row)
    return [_key(key, own, kind, kits) for key, own in sorted(found.items())]


def _key(key: str, rows: list[Lesson], kind: str, kits: dict[str, str]) -> dict[str, Any]:
    prior, figure = PRIORS[kind], KIND_OF[kind]
    told = [row.to_core() for row in rows if not row.off]
    taught = learn(told, prior)
    alone = Taught(n=0, mu=0.0, tau=prior.spread, sigma_ln=ALONE.get(kind, (prior.offset**2 + prior.spread**2) ** 0.5))
    usual = sorted(row.usual for row in rows)[len(rows) // 2]
    odd = {(one.vehicle, one.value) for one in outliers(told, prior)}
    code, _, where = key.partition(" on ")
    return {
        "key": key,
        "words": Say(", ".join(filter(None, (kits[code], kind_said(where))))) if code in kits else class_said(key),
        "n": taught.n,
        "with": _band(taught, usual, figure) if taught.n else None,
        "without": _band(alone, usual, figure),
        "off": all(row.off for row in rows),
        "rows": [
            {
                "row": row,
                "value": Quantity(
                    usual * exp(row.value) if kind == "rate" else exp(row.value) * (row.usual or 1.0), figure
                ),
                "why": dict(OFF)[row.off],
                "odd": (str(row.job.vehicle_id), row.value) in odd,
            }
            for row in rows[-SHOWN:]
        ],
        "more": max(len(rows) - SHOWN, 0),
    }


def _band(taught: Taught, usual: float, figure: str) -> dict[str, Quantity]:
    """Return a figure with the band that holds two in three of the next ones."""
    centre = (usual or 1.0) * taught.factor
    low, high = taught.two_in_three(centre)
    return {"centre": Quantity(centre, figure), "low": Quantity(low, figure), "high": Quantity(high, figure)}


def _causes() -> list[dict[str, Any]]:
    """Return what was proved to be behind each complaint here, its share with it and without it."""
    found, known = [], table()["causes"]
    for complaint, cases in sorted(causes_proved().items()):
        if complaint not in COMPLAINTS:
            continue
        keys = [key for key in COMPLAINTS[complaint].causes if key in known]
        weights = {key: float(known[key]["usual"]) for key in keys} | {ELSE: float(table()[ELSE])}
        counted = {key: n for key, n in cases.items() if key in keys}
        shares, whole = cause_shares(weights, counted), sum(weights.values())
        rows = [
            {
                "words": known[key]["words"],
                "n": counted.get(key, 0),
                "with": shares[key][0],
                "without": weights[key] / whole,
            }
            for key in sorted(keys, key=lambda key: -shares[key][0])
        ]
        found.append({"words": COMPLAINT_WORDS[complaint], "n": sum(counted.values()), "rows": rows})
    return found


def _misses(kits: dict[str, str], units: System) -> list[Miss]:
    """Return every height foretold and read, in the order the jobs were closed."""
    rows = Foretold.objects.filter(job__practice=False).values_list(
        "read_m", "predicted_m", "band_m", "job__number", "code", "klass", "at"
    )
    return [
        Miss(
            miss=read - predicted,
            band=max(band, 1e-4),
            job=number,
            kit=kits.get(code, code),
            klass=class_said(klass).in_units(units) if klass else "",
            at=at.date(),
        )
        for read, predicted, band, number, code, klass, at in rows
    ]
