"""What every page knows."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.http import HttpRequest
from django.utils.functional import SimpleLazyObject

from vantok.backup.pages import banner as backup_banner
from vantok.people.gate import by_script
from vantok.people.models import CURRENCIES, Shop, User
from vantok.people.rights import RIGHTS, may

ROOMS = {one: one for one in ("garage", "shelf", "benches", "practice", "settings", "help")} | dict.fromkeys(
    ("shop", "people", "backups", "instruments"), "shop"
)
"""Where in the header a page stands, by how its address begins; whatever belongs to a job stands on the board."""


def _here(request: HttpRequest) -> str:
    found = request.resolver_match
    if found and (found.url_name or "").startswith("bay-"):
        return "practice"
    return ROOMS.get(found.route.partition("/")[0], "board") if found else ""


def _currency() -> str:
    """Return the sign of the shop's currency; empty before there is a shop."""
    known = Shop.objects.values_list("currency", flat=True).first()
    return dict(CURRENCIES).get(known or "", known or "")


def shop(request: HttpRequest) -> dict[str, Any]:
    """Return the reader's units, what they may do, and whether this is the demo, by day or by night."""
    person = getattr(request, "user", None)
    can = {right for right in RIGHTS if may(person, right)} if isinstance(person, User) else set()
    banner = backup_banner(person) if isinstance(person, User) and not by_script(request) else ""
    return {
        "banner": banner,
        "units": getattr(person, "units", "metric") or "metric",
        "can": can,
        "demo": settings.DEMO,
        "lit": request.COOKIES.get("vantok_look", ""),
        "currency": SimpleLazyObject(_currency),
        "here": _here(request),
    }
