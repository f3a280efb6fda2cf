"""The house agrees with what is written of it: examples run, files that documents name are there, docstrings tell units and sources,
nothing grows beyond its measure."""

from __future__ import annotations

import ast
import doctest
import importlib
import itertools
import pkgutil
import re
import shutil
import subprocess
import sys
import tempfile
import unittest
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

from tools.phrases import built, read_out, told
from tools.wrap import formatted

import vantok_core
from tests.told import HERE, held_against
from vantok_core.base.glossary import ARGUMENTS
from vantok_core.judge.figures import tables
from vantok_core.kits.registry import FAMILIES

ROOT = Path(__file__).resolve().parents[2]
CORE, WEB = ROOT / "src" / "vantok_core", ROOT / "src" / "vantok"
DOCUMENTS = ("README.md", "CONTRIBUTING.md", "docs/method.md", "docs/decisions.md", "docs/next.md", "docs/house.md")
NAMED = re.compile(r"`((?:[\w.-]+/)*[\w.-]+\.(?:py|js|md|toml|css|html)|(?:[\w-]+/)+)`")
WHERE = ("", "src", "src/vantok_core", "src/vantok", "src/vantok/static/vantok", "src/vantok/static", "docs")
NUMERIC = re.compile(
    r"(float|Real|FloatArray|Pair)( \| None)?$|(tuple|Sequence|list)\[(float|Real|tuple\[float)|Mapping\[\w+, float\]"
)
UNIT_IN_NAME = re.compile(r"_(m|kg|pa|n|n_per_m|s|hz|l|kg_per_l|m2|m3|rad|deg)$")
UNIT = re.compile(
    r"(?<!\w)(m|mm|kg|N|Pa|rad|deg|degrees|s|Hz|N/m|N m|N s/m|m/s|m/s2|m2|m3|K|litres?|share|ratio|SI|kelvin|seconds?|exponent)(?!\w)"
)
SHARED = {name for names, _, _ in ARGUMENTS for name in names.split(", ")}
SOURCE = re.compile(r"Source:|method section|[Oo]wn derivation|\(\d{4}\)")
PLAIN, TINY = (0.0, 0.5, 1.0, 2.0), 1e-3
"""Figures that halve, double and round, and those too small for a thing: no thresholds."""
WITH_UNIT = re.compile(
    r"\d[\s\u00a0]?(?:mm|cm|kg|bar|psi|[kM]Pa|km/h|mph|km|N/mm|lb/in|k?N|N·m|Nm|lb·ft|lbf|lb|m/s2?|in/s|°[CF])(?![\w/²³])"
)
SO_FOR_ALL = {
    "vantok_core/base/errors.py": "an error knows no reader: both systems",
    "vantok_core/base/units.py": "the units themselves",
    "vantok_core/judge/benches/thread.py": "what can be typed into the converter",
    "vantok_core/judge/set/card_for.py": "the card: both systems",
    "vantok_core/kits/sheet.py": "a kit's sheet as it is typed and read again",
    "vantok_core/practice/bay/drills.py": "the pitch of a metric thread",
    "vantok_core/procedure/needs.py": "the head of a bolt: both systems",
    "vantok/desk/reading_rows.py": "what a file's reading counts as typed",
    "vantok/shelf/forms.py": "a kit's sheet as it is typed",
    "vantok/stages/hand_over/label.py": "sizes that labels are sold in",
    "vantok/stages/measure/otherwise.py": "what a photograph's reading counts as typed",
}
"""Modules that print a unit, each with why it is so for every reader."""
SOURCED = ("physics", "rates", "benches", "road", "readings")


def modules(root: Path) -> Iterator[Path]:
    """Return a package's modules, migrations left out."""
    return (p for p in sorted(root.rglob("*.py")) if "migrations" not in p.parts)


def functions(tree: ast.Module) -> Iterator[tuple[ast.FunctionDef, str]]:
    """Return the public functions and methods of a module, each with its class's docstring."""
    for node in tree.body:
        if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
            yield node, ""
        elif isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
            for inner in node.body:
                if isinstance(inner, ast.FunctionDef) and not inner.name.startswith("_"):
                    yield inner, ast.get_docstring(node) or ""


def _names(node: ast.stmt) -> list[str]:
    """Return what a statement at the top of a module names and only our own code can use."""
    match node:
        case ast.FunctionDef(name=name, decorator_list=[]) | ast.ClassDef(name=name, decorator_list=[], bases=[]):
            return [name]
        case ast.Assign(targets=targets):
            return [one.id for target in targets for one in ast.walk(target) if isinstance(one, ast.Name)]
        case ast.AnnAssign(target=ast.Name(name)):
            return [name]
    return []


def _is_text(node: ast.stmt) -> bool:
    """Tell whether a statement is a text that only says something."""
    return isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)


