"""App configuration."""

from django.apps import AppConfig


class DiagnoseConfig(AppConfig):
    """What the readings mean."""

    name = "vantok.diagnose"
