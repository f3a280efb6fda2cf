"""App configuration."""

from django.apps import AppConfig


class JobsConfig(AppConfig):
    """Jobs: the day board, listening, history, job files."""

    name = "vantok.jobs"
