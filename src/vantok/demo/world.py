"""The demo world: the spring-and-hitch shop at the ferry landing. Everything and everybody in it is invented.

Readings are made from vehicles whose true spring rates are written here, through the core's own static solve, with a
fixed scatter, so that the screens show what a careful technician would have read.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from django.db import transaction

from vantok.choose.models import Fitting
from vantok.demo.kits import KITS
from vantok.garage.history import take_history
from vantok.garage.models import Customer, Vehicle
from vantok.instruments.models import Instrument
from vantok.instruments.simulated import PORT as SIMULATED
from vantok.jobs.actions import begin_work, settled
from vantok.jobs.desk import Desk
from vantok.jobs.models import Bay, Inspection, Job
from vantok.jobs.services import choose_kit
from vantok.measure.models import Reading
from vantok.measure.services import stamp_loads
from vantok.people.models import Role, Shop, User
from vantok.shelf.models import KitRecord
from vantok.weigh.models import LoadItem, LoadState, TrailerItem
from vantok_core.files.readings_csv import HeightRow
from vantok_core.job import Job as CoreJob
from vantok_core.kits.fit import with_kit
from vantok_core.model import JobModel, build_model
from vantok_core.units import inches_text
from vantok_core.vehicle import CORNERS

PASSWORD = "ferry-landing"  # noqa: S105 - the demo's, shown on its sign-in page
SCATTER = (0.001, -0.0015, 0.0005, 0.002, -0.001, 0.0, 0.0015, -0.0005)


@dataclass(frozen=True, kw_only=True)
class Story:
    """One customer's job: facts, loads, true rates (N/m), empty heights (m), and how far the job has come."""

    number: str
    customer: str
    label: str
    facts: dict[str, Any]
    complaints: list[str] = field(default_factory=list)
    inspected: dict[str, tuple[str, str]] = field(default_factory=dict)
    words: str = ""
    use: list[str] = field(default_factory=list)
    empty: tuple[float, float] | None = None
    loaded: dict[str, Any] = field(default_factory=dict)
    items: list[tuple[str, float, float, float]] = field(default_factory=list)
    carried: list[dict[str, Any]] = field(default_factory=list)
    towed: list[tuple[str, float, float]] = field(default_factory=list)
    true: tuple[float, float] | None = None
    heights: dict[str, float] = field(default_factory=dict)
    extra: dict[str, tuple[float, float]] = field(default_factory=dict)
    read: tuple[str, ...] = ("empty", "loaded")
    kit: str = ""
    after: tuple[str, ...] = ()
    leak: float = 0.0
    school: str = "share_of_sag"
    inches: bool = False
    done: bool = False
    fitted: bool = False


