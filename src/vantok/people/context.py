"""What every page knows."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.http import HttpRequest


def shop(request: HttpRequest) -> dict[str, Any]:
    """Return the reader's units and whether this is the demo."""
    return {"units": getattr(request.user, "units", "metric") or "metric", "demo": settings.DEMO}
