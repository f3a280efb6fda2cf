"""Choosing a kit."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils.functional import SimpleLazyObject

from vantok.desk.parts import lazy_parts
from vantok.desk.stage import StageView, part
from vantok.fields.ids import identity
from vantok.fields.seen import StaleError, hold_to_shown
from vantok.people.acts import act
from vantok.people.rights import may
from vantok.records.shelf.models import KitRecord
from vantok.stages.choose.actions import (
    OnTheJobError,
    choose_kit,
    not_after_all,
    propose_kit,
    save_weights,
    say_no_baseline,
    take_off,
)
from vantok.stages.choose.forms import RollForm, SpaceForm, TargetForm
from vantok.stages.choose.listing import closer, listed, not_yet, odds_of
from vantok.stages.choose.sizes import SizesForm, save_sizes
from vantok_core.base.errors import InputError
from vantok_core.judge.measure.checks import baseline_missing
from vantok_core.kits.choice import MET, WEIGHT_WORDS, WEIGHTS
from vantok_core.kits.odds import TOLERANCE
from vantok_core.kits.ranking import weights_of


class Odds(StageView):
    """The odds of every choice, for a page that stands already: each is swapped in by itself, so that no focus is lost."""

    stage = "choose"

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Return the odds of each choice, and the line that says what they are; the page itself to one that is no script."""
        found = self.desk.chances
        if not request.headers.get("HX-Request"):
            return self.back()
        rows = [{"key": key, **odds_of(chance)} for key, chance in found.by.items()] if found else []
        return part(
            request,
            "choose/odds.html",
            {
                "rows": rows,
                "chances": found,
                "tolerance": TOLERANCE,
                "swap": True,
                "cards": request.GET.getlist("card"),
                "deciding": self.desk.deciding,
                "record": self.desk.record,
            },
        )


class Closer(StageView):
    """One choice looked at closely: its card, fetched when opened."""

    stage = "choose"

    def get(self, request: HttpRequest, pk: int, key: str) -> HttpResponse:
        """Return the card with its odds; the page itself to one that is no script."""
        if not request.headers.get("HX-Request"):
            return self.back()
        row = closer(self.desk, key)
        if row is None:
            raise Http404("this choice is not on the shelf any more")
        return part(request, "choose/card.html", {"row": row, "c": row["choice"], "record": self.desk.record})


