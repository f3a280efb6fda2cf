"""The gate every request passes: what may be changed by whom, what a signed-out script is told, and what nobody may keep.

Deny by default: a view that is not open to strangers and does not name the right of an action cannot be posted to.
"""

from __future__ import annotations

from collections.abc import Callable
from time import time
from typing import Any, cast
from urllib.parse import quote

from django.conf import settings
from django.contrib.auth import logout
from django.contrib.auth.middleware import LoginRequiredMiddleware
from django.contrib.messages import ERROR
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.middleware.csrf import get_token
from django.utils.cache import add_never_cache_headers, patch_vary_headers

from vantok.people import audit, once
from vantok.people.models import Role
from vantok.people.rights import RIGHTS, RefusedError, demand, may
from vantok_core.base.work import limited

SAFE = ("GET", "HEAD", "OPTIONS")
OPEN = ("sign-in", "sign-out", "first-run")
"""Addresses that carry no right: they are for strangers, or for leaving."""
SCRIPT = once.HEADER
"""The sending room's name for an entry; a request that carries it wants headers and a part of a page, never a redirect."""
SAID = "X-Vantok-Said"
STORED, NEXT, REFUSED, SIGN_IN = "X-Vantok-Stored", "X-Vantok-Next", "X-Vantok-Refused", "X-Vantok-Sign-In"
KEEP = "X-Vantok-Keep"
"""Marks a page that the device keeps, to open it again without a connection (`offline.js`)."""
PERSON = "X-Vantok-Person"
"""Who typed an entry, by id."""
LOOKED_EVERY = 60.0
"""How often a session notes that its person is still there, s."""


def by_script(request: HttpRequest) -> bool:
    """Tell whether a request comes from the page's script, which shows answers in place."""
    return SCRIPT in request.headers or request.headers.get("HX-Request") == "true"


def right_of(view_class: Any, action: str) -> str | None:
    """Return the right that posting an action to a view takes, None where the view names none."""
    rights = getattr(view_class, "rights", None)
    if isinstance(rights, dict):
        return cast("str | None", rights.get(action, rights.get("*")))
    return rights


def _refusal(request: HttpRequest) -> str:
    """Return what a page says against a post, taken off what the next page would say; empty where it says nothing against it."""
    waiting = getattr(getattr(request, "_messages", None), "_queued_messages", [])
    told = [str(m.message) for m in waiting if m.level == ERROR]
    if told:
        waiting.clear()
    return " ".join(told)


def looks_only(request: HttpRequest) -> str:
    """Return why a person may only look at the page they asked for: none of what it stores is theirs to do. Empty where something is, and on a job's
    stages, whose forms are of many rights and ask for them one by one."""
    view = getattr(request.resolver_match.func, "view_class", None) if request.resolver_match else None
    rights = None if hasattr(view, "stage") else getattr(view, "rights", None)
    asked = set(rights.values()) if isinstance(rights, dict) else {rights} if rights else set()
    if not asked or not request.user.is_authenticated or any(may(request.user, right) for right in asked):
        return ""
    known = RIGHTS[min(asked)]
    return f"{known.words.capitalize()} is for {'the lead' if known.least == Role.LEAD else 'a technician or the lead'}: you can look."


class SignedIn(LoginRequiredMiddleware):
    """Sends strangers to the sign-in page; a script is told so by a header, since it cannot show a page in a cell."""

    def handle_no_permission(self, request: HttpRequest, view_func: Any) -> HttpResponse:  # type: ignore[override]
        """Return the way to the sign-in page."""
        if by_script(request):
            return HttpResponse(status=401, headers={SIGN_IN: "1"})
        return super().handle_no_permission(request, view_func)


class Gate:
    """Ends idle sessions, asks the table of rights before any change, and marks what is stored."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass the request on, unless its session has been idle for too long."""
        self._watch(request)
        told = request.headers.get(PERSON)
        if told and request.user.is_authenticated and told != str(request.user.pk):
            return HttpResponse(
                status=401, headers={SIGN_IN: "other"}
            )  # an entry is stored for whoever typed it, or waits
        with limited(settings.MOST_WORK):
            response = once.carry_out(request, self.get_response)
        once.end(request, response)
        if (right := getattr(request, "vantok_right", None)) is not None:
            audit.note(request, response, right)
        if request.user.is_authenticated:
            self._mark(request, response)
        return response

    def _watch(self, request: HttpRequest) -> None:
        """Sign out a session nobody has touched for too long; a page that only polls is not touched."""
        if not request.user.is_authenticated:
            return
        now, last = time(), request.session.get("at")
        if last is not None and now - last > settings.IDLE_SECONDS:
            logout(request)
            return
        polls = request.headers.get("HX-Trigger") in ("watch", "instruments")
        if last is None or (not polls and not 0.0 <= now - last < LOOKED_EVERY):
            request.session["at"] = now

    def _mark(self, request: HttpRequest, response: HttpResponse) -> None:
        if not response.has_header("Cache-Control"):
            add_never_cache_headers(response)
            response["Cache-Control"] = "no-store, private"
        patch_vary_headers(response, ("HX-Request", SCRIPT))
        view = getattr(request.resolver_match.func, "view_class", None) if request.resolver_match else None
        if getattr(view, "opens_offline", False) and request.method == "GET" and response.status_code == 200:
            response[KEEP] = str(request.user.pk)
        token = request.headers.get(SCRIPT, "")
        if not token:
            return
        response["X-Vantok-CSRF"] = get_token(request)
        if response.status_code == 302 and request.method == "POST" and (said := _refusal(request)):
            response[REFUSED], response[SAID] = (
                "said",
                quote(said),
            )  # a page that says why and goes back has stored nothing
            del response["Location"]
            response.status_code, response.content = 422, b""
        if response.status_code == 302 and request.method == "POST" and not response.has_header(REFUSED):
            response[NEXT], response[STORED] = response["Location"], token
            del response["Location"]
            response.status_code, response.content = 204, b""

    def process_view(self, request: HttpRequest, view_func: Any, args: Any, kwargs: Any) -> HttpResponse | None:
        """Ask for the right of looking at a page that is not everybody's, and of what is about to be done."""
        if not request.user.is_authenticated:
            return None
        view, posts = getattr(view_func, "view_class", None), request.method not in SAFE
        name = request.resolver_match.url_name if request.resolver_match else None
        right = right_of(view, request.POST.get("action", "")) if posts and name not in OPEN else None
        if posts and name not in OPEN:
            request.vantok_right = right or ""  # type: ignore[attr-defined]
        if asked := getattr(view, "seen_by", ""):
            demand(request.user, asked)
        if not posts or name in OPEN:
            return None
        if right is None:
            raise RefusedError("Nobody may do that here.")
        demand(request.user, right)
        led = None if getattr(view, "answers_again", False) else once.begin(request)
        if led is None:
            return None
        del request.vantok_right  # type: ignore[attr-defined] # it was done, and noted, before
        return HttpResponseRedirect(led)

    def process_template_response(self, request: HttpRequest, response: Any) -> Any:
        """Answer a form that was not taken as one: by 422, whichever page forgot to say so."""
        form = (response.context_data or {}).get("form")
        if (
            request.method == "POST"
            and response.status_code == 200
            and form is not None
            and getattr(form, "is_bound", False)
            and form.errors
        ):
            response.status_code = 422
        return response

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        """Answer a post that another request has stored meanwhile as that one was answered."""
        return HttpResponseRedirect(request.path) if isinstance(error, once.AlreadyTakenError) else None
