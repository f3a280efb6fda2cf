"""The kit shelf: what is on it, what fits a vehicle, kits in and out as files, kits no longer offered."""

from __future__ import annotations

from typing import Any, ClassVar, cast

from django.contrib import messages
from django.db import transaction
from django.db.models import Max
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone
from django.utils.functional import SimpleLazyObject
from django.views import View
from django.views.generic import DetailView, TemplateView

from vantok.desk.load import Desk
from vantok.drawing.families import family_svg
from vantok.fields.files import csv_answer, text_of
from vantok.fields.finding import job_named, not_one
from vantok.people.acts import Acting, act
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import KitRecord
from vantok.shelf.editor import plots
from vantok_core.base.errors import VantokError
from vantok_core.base.units import System
from vantok_core.facts import Kit
from vantok_core.facts.classes import SPRINGS
from vantok_core.files.kits_file import FLAT, KitsRefusedError, read_kits, read_kits_csv, write_kits, write_kits_csv
from vantok_core.kits.fit import all_checks
from vantok_core.kits.registry import FAMILIES, family_of
from vantok_core.procedure.templates import steps_of


class Shelf(TemplateView):
    """All kits, or those of a family, of an axle, those that fit the vehicle of a job; kits no longer offered on request."""

    template_name = "shelf/list.html"
    rights: ClassVar[str] = "shelf"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return the kits as the core reads them, and how they are filtered."""
        asked = {name: self.request.GET.get(name, "") for name in ("family", "axle", "on", "gone")}
        job = job_named(asked["on"])
        if asked["on"] and job is None:
            messages.error(self.request, f"{not_one(asked['on'])} All are shown.")
        there = set(KitRecord.objects.values_list("family", flat=True).distinct())
        return super().get_context_data(
            kits=SimpleLazyObject(lambda: _rows(asked, job)),
            shelf_as_it_is=f"{_last_change()} {asked} {job and timezone.now()}",
            families=[(key, FAMILIES[key].many) for key in FAMILIES if key in there],
            flat=[(key, FAMILIES[key].many) for key in FLAT],
            asked=asked,
            job=job,
            faults=kwargs.pop("faults", ()),
            **kwargs,
        )

    def post(self, request: HttpRequest) -> HttpResponse:
        """Take a file of kits: all of it, or nothing and every fault with its place."""
        upload, family = request.FILES.get("file"), request.POST.get("family", "")
        if upload is None:
            messages.error(request, "Choose a file first. Nothing was taken in.")
            return HttpResponseRedirect(reverse("shelf"))
        try:
            text = text_of(upload)
            kits = read_kits_csv(text, family) if family else read_kits(text)
            new, changed = _put(kits)
        except UnicodeDecodeError:
            return self._refused(["the file is no text"])
        except KitsRefusedError as error:
            return self._refused(list(error.faults))
        except VantokError as error:
            return self._refused([str(error)])
        messages.success(request, f"{new} new on the shelf, {changed} changed.")
        return HttpResponseRedirect(reverse("shelf"))

    def _refused(self, faults: list[str]) -> HttpResponse:
        return self.render_to_response(self.get_context_data(faults=faults), status=422)


def _last_change() -> str:
    """Return which change of the shelf was the last, and when it was made."""
    return str(KitRecord.history.aggregate(last=Max("history_id"), at=Max("history_date")))


def _rows(asked: dict[str, str], job: Job | None) -> list[dict[str, Any]]:
    """Return the kits asked for, a row each; with a job those that are not out on its vehicle."""
    shown = [(record, kit) for record, kit in _kits(gone=bool(asked["gone"])) if _wanted(kit, asked)]
    fits = {kit.code: _fit(Desk.look(job.pk), kit) for _, kit in shown} if job else {}
    drawn = _drawn([kit for _, kit in shown])
    return [
        {
            "kit": kit,
            "family": record.family_words,
            "svg": drawn[kit.family],
            "offered": record.offered,
            "fit": fits.get(kit.code),
        }
        for record, kit in shown
        if not job or fits[kit.code] != "fail"
    ]


def _kits(*, gone: bool) -> list[tuple[KitRecord, Kit]]:
    """Return the kits offered, with those no longer offered where they are asked for."""
    rows = KitRecord.objects.all() if gone else KitRecord.objects.filter(offered=True)
    return [(record, record.to_core()) for record in rows]


def _drawn(kits: list[Kit]) -> dict[str, str]:
    """Return a drawing for each family there is among some kits."""
    return {key: family_svg(FAMILIES[key].drawn, FAMILIES[key].words) for key in {kit.family for kit in kits}}


def _wanted(kit: Kit, asked: dict[str, str]) -> bool:
    return asked["family"] in ("", kit.family) and asked["axle"] in ("", kit.axle)


def _fit(desk: Desk, kit: Kit) -> str:
    """Return how a kit stands on the vehicle of a job: fail, measure, marginal, or pass."""
    found = {check.status for check in all_checks(desk.job, kit)}
    return next(status for status in ("fail", "measure", "marginal", "pass") if status in found)


@transaction.atomic
def _put(kits: list[Kit]) -> tuple[int, int]:
    """Put kits on the shelf, over those of the same code; return how many were new and how many changed.

    A kit on a job is a copy: what is changed here changes no job.
    """
    new = changed = 0
    for kit in kits:
        record = KitRecord.objects.filter(code=kit.code).first()
        data = kit.model_dump(mode="json", exclude_none=True)
        if record is not None and record.to_core() == kit and record.offered:
            continue
        new, changed = new + (record is None), changed + (record is not None)
        record = record or KitRecord(code=kit.code)
        record.data, record.offered = data, True
        record.full_clean(exclude=["name", "family"])
        record.save()
    return new, changed


class ShelfFile(View):
    """Every kit offered, or one, as a file."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """Return the file: JSON, or CSV of a flat family."""
        family, code = request.GET.get("family", ""), request.GET.get("code", "")
        rows = KitRecord.objects.filter(offered=True) if not code else KitRecord.objects.filter(code=code)
        kits = [record.to_core() for record in rows]
        if family:
            if family not in FLAT:
                raise Http404
            return csv_answer(write_kits_csv(kits, family), f"kits-{family}")
        answer = HttpResponse(write_kits(kits), content_type="application/json")
        answer["Content-Disposition"] = 'attachment; filename="kits.json"'
        return answer


class KitPage(Acting, DetailView[KitRecord]):
    """One kit with its published data; taken off the offer, put back on it, copied under another code."""

    model = KitRecord
    slug_field = slug_url_kwarg = "code"
    template_name = "shelf/kit.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return the kit and its load table."""
        kit = self.object.to_core()
        family = family_of(kit)
        fits = [SPRINGS[s].words for s in kit.springs if s in SPRINGS]
        return super().get_context_data(
            kit=kit,
            family=family,
            steps=steps_of(kit),
            shown=family.shown(kit),
            table=family.table(kit),
            fits=fits,
            record=self.object,
            svg=family_svg(family.drawn, family.words),
            plots=plots(family, kit.own, cast("System", cast("User", self.request.user).units)),
            **kwargs,
        )

    @act("shelf", "copy")
    def _copy(self) -> HttpResponse:
        record = _copied(self.get_object())
        messages.success(self.request, f"Copied as {record.code}.")
        return HttpResponseRedirect(reverse("kit", args=[record.code]))

    @act("shelf", "retire", "offer")
    def _offered(self) -> HttpResponse:
        with transaction.atomic():
            record = self.get_object()
            record.offered = self.asked == "offer"
            record.save()
        said = "Offered again." if record.offered else "No longer offered. Jobs keep their copy of it."
        messages.success(self.request, said)
        return HttpResponseRedirect(reverse("kit", args=[record.code]))


@transaction.atomic
def _copied(record: KitRecord) -> KitRecord:
    """Return a copy of a kit under the next free code; not offered until somebody offers it."""
    taken = set(KitRecord.objects.values_list("code", flat=True))
    code = next(new for n in range(2, 10_000) if (new := f"{record.code[:34]}-{n}") not in taken)
    data = record.data | {"code": code, "name": f"{record.data['name']}, copy"[:120]}
    copy = KitRecord(code=code, data=data, offered=False)
    copy.clean()
    copy.save()
    return copy
