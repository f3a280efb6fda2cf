"""What changed in a field that holds several facts, fact by fact: each is told, and put back, for itself."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from typing import Any

from vantok_core.base.units import System, show
from vantok_core.facts import Facts, Job, JobVehicle
from vantok_core.facts.declared import Of, declared, figures
from vantok_core.facts.proving import Proving
from vantok_core.facts.sizes import SIZES
from vantok_core.facts.vehicle import OWN

WITHIN = {("job", "proving"), ("job", "sheets"), ("vehicle", "beyond")}
"""Fields that hold several facts, each with a key of its own: they change, and are put back, by what changed in them."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Within:
    """A change of one thing in a field that holds several: its path (key, and the entry's mark in a list), in words, from what to what."""

    path: str
    words: str
    old: str
    new: str
    undo: str


def within(old: Any, new: Any, units: System) -> list[Within]:
    """Return what changed in a field that holds several things, key by key and, in a list, entry by entry."""
    before, now = old or {}, new or {}
    found: list[Within] = []
    for key in dict.fromkeys([*before, *now]):
        was, is_now, words = before.get(key), now.get(key), KEY_WORDS.get(key, key.replace("_", " "))
        if was == is_now or (not was and not is_now):
            continue
        if isinstance(was or is_now, list):
            found += _entries(key, words, was or [], is_now or [], units)
        else:
            told = _fact(key, was, units)
            found.append(
                Within(path=key, words=words, old=told, new=_fact(key, is_now, units), undo=f"{words} back to {told}")
            )
    return found


def _entries(key: str, words: str, was: list[Any], now: list[Any], units: System) -> list[Within]:
    """Return the entries of a list that were added, taken off or changed, each by its mark."""
    old, new = {entry_mark(e): e for e in was}, {entry_mark(e): e for e in now}
    found = []
    for mark in dict.fromkeys([*old, *new]):
        before, after = old.get(mark), new.get(mark)
        if before == after:
            continue
        one = entry_words(before or after, units)
        undo = f"takes off {words}: {one}" if before is None else f"puts {words} back as: {entry_words(before, units)}"
        found.append(
            Within(
                path=f"{key}/{mark}",
                words=words,
                old=entry_words(before, units) if before else "",
                new=entry_words(after, units) if after else "taken off",
                undo=undo,
            )
        )
    return found


def entry_mark(entry: Any) -> str:
    """Return what an entry of a list is known by: its own key, else a digest of all it says."""
    if isinstance(entry, dict) and entry.get("key"):
        return str(entry["key"])
    return hashlib.sha256(json.dumps(entry, sort_keys=True).encode()).hexdigest()[:12]


KEY_WORDS = {name: one.words for model in (JobVehicle, Job, Proving) for name, one in declared(model).items()}
SAYS = (
    "side",
    "moment",
    "what",
    "where",
    "found",
    "bubbles",
    "p1_pa",
    "p2_pa",
    "course",
    "rater",
    "outcome",
    "stays",
    "road",
    "said",
    "words",
    "axle",
    "file",
    "start_m",
    "end_m",
    "name",
    "text",
    "at_m",
    "value_m",
)
"""What of an entry is told in the history, in this order."""


def entry_words(entry: Any, units: System) -> str:
    """Return an entry of a list in a line."""
    if not isinstance(entry, dict):
        return _fact("", entry, units)
    told = [
        _fact(name, entry[name], units).replace("_", " ") for name in SAYS if entry.get(name) not in (None, "", [], {})
    ]
    return ", ".join(told)[:120] or "as it was"


def _fact(name: str, value: Any, units: System) -> str:
    """Return one figure or word of a field that holds several."""
    if value in (None, "", [], {}):
        return "unknown"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, (int, float)):
        return figure(name, float(value), units)
    if isinstance(value, dict):
        return ", ".join(f"{k.replace('_', ' ')} {_fact(k, v, units)}" for k, v in list(value.items())[:6])
    if isinstance(value, list):
        return f"{len(value)} in all"
    return str(value)


def _kinds() -> dict[str, Of]:
    """Return what every figure of the facts is of, by its field's name, with what stands by a name of its own in a document."""
    found = {name: Of(one.kind) for name, one in SIZES.items()} | {name: Of(own.kind) for name, own in OWN.items()}
    models = [Facts]
    for model in models:
        models += model.__subclasses__()
        found |= figures(model)
    return found


FIGURES = _kinds()


def figure(field: str, value: float, units: System) -> str:
    """Return a figure in a person's units, as it is declared; value: as the facts hold it."""
    of = FIGURES.get(field)
    return f"{value:g}" if of is None else show(of.kind, value * of.si, units)
