"""What the trade argues about, both sides, and what the shop has settled for itself."""

from __future__ import annotations

from typing import Any, ClassVar, cast

from django.contrib import messages
from django.db import transaction
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.views.generic import TemplateView

from vantok.people.models import User
from vantok.records.practice.models import Settled
from vantok_core.kits.schools import DEBATES

OPENS = {
    "air_or_solid": "vehicle=pickup&load=350&pressure=200000",
    "air_or_hitch": "vehicle=pickup&load=80&tongue=220&pressure=250000",
    "damped_or_loaded": "vehicle=estate&load=100&tongue=30",
    "one_line_or_two": "vehicle=pickup&load=260&side=0.5&pressure=220000",
    "empty_or_minimum": "vehicle=pickup&load=0&people=1&pressure=40000",
    "gap_or_contact": "vehicle=van&load=400",
    "helper_or_new": "vehicle=pickup&load=350&pressure=0",
    "block_or_camber": "vehicle=heavy&load=400",
}
"""With what the playground opens at a question that its model can speak to."""


class Debates(TemplateView):
    """Each question with both schools; a lead writes what the shop has settled."""

    template_name = "practice/debates.html"
    rights: ClassVar[str] = "teach"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return them."""
        settled = {one.key: one for one in Settled.objects.select_related("by")}
        rows = [
            {"key": key, "one": one, "settled": settled.get(key), "opens": OPENS.get(key, "")}
            for key, one in DEBATES.items()
        ]
        return super().get_context_data(rows=rows, **kwargs)

    def post(self, request: HttpRequest) -> HttpResponse:
        """Settle a question for the shop, or open it again."""
        key, words = request.POST.get("key", ""), request.POST.get("words", "").strip()[:300]
        if key not in DEBATES:
            messages.error(request, "There is no such question. Nothing was changed.")
            return HttpResponseRedirect(reverse("debates"))
        with transaction.atomic():
            standing = Settled.objects.filter(key=key).first()
            if words:
                one = standing or Settled(key=key)
                one.words, one.by = words, cast("User", request.user)
                one.save()
            elif standing is not None:
                standing.delete()
        return HttpResponseRedirect(f"{reverse('debates')}#{key}")
