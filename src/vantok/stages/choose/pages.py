"""Choosing a kit and setting it."""

from __future__ import annotations

from typing import Any, ClassVar

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse

from vantok.desk.load import Desk
from vantok.desk.parts import lazy_parts
from vantok.desk.stage import StageView, part
from vantok.drawing.side import stance_svg
from vantok.fields.ids import identity
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import KitRecord
from vantok.stages.choose.actions import OnTheJobError, choose_kit, propose_kit, save_setting, say_no_baseline, take_off
from vantok.stages.choose.forms import SIDES, SettingForm, SpaceForm, TargetForm
from vantok_core.base.errors import InputError, VantokError
from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Fitting as CoreFitting
from vantok_core.judge.checks import baseline_missing
from vantok_core.judge.inspect import standing_faults
from vantok_core.judge.shown import main_datum
from vantok_core.kits.choose import MET, WEIGHT_WORDS, WEIGHTS, Choice
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.fit import fitted_vehicle, kept_within
from vantok_core.kits.registry import family_of
from vantok_core.kits.target import target_drop, target_state
from vantok_core.physics.stance.report import ElementReport


class Choose(StageView):
    """Do nothing, move the load, and every kit on the shelf, judged against the target."""

    stage = "choose"
    rights: ClassVar[dict[str, str]] = {
        "": "choose",
        "no-baseline": "choose",
        "target": "choose",
        "propose": "propose",
        "space": "measure",
        "take-off": "choose",
    }

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add target and choices."""
        kwargs.setdefault("target_form", TargetForm(instance=self.desk.record, units=self.units))
        found = self.desk.shortlist
        chosen = self.desk.job.fitting.kit.code if self.desk.job.fitting else ""
        kwargs.setdefault("space_form", SpaceForm(instance=self.desk.record, units=self.units))
        rows = [_row(c, chosen, found.recommended) for c in found.choices] if found else []
        weights = [(WEIGHT_WORDS[name], weight) for name, weight in WEIGHTS.items()]
        return super().get_context_data(
            shortlist=found,
            rows=rows,
            weights=weights,
            met=MET,
            problem=self.desk.choose_problem,
            baseline_missing=baseline_missing(self.desk.job),
            fitting_on=bool(self.desk.job.parts),
            parts=lazy_parts(self.desk),
            wanted_gain=-found.target.drop if (found := self.desk.shortlist) else None,
            **kwargs,
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Set the target, propose a kit, or take one."""
        done = {
            "no-baseline": self._no_baseline,
            "target": self._target,
            "space": self._space,
            "take-off": self._take_off,
        }
        action = request.POST.get("action", "")
        if action in done:
            return done[action](request) or self.back()
        kit = get_object_or_404(KitRecord, code=request.POST.get("kit"), offered=True)
        if action == "propose":
            with self.change("propose") as record:
                propose_kit(self.person, record, kit.data, request.POST.get("why", ""))
            messages.success(request, f"{kit.name} is proposed; a technician or the lead takes it.")
            return self.back()
        if problem := self._not_yet(kit.code):
            messages.error(request, problem)
            return self.back()
        try:
            with self.change("choose") as record:
                told = {name: identity(request.POST.get(name)) for name in ("instead_of", "on_top_of")}
                choose_kit(record, kit.data, **told)
        except OnTheJobError as error:
            return self.again(409, asking={"kit": kit, "standing": error.fitting})
        except InputError as error:
            messages.error(request, f"{error} It was not taken.")
            return self.back()
        return HttpResponseRedirect(reverse("set", args=[pk]))

    def _no_baseline(self, request: HttpRequest) -> HttpResponse | None:
        with self.change("choose") as record:
            say_no_baseline(record, request.POST.get("reason", ""))
        return None

    def _take_off(self, request: HttpRequest) -> HttpResponse | None:
        try:
            with self.change("choose") as record:
                name = take_off(record, identity(request.POST.get("fitting")))
        except InputError as error:
            messages.error(request, str(error))
        else:
            messages.success(request, f"{name} is taken off the job; the history keeps it.")
        return None

    def _target(self, request: HttpRequest) -> HttpResponse | None:
        form = self.take("choose", lambda r: TargetForm(request.POST, instance=r, units=self.units))
        return self.taken(form, target_form=form)

    def _space(self, request: HttpRequest) -> HttpResponse | None:
        room = self.take("measure", lambda r: SpaceForm(request.POST, instance=r, units=self.units))
        return self.taken(room, space_form=room)

    def _not_yet(self, code: str) -> str:
        """Return why a kit cannot be taken; empty when it can."""
        if faults := standing_faults(self.desk.job):
            return f"First cure or overrule: {faults[0][0].words}. The kit was not taken."
        if baseline_missing(self.desk.job):
            return "Read the empty vehicle first, or say why it cannot be read. The kit was not taken."
        choice = self.desk.shortlist.choice(code) if self.desk.shortlist else None
        if choice is not None and choice.out:
            return f"{choice.name} does not fit: {choice.out[0].in_units(self.units)} It was not taken."
        return ""


