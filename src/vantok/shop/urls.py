"""Addresses of people."""

from django.contrib.auth.views import LogoutView
from django.urls import path

from vantok.people import pages as views
from vantok.people.audit import Audit
from vantok.shop import pages as shop
from vantok.shop.causes import Causes

urlpatterns = [
    path("sign-in/", views.SignIn.as_view(), name="sign-in"),
    path("sign-out/", LogoutView.as_view(), name="sign-out"),
    path("units/", views.SwitchUnits.as_view(), name="units"),
    path("first-run/", shop.FirstRun.as_view(), name="first-run"),
    path("people/", shop.People.as_view(), name="people"),
    path("shop/", shop.ShopPage.as_view(), name="shop"),
    path("shop/audit/", Audit.as_view(), name="audit"),
    path("shop/causes/", Causes.as_view(), name="causes"),
    path("settings/", shop.Settings.as_view(), name="settings"),
]
