"""Who may do what: views say which, nothing is open by default."""

from __future__ import annotations

from typing import cast

from django.contrib.auth.mixins import UserPassesTestMixin
from django.http import HttpRequest

from vantok.people.models import User


class DecidersOnly(UserPassesTestMixin):
    """Reading is for all signed in; changing is for technicians and the lead."""

    request: HttpRequest
    raise_exception = True

    def test_func(self) -> bool:
        """Allow safe methods to all, changes to those who decide."""
        return self.request.method in ("GET", "HEAD") or cast("User", self.request.user).may_decide
