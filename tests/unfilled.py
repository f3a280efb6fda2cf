"""A page that prints a name which nothing fills fails its test: Django leaves such a place empty, and nobody sees that a figure is not there."""

from __future__ import annotations

from django.template import engines


class Unfilled(str):
    """Stands where a template's name has nothing behind it; printing it is an error."""

    __slots__ = ()

    def __mod__(self, name: object) -> str:
        raise LookupError(f"a page prints “{name}”, and nothing fills it")


def refuse_unfilled() -> None:
    """Refuse, from here on in this process, every page that prints such a name."""
    engines["django"].engine.string_if_invalid = Unfilled("%s")  # type: ignore[attr-defined]
