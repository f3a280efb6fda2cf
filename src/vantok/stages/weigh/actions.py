"""What a person can do to a load: each action one function, called inside `jobs.actions.change`.

A change of what is carried stamps the state, so that a scale ticket from before it is known to be old.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import chain, count
from typing import Any

from django.utils import timezone

from vantok.desk.incoming import PlanLike, put_plan
from vantok.desk.load import Desk
from vantok.desk.opening import free_key
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.weigh.models import Carried, LoadItem, LoadState, ShopItem, TrailerItem
from vantok.stages.weigh.forms import TrailerForm
from vantok_core.base.errors import InputError
from vantok_core.base.say import Say, in_turn, length, mass
from vantok_core.loads.adjust import adjust_plan
from vantok_core.loads.places import USES, USUAL, Footprint, UsualItem, usual_place, zones
from vantok_core.loads.plan import planned_gain
from vantok_core.loads.zoning import zone_of

PRESETS = {
    "as-it-came": "As it came in",
    "work": "Work load",
    "holiday": "Holiday load",
    "hitched": "Hitched",
    "own": "Another load",
}
CARRIED = ("kind", "name", "mass_kg", "count", "capacity_l", "fill", "kg_per_l", "height_m")


def load_changed(state: LoadState) -> None:
    """Stamp a state whose load has just been changed."""
    state.changed_at = timezone.now()
    state.save(update_fields=["changed_at"])


def add_state(job: Job, name: str, copied: LoadState | None = None) -> LoadState:
    """Add a load state, with the items, tanks, people and trailer of another when one is copied.

    Scale figures and heights are not copied: they were read of the other load.
    """
    taken = {n.casefold() for n in job.states.values_list("name", flat=True)}
    name = next(n for n in chain((name,), (f"{name[:56]} {i}" for i in count(2))) if n.casefold() not in taken)
    state = LoadState.objects.create(job=job, key=free_key(job, name), name=name, order=job.states.count())
    if copied is not None and not copied.empty:
        for field in (*TrailerForm.Meta.fields, "restored"):
            setattr(state, field, getattr(copied, field))
        state.save()
        for item in copied.items.all():
            item.pk, item.state = None, state
            item.save()
        for thing in copied.trailer_items.all():
            thing.pk, thing.state = None, state
            thing.save()
    return state


def remove_state(state: LoadState) -> str:
    """Remove a state that nothing was read in; say what was done, or why not."""
    if state.empty:
        return "The empty state stays: everything is compared with it."
    if state.readings.exists():
        return f"“{state.name}” has readings, which are never thrown away; it stays."
    name = state.name
    state.delete()
    return f"“{name}” removed; it can be put back from the history."


def save_item(item: LoadItem) -> LoadItem:
    """Store an item, new or changed."""
    item.save()
    load_changed(item.state)
    return item


def place_item(item: LoadItem, station: float, lateral: float) -> LoadItem:
    """Put an item down somewhere else, to the nearest centimetre."""
    item.station_m, item.lateral_m = round(station, 2), round(lateral, 2)
    item.full_clean(exclude=["mass_kg", "state"])
    return save_item(item)


def remove_item(item: LoadItem | TrailerItem) -> None:
    """Take something off."""
    state = item.state
    item.delete()
    load_changed(state)


def take_off(item: LoadItem, kg: float) -> str:
    """Take some of an item off, or drain some of a tank (kg); say what is left."""
    if item.kind == "tank":
        item.fill = max(item.fill - kg / ((item.capacity_l or 1.0) * item.kg_per_l), 0.0)
    else:
        item.mass_kg = max((item.mass_kg or 0.0) - kg, 0.0)
    save_item(item)
    return item.name


def usual_items() -> dict[str, UsualItem]:
    """Return the shop's own items and the usual ones, by name; the shop's rule."""
    return {u.name: u for u in USUAL} | {s.name: s.to_core() for s in ShopItem.objects.all()}


def add_usual(state: LoadState, usual: UsualItem, place: Footprint) -> LoadItem:
    """Put a usual item on, where it usually stands."""
    station, lateral = usual_place(usual, place)
    count = 2 if usual.kind == "people" else 1
    item = LoadItem(
        state=state,
        kind=usual.kind,
        name=usual.name,
        mass_kg=None if usual.kind == "tank" else usual.mass_kg,
        count=count,
        capacity_l=usual.capacity_l,
        kg_per_l=usual.kg_per_l,
        height_m=usual.height_m,
        station_m=round(station, 2),
        lateral_m=round(lateral, 2),
    )
    return save_item(item)


def keep_for_shop(user: User, item: LoadItem, place: Footprint) -> ShopItem:
    """Keep an item on the shop's own list, with the part of its zone where it stands."""
    found = zone_of(place, item.station_m, item.lateral_m, item.height_m) or zones(place)[-1]
    along = min(max((item.station_m - found.start) / max(found.end - found.start, 0.1), 0.0), 1.0)
    facts = {name: getattr(item, name) for name in CARRIED if name != "name"}
    facts |= {
        "zone": next((key for key, use in USES.items() if use == found.use), "floor"),
        "along": along,
        "lateral": item.lateral_m / max(place.half_width - 0.15, 0.3),
        "by": user,
    }
    kept, _ = ShopItem.objects.update_or_create(name=item.name, defaults=facts)
    return kept


