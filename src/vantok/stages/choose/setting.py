"""Setting the kit in hand: tried on the model, entered as done."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.utils.functional import SimpleLazyObject

from vantok.desk.load import Desk
from vantok.desk.look import Look, drawn
from vantok.desk.parts import lazy_parts, written_of
from vantok.desk.stage import StageView, part
from vantok.drawing.axle import Handle
from vantok.fields.ids import identity
from vantok.fields.seen import StaleError
from vantok.records.jobs.models import Job
from vantok.stages.choose.actions import save_setting
from vantok.stages.choose.forms import SIDES, SettingForm
from vantok_core.base.errors import VantokError
from vantok_core.base.say import Quantity, Say, in_turn
from vantok_core.facts import Fitting as CoreFitting
from vantok_core.judge.benches.all import BENCHES
from vantok_core.judge.choose.fits import unfit_said
from vantok_core.judge.choose.two_ways import two_ways
from vantok_core.judge.grounds.shown import main_datum
from vantok_core.judge.measure.checks import baseline_missing
from vantok_core.judge.set.card_for import can_have
from vantok_core.judge.set.consequences import Consequence, consequences
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.fit import fitted_vehicle, kept_within
from vantok_core.kits.registry import family_of
from vantok_core.kits.target import target_drop, target_state
from vantok_core.kits.why_set import set_reasons
from vantok_core.physics.stance.budget import side_loads
from vantok_core.physics.stance.report import ElementReport
from vantok_core.procedure.progress import NO_STOP


class SetStage(StageView):
    """The setting: tried on the model, entered as done."""

    stage = "set"
    view: ClassVar[str] = "axle"
    rights: ClassVar[str] = "set"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form and what the model says of the setting."""
        fitting = self.desk.job.fitting
        if fitting is None:
            return super().get_context_data(fitting=None, **kwargs)
        kwargs.setdefault("form", SettingForm(instance=self.desk.record.fitting, units=self.units))
        return super().get_context_data(
            fitting=fitting,
            written=written_of(self.desk.cards[-1]) if self.desk.cards else (),
            kit=fitting.kit,
            has_card=can_have(fitting),
            bench=BENCHES.get(family_of(fitting.kit).bench),
            notes=self.desk.job.proving.benches,
            reasons=(*self._reasons(fitting), *self.desk.rolled, *_no_stop(self.desk)),
            follows=SimpleLazyObject(lambda: self._follows(fitting)),
            trial=self._kept_trial(fitting),
            sliders=_sliders(self.desk, fitting),
            caution=_caution(fitting),
            two_ways=two_ways(self.desk.job),
            parts=lazy_parts(self.desk) if self.desk.job.earlier else (),
            also=self._also(kwargs.pop("also", None)),
            **kwargs,
        )

    @property
    def look(self) -> Look:
        """The drawing as wanted, with handles for what the kit is set by."""
        fitting = self.desk.job.fitting
        return replace(super().look, handles=_handles(fitting) if fitting else None)

    def _kept_trial(self, fitting: CoreFitting) -> dict[str, Any] | None:
        """Return what the setting on the job does, worked out once for a desk."""
        return self.desk.kept("trial", lambda: _trial(self.desk, fitting))

    def _reasons(self, fitting: CoreFitting) -> tuple[Say, ...]:
        """Return why the kit is set as it is, worked out once for a desk."""
        model = self.desk.worked.in_hand

        def told() -> tuple[Say, ...]:
            try:
                key = target_state(model) if model else ""
                return set_reasons(model, fitting, key, target_drop(model, key)) if model else ()
            except VantokError:
                return ()  # the trial beside it says why nothing can be solved

        return self.desk.kept("reasons", told)

    def _follows(self, fitting: CoreFitting) -> tuple[Consequence, ...]:
        """Return what follows from the setting on the job in every state; nothing where it cannot be solved."""
        model = self.desk.worked.in_hand
        try:
            return consequences(model, fitting) if model is not None else ()
        except VantokError:
            return ()  # the trial beside it says why nothing can be solved

    def _also(self, typed: SettingForm | None) -> list[dict[str, Any]]:
        """Return a form for each kit that went on with the one in hand and is not said to be set yet; as typed where it was not taken."""
        found = []
        for row, on in zip(self.desk.record.fittings.all(), self.desk.job.parts, strict=False):
            if not row.done and row != self.desk.record.fitting:
                form = typed if typed is not None and typed.instance.pk == row.pk else None
                form = form or SettingForm(instance=row, units=self.units, prefix=f"p{row.pk}")
                found.append({"row": row, "form": form, "caution": _caution(on)})
        return found

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Enter the setting as made on the vehicle: of the kit in hand, or of one that went on with it."""
        try:
            form = self.take(self._read, lambda record, form: save_setting(record, form.save(commit=False)))
        except StaleError as error:
            messages.error(request, str(error))
            self.anew()
            return self.again(409)
        return self.taken(form, **{"also" if form.prefix else "form": form}) or self.back()

    def _read(self, record: Job) -> SettingForm:
        part = identity(self.request.POST.get("part"))
        row = next((f for f in record.fittings.all() if f.pk == part), None)
        if row is None:
            raise StaleError("the kit on the job")
        prefix = f"p{row.pk}" if row.pk != record.fitting.pk else None
        form = SettingForm(self.request.POST, instance=row, units=self.units, prefix=prefix)
        if self.request.POST.get(form.add_prefix("done")) and baseline_missing(self.desk.job):
            form.add_error(
                "done", "The empty vehicle was never read: read it first, or say on Choose why it cannot be."
            )
        place = [f.pk for f in record.fittings.all()].index(row.pk)
        if self.request.POST.get(form.add_prefix("done")) and (said := unfit_said(self.desk.job, place)):
            form.add_error("done", said.in_units(self.units))
        return form


class Trial(StageView):
    """What a setting would do, live; nothing is stored."""

    stage = "set"
    view: ClassVar[str] = "axle"

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Return the prediction for slider values."""
        fitting = self.desk.job.fitting
        if fitting is None or self.desk.model is None:
            return self.back()
        asked = {
            field.name: (self._asked(f"left_{field.name}"), self._asked(f"right_{field.name}"))
            for field in family_of(fitting.kit).set_by(fitting.kit)
        }
        tried = fitting.model_copy(update={"setting": kept_within(fitting.kit, asked)})
        stance = drawn(self.desk, "set", replace(self.look, handles=_handles(tried)), tried)
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
            "name": f"{side}_{field.name}",
            "words": f"{field.words}, {side}".capitalize(),
            "kind": field.kind,
            "span": spans[field.name],
            "value": fitting.setting.get(field.name, (spans[field.name].low,) * 2)[n],
        }
        for field in family.set_by(fitting.kit)
        for n, side in enumerate(SIDES)
    ]


