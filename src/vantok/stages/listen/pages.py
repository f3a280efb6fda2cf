"""Listen: complaints, words, use."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils.functional import SimpleLazyObject

from vantok.desk.stage import StageView
from vantok.stages.listen.forms import ListenForm
from vantok_core.aims.of_job import hitched
from vantok_core.judge.aimed import apart_said


class Listen(StageView):
    """The customer's complaint and the vehicle's use."""

    stage = "listen"
    rights = "listen"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form."""
        record = self.desk.record
        kwargs.setdefault("form", SimpleLazyObject(lambda: ListenForm(instance=record, **self._known())))
        return super().get_context_data(apart=apart_said(self.desk.job), **kwargs)

    def _known(self) -> dict[str, Any]:
        """Return what the form goes by: the reader's units, whether a trailer hangs on in any state."""
        return {"units": self.units, "hitched": hitched(self.desk.job)}

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Save what was said."""
        form = self.take(lambda record: ListenForm(request.POST, instance=record, **self._known()))
        on = reverse("vehicle" if "on" in request.POST else "listen", args=[pk])
        return self.taken(form, form=form) or HttpResponseRedirect(on)