def with_units(tree: ast.Module) -> Iterator[str]:
    """Yield the texts of a module that print a unit behind a figure, its docstrings left out."""
    told = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    for node in ast.walk(tree):
        parts = node.values if isinstance(node, ast.JoinedStr) else []
        told |= {id(part) for part in parts}
        behind = (str(b.value) for a, b in itertools.pairwise(parts) if isinstance(b, ast.Constant))
        yield from (text for text in behind if WITH_UNIT.match(f"0{text}"))
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in told:
            yield from [node.value] if WITH_UNIT.search(node.value) else []


def branches(function: ast.FunctionDef) -> int:
    """Return the ways through a function, every condition, comprehension and handler counted, inner functions left to themselves."""
    count, waiting = 1, list(ast.iter_child_nodes(function))
    while waiting:
        node = waiting.pop()
        if isinstance(node, (ast.FunctionDef, ast.ClassDef)):
            continue
        count += isinstance(node, (ast.If, ast.For, ast.While, ast.ExceptHandler, ast.IfExp, ast.match_case))
        count += len(node.values) - 1 if isinstance(node, ast.BoolOp) else 0
        count += 1 + len(node.ifs) if isinstance(node, ast.comprehension) else 0
        waiting += ast.iter_child_nodes(node)
    return count


class Docstrings(unittest.TestCase):
    def every(self) -> Iterator[tuple[str, Path, ast.FunctionDef, str, str]]:
        for path in modules(CORE):
            tree = ast.parse(path.read_text(encoding="utf-8"))
            for function, of_class in functions(tree):
                doc = ast.get_docstring(function) or ""
                where = f"{path.relative_to(CORE)}:{function.lineno} {function.name}"
                yield where, path, function, f"{doc} {of_class}", ast.get_docstring(tree) or ""

    def test_every_numeric_argument_has_its_unit(self) -> None:
        """By its name's ending, by the glossary's table of shared arguments, or by its docstring."""
        told = 0
        for where, _, function, doc, _ in self.every():
            numeric = [
                a.arg
                for a in (*function.args.args, *function.args.kwonlyargs)
                if a.annotation is not None and NUMERIC.match(ast.unparse(a.annotation))
            ]
            for name in numeric:
                if UNIT_IN_NAME.search(name) or name in SHARED:
                    continue
                told += 1
                self.assertRegex(doc, UNIT, f"{where}: {name} has no unit")
                if len(numeric) > 1:
                    self.assertRegex(doc, rf"\b{re.escape(name)}\b", f"{where}: {name} is not told")
        self.assertGreater(told, 40)

    def test_every_raising_function_says_so(self) -> None:
        """A public function with a raise of its own names it."""
        raising = [e for e in self.every() if any(isinstance(n, ast.Raise) and n.exc for n in ast.walk(e[2]))]
        self.assertGreater(len(raising), 30)
        for where, _, _, doc, _ in raising:
            self.assertRegex(doc, r"[Rr]aise|[Rr]efuse", where)

    def test_every_model_function_has_its_source(self) -> None:
        """What computes names the page, standard or derivation it follows, itself or in its module's head."""
        for where, path, _, doc, head in self.every():
            if path.relative_to(CORE).parts[0] in SOURCED:
                self.assertRegex(f"{doc} {head}", SOURCE, where)


MADE = "var/"
"""What the program makes for itself where it runs, which a fresh clone has not, or has elsewhere."""


