"""Hitch and trailer: where it is hitched, what the tongue does, spring bars, what stands on the trailer."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.utils.functional import SimpleLazyObject

from vantok.drawing.lever import lever_svg
from vantok.fields.ids import identity
from vantok.people.acts import act
from vantok.records.jobs.models import Job
from vantok.records.weigh.models import LoadState, TrailerItem
from vantok.stages.weigh import actions
from vantok.stages.weigh.forms import HitchForm, TrailerForm, TrailerItemForm
from vantok.stages.weigh.frame import WeighView
from vantok_core.base.errors import InputError, VantokError
from vantok_core.base.num import G
from vantok_core.judge.grounds.towed import Towed, towed
from vantok_core.judge.grounds.working import explain
from vantok_core.judge.weigh.back_or_up import Row, back_or_up, said_of
from vantok_core.loads.nose import nose_word, window_of, window_words
from vantok_core.loads.plan import hitch_of, trailer_wheels


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
            share=share,
            share_word=nose_word(share, window_of(self.desk.job)) if share is not None else "",
            usual=window_words(window_of(self.desk.job)),
            stands=self._stands(),
            wheels=trailer_wheels(self.desk.job, state),
            bars=None
            if effect is None
            else {"tongue": effect.tongue_eff, "trailer": float(effect.trailer_axle) / G, "moment": effect.moment},
            rows=SimpleLazyObject(lambda: self.table),
            rows_said=SimpleLazyObject(lambda: said_of(self.table)),
            with_kits=self._with_kits,
            lever=lever_svg(self.desk.job, state, self.units),
            things=list(self.record.trailer_items.all()),
            trailer_total=state.trailer,
            workings=workings,
            **kwargs,
        )

    def _stands(self) -> Towed | None:
        model = self.desk.worked.model
        return towed(model, self.state, None) if model is not None else None

    @property
    def _with_kits(self) -> bool:
        """Whether the shelf's choices are asked for: they take their time."""
        return bool(self.request.GET.get("kits"))

    @cached_property
    def table(self) -> tuple[Row, ...]:
        """Return the hitch, beside the likeliest kits where they are asked for, as far as the model can tell."""
        model, found = self.desk.worked.model, self.desk.shortlist if self._with_kits else None
        try:
            return back_or_up(model, self.state, found.choices if found else ()) if model is not None else ()
        except VantokError:
            return ()  # the stage's own sentence says why this state cannot be solved

    @act("measure", "remove")
    def _remove(self) -> HttpResponse:
        asked = identity(self.request.POST.get("item"))
        with self.change() as record:
            actions.remove_item(get_object_or_404(TrailerItem, state=self._at(record), pk=asked))
        return self.back()

    @act("measure", "hitch")
    def _hitch(self) -> HttpResponse:
        told = self.request.POST
        return self.entered(
            "hitch_form", lambda r: HitchForm(told, instance=r.vehicle, units=self.units, prefix="hitch")
        )

    @act("measure", "add")
    def _add(self) -> HttpResponse:
        return self.entered("item_form", self._thing, self._put_on)

    @act("measure", "")
    def _trailer(self) -> HttpResponse:
        told = self.request.POST
        return self.entered("form", lambda r: TrailerForm(told, instance=self._at(r), units=self.units), self._store)

    def _at(self, record: Job) -> LoadState:
        return get_object_or_404(LoadState, job=record, pk=self.record.pk)

    def _thing(self, record: Job) -> TrailerItemForm:
        return TrailerItemForm(
            self.request.POST, units=self.units, prefix="new", instance=TrailerItem(state=self._at(record))
        )

    @staticmethod
    def _put_on(_: Job, form: TrailerItemForm) -> None:
        if form.instance.state.empty:
            raise InputError("trailer", "the empty state", "it tows nothing: enter the trailer in a loaded state")
        form.save()
        actions.load_changed(form.instance.state)

    @staticmethod
    def _store(_: Job, form: TrailerForm) -> None:
        actions.load_changed(form.save())
