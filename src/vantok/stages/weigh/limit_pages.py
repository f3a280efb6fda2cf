"""The limits board over all states with what would clear an overload, and the coach sheet."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404

from vantok.desk.load import Desk
from vantok.desk.readings import stamp_loads
from vantok.fields.ids import identity
from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.people.acts import act
from vantok.records.jobs.models import Job
from vantok.records.weigh.models import LoadItem
from vantok.stages.weigh import actions
from vantok.stages.weigh.forms import HeavyForm
from vantok.stages.weigh.frame import BASIS, OFF_SPRINGS, WeighView
from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.facts import Job as CoreJob
from vantok_core.facts import JobState
from vantok_core.judge.grounds.working import explain
from vantok_core.judge.weigh.coach import coach_sheet
from vantok_core.loads.holding import AllHeld
from vantok_core.loads.limits import LIMIT_NAMES
from vantok_core.loads.moves import best_place, clearing_moves, clearing_removals, free_tongue, unknown_for_tongue
from vantok_core.loads.plan import ratings_of, state_load, state_margins


class Limits(WeighView):
    """Every limit in every state, what it rests on, and the smallest things that clear an overload."""

    topic = "limits"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the board and the suggestions for the state looked at."""
        job, state = self.desk.job, self.state
        board, heads = self._board(job, state)
        moves = [{"move": m, "pk": self._record(state.items.index(m.item))} for m in clearing_moves(job, state)]
        removals = [{"cut": r, "pk": self._record(r.index)} for r in clearing_removals(job, state)]
        margins = state_margins(job, state)
        workings = [
            replace(explain("margin", limit=m.limit, load=m.load), title=f"Margin: {m.name}")
            for m in margins
            if m.limit is not None and m.load is not None
        ]
        return super().get_context_data(
            board=board,
            heads=heads,
            moves=moves,
            removals=removals,
            **self._heavy(kwargs.pop("heavy", None)),
            free=free_tongue(job, state),
            blind=unknown_for_tongue(job, state),
            over=any(m.past for m in margins),
            held=AllHeld(limits=tuple(m.held for m in margins if m.held), unknown=()),
            known=any(m.margin is not None for m in margins),
            workings=workings,
            **kwargs,
        )

    def _board(self, job: CoreJob, state: JobState) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
        """Return a row for each limit with its cell in every state, and the states' headings: off the scale, from the plan, off the springs."""
        found = self.desk.diagnosis
        cells = [
            ({m.key: m for m in state_margins(job, s)}, found.off_springs(s.key) if found else None) for s in job.states
        ]
        heads = [
            {"state": s, "basis": OFF_SPRINGS if off else BASIS[state_load(job, s).basis]}
            for s, (_, off) in zip(job.states, cells, strict=True)
        ]
        board = [
            {
                "key": key,
                "name": name,
                "limit": getattr(ratings_of(job, state), key),
                "tyres": self._tyres(key),
                "cells": [(margins.get(key), off.margins.get(key) if off else None) for margins, off in cells],
            }
            for key, name in LIMIT_NAMES.items()
            if any(key in margins for margins, _ in cells)
        ]
        return board, heads

    def _heavy(self, form: HeavyForm | None) -> dict[str, Any]:
        """Return the question where to put something heavy, and the answer once it is asked."""
        asked = self.request.GET if "mass" in self.request.GET else None
        heavy, place = form or HeavyForm(asked, units=self.units), None
        if heavy.is_bound and heavy.is_valid() and heavy.cleaned_data["mass"]:
            try:
                place = best_place(self.desk.job, self.state, heavy.cleaned_data["mass"])
            except InputError as error:
                heavy.add_error("mass", error.in_units(self.units))
        return {"heavy": heavy, "best": place}

    def _tyres(self, key: str) -> str:
        """Return what a tyre limit rests on, in words."""
        v = self.desk.job.vehicle
        if key == "front_tyres" and v.front_tyres_kg is None and v.front_tyre_index:
            return f"load index {v.front_tyre_index}, two tyres"
        if key == "rear_tyres" and v.rear_tyres_kg is None and (v.rear_tyre_index or v.rear_dual_index):
            index = (v.rear_dual_index or v.rear_tyre_index) if v.dual_rear else v.rear_tyre_index
            return f"{'dual ' if v.dual_rear else ''}load index {index}, {'four' if v.dual_rear else 'two'} tyres"
        return ""

    @act("measure", "move", "take")
    def _offered(self) -> HttpResponse:
        """Do what was offered: move an item, or take some of it off. What no longer clears is not done."""
        asked = identity(self.request.POST.get("item"))
        with self.change() as record:
            self.__dict__["desk"] = Desk.open(record.pk)
            item = get_object_or_404(LoadItem, state__job=record, state_id=self.record.pk, pk=asked)
            # What was read so far was read under the load as it is now, before it is moved.
            stamp_loads(record, self.record)
            said = self._move(item) if self.asked == "move" else self._take_off(item)
        if said:
            messages.success(self.request, said)
        else:
            messages.error(self.request, "That no longer clears it; look again.")
        return self.back()

    def _move(self, item: LoadItem) -> str:
        state = self.state
        found = (m for m in clearing_moves(self.desk.job, state) if self._record(state.items.index(m.item)) == item.pk)
        move = next(found, None)
        if move is None:
            return ""
        actions.place_item(item, move.station, item.lateral_m)
        return f"{item.name} moved in the plan. Move it on the vehicle too, and weigh again."

    def _take_off(self, item: LoadItem) -> str:
        found = (r for r in clearing_removals(self.desk.job, self.state) if self._record(r.index) == item.pk)
        cut = next(found, None)
        if cut is None:
            return ""
        actions.take_off(item, cut.kg)
        return f"{item.name} made lighter in the plan. Take it off the vehicle too, and weigh again."

    def _record(self, index: int) -> int:
        """Return the id of the record at a place in the state's contents (items, then tanks), 0 for none."""
        records = list(self.record.items.all())
        order = [r for kind in ("item", "tank") for r in records if r.kind == kind]
        return order[index].pk if 0 <= index < len(order) else 0


