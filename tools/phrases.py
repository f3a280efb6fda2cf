"""`run.py phrases`: all that Vantok says, room by room, as its sentences stand in the code; where a place is filled, its name stands in braces.

A sentence is a template with typed values (`base/say.py`): what builds one from pieces of its own is refused by the house (`built`).
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path

SRC = Path(__file__).resolve().parent.parent / "src"
PLACE = re.compile(r"\{(\w+)\}")
SAYS = ("Say", "say")


def saying(tree: ast.AST) -> Iterator[ast.Call]:
    """Yield each place where a sentence is made."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Call) and node.args and ast.unparse(node.func).rpartition(".")[2] in SAYS:
            yield node


def sayers(tree: ast.AST) -> dict[str, set[int]]:
    """Return the functions of a module that make a sentence of a text they are given, with the places of such texts among what they are called with."""
    found: dict[str, set[int]] = {}
    for one in ast.walk(tree):
        if isinstance(one, ast.FunctionDef):
            names = [argument.arg for argument in one.args.args if argument.arg not in ("self", "cls")]
            said = {n.id for call in saying(one) for n in ast.walk(call.args[0]) if isinstance(n, ast.Name)}
            if places := {n for n, name in enumerate(names) if name in said}:
                found[one.name] = places
    return found


def handed(tree: ast.AST) -> Iterator[ast.expr]:
    """Yield each text that is handed to a function to be made a sentence."""
    told = sayers(tree)
    for node in ast.walk(tree):
        if isinstance(node, ast.Call):
            places = told.get(ast.unparse(node.func).rpartition(".")[2], set())
            yield from (text for n, text in enumerate(node.args) if n in places)


def templates(said: ast.expr) -> Iterator[str]:
    """Yield what a sentence may say as it stands there: one template, or those it chooses between; what the choice goes by is not said."""
    if isinstance(said, ast.Constant):
        yield from [said.value] if isinstance(said.value, str) and said.value.strip(" .,") else []
    elif isinstance(said, ast.IfExp):
        yield from (text for part in (said.body, said.orelse) for text in templates(part))
    elif isinstance(said, ast.Subscript):
        yield from templates(said.value)
    else:
        parts = (
            [said.left, said.right]
            if isinstance(said, ast.BinOp)
            else getattr(said, "values", getattr(said, "elts", ()))
        )
        yield from (text for part in parts for text in templates(part))


def built(tree: ast.Module) -> Iterator[str]:
    """Yield each sentence that is put together from text instead of being a template, and each whose places and values do not match."""
    for call in saying(tree):
        said = f"line {call.lineno}: {ast.unparse(call)[:90]}"
        if any(isinstance(part, ast.JoinedStr) for part in ast.walk(call.args[0])):
            yield f"{said} is an f-string"
        if not _matched(call):
            yield f"{said} has other places than values"
    for text in handed(tree):
        if any(isinstance(part, ast.JoinedStr) for part in ast.walk(text)):
            yield f"line {text.lineno}: {ast.unparse(text)[:90]} is an f-string, and is said"
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr) and any("{" in str(getattr(part, "value", "")) for part in node.values):
            yield f"line {node.lineno}: {ast.unparse(node)[:90]} has places of a sentence in an f-string"
        elif isinstance(node, ast.FunctionDef):
            yield from _named(node)


def _matched(call: ast.Call) -> bool:
    """Tell whether a template has a value for each place, and a place for each value, as far as they stand there."""
    template, values = (*call.args, None, None)[:2]
    if not isinstance(values, ast.Dict) or not isinstance(template, ast.Constant):
        return True
    keys = {key.value for key in values.keys if isinstance(key, ast.Constant)}
    return len(keys) < len(values.keys) or keys == set(PLACE.findall(str(template.value)))


def _named(function: ast.FunctionDef) -> Iterator[str]:
    """Yield each f-string that is given a name which is said."""
    said = {n.id for call in saying(function) for n in ast.walk(call.args[0]) if isinstance(n, ast.Name)}
    for node in ast.walk(function):
        if isinstance(node, ast.Assign | ast.AugAssign) and isinstance(node.value, ast.JoinedStr):
            to = node.targets[0] if isinstance(node, ast.Assign) else node.target
            if isinstance(to, ast.Name) and to.id in said:
                yield f"line {node.lineno}: {to.id} is an f-string, and is said"


def told() -> dict[str, dict[str, list[str]]]:
    """Return all that is said, room by room, and in a room module by module, in the order of the house."""
    found: dict[str, dict[str, list[str]]] = {}
    for path in sorted(SRC.rglob("*.py")):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        said = [*(call.args[0] for call in saying(tree)), *handed(tree)]
        if texts := list(dict.fromkeys(text for one in said for text in templates(one))):
            found.setdefault(str(path.relative_to(SRC).parent), {})[path.stem] = texts
    return found


def read_out(modules: Mapping[str, Sequence[str]]) -> list[str]:
    """Return the lines of a room's file: each module with its sentences."""
    return [line for name, texts in modules.items() for line in (f"# {name}", *(f"- {text}" for text in texts))]


def main() -> None:
    """Print them; a word after the command: only rooms whose name has it."""
    for room, modules in told().items():
        if all(word in room for word in sys.argv[1:]):
            print(f"\n== {room}\n", *read_out(modules), sep="\n")


if __name__ == "__main__":
    main()
