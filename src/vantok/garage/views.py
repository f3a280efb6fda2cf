"""The garage: customers and vehicles with their jobs."""

from __future__ import annotations

from typing import Any

from django.core.paginator import Paginator
from django.db.models import Count, Q
from django.views.generic import DetailView, TemplateView

from vantok.garage.models import Vehicle


class Garage(TemplateView):
    """All vehicles, searched by customer or name."""

    template_name = "garage/list.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return one page of vehicles."""
        wanted = self.request.GET.get("q", "").strip()
        vehicles = (
            Vehicle.objects.select_related("customer").annotate(count=Count("jobs")).order_by("customer__name", "label")
        )
        if wanted:
            vehicles = vehicles.filter(Q(label__icontains=wanted) | Q(customer__name__icontains=wanted))
        page = Paginator(vehicles, 25).get_page(self.request.GET.get("page"))
        return super().get_context_data(page=page, wanted=wanted, **kwargs)


class VehiclePage(DetailView):
    """One vehicle and its jobs."""

    queryset = Vehicle.objects.select_related("customer")
    template_name = "garage/vehicle.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the vehicle's jobs, a page at a time."""
        page = Paginator(self.object.jobs.all(), 25).get_page(self.request.GET.get("page"))
        return super().get_context_data(page=page, **kwargs)