PICKUP = {
    "body": "pickup",
    "front_spring": "coil_independent",
    "tyres": "light_truck",
    "track_front_m": 1.70,
    "track_rear_m": 1.70,
}
STORIES = [
    Story(
        number="2026-041", customer="Hallig Oyster Beds", label="Skerry 35 pickup, grey",
        facts={**PICKUP, "rear_spring": "leaf_solid", "wheelbase_m": 3.55, "hitch_overhang_m": 1.25, "gross_kg": 3250,
               "front_axle_kg": 1600, "rear_axle_kg": 1950, "hitch_kg": 350, "towed_kg": 3000, "combination_kg": 5600},
        complaints=["sags", "nose_up", "bottoms"], inspected={"dampers": ("watch", "left one misted with oil"), "leaf_cracks": ("fine", "")},
        words="On the causeway with the boat everybody flashes at me.",
        use=["sometimes_loaded", "tows"], empty=(1240, 910), loaded={"name": "Boat on", "tongue_kg": 210, "trailer_kg": 1680, "trailer_axle_m": 4.1},
        items=[("baskets and ropes", 330, 3.7, 0.12), ("outboard fuel", 45, 4.1, -0.3)], true=(46e3, 60e3),
        heights={"FL": 0.874, "FR": 0.872, "RL": 0.952, "RR": 0.951},
        extra={"stop_gap": (0.072, 0.071), "pad_to_pad": (0.172, 0.171)},
    ),
    Story(
        number="2026-042", customer="Lantern & String Puppet Theatre", label="Corvane high-roof, the stage van",
        facts={"body": "high_roof_van", "front_spring": "coil_independent", "rear_spring": "parabolic_solid", "tyres": "light_truck",
               "track_front_m": 1.74, "track_rear_m": 1.72, "wheelbase_m": 3.665, "gross_kg": 3500, "front_axle_kg": 1850,
               "rear_axle_kg": 2100, "hitch_overhang_m": 1.1, "hitch_kg": 100, "towed_kg": 2000},
        complaints=["leans", "rolls"], words="It leans to the side where the batteries are, and gets pushed about by lorries.",
        use=["always_loaded", "tall"], empty=(1290, 1060), loaded={"name": "On tour"},
        items=[("stage and lights", 420, 3.8, 0.1), ("batteries", 160, 4.3, 0.55), ("puppet trunks", 280, 2.6, -0.1),
               ("generator on the back", 190, 4.8, 0.2)],
        true=(52e3, 80e3), heights={"FL": 0.742, "FR": 0.741, "RL": 0.812, "RR": 0.812},
        extra={"stop_gap": (0.085, 0.085)},
    ),
    Story(
        number="2026-043", customer="Heathercomb Bees", label="Tormac 40 crew, two hive trailers",
        facts={**PICKUP, "rear_spring": "two_stage_leaf_solid", "wheelbase_m": 3.86, "hitch_overhang_m": 1.3, "gross_kg": 4000,
               "front_axle_kg": 1900, "rear_axle_kg": 2500, "hitch_kg": 400, "towed_kg": 3500, "combination_kg": 7000},
        complaints=["harsh"], words="Somebody told me I need air bags for the hives.", use=["sometimes_loaded", "tows", "off_road"],
        empty=(1420, 1150), loaded={"name": "One hive trailer", "tongue_kg": 80, "trailer_kg": 720}, true=(58e3, 52e3),
        heights={"FL": 0.91, "FR": 0.909, "RL": 1.004, "RR": 1.004}, inches=True,
    ),
    Story(
        number="2026-044", customer="The Ondine family", label="Wagon with the caravan",
        facts={"body": "wagon", "front_spring": "coil_independent", "rear_spring": "coil_independent", "tyres": "car",
               "track_front_m": 1.56, "track_rear_m": 1.58, "wheelbase_m": 2.80, "hitch_overhang_m": 1.10, "gross_kg": 2250,
               "front_axle_kg": 1150, "rear_axle_kg": 1250, "hitch_kg": 100, "towed_kg": 1600},
        complaints=["sags", "nose_up"], words="The caravan drags us down at the back.", use=["tows", "long_trips"],
        empty=(960, 770), loaded={"name": "Caravan hitched", "tongue_kg": 90, "trailer_kg": 1350, "trailer_axle_m": 4.6, "trailer_axle_rating_kg": 1400},
        items=[("luggage", 110, 3.1, 0.0)],
        carried=[{"kind": "people", "name": "two in the back", "count": 2, "mass_kg": 70, "station_m": 1.9}],
        towed=[("caravan, empty", 1180, 4.3), ("awning and stove", 95, 3.0), ("fresh water", 45, 4.0), ("bikes at its back", 30, 7.1)], true=(36e3, 43e3),
        heights={"FL": 0.668, "FR": 0.667, "RL": 0.676, "RR": 0.675}, read=("empty",),
    ),
    Story(
        number="2026-038", customer="Harbour Mobile Dental Clinic", label="Clinic on a Brigg coach chassis",
        facts={"body": "coach", "front_spring": "leaf_solid", "rear_spring": "leaf_solid", "tyres": "medium_duty", "dual_rear": True,
               "track_front_m": 1.95, "track_rear_m": 1.80, "wheelbase_m": 4.60, "rear_overhang_m": 2.5, "gross_kg": 8200,
               "front_axle_kg": 3200, "rear_axle_kg": 5600},
        complaints=["sags", "rolls"], words="With the chair and the water in she squats, and rolls at the roundabout.",
        use=["always_loaded", "tall"], empty=(2350, 3300), loaded={"name": "Clinic fitted out", "front_kg": 2480, "rear_kg": 4870, "fl_kg": 1225, "fr_kg": 1255,
                "rl_kg": 2490, "rr_kg": 2380},
        true=(124e3, 178e3), heights={"FL": 0.905, "FR": 0.904, "RL": 0.968, "RR": 0.965},
        extra={"stop_gap": (0.095, 0.094), "pad_to_pad": (0.185, 0.184)}, kit="FW-H", after=("empty", "loaded"), school="share_of_sag",
        fitted=True,
    ),
    Story(
        number="2026-039", customer="Fenmark Glider Club", label="Tow wagon of the club",
        facts={**PICKUP, "rear_spring": "leaf_solid", "wheelbase_m": 3.20, "hitch_overhang_m": 1.15, "gross_kg": 2950,
               "front_axle_kg": 1500, "rear_axle_kg": 1750, "hitch_kg": 250, "towed_kg": 2500},
        complaints=["sags"], words="Needs to stand level with the glider trailer on.", use=["tows"], empty=(1180, 840),
        loaded={"name": "Glider trailer", "tongue_kg": 160, "trailer_kg": 1150}, items=[("winch and cable", 260, 3.3, 0.05)],
        true=(43e3, 52e3), heights={"FL": 0.862, "FR": 0.861, "RL": 0.931, "RR": 0.930},
        extra={"stop_gap": (0.070, 0.070), "pad_to_pad": (0.166, 0.166)}, kit="FW-M", after=("loaded",), leak=0.28, fitted=True,
        inches=True,
    ),
    Story(
        number="2026-045", customer="Marl Pit Fossil Dig", label="Expedition truck, the bone wagon",
        facts={"body": "box_truck", "front_spring": "leaf_solid", "rear_spring": None, "tyres": "medium_duty"},
        complaints=["bottoms", "harsh"], inspected={"leaf_cracks": ("fault", "third leaf, left, behind the axle"), "bushes": ("watch", "")},
        words="Throws our heads about on the pit track.", use=["off_road", "always_loaded"],
    ),
    Story(
        number="2026-040", customer="Three Villages Library", label="Library bus",
        facts={"body": "coach", "front_spring": "leaf_solid", "rear_spring": "leaf_solid", "tyres": "medium_duty",
               "track_front_m": 1.90, "track_rear_m": 1.78, "dual_rear": True, "wheelbase_m": 4.2, "rear_overhang_m": 2.2,
               "gross_kg": 7200, "front_axle_kg": 2900, "rear_axle_kg": 4900},
        complaints=["sags", "leans"], words="The shelves are all on one side.", use=["always_loaded"], empty=(2150, 2800),
        loaded={"name": "Full shelves", "front_kg": 2300, "rear_kg": 4010}, true=(112e3, 150e3),
        heights={"FL": 0.89, "FR": 0.889, "RL": 0.95, "RR": 0.949},
        extra={"stop_gap": (0.09, 0.09), "pad_to_pad": (0.186, 0.186)}, kit="FW-M",
    ),
]  # fmt: skip


