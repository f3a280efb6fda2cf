"""A few lines of SVG writing: each element a string made of its children, everything escaped, presentation attributes only (no style)."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from django.utils.html import conditional_escape
from django.utils.safestring import SafeString, mark_safe

PAPER, INK, MUTED, LINE, TAPE, LIMIT, LEVEL, CARD = (
    "#f7f2e6",
    "#14251d",
    "#55645b",
    "#b9b39f",
    "#f5c518",
    "#b3261e",
    "#4f8a3d",
    "#fffdf6",
)
FIGURES = "'Barlow Condensed', sans-serif"


def tag(name: str, *children: object, **attributes: object) -> SafeString:
    """Return one element; underscores in attribute names become hyphens, None is left out, numbers are rounded."""
    parts = []
    for key, value in attributes.items():
        if value is None:
            continue
        shown = f"{value:.1f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)
        parts.append(f' {key.rstrip("_").replace("_", "-")}="{conditional_escape(shown)}"')
    inner = "".join(conditional_escape(child if isinstance(child, str) else str(child)) for child in children)
    return mark_safe(f"<{name}{''.join(parts)}>{inner}</{name}>")  # noqa: S308 - every part is escaped above


def drawing(
    words: str, *parts: object, figures: Sequence[Sequence[str]] = (), role: str = "img", **attributes: object
) -> SafeString:
    """Return a whole drawing, named by a sentence; figures: what it tells in figures, a row each (what, and its figures), as a table for whoever reads it so.

    A drawing without them says all it tells in its sentence, or has a table or fields of the page's own beside it.
    """
    whole = tag(
        "svg",
        *parts,
        xmlns="http://www.w3.org/2000/svg",
        role=role,
        aria_label=words,
        font_family=FIGURES,
        **attributes,
    )
    if not figures:
        return whole
    rows = (tag("tr", tag("th", first, scope="row"), *(tag("td", one) for one in rest)) for first, *rest in figures)
    table = tag("div", tag("table", tag("caption", words), tag("tbody", *rows)), class_="as-table")
    return mark_safe(whole + table)  # noqa: S308 - as above


def group(children: Iterable[object], **attributes: object) -> SafeString:
    """Return a group."""
    return tag("g", *children, **attributes)


def polygon(points: Iterable[tuple[float, float]], **attributes: object) -> SafeString:
    """Return a closed polygon."""
    return tag("polygon", points=" ".join(f"{x:.1f},{y:.1f}" for x, y in points), **attributes)


def text(
    x: float, y: float, words: str, *, size: float = 22, anchor: str = "middle", fill: str = INK, **more: object
) -> SafeString:
    """Return a line of text in the figures' face."""
    return tag("text", words, x=x, y=y, font_size=size, text_anchor=anchor, fill=fill, font_family=FIGURES, **more)
