"""App configuration."""

from django.apps import AppConfig


class PeopleConfig(AppConfig):
    """Who uses Vantok: sign-in, roles, units."""

    name = "vantok.people"
