"""The forms of a page as a browser would send them: read off its HTML, nothing else needed."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from html.parser import HTMLParser
from itertools import cycle
from typing import Any


@dataclass(frozen=True, slots=True, kw_only=True)
class Form:
    """A form of a page: where it goes, what it sends as it is shown, what its buttons add, and which of its fields a hand fills in."""

    page: str
    action: str
    shown: tuple[tuple[str, str], ...]
    buttons: tuple[tuple[str, str], ...]
    typed: tuple[str, ...]
    options: dict[str, tuple[str, ...]]
    files: tuple[str, ...] = ()
    keep: str = ""
    looks: bool = False

    @property
    def key(self) -> tuple[str, ...]:
        """What makes it another form than one seen before: the hidden fields' names, not their figures."""
        page = "".join(c for c in self.page.partition("?")[0] if not c.isdigit())
        action = "".join(c for c in self.action.partition("?")[0] if not c.isdigit())
        acts = tuple(f"{k}={v}" for k, v in (*self.shown, *self.buttons) if k == "action")
        return (page, action, *acts, *sorted(set(self.typed)))

    @property
    def data(self) -> dict[str, Any]:
        """What it sends untouched, with its first button."""
        told: dict[str, list[str]] = {}
        for name, value in (*self.shown, *(b for b in self.buttons[:1] if b[0])):
            told.setdefault(name, []).append(value)
        return told

    @property
    def seen(self) -> bool:
        """Whether it carries what it showed."""
        return any(name in ("seen", "shown") or name.endswith("-seen") for name, _ in self.shown)

    def filled(self, *texts: str) -> dict[str, Any]:
        """Return what it sends with these texts, in turn, in the fields that a hand fills in."""
        return self.data | {name: [text] for name, text in zip(sorted(self.typed), cycle(texts), strict=False)}

    def pressed(self, button: tuple[str, str]) -> Form:
        """Return it with another button pressed."""
        return replace(self, buttons=(button,))


@dataclass
class _Page(HTMLParser):
    address: str
    forms: list[Form] = field(default_factory=list)
    ids: list[str] = field(default_factory=list)
    numbers: list[str] = field(default_factory=list)
    names: set[str] = field(default_factory=set)

    def __post_init__(self) -> None:
        super().__init__()
        self._form: dict[str, Any] | None = None
        self._select: dict[str, Any] | None = None
        self._area: str | None = None
        self._text = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        told = {k: v or "" for k, v in attrs}
        if "id" in told:
            self.ids.append(told["id"])
        if tag == "form":
            self._form = {
                "told": told,
                "shown": [],
                "buttons": [],
                "typed": [],
                "options": {},
                "files": [],
                "looks": False,
            }
        if tag in ("input", "select", "textarea", "button") and told.get("name"):
            self.names.add(told["name"])
        if tag == "input" and told.get("type") == "number":
            self.numbers.append(told.get("name", ""))
        if self._form is not None and "data-looks" in told:
            self._form["looks"] = True
        if self._form is not None and not told.get("form"):
            self._field(tag, told, self._form)

    def _field(self, tag: str, told: dict[str, str], form: dict[str, Any]) -> None:
        if tag == "input":
            self._input(told)
        elif tag == "select":
            self._select = {"name": told.get("name", ""), "options": [], "chosen": []}
        elif tag == "option" and self._select is not None:
            self._select["options"].append(told.get("value", ""))
            if "selected" in told:
                self._select["chosen"].append(told.get("value", ""))
        elif tag == "textarea":
            self._area, self._text = told.get("name", ""), ""
        elif tag == "button" and told.get("type", "submit") == "submit":
            form["buttons"].append((told.get("name", ""), told.get("value", "")))

    def _input(self, told: dict[str, str]) -> None:
        assert self._form is not None
        name, kind = told.get("name", ""), told.get("type", "text")
        if kind == "file":
            self._form["files"] += [name] if name else []
        elif kind in ("checkbox", "radio"):
            self._form["options"].setdefault(name, []).append(told.get("value", "on"))
            if "checked" in told:
                self._form["shown"].append((name, told.get("value", "on")))
        elif name:
            self._form["shown"].append((name, told.get("value", "")))
            if kind not in ("hidden", "submit"):
                self._form["typed"].append(name)

    def handle_data(self, data: str) -> None:
        if self._area is not None:
            self._text += data

    def handle_endtag(self, tag: str) -> None:
        if tag == "textarea" and self._area is not None and self._form is not None:
            self._form["shown"].append((self._area, self._text.lstrip("\n")))
            self._form["typed"].append(self._area)
            self._area = None
        if tag == "select" and self._select is not None and self._form is not None:
            name, options = self._select["name"], self._select["options"]
            self._form["options"][name] = options
            self._form["shown"] += [(name, v) for v in self._select["chosen"] or options[:1]]
            self._select = None
        if tag == "form" and self._form is not None:
            found, self._form = self._form, None
            if found["told"].get("method", "get").lower() != "post":
                return
            self.forms.append(
                Form(
                    page=self.address,
                    action=found["told"].get("action") or self.address,
                    shown=tuple(found["shown"]),
                    buttons=tuple(found["buttons"]),
                    typed=tuple(found["typed"]),
                    options={k: tuple(v) for k, v in found["options"].items()},
                    files=tuple(found["files"]),
                    keep=found["told"].get("data-keep", ""),
                    looks=found["looks"],
                )
            )


def read_page(address: str, html: str) -> _Page:
    """Return what a page holds: its forms, its ids, the names of its fields, those that a browser would empty in silence."""
    found = _Page(address)
    found.feed(html)
    return found
