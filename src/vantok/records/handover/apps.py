"""App configuration."""

from django.apps import AppConfig


class HandoverConfig(AppConfig):
    """The report."""

    name = "vantok.records.handover"
