"""The demo world: the spring-and-hitch shop at the ferry landing. Everything and everybody in it is invented.

Readings are made from vehicles whose true spring rates are written here, through the core's own static solve, with a
fixed scatter, so that the screens show what a careful technician would have read.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from vantok.demo.stories import STORIES, Story
from vantok.desk.actions import begin_work
from vantok.desk.load import Desk
from vantok.desk.opening import judge_as_it_stands
from vantok.desk.readings import stamp_loads
from vantok.desk.settle import settled
from vantok.garage.history import take_history
from vantok.instruments.simulated import PORT as SIMULATED
from vantok.people.models import Role, Shop, User
from vantok.practice.work import begin, do
from vantok.records.garage.models import Customer, Vehicle
from vantok.records.instruments.models import BY_EYE, Instrument
from vantok.records.jobs.models import Bay, Booking, Inspection, Job
from vantok.records.measure.models import Reading
from vantok.records.practice.models import Task
from vantok.records.shelf.models import KitRecord
from vantok.records.weigh.models import LoadItem, LoadState, TrailerItem
from vantok.shop.starter_kits import KITS
from vantok.stages.choose.actions import choose_kit, propose_kit
from vantok.stages.choose.quote import save_quote
from vantok_core.base.units import inches_text
from vantok_core.facts import CardMark, QuoteSheet
from vantok_core.facts import Fitting as CoreFitting
from vantok_core.facts import Job as CoreJob
from vantok_core.facts.proving import Drive, Graded, LeakTest, Moment, Proving, Rater
from vantok_core.files.readings_csv import HeightRow
from vantok_core.judge.choose.offer import lines_for
from vantok_core.kits.staged import with_parts
from vantok_core.model import JobModel, build_model
from vantok_core.physics.vehicle import CORNERS

PASSWORD = "ferry-landing"  # noqa: S105 - the demo's, shown on its sign-in page


SCATTER = (0.001, -0.0015, 0.0005, 0.002, -0.001, 0.0, 0.0015, -0.0005)


@transaction.atomic
def build() -> None:
    """Fill an empty database with the demo world."""
    people = [
        _person(*row)
        for row in (
            ("marit", "Marit", "Solheim-Vane", Role.LEAD, "metric"),
            ("tobin", "Tobin", "Ashgrove", Role.TECHNICIAN, "us"),
            ("jude", "Jude", "Pell", Role.TRAINEE, "metric"),
        )
    ]
    Shop.objects.create(
        address="http://127.0.0.1:8710", name="Ferry Landing Springs", units="metric", currency="EUR", tax=0.0
    )
    for data in KITS:
        record = KitRecord(data=data, code=data["code"], name=data["name"], family=data["family"])
        record.full_clean()
        record.save()
    for story in STORIES:
        _job(story, people)
    _earlier(people[0])
    for bay in ("Bay 1, by the slip", "Bay 2"):
        Bay.objects.create(name=bay)
    today = timezone.localdate()
    for number, bay, start, hours, who in (
        ("2026-041", "Bay 1, by the slip", 8.0, 2.0, people[1]),
        ("2026-046", "Bay 2", 9.0, 3.5, people[0]),
    ):
        place = Bay.objects.get(name=bay)
        Booking.objects.create(
            job=Job.objects.get(number=number), bay=place, day=today, start=start, hours=hours, who=who
        )
    for name, kind in (
        ("Wheel pads, simulated", "PADS"),
        ("Axle scale, simulated", "AXLE"),
        ("Tongue scale, simulated", "TONGUE"),
        ("Pressure gauges, simulated", "GAUGE"),
        ("Height sensor, simulated", "HEIGHT"),
        ("Ride logger, simulated", "RIDE"),
    ):
        Instrument.objects.create(name=name, kind=kind, url=f"socket://127.0.0.1:{SIMULATED}")
    Instrument.objects.create(
        name="Torque wrench, 40 to 200", kind=BY_EYE, calibrated_to=timezone.localdate() + timedelta(days=40)
    )
    _practice(people[0], people[2])


def _practice(lead: User, trainee: User) -> None:
    """Begin a case in the practice bay, and set another as a task."""
    job = begin(trainee, "V-24", "after")
    for kind, what in (
        ("plate", ""),
        ("load", "loaded"),
        ("settle", ""),
        ("tape", "ground_arch"),
        ("drive", ""),
        ("log", ""),
    ):
        do(trainee, job.run, kind, what)
    due = timezone.localdate() + timedelta(days=7)
    Task.objects.create(code="V-05", person=trainee, due=due, by=lead)


def _earlier(lead: User) -> None:
    """Two earlier visits of the oyster pickup: its rear springs have been settling."""
    vehicle = Vehicle.objects.get(customer__name="Hallig Oyster Beds")
    heights = {"2024-112": ("2024-04-18", 0.876, 0.964), "2025-067": ("2025-05-06", 0.875, 0.958)}
    rows = [
        HeightRow(
            job=number,
            state="Empty",
            empty=True,
            datum="ground_arch",
            place=place,
            value_m=front if place[0] == "F" else rear,
            at=datetime.fromisoformat(f"{day}T09:30+00:00"),
        )
        for number, (day, front, rear) in heights.items()
        for place in CORNERS
    ]
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
        number=story.number,
        vehicle=vehicle,
        opened_by=people[0],
        complaints=story.complaints,
        words=story.words,
        use=story.use,
        school=story.school,
        already=story.already,
        **({"length_m": story.raise_m[0], "length_right_m": story.raise_m[1]} if story.raise_m else {}),
    )
    for area, (grade, note, *where) in story.inspected.items():
        Inspection.objects.create(job=job, area=area, grade=grade, note=note, where=where)
    empty = LoadState.objects.create(job=job, key="empty", name="Empty", empty=True, conditions="tank full, nobody in")
    if story.empty:
        empty.front_kg, empty.rear_kg = story.empty
        empty.save()
    loaded = LoadState.objects.create(job=job, key="loaded", order=1, **({"name": "Loaded"} | story.loaded))
    for row in story.things:
        LoadItem.objects.create(state=loaded, **row)
    for name, mass, behind in story.towed:
        TrailerItem.objects.create(state=loaded, name=name, mass_kg=mass, behind_ball_m=behind)
    states = {"empty": empty, "loaded": loaded}
    for (phase, key, datum), heights in story.typed.items():
        for place, value in heights.items():
            _read(job, states[key], phase, datum, place, value, people[0], inches=False)
    judge_as_it_stands(job, never_empty=story.never_empty)
    if story.drives:
        _drive(story, job)
    if story.true:
        _measure(story, job, states, people[1] if story.inches else people[0])
    stamp_loads(job)
    settled(job.pk)
    return job


def _drive(story: Story, job: Job) -> None:
    """Grade a job that asks for no height by its drives, its part going on between them."""
    told = [
        Drive(
            key=f"d{n}",
            moment=moment,
            rater=rater,
            course="usual",
            speed_kmh=60.0,
            grades=grades,
            words=words,
            by="Tobin Ashgrove",
            at=f"2026-03-0{n + 2}T16:40:00+00:00",
        )
        for n, (moment, rater, grades, words) in enumerate(story.drives)
    ]
    job.proving = Proving(drives=tuple(told)).model_dump(mode="json")
    job.save()
    if story.kit:
        _fit(story, job, story.kit)


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
    if story.proposed:
        propose_kit(by, job, next(k for k in KITS if k["code"] == story.proposed), "it is on the shelf")
    for code in filter(None, (story.first, story.kit)):
        _fit(story, job, code)
        if story.after:
            _read_with(story, job, states, true, by)


def _read_with(story: Story, job: Job, states: dict[str, LoadState], true: JobModel, by: User) -> None:
    """Read the true vehicle with the kits on it; of the last, if it leaks, some air is gone."""
    core = Desk.open(job.pk).job
    held = 1.0 - story.leak
    parts = list(core.parts)
    parts[-1] = parts[-1].model_copy(
        update={"setting": {n: (held * left, held * right) for n, (left, right) in parts[-1].setting.items()}}
    )
    reports = true.solve(with_parts(true, true.vehicle, parts))
    for n, key in enumerate(story.after):
        for m, corner in enumerate(CORNERS):
            drop, scatter = float(reports[key].ground_drop[corner]), SCATTER[(5 * n + m + 2) % len(SCATTER)]
            _read(
                job,
                states[key],
                "after",
                "ground_arch",
                corner,
                story.heights[corner] - drop + scatter,
                by,
                story.inches,
            )
    stamp_loads(job)


def _true_model(core: CoreJob, story: Story) -> JobModel:
    """Return the model of the vehicle as it truly is: given rates, no readings to learn from."""
    assert story.true is not None
    rates = {"front_rate_n_per_m": story.true[0], "rear_rate_n_per_m": story.true[1]}
    heightless = tuple(r for r in core.readings if not r.datum.endswith("arch"))
    return build_model(
        core.model_copy(
            update={
                "vehicle": core.vehicle.model_copy(update=rates),
                "readings": heightless,
                "fitting": None,
                "earlier": (),
            }
        )
    )


def _fit(story: Story, job: Job, code: str) -> None:
    """Choose a kit as the screen would, at the model's setting, on top of what is on."""
    standing = job.fittings.last()
    fitting = choose_kit(job, next(k for k in KITS if k["code"] == code), on_top_of=standing.pk if standing else 0)
    fitting.done = story.fitted
    if story.half_card:
        fitting.card = _half_card(job)
    fitting.save()
    if story.half_card:
        _accepted_quote(job)
    if fitting.done or fitting.card:
        begin_work(job)
    if story.driven:
        job.refresh_from_db()
        job.proving = _proving(Desk.open(job.pk).job.fitting)
        job.save()


