"""App configuration."""

from django.apps import AppConfig
from django.db.models.signals import post_migrate, pre_migrate

from vantok.records.jobs.stamp import install, remove


class JobsConfig(AppConfig):
    """Jobs: the day board, listening, history, job files."""

    name = "vantok.records.jobs"

    def ready(self) -> None:
        """Keep the jobs' stamps by triggers, made anew after every migrate."""
        pre_migrate.connect(remove, sender=self, dispatch_uid="vantok.records.jobs.stamp")
        post_migrate.connect(install, sender=self, dispatch_uid="vantok.records.jobs.stamp")
