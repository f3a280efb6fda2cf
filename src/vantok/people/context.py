"""What every page knows."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.http import HttpRequest

from vantok.backup.views import banner as backup_banner
from vantok.people.gate import by_script
from vantok.people.models import User
from vantok.people.rights import RIGHTS, may


def shop(request: HttpRequest) -> dict[str, Any]:
    """Return the reader's units, what they may do, and whether this is the demo."""
    person = getattr(request, "user", None)
    can = {right for right in RIGHTS if may(person, right)} if isinstance(person, User) else set()
    banner = backup_banner(person) if isinstance(person, User) and not by_script(request) else ""
    return {
        "banner": banner,
        "units": getattr(person, "units", "metric") or "metric",
        "can": can,
        "demo": settings.DEMO,
    }
