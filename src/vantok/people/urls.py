"""Addresses of people."""

from django.contrib.auth.views import LogoutView
from django.urls import path

from vantok.people import views

urlpatterns = [
    path("sign-in/", views.SignIn.as_view(), name="sign-in"),
    path("sign-out/", LogoutView.as_view(), name="sign-out"),
    path("units/", views.SwitchUnits.as_view(), name="units"),
    path("settings/", views.Settings.as_view(), name="settings"),
]
