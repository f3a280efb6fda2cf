"""What jobs taught of a kit's strength before: gain read over gain predicted, with what a tape leaves of so much."""

from __future__ import annotations

from math import log
from typing import Any

from django.db import migrations

TAPE, LEAST = 0.003, 0.05
"""A gain's error (m), and the least ln-sigma it is taken for."""
WORTH = 0.010
"""A predicted gain (m) under which the read one says nothing of a kit's strength."""


def carry_over(apps: Any, _: Any) -> None:
    """Make a lesson of each pattern that tells a strength."""
    lesson = apps.get_model("learnt", "Lesson")
    for row in apps.get_model("shelf", "PatternRecord").objects.filter(job__isnull=False):
        gain, predicted = row.told.get("gain", 0.0), row.told.get("predicted", 0.0)
        if predicted < WORTH or gain <= 0.0:
            continue
        made = lesson(
            job_id=row.job_id,
            kind="strength",
            key=f"{row.code} on {row.kind}"[:80],
            value=log(gain / predicted),
            sigma=max(TAPE / gain, LEAST),
            usual=1.0,
            at=row.at,
        )
        made.save()


class Migration(migrations.Migration):
    """After patterns and jobs are as they are."""

    dependencies = [("learnt", "0001_initial"), ("shelf", "0004_pattern")]
    operations = [migrations.RunPython(carry_over, migrations.RunPython.noop)]
