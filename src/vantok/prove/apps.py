"""App configuration."""

from django.apps import AppConfig


class ProveConfig(AppConfig):
    """Predicted beside read."""

    name = "vantok.prove"
