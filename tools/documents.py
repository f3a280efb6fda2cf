"""Write the documents that are made of the program: `docs/glossary.md`, and the tables at the end of `docs/security.md`: `python -m tools.documents`."""

from __future__ import annotations

import os
from pathlib import Path

import django

DOCS = Path(__file__).resolve().parent.parent / "docs"


def main() -> None:
    """Write them; what is written by hand above the tables stays."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "vantok.settings")
    os.environ.setdefault("VANTOK_PLAIN_HTTP", "1")
    django.setup()
    from vantok.people.access import as_markdown
    from vantok_core.base.glossary import as_markdown as glossary

    (DOCS / "glossary.md").write_text(glossary(), encoding="utf-8")
    page = DOCS / "security.md"
    head, _, _ = page.read_text(encoding="utf-8").partition("| right | what |")
    page.write_text(head + as_markdown(), encoding="utf-8")


if __name__ == "__main__":
    main()
