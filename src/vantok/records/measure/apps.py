"""App configuration."""

from django.apps import AppConfig


class MeasureConfig(AppConfig):
    """Heights as read, cell by cell."""

    name = "vantok.records.measure"