class Choose(StageView):
    """Do nothing, move the load, and every kit on the shelf, judged against the target."""

    stage = "choose"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add target and choices."""
        kwargs.setdefault(
            "target_form", SimpleLazyObject(lambda: TargetForm(instance=self.desk.record, units=self.units))
        )
        kwargs.setdefault("roll_form", SimpleLazyObject(lambda: RollForm(instance=self.desk.record, units=self.units)))
        kwargs.setdefault(
            "space_form", SimpleLazyObject(lambda: SpaceForm(instance=self.desk.record, units=self.units))
        )
        weights = self._weights()
        kwargs.setdefault(
            "sizes_form", SimpleLazyObject(lambda: SizesForm(vehicle=self.desk.record.vehicle, units=self.units))
        )
        return super().get_context_data(
            weighed=[(name, WEIGHT_WORDS[name], round(100 * weight)) for name, weight in weights.items()],
            tried=weights != weights_of(self.desk.job),
            met=MET,
            tolerance=TOLERANCE,
            problem=self.desk.choose_problem,
            baseline_missing=baseline_missing(self.desk.job),
            fitting_on=bool(self.desk.job.parts),
            to_follow=self.desk.job.to_follow,
            parts=lazy_parts(self.desk),
            **listed(self.desk, weights, self.units, self.request.GET.get("by", "")),
            **kwargs,
        )

    def asks_next(self) -> bool:
        """Tell whether a limit's next measurement is named: the choice asks its own question, once the odds are known."""
        return self.desk.shortlist is None or bool(self.desk.diagnosis and self.desk.diagnosis.unweighed)

    def _weights(self) -> dict[str, float]:
        """Return what each criterion counts: as tried on the sliders, else as the job has it."""
        weights = weights_of(self.desk.job)
        for name in weights:
            if f"w-{name}" in self.request.GET:
                weights[name] = min(identity(self.request.GET[f"w-{name}"]), 100) / 100
        return weights

    def do(self, doing: Callable[[], HttpResponse]) -> HttpResponse:
        """Say it where what the page showed has changed meanwhile."""
        try:
            return doing()
        except StaleError as error:
            messages.error(self.request, str(error))
            self.anew()
            return self.again(409)

    @property
    def _kit(self) -> KitRecord:
        """The kit of the shelf that a form is about."""
        return get_object_or_404(KitRecord, code=self.request.POST.get("kit"), offered=True)

    @act("propose", "propose")
    def _propose(self) -> HttpResponse:
        kit = self._kit
        with self.change() as record:
            propose_kit(self.person, record, kit.data, self.request.POST.get("why", ""))
        messages.success(self.request, f"{kit.name} is proposed; a technician or the lead takes it.")
        return self.back()

    @act("choose", "")
    def _take(self) -> HttpResponse:
        """Take a kit; one that the baseline or a check holds back is said, one in the place of which it goes is asked about."""
        kit, told = self._kit, self.request.POST
        because = told.get("because", "").strip()[:150] if may(self.person, "overrule") else ""
        if problem := not_yet(self.desk, kit.to_core(), self.units, because=because):
            messages.error(self.request, problem)
            return self.back()
        places = {name: identity(told.get(name)) for name in ("instead_of", "on_top_of")}
        try:
            with self.change() as record:
                choose_kit(record, kit.data, because=f"{because} ({self.person})" if because else "", **places)
        except OnTheJobError as error:
            return self.again(409, asking={"kit": kit, "standing": error.fitting})
        except InputError as error:
            messages.error(self.request, f"{error} It was not taken.")
            return self.back()
        return HttpResponseRedirect(reverse("fit", args=[self.kwargs["pk"]]))

    @act("choose", "weights")
    def _keep_weights(self) -> HttpResponse:
        with self.change() as record:
            hold_to_shown(self.request.POST, record.weights, "what counts")
            save_weights(
                record, {name: min(identity(self.request.POST.get(f"w-{name}")), 100) / 100 for name in WEIGHTS}
            )
        return self.back()

    @act("choose", "not-after-all")
    def _not_after_all(self) -> HttpResponse:
        with self.change() as record:
            not_after_all(record, self.request.POST.get("kit", ""))
        return self.back()

    @act("choose", "no-baseline")
    def _no_baseline(self) -> HttpResponse:
        with self.change() as record:
            say_no_baseline(record, self.request.POST.get("reason", ""))
        return self.back()

    @act("choose", "take-off")
    def _take_off(self) -> HttpResponse:
        try:
            with self.change() as record:
                name = take_off(record, identity(self.request.POST.get("fitting")))
        except InputError as error:
            messages.error(self.request, str(error))
        else:
            messages.success(self.request, f"{name} is taken off the job; the history keeps it.")
        return self.back()

    @act("choose", "target")
    def _target(self) -> HttpResponse:
        return self.entered("target_form", lambda r: TargetForm(self.request.POST, instance=r, units=self.units))

    @act("choose", "roll")
    def _roll(self) -> HttpResponse:
        return self.entered("roll_form", lambda r: RollForm(self.request.POST, instance=r, units=self.units))

    @act("measure", "sizes")
    def _sizes(self) -> HttpResponse:
        return self.entered(
            "sizes_form", lambda r: SizesForm(self.request.POST, vehicle=r.vehicle, units=self.units), save_sizes
        )

    @act("measure", "space")
    def _space(self) -> HttpResponse:
        return self.entered("space_form", lambda r: SpaceForm(self.request.POST, instance=r, units=self.units))
