"""The vehicle's facts."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils.functional import SimpleLazyObject

from vantok.desk.stage import StageView
from vantok.drawing.dimensions import LETTERS, dimensions_svg
from vantok.drawing.springs import springs
from vantok.records.jobs.models import Job
from vantok.records.measure.models import PLATE
from vantok.stages.vehicle.forms import EquipmentForm, VehicleForm


class VehicleStage(StageView):
    """The vehicle and its ratings plate."""

    stage = "vehicle"
    rights = "measure"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form and what is still unknown."""
        vehicle = self.desk.record.vehicle
        kwargs.setdefault("form", SimpleLazyObject(lambda: VehicleForm(instance=vehicle, units=self.units)))
        kwargs.setdefault("equipment_form", SimpleLazyObject(lambda: EquipmentForm(vehicle=vehicle)))
        plates = self.desk.record.photos.filter(gone=False, area=PLATE)
        drawn = SimpleLazyObject(lambda: dimensions_svg(self.desk.facts.job.vehicle))
        return super().get_context_data(
            dimensions=drawn,
            letters=LETTERS,
            springs=springs(),
            plates=SimpleLazyObject(lambda: list(plates)),
            **kwargs,
        )

    def asks_next(self) -> bool:
        """Tell that nothing beside its own drawing is asked for here."""
        return False

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Save the sheet, or the census; figures that do not read are kept as typed with the reason beside them."""
        if request.POST.get("action") == "equipment":
            census = self.take("measure", lambda r: EquipmentForm(request.POST, vehicle=r.vehicle), _save_equipment)
            return self.taken(census, equipment_form=census) or self.back()
        if request.POST.get("action") == "as-read":
            with self.change("rate") as record:
                told = request.POST.get("fact", "")
                record.vehicle.defaults = [name for name in record.vehicle.defaults if name != told]
                record.vehicle.save()
            return self.back()
        form = self.take("measure", lambda record: VehicleForm(request.POST, instance=record.vehicle, units=self.units))
        on = reverse("weigh" if "on" in request.POST else "vehicle", args=[pk])
        return self.taken(form, form=form) or HttpResponseRedirect(on)


def _save_equipment(record: Job, form: EquipmentForm) -> None:
    record.vehicle.equipment = form.found
    record.vehicle.save()