def _row(choice: Choice, chosen: str, recommended: str) -> dict[str, Any]:
    share = {"pass": 0, "fail": 0, "measure": 0}
    for check in choice.checks:
        share[check.status] += 1
    stiffer = None
    if choice.empty is not None:
        stiffer = float(choice.empty.ride_frequency["RL"])
    gaps = [] if choice.loaded is None else [
        float(s.gap_left) for e in choice.loaded.elements.values() for s in e.values() if s.gap_left is not None
    ]  # fmt: skip
    return {
        "choice": choice, "chosen": choice.key == chosen, "recommended": choice.key == recommended,
        "loaded_drop": None if choice.loaded is None else float(choice.loaded.d_r),
        "gained": None if choice.loaded is None else -float(choice.loaded.d_r),
        "empty_rise": None if choice.empty is None else -float(choice.empty.d_r),
        "frequency": stiffer, "gap": min(gaps) if gaps else None,
        "pressed": -min(gaps) if gaps else None, "counts": share,
        "scores": [(WEIGHT_WORDS[name], value) for name, value in choice.scores.items()],
        "setting": _setting_words(choice),
    }  # fmt: skip


def _setting_words(choice: Choice) -> list[tuple[str, Quantity, Quantity]]:
    """Return what a choice is set to: words, left, right."""
    fields = family_of(choice.kit).settings if choice.kit else ()
    told = [(f, choice.setting[f.name]) for f in fields if f.name in choice.setting]
    return [(f.words.capitalize(), Quantity(left, f.kind), Quantity(right, f.kind)) for f, (left, right) in told]


class SetStage(StageView):
    """The setting: tried on the model, entered as done."""

    stage = "set"
    rights: ClassVar[str] = "set"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form and what the model says of the setting."""
        fitting = self.desk.job.fitting
        if fitting is None:
            return super().get_context_data(fitting=None, **kwargs)
        kwargs.setdefault("form", SettingForm(instance=self.desk.record.fitting, units=self.units))
        return super().get_context_data(
            fitting=fitting,
            kit=fitting.kit,
            trial=self._kept_trial(fitting),
            sliders=_sliders(self.desk, fitting),
            caution=_caution(fitting),
            parts=lazy_parts(self.desk) if self.desk.job.earlier else (),
            **kwargs,
        )

    def _kept_trial(self, fitting: CoreFitting) -> dict[str, Any] | None:
        """Return what the setting on the job does, worked out once for a desk."""
        kept: dict[object, dict[str, Any] | None] = self.desk.drawings
        if "trial" not in kept:
            kept["trial"] = _trial(self.desk, fitting)
        return kept["trial"]

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Enter the setting as made on the vehicle."""
        form = self.take("set", self._read, lambda record, form: save_setting(record, form.save(commit=False)))
        return self.taken(form, form=form) or self.back()

    def _read(self, record: Job) -> SettingForm:
        if record.fitting is None:
            raise Http404
        form = SettingForm(self.request.POST, instance=record.fitting, units=self.units)
        if self.request.POST.get("done") and baseline_missing(self.desk.job):
            form.add_error(
                "done", "The empty vehicle was never read: read it first, or say on Choose why it cannot be."
            )
        return form


