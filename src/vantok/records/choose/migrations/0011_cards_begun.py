"""A card begun on the usual steps of a kit's family keeps them: what was ticked goes on meaning what it meant."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from django.db import migrations

WERE = Path(__file__).with_name("steps_of_families.json")
"""The usual steps as they were, by family."""


def forwards(apps: Any, schema_editor: Any) -> None:
    """Write the steps into the kit of each fitting whose card was begun without steps of its own."""
    were: dict[str, list[dict[str, Any]]] = json.loads(WERE.read_text(encoding="utf-8"))
    for fitting in apps.get_model("choose", "Fitting").objects.exclude(card=[]):
        kit = fitting.kit
        if kit.get("steps") or kit.get("family") not in were:
            continue
        known = {one.get("name") for one in kit.get("fasteners") or []}
        steps = [one | {"tightens": [n for n in one.get("tightens", ()) if n in known]} for one in were[kit["family"]]]
        fitting.kit = kit | {"steps": steps}
        fitting.save(update_fields=["kit"])


class Migration(migrations.Migration):
    dependencies = [("choose", "0010_fit_overruled")]
    operations = [migrations.RunPython(forwards, migrations.RunPython.noop)]