@transaction.atomic
def build() -> None:
    """Fill an empty database with the demo world."""
    people = [_person(*row) for row in (
        ("marit", "Marit", "Solheim-Vane", Role.LEAD, "metric"), ("tobin", "Tobin", "Ashgrove", Role.TECHNICIAN, "us"),
        ("jude", "Jude", "Pell", Role.TRAINEE, "metric"))]  # fmt: skip
    Shop.objects.create(name="Ferry Landing Springs", units="metric", currency="EUR")
    for data in KITS:
        record = KitRecord(data=data, code=data["code"], name=data["name"], family=data["family"])
        record.full_clean()
        record.save()
    for story in STORIES:
        _job(story, people)
    _earlier(people[0])
    for bay in ("Bay 1, by the slip", "Bay 2"):
        Bay.objects.create(name=bay)
    for name, kind in (
        ("Wheel pads, simulated", "PADS"),
        ("Axle scale, simulated", "AXLE"),
        ("Tongue scale, simulated", "TONGUE"),
    ):
        Instrument.objects.create(name=name, kind=kind, url=f"socket://127.0.0.1:{SIMULATED}")


def _earlier(lead: User) -> None:
    """Two earlier visits of the oyster pickup: its rear springs have been settling."""
    vehicle = Vehicle.objects.get(customer__name="Hallig Oyster Beds")
    heights = {"2024-112": ("2024-04-18", 0.876, 0.964), "2025-067": ("2025-05-06", 0.875, 0.958)}
    rows = [
        HeightRow(job=number, state="Empty", empty=True, datum="ground_arch", place=place, value_m=front if place[0] == "F" else rear,
                  at=datetime.fromisoformat(f"{day}T09:30+00:00"))
        for number, (day, front, rear) in heights.items() for place in CORNERS
    ]  # fmt: skip
    take_history(lead, vehicle, rows)


def _person(username: str, first: str, last: str, role: str, units: str) -> User:
    user = User(username=username, first_name=first, last_name=last, role=role, units=units)
    user.set_password(PASSWORD)
    user.save()
    return user