class House(unittest.TestCase):
    def test_every_front_door_has_an_example_that_runs(self) -> None:
        """The docstring of each core room shows its use, and every example in the core does what it shows."""
        for found in pkgutil.walk_packages(vantok_core.__path__, "vantok_core."):
            result = doctest.testmod(importlib.import_module(found.name))
            self.assertEqual(result.failed, 0, found.name)
            if found.ispkg and found.name.count(".") == 1:
                self.assertGreater(result.attempted, 0, found.name)

    def test_files_that_documents_name_are_there(self) -> None:
        """Whatever a document names as a file or folder of the house stands where it says."""
        for document in DOCUMENTS:
            text = (ROOT / document).read_text(encoding="utf-8")
            for name in set(NAMED.findall(text)) - {MADE}:
                there = any((ROOT / base / name).exists() for base in WHERE)
                if "/" not in name:  # a bare name stands for every file of that name
                    there = there or any((ROOT / "src").rglob(name)) or any((ROOT / "tests").rglob(name))
                self.assertTrue(there, f"{document} names {name}")

    def test_every_room_stands_on_the_page_of_the_house(self) -> None:
        """docs/house.md tells of each room of core and web."""
        page = (ROOT / "docs" / "house.md").read_text(encoding="utf-8")
        for root in (CORE, WEB):
            for room in (p.parent.name for p in root.glob("*/__init__.py")):
                self.assertIn(f"`{room}/`", page)

    def test_nobody_decides_by_a_familys_name(self) -> None:
        """Outside the families a module asks what a family declares (what it does, how it is drawn, its bench), never which of them it is."""
        names = "|".join(FAMILIES)
        compared = re.compile(
            rf"\.family\s*(?:==|!=|in|not in)\s*[\"'(\[{{]|\bfamily\s*(?:==|!=)\s*[\"']|[\"'](?:{names})[\"']\s*(?:in|not in)\s*\w*famil"
        )
        keyed = re.compile(rf"^\s+[\"'](?:{names})[\"']: (?:_\w+|\w+\.\w+),$", re.MULTILINE)
        for path in (*CORE.rglob("*.py"), *WEB.rglob("*.py")):
            if not {"families", "migrations", "cases"} & set(path.parts):
                text = path.read_text(encoding="utf-8")
                self.assertEqual(compared.findall(text), [], f"{path}: it asks a family what it declares instead")
                if (
                    "bench" not in path.name and "at_step" not in path.name
                ):  # benches and parts of an axle have their own names
                    self.assertEqual(keyed.findall(text), [], f"{path}: a table by the names of families")

    def test_figures_from_which_something_is_said_stand_in_their_rooms_table(self) -> None:
        """Judgement compares with no figure written on the spot, nor with one at the top of a module: each is a row of `thresholds.py`, with its why."""
        for path in modules(CORE / "judge"):
            tree = ast.parse(path.read_text(encoding="utf-8"))
            named = [s for s in tree.body if isinstance(s, ast.Assign) and path.name != "thresholds.py"]
            several = [v for s in named if isinstance(s.targets[0], ast.Tuple) for v in getattr(s.value, "elts", ())]
            on_top = [*(s.value for s in named), *several]
            compared = [c for n in ast.walk(tree) if isinstance(n, ast.Compare) for c in ast.walk(n)]
            for node in (*on_top, *compared):
                if isinstance(node, ast.Constant) and type(node.value) is float:
                    self.assertTrue(node.value in PLAIN or node.value < TINY, f"{path.name}:{node.lineno} {node.value}")
        for table in tables():
            for name, one in table.figures.items():
                self.assertTrue(one.kind and one.source and one.why, f"{table.room}.{name}")

    def test_every_sentence_is_a_template_with_its_values(self) -> None:
        """No sentence is an f-string or glued to somebody's words, so that all of them can be read (`run.py phrases`); each of its places has a value."""
        found = {str(p): list(built(ast.parse(p.read_text(encoding="utf-8")))) for p in (*modules(CORE), *modules(WEB))}
        self.assertEqual({path: said for path, said in found.items() if said}, {})
        wrong = "def f(x):\n    Say(f'at {x}')\n    Say('{a} {b}', {'a': x})\n    t = f'{x}'\n    draft.say(t)\n    u = f'{{a}} {x}'"
        self.assertEqual(len(list(built(ast.parse(wrong)))), 4)

    def test_all_that_is_said_can_be_read_room_by_room(self) -> None:
        """One file a room: a sentence that is changed, new or gone is read there among its neighbours (`run.py phrases`)."""
        rooms = {room.replace("/", "."): modules for room, modules in told().items()}
        for room, modules in rooms.items():
            with self.subTest(room=room):
                held_against(self, f"said/{room}", read_out(modules))
        self.assertEqual({path.stem for path in (HERE / "said").glob("*.txt")}, rooms.keys())

    def test_no_figure_is_printed_with_a_unit_of_its_own(self) -> None:
        """What has a unit is a quantity, shown in its reader's units: no text and no f-string writes one, but what is so whoever reads it."""
        found = [
            f"{name}: {text}"
            for path in (*modules(CORE), *modules(WEB))
            if (name := str(path.relative_to(ROOT / "src"))) not in SO_FOR_ALL
            for text in with_units(ast.parse(path.read_text(encoding="utf-8")))
        ]
        self.assertEqual(found, [])
        wrong = "say(f'{x:.0f} mm')\nsay('at 90 km/h')\nsay(f'{x} made')\n'5 kg, told of'\n"
        self.assertEqual(list(with_units(ast.parse(wrong))), [" mm", "at 90 km/h"])

    def test_every_form_says_its_bounds_in_our_words(self) -> None:
        """No form is the framework's alone: a bound would be said in its words, and in SI."""
        made = {
            f"{path.relative_to(WEB)}: {node.name}": {ast.unparse(base) for base in node.bases}
            for path in modules(WEB)
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
            if isinstance(node, ast.ClassDef)
        }
        plain = {
            name: bases for name, bases in made.items() if any(re.match(r"forms\.(Model)?Form\b", b) for b in bases)
        }
        self.assertGreater(len(plain), 8)
        self.assertEqual([name for name, bases in plain.items() if not {"WordedMixin", "SeenMixin"} & bases], [])

    def test_every_drawing_is_named_and_says_its_figures(self) -> None:
        """A whole drawing is made by `svg.drawing`, which asks for its sentence; what has none is an ornament, and hidden from whoever listens."""
        for path in modules(WEB / "drawing"):
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.Call) and node.args and getattr(node.args[0], "value", None) == "svg":
                    hidden = any(one.arg == "aria_hidden" for one in node.keywords)
                    self.assertTrue(hidden or path.name == "svg.py", f"{path.name}:{node.lineno}")

    def test_nothing_stands_unused(self) -> None:
        """What a module has at its top is named somewhere else too, or is handed to a framework by a decorator, a class of its own or its settings."""
        texts = {path: path.read_text(encoding="utf-8") for path in (*modules(CORE), *modules(WEB), ROOT / "run.py")}
        texts |= {path: path.read_text(encoding="utf-8") for path in (ROOT / "src").rglob("*.html")}
        texts |= {path: path.read_text(encoding="utf-8") for path in modules(ROOT / "tools")}
        used = Counter(word for text in texts.values() for word in re.findall(r"[A-Za-z_]\w*", text))
        asked = {WEB / "settings.py", WEB / "urls.py"}
        unused = {
            f"{path.relative_to(ROOT)}: {name}"
            for path, text in texts.items()
            if path.suffix == ".py" and "tools" not in path.parts and path not in asked
            for node in ast.parse(text).body
            for name in _names(node)
            if used[name] < 2
        }
        self.assertEqual(unused, set())

    def test_nothing_outgrows_its_measure(self) -> None:
        """Modules of at most 225 statements in the core and 200 in the web, laid out by the formatter alone; functions of at most 15 ways through."""
        for root, most in ((CORE, 225), (WEB, 200)):
            for path in modules(root):
                text = path.read_text(encoding="utf-8")
                self.assertNotIn("fmt:", text, path)
                nodes = list(ast.walk(ast.parse(text)))
                told = sum(isinstance(n, ast.stmt) and not _is_text(n) for n in nodes)
                self.assertLessEqual(told, most, path)
                for node in nodes:
                    if isinstance(node, ast.FunctionDef):
                        self.assertLessEqual(branches(node), 15, f"{path}: {node.name}")

    def test_templates_and_style_sheets_are_readable(self) -> None:
        """Template lines as `tools.wrap` breaks them at 120; style sheets with one rule a line; of Bootstrap only what is used."""
        for path in (WEB / "templates").rglob("*.html"):
            text = path.read_text(encoding="utf-8")
            self.assertEqual(formatted(text), text, f"{path}: python3 -m tools.wrap")
            self.assertLess(max(map(len, text.splitlines())), 150, path)
            boxes = re.findall(r'class="scrolls"[^>]*', text)
            self.assertTrue(all('tabindex="0"' in box for box in boxes), f"{path}: keys do not reach what scrolls")
        for path in (WEB / "static" / "vantok").glob("*.css"):
            for line in path.read_text(encoding="utf-8").splitlines():
                self.assertLessEqual(
                    line.count("}") - (line == "}") - line.startswith("@page"), 1, f"{path.name}: {line}"
                )
        parts = (WEB / "static" / "vendor" / "bootstrap" / "bootstrap.min.css").read_text(encoding="utf-8")
        self.assertLess(len(parts), 40_000)


