"""What the lead looks back on: sign-ins, refused ones too, acts that are the lead's alone, and what was refused to whom."""

from __future__ import annotations

import logging
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, cast

from axes.models import AccessAttempt, AccessLog
from django.db import DatabaseError, OperationalError, connection
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django.views.generic import TemplateView

from vantok.people.models import Act, Role, User
from vantok.people.rights import RIGHTS

log = logging.getLogger(__name__)
KEPT = timedelta(days=730)
SHOWN = 300


def note(request: HttpRequest, response: HttpResponse, right: str) -> None:
    """Note a post that took a right of the lead's alone, or was refused for want of one; where that cannot be stored the log has it."""
    refused = response.status_code == 403
    known = RIGHTS.get(right)
    if not refused and (known is None or known.least != Role.LEAD or response.status_code >= 400):
        return
    action = request.POST.get("action", "")[:30]
    try:
        Act.objects.create(
            by=cast("User", request.user), right=right[:30], action=action, path=request.path[:200], refused=refused
        )
    except DatabaseError:
        log.exception("not noted: %s %s %s refused=%s", request.user, right, request.path, refused)


def forget_old() -> int:
    """Take off acts older than are kept; return how many."""
    try:
        return Act.objects.filter(at__lt=timezone.now() - KEPT).delete()[0]
    except OperationalError:
        return 0  # the database was busy: the next time
    finally:
        connection.close()


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """A line of the page: when, who, what, where, and whether it was refused."""

    at: datetime
    who: str
    what: str
    path: str = ""
    refused: bool = False


def lines(most: int = SHOWN) -> list[Line]:
    """Return the last lines, newest first."""
    acts = [
        Line(at=one.at, who=str(one.by), what=_words(one), path=one.path, refused=one.refused)
        for one in Act.objects.select_related("by")[:most]
    ]
    signed = [
        Line(at=one.attempt_time, who=one.username or "?", what="signed in")
        for one in AccessLog.objects.order_by("-pk")[:most]
    ]
    tried = [
        Line(
            at=one.attempt_time,
            who=(one.username or "?")[:40],
            what=f"sign-in failed {one.failures_since_start} times"
            if one.failures_since_start > 1
            else "sign-in failed",
            refused=True,
        )
        for one in AccessAttempt.objects.order_by("-pk")[:most]
    ]
    return sorted((*acts, *signed, *tried), key=lambda line: line.at, reverse=True)[:most]


def _words(act: Act) -> str:
    known = RIGHTS.get(act.right)
    words = known.words if known else "something nobody may do"
    return f"{words}: {act.action.replace('-', ' ')}" if act.action else words


class Audit(TemplateView):
    """The page of it, for the lead."""

    template_name = "people/audit.html"
    seen_by = "shop"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the lines."""
        return super().get_context_data(lines=lines(), kept=KEPT.days // 365, **kwargs)
