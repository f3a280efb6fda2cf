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

PLACES = {
    "garage": "garage",
    "vehicle-page": "garage",
    "shelf": "shelf",
    "kit": "shelf",
    "kit-edit": "shelf",
    "kit-new": "shelf",
    "benches": "benches",
    "bench": "benches",
    "settings": "settings",
}
"""Where in the header a page stands, by its address's name; whatever belongs to a job stands on the board."""
SHOP = ("shop", "people", "backups", "instruments")


def _here(request: HttpRequest) -> str:
    name = (request.resolver_match.url_name if request.resolver_match else "") or ""
    return "shop" if name in SHOP else PLACES.get(name, "board" if name else "")


def _currency() -> str:
    """Return the sign of the shop's currency; empty before there is a shop."""
    known = Shop.objects.values_list("currency", flat=True).first()
    return dict(CURRENCIES).get(known or "", known or "")


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
        "currency": SimpleLazyObject(_currency),
        "here": _here(request),
    }
