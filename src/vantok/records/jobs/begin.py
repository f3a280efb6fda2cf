"""A new database, made at once from the models as they are: the migrations are for databases that are there already."""

from __future__ import annotations

from django.apps import apps
from django.core.management.sql import emit_post_migrate_signal, emit_pre_migrate_signal
from django.db import connections
from django.db.migrations.executor import MigrationExecutor


def is_new(alias: str) -> bool:
    """Tell whether a database has no table at all."""
    return not connections[alias].introspection.table_names()


def begin(alias: str, verbosity: int) -> None:
    """Make every table of a new database, and note every migration as applied: it stands where they would have led."""
    connection = connections[alias]
    executor = MigrationExecutor(connection)
    emit_pre_migrate_signal(verbosity, interactive=False, db=alias)
    with connection.schema_editor() as editor:
        for model in apps.get_models(include_auto_created=True):
            if model._meta.managed and not model._meta.proxy and not model._meta.auto_created:
                editor.create_model(model)
    executor.recorder.ensure_schema()
    for app, name in executor.loader.graph.nodes:
        executor.recorder.record_applied(app, name)
    emit_post_migrate_signal(verbosity, interactive=False, db=alias)
