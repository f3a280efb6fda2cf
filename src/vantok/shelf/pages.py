"""The kit shelf."""

from __future__ import annotations

from typing import Any

from django.views.generic import DetailView, ListView

from vantok.records.shelf.models import KitRecord
from vantok_core.facts.classes import SPRINGS
from vantok_core.kits.registry import family_of


class Shelf(ListView):
    """All kits."""

    queryset = KitRecord.objects.filter(offered=True)
    template_name = "shelf/list.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return the kits as the core reads them."""
        context = super().get_context_data(**kwargs)
        return context | {"kits": [(record.to_core(), record.family_words) for record in context["object_list"]]}


class KitPage(DetailView):
    """One kit with its published data."""

    model = KitRecord
    slug_field = slug_url_kwarg = "code"
    template_name = "shelf/kit.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return the kit and its load table."""
        kit = self.object.to_core()
        family = family_of(kit)
        fits = [SPRINGS[s].words for s in kit.springs if s in SPRINGS]
        return super().get_context_data(kit=kit, shown=family.shown(kit), table=family.table(kit), fits=fits, **kwargs)
