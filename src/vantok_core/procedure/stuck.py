"""When it fights: a short tree of questions to the next thing to try, each with its danger, ending where somebody else answers for it."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

from vantok_core.procedure.templates import DATA

START = "start"


@dataclass(frozen=True, slots=True, kw_only=True)
class Node:
    """A place in the tree: what is asked with its answers (words, key of the next), or how it ends; the danger there; whether a specialist or the lead is
    called."""

    key: str
    asks: str = ""
    options: tuple[tuple[str, str], ...] = ()
    ends: str = ""
    danger: str = ""
    specialist: bool = False


@cache
def tree() -> Mapping[str, Node]:
    """Return every place of the tree by key."""
    told = json.loads((DATA / "stuck.json").read_text(encoding="utf-8"))
    return {
        key: Node(
            key=key,
            asks=one.get("asks", ""),
            options=tuple((w, to) for w, to in one.get("options", ())),
            ends=one.get("ends", ""),
            danger=one.get("danger", ""),
            specialist=one.get("specialist", False),
        )
        for key, one in told.items()
    }


def at(key: str) -> Node:
    """Return a place of the tree; its beginning for one it does not have."""
    return tree().get(key, tree()[START])
