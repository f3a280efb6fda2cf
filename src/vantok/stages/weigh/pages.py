"""The load plan: what is carried and where, dragged, nudged or typed; loads and limits follow at once."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404

from vantok.desk.load import Desk
from vantok.desk.stage import frame, part
from vantok.drawing.floor import FloorPlan, floor_svg
from vantok.fields.files import text_of
from vantok.fields.ids import identity
from vantok.people.acts import act
from vantok.people.gate import SCRIPT, STORED
from vantok.people.rights import RefusedError
from vantok.records.jobs.models import Job
from vantok.records.weigh.models import LoadItem, LoadState
from vantok.stages.weigh import actions
from vantok.stages.weigh.forms import ItemForm, PlanFileForm, StateForm
from vantok.stages.weigh.frame import WeighView, live
from vantok_core.base.errors import VantokError
from vantok_core.base.names import DEFAULT_TRACK
from vantok_core.base.units import show
from vantok_core.files.plan_csv import read_plan, write_plan
from vantok_core.judge.grounds.working import explain
from vantok_core.loads.height import loaded_height
from vantok_core.loads.holding import OVER
from vantok_core.loads.plan import reach
from vantok_core.loads.zoning import zones_held


def floor_of(desk: Desk, record: LoadState, picked: int = 0) -> FloorPlan | None:
    """Return the floor plan of a state, None while the wheelbase is unknown."""
    place, v = reach(desk.job), desk.job.vehicle
    state = desk.job.state(record.key)
    if place is None or state is None:
        return None
    facts = live(desk, state)
    corners, load = facts["corners"], facts["load"]
    centre = None
    if load.front is not None and load.rear is not None and load.front + load.rear > 0.0:
        half = (v.track_rear_m or DEFAULT_TRACK) / 2
        lateral = (facts["sides"] or 0.0) * half / (load.front + load.rear)
        centre = (place.wheelbase * load.rear / (load.front + load.rear), lateral)
    return FloorPlan(
        place=place,
        tracks=(v.track_front_m or DEFAULT_TRACK, v.track_rear_m or DEFAULT_TRACK),
        dual=v.dual_rear,
        hitch=v.hitch_overhang_m,
        items=list(record.items.all()),
        corners=corners if load.front is not None else {},
        centre=centre,
        picked=picked,
        tongue=state.tongue,
        over={z.key: held.load for z, held in zones_held(place, state) if held.p < OVER},
    )


class Plan(WeighView):
    """The load plan of one state."""

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the floor plan, the items, the one being edited, and the usual items to put on."""
        items = list(self.record.items.all())
        picked = kwargs.pop("picked", None) or next(
            (i for i in items if str(i.pk) == self.request.GET.get("item")), None
        )
        if picked is not None:
            kwargs.setdefault("item_form", self._form(picked))
        plan = self._floor(picked.pk if picked else 0)
        kwargs.setdefault("state_form", StateForm(instance=self.record))
        kwargs.setdefault("file_form", PlanFileForm())
        return super().get_context_data(
            plan=plan,
            items=items,
            picked=picked,
            usual=list(actions.usual_items()),
            carried=actions.carried_kg(items),
            presets=actions.PRESETS,
            workings=self._levers(),
            height=loaded_height(self.desk.job, self.state),
            **kwargs,
        )

    def _floor(self, picked: int) -> str:
        """Return the floor plan, made once for a desk; empty while the wheelbase is unknown."""

        def drawn() -> str:
            plan = floor_of(self.desk, self.record, picked)
            return floor_svg(plan, self.units) if plan else ""

        return self.desk.kept(("floor", self.record.key, picked, self.units), drawn)

    def _form(self, item: LoadItem, data: Any = None) -> ItemForm:
        return ItemForm(data, instance=item, units=self.units, footprint=reach(self.desk.job), prefix="item")

    def _levers(self) -> list[Any]:
        v = self.desk.job.vehicle
        if v.base_m is None:
            return []
        carried = self.state.contents
        found = [explain("item_rear", mass=i.mass_kg, station=i.station_m, wheelbase=v.base_m) for i in carried]
        found = [replace(w, title=f"What {i.name} puts on the rear axle") for i, w in zip(carried, found, strict=True)]
        if self.state.tongue and v.hitch_overhang_m is not None:
            lever = {"tongue_mass": self.state.tongue, "overhang": v.hitch_overhang_m, "wheelbase": v.base_m}
            found += [explain("tongue_rear", **lever), explain("tongue_front", **lever)]
        return found

    def _at(self, record: Job) -> LoadState:
        """Return the state looked at, read anew under the lock."""
        return get_object_or_404(LoadState, job=record, pk=self.record.pk)

    def _item(self, state: LoadState) -> LoadItem:
        return get_object_or_404(LoadItem, state=state, pk=identity(self.request.POST.get("item")))

    @act("measure", "add-state")
    def _do_add_state(self) -> HttpResponse:
        told = self.request.POST
        name = told.get("name", "").strip()[:60] or actions.PRESETS.get(told.get("preset", ""), "Another load")
        with self.change() as record:
            copied = record.states.filter(pk=identity(told.get("copy"))).first()
            self.__dict__["record"] = actions.add_state(record, name, copied)
        return self.back()

    @act("measure", "remove-state")
    def _do_remove_state(self) -> HttpResponse:
        with self.change() as record:
            said = actions.remove_state(self._at(record))
        messages.info(self.request, said)
        self.__dict__["record"] = LoadState.objects.filter(job_id=self.kwargs["pk"]).order_by("-empty").first()
        return self.back()

    @act("measure", "name")
    def _do_name(self) -> HttpResponse:
        return self.entered(
            "state_form", lambda record: StateForm(self.request.POST, instance=self._at(record), units=self.units)
        )

    @act("measure", "add-usual")
    def _do_add_usual(self) -> HttpResponse:
        place = reach(self.desk.job)
        usual = actions.usual_items().get(self.request.POST.get("usual", ""))
        if usual is None:
            raise Http404
        if place is None or self.record.empty:
            why = "Measure the wheelbase first" if place is None else "The empty state carries nothing"
            messages.error(self.request, f"{why}: {usual.name} was not put on.")
            return self.back()
        with self.change() as record:
            item = actions.add_usual(self._at(record), usual, place)
        return self.back(item=item.pk)

    @act("measure", "add-item")
    def _do_add_item(self) -> HttpResponse:
        kind = self.request.POST.get("kind", "item")
        kind = kind if kind in ItemForm.needs else "item"
        form = self.take(
            lambda r: self._form(LoadItem(state=self._at(r), kind=kind), self.request.POST), self._save_item
        )
        return self.taken(form, item_form=form) or self.back(item=form.instance.pk)

    @staticmethod
    def _save_item(_: Job, form: ItemForm) -> None:
        actions.save_item(form.save(commit=False))

    @act("measure", "save-item")
    def _do_save_item(self) -> HttpResponse:
        form = self.take(lambda r: self._form(self._item(self._at(r)), self.request.POST), self._save_item)
        return self.taken(form, item_form=form, picked=form.instance) or self.back()

    @act("measure", "remove-item")
    def _do_remove_item(self) -> HttpResponse:
        with self.change() as record:
            actions.remove_item(self._item(self._at(record)))
        return self.back()

    @act("shop", "keep")
    def _do_keep(self) -> HttpResponse:
        place = reach(self.desk.job)
        if place is not None:
            kept = actions.keep_for_shop(self.person, self._item(self.record), place)
            messages.success(self.request, f"“{kept.name}” is on the shop's own list now.")
        return self.back()

    @act("plan", "adjust")
    def _do_adjust(self) -> HttpResponse:
        try:
            with self.change() as record:
                said = actions.adjust_to_scale(self._at(record))
            messages.success(self.request, said.in_units(self.units))
        except VantokError as error:
            messages.error(self.request, str(error))
        return self.back()

    @act("measure", "file")
    def _do_file(self) -> HttpResponse:
        form = PlanFileForm(self.request.POST, self.request.FILES)
        try:
            if form.is_valid():
                if self.record.empty:
                    form.add_error("file", "The empty state carries nothing: open the plan in a loaded state.")
                else:
                    plan = read_plan(text_of(form.cleaned_data["file"]))
                    with self.change() as record:
                        actions.replace_plan(self._at(record), plan)
                    messages.success(
                        self.request, "The plan of the file is on; what was there before is in the history."
                    )
                    return self.back()
        except UnicodeDecodeError:
            form.add_error("file", "This file is not text; a load plan is CSV.")
        except VantokError as error:
            form.add_error("file", f"Nothing was taken in. {error}")
        return self.again(422, file_form=form)


