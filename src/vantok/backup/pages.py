"""The lead's page of backups, and the banner when the last good one is old."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any, cast

from django.conf import settings
from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.views.generic import TemplateView

from vantok.backup.archive import BackupError, last, make
from vantok.backup.daily import DAYS, MONTHS, WEEKS, second_folder, second_said
from vantok.people.models import User
from vantok.people.rights import may

OLD = timedelta(days=2)


def banner(person: User) -> str:
    """Return what the lead is told on every page: empty while the last good backup is young, and copied where a second folder is named."""
    if settings.DEMO or not may(person, "shop"):
        return ""
    known = last(settings.VAR)
    if known is None:
        young = datetime.now(UTC) - person.date_joined < OLD
        return "" if young else "The shop has never been backed up."
    age = datetime.now(UTC) - cast("datetime", known["at"])
    return f"The last good backup is {age.days} days old." if age > OLD else second_said(settings.VAR)


class Backups(TemplateView):
    """When the shop was last backed up, and doing it now."""

    template_name = "backup/page.html"
    rights = seen_by = "shop"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the last good one."""
        return super().get_context_data(
            last=last(settings.VAR),
            folder=settings.VAR / "backups",
            second=second_folder(),
            second_wrong=second_said(settings.VAR),
            by_itself=not settings.DEMO,
            kept=(DAYS, WEEKS, MONTHS),
            **kwargs,
        )

    def post(self, request: HttpRequest) -> HttpResponse:
        """Back up now."""
        try:
            made = make(settings.VAR, settings.VAR / "backups")
        except BackupError as error:
            messages.error(request, f"No backup was made. {error}")
        else:
            messages.success(request, f"Backed up: {made.path.name}, every checksum read back.")
        return HttpResponseRedirect(reverse("backups"))
