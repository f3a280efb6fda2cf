"""All that the judgement makes of a job: each of its public functions called with the job, its model and what other functions made of it, found by the
kinds of their arguments; a new function is called by itself."""

from __future__ import annotations

import inspect
import types
from collections.abc import Callable, Iterable, Iterator, Sequence
from functools import cache
from importlib import import_module
from pkgutil import walk_packages
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

import vantok_core.judge
import vantok_core.procedure
from tests.core.test_told import figures
from vantok_core.base.errors import VantokError
from vantok_core.base.units import System
from vantok_core.facts import Fitting, Job, JobState, Kit
from vantok_core.judge.grounds.shown import main_datum
from vantok_core.kits.staged import staged
from vantok_core.model import JobModel, build_model
from vantok_core.physics.vehicle import AxleName, Vehicle

MANY = (tuple, list, Sequence, Iterable)
PLAIN = (str, float, int, bool)
UNSAID = ("judge.figures.tables", "judge.benches", "procedure.stuck.at", "judge.grounds.next_step.with_reference")
"""What says the same of every job, or is a sum by itself."""


@cache
def functions() -> tuple[tuple[str, Callable[..., Any], dict[str, Any], tuple[str, ...]], ...]:
    """Return every public function of the rooms: its name, itself, the kinds of its arguments, those it must be given."""
    found = []
    for room in (vantok_core.judge, vantok_core.procedure):
        for info in walk_packages(room.__path__, room.__name__ + "."):
            module = import_module(info.name)
            for name, one in vars(module).items():
                if inspect.isfunction(one) and one.__module__ == info.name and not name.startswith("_"):
                    needed = (p.name for p in inspect.signature(one).parameters.values() if p.default is p.empty)
                    told = f"{info.name.removeprefix('vantok_core.')}.{name}"
                    if not told.startswith(UNSAID):
                        found.append((told, one, get_type_hints(one), tuple(needed)))
    return tuple(found)


def kind_of(hint: Any) -> tuple[Any, bool]:
    """Return what a hint asks for, several of a kind as `("many", kind)`, and whether it may be nothing."""
    if get_origin(hint) in (Union, types.UnionType):
        some = [one for one in get_args(hint) if one is not type(None)]
        return (kind_of(some[0])[0] if len(some) == 1 else None), len(some) < len(get_args(hint))
    if get_origin(hint) in MANY:
        inner = [one for one in get_args(hint) if one is not Ellipsis]
        of = kind_of(inner[0])[0] if len(inner) == 1 else None
        return (("many", of) if of is not None else None), False
    return hint, False


def known_of(job: Job) -> dict[Any, Any]:
    """Return what there is to begin with, by kind, and by name for what is only a word."""
    known: dict[Any, Any] = {Job: job, System: "metric", Literal["metric", "us"]: "metric", AxleName: "rear"}
    known |= {Fitting: job.fitting, Kit: job.fitting.kit} if job.fitting is not None else {}
    states = [*job.states, *job.loaded]
    try:
        model = staged(build_model(job))
    except VantokError:
        pass
    else:
        known |= {JobModel: model, Vehicle: model.vehicle}
        states = [one for one in states if one.key in model.states]
    for state in states[-1:]:
        known |= {JobState: state, "datum": main_datum(job), "state": state.key, "key": state.key}
    return known


def given(hints: dict[str, Any], needed: Sequence[str], known: dict[Any, Any], *, at_last: bool) -> list[Any] | None:
    """Return what a function is called with; None where something is not known, or may still become known (`at_last`: or stays nothing)."""
    found = []
    for name in needed:
        kind, may_be_none = kind_of(hints[name])
        kind = name if kind is str else kind
        if kind in known:
            found.append(known[kind])
        elif may_be_none and at_last:
            found.append(None)
        else:
            return None
    return found


def judged(job: Job) -> Iterator[tuple[str, list[str]]]:
    """Yield what each function that can be called makes of a job, piece by piece."""
    known, waiting, at_last = known_of(job), list(functions()), False
    while waiting:
        left = []
        for one in waiting:
            name, call, hints, needed = one
            told = given(hints, needed, known, at_last=at_last)
            if told is None:
                left.append(one)
                continue
            try:
                made = call(*told)
            except (VantokError, AssertionError, ValueError) as error:
                yield name, [" ".join(f"refused: {type(error).__name__} {error}".split())]
                continue
            made = tuple(made) if isinstance(made, types.GeneratorType) else made
            kind, _ = kind_of(hints.get("return"))
            if made is not None and kind not in PLAIN and kind is not None:
                known.setdefault(kind, made)
                if isinstance(kind, tuple) and made:
                    known.setdefault(kind[1], made[0])
            yield name, [" ".join(piece.split()) for piece in figures(made)]
        if len(left) == len(waiting):
            if at_last:
                return
            at_last = True
        waiting = left
