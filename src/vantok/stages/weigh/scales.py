"""The scales: what they read beside the plan, one portable scale reduced to loads, and the instruments' live readings."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.utils.functional import SimpleLazyObject

from vantok.desk.worked import Worked
from vantok.people.acts import act
from vantok.records.jobs.models import Job
from vantok.records.measure.models import place_words
from vantok.records.weigh.models import LoadState
from vantok.stages.weigh import actions
from vantok.stages.weigh.forms import SCALES, PortableForm, ScaleForm
from vantok.stages.weigh.frame import WeighView
from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.loads.weighing import AxleLoads, AxleWeighing, HitchWeighing, hitch_weighing, reduce_weighing


class Scales(WeighView):
    """Axle, pad, tag, tongue and trailer readings of one state, with the plan beside them."""

    topic = "scales"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the forms, the table of scale against plan, and what the portable scale's figures come to."""
        kwargs.setdefault("form", SimpleLazyObject(lambda: ScaleForm(instance=self.record, units=self.units)))
        if "portable" not in kwargs:
            kwargs["portable"] = SimpleLazyObject(lambda: PortableForm(initial=self.record.weighing, units=self.units))
        context = super().get_context_data(**kwargs)
        return context | {
            "beside": self._beside(context["load"]),
            "reduced": _reduced(self.record.weighing, self.desk.job.vehicle),
        }

    def _beside(self, load: Any) -> list[dict[str, Any]]:
        """Return scale against plan: front, rear, tongue."""
        state, rows = self.state, []
        if load.basis in ("scale", "moved"):
            for name, scale, short in (
                ("front axle", load.front, load.short_front),
                ("rear axle", load.rear, load.short_rear),
            ):
                rows.append(
                    {"name": name, "scale": scale, "plan": None if short is None else scale - short, "short": short}
                )
        if state.tongue_kg and state.balance:
            rows.append(
                {
                    "name": "tongue",
                    "scale": state.tongue_kg,
                    "plan": state.balance.tongue,
                    "short": state.tongue_kg - state.balance.tongue,
                }
            )
        return rows + self._beside_corners()

    def _beside_corners(self) -> list[dict[str, Any]]:
        """Return pads against what the plan alone would put on each corner, the model sharing it out by its roll stiffness."""
        state, job = self.state, self.desk.job
        if state.corners_kg is None or not (state.contents or state.tongue):
            return []
        bare = state.model_copy(update={"corners_kg": None, "front_kg": None, "rear_kg": None, "weighed_gain_kg": None})
        planned = job.model_copy(
            update={"states": tuple(bare if s.key == state.key else s for s in job.states), "readings": ()}
        )
        view = Worked(planned).diagnosis
        report = view.view(state.key) if view else None
        if report is None:
            return []
        rows = []
        for corner, scale in zip(("FL", "FR", "RL", "RR"), state.corners_kg, strict=True):
            plan = float(report.report.load[corner]) / G
            rows.append({"name": place_words(corner), "scale": scale, "plan": plan, "short": scale - plan})
        return rows

    @act("measure", "")
    def _read_off(self) -> HttpResponse:
        """Store readings. Nothing changed leaves an old ticket old."""
        return self.entered("form", self._read, self._save)

    def _read(self, record: Job) -> ScaleForm:
        state = get_object_or_404(LoadState, job=record, pk=self.record.pk)
        return ScaleForm(self.request.POST, instance=state, units=self.units)

    @staticmethod
    def _save(_: Job, form: ScaleForm) -> None:
        read = {name: form.cleaned_data[name] for name in SCALES}
        actions.save_scales(
            form.instance, read, at=form.cleaned_data["weighed_at"] if "weighed_at" in form.touched else None
        )

    @act("measure", "portable")
    def _portable(self) -> HttpResponse:
        """Take in what one portable scale came to."""
        form = self.take(self._put_under, self._take_in)
        return self.taken(form, portable=form) or self._taken_in()

    def _taken_in(self) -> HttpResponse:
        messages.success(self.request, "Taken into the sheet.")
        return self.back()

    def _put_under(self, record: Job) -> PortableForm:
        state = get_object_or_404(LoadState, job=record, pk=self.record.pk)
        return PortableForm(self.request.POST, initial=state.weighing, units=self.units)

    def _take_in(self, record: Job, form: PortableForm) -> None:
        state = get_object_or_404(LoadState, job=record, pk=self.record.pk)
        found = _reduced(form.cleaned_data, self.desk.job.vehicle)
        loads = found["hitched"] or found["alone"]
        if loads is None:
            raise InputError(
                "weighing", "one reading", "two of the three are needed: front, rear, or both axles together"
            )
        if state.empty and found["hitched"]:
            raise InputError(
                "weighing", "hitched", "the empty state tows nothing: enter the hitched readings in a loaded state"
            )
        figures: dict[str, float | None] = {"front_kg": round(loads.front, 1), "rear_kg": round(loads.rear, 1)}
        figures |= dict.fromkeys(("fl_kg", "fr_kg", "rl_kg", "rr_kg"))
        hitch = found["hitch"]
        if hitch is not None:
            figures["tongue_kg"] = round(max(hitch.tongue, 0.0), 1)
            if hitch.trailer is not None:
                figures |= {
                    "trailer_kg": round(hitch.trailer, 1),
                    "trailer_scale_kg": round(hitch.trailer_axle or 0.0, 1),
                }
        actions.save_scales(state, figures, weighing=form.cleaned_data)


def _reduced(taken: dict[str, Any], vehicle: Any) -> dict[str, Any]:
    """Return the loads alone and hitched, and what hitching did, as far as the readings go."""

    def loads(which: str) -> AxleLoads | None:
        names = ("front", "rear", "both")
        return reduce_weighing(AxleWeighing(**{n: taken.get(f"{which}_{n}") for n in names}))

    alone, hitched = loads("alone"), loads("hitched")
    hitch: HitchWeighing | None = None
    if alone is not None and hitched is not None:
        hitch = hitch_weighing(
            alone, hitched, train=taken.get("train"), overhang=vehicle.hitch_overhang_m, wheelbase=vehicle.base_m
        )
    return {"alone": alone, "hitched": hitched, "hitch": hitch}
