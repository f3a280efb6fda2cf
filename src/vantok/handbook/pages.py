"""The handbook's pages, and its words for the search that works without a connection."""

from __future__ import annotations

import json
from functools import cache
from typing import TYPE_CHECKING, Any, cast

from django.http import Http404, HttpRequest, HttpResponse
from django.urls import reverse
from django.views import View
from django.views.generic import TemplateView

from vantok.handbook.entries import KINDS, entries
from vantok_core.base.words import WORDS

if TYPE_CHECKING:
    from vantok.people.models import User
    from vantok_core.base.units import System


class Handbook(TemplateView):
    """Every page by kind, and every word with its other names."""

    template_name = "handbook/list.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add pages and words."""
        by_kind = [(words, [one for one in entries().values() if one.kind == kind]) for kind, words in KINDS.items()]
        words = [(*one[:3], entries()[_place(one[3])]) for one in sorted(WORDS, key=lambda word: word[0].lower())]
        return super().get_context_data(by_kind=by_kind, words=words, **kwargs)


class HandbookPage(TemplateView):
    """A page of it."""

    template_name = "handbook/entry.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the page asked for; 404 for one that is not there."""
        found = entries().get((kwargs["kind"], kwargs["key"]))
        if found is None:
            raise Http404
        return super().get_context_data(
            entry=found,
            svg=found.draw(cast("System", cast("User", self.request.user).units)),
            kind_words=KINDS[found.kind],
            **kwargs,
        )


class Words(View):
    """All titles and words as one file, which the device keeps."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """Send the file."""
        return HttpResponse(_file(), content_type="application/json")


def _place(told: str) -> tuple[str, str]:
    kind, _, key = told.partition("/")
    return kind, key


@cache
def _file() -> str:
    pages = [[one.title, KINDS[one.kind], one.lead, _address(one.kind, one.key)] for one in entries().values()]
    return json.dumps(pages + [[word, other, what, _address(*_place(at))] for word, other, what, at in WORDS])


def _address(kind: str, key: str) -> str:
    return reverse("handbook-page", args=[kind, key])
