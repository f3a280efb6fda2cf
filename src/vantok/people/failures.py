"""What is said when something cannot be: error pages of the program's own, each with a way back, and busy or full disks in words."""

from __future__ import annotations

import errno
import logging
import sqlite3
from collections.abc import Callable
from pathlib import Path
from urllib.parse import quote

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.db import DatabaseError, OperationalError, connection
from django.http import Http404, HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.shortcuts import render
from django.utils.html import format_html
from pydantic import ValidationError as NotHeld

from vantok.people.gate import REFUSED, SAID, by_script
from vantok.people.rights import RefusedError
from vantok_core.base.check import first_fault
from vantok_core.base.errors import VantokError
from vantok_core.base.work import TooMuchWorkError

log = logging.getLogger(__name__)
BUSY = "Another program holds the database just now. Nothing of this was stored."
FULL = "The disk is full: nothing of this was stored, and nothing more can be until there is room."
READ_ONLY = "The data folder cannot be written to: nothing of this was stored. The lead looks at the folder's rights and the disk."
GONE = "The data folder is not where it was. Nothing is written anywhere else; put it back and start the program again."


def said(request: HttpRequest, status: int, title: str, sentence: str) -> HttpResponse:
    """Return an error page with a sentence and a way back; a script gets the sentence in a header as well."""
    context = {"title": title, "sentence": sentence, "back": _back(request)}
    if by_script(request):
        answer = HttpResponse(format_html('<p class="error page-said" role="alert">{}</p>', sentence), status=status)
        answer[SAID] = quote(sentence)
        if status < 500 and request.method == "POST":
            answer[REFUSED] = "refused"
        return answer
    try:
        return render(request, "people/said.html", context, status=status)
    except DatabaseError:  # the page's own head asks the database who is signed in: say it without
        return _plain(status, title, sentence, context["back"])


def _plain(status: int, title: str, sentence: str, back: str) -> HttpResponse:
    """Return an error page that asks nothing of the database."""
    return HttpResponse(format_html(BARE, title, title, sentence, back), status=status, headers={SAID: quote(sentence)})


BARE = (
    '<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{} · Vantok</title></head><body><h1>{}</h1>'
    '<p>{}</p><p><a href="{}">Try again</a></p></body></html>'
)


def _back(request: HttpRequest) -> str:
    """Return where to go back to: the page a form stood on, else the board."""
    if request.method == "POST" and request.path.startswith("/jobs/"):
        return request.get_full_path()
    return "/"


def trouble(error: BaseException | None) -> tuple[int, str, str] | None:
    """Return status, title and sentence of a failing disk or database; None for any other error."""
    while error is not None:
        for signs, found in TROUBLES:
            if signs & _signs(error):
                return found
        error = error.__cause__ or error.__context__
    return None


TROUBLES = (
    ({errno.ENOSPC, errno.EDQUOT, "full"}, (507, "The disk is full", FULL)),
    ({errno.EROFS, errno.EACCES, errno.EPERM, "readonly", "i/o"}, (507, "Nothing can be written", READ_ONLY)),
    ({"locked", "busy"}, (503, "The database is busy", BUSY)),
    ({"open", "table:"}, (507, "The data folder is gone", GONE)),
)
"""What an error's number, or a word of the database's message, comes to."""


def _signs(error: BaseException) -> set[int | str]:
    if isinstance(error, (OperationalError, sqlite3.OperationalError)):
        return set(str(error).lower().split())
    return {error.errno} if isinstance(error, OSError) and error.errno is not None else set()


class Failures:
    """Turns a failing disk or database, and what the core refuses, into words, wherever in a request it comes up."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass the request on; HEAD gets the head alone."""
        if not Path(connection.settings_dict["NAME"]).exists():
            return _plain(507, "The data folder is gone", GONE, _back(request))
        if int(request.META.get("CONTENT_LENGTH") or 0) > settings.MOST_BODY:
            return _plain(413, "Too large", "That is more than this program takes at once. Nothing was stored.", "/")
        try:
            response = self.get_response(request)
        except (DatabaseError, OSError) as error:  # in the middleware below: sessions, sign-in
            found = trouble(error)
            if found is None:
                raise
            log.error("%s: %s", found[1], error)
            response = said(request, *found)
        if request.method == "HEAD" and not response.streaming:
            length = len(response.content)
            response.content = b""
            response["Content-Length"] = str(length)
        return response

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        """Say a failing disk or database, or what the core refuses, in words."""
        if isinstance(error, RequestDataTooBig):
            return said(request, 413, "Too large", "That is more than this program takes at once. Nothing was stored.")
        if isinstance(error, TooMuchWorkError):
            log.error("%s took more than %s s of work", request.path, settings.MOST_WORK)
            return said(request, 503, "Too much at once", str(error))
        if isinstance(error, VantokError) or (isinstance(error, NotHeld) and request.method == "POST"):
            # what the core refuses was rolled back with its change
            sentence = first_fault(error) if isinstance(error, NotHeld) else str(error)
            return said(request, 422, "That cannot be", sentence)
        found = trouble(error)
        if found is None:
            return None
        log.error("%s: %s", found[1], error)
        return said(request, *found)


def bad_request(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """400: what came in cannot be read at all."""
    if isinstance(exception, RequestDataTooBig):
        return said(request, 413, "Too large", "That is more than this program takes at once. Nothing was stored.")
    return said(request, 400, "That could not be read", "What the browser sent cannot be read. Nothing was changed.")


def forbidden(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """403: a sentence for whoever may not."""
    sentence = str(exception) if isinstance(exception, RefusedError) else "Nobody may do that here."
    return said(request, 403, "That is not yours to do", sentence)


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """404: nothing there."""
    told = (
        exception.args[0]
        if isinstance(exception, Http404) and exception.args and isinstance(exception.args[0], str)
        else ""
    )
    told = "" if told.startswith("No ") and told.endswith(" given query.") else told
    return said(request, 404, "Nothing is there", told or "There is nothing at this address, or it is gone.")


def server_error(request: HttpRequest) -> HttpResponse:
    """500: the program's own fault."""
    sentence = "The program failed at this; the fault is in its log. Nothing was stored by it, and what was stored before stands."
    return said(request, 500, "That went wrong", sentence)


def stale_form(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Return what is said of a form from before another sign-in: the script takes the fresh token and sends again; a person is told to."""
    answer = said(
        request,
        403,
        "This page is from before",
        "Somebody signed in since this page was shown. Go back, load it anew, and save again.",
    )
    if by_script(request):
        answer["X-Vantok-CSRF"] = get_token(request)
        del answer[REFUSED]
    return answer
