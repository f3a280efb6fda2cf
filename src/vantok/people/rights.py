"""Who may do what, in one table. What is not in it nobody may do.

A trainee measures, inspects and proposes; a technician sets and fits; the lead overrules, hands over, reopens and edits the
shop. Views name the right of each of their actions, the gate asks this table before any of them runs, and the actions
themselves ask again for what depends on the figures (a locked baseline, a fault overruled, a rating).
"""

from __future__ import annotations

from dataclasses import dataclass

from django.core.exceptions import PermissionDenied
from pydantic import BaseModel

from vantok.people.models import Role, User
from vantok_core.facts import Job, JobState, JobVehicle
from vantok_core.facts.declared import declared
from vantok_core.facts.proving import Proving


@dataclass(frozen=True, slots=True)
class Right:
    """What an action is called in a sentence, and the least role that may do it."""

    words: str
    least: Role
    closed: bool = False
    """Whether it may be done to a job that was handed over."""
    practised: bool = True
    """Whether it may be done to a practice job: by its own trainee, whatever their role, and by nobody else."""


RIGHTS: dict[str, Right] = {
    "own": Right("changing one's own settings", Role.TRAINEE, closed=True, practised=False),
    "start": Right("starting a job", Role.TRAINEE, practised=False),
    "listen": Right("writing down the complaint", Role.TRAINEE),
    "measure": Right("measuring and weighing", Role.TRAINEE),
    "inspect": Right("inspecting", Role.TRAINEE),
    "photograph": Right("taking photographs", Role.TRAINEE),
    "propose": Right("proposing a kit", Role.TRAINEE),
    "put back": Right("putting a change back", Role.TRAINEE),
    "rate": Right("entering ratings", Role.TECHNICIAN),
    "plan": Right("changing the plan for the scale or a limit", Role.TECHNICIAN),
    "choose": Right("choosing a kit", Role.TECHNICIAN),
    "quote": Right("making a quote", Role.TECHNICIAN),
    "set": Right("entering a setting", Role.TECHNICIAN),
    "answer": Right("answering a complaint", Role.TECHNICIAN),
    "shelf": Right("changing the kit shelf", Role.TECHNICIAN, practised=False),
    "import": Right("taking jobs in from files", Role.TECHNICIAN, practised=False),
    "floor": Right("measuring a bay's floor", Role.TECHNICIAN, practised=False),
    "remove photograph": Right("taking off somebody else's photograph", Role.TECHNICIAN),
    "cure": Right("calling a fault cured", Role.TECHNICIAN),
    "overrule": Right("overruling a fault", Role.LEAD),
    "baseline": Right("changing a baseline after work began", Role.LEAD),
    "hand over": Right("handing over", Role.LEAD, practised=False),
    "plan day": Right("planning the day", Role.TECHNICIAN, practised=False),
    "recall": Right("answering what is due again", Role.TECHNICIAN, closed=True, practised=False),
    "reopen": Right("taking a job back into the shop", Role.LEAD, closed=True, practised=False),
    "shop": Right("editing the shop", Role.LEAD, closed=True, practised=False),
    "practise": Right("practising", Role.TRAINEE, closed=True),
    "teach": Right("making and setting practice cases", Role.LEAD, closed=True, practised=False),
}
ORDER = (Role.TRAINEE, Role.TECHNICIAN, Role.LEAD)


def guarded(model: type[BaseModel]) -> dict[str, str]:
    """Return the facts that take more than measuring to change, each with its right, as they are declared."""
    return {name: one.right for name, one in declared(model).items() if one.right != "measure"}


def _facts(kind: str, model: type[BaseModel], within: str = "") -> dict[str, str]:
    """Return the right of each declared fact of a kind of record; within: the field that holds those without one of their own."""
    told = {name: one.right for name, one in declared(model).items() if not one.part}
    inner = {f"{kind}.{within}.{name}": right for name, right in told.items()} if within else {}
    return {f"{kind}.{name}": right for name, right in told.items()} | inner


def _all(kind: str, right: str, names: str) -> dict[str, str]:
    return {f"{kind}.{name}": right for name in names.split()}


CHANGING: dict[str, str] = {
    **_facts("job", Job, "sheets"),
    **_facts("job.proving", Proving),
    **_facts("vehicle", JobVehicle, "beyond"),
    **_facts("state", JobState),
    **_all("job", "listen", "heard promised who"),
    **_all("job", "measure", "bay facing_out lifted prepared came_back warranty"),
    **_all(
        "job",
        "choose",
        "proposal school share rake_m length_m length_right_m front_raise_m contact target_source target_reason target_state beam_m",
    ),
    **_all("job", "answer", "answers"),
    **_all("state", "measure", "fl_kg fr_kg rl_kg rr_kg weighing"),
    **_all("item", "measure", "kind name mass_kg count capacity_l fill kg_per_l height_m station_m lateral_m movable"),
    **_all("trailer", "measure", "name mass_kg behind_ball_m"),
    **_all("inspection", "inspect", "grade note where after after_note"),
    **_all("inspection", "overrule", "overruled"),
    **_all("fitting", "set", "setting done as_set ordered ruled_out state_key"),
    **_all("fitting", "overrule", "overruled"),
    **_all("photo", "remove photograph", "gone"),
    **_all("photo", "photograph", "caption area"),
    "state": "measure",
    "item": "measure",
    "trailer": "measure",
    "inspection": "inspect",
    "fitting": "choose",
    "photo": "remove photograph",
    "reading": "measure",
}
"""The right that changing a fact takes, by kind of record and field, and by the key within where a field holds several; a kind alone: a record that was
removed. What is not in it is put back by nobody."""


def right_to_change(kind: str, field: str = "", key: str = "") -> str | None:
    """Return the right that changing a fact takes; None for what nobody changes this way."""
    return CHANGING.get(".".join(part for part in (kind, field, key) if part))


class RefusedError(PermissionDenied):
    """An action that this person may not do, or not now; its text is a sentence for them."""


def may(person: User, right: str) -> bool:
    """Tell whether a person has a right; one that the table does not know, nobody has."""
    known = RIGHTS.get(right)
    if known is None or not person.is_active or person.rank not in ORDER:
        return False
    return ORDER.index(Role(person.rank)) >= ORDER.index(known.least) or (known.practised and person.practises)


def demand(person: User, right: str) -> None:
    """Raise RefusedError unless a person has a right."""
    if may(person, right):
        return
    known = RIGHTS.get(right)
    if known is None:
        raise RefusedError("Nobody may do that here.")
    who = "the lead" if known.least == Role.LEAD else "a technician or the lead"
    raise RefusedError(f"{known.words.capitalize()} is for {who}. Nothing was changed; ask one of them.")
