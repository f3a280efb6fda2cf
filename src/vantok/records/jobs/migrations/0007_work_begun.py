"""Jobs whose kit is set, or that were read with it on, have begun: their baseline stands from now on. Their sentences stand."""

from django.db import migrations, models
from django.utils import timezone


def begun(apps, schema_editor):
    job, reading = apps.get_model("jobs", "Job"), apps.get_model("measure", "Reading")
    fitted = apps.get_model("choose", "Fitting").objects
    read = reading.objects.filter(phase="after", job_id__in=fitted.values("job_id")).values("job_id")
    job.objects.filter(pk__in=fitted.filter(done=True).values("job_id")).update(began=timezone.now())
    job.objects.filter(pk__in=read, began=None).update(began=timezone.now())
    job.objects.update(told_stamp=models.F("stamp"))


class Migration(migrations.Migration):
    dependencies = [
        ("jobs", "0006_began_answers_proposal"),
        ("measure", "0005_told_by_reason_flag"),
        ("choose", "0003_initial"),
    ]

    operations = [migrations.RunPython(begun, migrations.RunPython.noop)]
