"""What a shop has is kept: a database of every earlier version, and a job file of each, with data in them, come up to date."""

from __future__ import annotations

import json
import os
import re
import sqlite3
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Callable
from contextlib import closing
from datetime import timedelta
from importlib.util import module_from_spec, spec_from_file_location
from pathlib import Path
from types import ModuleType
from typing import Any
from unittest.mock import patch

from django.apps import apps
from django.conf import settings
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import SimpleTestCase, TransactionTestCase
from django.utils import timezone

from tests.core.samples import AIR, job
from vantok.desk.load import Desk
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job
from vantok.records.jobs.stamp import install
from vantok.records.measure.models import Reading
from vantok.records.shelf.models import KitRecord
from vantok.records.weigh.models import LoadState
from vantok_core.files.job_file import VERSION, read_job, write_job
from vantok_core.kits.registry import read_kit
from vantok_core.procedure.templates import steps_of

VERSIONS = {
    "0.1": {
        "garage": "0003_historicalvehicle_beyond_vehicle_beyond",
        "jobs": "0003_historicalinspection_inspection",
        "weigh": "0002_historicalloadstate_beyond_loadstate_beyond",
        "measure": "0002_initial",
        "choose": "0003_initial",
        "shelf": "0001_initial",
        "people": "0001_initial",
        "instruments": None,
        "handover": None,
    },
    "0.2": {
        "garage": "0004_hitch_tyres_gains_points",
        "jobs": "0005_stamp",
        "weigh": "0003_plan_trailer_and_ticket",
        "measure": "0003_floor_friction_photo",
        "choose": "0003_initial",
        "shelf": "0001_initial",
        "people": "0001_initial",
        "instruments": "0001_initial",
        "handover": None,
    },
    "0.3": {
        "garage": "0004_hitch_tyres_gains_points",
        "jobs": "0007_work_begun",
        "weigh": "0004_trailer_ratings",
        "measure": "0005_told_by_reason_flag",
        "choose": "0003_initial",
        "shelf": "0001_initial",
        "people": "0002_shop_historicalshop",
        "instruments": "0001_initial",
        "handover": "0001_initial",
    },
    "0.4": {
        "garage": "0005_load_indices",
        "jobs": "0008_space_lines_and_us_sentence",
        "weigh": "0004_trailer_ratings",
        "measure": "0006_stamped_with_load_and_setting",
        "choose": "0004_ruled_out",
        "shelf": "0001_initial",
        "people": "0002_shop_historicalshop",
        "instruments": "0001_initial",
        "handover": "0001_initial",
    },
    "0.5": {
        "garage": "0005_load_indices",
        "jobs": "0008_space_lines_and_us_sentence",
        "weigh": "0004_trailer_ratings",
        "measure": "0006_stamped_with_load_and_setting",
        "choose": "0005_setting_by_name",
        "shelf": "0002_family_words",
        "people": "0002_shop_historicalshop",
        "instruments": "0001_initial",
        "handover": "0001_initial",
    },
    "0.6": {
        "garage": "0006_identity_census_droop",
        "jobs": "0011_planned",
        "weigh": "0006_same_load",
        "measure": "0007_phase_off",
        "choose": "0005_setting_by_name",
        "shelf": "0002_family_words",
        "people": "0002_shop_historicalshop",
        "instruments": "0001_initial",
        "handover": "0001_initial",
    },
    "0.7": {
        "garage": "0006_identity_census_droop",
        "jobs": "0012_weights",
        "weigh": "0006_same_load",
        "measure": "0008_several_kits",
        "choose": "0006_several_kits",
        "shelf": "0002_family_words",
        "people": "0002_shop_historicalshop",
        "instruments": "0001_initial",
        "handover": "0001_initial",
    },
    "0.8": {
        "garage": "0006_identity_census_droop",
        "jobs": "0013_quote_and_to_follow",
        "weigh": "0006_same_load",
        "measure": "0008_several_kits",
        "choose": "0007_card",
        "shelf": "0002_family_words",
        "people": "0003_hour_and_tax",
        "instruments": "0001_initial",
        "handover": "0001_initial",
    },
    "0.9": {
        "garage": "0006_identity_census_droop",
        "jobs": "0015_waits",
        "weigh": "0006_same_load",
        "measure": "0009_step_of_photo",
        "choose": "0008_learnt",
        "shelf": "0003_learnt",
        "people": "0004_day_ends",
        "instruments": "0001_initial",
        "handover": "0001_initial",
    },
    "0.10": {
        "garage": "0006_identity_census_droop",
        "jobs": "0017_kept_in_mind",
        "weigh": "0007_condition",
        "measure": "0011_photograph",
        "choose": "0009_as_set",
        "shelf": "0004_pattern",
        "people": "0004_day_ends",
        "instruments": "0001_initial",
        "handover": "0002_kept_in_mind",
    },
    "0.11": {
        "garage": "0006_identity_census_droop",
        "jobs": "0018_measured_to_the_end",
        "weigh": "0007_condition",
        "measure": "0012_more_datums",
        "choose": "0009_as_set",
        "shelf": "0004_pattern",
        "people": "0005_odds",
        "instruments": "0001_initial",
        "handover": "0002_kept_in_mind",
    },
    "0.12": {
        "garage": "0006_identity_census_droop",
        "jobs": "0018_measured_to_the_end",
        "weigh": "0007_condition",
        "measure": "0013_read_again",
        "choose": "0010_fit_overruled",
        "shelf": "0004_pattern",
        "people": "0008_epoch",
        "instruments": "0001_initial",
        "handover": "0002_kept_in_mind",
    },
    "0.13": {
        "garage": "0007_caravan_hitch",
        "jobs": "0018_measured_to_the_end",
        "weigh": "0008_movable",
        "measure": "0013_read_again",
        "choose": "0010_fit_overruled",
        "shelf": "0004_pattern",
        "people": "0008_epoch",
        "instruments": "0001_initial",
        "handover": "0002_kept_in_mind",
    },
    "0.14": {
        "garage": "0007_caravan_hitch",
        "jobs": "0021_wish_asked",
        "weigh": "0009_trailer_level",
        "measure": "0013_read_again",
        "choose": "0010_fit_overruled",
        "shelf": "0004_pattern",
        "people": "0009_tongue_windows",
        "instruments": "0001_initial",
        "handover": "0002_kept_in_mind",
    },
}
"""The last migration of each app in each version that was released."""
HEIGHTS = {"FL": 0.88, "FR": 0.881, "RL": 0.95, "RR": 0.951}


