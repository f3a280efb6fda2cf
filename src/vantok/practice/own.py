"""Whose practice a job is: at their own, everything of it is the trainee's to do."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from django.http import HttpRequest, HttpResponse

from vantok.people.rights import RefusedError
from vantok.records.jobs.models import Job

PAPERS = (
    "job-file",
    "archive",
    "report-pdf",
    "quote-pdf",
    "card-pdf",
    "label",
    "label-pdf",
    "care",
    "care-pdf",
    "care-ics",
    "road-file",
)
"""What leaves the shop of a job of the shop's."""
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
            if found.url_name in PAPERS and Job.every.filter(pk=kwargs["pk"], practice=True).exists():
                raise RefusedError("A practice job leaves no papers: no file, no report, no label, no care sheet.")


def is_own(person: int, pk: int) -> bool:
    """Tell whether a job is a practice job of a person, still under way."""
    return Job.every.filter(pk=pk, practice=True, run__person=person, run__handed_in=None).exists()
