"""App configuration."""

from django.apps import AppConfig


class WeighConfig(AppConfig):
    """Load states: scales, items, tongue, limits."""

    name = "vantok.records.weigh"