def tables_of(cursor: Any) -> dict[str, Any]:
    """Return what a database holds its rows to, in whatever order its columns came: columns, foreign keys, indexes, checks, triggers, migrations applied."""

    def told(question: str) -> list[Any]:
        cursor.execute(question)
        return list(cursor.fetchall())

    found: dict[str, Any] = {}
    for name, sql in told("SELECT name, sql FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'"):
        columns = sorted((r[1], r[2].lower(), *r[3:6]) for r in told(f'PRAGMA table_info("{name}")'))
        keys = sorted(r[2:7] for r in told(f'PRAGMA foreign_key_list("{name}")'))
        indexes = told(f'PRAGMA index_list("{name}")')
        held = sorted((r[2], r[4], tuple(x[2] for x in told(f'PRAGMA index_info("{r[1]}")'))) for r in indexes)
        found[name] = columns, keys, held, sorted(re.findall(r'CONSTRAINT "[^"]+" (?:CHECK|UNIQUE)', sql))
    found["triggers"] = sorted(told("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'"))
    found["applied"] = sorted(told("SELECT app, name FROM django_migrations"))
    return found


class Starting(SimpleTestCase):
    def launcher(self) -> ModuleType:
        """Return `run.py` as a module."""
        spec = spec_from_file_location("run", settings.ROOT / "run.py")
        assert spec is not None
        assert spec.loader is not None
        launcher = module_from_spec(spec)
        spec.loader.exec_module(launcher)
        return launcher

    def test_a_long_step_says_so_and_one_that_fails_says_how_to_go_on(self) -> None:
        """While a step of the set-up takes its time a line comes again and again; an install that is cut off names its command, and is not taken for done."""
        launcher, said = self.launcher(), []
        with (
            tempfile.TemporaryDirectory() as folder,
            patch.multiple(launcher, TICK=0.02, say=said.append, VENV=Path(folder)),
        ):
            launcher.run(sys.executable, "-c", "import time; time.sleep(0.5)", long="waiting")
            self.assertGreater(len(said), 2)
            self.assertRegex(said[0], r"^  waiting: \d+ s so far")
            (Path(folder) / "bin").mkdir()
            (Path(folder) / "bin" / "pip").touch()
            with patch.object(launcher, "PYTHON", Path("/bin/false")), self.assertRaises(SystemExit) as left:
                launcher.install("runtime")
            self.assertIn("goes on where it stopped; or by hand: /bin/false -m pip install", str(left.exception))
            self.assertEqual([one.name for one in Path(folder).iterdir()], ["bin"])

    def test_a_data_folder_that_is_not_there_is_made_or_named(self) -> None:
        """The usual one, taken away to begin anew, is made again; a named one is asked for: a disk may be missing."""
        launcher = self.launcher()
        with tempfile.TemporaryDirectory() as folder:
            away = Path(folder) / "var"
            with patch.object(launcher, "VAR", away):
                with patch.dict(os.environ, {"VANTOK_VAR": str(away)}), self.assertRaises(SystemExit) as left:
                    launcher.no_empty_shop()
                self.assertIn(f"{away} is not there", str(left.exception))
                with patch.dict(os.environ):
                    os.environ.pop("VANTOK_VAR", None)
                    launcher.no_empty_shop()
            self.assertTrue(away.is_dir())

    def test_a_new_migration_of_any_room_is_noticed_at_the_start(self) -> None:
        """What `run.py` looks at before it serves holds every migration of every app of ours, whichever room it stands in."""
        launcher = self.launcher()
        noticed = {path.resolve() for path in launcher.prepared_from()}
        ours = [
            Path(app.path) for app in apps.get_app_configs() if Path(app.path).is_relative_to(settings.ROOT / "src")
        ]
        there = {path.resolve() for app in ours for path in (app / "migrations").glob("0*.py")}
        self.assertGreater(len(there), 30)
        self.assertEqual(there - noticed, set())


