"""Pupils' programs, changed by chance: traced, read as tunes, compared, written as sheets."""

from __future__ import annotations

import random
import re
from pathlib import Path

from chickadee.comparison import Model
from chickadee.comparison.verdict import compared
from chickadee.files import printable
from chickadee.formats.arranging import arranged
from chickadee.formats.imported import ImportFault
from chickadee.programs.faults import End
from chickadee.programs.languages import LANGUAGES
from chickadee.programs.reading import read, sounded
from chickadee.sheet import read as read_sheet

from .figures import Figures
from .trials import Trial, run

_ROOT = Path(__file__).parents[2]
_CORPUS = _ROOT / "tests" / "programs" / "corpus"
_CLASS = _ROOT / "src" / "chickadee" / "songs" / "classes" / "fogbank-round"
_LANGUAGE_OF = {"python": "python", "javascript": "javascript", "c": "c", "cpp": "c", "java": "java"}
_TRACE_SECONDS = 1.5
_PIECES = (
    "(", ")", "[", "]", "{", "}", ":", ";", ",", "'", '"', "`", "\\", "#", "//", "/*", "=", "==", "=>", "+", "*", "**", "<<", "-",
    "/ 0", "0", "-1", "1e308", "9" * 30, "9" * 5000, "60", "C4", "None", "null", "nan", "True", "this", "self", "x", "i", "notes",
    "while True:", "while (true)", "for (;;)", "for i in range(10 ** 9):", "if (x)", "else", "return", "break", "continue", "yield 1",
    "def f(*a, **k):", "lambda: f()", "f(f)", "x = x + x", "x * 10 ** 6", "[x] * 9", "x.append(x)", "x += x", "play(x, x)", "play(i)",
    "rest(-1)", "sleep(1e9)", "tempo = 0", "set_tempo(nan)", "setTimeout(f, 0)", "await", "async", "new", "class A:", "struct", "#define A A",
    "import os", "\n", "\n    ", "\t", "\0", "é", "𝄞", "\u202e", "<b>", "repeat 9:", "end", "part x:",
)  # fmt: skip


def fuzz(first: int, count: int, seed: int, figures: Figures) -> None:
    """Try so many changed programs of every language."""
    programs = [
        (language, text)
        for name, language in _LANGUAGE_OF.items()
        for text in re.split(r"(?m)^==== .+\n", (_CORPUS / f"{name}.txt").read_text("utf-8"))[1:]
    ]
    programs += [("steps", (_CLASS / "newts.txt").read_text("utf-8")), ("c", (_CLASS / "terns.c").read_text("utf-8"))]
    programs += [("python", path.read_text("utf-8")) for path in sorted(_CLASS.glob("*.py"))]
    model = Model(read_sheet("C4 D4 E4 F4 | G4=2 E4=2 |").song)

    def make(chance: random.Random, index: int) -> Trial:
        language, text = chance.choice(programs)
        case = _changed(chance, text)
        if chance.random() < 0.1:
            language = chance.choice(LANGUAGES).name
        return Trial(language, case, lambda: _try(case, language, model))

    run(make, first, count, seed, figures)


def _changed(chance: random.Random, text: str) -> str:
    """A program with some of it gone, doubled, exchanged, or with other pieces in its place."""
    for _ in range(chance.randint(1, 5)):
        at = chance.randrange(len(text) + 1)
        to = min(len(text), at + chance.choice((0, 1, 3, 12, 60)))
        piece = chance.choice((chance.choice(_PIECES), chance.choice(_PIECES), text[at:to] * 2, ""))
        text = text[:at] + piece + text[to:]
    return text


def _try(text: str, language: str, model: Model) -> float:
    """Trace a program twice, by itself and as a tune; gives the seconds that the second trace may take."""
    found = sounded(text, language)
    assert (found.fault is None) == (found.trace.end is End.END)
    if found.fault is not None:
        sentence = found.fault.sentence
        assert sentence.isprintable() and len(sentence) < 400 and sentence.startswith("Line "), sentence
        assert 1 <= found.fault.line <= text.count("\n") + 1
    try:
        imported = read(text, language=language, must_be=True)
    except ImportFault as fault:
        assert str(fault).isprintable() and len(str(fault)) < 500, str(fault)
        return _TRACE_SECONDS
    assert imported is not None
    assert printable(compared(model, imported).sentence)
    if len(imported.song.notes) < 2_000:
        arranged(imported)
    return _TRACE_SECONDS