def _job(story: Story, people: list[User]) -> Job:
    owner = Customer.objects.create(name=story.customer)
    vehicle = Vehicle.objects.create(customer=owner, label=story.label, **story.facts)
    job = Job.objects.create(
        number=story.number, vehicle=vehicle, opened_by=people[0], complaints=story.complaints, words=story.words, use=story.use,
        school=story.school,
    )  # fmt: skip
    for area, (grade, note) in story.inspected.items():
        Inspection.objects.create(job=job, area=area, grade=grade, note=note)
    empty = LoadState.objects.create(job=job, key="empty", name="Empty", empty=True, conditions="tank full, nobody in")
    if story.empty:
        empty.front_kg, empty.rear_kg = story.empty
        empty.save()
    loaded = LoadState.objects.create(job=job, key="loaded", order=1, **({"name": "Loaded"} | story.loaded))
    for name, mass, station, lateral in story.items:
        LoadItem.objects.create(state=loaded, name=name, mass_kg=mass, station_m=station, lateral_m=lateral)
    for row in story.carried:
        LoadItem.objects.create(state=loaded, **row)
    for name, mass, behind in story.towed:
        TrailerItem.objects.create(state=loaded, name=name, mass_kg=mass, behind_ball_m=behind)
    if story.true:
        _measure(story, job, {"empty": empty, "loaded": loaded}, people[1] if story.inches else people[0])
    stamp_loads(job)
    settled(job.pk)
    return job


def _measure(story: Story, job: Job, states: dict[str, LoadState], by: User) -> None:
    """Read the true vehicle: before in the states asked for, then with the kit."""
    for datum, (left, right) in story.extra.items():
        for place, value in (("RL", left), ("RR", right)):
            _read(job, states["empty"], "before", datum, place, value, by, story.inches)
    core = Desk.open(job.pk).job
    true = _true_model(core, story)
    plain = true.solve()
    for n, key in enumerate(story.read):
        for m, corner in enumerate(CORNERS):
            scatter = SCATTER[(3 * n + m) % len(SCATTER)] if key != "empty" else 0.0
            value = story.heights[corner] - float(plain[key].ground_drop[corner]) + scatter
            _read(job, states[key], "before", "ground_arch", corner, value, by, story.inches)
    if not story.kit:
        return
    _fit(story, job)
    if not story.after:
        return
    held = 1.0 - story.leak
    core = Desk.open(job.pk).job
    assert core.fitting is not None
    assert core.fitting.pressure_pa is not None
    left, right = core.fitting.pressure_pa
    vehicle = with_kit(core, true.vehicle, core.fitting.kit, state="loaded", pressure=(held * left, held * right))
    reports = true.solve(vehicle)
    for n, key in enumerate(story.after):
        for m, corner in enumerate(CORNERS):
            value = (
                story.heights[corner]
                - float(reports[key].ground_drop[corner])
                + SCATTER[(5 * n + m + 2) % len(SCATTER)]
            )
            _read(job, states[key], "after", "ground_arch", corner, value, by, story.inches)


def _true_model(core: CoreJob, story: Story) -> JobModel:
    """Return the model of the vehicle as it truly is: given rates, no readings to learn from."""
    assert story.true is not None
    rates = {"front_rate_n_per_m": story.true[0], "rear_rate_n_per_m": story.true[1]}
    heightless = tuple(r for r in core.readings if not r.datum.endswith("arch"))
    return build_model(
        core.model_copy(
            update={"vehicle": core.vehicle.model_copy(update=rates), "readings": heightless, "fitting": None}
        )
    )


def _fit(story: Story, job: Job) -> Fitting:
    """Choose the kit as the screen would, at the model's setting."""
    fitting = choose_kit(job, next(k for k in KITS if k["code"] == story.kit))
    fitting.done = story.fitted
    fitting.save()
    if fitting.done:
        begin_work(job)
    return fitting


def _read(job: Job, state: LoadState, phase: str, datum: str, place: str, value: float, by: User, inches: bool) -> None:
    if inches:
        text = inches_text(round(value / 0.0254 * 16) / 16 * 0.0254)
        value, unit, step = round(value / 0.0254 * 16) / 16 * 0.0254, "in", 0.0254 / 16
    else:
        text, unit, step = f"{value * 1000:.0f}", "mm", 0.001
        value = round(value, 3)
    Reading.objects.create(
        job=job,
        state=state,
        phase=phase,
        datum=datum,
        place=place,
        value_m=value,
        step_m=step,
        text=text,
        unit=unit,
        by=by,
    )