def told_beside(old: Any) -> None:
    """Keep tanks, people and spring bars aside, as the first version did what it had no fields for."""
    job = job_of(old, "beside")
    told = {
        "tanks": [{"name": "water", "capacity_l": 80, "fill": 0.5, "station_m": 2.0}],
        "people": [{"count": 2, "station_m": 1.2}],
        "trailer_axle_m": 4.0,
        "restored": 0.5,
    }
    old.get_model("weigh", "LoadState").objects.create(job=job, key="loaded", name="Loaded", beyond=told)


def has_fields_of_its_own(case: TransactionTestCase) -> None:
    """Find them as items and fields."""
    state = LoadState.objects.get(job__number="beside")
    case.assertEqual((state.trailer_axle_m, state.restored), (4.0, 0.5))
    case.assertEqual([(i.kind, i.total_kg) for i in state.items.all()], [("tank", 40.0), ("people", 150.0)])


def begun(old: Any) -> None:
    """Put in a job set on the vehicle and one that is not, each with a reading and a sentence told."""
    for number in ("set", "open"):
        job = job_of(old, number, verdict="It stands.", stamp=7)
        state = old.get_model("weigh", "LoadState").objects.create(
            job=job, key="empty", name="Empty", empty=True, trailer_axle_rating_kg=0.0
        )
        old.get_model("measure", "Reading").objects.create(
            job=job, state=state, datum="ground_arch", place="FL", value_m=0.87, text="870", unit="mm"
        )
        old.get_model("choose", "Fitting").objects.create(job=job, kit={"name": "k"}, done=number == "set")
    old.get_model("measure", "Reading").objects.filter(job__number__in=("set", "open")).update(at=EARLIER)


