"""Whose practice a job is: at their own, everything of it is the trainee's to do."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from django.http import HttpRequest, HttpResponse

from vantok.records.jobs.models import Job

JOBS = "jobs/<int:pk>/"
"""How the address of everything of a job begins."""


class OwnPractice:
    """Tells the person of a request how to find out whether it is of their own practice job; it is asked only where their role does not suffice."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass it on."""
        return self.get_response(request)

    def process_view(self, request: HttpRequest, view: Any, args: Any, kwargs: Any) -> None:
        """Note it with the person."""
        found = request.resolver_match
        if request.user.is_authenticated and found is not None and found.route.startswith(JOBS):
            request.user.own_practice = partial(is_own, request.user.pk, kwargs["pk"])


def is_own(person: int, pk: int) -> bool:
    """Tell whether a job is a practice job of a person, still under way."""
    return Job.every.filter(pk=pk, practice=True, run__person=person, run__handed_in=None).exists()