def _proving(fitting: CoreFitting | None) -> dict[str, Any]:
    """Return a drive before and after by two raters, and a leak test that waits to be read again."""
    assert fitting is not None

    def drive(key: str, moment: Moment, rater: Rater, grades: dict[str, Graded], words: str = "") -> Drive:
        day = "2026-03-02T09:10:00+00:00" if moment == "before" else "2026-03-03T16:40:00+00:00"
        return Drive(
            key=key,
            moment=moment,
            rater=rater,
            course="bump",
            speed_kmh=20.0,
            state="loaded",
            grades=grades,
            words=words,
            by="Tobin Ashgrove",
            at=day,
            mark=fitting.mark if moment == "after" else "",
        )

    drives = (
        drive("d1", "before", "technician", {"stance": "poor", "bounces": "marginal", "bottoms": "marginal"}),
        drive(
            "d2", "before", "owner", {"stance": "poor", "bottoms": "poor"}, "The trailer presses it into the ground."
        ),
        drive("d3", "after", "technician", {"stance": "marginal", "bounces": "marginal", "bottoms": "fine"}),
        drive(
            "d4", "after", "owner", {"stance": "marginal", "bottoms": "fine"}, "Nearly level, and it no longer bangs."
        ),
    )
    waiting = LeakTest(
        key="l1",
        side="left",
        p1_pa=250_000.0,
        kelvin_1=291.15,
        began="2026-03-03T17:20:00+00:00",
        by="Tobin Ashgrove",
        soaped=True,
    )
    return Proving(drives=drives, leaks=(waiting,)).model_dump(mode="json")