class Running(unittest.TestCase):
    def test_the_shipped_unit_is_one_that_systemd_takes(self) -> None:
        """The service file names the real launcher and settings that exist, and systemd, where it is there, finds nothing against it."""
        unit = ROOT / "deploy" / "vantok.service"
        text = unit.read_text()
        self.assertIn("run.py serve", text)
        documented = (ROOT / "docs" / "running.md").read_text()
        source = "".join(p.read_text() for p in [ROOT / "run.py", *(ROOT / "src" / "vantok").rglob("*.py")])
        asked = set(re.findall(r"VANTOK_[A-Z_]+", source))
        self.assertEqual(asked - set(re.findall(r"VANTOK_[A-Z_]+", documented)), set(), "settings nobody documented")
        self.assertEqual(set(re.findall(r"VANTOK_[A-Z_]+", text + documented)) - asked, set(), "settings that are none")
        if shutil.which("systemd-analyze"):
            with tempfile.TemporaryDirectory() as folder:
                there = Path(folder) / "vantok.service"
                there.write_text(text.replace("/usr/bin/python3", sys.executable))
                told = subprocess.run(
                    ["systemd-analyze", "verify", str(there)], capture_output=True, text=True, check=False
                )
            self.assertEqual([line for line in told.stderr.splitlines() if "vantok" in line], [])
