"""The first start of an empty shop, the lead's pages of people and of the shop itself, and one's own settings."""

from __future__ import annotations

from typing import Any, cast

from axes.models import AccessAttempt
from axes.utils import reset
from django import forms
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import Q
from django.http import HttpRequest, HttpResponse, HttpResponseBase, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse, reverse_lazy
from django.utils.decorators import method_decorator
from django.views.generic import FormView, TemplateView, UpdateView

from vantok.fields.ids import identity
from vantok.fields.seen import SeenModelForm, WordedMixin
from vantok.people.acts import Acting, act
from vantok.people.models import CURRENCIES, NOSES, UNITS, Role, Shop, User
from vantok.records.shelf.models import KitRecord
from vantok.shop.starter_kits import KITS


class PersonForm(WordedMixin, forms.Form):
    """A new person: the name they sign in with, what they are called, role, units, first password."""

    username = forms.SlugField(
        label="signs in as", max_length=40, error_messages={"invalid": "Letters, figures, - and _ only, please."}
    )
    first_name = forms.CharField(label="first name", max_length=60, required=False)
    last_name = forms.CharField(label="last name", max_length=60, required=False)
    role = forms.ChoiceField(choices=Role.choices, initial=Role.TECHNICIAN)
    units = forms.ChoiceField(choices=UNITS)
    password = forms.CharField(
        label="first password", widget=forms.PasswordInput(attrs={"autocomplete": "new-password"})
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for field in self.fields.values():
            field.widget.attrs.setdefault(
                "class", "form-select" if isinstance(field, forms.ChoiceField) else "form-control"
            )

    def clean_username(self) -> str:
        """Refuse a name that is taken."""
        name: str = self.cleaned_data["username"]
        if User.objects.filter(username__iexact=name).exists():
            raise ValidationError("Somebody signs in with that name already.")
        return name

    def clean(self) -> dict[str, Any]:
        """Hold the password against the shop's rules."""
        told = super().clean() or {}
        if told.get("password"):
            try:
                validate_password(told["password"], User(username=told.get("username", "")))
            except ValidationError as error:
                self.add_error("password", error)
        return told

    def make(self, **more: Any) -> User:
        """Return the person, stored."""
        told = self.cleaned_data | more
        password = told.pop("password")
        person = User(**{k: told[k] for k in ("username", "first_name", "last_name", "role", "units")})
        person.set_password(password)
        person.full_clean(exclude=["password"])
        person.save()
        return person


class FirstRunForm(PersonForm):
    """The shop and its first lead."""

    shop = forms.CharField(label="what the shop is called", max_length=80)
    currency = forms.ChoiceField(choices=[(code, f"{code} ({sign})") for code, sign in CURRENCIES])
    shelf = forms.BooleanField(label="put the sample kits on the shelf (invented data, to try it with)", required=False)
    field_order = ("shop", "currency", "units", "username", "first_name", "last_name", "password", "shelf")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        del self.fields["role"]
        self.fields["shelf"].widget.attrs["class"] = "form-check-input"


@method_decorator(login_not_required, name="dispatch")
class FirstRun(FormView[FirstRunForm]):
    """The first start: the shop gets its name and its first lead. Gone for good once anybody can sign in."""

    template_name = "people/first_run.html"
    form_class = FirstRunForm

    def dispatch(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
        """Open only while nobody can sign in."""
        if User.objects.exists():
            return HttpResponseRedirect(reverse("sign-in"))
        return super().dispatch(request, *args, **kwargs)

    def form_valid(self, form: FirstRunForm) -> HttpResponse:
        """Make the shop, the lead and, where wished, the sample shelf; sign the lead in."""
        told = form.cleaned_data
        with transaction.atomic():
            if User.objects.exists():  # two browsers at once: the first one's lead stands
                return HttpResponseRedirect(reverse("sign-in"))
            Shop.objects.create(name=told["shop"], units=told["units"], currency=told["currency"])
            lead = form.make(role=Role.LEAD)
            if told["shelf"]:
                put_sample_kits()
        login(self.request, lead, backend="django.contrib.auth.backends.ModelBackend")
        messages.success(self.request, f"{told['shop']} is open. Next: add your people, then start a job.")
        return HttpResponseRedirect(reverse("people"))


def samples_to_take() -> list[dict[str, Any]]:
    """Return the invented sample kits that are not on the shelf."""
    there = set(KitRecord.objects.values_list("code", flat=True))
    return [data for data in KITS if data["code"] not in there]


def put_sample_kits() -> int:
    """Put the sample kits on the shelf, those that are not there yet; return how many."""
    found = samples_to_take()
    for data in found:
        record = KitRecord(data=data)
        record.clean()
        record.save()
    return len(found)


class People(FormView[PersonForm]):
    """Who works here: adding, roles, passwords, leaving, and opening a locked sign-in."""

    template_name = "people/people.html"
    form_class = PersonForm
    rights = seen_by = "shop"

    def get_initial(self) -> dict[str, Any]:
        """Begin with the shop's units."""
        shop = Shop.objects.first()
        return {"units": shop.units if shop else "metric"}

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the people, and who is locked out."""
        locked = set(AccessAttempt.objects.values_list("username", flat=True))
        return super().get_context_data(people=User.objects.all(), locked=locked, roles=Role.choices, **kwargs)

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Change one person, or add one."""
        action = request.POST.get("action", "")
        if not action:
            return super().post(request, *args, **kwargs)
        with transaction.atomic():
            person = get_object_or_404(User, pk=identity(request.POST.get("person")))
            problem = self._change(person, action)
        (messages.error if problem else messages.success)(request, problem or f"{person}: done.")
        return HttpResponseRedirect(reverse("people"))

    def _change(self, person: User, action: str) -> str:
        """Do one thing to a person; return why it cannot be done, empty when it was."""
        if action == "open":
            reset(username=person.username)
            return ""
        if action == "password":
            return self._password(person, self.request.POST.get("password", ""))
        if action == "role" and self.request.POST.get("role") in Role.values:
            person.role = self.request.POST["role"]
        elif action in ("leave", "return"):
            person.is_active = action == "return"
            person.epoch += 1
        else:
            return "That cannot be done to a person."
        others = User.objects.filter(Q(role=Role.LEAD) | Q(is_superuser=True), is_active=True).exclude(pk=person.pk)
        if not (person.rank == Role.LEAD and person.is_active) and not others.exists():
            return "The shop needs one lead who can sign in."
        person.save()
        return ""

    @staticmethod
    def _password(person: User, text: str) -> str:
        try:
            validate_password(text, person)
        except ValidationError as error:
            return " ".join(error.messages)
        person.set_password(text)
        person.save()
        return ""

    def form_valid(self, form: PersonForm) -> HttpResponse:
        """Add a person."""
        with transaction.atomic():
            person = form.make()
        messages.success(self.request, f"{person} can sign in as {person.username}.")
        return HttpResponseRedirect(reverse("people"))


class ShopPage(Acting, TemplateView):
    """The shop's name, units and currency."""

    template_name = "people/shop.html"

    def form(self, data: Any = None) -> SeenModelForm[Shop]:
        """Return the shop's form."""
        fields = ("name", "units", "currency", "hour", "tax", "quote_days", "sheet", "day_ends", "address", *NOSES)
        kind = forms.modelform_factory(Shop, form=SeenModelForm, fields=fields)
        form = cast("SeenModelForm[Shop]", kind(data, instance=Shop.objects.first() or Shop()))
        for field in form.fields.values():
            field.widget.attrs["class"] = "form-select" if isinstance(field, forms.ChoiceField) else "form-control"
        return form

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the form."""
        kwargs.setdefault("form", self.form())
        return super().get_context_data(samples=len(samples_to_take()), **kwargs)

    @act("shop", "samples")
    def _samples(self) -> HttpResponse:
        with transaction.atomic():
            messages.success(self.request, f"{put_sample_kits()} sample kits are on the shelf.")
        return HttpResponseRedirect(reverse("shop"))

    @act("shop", "")
    def _store(self) -> HttpResponse:
        with transaction.atomic():
            form = self.form(self.request.POST)
            if form.is_valid():
                form.save()
        if form.errors:
            return self.render_to_response(self.get_context_data(form=form), status=409 if form.met else 422)
        messages.success(self.request, "Saved.")
        return HttpResponseRedirect(reverse("shop"))


class SettingsForm(SeenModelForm[User]):
    """One's own name and units."""

    class Meta:
        model = User
        fields = ("first_name", "last_name", "units")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name, field in self.fields.items():
            field.widget.attrs["class"] = "form-select" if name == "units" else "form-control"


class Settings(UpdateView[User, SettingsForm]):
    """One's own units and name."""

    rights = "own"
    model = User
    form_class = SettingsForm
    template_name = "people/settings.html"
    success_url = reverse_lazy("settings")

    def get_object(self, queryset: object = None) -> User:
        """Only ever oneself."""
        return cast("User", self.request.user)

    def form_valid(self, form: SettingsForm) -> HttpResponse:
        """Save and say so."""
        messages.success(self.request, "Saved.")
        with transaction.atomic():
            return super().form_valid(form)
