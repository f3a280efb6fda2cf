"""Who may do what: views say which, nothing is open by default."""

from __future__ import annotations

from django.contrib.auth.mixins import UserPassesTestMixin


class DecidersOnly(UserPassesTestMixin):
    """Reading is for all signed in; changing is for technicians and the lead."""

    raise_exception = True

    def test_func(self) -> bool:
        """Allow safe methods to all, changes to those who decide."""
        return self.request.method in ("GET", "HEAD") or self.request.user.may_decide


class LeadsOnly(UserPassesTestMixin):
    """For the lead alone."""

    raise_exception = True

    def test_func(self) -> bool:
        """Allow leads."""
        return self.request.user.may_lead
