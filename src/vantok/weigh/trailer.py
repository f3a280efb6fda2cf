"""Hitch and trailer: where it is hitched, what the tongue does, spring bars, what stands on the trailer."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils.functional import SimpleLazyObject

from vantok.jobs.desk import Desk, refresh
from vantok.jobs.ids import identity
from vantok.weigh import services
from vantok.weigh.forms import HitchForm, TrailerForm, TrailerItemForm
from vantok.weigh.models import TrailerItem
from vantok.weigh.stage import WeighView
from vantok_core.judge.working import explain
from vantok_core.loads.limits import tongue_share_verdict
from vantok_core.num import G
from vantok_core.plan import hitch_of, trailer_wheels


class Trailer(WeighView):
    """What one state tows."""

    topic = "trailer"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the forms and what hitching does, with its working."""
        kwargs.setdefault("form", SimpleLazyObject(lambda: TrailerForm(instance=self.record, units=self.units)))
        kwargs.setdefault(
            "hitch_form",
            SimpleLazyObject(lambda: HitchForm(instance=self.desk.record.vehicle, units=self.units, prefix="hitch")),
        )
        kwargs.setdefault("item_form", SimpleLazyObject(lambda: TrailerItemForm(units=self.units, prefix="new")))
        state, v = self.state, self.desk.job.vehicle
        effect, share, workings = hitch_of(self.desk.job, state), None, []
        if state.tongue and state.trailer:
            share = state.tongue / state.trailer
        if effect is not None and v.base_m is not None and v.hitch_overhang_m is not None:
            lever = {"tongue_mass": state.tongue, "overhang": v.hitch_overhang_m, "wheelbase": v.base_m}
            workings = [explain("tongue_rear", **lever), explain("tongue_front", **lever)]
            if state.restored and state.trailer_axle_m:
                facts = {
                    "tongue_mass": state.tongue,
                    "overhang": v.hitch_overhang_m,
                    "axle_distance": state.trailer_axle_m,
                    "restored": state.restored,
                }
                workings.append(explain("bar_moment", **facts))
        return super().get_context_data(
            share=share, share_word=tongue_share_verdict(share, "ball" if v.hitch_kind == "ball" else "pin") if share is not None else "",
            usual="10 to 15 %" if v.hitch_kind == "ball" else "15 to 25 %", wheels=trailer_wheels(self.desk.job, state),
            bars=None if effect is None else {"tongue": effect.tongue_eff, "trailer": float(effect.trailer_axle) / G, "moment": effect.moment},
            things=list(self.record.trailer_items.all()), trailer_total=state.trailer, workings=workings, **kwargs,
        )  # fmt: skip

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Store the trailer, the hitch, or something on the trailer."""
        action = request.POST.get("action", "")
        if action == "hitch":
            return self._hitch(pk)
        if action == "remove":
            services.remove_item(
                get_object_or_404(TrailerItem, state=self.record, pk=identity(request.POST.get("item")))
            )
            return self.back()
        if action == "add":
            form = TrailerItemForm(
                request.POST, units=self.units, prefix="new", instance=TrailerItem(state=self.record)
            )
            if self.record.empty:
                form.add_error(None, "The empty state tows nothing: enter the trailer in a loaded state.")
            if not form.is_valid():
                return self.again(422, item_form=form)
            form.save()
        else:
            sheet = TrailerForm(request.POST, instance=self.record, units=self.units)
            if not sheet.is_valid():
                self.record.refresh_from_db()
                return self.again(422, form=sheet)
            sheet.save()
        services.load_changed(self.record)
        return self.back()

    def _hitch(self, pk: int) -> HttpResponse:
        form = HitchForm(self.request.POST, instance=self.desk.record.vehicle, units=self.units, prefix="hitch")
        if not form.is_valid():
            self.__dict__["desk"] = Desk.open(pk)
            return self.again(422, hitch_form=form)
        form.save()
        refresh(self.desk.record)
        return self.back()
