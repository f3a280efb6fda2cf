"""What goes with a setting: the pressure card for each load, and what happens if what is fitted fails."""

from __future__ import annotations

from typing import Any, ClassVar

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone

from vantok.desk.paper import paper
from vantok.desk.stage import StageView
from vantok.people.models import Shop
from vantok_core.base.errors import VantokError
from vantok_core.base.say import Quantity
from vantok_core.judge.card_for import SHORT, JobCard, job_card
from vantok_core.kits.pressure_card import Cell


class PressureCard(StageView):
    """The pressures for each payload and tongue load, in the driver's units."""

    stage = "set"
    rights: ClassVar[str] = "set"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["set/card.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the card, or why there is none."""
        return super().get_context_data(**self.card(), **kwargs)

    def card(self) -> dict[str, Any]:
        """Return the card as the page and the paper show it."""
        model, fitting = self.desk.worked.in_hand, self.desk.job.fitting
        if model is None or fitting is None:
            return {"problem": "There is no kit on the job, or its model cannot be made yet."}
        kept: dict[Any, Any] = self.desk.drawings
        if ("card", self.units) not in kept:
            try:
                kept["card", self.units] = job_card(model, fitting, self.units)
            except VantokError as error:
                return {"problem": str(error)}
        found: JobCard = kept["card", self.units]
        rows = [
            (Quantity(payload, "mass"), [_shown(cell) for cell in row])
            for payload, row in zip(found.payloads, found.cells, strict=True)
        ]
        return {
            "card": found,
            "tongues": [Quantity(t, "mass") for t in found.tongues],
            "rows": rows,
            "kit": fitting.kit,
        }


def _shown(cell: Cell) -> dict[str, Any]:
    """Return a cell as it is shown: limits passed, the maximum, or pressures, one where both sides are alike."""
    if cell.over:
        return {"over": ", ".join(SHORT[name] for name in cell.over)}
    if cell.pressure is None:
        return {"beyond": True}
    left, right = cell.pressure
    sides = [Quantity(left, "pressure")] if left == right else [Quantity(left, "pressure"), Quantity(right, "pressure")]
    return {"sides": sides, "floor": any(cell.floor)}


class PressureCardPdf(PressureCard):
    """The same on paper, for the sun visor."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Send the PDF; back to its page where there is none."""
        told = self.card()
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
