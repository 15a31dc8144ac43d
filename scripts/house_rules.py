"""Rules of this project that no general linter knows: ``make lint`` runs them over ``src``."""

from __future__ import annotations

import ast
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

ROOT = Path(__file__).parent.parent
Complaint = tuple[int, str]  # a line, and a sentence
Rule = Callable[[ast.Module], Iterator[Complaint]]

_HINTED = {"hint_of", "toolTip"}
_HINT_SETTERS = {"setToolTip", "setWhatsThis"}


def hints_are_plain(tree: ast.Module) -> Iterator[Complaint]:
    """Tooltips that hold more than a literal go through ``hint_of``: Qt would read HTML out of them."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Call) and _called(node) in _HINT_SETTERS:
            for given in _branches(node.args[0]):
                if not (
                    isinstance(given, ast.Constant) or (isinstance(given, ast.Call) and _called(given) in _HINTED)
                ):
                    yield node.lineno, "a tooltip that is no literal goes through hint_of (desk/plain_text.py)"


def _branches(given: ast.expr) -> list[ast.expr]:
    return [given.body, given.orelse] if isinstance(given, ast.IfExp) else [given]


def _called(node: ast.Call) -> str:
    match node.func:
        case ast.Attribute(attr=name) | ast.Name(id=name):
            return name
    return ""


RULES: tuple[Rule, ...] = (hints_are_plain,)


def complaints(text: str) -> list[Complaint]:
    """Return what the rules say of a module's text.

    >>> complaints("box.setToolTip(name)")[0][0], complaints("box.setToolTip('Plays')")
    (1, [])
    """
    tree = ast.parse(text)
    return sorted(each for rule in RULES for each in rule(tree))


def main() -> int:
    found = [
        f"{path.relative_to(ROOT)}:{line}: {sentence}"
        for path in sorted((ROOT / "src/chickadee").rglob("*.py"))
        if "songs" not in path.parts
        for line, sentence in complaints(path.read_text("utf-8"))
    ]
    print("\n".join(found), end="\n" if found else "")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
