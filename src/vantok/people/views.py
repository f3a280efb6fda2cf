"""Sign-in page and one's own settings."""

from __future__ import annotations

from typing import cast

from django.contrib import messages
from django.contrib.auth.views import LoginView
from django.forms import ModelForm
from django.http import HttpResponse
from django.urls import reverse_lazy
from django.views.generic import UpdateView

from vantok.people.models import User


class SignIn(LoginView):
    """The sign-in page."""

    template_name = "people/sign_in.html"
    redirect_authenticated_user = True


class Settings(UpdateView):
    """One's own units and name."""

    model = User
    fields = ("first_name", "last_name", "units")
    template_name = "people/settings.html"
    success_url = reverse_lazy("settings")

    def get_object(self, queryset: object = None) -> User:
        """Only ever oneself."""
        return cast("User", self.request.user)

    def form_valid(self, form: ModelForm) -> HttpResponse:
        """Save and say so."""
        messages.success(self.request, "Saved.")
        return super().form_valid(form)
