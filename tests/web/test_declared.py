"""A fact is declared once: what stands with it rules its form, its right, its words in the history, putting back, file and import."""

from __future__ import annotations

from django.core.exceptions import ValidationError
from django.db.models import JSONField
from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.board.within import KEY_WORDS, figure
from vantok.desk.incoming import import_job
from vantok.desk.load import Desk
from vantok.desk.translate import OF_JOB, OF_STATE, PAGES, SHEETS
from vantok.people.models import User
from vantok.people.rights import CHANGING, right_to_change
from vantok.records.garage.models import BEYOND, COLUMNS, Vehicle
from vantok.records.jobs.models import Job
from vantok.records.weigh.models import LoadState
from vantok_core.facts import Facts, JobState, JobVehicle
from vantok_core.facts import Job as CoreJob
from vantok_core.facts.declared import Of, bounds, declared, figures
from vantok_core.facts.proving import Proving
from vantok_core.files.job_file import read_job, write_job

HELD_OTHERWISE = {
    "job": {
        "id",
        "number",
        "practice",
        "vehicle",
        "opened",
        "opened_by",
        "done",
        "began",
        "anyway",
        "sheets",
        "proving",
        "stage",
        "verdict",
        "verdict_us",
        "waits",
        "tone",
        "told_stamp",
        "stands",
        "stamp",
    },
    "vehicle": {"id", "customer", "beyond", "practice"},
    "state": {"id", "job", "key", "order"},
}
"""Columns that nobody puts back: what they hold has its own place, or follows from the rest."""


class Declared(DemoCase):
    def test_every_column_has_a_right_or_is_nobodys(self) -> None:
        """Each column of a job, a vehicle and a state is declared, or stands in the record's own short list; what is neither is denied."""
        for kind, model in (("job", Job), ("vehicle", Vehicle), ("state", LoadState)):
            columns = {f.name for f in model._meta.concrete_fields}
            told = {key.split(".")[1] for key in CHANGING if key.startswith(f"{kind}.") and key.count(".") == 1}
            self.assertEqual(columns - told, HELD_OTHERWISE[kind], kind)
        for name in HELD_OTHERWISE["job"]:
            self.assertIsNone(right_to_change("job", name))
        self.assertIsNone(right_to_change("vehicle", "beyond", "made_up"))

    def test_every_declared_fact_is_kept_somewhere(self) -> None:
        """A fact has a column or stands in its record's document, never both, and says on which page it is asked."""
        self.assertEqual(set(COLUMNS) | set(BEYOND), set(declared(JobVehicle)))
        self.assertFalse(set(COLUMNS) & set(BEYOND))
        parts = {name for name, one in declared(CoreJob).items() if one.part}
        self.assertEqual(set(OF_JOB) | set(SHEETS) | parts, set(declared(CoreJob)) - {"complaints"})
        self.assertLessEqual(set(OF_STATE) - {"key"}, set(declared(JobState)))
        for page in set(PAGES.values()):
            self.assertTrue(reverse(page, args=[1]))

    def test_a_fact_without_a_column_goes_the_whole_way(self) -> None:
        """The height over all, declared in one line: asked on Vehicle, in the reader's units, told in the history, put back, out in the file and in."""
        job = self.job("041")
        page = reverse("vehicle", args=[job.pk])
        self.assertIn("Height over all", words(self.client.get(page)))
        self.tell(page, {"over_all_m": "2150"})
        self.assertEqual(Desk.open(job.pk).job.vehicle.over_all_m, 2.15)
        self.tell(page, {"over_all_m": "2.4 m"})
        history = words(self.client.get(reverse("history", args=[job.pk])))
        self.assertIn("vehicle: height over all 2150 mm 2400 mm", history)
        row = next(r for r in Vehicle.history.filter(id=job.vehicle_id) if r.beyond.get("over_all_m") == 2.15)
        asked = {"kind": "vehicle", "id": row.history_id, "field": "beyond", "path": "over_all_m"}
        self.client.post(reverse("history", args=[job.pk]), asked)
        self.assertEqual(Desk.open(job.pk).job.vehicle.over_all_m, 2.15)
        refused = self.tell(page, {"over_all_m": "0.2 mm"})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("“0.2 mm” is under 100 mm.", words(refused).replace("\u00a0", " "))
        kept = Desk.open(job.pk).facts.job
        again = import_job(User.objects.get(username="marit"), read_job(write_job(kept)))
        self.assertEqual(Desk.open(again.pk).job.vehicle.over_all_m, 2.15)

    def test_a_figure_is_of_one_kind_wherever_it_stands(self) -> None:
        """No name is a length here and a mass there; the history says each in the reader's units, what is held in km/h too."""
        found: dict[str, Of] = {}
        models = [Facts]
        for model in models:
            models += model.__subclasses__()
            for name, of in figures(model).items():
                self.assertEqual(
                    (of.kind, of.si), (found.setdefault(name, of).kind, found[name].si), f"{model.__name__}.{name}"
                )
        said = {
            "speed_kmh": (65.0, "40 mph"),
            "p1_pa": (206_843.0, "30 psi"),
            "bush_m": (0.0635, "0.0635"),
            "rear_bush_m": (0.0635, "2 1/2 in"),
        }
        said |= {
            "tyre-rear": (250_000.0, "1428 lb/in"),
            "fill": (0.5, "50 %"),
            "kelvin_1": (293.15, "68 °F"),
            "capacity_l": (100.0, "26 gal"),
        }
        self.assertEqual(
            {n: figure(n, v, "us").replace("\u00a0", " ") for n, (v, _) in said.items()},
            {n: s for n, (_, s) in said.items()},
        )

    def test_a_column_is_bounded_where_its_fact_is_declared(self) -> None:
        """Every column of a declared figure refuses just past the bounds of the fact, and takes what lies on them."""
        held = 0
        for record, model in ((Vehicle, JobVehicle), (Job, CoreJob), (LoadState, JobState)):
            for column in record._meta.concrete_fields:
                if column.name not in figures(model) or isinstance(column, JSONField):
                    continue
                for bound, past in zip(bounds(model, column.name), (-1e-6, 1e-6), strict=True):
                    if bound is not None:
                        column.run_validators(bound)
                        with self.assertRaises(ValidationError, msg=column.name):
                            column.run_validators(bound + past)
                        held += 1
        self.assertGreater(held, 60)

    def test_words_of_every_key_are_its_declaration(self) -> None:
        """The history calls what stands in a document by the words of its declaration."""
        for name in (*BEYOND, *SHEETS, *Proving.model_fields):
            self.assertTrue(KEY_WORDS[name] and "_" not in KEY_WORDS[name])
