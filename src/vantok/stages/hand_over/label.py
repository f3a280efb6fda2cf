"""The label that stays on the vehicle, with a square that opens the job's record."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import segno
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils import timezone
from django.utils.safestring import SafeString, mark_safe
from django.views import View

from vantok.desk.paper import paper
from vantok.desk.pressures import card_of
from vantok.desk.stage import StageView
from vantok.people.models import Shop
from vantok.records.jobs.models import Job
from vantok_core.judge.hand_over.label import label

SIZES = (
    ("100x62", "label 100 x 62 mm"),
    ("100x150", "label 100 x 150 mm"),
    ("62x100", "roll of 62 mm, 100 long"),
    ("a4", "A4 sheet, eight labels"),
)
WIDEST = {"100x62": 110, "100x150": 130, "62x100": 110, "a4": 110}
"""Letters that a line of each size holds."""
LARGE = "100x150"
"""The size that has room for the pressure card too."""
ON_A_SHEET = 8


class LabelPage(StageView):
    """The label as it will be, and the sizes it comes in."""

    stage = "report"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["handover/label_page.html"]

    @property
    def size(self) -> str:
        """The size asked for."""
        asked = self.request.GET.get("size", "")
        return asked if asked in WIDEST else SIZES[0][0]

    def told(self) -> dict[str, Any]:
        """Return what the label says, in the reader's units."""
        record = self.desk.record
        return {
            "label": label(self.desk.job, self.units, WIDEST[self.size]),
            "size": self.size,
            "record": record,
            "now": timezone.now(),
            "shop": (shop := Shop.objects.first()),
            "person": self.person,
            "square": square_of(shop, record.number),
            "units": self.units,
            **(card_of(self.desk, self.units) if self.size == LARGE else {}),
        }

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the label."""
        return super().get_context_data(
            sizes=SIZES, **{k: v for k, v in self.told().items() if k != "record"}, **kwargs
        )


class LabelPdf(LabelPage):
    """The label on paper."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Send the PDF; back to its page where nothing is fitted."""
        if not self.desk.job.parts:
            return HttpResponseRedirect(reverse("label", args=[self.desk.record.pk]))
        copies = range(ON_A_SHEET) if self.size == "a4" else range(1)
        return paper(
            "handover/label_paper.html", self.told() | {"copies": copies}, f"label-{self.desk.record.number}", request
        )


class ByNumber(View):
    """A job by its number, as a label's square or a typed code has it."""

    def get(self, request: HttpRequest, number: str) -> HttpResponse:
        """Go to the job's report."""
        job = get_object_or_404(Job, number=number)
        return HttpResponseRedirect(reverse("report", args=[job.pk]))


def square_of(shop: Shop | None, number: str) -> SafeString | str:
    """Return the square that opens a job at the shop's own address; nothing where the shop has named none."""
    if shop is None or not shop.address:
        return ""
    return square(shop.address.rstrip("/") + reverse("by-number", args=[number]))


@lru_cache(maxsize=256)
def square(address: str) -> SafeString:
    """Return the square (QR code, a quarter of it can be lost) of an address, as SVG."""
    drawn = segno.make(address, error="q", micro=False).svg_inline(
        scale=4, border=2, dark="#14251d", light="#ffffff", omitsize=True, svgclass="qr", lineclass=None
    )
    return mark_safe(drawn)  # noqa: S308 - made of squares, nothing of the address stands in it
