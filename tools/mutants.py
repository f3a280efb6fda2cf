"""Rules broken, one at a time, each of which a test must notice: `python3 run.py mutants [N [SEED]]` breaks N of them (100), drawn by chance over the rooms
that judge, estimate, plan the work and stand between records and core (`--figures`: every figure of the rooms' tables instead; `--unspoken`: no rule, but
the sentences that no test speaks are listed); `run.py check` breaks the dozen named here.

A process imports the house, makes the tests' database, and for each broken rule forks a child, puts the broken code into the functions that are there
(or the broken figure under the names that hold it), and runs the tests that come by that line, cheapest first, until one fails. Which come by is found
once (`--anew`: again) by running every test under coverage; walks over everything, which find what fails and not what is wrong, are left out.
"""

from __future__ import annotations

import ast
import functools
import gc
import json
import os
import random
import shutil
import signal
import sys
import time
import traceback
import unittest
from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from types import CodeType, FunctionType, ModuleType
from typing import Any

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "vantok.settings")
    os.environ.setdefault("VANTOK_PLAIN_HTTP", "1")
    sys.path.insert(0, str(Path(__file__).resolve().parent.parent))
    import django

    django.setup()

import coverage
from django.conf import settings
from django.db import connection, transaction
from django.test import LiveServerTestCase
from django.test.runner import DiscoverRunner
from django.test.utils import iter_test_cases  # type: ignore[attr-defined] # not in its stubs
from tests.world import demo_world

ROOT = Path(__file__).resolve().parent.parent
SRC = ROOT / "src"
ROOMS = ("vantok_core/judge", "vantok_core/rates", "vantok_core/procedure", "vantok/desk")
SEED = 20_261
AT_ONCE = 2
WANTED = 0.85
TOLD = (".test_told.", ".test_judged.")
TABLES = "tests.core.test_figures.Told.test_the_figures_as_somebody_last_read_them"
"""Reads every room's table as a whole, and so comes by no line that names a figure of it."""
MOST_SECONDS = 60.0
"""Tests are run as long as this by their own times before a broken rule counts as not noticed, s."""
UNSEEN, SEEN, FAULTY = 0, 1, 3
"""How a child ends: every test passed, one failed, or it could not break the rule at all."""
WALKS = ("test_every_form", "test_nonsense", "test_fuzz", "test_versions", "test_gate", "test_backup", "test_house")
SWAPPED: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.GtE,
    ast.GtE: ast.Lt,
    ast.Gt: ast.LtE,
    ast.LtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.And: ast.Or,
    ast.Or: ast.And,
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
}
"""Each operator and what it is broken into."""
OTHERWISE = {"min": "max", "max": "min", "any": "all", "all": "any"}


@dataclass(frozen=True, slots=True)
class Mutant:
    """A rule broken: its module (below `src`), its line, what stood there and what stands there now, and the module's whole text then.

    name: the constant that is broken, none for code; test: the test that must notice, any that come by the line when not said.
    """

    module: str
    line: int
    stood: str
    stands: str
    text: str
    name: str = ""
    test: str = ""

    def __str__(self) -> str:
        return f"{self.module}:{self.line}: “{self.stood}” became “{self.stands}”"


NAMED = (
    (
        "vantok/drawing/side.py",
        "h - self.times * self.drop(drops, s)",
        "h + self.times * self.drop(drops, s)",
        "tests.web.test_drawings.WaysDown",
    ),
    (
        "vantok_core/judge/measure/checks.py",
        "<= WIDEST_SIDE",
        "<= 1.2 * WIDEST_SIDE",
        "tests.core.test_thresholds.Empty",
    ),
    (
        "vantok_core/judge/diagnose/stance.py",
        "view.rake < -max(NOSE_UP, view.band)",
        "view.rake > max(NOSE_UP, view.band)",
        "tests.core.test_thresholds.Stance",
    ),
    (
        "vantok_core/judge/diagnose/stance.py",
        '"right" if view.lean > 0',
        '"left" if view.lean > 0',
        "tests.core.test_thresholds.Stance",
    ),
    (
        "vantok_core/judge/diagnose/springs.py",
        "> EVEN_PADS * max",
        "> 2.0 * EVEN_PADS * max",
        "tests.core.test_thresholds.Empty",
    ),
    (
        "vantok_core/loads/limits.py",
        "self.held.p < OVER",
        "self.held.p < PROBABLY",
        "tests.core.test_thresholds.Limits",
    ),
    (
        "vantok_core/physics/plane.py",
        "return (d_r - d_f) / wheelbase",
        "return (d_f - d_r) / wheelbase",
        "tests.core.test_thresholds.Tape",
    ),
    (
        "vantok_core/readings/tape.py",
        "resolution / sqrt(12.0), settle",
        "resolution / sqrt(12.0), 0.0",
        "tests.core.test_thresholds.Tape",
    ),
    ("vantok_core/procedure/prover.py", 'if side.air == "out":', 'if side.air == "never":', "tests.core.test_prover"),
    (
        "vantok_core/road/trace_file.py",
        "np.median(values) if told.gravity else np.mean(values)",
        "0.0",
        "tests.core.test_road_logs",
    ),
    (
        "vantok_core/practice/bay/marks.py",
        "<= max(KNOWN * true, 6.0)",
        "<= max(9.0 * true, 6.0)",
        "tests.core.test_practice_bay.Solvable",
    ),
    (
        "vantok/records/jobs/models.py",
        "super().get_queryset().filter(practice=False)",
        "super().get_queryset()",
        "tests.web.test_practice.OfTheShop",
    ),
)
"""Rules that no chance may leave out: module, what stands there, what it is broken into, and the test that stands for it."""


