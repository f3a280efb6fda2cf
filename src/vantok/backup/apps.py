"""App configuration."""

from django.apps import AppConfig


class BackupConfig(AppConfig):
    """Backing the shop up and bringing it back."""

    name = "vantok.backup"
