"""Copy the front end's files from their npm packages, at pinned versions, with their licence texts.

Run it as `python3 tools/vendor.py` when a version changes; the copies are committed, so that nothing is fetched when
the application is installed or served.
"""

from __future__ import annotations

import re
import shutil
import subprocess
import tarfile
import tempfile
from pathlib import Path

import tinycss2

TARGET = Path(__file__).resolve().parent.parent / "src" / "vantok" / "static" / "vendor"
ICONS = [
    "arrow-counterclockwise",
    "arrow-left",
    "arrow-right",
    "box-arrow-in-down",
    "box-arrow-up",
    "calendar-check",
    "camera",
    "check-circle-fill",
    "check2",
    "clipboard2-check",
    "clock-history",
    "exclamation-octagon-fill",
    "exclamation-triangle-fill",
    "eye",
    "file-earmark-arrow-down",
    "file-earmark-pdf",
    "gear",
    "info-circle",
    "list-check",
    "moon-stars",
    "people-fill",
    "person-circle",
    "plus-lg",
    "printer",
    "question-circle",
    "rulers",
    "search",
    "shield-exclamation",
    "signpost-2",
    "sliders",
    "speedometer2",
    "tools",
    "trash",
    "truck-flatbed",
    "wrench-adjustable",
    "x-lg",
    "box-seam",
    "grid-3x3-gap",
    "pencil",
]
FONTS = [
    f"{family}-{subset}-{weight}-normal.woff2"
    for family, weights in (("barlow", (400, 600)), ("barlow-condensed", (500, 600)))
    for weight in weights
    for subset in ("latin", "latin-ext")
]
PACKAGES = {
    "htmx.org@2.0.8": {"dist/htmx.min.js": "htmx/htmx.min.js", "LICENSE": "htmx/LICENSE"},
    "bootstrap@5.3.8": {"dist/css/bootstrap.min.css": "bootstrap/bootstrap.min.css", "LICENSE": "bootstrap/LICENSE"},
    "bootstrap-icons@1.13.1": {
        **{f"icons/{name}.svg": f"icons/{name}.svg" for name in ICONS},
        "LICENSE": "icons/LICENSE",
    },
    "@fontsource/barlow@5.2.8": {
        **{f"files/{name}": f"fonts/{name}" for name in FONTS if name.startswith("barlow-latin")},
        "LICENSE": "fonts/LICENSE-barlow",
    },
    "@fontsource/barlow-condensed@5.2.8": {
        **{f"files/{name}": f"fonts/{name}" for name in FONTS if name.startswith("barlow-condensed")},
        "LICENSE": "fonts/LICENSE-barlow-condensed",
    },
    "axe-core@4.11.0": {
        "axe.min.js": "../../../../tests/browser/vendor/axe.min.js",
        "LICENSE": "../../../../tests/browser/vendor/LICENSE-axe",
    },
}


BOOTSTRAP = TARGET / "bootstrap" / "bootstrap.min.css"
USED = re.compile(r"[\w-]+")
CLASS = re.compile(r"\.(-?[A-Za-z_][\w-]*)")


def keep_used_parts() -> None:
    """Leave in Bootstrap's style sheet the rules that a page of ours can meet: plain elements, and classes that are named somewhere."""
    source = TARGET.parents[1]
    texts = [p for kind in ("*.html", "*.py", "*.js") for p in source.rglob(kind) if "vendor" not in p.parts]
    named = {word for path in texts for word in USED.findall(path.read_text(encoding="utf-8"))}
    BOOTSTRAP.write_text(_used(BOOTSTRAP.read_text(encoding="utf-8"), named), encoding="utf-8")


def _used(css: str, named: set[str]) -> str:
    """Return a style sheet with one rule a line, those left out of which a class is not among the named."""
    kept = []
    for rule in tinycss2.parse_stylesheet(css, skip_comments=False, skip_whitespace=True):
        if rule.type == "qualified-rule":
            chosen = [s for s in tinycss2.serialize(rule.prelude).split(",") if set(CLASS.findall(s)) <= named]
            if chosen:
                kept.append(f"{','.join(chosen)}{{{tinycss2.serialize(rule.content)}}}")
        elif rule.type == "at-rule" and rule.lower_at_keyword == "media":
            inner = _used(tinycss2.serialize(rule.content), named)
            if inner.strip():
                kept.append(f"@media{tinycss2.serialize(rule.prelude)}{{\n{inner}}}")
        elif rule.type == "comment":
            kept.append(rule.serialize())
    return "\n".join(kept) + "\n"


def copy_package(package: str, files: dict[str, str], work: Path) -> None:
    """Fetch one package and copy the wanted files."""
    packed = subprocess.run(
        ["npm", "pack", "--silent", package],
        cwd=work,
        check=True,
        capture_output=True,
        text=True,
    ).stdout.split()[-1]
    with tarfile.open(work / packed) as archive:
        archive.extractall(work / "out", filter="data")
    for source, target in files.items():
        destination = TARGET / target
        destination.parent.mkdir(parents=True, exist_ok=True)
        text = work / "out" / "package" / source
        if text.suffix in (".js", ".css"):  # source maps are not shipped, so nothing may ask for them
            lines = [line for line in text.read_text().splitlines() if "sourceMappingURL" not in line]
            destination.write_text("\n".join(lines) + "\n")
        else:
            shutil.copyfile(text, destination)
    shutil.rmtree(work / "out")


def main() -> None:
    """Copy everything anew."""
    shutil.rmtree(TARGET, ignore_errors=True)
    for package, files in PACKAGES.items():
        with tempfile.TemporaryDirectory() as work:
            copy_package(package, files, Path(work))
        print(f"copied {package}")
    keep_used_parts()


if __name__ == "__main__":
    main()
