"""Sign-in page and one's own settings."""

from __future__ import annotations

from typing import cast

from django.contrib import messages
from django.contrib.auth.views import LoginView
from django.forms import ModelForm
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse_lazy
from django.utils.http import url_has_allowed_host_and_scheme
from django.views import View
from django.views.generic import UpdateView

from vantok.people.models import User


class SignIn(LoginView):
    """The sign-in page."""

    template_name = "people/sign_in.html"
    redirect_authenticated_user = True


class SwitchUnits(View):
    """The other units, by one touch; back to where it was touched."""

    rights = "own"

    def post(self, request: HttpRequest) -> HttpResponse:
        """Switch."""
        person = cast("User", request.user)
        person.units = "us" if person.units == "metric" else "metric"
        person.save()
        back = request.POST.get("back", "")
        safe = url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()})
        return HttpResponseRedirect(back if safe else str(reverse_lazy("board")))


class Settings(UpdateView):
    """One's own units and name."""

    rights = "own"
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