def is_known_to_have_begun(case: TransactionTestCase) -> None:
    """Find that readings keep their times and figures; a job set on the vehicle has begun, another has not; sentences stand."""
    for number in ("set", "open"):
        now = Job.objects.get(number=number)
        reading = now.readings.get()
        case.assertEqual((reading.at, reading.value_m, reading.text, reading.reader), (EARLIER, 0.87, "870", ""))
        case.assertEqual((now.began is not None, now.verdict, now.told_stamp), (number == "set", "It stands.", 0))


def set_twice(old: Any) -> None:
    """Put in a job whose kit was set twice, with a reading after each."""
    job = job_of(old, "twice")
    state = old.get_model("weigh", "LoadState").objects.create(job=job, key="loaded", name="Loaded")
    fitting = old.get_model("choose", "Fitting").objects.create(
        job=job, kit={"code": "K-1", "name": "k"}, left_pa=3e5, right_pa=3e5
    )
    for hours, pressure, place in ((0, 2e5, "RL"), (2, 3e5, "RR")):
        old.get_model("choose", "HistoricalFitting").objects.create(
            id=fitting.pk,
            job_id=job.pk,
            kit={"code": "K-1"},
            left_pa=pressure,
            right_pa=pressure,
            history_type="~",
            history_date=EARLIER + timedelta(hours=hours),
        )
        old.get_model("measure", "Reading").objects.create(
            job=job,
            state=state,
            phase="after",
            datum="ground_arch",
            place=place,
            value_m=0.9,
            text="900",
            unit="mm",
            at=EARLIER + timedelta(hours=hours + 1),
        )


def has_the_setting_of_its_time(case: TransactionTestCase) -> None:
    """Find each reading with the setting that the kit had then, off its history."""
    told = dict(Reading.objects.filter(job__number="twice").values_list("place", "setting"))
    case.assertEqual(told, {"RL": "K-1 p200000,200000", "RR": "K-1 p300000,300000"})


def job_of(old: Any, number: str, **more: Any) -> Any:
    """Put a job into a database of then."""
    owner = old.get_model("garage", "Customer").objects.create(name=f"Of {number}")
    vehicle = old.get_model("garage", "Vehicle").objects.create(customer=owner, label="y")
    return old.get_model("jobs", "Job").objects.create(number=number, vehicle=vehicle, **more)


THEN = {
    "steps": [
        {"words": "Measure both ends and count the threads that show.", "side": "once", "stands": "ride_height"},
        {
            "words": "Unload the bar with the maker's puller; change the key.",
            "caution": "A loaded bar holds spring energy; nobody in line with the arm.",
            "people": 1,
        },
        {
            "words": "Turn in by the turns on the setting, alike on both sides.",
            "tightens": ["adjuster bolt"],
            "check": "Turns counted and equal.",
        },
    ],
    "fasteners": [{"name": "adjuster bolt", "count": 1, "torque_nm": 40, "state": "dry"}],
}
"""The usual sheet of torsion-bar adjusters as it was, as a shelf had it."""


def sheets_of_then(old: Any) -> None:
    """Put a kit with its family's usual sheet of then on the shelf, and one whose sheet the shop made."""
    made = [{"words": "As our own drawing has it."}]
    for code, steps in (("K-OLD", THEN["steps"]), ("K-OWN", made)):
        data = {**KEYS, **THEN, "code": code, "steps": steps}
        old.get_model("shelf", "KitRecord").objects.create(code=code, name=code, family="torsion_adjuster", data=data)
    for number, marks in (("card begun", [{"key": "kit-1-left", "state": "done"}]), ("card not begun", [])):
        kit = {**KEYS, "code": "K-OLD", "fasteners": THEN["fasteners"]}
        old.get_model("choose", "Fitting").objects.create(job=job_of(old, number), kit=kit, card=marks)


