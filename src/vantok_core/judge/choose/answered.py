"""What is said of the parts that answer an aim without a height: which takes the roll where it is wanted, or that none does.

Source: method sections 20 and 24.
"""

from __future__ import annotations

from collections.abc import Sequence

from vantok_core.aims.of_job import Answering, in_a_row, job_aims
from vantok_core.aims.rolling import Rolled, Rolling, lacking
from vantok_core.base.errors import VantokError
from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job
from vantok_core.judge.choose.thresholds import LEAST_MOVED
from vantok_core.kits.odds import odds_in_words
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel


def answered_said(job: Job, found: Sequence[Answering]) -> tuple[Say, ...]:
    """Return what to say of the parts that answer a job: nothing where the roll is not aimed at."""
    if not any(aim.key == "roll" for aim in job_aims(job)):
        return ()
    if lack := lacking(job):
        return (
            Say(
                "Choose what answers it, or fit nothing; how much less it rolls with each could be told with {lack}.",
                {"lack": in_a_row(lack)},
            ),
        )
    told = sorted((one for one in found if one.rolled is not None), key=lambda one: not _of(one).meets)
    if not told:
        return ()
    if not _of(told[0]).meets:
        nearest = min(told, key=lambda one: _of(one).ratio)
        text = "No single part here takes the roll to {aim} of what it is, likelier than not. Two parts together, lower load, or nothing."
        return Say(text, {"aim": Quantity(job.roll_wanted, "percent")}), _said(nearest, "Nearest: ")
    return (_said(told[0], ""),)


def _said(one: Answering, begins: str) -> Say:
    """Return one part's roll in words: the ratio with its band, the odds, which end gives first."""
    rolled = _of(one)
    values = {n: Quantity(v, "percent") for n, v in (("r", rolled.ratio), ("low", rolled.low), ("high", rolled.high))}
    if rolled.low <= LEAST_MOVED <= rolled.high:
        return Say(
            "{begins}{one}, of which it cannot be told that it holds more ({low} to {high} of the roll now).",
            {**values, "begins": begins, "one": one.kit.name},
        )
    loose = (
        " The rear then holds more than before and loses grip first: a front bar with it, and slower in bends."
        if rolled.tail_looser
        else ""
    )
    return Say(
        "{begins}{kit}{where}: {r} of the roll now ({low} to {high}); {odds} that it is {aim} at most.{loose}",
        {
            **values,
            "aim": Quantity(rolled.aim, "percent"),
            "begins": begins,
            "kit": one.kit.name,
            "where": setting_told(one),
            "odds": odds_in_words(rolled.odds),
            "loose": loose,
        },
    )


def rolled_said(job: Job, model: JobModel | None) -> tuple[Say, ...]:
    """Return how much a job's kit, as it is set, takes off the roll it came for; nothing where that cannot be told, or the kit answers something else."""
    part = job.fitting
    aimed = any(aim.key == "roll" for aim in job_aims(job))
    if part is None or not aimed or lacking(job) or "roll" not in family_of(part.kit).answers:
        return ()
    try:
        rolled = Rolling(job, model).with_kit(part.kit, part.setting)
    except VantokError:
        return ()  # the stages say why this setting cannot be solved
    if not rolled.counts:
        return (
            Say(
                "{part} adds nothing to the roll stiffness as it stands: one air line for both bags, or it does not touch.",
                {"part": part.kit.name},
            ),
        )
    values = {n: Quantity(v, "percent") for n, v in (("r", rolled.ratio), ("low", rolled.low), ("high", rolled.high))}
    return (
        Say(
            "By the model, {part} as it is set leaves {r} of the roll there was ({low} to {high}). No part makes a bend "
            "safe: slower does.",
            {**values, "part": part.kit.name},
        ),
    )


def setting_told(one: Answering) -> str:
    """Return the setting that a part's figure is for, in words."""
    if one.rolled is None:
        return ""
    fields = {f.name: f.words for f in family_of(one.kit).settings}
    return "".join(f", {fields[name]} {left:.0f}" for name, (left, _) in one.rolled.setting.items() if name in fields)


def _of(one: Answering) -> Rolled:
    assert one.rolled is not None
    return one.rolled