def save_scales(
    state: LoadState, figures: Mapping[str, float | None], *, at: Any = None, weighing: dict[str, Any] | None = None
) -> None:
    """Store scale figures (kg, by field) as read at a time (now when not said), with what the plan made of the load then."""
    for name, value in figures.items():
        setattr(state, name, value if value is not None or name not in ("tongue_kg", "trailer_kg") else 0.0)
    if weighing is not None:
        state.weighing = weighing
    state.weighed_at = at or timezone.now()
    state.save()
    desk = Desk.open(state.job_id)
    core = desk.job.state(state.key)
    gain = planned_gain(desk.job, core) if core is not None else None
    state.weighed_gain_kg = list(gain) if gain is not None else [0.0, 0.0]
    state.save(update_fields=["weighed_gain_kg"])


def adjust_to_scale(state: LoadState) -> Say:
    """Bring the plan to the scale, and say what was changed. Raises InputError where there is nothing to bring it to."""
    desk = Desk.open(state.job_id)
    core = desk.job.state(state.key)
    if core is None:
        raise InputError("state", state.key, "it is gone")
    found = adjust_plan(desk.job, core)
    records = list(state.items.filter(kind="item").order_by("pk"))
    told: list[Say] = []
    for index, new in found.masses.items():
        item = records[index]
        told.append(
            Say("{item} {was} → {now}", {"item": item.name, "was": mass(item.mass_kg or 0.0), "now": mass(new)})
        )
        item.mass_kg = new
        item.save()
    if found.unlisted is not None:
        added = {"u": mass(found.unlisted.mass_kg), "s": length(found.unlisted.station_m)}
        told.append(Say("added “not on the list”, {u} at {s}: find out what it is", added))
        LoadItem.objects.create(
            state=state, name=found.unlisted.name, mass_kg=found.unlisted.mass_kg, station_m=found.unlisted.station_m
        )
    # The ticket stands: the plan now describes the very load that was weighed.
    state.refresh_from_db()
    gain = planned_gain(*_core(state))
    state.weighed_gain_kg = list(gain) if gain is not None else None
    state.changed_at = min(state.changed_at or timezone.now(), state.weighed_at or timezone.now())
    state.save()
    left = {"f": mass(found.left_front, signed=True), "r": mass(found.left_rear, signed=True)}
    what = in_turn(told, "; ") if told else "nothing needed changing"
    return Say(
        "Plan adjusted to the scale: {what}. Still {f} at the front and {r} at the rear.", {**left, "what": what}
    )


def _core(state: LoadState) -> Any:
    desk = Desk.open(state.job_id)
    return desk.job, desk.job.state(state.key)


def replace_plan(state: LoadState, plan: PlanLike) -> None:
    """Put a file's plan in place of what a state carries."""
    state.items.all().delete()
    state.trailer_items.all().delete()
    put_plan(state, plan)
    load_changed(state)


def carried_kg(items: Sequence[Carried]) -> float:
    """Return the whole mass of what is carried, kg."""
    return sum(i.total_kg for i in items)
