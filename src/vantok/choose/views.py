"""Choosing a kit and setting it."""

from __future__ import annotations

from typing import Any, ClassVar

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse

from vantok.choose.forms import SettingForm, SpaceForm, TargetForm
from vantok.choose.models import Fitting
from vantok.drawing.side import stance_svg
from vantok.jobs.desk import Desk
from vantok.jobs.ids import identity
from vantok.jobs.models import Job
from vantok.jobs.services import OnTheJobError, choose_kit, propose_kit, save_setting, say_no_baseline
from vantok.jobs.stage import StageView, part
from vantok.shelf.models import KitRecord
from vantok_core.errors import VantokError
from vantok_core.job import Fitting as CoreFitting
from vantok_core.judge.checks import baseline_missing
from vantok_core.judge.inspect import standing_faults
from vantok_core.judge.prove import fitted_vehicle
from vantok_core.judge.views import main_datum
from vantok_core.kits.choose import MET, WEIGHT_WORDS, WEIGHTS, Choice
from vantok_core.kits.fit import KIT_ELEMENT, spacer_stack, unspaced_gap
from vantok_core.kits.target import target_drop, target_state
from vantok_core.readings.tape import NINE_IN_TEN


class Choose(StageView):
    """Do nothing, move the load, and every kit on the shelf, judged against the target."""

    stage = "choose"
    rights: ClassVar[dict[str, str]] = {
        "": "choose",
        "no-baseline": "choose",
        "target": "choose",
        "propose": "propose",
        "space": "measure",
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
            **kwargs,
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Set the target, propose a kit, or take one."""
        done = {"no-baseline": self._no_baseline, "target": self._target, "space": self._space}
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
                choose_kit(record, kit.data, instead_of=identity(request.POST.get("instead_of")))
        except OnTheJobError as error:
            return self.again(409, asking={"kit": kit, "standing": error.fitting})
        return HttpResponseRedirect(reverse("set", args=[pk]))

    def _no_baseline(self, request: HttpRequest) -> HttpResponse | None:
        with self.change("choose") as record:
            say_no_baseline(record, request.POST.get("reason", ""))
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
    band = NINE_IN_TEN * choice.drop.sigma if choice.drop else None
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
        "choice": choice, "chosen": choice.key == chosen, "recommended": choice.key == recommended, "band": band,
        "loaded_drop": None if choice.loaded is None else float(choice.loaded.d_r),
        "empty_rise": None if choice.empty is None else -float(choice.empty.d_r),
        "frequency": stiffer, "gap": min(gaps) if gaps else None,
        "pressed": -min(gaps) if gaps else None, "counts": share,
        "scores": [(WEIGHT_WORDS[name], value) for name, value in choice.scores.items()],
        "spacers": None if choice.spacers is None else [sum(stack) for stack in choice.spacers],
    }  # fmt: skip


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
            fitting=fitting, kit=fitting.kit, trial=self._kept_trial(fitting), slider=_slider(fitting), **kwargs
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
        form = SettingForm(self.request.POST, instance=get_object_or_404(Fitting, job=record), units=self.units)
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
        left, right = (_number(request.GET.get(side, "")) for side in ("left", "right"))
        tried = fitting.model_copy(update=_values(fitting, left, right, self.desk))
        stance = stance_svg(self.desk.stance("set", tried), self.units, self.look.times)
        context = {
            "trial": _trial(self.desk, tried),
            "fitting": tried,
            "kit": fitting.kit,
            "stance": stance,
            "swap": True,
        }
        return part(request, "choose/trial_live.html", context)


def _number(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        return 0.0


def _values(fitting: CoreFitting, left: float, right: float, desk: Desk) -> dict[str, Any]:
    if fitting.kit.family == "air_spring":
        low, high = fitting.kit.p_min_pa or 0.0, fitting.kit.p_max_pa or 1e6
        return {"pressure_pa": (min(max(left, low), high), min(max(right, low), high))}
    bare = unspaced_gap(desk.job, fitting.kit)
    return {"spacer_m": (left, right), "gap_m": (bare[0] - left, bare[1] - right)}


def _slider(fitting: CoreFitting) -> dict[str, float] | None:
    """Return the slider's range: pressures in Pa, spacers in m."""
    kit = fitting.kit
    if kit.family == "air_spring":
        return {"low": kit.p_min_pa or 0.0, "high": kit.p_max_pa or 0.0, "step": 5000.0}
    most = sum(2 * s for s in kit.spacers_m)
    return {"low": 0.0, "high": most, "step": min(kit.spacers_m)} if kit.spacers_m else None


def _trial(desk: Desk, fitting: CoreFitting) -> dict[str, Any] | None:
    """Return heights, pressures and flags of every state at a setting, or why it cannot be."""
    job, model, datum = desk.job, desk.model, main_datum(desk.job)
    if model is None:
        return None
    try:
        vehicle = fitted_vehicle(model, fitting)
        reports = model.solve(vehicle)
        key = target_state(model)
        plain = model.solve()
        target = target_drop(model, plain[key])
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
                    "pressure": [sides[s].pressure for s in ("left", "right")],
                    "gap": [sides[s].gap_left for s in ("left", "right")],
                    "frequency": float(report.ride_frequency["RL"]),
                    "low": _too_low(fitting, sides),
                }
            )  # fmt: skip
    except VantokError as error:
        return {"error": str(error)}
    miss = float(reports[key].d_r) - target.drop
    stacks = [spacer_stack(fitting.kit, s) for s in fitting.spacer_m] if fitting.spacer_m else None
    return {"rows": rows, "miss": miss, "target": target, "stacks": stacks, "flags": reports[key].flags}


def _too_low(fitting: CoreFitting, sides: Any) -> bool:
    low = fitting.kit.p_min_pa
    pressures = [s.pressure for s in sides.values() if s.pressure is not None]
    return bool(low is not None and pressures and min(pressures) < low - 1.0)
