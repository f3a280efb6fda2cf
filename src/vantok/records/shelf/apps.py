"""App configuration."""

from django.apps import AppConfig


class ShelfConfig(AppConfig):
    """The kit shelf."""

    name = "vantok.records.shelf"
