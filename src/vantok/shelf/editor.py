"""Entering a kit and changing one, its curve or table plotted as it is typed."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, ClassVar

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.views.generic import TemplateView

from vantok.drawing.curve import curve_svg
from vantok.records.shelf.models import KitRecord
from vantok.shelf.forms import GENERAL, TYPED, KitForm, words_of
from vantok_core.base.units import System
from vantok_core.kits.curves import curves
from vantok_core.kits.family import Family
from vantok_core.kits.registry import FAMILIES


def plots(family: Family[Any], own: Mapping[str, Any], units: System) -> list[dict[str, Any]]:
    """Return a drawing for each curve or table of a kit's own data, as far as there are points."""
    return [
        {"name": words_of(name), "svg": curve_svg(curves(own, name, one), one.columns, units)}
        for name, one in family.typed.items()
        if one.shape != "list" and own.get(name)
    ]


class KitEditor(TemplateView):
    """A kit entered or changed; asked for by a script, only its plot or what is wrong."""

    template_name = "shelf/edit.html"
    rights: ClassVar[str] = "shelf"

    def _form(self, data: Any = None) -> tuple[KitForm, KitRecord | None]:
        code, units = self.kwargs.get("code"), self.request.user.units  # type: ignore[union-attr]
        record = get_object_or_404(KitRecord, code=code) if code else None
        family = record.family if record else self.request.GET.get("family", next(iter(FAMILIES)))
        if family not in FAMILIES:
            raise Http404
        return KitForm(data, family=family, kit=record.to_core() if record else None, units=units), record

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form, by what its fields are of."""
        form, record = kwargs.pop("made", None) or self._form()
        own = [name for name in form.fields if name not in GENERAL and name != "code"]
        shown: Iterable[Any] = plots(form.family, form.kit.own, form.told_in) if form.kit else ()
        return super().get_context_data(
            form=form,
            record=record,
            family=form.family,
            families=[(key, f.words) for key, f in FAMILIES.items()],
            own=[form[name] for name in own],
            general=[form[name] for name in form.fields if name not in (*own, *TYPED)],
            sheet=[form[name] for name in TYPED],
            plots=shown,
            **kwargs,
        )

    def post(self, request: HttpRequest, **kwargs: Any) -> HttpResponse:
        """Store the kit, or show what is wrong with it; a script gets the plot of what is typed."""
        form, record = self._form(request.POST)
        holds = form.is_valid()
        if request.GET.get("plot"):
            return self.response_class(
                request,
                ["shelf/plots.html"],
                {
                    "plots": plots(form.family, form.so_far, form.told_in),
                    "faults": _faults(form),
                    "units": form.told_in,
                },
            )
        if holds and record is None and KitRecord.objects.filter(code=form.made.code if form.made else "").exists():
            form.add_error("code", "A kit of this code is on the shelf already.")
        if form.errors or form.made is None:
            return self.render_to_response(self.get_context_data(made=(form, record)), status=409 if form.met else 422)
        with transaction.atomic():
            row = record or KitRecord()
            row.data = form.made.model_dump(mode="json", exclude_none=True)
            row.clean()
            row.save()
        messages.success(request, f"{row.name} is on the shelf. Jobs keep the copy they were given.")
        return HttpResponseRedirect(reverse("kit", args=[row.code]))


def _faults(form: KitForm) -> list[str]:
    """Return what is wrong of what is typed, each with its field; what is still empty is no fault yet."""
    return [
        f"{form.fields[name].label if name in form.fields else ''} {error}".strip()
        for name, errors in form.errors.items()
        for error in errors
        if not form.has_error(name, "required")
    ]
