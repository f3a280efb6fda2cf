"""The vehicle's facts."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils.functional import SimpleLazyObject

from vantok.desk.stage import StageView
from vantok.drawing.dimensions import LETTERS, dimensions_svg
from vantok.drawing.springs import springs
from vantok.people.acts import act
from vantok.records.jobs.models import Job
from vantok.records.measure.models import PLATE
from vantok.stages.vehicle.forms import EquipmentForm, VehicleForm


class VehicleStage(StageView):
    """The vehicle and its ratings plate."""

    stage = "vehicle"

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

    @act("measure", "")
    def _sheet(self) -> HttpResponse:
        """Save the sheet; figures that do not read are kept as typed with the reason beside them."""
        told = self.request.POST
        form = self.take(lambda record: VehicleForm(told, instance=record.vehicle, units=self.units))
        on = reverse("weigh" if "on" in told else "vehicle", args=[self.kwargs["pk"]])
        return self.taken(form, form=form) or HttpResponseRedirect(on)

    @act("measure", "equipment")
    def _census(self) -> HttpResponse:
        form = self.take(lambda r: EquipmentForm(self.request.POST, vehicle=r.vehicle), _save_equipment)
        return self.taken(form, equipment_form=form) or self.back()

    @act("rate", "as-read")
    def _as_read(self) -> HttpResponse:
        with self.change() as record:
            told = self.request.POST.get("fact", "")
            record.vehicle.defaults = [name for name in record.vehicle.defaults if name != told]
            record.vehicle.save()
        return self.back()


def _save_equipment(record: Job, form: EquipmentForm) -> None:
    record.vehicle.equipment = form.found
    record.vehicle.save()