def _handles(fitting: CoreFitting) -> dict[str, Handle]:
    """Return a handle for each side of the first thing a kit is set by, where it is set on the vehicle at all."""
    family = family_of(fitting.kit)
    spans = family.spans(fitting.kit)
    field = next(iter(family.set_by(fitting.kit)), None)
    if field is None or family.gives_back:
        return {}
    span = spans[field.name]
    values = fitting.setting.get(field.name, (span.low, span.low))
    return {
        side: Handle(
            field=f"{side}_{field.name}",
            words=f"{field.words}, {side}".capitalize(),
            value=values[n],
            low=span.low,
            high=span.high,
        )
        for n, side in enumerate(SIDES)
    }


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
            sides = report.elements.get(KIT_ELEMENT, {})
            pressed = side_loads(model.solved(vehicle)[state.key], fitting.kit.axle).get(KIT_ELEMENT, (0.0, 0.0))
            rows.append(
                {
                    "state": state,
                    "report": report,
                    "heights": heights,
                    "target": state.key == key,
                    "rear": float(report.d_r),
                    "plain": float(plain[state.key].d_r),
                    "stands": [_stands(sides[s], pressed[n]) for n, s in enumerate(SIDES) if s in sides],
                    "frequency": float(report.ride_frequency["RL"]),
                    "low": bool(family.emptied(fitting.kit, report)),
                }
            )
    except VantokError as error:
        return {"error": str(error)}
    above = target.drop - float(reports[key].d_r)
    return {"rows": rows, "above": above, "target": target, "flags": reports[key].flags, "family": family}


def _no_stop(desk: Desk) -> tuple[Say, ...]:
    """Return that nothing carries when it is empty, where the card says that the old stop was taken out and the kit has none."""
    return (Say(NO_STOP),) if any(one.no_stop for one in desk.cards) else ()


def _stands(side: ElementReport, pressed: float) -> Quantity:
    """Return how an element stands on one side: by its pressure, its gap, else the force it presses with at the wheel (N)."""
    if side.pressure is not None:
        return Quantity(float(side.pressure), "pressure")
    if side.gap_left is not None:
        return Quantity(float(side.gap_left), "length", signed=True)
    return Quantity(pressed, "force")


def _caution(fitting: CoreFitting) -> Say:
    """Return the usual caution where the kit is set, with its limits."""
    family = family_of(fitting.kit)
    values: dict[str, Quantity] = {}
    for field in family.set_by(fitting.kit):
        span = family.spans(fitting.kit)[field.name]
        values |= {"low": Quantity(span.low, field.kind), "high": Quantity(span.high, field.kind)}
    told = [
        one for one in family.at_setting.split(". ") if values or "{" not in one
    ]  # one that is set by nothing has no limits
    return in_turn([Say(one.rstrip(".") + ".", values) for one in told], " ")