def have_their_constructions(case: TransactionTestCase) -> None:
    """Find the first with no steps of its own and its construction's card, the other as the shop made it; a card that was begun as it was, ticks and all."""
    now = {r.code: r.to_core() for r in KitRecord.objects.filter(code__in=("K-OLD", "K-OWN"))}
    case.assertEqual(([], 1), ([*now["K-OLD"].steps], len(now["K-OWN"].steps)))
    case.assertGreater(len(steps_of(now["K-OLD"])), 3)
    case.assertEqual([f.name for f in now["K-OLD"].fasteners], ["adjuster bolt"])
    begun, other = (
        read_kit(Fitting.objects.get(job__number=number).kit) for number in ("card begun", "card not begun")
    )
    case.assertEqual([one.words for one in begun.steps], [one["words"] for one in THEN["steps"]])
    case.assertEqual(other.steps, ())


KEYS = {
    "name": "keys",
    "maker": "Nobody",
    "family": "torsion_adjuster",
    "springs": ["torsion_bar_independent"],
    "price": 1,
    "hours": 1,
    "shift_max_m": 0.04,
    "per_turn_m": 0.003,
}
EARLIER = timezone.now() - timedelta(hours=5)
ONCE: dict[str, tuple[Callable[[Any], None], Callable[[TransactionTestCase], None]]] = {
    "0.1": (told_beside, has_fields_of_its_own),
    "0.2": (begun, is_known_to_have_begun),
    "0.3": (set_twice, has_the_setting_of_its_time),
    "0.14": (sheets_of_then, have_their_constructions),
}
"""What a version kept elsewhere than now: how it is put in then, and found now."""


def emptied() -> None:
    """Leave a database with nothing in it: no table and no trigger, as before the first version."""
    with connection.constraint_checks_disabled(), connection.cursor() as cursor:
        cursor.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")
        for (table,) in cursor.fetchall():
            cursor.execute(f'DROP TABLE "{table}"')


