"""Sign-in page, and the units by one touch."""

from __future__ import annotations

from typing import Any, cast

from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView
from django.db import transaction
from django.http import HttpRequest, HttpResponse, HttpResponseBase, HttpResponseRedirect
from django.urls import reverse, reverse_lazy
from django.utils.decorators import method_decorator
from django.utils.http import url_has_allowed_host_and_scheme
from django.views import View

from vantok.people.gate import by_script
from vantok.people.models import User


@method_decorator(login_not_required, name="dispatch")
class SignIn(LoginView):
    """The sign-in page."""

    template_name = "people/sign_in.html"
    redirect_authenticated_user = True

    def dispatch(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
        """Lead an empty shop to its first start."""
        if not User.objects.exists():
            return HttpResponseRedirect(reverse("first-run"))
        if request.method == "POST" and by_script(request):
            self.redirect_authenticated_user = False  # signing in again in place, perhaps as somebody else
        return super().dispatch(request, *args, **kwargs)


class SwitchUnits(View):
    """The other units, by one touch; back to where it was touched."""

    rights = "own"

    def post(self, request: HttpRequest) -> HttpResponse:
        """Switch."""
        person = cast("User", request.user)
        person.units = "us" if person.units == "metric" else "metric"
        with transaction.atomic():
            person.save()
        back = request.POST.get("back", "")
        safe = url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()})
        return HttpResponseRedirect(back if safe else str(reverse_lazy("board")))
