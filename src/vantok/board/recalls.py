"""The recall list: what was handed over and is due again, answered with a tap."""

from __future__ import annotations

from datetime import date
from typing import Any, ClassVar, cast

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone
from django.views.generic import TemplateView

from vantok.desk.care import answer_recall, due_now
from vantok.fields.days import day_of
from vantok.fields.ids import identity
from vantok.people.models import User
from vantok.records.handover.models import Recall
from vantok_core.aims.complaints import COMPLAINT_WORDS
from vantok_core.base.errors import InputError

PAGE = 25
SAID = {"done": "noted as done", "declined": "noted as declined", "later": "put off", "open": "open again"}


class Recalls(TemplateView):
    """What is due, or everything that is kept in mind."""

    template_name = "jobs/recalls.html"
    rights: ClassVar[str] = "recall"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add a page of them."""
        every = self.request.GET.get("all") == "1"
        found = (
            Recall.objects.select_related("job__vehicle__customer", "by").order_by("state", "due")
            if every
            else due_now()
        )
        page = Paginator(found, PAGE).get_page(self.request.GET.get("page"))
        for recall in page:
            recall.hoped = _hoped(recall) if recall.key == "follow-up" else ""  # type: ignore[attr-defined]
        return super().get_context_data(
            page=page, every=every, today=timezone.localdate(), outcomes=Recall.OUTCOMES, **kwargs
        )

    def post(self, request: HttpRequest) -> HttpResponse:
        """Answer one."""
        told, action = request.POST, request.POST.get("action", "")
        try:
            if action not in SAID:
                raise InputError("action", action, "it is none of done, put off, declined or open again")
            found = answer_recall(
                cast("User", request.user),
                identity(told.get("recall")),
                action,
                reason=told.get("reason", ""),
                until=_day(told.get("until", "")),
                outcome=told.get("outcome", ""),
            )
        except InputError as error:
            messages.error(request, f"{error} Nothing was changed.")
        else:
            messages.success(request, f"{found.words}: {SAID[action]}.")
        return HttpResponseRedirect(reverse("recalls") + ("?all=1" if told.get("all") == "1" else ""))


def _hoped(recall: Recall) -> str:
    """Return what was hoped of the work, as noted before its drives; else the complaints."""
    drives = (recall.job.proving or {}).get("drives", ())
    noted = list(dict.fromkeys(d.get("expected") for d in drives if d.get("expected")))
    called = COMPLAINT_WORDS
    return "; ".join(noted) or ", ".join(called.get(c, c) for c in recall.job.complaints)


def _day(text: str) -> date | None:
    """Return a day of a text, None for none. Raises InputError for one that is no day."""
    if not text.strip():
        return None
    found = day_of(text)
    if found is None:
        raise InputError("until", text[:40], "write the day like 2027-03-31")
    return found