def named() -> Iterator[Mutant]:
    """Yield the rules named here, broken. Raises SystemExit for one that does not stand in its module once."""
    for module, stands, broken, test in NAMED:
        text = (SRC / module).read_text(encoding="utf-8")
        if text.count(stands) != 1:
            raise SystemExit(f"{module}: “{stands}” stands there {text.count(stands)} times, not once.")
        line = text[: text.index(stands)].count("\n") + 1
        yield Mutant(module, line, stands, broken, text.replace(stands, broken), test=test)


class _Places(ast.NodeVisitor):
    """Every place of a module where one thing can be broken: a node, what stands instead, and the constant's name at the top of a module."""

    def __init__(self) -> None:
        self.found: list[tuple[ast.expr, ast.expr, str]] = []
        self._name = ""
        self._inside = 0

    def visit_Assign(self, node: ast.Assign) -> None:
        """Take in a constant, and whatever a function assigns."""
        if self._inside:
            self.generic_visit(node)
        elif isinstance(node.targets[0], ast.Name) and _is_figure(node.value):
            self._name = node.targets[0].id
            self.visit(node.value)
            self._name = ""

    def visit_FunctionDef(self, node: ast.FunctionDef) -> None:
        """Take in a function's statements: not its decorators, defaults and annotations."""
        self._inside += 1
        for part in node.body:
            self.visit(part)
        self._inside -= 1

    def visit_AnnAssign(self, node: ast.AnnAssign) -> None:
        """Take in what an annotated name is given inside a function."""
        if self._inside and node.value is not None:
            self.visit(node.value)

    def visit_Constant(self, node: ast.Constant) -> None:
        """Break a figure: half as much again, or one more."""
        if (self._inside or self._name) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
            other = node.value + 1 if isinstance(node.value, int) or not node.value else 1.5 * node.value
            self.found.append((node, ast.Constant(other), self._name))
        elif self._inside and isinstance(node.value, bool):
            self.found.append((node, ast.Constant(not node.value), ""))

    def visit_keyword(self, node: ast.keyword) -> None:
        """Leave the guard of a `zip`, which no right code ever meets."""
        if node.arg != "strict":
            self.visit(node.value)

    def visit_JoinedStr(self, node: ast.JoinedStr) -> None:
        """Leave texts to those who read them."""

    def generic_visit(self, node: ast.AST) -> None:
        """Break a comparison, a sum, a choice between two, a not."""
        if self._inside and isinstance(node, ast.expr):
            self.found += [(node, other, "") for other in _otherwise(node)]
        super().generic_visit(node)


def _is_figure(node: ast.expr) -> bool:
    """Tell whether a name at the top of a module holds a figure, as it is or in its table's row."""
    return isinstance(node, ast.Constant) or (isinstance(node, ast.Call) and ast.unparse(node.func) == "Threshold")


def _otherwise(node: ast.expr) -> Iterator[ast.expr]:
    """Yield what an expression could be broken into."""
    match node:
        case ast.Compare(ops=[op], left=left, comparators=right) if type(op) in SWAPPED:
            yield ast.Compare(left, [SWAPPED[type(op)]()], right)  # type: ignore[list-item]
        case ast.BinOp(left, op, right) if type(op) in SWAPPED:
            yield ast.BinOp(left, SWAPPED[type(op)](), right)  # type: ignore[arg-type]
        case ast.BoolOp(op, values) if type(op) in SWAPPED:
            yield ast.BoolOp(SWAPPED[type(op)](), values)  # type: ignore[arg-type]
        case ast.UnaryOp(ast.Not() | ast.USub(), operand):
            yield operand
        case ast.IfExp(_, body, orelse):
            yield ast.IfExp(ast.Constant(value=True), body, orelse)
        case ast.Call(ast.Name(name), args, keywords) if name in OTHERWISE:
            yield ast.Call(ast.Name(OTHERWISE[name]), args, keywords)


