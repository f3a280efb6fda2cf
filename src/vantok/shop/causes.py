"""What usually lies behind a complaint in this shop: the lead puts the shop's own weights in place of the program's."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.db import transaction
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.views.generic import TemplateView

from vantok.fields.seen import SeenForm
from vantok.people.models import Shop
from vantok_core.judge.diagnose.causes import EVIDENCE, OWN, table


class CausesForm(SeenForm):
    """A field for each weight; one left empty stands as the program has it."""

    def __init__(self, *args: Any, own: dict[str, dict[str, float]], **kwargs: Any) -> None:
        self.told = own
        super().__init__(*args, **kwargs)

    def settle(self) -> None:
        """Make the fields, then hold them against what was seen."""
        told, own = table(), self.told
        for kind, rows in (
            ("usual", {k: (one["words"], one["usual"]) for k, one in told["causes"].items()}),
            ("evidence", {k: (words, told["evidence"][k]) for k, words in EVIDENCE.items()}),
            ("minutes", {k: (one["words"], one["minutes"]) for k, one in told["tests"].items()}),
        ):
            low, high = OWN[kind]
            for key, (words, first) in rows.items():
                self.fields[f"{kind}-{key}"] = forms.FloatField(
                    label=words,
                    required=False,
                    min_value=low,
                    max_value=high,
                    initial=own.get(kind, {}).get(key),
                    widget=forms.TextInput(
                        attrs={"class": "form-control tape", "placeholder": f"{first:g}", "inputmode": "decimal"}
                    ),
                )
        super().settle()

    def of(self, kind: str) -> list[forms.BoundField]:
        """Return the fields of a kind of weight."""
        return [self[name] for name in self.fields if name.startswith(f"{kind}-")]

    @property
    def usual(self) -> list[forms.BoundField]:
        """How often each cause is behind a complaint."""
        return self.of("usual")

    @property
    def evidence(self) -> list[forms.BoundField]:
        """By how much each kind of evidence shifts a cause."""
        return self.of("evidence")

    @property
    def minutes(self) -> list[forms.BoundField]:
        """How long each test takes."""
        return self.of("minutes")

    def own(self) -> dict[str, dict[str, float]]:
        """Return what was entered, by kind."""
        found: dict[str, dict[str, float]] = {}
        for name, value in self.cleaned_data.items():
            kind, _, key = name.partition("-")
            if value is not None:
                found.setdefault(kind, {})[key] = value
        return found


class Causes(TemplateView):
    """The shop's own weights."""

    template_name = "people/causes.html"
    rights = "shop"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form."""
        own = Shop.objects.values_list("odds", flat=True).first() or {}
        kwargs.setdefault("form", CausesForm(own=own))
        return super().get_context_data(**kwargs)

    def post(self, request: HttpRequest) -> HttpResponse:
        """Store them; every job's causes follow."""
        with transaction.atomic():
            shop = Shop.objects.first() or Shop(name="The shop")
            form = CausesForm(request.POST, own=shop.odds or {})
            if form.is_valid():
                shop.odds = form.own()
                shop.save()
        if form.errors:
            return self.render_to_response(self.get_context_data(form=form), status=409 if form.met else 422)
        messages.success(request, "Saved: the causes on every job follow.")
        return HttpResponseRedirect(reverse("causes"))
