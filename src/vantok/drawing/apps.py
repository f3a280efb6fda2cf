"""App configuration."""

from django.apps import AppConfig


class DrawingConfig(AppConfig):
    """Drawings and quantities on the page."""

    name = "vantok.drawing"