def _broken(module: str, text: str, node: ast.expr, other: ast.expr, name: str) -> Mutant | None:
    """Return the mutant of a place; None where what stands there is written over several lines."""
    if node.end_lineno != node.lineno or node.end_col_offset is None:
        return None
    lines = text.encode().split(b"\n")
    line = lines[node.lineno - 1]
    stood, stands = line[node.col_offset : node.end_col_offset].decode(), ast.unparse(other)
    lines[node.lineno - 1] = line[: node.col_offset] + f"({stands})".encode() + line[node.end_col_offset :]
    return Mutant(module, node.lineno, stood, stands, b"\n".join(lines).decode(), name)


def places() -> list[Mutant]:
    """Return every place of the rooms, broken."""
    found = []
    for room in ROOMS:
        for path in sorted((SRC / room).rglob("*.py")):
            text = path.read_text(encoding="utf-8")
            told = _Places()
            told.visit(ast.parse(text))
            module = str(path.relative_to(SRC))
            found += [m for node, other, name in told.found if (m := _broken(module, text, node, other, name))]
    return found


def drawn(count: int, seed: int) -> list[Mutant]:
    """Return a number of mutants by chance, every place of the rooms being as likely."""
    found = places()
    print(f"{len(found)} places can be broken; {count} of them are, by seed {seed}.", flush=True)
    return random.Random(seed).sample(found, count)


def _codes(code: CodeType) -> Iterator[CodeType]:
    for const in code.co_consts:
        if isinstance(const, CodeType):
            yield const
            yield from _codes(const)


def put_in(mutant: Mutant) -> None:
    """Break the rule in this process: its functions get the broken code, whoever imported its constant gets the broken figure."""
    path = str(SRC / mutant.module)
    if mutant.name:
        _put_figure(mutant)
        return
    broken: dict[tuple[str, int], list[CodeType]] = defaultdict(list)
    for code in _codes(compile(mutant.text, path, "exec")):
        broken[code.co_qualname, code.co_firstlineno].append(code)
    for one in gc.get_objects():
        if type(one) is FunctionType and one.__code__.co_filename == path:
            for code in broken.get((one.__code__.co_qualname, one.__code__.co_firstlineno), ()):
                if code.co_freevars == one.__code__.co_freevars:
                    one.__code__ = code
        elif type(one) is functools._lru_cache_wrapper:
            one.cache_clear()


def _put_figure(mutant: Mutant) -> None:
    made = sys.modules["broken"] = ModuleType("broken")  # a class in it looks its module up
    broken = vars(made)
    exec(compile(mutant.text, mutant.module, "exec"), broken)  # noqa: S102 - the house's own code
    stood = vars(sys.modules[mutant.module.removesuffix(".py").replace("/", ".")])[mutant.name]
    for module in list(sys.modules.values()):
        if getattr(module, "__name__", "").startswith("vantok") and vars(module).get(mutant.name) is stood:
            setattr(module, mutant.name, broken[mutant.name])


class _Listening(unittest.TextTestResult):
    """Tells coverage which test begins, and keeps how long each takes."""

    by: coverage.Coverage
    took: dict[str, float]

    def startTest(self, test: Any) -> None:  # noqa: N802
        super().startTest(test)
        self.by.switch_context(test.id())
        self._begun = time.process_time()

    def stopTest(self, test: Any) -> None:  # noqa: N802
        self.took[test.id()] = time.process_time() - self._begun
        super().stopTest(test)


def kept_as(mutant: Mutant) -> str:
    """Return the name of the function a mutant is in that works something out once and keeps it; none for any other."""
    tree = ast.parse((SRC / mutant.module).read_text(encoding="utf-8"))
    around = [
        one
        for one in ast.walk(tree)
        if isinstance(one, ast.FunctionDef) and one.lineno <= mutant.line <= (one.end_lineno or one.lineno)
    ]
    return next((one.name for one in around if any("cache" in ast.unparse(d) for d in one.decorator_list)), "")


