"""Every post is taken once: what a form or a browser's entry sends carries a name of its own, and what was stored under it is not stored again.

One place for every page, those not yet written too: `{% csrf_token %}` puts the name into each form, the sending script puts
it into a header, and the first thing a request writes is preceded, in the same transaction, by its name. A name with another
content is another post (somebody went Back and corrected the form); the same name with the same content is the same post.
"""

from __future__ import annotations

import hashlib
import re
import secrets
from collections import OrderedDict
from collections.abc import Callable
from contextlib import ExitStack
from dataclasses import dataclass, field
from datetime import timedelta
from threading import Event, Lock
from typing import Any

from django.db import IntegrityError, OperationalError, connection, transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from vantok.people.models import Taken

FIELD = "once"
"""The hidden field's name."""
HEADER = "X-Vantok-Token"
LONGEST = 60
"""Characters of a name that are looked at."""
KEPT = timedelta(days=120)
"""How long a name is kept: an entry may wait in a browser for weeks."""
WAIT = 20.0
"""How long the second of two like posts waits for what the first is answered, s."""
WRITES = re.compile(
    r'\s*(INSERT|UPDATE|DELETE|REPLACE)\b(?!.{0,20}"?(django_session|axes_|people_taken|people_act))', re.I | re.S
)
"""Statements that store something of the shop's; sessions and failed sign-ins are none."""
REMEMBERED = 2000
FAILED = 500
"""Answers from here on say that the program failed: nothing of the request stands."""


class AlreadyTakenError(Exception):
    """The same post was stored by another request meanwhile."""


@dataclass(slots=True, eq=False)
class Once:
    """A post's name, what it says, and how it was answered."""

    name: str
    body: str
    ready: Event = field(default_factory=Event)
    led: str = ""
    kept: bool = False

    @property
    def stored(self) -> bool:
        """Whether its name is stored already."""
        return Taken.objects.filter(name=self.name, body=self.body).exists()

    def note(self) -> None:
        """Store the name before what it stands for; a rollback takes both. Raises AlreadyTakenError where it stands already."""
        if self.kept or any(call == self._keep for _, call, *_ in connection.run_on_commit):
            return  # it stands, or does once this transaction does; a rollback takes the mark off with it
        try:
            with transaction.atomic():
                Taken.objects.create(name=self.name, body=self.body)
        except IntegrityError as error:
            raise AlreadyTakenError from error
        transaction.on_commit(self._keep)

    def _keep(self) -> None:
        """Note that the name is committed."""
        self.kept = True


_lock = Lock()
_known: OrderedDict[tuple[str, str], Once] = OrderedDict()
"""Posts of late, under way or answered, by name and content."""


def fresh() -> str:
    """Return a new name for a form."""
    return secrets.token_urlsafe(12)


def of(request: HttpRequest) -> tuple[str, str]:
    """Return a post's name (empty: it has none) and a digest of its content, the browser's own tokens left out."""
    name = (request.POST.get(FIELD) or request.headers.get(HEADER, ""))[:LONGEST]
    if not name:
        return "", ""
    found = hashlib.sha256(request.path.encode())
    for key, values in sorted(request.POST.lists()):
        if key not in (FIELD, "csrfmiddlewaretoken"):
            found.update(repr((key, values)).encode())
    for key, uploads in sorted(request.FILES.lists()):
        for upload in uploads:
            found.update(repr((key, upload.name, upload.size)).encode())
            for chunk in upload.chunks():
                found.update(chunk)
            upload.seek(0)
    found.update(str(request.user.pk).encode())
    return name, found.hexdigest()


def begin(request: HttpRequest) -> str | None:
    """Begin a post: None where it is to be carried out; else the page that the same one, taken before, led to."""
    name, body = of(request)
    if not name:
        return None
    with _lock:
        known = _known.get((name, body))
        if known is None:
            mine = _known[(name, body)] = Once(name, body)
            while len(_known) > REMEMBERED:
                _known.popitem(last=False)
    if known is not None:
        known.ready.wait(WAIT)
        if known.led or known.stored:
            return known.led or request.path
        mine = known  # it was refused, or failed: this one tries anew
    elif mine.stored:
        return request.path
    mine.ready.clear()
    request.once = mine  # type: ignore[attr-defined]
    return None


def end(request: HttpRequest, response: HttpResponse) -> None:
    """Note how a post was answered, for those that wait for it and those that come again."""
    mine: Once | None = getattr(request, "once", None)
    if mine is None:
        return
    if response.status_code in (301, 302, 303):
        mine.led = response["Location"]
    mine.ready.set()


def carry_out(request: HttpRequest, get_response: Callable[[HttpRequest], HttpResponse]) -> HttpResponse:
    """Answer a request. Its name is put before the first thing it writes, in the same transaction; what a page writes outside one stands or falls together."""
    failed = True

    def settle() -> None:
        if failed:
            transaction.set_rollback(True)

    with ExitStack() as opened:

        def run(execute: Callable[..., Any], sql: str, params: Any, many: bool, context: dict[str, Any]) -> Any:
            mine: Once | None = getattr(request, "once", None)
            if mine is None or not WRITES.match(sql):
                return execute(sql, params, many, context)
            if not connection.in_atomic_block:
                opened.enter_context(transaction.atomic())
                opened.callback(settle)
            mine.note()
            return execute(sql, params, many, context)

        with connection.execute_wrapper(run):
            response = get_response(request)
        failed = response.status_code >= FAILED
    return response


def forget_old() -> int:
    """Take off names older than any entry that may still come; return how many."""
    try:
        return Taken.objects.filter(at__lt=timezone.now() - KEPT).delete()[0]
    except OperationalError:
        return 0  # the database was busy: the next time
    finally:
        connection.close()


def forget_all() -> None:
    """Forget the posts of late; their names stand in the database."""
    with _lock:
        _known.clear()
