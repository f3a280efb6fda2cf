"""Choosing a kit."""

from __future__ import annotations

from typing import Any, ClassVar

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils.functional import SimpleLazyObject

from vantok.desk.load import Desk
from vantok.desk.parts import lazy_parts
from vantok.desk.stage import StageView, part
from vantok.fields.ids import identity
from vantok.records.shelf.models import KitRecord
from vantok.stages.choose.actions import OnTheJobError, choose_kit, propose_kit, save_weights, say_no_baseline, take_off
from vantok.stages.choose.forms import SpaceForm, TargetForm
from vantok.stages.choose.sizes import SizesForm, save_sizes
from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity
from vantok_core.judge.checks import baseline_missing
from vantok_core.judge.inspect import standing_faults
from vantok_core.kits.chances import Chance, Chances
from vantok_core.kits.choice import MET, WEIGHT_WORDS, WEIGHTS, Choice, Shortlist
from vantok_core.kits.odds import TOLERANCE, in_ten
from vantok_core.kits.ranking import by_weights, weights_of
from vantok_core.kits.registry import family_of

LEAST_TOLD = 0.05
"""Least share of the draws for which it is told that an option is the right one."""


class Odds(StageView):
    """The odds of every choice, for a page that stands already: each is swapped in by itself, so that no focus is lost."""

    stage = "choose"

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Return the odds of each choice, and the line that says what they are; the page itself to one that is no script."""
        found = self.desk.chances
        if not request.headers.get("HX-Request"):
            return self.back()
        rows = [{"key": key, **_odds(chance)} for key, chance in found.by.items()] if found else []
        return part(request, "choose/odds.html", {"rows": rows, "chances": found, "tolerance": TOLERANCE, "swap": True})


class Choose(StageView):
    """Do nothing, move the load, and every kit on the shelf, judged against the target."""

    stage = "choose"
    rights: ClassVar[dict[str, str]] = {
        "": "choose",
        "no-baseline": "choose",
        "target": "choose",
        "propose": "propose",
        "space": "measure",
        "sizes": "measure",
        "take-off": "choose",
        "weights": "choose",
    }

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add target and choices."""
        kwargs.setdefault("target_form", TargetForm(instance=self.desk.record, units=self.units))
        kwargs.setdefault("space_form", SpaceForm(instance=self.desk.record, units=self.units))
        weights = self._weights()
        kwargs.setdefault("sizes_form", SizesForm(vehicle=self.desk.record.vehicle, units=self.units))
        return super().get_context_data(
            weighed=[(name, WEIGHT_WORDS[name], round(100 * weight)) for name, weight in weights.items()],
            tried=weights != weights_of(self.desk.job),
            met=MET,
            tolerance=TOLERANCE,
            problem=self.desk.choose_problem,
            baseline_missing=baseline_missing(self.desk.job),
            fitting_on=bool(self.desk.job.parts),
            parts=lazy_parts(self.desk),
            **_cards(self.desk, weights),
            **kwargs,
        )

    def _weights(self) -> dict[str, float]:
        """Return what each criterion counts: as tried on the sliders, else as the job has it."""
        weights = weights_of(self.desk.job)
        for name in weights:
            if f"w-{name}" in self.request.GET:
                weights[name] = min(identity(self.request.GET[f"w-{name}"]), 100) / 100
        return weights

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Set the target, propose a kit, or take one."""
        done = {
            "no-baseline": self._no_baseline,
            "weights": self._keep_weights,
            "sizes": self._sizes,
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

    def _keep_weights(self, request: HttpRequest) -> HttpResponse | None:
        with self.change("choose") as record:
            save_weights(record, {name: min(identity(request.POST.get(f"w-{name}")), 100) / 100 for name in WEIGHTS})
        return None

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

    def _sizes(self, request: HttpRequest) -> HttpResponse | None:
        told = self.take("measure", lambda r: SizesForm(request.POST, vehicle=r.vehicle, units=self.units), save_sizes)
        return self.taken(told, sizes_form=told)

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


def _cards(desk: Desk, weights: dict[str, float]) -> dict[str, Any]:
    """Return the choices by these weights: those that lift, as cards; those that fit and lift nothing; those that are out.

    The odds stand with them once they were worked out; till then the page asks for them when it stands.
    """
    odds = "chances" in desk.__dict__
    usual, chosen = desk.shortlist, desk.job.fitting.kit.code if desk.job.fitting else ""
    if usual is None:
        return {"shortlist": None, "wanted_gain": None, "kept_weights": ""}
    found = by_weights(usual, weights)
    return {
        "shortlist": found, "wanted_gain": -found.target.drop, "kept_weights": f"{weights} {odds}", "odds_later": not odds,
        "chances": desk.chances if odds else None, **_sorted_out(found, chosen, desk.chances if odds else None),
    }  # fmt: skip


def _sorted_out(found: Shortlist, chosen: str, known: Chances | None) -> dict[str, Any]:
    """Return the choices as cards, those that fit and lift nothing, and those that are out; the one chosen is always a card."""
    cards = [c for c in found.choices if c.key == chosen or not (c.out or _still(c))]
    return {
        "rows": SimpleLazyObject(lambda: [_row(c, chosen, found.recommended, known) for c in cards]),
        "still": [c for c in found.choices if _still(c) and not c.out and c.key != chosen],
        "out_choices": [c for c in found.choices if c.out and c.key != chosen],
    }


def _still(choice: Choice) -> bool:
    """Tell whether a choice is a kit that changes no height."""
    return choice.kit is not None and not family_of(choice.kit).lifts


def _row(choice: Choice, chosen: str, recommended: str, found: Chances | None) -> dict[str, Any]:
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
        "setting": _setting_words(choice), **_odds(found.by.get(choice.key) if found else None),
    }  # fmt: skip


def _odds(chance: Chance | None) -> dict[str, Any]:
    """Return the odds of a choice as they are told, in tenths."""
    if chance is None:
        return {"chance": None, "odds": None, "right": None}
    right = in_ten(chance.right) if chance.right >= LEAST_TOLD else None
    return {"chance": chance, "odds": in_ten(chance.within), "right": right}


def _setting_words(choice: Choice) -> list[tuple[str, Quantity, Quantity]]:
    """Return what a choice is set to: words, left, right."""
    fields = family_of(choice.kit).settings if choice.kit else ()
    told = [(f, choice.setting[f.name]) for f in fields if f.name in choice.setting]
    return [(f.words.capitalize(), Quantity(left, f.kind), Quantity(right, f.kind)) for f, (left, right) in told]
