"""Kits whose sheet is the usual one of their family, as it was, take the usual one of how they are built; a sheet that a shop made stays as it is."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from django.db import migrations

from vantok_core.kits.registry import read_kit
from vantok_core.procedure.templates import usual_sheet

USUAL = {"side": "each", "stands": "stands", "people": 1, "count": 1, "state": "dry", "stages": 1}
"""What a row has where nothing is said of it."""
WERE = {
    "air_spring": {
        "steps": "2b8e7881444c",
        "fasteners": "10ceaeed61f0",
        "contents": "943a3a94a019",
        "care": "b6b3dce36474",
    },
    "insert": {
        "steps": "fc683c90df52",
        "fasteners": "950a4edcddfe",
        "contents": "bec494158ed5",
        "care": "1d530dcb7c06",
    },
    "helper_leaf": {
        "steps": "878dad61f524",
        "fasteners": "0a704611406b",
        "contents": "d2a39043b87a",
        "care": "49ec4f621ffc",
    },
    "coil_assist": {
        "steps": "3d32281378dc",
        "fasteners": "ea6c21e3d042",
        "contents": "ea5569a6c333",
        "care": "43feb25e16c9",
    },
    "added_leaf": {
        "steps": "df679ca700b8",
        "fasteners": "0570ad836758",
        "contents": "fff77fce9ecb",
        "care": "16b2b4e4ad3f",
    },
    "coil_block": {
        "steps": "e009a8faf943",
        "fasteners": "4f53cda18c2b",
        "contents": "8d1a4dfadf32",
        "care": "bcaa54a1b846",
    },
    "replacement_spring": {
        "steps": "c63cdd804057",
        "fasteners": "37a2cb478f61",
        "contents": "fc3132d6c03a",
        "care": "9e40a7515afb",
    },
    "rubber_shackle": {
        "steps": "d682afc204d1",
        "fasteners": "314c5bdcc9f7",
        "contents": "884a3909f5fe",
        "care": "28c76211c69f",
    },
    "torsion_adjuster": {
        "steps": "6065d852e56c",
        "fasteners": "a0b1dfe9a0d3",
        "contents": "bf9cacd65a33",
        "care": "ffa57d8c9bdb",
    },
    "anti_roll_bar": {
        "steps": "d96d29ed8ae6",
        "fasteners": "dc82c03b1a88",
        "contents": "e03ba8b5b85a",
        "care": "13a1640b971f",
    },
    "steering_stabilizer": {
        "steps": "3135129085e4",
        "fasteners": "c5dd59f17dd1",
        "contents": "c80eeb66acab",
        "care": "9f5f91b9e3f9",
    },
    "damper": {
        "steps": "b54d8dfd30cb",
        "fasteners": "5adeaa10bd47",
        "contents": "e87eb646ea2c",
        "care": "cc4c8316a4d7",
    },
    "weight_hitch": {
        "steps": "df40972925a5",
        "fasteners": "9dcc6dd6c1c4",
        "contents": "19ae23547eff",
        "care": "0ef1d6a61a68",
    },
    "hitch_damper": {
        "steps": "5693d2c986c2",
        "fasteners": "6627632278d4",
        "contents": "c719d1a1a193",
        "care": "7c07aefeb046",
    },
}
"""The usual sheets as they were, by family: a digest of each of their lists."""


def digest(rows: list[Any]) -> str:
    """Return a digest of a list's rows, whatever they say only by default left out."""
    said = [{k: v for k, v in row.items() if v and v != USUAL.get(k)} if isinstance(row, dict) else row for row in rows]
    return hashlib.sha256(json.dumps(said, sort_keys=True, ensure_ascii=False).encode()).hexdigest()[:12]


def forwards(apps: Any, schema_editor: Any) -> None:
    """Take the steps that were the family's away, and put the construction's fasteners, box and care in their place."""
    for record in apps.get_model("shelf", "KitRecord").objects.all():
        were = WERE.get(record.family, {})
        if not record.data.get("steps") or digest(record.data["steps"]) != were.get("steps"):
            continue
        data = {name: value for name, value in record.data.items() if name != "steps"}
        usual = usual_sheet(read_kit(data))
        for name in ("fasteners", "contents", "care"):
            if digest(data.get(name) or []) == were.get(name):
                data[name] = usual[name]
        record.data = data
        record.save(update_fields=["data"])


class Migration(migrations.Migration):
    dependencies = [("shelf", "0004_pattern")]
    operations = [migrations.RunPython(forwards, migrations.RunPython.noop)]
