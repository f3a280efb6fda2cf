"""How the vehicle stood as a state was read: copied from the state before it, changed by a touch."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone

from vantok.desk.stage import StageView
from vantok.fields.ids import identity
from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.fields.temperature import TemperatureField, shown
from vantok.records.jobs.models import Job
from vantok.records.weigh.models import LoadState
from vantok_core.facts.load import Condition

CORNERS = (("FL", "front left"), ("FR", "front right"), ("RL", "rear left"), ("RR", "rear right"))
SHARES = (
    ("", "not looked at"),
    ("0", "empty"),
    ("0.25", "a quarter"),
    ("0.5", "half"),
    ("0.75", "three quarters"),
    ("1", "full"),
)


class ConditionForm(UnitsForm):
    """Fuel, water, people, tyres, temperature, ground, odometer; whatever is left empty nobody looked at."""

    fuel = forms.ChoiceField(label="Fuel", choices=SHARES, required=False)
    water = forms.ChoiceField(label="Water", choices=SHARES, required=False)
    people = forms.IntegerField(label="People aboard", min_value=0, max_value=100, required=False)
    FL = QuantityField("pressure", label="Tyre, front left")
    FR = QuantityField("pressure", label="Tyre, front right")
    RL = QuantityField("pressure", label="Tyre, rear left")
    RR = QuantityField("pressure", label="Tyre, rear right")
    kelvin = TemperatureField(label="Temperature, with its unit")
    ground = forms.CharField(label="Standing on", max_length=40, required=False)
    odometer_km = QuantityField("travel", label="Odometer")
    settled = forms.BooleanField(label="Rolled and bounced before it was read", required=False)

    def __init__(self, *args: Any, told: Condition | None = None, **kwargs: Any) -> None:
        initial: dict[str, Any] = {}
        if told is not None:
            initial = {
                "fuel": "" if told.fuel is None else f"{told.fuel:g}",
                "water": "" if told.water is None else f"{told.water:g}",
                "people": told.people,
                "ground": told.ground,
                "settled": told.settled,
                "odometer_km": told.odometer_km,
                "kelvin": "" if told.kelvin is None else shown(told.kelvin, kwargs["units"]),
                **{str(c): p for c, p in told.tyres_pa.items()},
            }
        super().__init__(*args, initial=initial, **kwargs)
        for field in self.fields.values():
            field.widget.attrs.setdefault(
                "class", "form-select" if isinstance(field, forms.ChoiceField) else "form-control"
            )

    def condition(self, person: str) -> dict[str, Any]:
        """Return what was entered, as it is stored, with who and when."""
        data = self.cleaned_data
        told: dict[str, Any] = {name: float(data[name]) for name in ("fuel", "water") if data.get(name)}
        told |= {name: data[name] for name in ("people", "kelvin", "odometer_km") if data.get(name) is not None}
        told |= {"tyres_pa": {corner: data[corner] for corner, _ in CORNERS if data.get(corner) is not None}}
        told |= {name: data[name] for name in ("ground", "settled") if data.get(name)}
        return Condition.model_validate(
            told | {"by": person[:120], "at": timezone.now().isoformat(timespec="seconds")}
        ).model_dump(mode="json", exclude_none=True)


class ConditionPage(StageView):
    """The condition of one state."""

    stage = "measure"
    rights: ClassVar[str] = "measure"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["measure/condition.html"]

    def _state(self, record: Job) -> LoadState:
        states = list(record.states.all())
        asked = identity(self.request.POST.get("state") or self.request.GET.get("state"))
        return next((s for s in states if s.pk == asked), states[0])

    def _before(self, record: Job) -> LoadState | None:
        """Return the state before this one that was stamped, to copy from."""
        states = list(record.states.all())
        return next((s for s in reversed(states[: states.index(self._state(record))]) if s.condition), None)

    def _form(self, record: Job, data: Any = None) -> ConditionForm:
        """Return the form of the state, else of what stood before it: the same one shown and taken."""
        before = self._before(record)
        told = self._state(record).condition or ({**before.condition, "settled": False} if before else {})
        return ConditionForm(data, units=self.units, told=Condition.model_validate(told) if told else None)

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form: of the state, else copied from the one before it."""
        record = self.desk.record
        state, states = self._state(record), list(record.states.all())
        before = self._before(record)
        kwargs.setdefault("form", self._form(record))
        return super().get_context_data(
            state=state,
            states=states,
            copied=before if not state.condition and before else None,
            stamped=[{"state": s, "told": s.condition} for s in states],
            **kwargs,
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Store it; the odometer goes to the job where it has none."""
        form = self.take(lambda record: self._form(record, request.POST), self._save)
        if response := self.taken(form, form=form):
            return response
        messages.success(request, "Kept with the state.")
        return HttpResponseRedirect(f"{reverse('condition', args=[pk])}?state={self._state(self.desk.record).pk}")

    def _save(self, record: Job, form: ConditionForm) -> None:
        state = self._state(record)
        state.condition = form.condition(str(self.person))
        state.save()
        if record.odometer_km is None and (km := state.condition.get("odometer_km")) is not None:
            record.odometer_km = km
            record.save()