def _accepted_quote(job: Job) -> None:
    """Give a job a quote of its kit that the customer has accepted, its consumables priced, its fasteners lightly rusted."""
    desk = Desk.open(job.pk)
    lines = [
        line.model_copy(
            update={"price": 18.0} if line.kind == "consumables" else {"answer": "yes"} if line.kind == "part" else {}
        )
        for line in lines_for(desk.job, [part.kit for part in desk.job.parts])
    ]
    sheet = QuoteSheet(
        lines=tuple(lines),
        corrosion="light",
        rate=desk.job.hour_price,
        tax=0.2,
        answer="accepted",
        answered="2026-03-01",
        by="Marit Solheim-Vane",
    )
    save_quote(job, sheet)


def _half_card(job: Job) -> list[dict[str, Any]]:
    """Return the marks of a card whose left side is done but one step, up to where both sides are to be there; the right is not begun."""
    found = Desk.open(job.pk).cards[0].card
    right = next(n for n, step in enumerate(found.steps) if step.side == "right")
    steps = found.steps[: right - 1]
    marks = [
        CardMark(key=s.key, each={f.name: "feel" for f in s.fasteners}, by="Tobin Ashgrove", at="2026-03-02T10:40:00")
        for s in steps
    ]
    return [mark.model_dump(mode="json", exclude_none=True) for mark in marks]


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
