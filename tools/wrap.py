"""Templates broken to a width where nothing shows it: at a space of text or between attributes, and round the blocks of a page.

Usage: python3 -m tools.wrap [--check] [FILES]. A line that has no such place stays as long as it is. Exits with 1 where --check finds one to break.
"""

from __future__ import annotations

import re
import sys
from pathlib import Path

WIDTH = 120
TEMPLATES = Path(__file__).resolve().parent.parent / "src" / "vantok" / "templates"
BLOCKS = (
    "article|aside|body|caption|dd|details|div|dl|dt|fieldset|figcaption|figure|footer|form|h1|h2|h3|head|header|hr|html|li|link|main|meta|nav|ol|option|p|"
    "section|select|summary|table|tbody|td|th|thead|title|tr|ul"
)
PIECES = re.compile(
    r"<(?P<verbatim>pre|textarea|script|style)\b.*?</(?P=verbatim)>|\{%.*?%\}|\{\{.*?\}\}|\{#.*?#\}|<!--.*?-->|</?[a-zA-Z][\w-]*|\s+|.",
    re.DOTALL,
)
OWN_BLOCK = re.compile(r"\{% (field|include) (?!\"parts/margin)")
"""Tags of ours that put a block of their own there: a field with its label, a part of a page."""
BLOCK = re.compile(rf"</?(?:{BLOCKS})$")


def breaks(text: str) -> list[tuple[int, int]]:
    """Return where a template may be broken: from where to where what stands there gives way to a new line."""
    found, tag, quote = [], "", ""
    for piece in PIECES.finditer(text):
        told, at, end = piece.group(), piece.start(), piece.end()
        if told.isspace() and not quote:
            found.append((at, end))
        elif not tag and OWN_BLOCK.match(told):
            found.append((at, at))
        elif tag and told in ('"', "'"):
            quote = "" if told == quote else quote or told
        elif tag and told == ">" and not quote:
            if BLOCK.match(tag):
                found.append((end, end))
            tag = ""
        elif not tag and re.match(r"</?[a-zA-Z]", told) and not piece["verbatim"]:
            if BLOCK.match(told) and told[1] != "/":
                found.append((at, at))
            tag = told
    return found


def formatted(text: str) -> str:
    """Return a template's text with its long lines broken."""
    told, at = "", 0
    places = [(a, b) for a, b in breaks(text) if "\n" not in text[a:b]]
    for line in text.splitlines(keepends=True):
        inside = [(a - at, b - at) for a, b in places if at < a and b < at + len(line) - 1]
        told += "\n".join(_wrapped(line.rstrip("\n"), inside)) + ("\n" if line.endswith("\n") else "")
        at += len(line)
    return told


def _wrapped(line: str, places: list[tuple[int, int]]) -> list[str]:
    indent = len(line) - len(line.lstrip())
    found, start, room = [], 0, WIDTH
    further = " " * (indent + 2)
    while len(line) - start > room:
        later = [(a, b) for a, b in places if a > start + indent]
        fitting = [(a, b) for a, b in later if a - start <= room]
        if not later:
            break
        end, start_next = fitting[-1] if fitting else later[0]
        found.append(line[start:end])
        start, room = start_next, WIDTH - len(further)
    found.append(line[start:])
    return [part if n == 0 else further + part for n, part in enumerate(found)]


def main() -> None:
    """Break long lines, or tell which would be."""
    names = [a for a in sys.argv[1:] if not a.startswith("-")]
    check, changed = "--check" in sys.argv, []
    for path in [Path(n) for n in names] or sorted(TEMPLATES.rglob("*.html")):
        text = path.read_text(encoding="utf-8")
        told = formatted(text)
        if told != text:
            changed.append(path)
            if not check:
                path.write_text(told, encoding="utf-8")
    for path in changed if check else ():
        print(f"{path}: lines that can be broken are longer than {WIDTH}")
    sys.exit(1 if check and changed else 0)


if __name__ == "__main__":
    main()
