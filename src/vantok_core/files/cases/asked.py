"""A case's inputs, which remember what was asked of them: a key no adapter asks for is refused, never silently ignored."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any


class Asked(dict[str, Any]):
    """A dictionary of inputs, nested ones included, that keeps which keys were asked for."""

    def __init__(self, data: dict[str, Any]) -> None:
        super().__init__({key: asked(value) for key, value in data.items()})
        self.seen: set[str] = set()

    def __getitem__(self, key: str) -> Any:
        self.seen.add(key)
        return super().__getitem__(key)

    def get(self, key: str, default: Any = None) -> Any:
        """Return an entry, asked for."""
        self.seen.add(key)
        return super().get(key, default)

    def __contains__(self, key: object) -> bool:
        self.seen.add(str(key))
        return super().__contains__(key)

    def items(self) -> Any:
        """Return the entries, all asked for."""
        self.seen |= set(self)
        return super().items()

    def whole(self, key: str) -> Any:
        """Return an entry as it stood in the file, for a reader that itself refuses what it does not know."""
        self.seen.add(key)
        return bare(super().__getitem__(key))


def asked(value: Any) -> Any:
    """Return a value of a file with its dictionaries made to remember."""
    if isinstance(value, dict):
        return Asked(value)
    return [asked(one) for one in value] if isinstance(value, list) else value


def bare(value: Any) -> Any:
    """Return a value as plain dictionaries again, all of it counted as asked for."""
    if isinstance(value, Asked):
        return {key: bare(one) for key, one in value.items()}
    return [bare(one) for one in value] if isinstance(value, list) else value


def unasked(value: Any, path: str = "") -> Iterator[str]:
    """Return the paths of the entries nobody asked for."""
    if isinstance(value, Asked):
        for key, one in dict.items(value):
            if key not in value.seen:
                yield f"{path}{key}"
            else:
                yield from unasked(one, f"{path}{key}.")
    elif isinstance(value, list):
        for i, one in enumerate(value):
            yield from unasked(one, f"{path}{i}.")