class TagForm(UnitsForm):
    """The tag axle: its distance behind the drive axle, and what drive and tag carry empty."""

    spacing = QuantityField("length", label="tag axle behind the drive axle")
    drive = QuantityField("mass", label="drive axle, empty")
    tag = QuantityField("mass", label="tag axle, empty")

    def clean(self) -> dict[str, Any]:
        """All three or none."""
        data = super().clean() or {}
        for name in self.fields:
            if any(data.get(n) is not None for n in self.fields) and data.get(name) is None and name not in self.errors:
                self.add_error(name, "All three are needed for the load centre of the two axles.")
        return data


class FrontForm(UnitsForm):
    """How far the body stands out ahead of the front axle."""

    front_overhang_m = QuantityField("length", label="front overhang, axle to bumper")


class Coach(WeighView):
    """Corner loads, tag axle, overhang ratio and what they do to handling."""

    topic = "coach"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the sheet."""
        v = self.desk.job.vehicle
        kwargs.setdefault("tag_form", TagForm(initial=_tag_axle(self.desk.record), units=self.units))
        kwargs.setdefault(
            "front_form", FrontForm(initial=self.desk.record.vehicle.beyond, units=self.units, prefix="front")
        )
        return super().get_context_data(
            sheet=coach_sheet(self.desk.job, self.state),
            vehicle=v,
            base=v.base_m,
            rear_overhang=v.rear_overhang_m,
            **kwargs,
        )

    @act("measure", "front")
    def _front_overhang(self) -> HttpResponse:
        return self.entered(
            "front_form",
            lambda r: FrontForm(self.request.POST, initial=r.vehicle.beyond, units=self.units, prefix="front"),
            self._front,
        )

    @act("measure", "")
    def _tag(self) -> HttpResponse:
        """Store the tag axle: the two axles' load centre becomes the wheelbase that every lever uses."""
        return self.entered(
            "tag_form", lambda r: TagForm(self.request.POST, initial=_tag_axle(r), units=self.units), self._store
        )

    @staticmethod
    def _front(record: Job, form: FrontForm) -> None:
        vehicle, value = record.vehicle, form.cleaned_data["front_overhang_m"]
        vehicle.beyond = {k: v for k, v in vehicle.beyond.items() if k != "front_overhang_m"} | (
            {} if value is None else {"front_overhang_m": value}
        )
        vehicle.save()

    @staticmethod
    def _store(record: Job, form: TagForm) -> None:
        vehicle, data = record.vehicle, form.cleaned_data
        if vehicle.wheelbase_m is None:
            raise InputError("tag axle", "no wheelbase", "measure the wheelbase to the drive axle first")
        vehicle.beyond = {k: value for k, value in vehicle.beyond.items() if k != "rear_group"}
        if data["spacing"] is not None:
            stations = [vehicle.wheelbase_m, vehicle.wheelbase_m + data["spacing"]]
            vehicle.beyond["rear_group"] = {"stations": stations, "loads": [data["drive"] * G, data["tag"] * G]}
        vehicle.save()


def _tag_axle(record: Job) -> dict[str, float]:
    """Return a vehicle's tag axle as its form shows it; empty where it has none of two axles."""
    group = record.vehicle.beyond.get("rear_group") or {}
    stations, loads = group.get("stations", ()), group.get("loads", ())
    if len(stations) != 2 or len(loads) != 2:
        return {}
    return {"spacing": stations[1] - stations[0], "drive": loads[0] / G, "tag": loads[1] / G}