class TryPlace(WeighView):
    """An item somewhere else: what the loads would be (GET), and putting it down there (POST)."""

    rights: ClassVar[str] = "measure"

    def _asked(self) -> tuple[LoadItem, float, float]:
        told = self.request.POST or self.request.GET
        item = next((i for i in self.record.items.all() if str(i.pk) == told.get("item")), None)
        try:
            station, lateral = float(told.get("station", "")), float(told.get("lateral", ""))
        except ValueError as error:
            raise Http404 from error
        place = reach(self.desk.job)
        if item is None or place is None or not (place.holds(station, lateral)):
            raise Http404
        return item, station, lateral

    def get(self, request: HttpRequest, **kwargs: Any) -> HttpResponse:
        """Return loads, drawing and sentence with the item there; nothing is stored."""
        self.__dict__["desk"] = Desk.open(self.kwargs["pk"])  # one of our own: the item is moved in it
        item, station, lateral = self._asked()
        item.station_m, item.lateral_m = station, lateral
        self.desk.forget()
        return self._shown(self.desk)

    def post(self, request: HttpRequest, **kwargs: Any) -> HttpResponse:
        """Put it down."""
        asked, station, lateral = self._asked()
        try:
            with self.change() as record:
                item = get_object_or_404(LoadItem, state__job=record, pk=asked.pk)
                stands = f"{item.station_m:.2f} {item.lateral_m:.2f}"
                if request.POST.get("seen", stands) not in (stands, f"{station:.2f} {lateral:.2f}"):
                    where = show("length", item.station_m, self.units)
                    raise RefusedError(
                        f"{item.name} was moved meanwhile, to {where} behind the front axle. Look at the plan again, then move it."
                    )
                actions.place_item(item, station, lateral)
        except ValidationError as error:
            raise Http404 from error
        self.anew()
        self.__dict__["record"] = next(s for s in self.desk.record.states.all() if s.pk == item.state_id)
        answer = self._shown(self.desk, item.pk)
        answer[STORED] = request.headers.get(SCRIPT, "")
        return answer

    def _shown(self, desk: Desk, put: int = 0) -> HttpResponse:
        state = desk.job.state(self.record.key)
        assert state is not None
        context = frame(desk, "weigh", self.look) | live(desk, state) | {"swap": True, "current": self.record}
        if put:
            plan = floor_of(desk, self.record, put)
            context |= {
                "plan": floor_svg(plan, self.units) if plan else "",
                "items": list(self.record.items.all()),
                "put": True,
            }
        return part(self.request, "weigh/live_swap.html", context)


class PlanCsv(WeighView):
    """A state's plan as a file."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Send the CSV."""
        response = HttpResponse(write_plan(self.state), content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = f'attachment; filename="plan-{self.desk.record.number}-{self.record.key}.csv"'
        return response
