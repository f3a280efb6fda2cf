"""A job or a vehicle found by what somebody remembers of it: its number, its name, whose it is, its plate.

No page offers a list of all of them, nor of the first so many: a shop has thousands after ten years, and what is cut off cannot be chosen.
"""

from __future__ import annotations

from typing import Any

from django import forms
from django.core.exceptions import ValidationError
from django.db.models import Case, OuterRef, Q, Subquery, When
from django.urls import reverse
from django.utils.html import format_html
from django.utils.safestring import SafeString

from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job

OFFERED = 8
"""Jobs and vehicles offered to what is typed; who sees too many types on."""
LEAST_TYPED = 2
"""Letters from which something is looked for."""
MANY_VEHICLES = 500
"""Vehicles that are named to the database one by one; more are looked for along with their jobs."""


def vehicles_with(wanted: str) -> Q:
    """Return what vehicles have that a text is part of: of their name, their customer's, their plate or number; all of them for none."""
    named = {f"{name}__icontains": wanted for name in ("label", "customer__name", "plate", "vin")} if wanted else {}
    return Q(**named, _connector=Q.OR)


def jobs_with(wanted: str) -> Q:
    """Return what jobs searched for have, all of them for no text. The vehicles first: they are few, and an index has the jobs' own."""
    if not wanted:
        return Q()
    vehicles = Vehicle.objects.filter(vehicles_with(wanted)).values_list("pk", flat=True)
    few = list(vehicles[: MANY_VEHICLES + 1])
    found = Q(vehicle_id__in=few if len(few) <= MANY_VEHICLES else vehicles)
    return found | Q(number__icontains=wanted) if any(c.isdigit() for c in wanted) else found


def jobs_found(wanted: str) -> list[Job]:
    """Return the jobs to offer for a text, the newest first; without one the newest of all."""
    found = Job.objects.filter(jobs_with(wanted))
    return list(found.select_related("vehicle__customer").order_by("-pk")[:OFFERED])


def job_named(text: str) -> Job | None:
    """Return the job of a number, or the only one that a text finds; None for none, and for several."""
    wanted = text.strip()
    exact = Job.objects.filter(number__iexact=wanted).first() if wanted else None
    if exact is not None or len(wanted) < LEAST_TYPED:
        return exact
    found = Job.objects.filter(jobs_with(wanted)).order_by()[:2]
    return found[0] if len(found) == 1 else None


def vehicles_found(label: str, customer: str, chosen: int = 0) -> list[Vehicle]:
    """Return the vehicles that what is typed may mean, with the day of their last job; the chosen one (its id) first."""
    asked = [text.strip() for text in (label, customer) if len(text.strip()) >= LEAST_TYPED]
    wanted = Q(pk=chosen)
    if not asked and not chosen:
        return []
    if asked:
        wanted |= Q(*(vehicles_with(text) for text in asked))
    last = Job.objects.filter(vehicle=OuterRef("pk")).order_by("-pk").values("opened")[:1]
    newest = (
        Vehicle.objects.filter(wanted).order_by(Case(When(pk=chosen, then=0), default=1), "-pk").values("pk")[:OFFERED]
    )
    told = (
        Vehicle.objects.filter(pk__in=[row["pk"] for row in newest])
        .select_related("customer")
        .annotate(last=Subquery(last))
    )
    return sorted(told.only("label", "plate", "customer__name"), key=lambda one: (one.pk != chosen, -one.pk))


class JobInput(forms.TextInput):
    """A job's number as typed, jobs offered meanwhile to what stands there."""

    def render(self, name: str, value: Any, attrs: Any = None, renderer: Any = None) -> SafeString:
        """Return the field with the list that is filled as one types."""
        told = dict(attrs or {})
        known = f"{told.setdefault('id', f'id_{name}')}-jobs"
        told |= {
            "class": "form-control",
            "list": known,
            "autocomplete": "off",
            "placeholder": "number, vehicle, customer or plate",
            "hx-get": f"{reverse('find-job')}?as={name}",
            "hx-trigger": "focus once, input changed delay:200ms",
            "hx-target": f"#{known}",
            "hx-sync": "this:queue last",
        }
        return format_html('{}<datalist id="{}"></datalist>', super().render(name, value, told, renderer), known)


class JobField(forms.CharField):
    """A job of the shop, by its number or by what finds it alone."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(max_length=120, required=False, widget=JobInput, **kwargs)

    def clean(self, value: Any) -> Job | None:
        """Return the job, None where none was asked for."""
        text = super().clean(value)
        found = job_named(text)
        if text and found is None:
            raise ValidationError(not_one(text))
        return found


def not_one(text: str) -> str:
    """Return what is said of a text that names no job, or several."""
    return f"“{text.strip()[:40]}” finds no job, or several: give the number of one."