class Trial(StageView):
    """What a setting would do, live; nothing is stored."""

    stage = "set"

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Return the prediction for slider values."""
        fitting = self.desk.job.fitting
        if fitting is None or self.desk.model is None:
            return self.back()
        asked = {
            field.name: (self._asked(f"left_{field.name}"), self._asked(f"right_{field.name}"))
            for field in family_of(fitting.kit).settings
        }
        tried = fitting.model_copy(update={"setting": kept_within(fitting.kit, asked)})
        stance = stance_svg(self.desk.stance("set", tried), self.units, self.look.times)
        context = {
            "trial": _trial(self.desk, tried),
            "fitting": tried,
            "kit": fitting.kit,
            "stance": stance,
            "swap": True,
            "record": self.desk.record,
        }
        return part(request, "choose/trial_live.html", context)

    def _asked(self, name: str) -> float:
        """Return a slider's value; one that is no figure counts as nought, which the kit's own limits then hold."""
        try:
            return float(self.request.GET.get(name, ""))
        except ValueError:
            return 0.0


def _sliders(desk: Desk, fitting: CoreFitting) -> list[dict[str, Any]]:
    """Return a slider for each side of each thing the kit is set by."""
    family = family_of(fitting.kit)
    spans = family.spans(fitting.kit)
    return [
        {
            "name": f"{side}_{field.name}", "words": f"{field.words}, {side}".capitalize(), "kind": field.kind, "span": spans[field.name],
            "value": fitting.setting.get(field.name, (spans[field.name].low,) * 2)[n],
        }
        for field in family.settings if field.name in spans
        for n, side in enumerate(SIDES)
    ]  # fmt: skip


def _trial(desk: Desk, fitting: CoreFitting) -> dict[str, Any] | None:
    """Return heights, pressures and flags of every state at a setting, or why it cannot be."""
    job, model, datum = desk.job, desk.worked.in_hand, main_datum(desk.job)
    if model is None:
        return None
    family = family_of(fitting.kit)
    try:
        vehicle = fitted_vehicle(model, fitting)
        reports = model.solve(vehicle)
        key = target_state(model)
        plain = model.solve()
        target = target_drop(model, key)
        rows = []
        for state in job.states:
            if state.key not in reports:
                continue  # its load is unknown: nothing is predicted for it
            report = reports[state.key]
            heights = model.heights(state.key, datum, vehicle)
            sides = report.elements[KIT_ELEMENT]
            rows.append(
                {
                    "state": state, "report": report, "heights": heights, "target": state.key == key,
                    "rear": float(report.d_r), "plain": float(plain[state.key].d_r),
                    "stands": [_stands(sides[s]) for s in SIDES if s in sides],
                    "frequency": float(report.ride_frequency["RL"]),
                    "low": bool(family.emptied(fitting.kit, report)),
                }
            )  # fmt: skip
    except VantokError as error:
        return {"error": str(error)}
    miss = float(reports[key].d_r) - target.drop
    return {"rows": rows, "miss": miss, "target": target, "flags": reports[key].flags, "family": family}


def _stands(side: ElementReport) -> Quantity:
    """Return how an element stands on one side: by its pressure, its gap, else the force it presses with."""
    if side.pressure is not None:
        return Quantity(float(side.pressure), "pressure")
    if side.gap_left is not None:
        return Quantity(float(side.gap_left), "length", signed=True)
    return Quantity(float(side.force), "force")


def _caution(fitting: CoreFitting) -> Say:
    """Return the usual caution where the kit is set, with its limits."""
    family = family_of(fitting.kit)
    values: dict[str, Quantity] = {}
    for field in family.settings:
        if (span := family.spans(fitting.kit).get(field.name)) is not None:
            values |= {"low": Quantity(span.low, field.kind), "high": Quantity(span.high, field.kind)}
    return Say(family.at_setting, values)
