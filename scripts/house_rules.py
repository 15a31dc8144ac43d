"""Rules of this project that no general linter knows: ``make lint`` runs them over ``src``."""

from __future__ import annotations

import ast
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

from statements import is_nested, is_unrelated

ROOT = Path(__file__).parent.parent
Complaint = tuple[int, str]  # a line, and a sentence
Rule = Callable[[ast.Module], Iterator[Complaint]]

_TOGETHER = {f"({pair})" for pair in ("x, y", "left, top", "width, height")}
_PRIVATE = {
    "Bench": "PanelContext",
    "SoundingStrip": "TransportBar",
    "inks": "source spans",
    "Sight": "Features",
    "Growth": "SpectralFlux",
    "Tones": "SemitoneSpectrum",
    "Beginning": "Onset",
    "Teller": "Emitter",
    "Telling": "EmitterThread",
    "ALONE": "SOLO",
    "Laid": "Alignment",
    "Placing": "Alignment",
    "Sent": "ExportView",
}
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


def assignments_stand_alone(tree: ast.Module) -> Iterator[Complaint]:
    """One assignment a line, unless the values belong together, as those of a point do, or are exchanged."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Assign) and is_unrelated(node) and ast.unparse(node.targets[0]) not in _TOGETHER:
            yield node.lineno, "one assignment a line, unless the values belong together"


def conditionals_are_not_nested(tree: ast.Module) -> Iterator[Complaint]:
    """A conditional expression holds no other: two lines, or a function, say it in turn."""
    for node in ast.walk(tree):
        if isinstance(node, ast.IfExp) and is_nested(node):
            yield node.lineno, "a conditional expression inside another; say it in two lines, or in a function"


def docstrings_begin_plainly(tree: ast.Module) -> Iterator[Complaint]:
    """A docstring begins with a verb or a noun, and not with "What" or "Whether"."""
    for node in ast.walk(tree):
        is_text = isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
        if is_text and str(node.value.value).lstrip().startswith(("What ", "Whether ")):
            yield node.lineno, "a docstring begins with a verb or a noun"


def words_are_the_trade_s(tree: ast.Module) -> Iterator[Complaint]:
    """Names are the words of the trade, and not those of this house that they took the place of."""
    for node in ast.walk(tree):
        name = getattr(node, "id", getattr(node, "attr", getattr(node, "name", "")))
        if isinstance(name, str) and name in _PRIVATE:
            yield node.lineno, f"{name} is a private word; the trade says {_PRIVATE[name]}"


def _branches(given: ast.expr) -> list[ast.expr]:
    return [given.body, given.orelse] if isinstance(given, ast.IfExp) else [given]


def _called(node: ast.Call) -> str:
    match node.func:
        case ast.Attribute(attr=name) | ast.Name(id=name):
            return name
    return ""


RULES: tuple[Rule, ...] = (
    hints_are_plain,
    assignments_stand_alone,
    conditionals_are_not_nested,
    docstrings_begin_plainly,
    words_are_the_trade_s,
)


def complaints(text: str) -> list[Complaint]:
    """Return what the rules say of a module's text.

    >>> complaints("box.setToolTip(name)")[0][0], complaints("box.setToolTip('Plays')")
    (1, [])
    >>> text = "left, top = 1, 2\\none, other = 1, 2\\none, other = other, one\\na if b else c if d else e"
    >>> [line for line, _ in complaints(text)]
    [2, 4]
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
