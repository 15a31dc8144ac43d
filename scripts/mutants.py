"""Break one room's code on purpose, a place at a time, and say which breaks its tests do not notice.

``make mutants ROOM=comparison COUNT=20 SEED=1``. Each mutant changes one comparison, number, operator, ``and``, ``or``
or ``not`` of a copy of the code, in which the tests of that room are run until the first one fails.
"""

from __future__ import annotations

import argparse
import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parent.parent
_SECONDS = 600  # for the tests of a room
_OPERATORS: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.FloorDiv, ast.FloorDiv: ast.Mult, ast.Mod: ast.Mult,
    ast.And: ast.Or, ast.Or: ast.And,
}  # fmt: skip


@dataclass(frozen=True)
class Mutant:
    """A module with one place changed."""

    path: Path
    line: int
    change: str
    text: str
    """The whole module, changed."""


def places_in(path: Path) -> list[int]:
    """Return the places of a module that can be changed, as their numbers in a walk through its tree."""
    tree = ast.parse(path.read_text("utf-8"))
    return [place for place, node in enumerate(ast.walk(tree)) if _changed(copy.deepcopy(node))]


def mutant_at(path: Path, place: int) -> Mutant:
    """Return a module with one place changed."""
    tree = ast.parse(path.read_text("utf-8"))
    node = list(ast.walk(tree))[place]
    change = _changed(node)
    return Mutant(path, getattr(node, "lineno", 0), change, ast.unparse(ast.fix_missing_locations(tree)))


def _changed(node: ast.AST) -> str:
    """Change a node in its place and say how; empty where there is nothing to change in it."""
    if not isinstance(node, ast.Compare | ast.BinOp | ast.BoolOp | ast.UnaryOp | ast.Constant):
        return ""
    before = ast.unparse(node)
    if isinstance(node, ast.Compare) and type(node.ops[0]) in _OPERATORS:
        node.ops[0] = _OPERATORS[type(node.ops[0])]()
    elif isinstance(node, ast.BinOp | ast.BoolOp) and type(node.op) in _OPERATORS:
        node.op = _OPERATORS[type(node.op)]()
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
        node.op = ast.UAdd()
        node.operand = ast.Call(ast.Name("bool", ast.Load()), [node.operand], [])
    elif isinstance(node, ast.Constant) and type(node.value) in (int, float):
        node.value += 1
    else:
        return ""
    return f"{before}  ->  {ast.unparse(node)}"


def survives(mutant: Mutant, room: str, tree: Path) -> bool:
    """Return whether the tests of a room pass in a copy of the project with a mutant in it."""
    goal = tree / mutant.path.relative_to(ROOT)
    original = goal.read_text("utf-8")
    goal.write_text(mutant.text, "utf-8")
    try:
        done = subprocess.run(
            [sys.executable, "-P", "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", f"tests/{room}"],
            cwd=tree, env=os.environ | {"PYTHONPATH": str(tree / "src"), "CI": "1"}, capture_output=True,
            timeout=_SECONDS,
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        return False
    finally:
        goal.write_text(original, "utf-8")
    return done.returncode == 0


def main() -> int:
    asked = argparse.ArgumentParser(description="Mutate a room of the code and run its tests.")
    asked.add_argument("room", help="a folder of src/chickadee that has tests of its own")
    asked.add_argument("--count", type=int, default=20)
    asked.add_argument("--seed", type=int, default=1)
    given = asked.parse_args()
    files = sorted((ROOT / "src/chickadee" / given.room).rglob("*.py"))
    every = [(path, place) for path in files for place in places_in(path)]
    chosen = random.Random(given.seed).sample(every, min(given.count, len(every)))
    left = 0
    with tempfile.TemporaryDirectory(prefix="chickadee-mutants-") as folder:
        tree = Path(folder) / "tree"
        shutil.copytree(ROOT, tree, ignore=shutil.ignore_patterns(".git", ".venv", "__pycache__", ".*_cache"))
        for path, place in chosen:
            mutant = mutant_at(path, place)
            if survives(mutant, given.room, tree):
                left += 1
                print(f"survives: {mutant.path.relative_to(ROOT)}:{mutant.line}  {mutant.change}", flush=True)
    print(f"{given.room}: {len(chosen) - left} of {len(chosen)} mutants were noticed, of {len(every):,} there are")
    return 1 if left else 0


if __name__ == "__main__":
    sys.exit(main())
