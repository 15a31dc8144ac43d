"""Print how statements are written, for each thousand lines: ``make statements``.

The measures that bind are those of well-kept libraries: one assignment a line, data alone laid out by hand, functions
with names where a lambda says nothing, no conditional expression inside another, and comments that say why.
"""

from __future__ import annotations

import ast
import io
import sys
import tokenize
from collections.abc import Iterator
from dataclasses import dataclass, fields
from pathlib import Path

_BOUNDS = {
    "unrelated": (0, 0.7),
    "by_hand": (0, 2),
    "lambdas": (0, 4.3),
    "nested": (0, 0.08),
    "comments": (12, 154),
}
"""The figures of eleven well-kept libraries, for each thousand lines."""
ROOT = Path(__file__).parent.parent


@dataclass(frozen=True)
class Statements:
    """Counts in some code."""

    lines: int = 0
    code: int = 0
    """Lines that hold code: no blank ones, no comments, no docstrings."""
    unrelated: int = 0
    """Assignments of several things at once, but for exchanges such as ``a, b = b, a``."""
    by_hand: int = 0
    """Statements that the formatter leaves as they are laid out."""
    lambdas: int = 0
    nested: int = 0
    """Conditional expressions inside others."""
    comments: int = 0

    def __add__(self, other: Statements) -> Statements:
        return Statements(*(getattr(self, each.name) + getattr(other, each.name) for each in fields(self)))

    def per_thousand(self, count: int) -> float:
        """So many, for each thousand lines."""
        return 1000 * count / max(1, self.lines)


def counted(text: str) -> Statements:
    """Count in the text of a module.

    >>> counted("a, b = 1, 2\\nb, a = a, b\\nf = lambda: 0  # none\\n")
    Statements(lines=3, code=3, unrelated=1, by_hand=0, lambdas=1, nested=0, comments=1)
    """
    tree = ast.parse(text)
    nodes = list(ast.walk(tree))
    comments = [each.string for each in _tokens(text) if each.type == tokenize.COMMENT]
    directives = [each for each in comments if each.startswith(("# fmt:", "# type:", "# noqa"))]
    return Statements(
        text.count("\n"),
        len(_code_lines(text, tree)),
        sum(isinstance(each, ast.Assign) and is_unrelated(each) for each in nodes),
        sum(each.startswith("# fmt: skip") for each in comments),
        sum(isinstance(each, ast.Lambda) for each in nodes),
        sum(isinstance(each, ast.IfExp) and is_nested(each) for each in nodes),
        len(comments) - len(directives),
    )


def is_unrelated(assign: ast.Assign) -> bool:
    """Return whether an assignment of several things could as well be one after the other.

    It could not where one is given what another was, as in an exchange, or where a value reads what was just assigned.
    """
    (target, *others) = assign.targets
    value = assign.value
    if others or not isinstance(target, ast.Tuple) or not isinstance(value, ast.Tuple):
        return False
    written = [ast.unparse(each) for each in target.elts]
    values = [ast.unparse(each) for each in value.elts]
    if len(written) != len(values) or set(written) & set(values):
        return False
    return not any(
        ast.unparse(part) in written[:place]
        for place, each in enumerate(value.elts)
        for part in ast.walk(each)
        if isinstance(part, ast.Name | ast.Attribute | ast.Subscript)
    )


def is_nested(conditional: ast.IfExp) -> bool:
    """Return whether a conditional expression holds another."""
    parts = (conditional.test, conditional.body, conditional.orelse)
    return any(isinstance(each, ast.IfExp) for each in parts)


def _tokens(text: str) -> Iterator[tokenize.TokenInfo]:
    return tokenize.generate_tokens(io.StringIO(text).readline)


def _code_lines(text: str, tree: ast.Module) -> set[int]:
    """The numbers of the lines that hold code."""
    said = {
        line
        for node in ast.walk(tree)
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant) and isinstance(node.value.value, str)
        for line in range(node.lineno, (node.end_lineno or node.lineno) + 1)
    }
    empty = {tokenize.COMMENT, tokenize.NL, tokenize.NEWLINE, tokenize.INDENT, tokenize.DEDENT, tokenize.ENDMARKER}
    code = {
        line for each in _tokens(text) if each.type not in empty for line in range(each.start[0], each.end[0] + 1)
    }
    return code - said


def main(folders: list[str]) -> None:
    for folder in folders:
        files = sorted((ROOT / folder).rglob("*.py"))
        total = sum((counted(path.read_text("utf-8")) for path in files), Statements())
        print(f"{folder}: {total.lines:,} lines, {total.code:,} of code; for each thousand of all")
        for name, (least, most) in _BOUNDS.items():
            found = total.per_thousand(getattr(total, name))
            mark = "" if least <= found <= most else "   <<<"
            print(f"  {name:<10} {found:6.2f}   {least:g} to {most:g}{mark}")


if __name__ == "__main__":
    main(sys.argv[1:] or ["src"])
