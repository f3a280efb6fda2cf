"""Bays and floors, and the points a tape is used on."""

from __future__ import annotations

from django.utils import timezone
from django.utils.text import slugify

from vantok.people.models import User
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Bay, Job
from vantok.records.measure.models import Reading
from vantok_core.base.errors import InputError
from vantok_core.base.names import WALK
from vantok_core.readings.floor import Floor


def measure_floor(user: User, bay: Bay, floor: Floor) -> None:
    """Store how a bay's floor lies; readings taken before keep what they were taken with."""
    bay.fl_m, bay.fr_m, bay.rl_m, bay.rr_m = (floor.spots[c] for c in ("FL", "FR", "RL", "RR"))
    bay.measured_at, bay.by = timezone.now(), user
    bay.save()


def stand_in(job: Job, bay: Bay | None, *, facing_out: bool) -> None:
    """Say in which bay, and which way round, the vehicle stands for the readings from now on."""
    if (job.bay_id, job.facing_out) != (bay.pk if bay else None, facing_out):
        job.bay, job.facing_out = bay, facing_out
        job.save()


def add_point(vehicle: Vehicle, name: str, station: float, lateral: float) -> str:
    """Add a named point to a vehicle. Raises InputError for a name that makes no key, or is taken."""
    key = slugify(name)[:30].strip("-")
    taken = {point["key"] for point in vehicle.points} | {p.lower() for p in WALK} | {"hitch"}
    if not key:
        raise InputError("name", name, "a point needs a name in letters")
    if key in taken:
        raise InputError("name", name, "there is a point of that name already")
    vehicle.points = [*vehicle.points, {"key": key, "name": name[:40], "station_m": station, "lateral_m": lateral}]
    vehicle.save()
    return key


def remove_point(vehicle: Vehicle, key: str) -> None:
    """Remove a named point nothing was read at. Raises InputError when something was."""
    if Reading.objects.filter(job__vehicle=vehicle, datum="ground_point", place=key).exists():
        raise InputError("point", key.replace("-", " "), "it has readings, which are never thrown away")
    vehicle.points = [point for point in vehicle.points if point["key"] != key]
    vehicle.save()