@dataclass(frozen=True, slots=True)
class Map:
    """Which tests come by a line of a module, and how long each takes, s."""

    tests: dict[str, dict[str, list[str]]]
    took: dict[str, float]

    def by(self, mutant: Mutant) -> list[str]:
        """Return the tests that come by a mutant's line, cheapest first; for a constant, and for what is worked out once and kept, those that come by a
        line that names it, anywhere."""
        if mutant.test:
            return [mutant.test]
        found = set(self.tests.get(mutant.module, {}).get(str(mutant.line), ()))
        if name := mutant.name or kept_as(mutant):
            for module, lines in self.tests.items():
                text = (SRC / module).read_text(encoding="utf-8").split("\n")
                for line, tests in lines.items():
                    if name in text[int(line) - 1]:
                        found |= set(tests)
            if mutant.module.endswith("thresholds.py"):
                found.add(TABLES)
        return sorted(found, key=lambda test: self.took.get(test, 1.0))


def mapped(kept: Path, *, anew: bool) -> Map:
    """Return which tests come by which line: as it was kept, else found by running them all here."""
    if kept.exists() and not anew:
        told = json.loads(kept.read_text(encoding="utf-8"))
        return Map(told["tests"], told["took"])
    print("Running every test once to see which line it comes by ...", flush=True)
    found = list(iter_test_cases(DiscoverRunner(top_level=str(ROOT), verbosity=0).build_suite(["tests"])))
    tests = [t for t in found if not isinstance(t, LiveServerTestCase) and not any(w in t.id() for w in WALKS)]
    data = kept.with_suffix(".coverage")
    data.unlink(missing_ok=True)
    by = coverage.Coverage(data_file=str(data), include=[f"{SRC / room}/*" for room in ROOMS], config_file=False)
    _Listening.by, _Listening.took = by, {}
    by.start()
    runner = unittest.TextTestRunner(resultclass=_Listening, verbosity=0)  # type: ignore[arg-type] # as its maker calls it
    ran = runner.run(unittest.TestSuite(tests))
    by.stop()
    if not ran.wasSuccessful():
        raise SystemExit("The tests do not pass as they stand.")
    told = {
        str(Path(file).relative_to(SRC)): {
            str(n): sorted(filter(None, tests)) for n, tests in by.get_data().contexts_by_lineno(file).items()
        }
        for file in by.get_data().measured_files()
    }
    kept.write_text(json.dumps({"tests": told, "took": _Listening.took}), encoding="utf-8")
    # A process in which every test ran once is no start for children that run them again: property tests keep who ran them.
    os.execv(sys.executable, [sys.executable, *(word for word in sys.argv if word != "--anew")])  # noqa: S606 - itself, with its own words


def unspoken(told: Map) -> Iterator[str]:
    """Yield each sentence of the judgement that no test speaks, with its place; one said at the top of a module is there from the start."""
    for path in sorted((SRC / ROOMS[0]).rglob("*.py")):
        module = str(path.relative_to(SRC))
        spoken = {int(line) for line, tests in told.tests.get(module, {}).items() if tests}
        tree = ast.parse(path.read_text(encoding="utf-8"))
        inside = (n for outer in ast.walk(tree) if isinstance(outer, ast.FunctionDef) for n in ast.walk(outer))
        for node in (n for n in inside if isinstance(n, ast.Call)):
            said = ast.unparse(node.func).rpartition(".")[2] in ("Say", "say")
            if said and spoken.isdisjoint(range(node.lineno, (node.end_lineno or node.lineno) + 1)):
                yield f"{module}:{node.lineno}: {ast.unparse(node)[:120]}"


def within(tests: Sequence[str], took: dict[str, float]) -> list[str]:
    """Return as many of the tests, cheapest first, as fit into the time given, and after them those that hold all that is told: they are dear, and see most."""
    found, left = list[str](), MOST_SECONDS
    for test in tests:
        left -= took.get(test, 1.0)
        if left < 0.0 and found:
            break
        found.append(test)
    return found + [test for test in tests if any(one in test for one in TOLD) and test not in found]


def _runs(mutant: Mutant, tests: list[str], slot: int) -> None:
    """Be the child: a database of its own, the rule broken, the tests until one fails; ends the process with what came of it."""
    ended = FAULTY
    try:
        here = Path(connection.settings_dict["NAME"])
        with here.with_suffix(f".{slot}.log").open("w") as quiet:
            os.dup2(quiet.fileno(), 1)
            connection.connection = None  # the parent's own: left alone
            connection.settings_dict["NAME"] = shutil.copy(here, here.with_suffix(f".{slot}"))
            put_in(mutant)
            suite = unittest.defaultTestLoader.loadTestsFromNames(tests)
            print(*unittest.defaultTestLoader.errors, sep="", end="", file=sys.stderr)
            if not unittest.defaultTestLoader.errors:
                ended = SEEN if not _passes(suite, quiet) else UNSEEN
    except Exception:
        traceback.print_exc()
    finally:
        os._exit(ended)


