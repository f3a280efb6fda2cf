"""How an option stands on each aim of a job beside its height: the ratio of its roll, where the beam then stands.

Source: method sections 4 and 20. What has no figure is judged by the drive, and not scored here.
"""

from __future__ import annotations

from dataclasses import dataclass

from vantok_core.aims.of_job import job_aims
from vantok_core.aims.rolling import Rolling, lacking
from vantok_core.base.errors import VantokError
from vantok_core.base.say import Quantity, Say
from vantok_core.facts.classes import BODIES
from vantok_core.judge.grounds.pitched import beam_moved
from vantok_core.kits.choice import Choice
from vantok_core.kits.odds import odds_in_words
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel


@dataclass(frozen=True, slots=True, kw_only=True)
class Scored:
    """An aim of the job, in words; where an option stands on it; whether it is met: surely, surely not, or not to be told (None)."""

    words: str
    said: Say
    met: bool | None


def scored(model: JobModel, choice: Choice, key: str) -> tuple[Scored, ...]:
    """Return how an option stands on the aims of its job that have a figure beside the height; key: the state judged."""
    if choice.out or choice.vehicle is None or choice.loaded is None:
        return ()
    found = []
    for aim in job_aims(model.job):
        one = _roll(model, choice) if aim.key == "roll" else _beam(model, choice, key) if aim.key == "beam" else None
        if one is not None:
            said, met = one
            found.append(Scored(words=aim.words, said=said, met=met))
    return tuple(found)


def _roll(model: JobModel, choice: Choice) -> tuple[Say, bool | None] | None:
    if choice.kit is None or lacking(model.job) or "roll" not in family_of(choice.kit).answers:
        return None
    try:
        found = Rolling(model.job, model).with_kit(choice.kit, choice.setting)
    except VantokError:
        return None  # the option's own line says why it cannot be solved
    values = {n: Quantity(v, "percent") for n, v in (("r", found.ratio), ("low", found.low), ("high", found.high))}
    text = f"{{r}} of it now ({{low}} to {{high}}); {odds_in_words(found.odds)} at most {{aim}}"
    met = {"meets": True, "misses": False, "open": None}[found.word]
    return Say(text, values | {"aim": Quantity(found.aim, "percent")}), met


def _beam(model: JobModel, choice: Choice, key: str) -> tuple[Say, bool | None] | None:
    body = BODIES[model.job.vehicle.body]
    if body.trailer or choice.loaded is None:
        return None
    errors = model.axle_errors(key, choice.vehicle)
    moved = beam_moved(choice.loaded, model.vehicle.wheelbase, body.lamp, errors)
    return Say("{b} from where it stood", {"b": moved}), None
