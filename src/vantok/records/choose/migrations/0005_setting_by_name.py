"""A kit's setting is kept by name, so that every family brings its own; what stood in columns of its own moves there."""

from django.db import migrations, models

COLUMNS = {"pressure_pa": ("left_pa", "right_pa"), "spacer_m": ("left_spacer_m", "right_spacer_m")}
FIELD = models.JSONField("setting", default=dict, blank=True)


def by_name(apps, schema_editor):
    for name in ("Fitting", "HistoricalFitting"):
        for row in apps.get_model("choose", name).objects.all():
            pairs = {what: [getattr(row, side) for side in sides] for what, sides in COLUMNS.items()}
            row.setting = {what: pair for what, pair in pairs.items() if any(v is not None for v in pair)}
            row.save(update_fields=["setting"])


def by_column(apps, schema_editor):
    for name in ("Fitting", "HistoricalFitting"):
        for row in apps.get_model("choose", name).objects.all():
            for what, sides in COLUMNS.items():
                for side, value in zip(sides, row.setting.get(what) or (None, None), strict=True):
                    setattr(row, side, value)
            row.save(update_fields=[side for sides in COLUMNS.values() for side in sides])


class Migration(migrations.Migration):
    dependencies = [("choose", "0004_ruled_out"), ("measure", "0006_stamped_with_load_and_setting")]

    operations = [
        *(
            migrations.AddField(model_name=model, name="setting", field=FIELD)
            for model in ("fitting", "historicalfitting")
        ),
        migrations.RunPython(by_name, by_column),
        *(
            migrations.RemoveField(model_name=model, name=side)
            for model in ("fitting", "historicalfitting")
            for sides in COLUMNS.values()
            for side in sides
        ),
    ]
