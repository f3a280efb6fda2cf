"""App configuration."""

from django.apps import AppConfig


class GarageConfig(AppConfig):
    """Customers and their vehicles."""

    name = "vantok.records.garage"
