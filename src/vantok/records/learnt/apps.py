"""App configuration."""

from django.apps import AppConfig


class LearntConfig(AppConfig):
    """What closed jobs taught."""

    name = "vantok.records.learnt"
