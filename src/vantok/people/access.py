"""Who may look at what and do what, address by address, as the views declare it. `docs/security.md` is made of it by
`python -m tools.documents`, and a test walks it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from django.urls import URLPattern, URLResolver, get_resolver

from vantok.people.gate import OPEN
from vantok.people.models import Role
from vantok.people.rights import RIGHTS

WHO = {Role.TRAINEE: "anybody signed in", Role.TECHNICIAN: "technician, lead", Role.LEAD: "lead"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Access:
    """An address: its route and name, the right that looking at it takes (empty: being signed in), the rights of what can be done there by action."""

    route: str
    name: str
    looks: str
    does: tuple[tuple[str, str], ...]

    @property
    def open(self) -> bool:
        """Whether strangers get there: to sign in, to leave, and once to set the shop up."""
        return self.name in OPEN


def accesses() -> list[Access]:
    """Return every address of the program."""

    def walk(found: list[Any], before: str) -> Iterator[Access]:
        for one in found:
            if isinstance(one, URLResolver):
                yield from walk(one.url_patterns, before + str(one.pattern))
            elif isinstance(one, URLPattern):
                view = getattr(one.callback, "view_class", None)
                yield Access(
                    route=f"/{before}{one.pattern}",
                    name=str(one.name),
                    looks=getattr(view, "seen_by", ""),
                    does=_does(getattr(view, "rights", None)) if hasattr(view, "post") else (),
                )

    return list(walk(get_resolver().url_patterns, ""))


def _does(rights: dict[str, str] | str | None) -> tuple[tuple[str, str], ...]:
    return tuple(sorted(rights.items())) if isinstance(rights, dict) else (("", rights),) if rights else ()


def as_markdown() -> str:
    """Return the tables of the document: rights with the least role, then addresses with what looking and doing take."""
    rights = "\n".join(
        f"| {key} | {one.words} | {WHO[one.least]} | {'yes' if one.closed else 'no'} | {'by its own trainee' if one.practised else 'nobody'} |"
        for key, one in RIGHTS.items()
    )
    rows = "\n".join(
        f"| `{one.route}` | {'everybody' if one.open else _who(one.looks)} | {_told(one.does)} |" for one in accesses()
    )
    return (
        "| right | what | who | on a closed job | on a practice job |\n| --- | --- | --- | --- | --- |\n"
        f"{rights}\n\n| address | who looks | what is done there, by right |\n| --- | --- | --- |\n{rows}\n"
    )


def _who(right: str) -> str:
    return WHO[RIGHTS[right].least] if right else WHO[Role.TRAINEE]


def _told(does: tuple[tuple[str, str], ...]) -> str:
    return ", ".join(dict.fromkeys(right for _, right in does)) or "–"
