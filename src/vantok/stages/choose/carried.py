"""What goes with a setting: the pressure card for each load, and what happens if what is fitted fails."""

from __future__ import annotations

from typing import Any, ClassVar

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone

from vantok.desk.paper import paper
from vantok.desk.pressures import card_of
from vantok.desk.stage import StageView
from vantok.people.models import Shop


class PressureCard(StageView):
    """The pressures for each payload and tongue load, in the driver's units."""

    stage = "set"
    rights: ClassVar[str] = "set"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["set/card.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the card, or why there is none."""
        return super().get_context_data(**card_of(self.desk, self.units), **kwargs)


class PressureCardPdf(PressureCard):
    """The same on paper, for the sun visor."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Send the PDF; back to its page where there is none."""
        told = card_of(self.desk, self.units)
        if "card" not in told:
            return HttpResponseRedirect(reverse("card", args=[self.desk.record.pk]))
        more = {"record": self.desk.record, "units": self.units, "now": timezone.now(), "shop": Shop.objects.first()}
        return paper("set/card_paper.html", told | more, f"pressure-card-{self.desk.record.number}", request)


class Fails(StageView):
    """What happens if a bag, or a leaf, fails: where it lands, how it leans, what the driver does."""

    stage = "set"
    rights: ClassVar[str] = "set"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["set/fails.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add what can fail."""
        fitting = self.desk.job.fitting
        return super().get_context_data(
            failures=self.desk.worked.failures, kit=fitting.kit if fitting else None, **kwargs
        )