class Databases(TransactionTestCase):
    def tearDown(self) -> None:
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())
        install()

    def test_every_earlier_version_comes_up_with_its_data(self) -> None:
        """A job of each version, put in at that version on the way up from the first, stands the same after all later migrations, and its pages have facts;
        what a version kept elsewhere is found where it belongs now; a new database, begun without that climb, is made alike."""
        emptied()
        for version, nodes in VERSIONS.items():
            executor = MigrationExecutor(connection)
            executor.migrate(list(nodes.items()))
            old = executor.loader.project_state([(a, n) for a, n in nodes.items() if n]).apps
            self.fill(old, version)
            if version in ONCE:
                ONCE[version][0](old)
        latest = MigrationExecutor(connection)
        latest.migrate(latest.loader.graph.leaf_nodes())
        install()
        for version in VERSIONS:
            with self.subTest(version):
                self.check(version)
        for version, (_, found) in ONCE.items():
            with self.subTest(f"moved since {version}"):
                found(self)
        with tempfile.TemporaryDirectory() as folder, connection.cursor() as climbed:
            told = {**os.environ, "VANTOK_VAR": folder}
            subprocess.run(
                [sys.executable, "manage.py", "migrate", "--verbosity", "0"], cwd=settings.ROOT, env=told, check=True
            )
            with closing(sqlite3.connect(Path(folder) / "vantok.sqlite3")) as begun:
                self.assertEqual(tables_of(begun.cursor()), tables_of(climbed))

    def fill(self, old: Any, version: str) -> None:
        """Put a job into a database of then."""
        owner = old.get_model("garage", "Customer").objects.create(name=f"Of {version}")
        vehicle = old.get_model("garage", "Vehicle").objects.create(
            customer=owner,
            label="grey pickup",
            wheelbase_m=3.55,
            front_spring="coil_independent",
            rear_spring="leaf_solid",
            tyres="light_truck",
        )
        record = old.get_model("jobs", "Job").objects.create(
            number=version, vehicle=vehicle, share=0.6, complaints=["sag"]
        )
        states = old.get_model("weigh", "LoadState").objects
        empty = states.create(job=record, key="empty", name="Empty", empty=True, front_kg=1400, rear_kg=1050)
        loaded = states.create(job=record, key="loaded", name="Loaded", order=1, front_kg=1380, rear_kg=1500)
        old.get_model("weigh", "LoadItem").objects.create(state=loaded, name="crates", mass_kg=430, station_m=3.6)
        readings = old.get_model("measure", "Reading").objects
        for state, phase, drop in ((empty, "before", 0.0), (loaded, "before", 0.05), (loaded, "after", 0.02)):
            for place, value in HEIGHTS.items():
                readings.create(
                    job=record,
                    state=state,
                    phase=phase,
                    datum="ground_arch",
                    place=place,
                    value_m=value - drop,
                    text="x",
                    unit="mm",
                )
        # An entry of then carried all families' fields, the others' empty.
        kit = AIR.model_dump(mode="json") | {
            "points": [],
            "gap_min_m": 0.0,
            "gap_max_m": 0.06,
            "spacers_m": [],
            "contact": False,
        }
        fittings = old.get_model("choose", "Fitting")
        told: dict[str, Any] = {"setting": {"pressure_pa": [3.1e5, 3.05e5]}}
        if tuple(map(int, version.split("."))) < (0, 5):
            told = {"left_pa": 3.1e5, "right_pa": 3.05e5}
        fittings.objects.create(job=record, kit=kit, state_key="loaded", done=True, **told)

    def check(self, version: str) -> None:
        """Find it again."""
        record = Job.objects.get(number=version)
        self.assertEqual(Fitting.objects.get(job=record).setting, {"pressure_pa": [3.1e5, 3.05e5]})
        desk = Desk.open(record.pk)
        self.assertEqual(desk.unfit, [])
        found = desk.facts.job
        assert found.fitting is not None
        self.assertEqual(found.fitting.setting, {"pressure_pa": (3.1e5, 3.05e5)})
        self.assertEqual([c.code for c in found.complaints], ["sag"])
        self.assertEqual(found.target.share, 0.6)
        self.assertFalse(found.never_empty or any(s.more for s in found.states))
        self.assertEqual(found.states[1].items[0].mass_kg, 430)
        self.assertEqual(len(found.readings), 12)
        self.assertAlmostEqual(next(r for r in found.readings if r.phase == "after" and r.place == "RL").value_m, 0.93)
        self.assertIsNotNone(desk.diagnosis)
        self.assertIsNotNone(desk.proof)


class Files(unittest.TestCase):
    def test_a_file_of_every_version_is_read(self) -> None:
        """The same job, written as each version wrote it, is read as the same job."""
        one = job(fitting={"kit": AIR, "setting": {"pressure_pa": (3e5, 3.1e5)}, "state": "loaded", "done": True})
        now = json.loads(write_job(one))
        fitting = {k: v for k, v in now["fitting"].items() if k != "setting"}
        kit = fitting["kit"] | {
            "points": [],
            "gap_min_m": 0.0,
            "gap_max_m": 0.06,
            "longer_m": 0.0,
            "spacers_m": [],
            "contact": False,
        }
        then = now | {"fitting": fitting | {"kit": kit, "pressure_pa": [3e5, 3.1e5]}}
        for version in range(1, VERSION):
            with self.subTest(version):
                told = (then if version < 6 else now) | {"version": version}
                if version < 4:
                    told = told | {"complaints": [{"code": "sag", "words": "It hangs."}]}
                found = read_job(json.dumps(told))
                self.assertEqual(found.fitting, one.fitting)
                self.assertEqual(found.readings, one.readings)
                self.assertEqual((found.vehicle, found.states), (one.vehicle, one.states))
                if version < 4:
                    self.assertEqual(found.words, "It hangs.")
