"""The languages of programs: which one a text is in, and how it is read."""

from __future__ import annotations

import ast
import re
import warnings
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import PurePath
from typing import TYPE_CHECKING

from .tree import Program
from .vocabulary import Verb, verb_of

if TYPE_CHECKING:
    from .writing.dialect import Dialect

__all__ = [
    "LANGUAGES",
    "LONGEST",
    "NO_PROGRAM",
    "TOO_LONG",
    "Language",
    "language_of",
    "might_be_program",
    "read_program",
    "strikes_in",
]

LONGEST = 100_000
"""Characters of a program that is traced."""
_BEGINNING = 50_000  # characters
_MOST_STEP_LINES = 0.6  # of all lines, that must be steps


@dataclass(frozen=True, slots=True)
class Language:
    """A language of programs."""

    name: str
    title: str
    suffixes: tuple[str, ...]
    read: Callable[[str], Program]
    parser: str


# parsers are loaded with the first program


def _python(text: str) -> Program:
    from .python import read_python

    return read_python(text)


def _javascript(text: str) -> Program:
    from .javascript import read_javascript

    return read_javascript(text)


def _c(text: str) -> Program:
    from .c import read_c

    return read_c(text)


def _java(text: str) -> Program:
    from .java import read_java

    return read_java(text)


def _steps(text: str) -> Program:
    from .steps import read_steps

    return read_steps(text)


_SIGNS = {
    "python": r"^\s*(?:def \w+\(.*\).*:|for .+ in .+:|while .+:|if .+:|elif |import \w|from \w+ import )|^\s*print\(",
    "javascript": r"\b(?:let|const|var)\s+[\w{\[]+[^;\n]*=|\bfunction\b|=>|\bconsole\.|==="
    r"|\bfor\s*\(\s*(?:let|const|var)\b",
    "c": r"^\s*#\s*(?:include|define)\b|\b(?:int|void)\s+\w+\s*\([^;{}]*\)\s*\{"
    r"|\b(?:int|float|double|char)\s+\w+\s*(?:\[|=)",
    "java": r"\bpublic\s+(?:static|class|void)\b|\bclass\s+\w+\s*\{|\bSystem\.|\bstatic\s+\w|\bnew\s+\w+\[\]"
    r"|\bfinal\s+\w",
}
"""Patterns that are found in programs of a language, and rarely in others."""
LANGUAGES = (
    Language("python", "Python", (".py", ".pyw"), _python, "Python's own `ast`"),
    Language("javascript", "JavaScript", (".js", ".mjs", ".cjs"), _javascript, "tree-sitter"),
    Language("c", "C or C++", (".c", ".h", ".cpp", ".cc", ".cxx", ".hpp", ".ino"), _c, "tree-sitter"),
    Language("java", "Java", (".java",), _java, "tree-sitter"),
    Language("steps", "steps", (".steps",), _steps, "Chickadee"),
)
_BY_NAME = {each.name: each for each in LANGUAGES}
_BY_SUFFIX = {suffix: each for each in LANGUAGES for suffix in each.suffixes}
TOO_LONG = f"This program has more than {LONGEST:,} signs, which is too long to be traced."
NO_PROGRAM = "This is no program in a language that Chickadee reads."
_STEPS = re.compile(r"(?im)^[^\n(=]{0,12}\b(?:play|note|strike|sing)\b[ \t]+[\w#♯♭]")
_CALL = re.compile(r"[^\W\d]\w*\s*\(")


def might_be_program(text: str, name: str = "", dialects: Sequence[Dialect] = ()) -> bool:
    """Return whether a text may be a program: a quick look, before any parser is loaded.

    Without a text the file's name tells. ``dialects`` are the class's own.
    """
    if not text:
        return PurePath(name).suffix.lower() in _BY_SUFFIX
    return bool(_CALL.search(text) or _STEPS.search(text)) or _is_spoken(text, dialects)


def _is_spoken(text: str, dialects: Sequence[Dialect]) -> bool:
    if not dialects or len(text) > LONGEST:
        return False
    from .writing.backwards import is_spoken

    return is_spoken(text, dialects)


def strikes_in(text: str) -> bool:
    """Return whether a long text calls anything whose name says that it sounds, as far as its beginning tells."""
    names = set(re.findall(r"([^\W\d]\w*)\s*\(", text[:_BEGINNING]))
    return any(verb_of(name) is Verb.STRIKE for name in names)


def language_of(text: str, name: str = "", dialects: Sequence[Dialect] = ()) -> Language | None:
    """Return the language of a program, by its file's name or its content; None for what is no program.

    ``dialects`` are the class's own, which are steps.
    """
    by_name = _BY_SUFFIX.get(PurePath(name).suffix.lower())
    if by_name is not None:
        return by_name
    if _is_spoken(text, dialects):
        return _BY_NAME["steps"]
    from .steps import STEP_LINE

    lines = sum(bool(line.strip()) for line in text.split("\n"))
    if (
        lines
        and len(STEP_LINE.findall(text)) >= lines * _MOST_STEP_LINES
        and re.search(r"(?im)^\s*\S*\s*(?:play|note|strike|sing|repeat)\b", text)
    ):
        return _BY_NAME["steps"]
    if _CALL.search(text) is None:
        return None
    counts = {name: len(re.findall(signs, text, re.MULTILINE)) for name, signs in _SIGNS.items()}
    if counts["java"] and counts["c"] and not re.search(r"(?m)^\s*#\s*(?:include|define)", text):
        counts["java"] += counts["c"]
    best = max(counts, key=counts.__getitem__)
    if best != "python" and counts[best] > counts["python"]:
        return _BY_NAME[best]
    return _BY_NAME["python"] if counts["python"] or _is_python(text) else None


def _is_python(text: str) -> bool:
    """Return whether a text without any word of Python is a program in it."""
    if len(text) > LONGEST:
        return False
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            ast.parse(text)
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return False
    return True


def read_program(text: str, language: str, dialects: Sequence[Dialect] = ()) -> Program:
    """Read a program in a language, by its name; one with a fault is read as far as that.

    Steps may be in one of the class's own ``dialects``.
    """
    if language == "steps" and dialects:
        from .steps import read_steps

        return read_steps(text, dialects)
    return _BY_NAME[language].read(text)
