"""The weighing stage."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404

from vantok.jobs.desk import refresh
from vantok.jobs.services import free_key
from vantok.jobs.stage import StageView
from vantok.weigh.forms import ItemForm, StateForm
from vantok.weigh.models import LoadItem, LoadState
from vantok_core.classes import BODIES
from vantok_core.judge.working import explain
from vantok_core.model import has_load
from vantok_core.plan import state_load, state_margins


class Weigh(StageView):
    """Load states: scales or items, tongue, levers, margins in each state."""

    stage = "weigh"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add each state's form, items, loads and margins; a form that did not read stands as typed."""
        bad, bad_item = kwargs.pop("bad", None), kwargs.pop("bad_item", None)
        job, units = self.desk.job, self.units
        rows = []
        for record in self.desk.record.states.all():
            state = job.state(record.key)
            assert state is not None
            form = (
                bad
                if bad is not None and bad.instance.pk == record.pk
                else StateForm(instance=record, units=units, prefix=record.key)
            )
            fresh = ItemForm(units=units, prefix=f"{record.key}-item")
            rows.append(
                {
                    "record": record, "state": state, "form": form,
                    "item_form": bad_item[1] if bad_item and bad_item[0] == record.pk else fresh,
                    "load": state_load(job, state), "margins": state_margins(job, state),
                    "workings": self._levers(state), "weighed": has_load(state) or state.empty,
                }
            )  # fmt: skip
        return super().get_context_data(rows=rows, **kwargs)

    def _levers(self, state: Any) -> list[Any]:
        v = self.desk.job.vehicle
        if v.wheelbase_m is None:
            return []
        found = [
            explain("item_rear", mass=i.mass_kg, station=i.station_m, wheelbase=v.wheelbase_m) for i in state.items
        ]
        if state.tongue_kg and v.hitch_overhang_m is not None:
            lever = {"tongue_mass": state.tongue_kg, "overhang": v.hitch_overhang_m, "wheelbase": v.wheelbase_m}
            found += [explain("tongue_rear", **lever), explain("tongue_front", **lever)]
        return found

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Do one of: save a state, add or remove an item, add or remove a state."""
        action = request.POST.get("action", "")
        if action == "add-state":
            return self._add_state(request.POST.get("name", "").strip()[:60] or "Another load")
        record = get_object_or_404(LoadState, job_id=pk, pk=request.POST.get("state"))
        if action == "save":
            return self._save(record)
        if action == "add-item":
            return self._add_item(record)
        if action == "remove-item":
            get_object_or_404(LoadItem, state=record, pk=request.POST.get("item")).delete()
        elif action == "remove-state" and not record.empty and not record.readings.exists():
            record.delete()
        refresh(self.desk.record)
        return self.back()

    @transaction.atomic
    def _add_state(self, name: str) -> HttpResponse:
        job = self.desk.record
        LoadState.objects.create(job=job, key=free_key(job, name), name=name, order=job.states.count())
        refresh(job)
        return self.back()

    def _save(self, record: LoadState) -> HttpResponse:
        form = StateForm(self.request.POST, instance=record, units=self.units, prefix=record.key)
        if not form.is_valid():
            return self.again(422, bad=form)
        form.save()
        refresh(self.desk.record)
        return self.back()

    def _add_item(self, record: LoadState) -> HttpResponse:
        form = ItemForm(
            self.request.POST, units=self.units, prefix=f"{record.key}-item", furthest=self._reach(),
            instance=LoadItem(state=record),
        )  # fmt: skip
        if record.empty:
            form.add_error(None, "The empty state carries nothing: add the item to a loaded state.")
        if not form.is_valid():
            return self.again(422, bad_item=(record.pk, form))
        form.save()
        refresh(self.desk.record)
        return self.back()

    def _reach(self) -> tuple[float, float] | None:
        """Return the first and last station (m) of the vehicle, a rack behind it included."""
        v = self.desk.job.vehicle
        if v.wheelbase_m is None:
            return None
        body = BODIES[v.body]
        behind = v.rear_overhang_m or body.overhang * v.wheelbase_m
        return -body.front_overhang - 0.3, v.wheelbase_m + behind + 0.9
