"""The lead's page of the examination."""

from __future__ import annotations

from typing import Any

from django.views.generic import TemplateView

from vantok.doctor.examine import examine


class Doctor(TemplateView):
    """Whether all is well, and what to do where it is not; looked at anew each time the page is opened."""

    template_name = "doctor/page.html"
    seen_by = "shop"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Look at everything."""
        found = examine(short=True)
        return super().get_context_data(found=found, to_do=sum(not one.well for one in found), here="shop", **kwargs)
