"""App configuration."""

from django.apps import AppConfig


class PracticeConfig(AppConfig):
    """The practice bay."""

    name = "vantok.records.practice"
