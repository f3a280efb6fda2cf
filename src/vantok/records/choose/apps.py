"""App configuration."""

from django.apps import AppConfig


class ChooseConfig(AppConfig):
    """Choosing and setting a kit."""

    name = "vantok.records.choose"