def _passes(suite: unittest.TestSuite, quiet: Any) -> bool:
    os.dup2(quiet.fileno(), 2)
    try:
        return unittest.TextTestRunner(stream=quiet, failfast=True).run(suite).wasSuccessful()
    except BaseException:  # a broken rule may break the runner itself
        traceback.print_exc()
        return False


def noticed(mutants: Iterable[Mutant], told: Map) -> Iterator[tuple[Mutant, bool, int]]:
    """Yield each mutant, whether a test noticed it, and how many tests there were to notice it; some at once."""
    waiting, running = list(mutants)[::-1], dict[int, tuple[Mutant, int, int, float]]()
    while waiting or running:
        while waiting and len(running) < AT_ONCE:
            mutant = waiting.pop()
            tests = within(told.by(mutant), told.took)
            if not tests:
                yield mutant, False, 0
                continue
            slot = next(n for n in range(AT_ONCE) if n not in {r[1] for r in running.values()})
            late = time.monotonic() + 60.0 + 6.0 * sum(told.took.get(test, 20.0) for test in tests)
            pid = os.fork()
            if not pid:
                _runs(mutant, tests, slot)
            running[pid] = (mutant, slot, len(tests), late)
        for pid, (_, _, _, late) in running.items():
            if time.monotonic() > late:  # it goes round and round: noticed
                os.kill(pid, signal.SIGKILL)
        pid, status = os.waitpid(-1, os.WNOHANG)
        if not pid:
            time.sleep(0.05)
            continue
        mutant, _, count, _ = running.pop(pid)
        if os.waitstatus_to_exitcode(status) == FAULTY:
            raise SystemExit(f"{mutant}: it could not be put in.")
        yield mutant, status != UNSEEN, count


def prepared(mutants: Sequence[Mutant], *, anew: bool) -> Map:
    """Fill what every child starts from: the modules, the demo world, the map. Raises SystemExit where tests fail with nothing broken."""
    told = Map({}, {}) if mutants[0].test else mapped(Path(settings.VAR) / "mutants.json", anew=anew)
    tests = sorted({test for mutant in mutants for test in told.by(mutant)[:3]})
    unittest.defaultTestLoader.loadTestsFromNames(tests)
    with transaction.atomic():
        demo_world()
        transaction.set_rollback(True)
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    whole = Mutant("vantok/urls.py", 1, "", "", (SRC / "vantok/urls.py").read_text(encoding="utf-8"))
    alone = Map({"vantok/urls.py": {"1": tests}}, told.took)
    if any(seen for _, seen, _ in noticed([whole], alone)):
        said = Path(connection.settings_dict["NAME"]).with_suffix(".0.log").read_text(encoding="utf-8")
        raise SystemExit(f"The tests do not pass with nothing broken:\n{said[-3000:]}")
    return told


def main() -> None:
    """Break them all; end with those that nobody noticed, and the share of those that somebody did."""
    counts = [int(a) for a in sys.argv[1:] if a.isdigit()]
    count, seed = (*counts, *(100, SEED)[len(counts) :])
    dozen = "--named" in sys.argv
    figures = [one for one in places() if one.module.endswith("thresholds.py")] if "--figures" in sys.argv else []
    mutants = list(named()) if dozen else figures or drawn(count, seed)
    runner = DiscoverRunner(verbosity=0, interactive=False)
    runner.setup_test_environment()
    database = runner.setup_databases()
    told = prepared(mutants, anew="--anew" in sys.argv)
    if "--unspoken" in sys.argv:
        print("\n".join(unspoken(told)))
        sys.exit()
    missed = list[Mutant]()
    for n, (mutant, seen, tests) in enumerate(noticed(mutants, told), 1):
        if not n % 10:
            print(f"{n} tried, {len(missed)} not noticed", flush=True)
        if not seen:
            missed.append(mutant)
            print(f"{mutant}, and none of {tests} tests noticed.", flush=True)
    runner.teardown_databases(database)
    share = 1.0 - len(missed) / len(mutants)
    print(f"{len(mutants) - len(missed)} of {len(mutants)} broken rules were noticed ({share:.0%}).")
    sys.exit(bool(missed) if dozen else share < WANTED)


if __name__ == "__main__":
    main()
