"""A pupil's program as it is shown: its text, how it was understood, its faults and its differences marked."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..comparison.differences import Difference
from ..comparison.plain_numbers import place_in_words
from ..comparison.words import difference_in_words
from ..files import decode, read_text
from ..formats.imported import Imported
from ..handed_in import Source
from ..incoming import corrections_for
from ..programs.languages import LANGUAGES, LONGEST, NO_PROGRAM, language_of
from ..programs.meaning import Understood
from ..programs.offsets import LineIndex
from ..programs.reading import imported, sounded
from . import words
from .class_table import pretty

__all__ = ["Mark", "ProgramView", "Wanted", "program_view"]

_TITLES = {each.name: each.title for each in LANGUAGES}
_MOST_MARKS = 200
_MOST_UNREAD = 20


@dataclass(frozen=True, slots=True)
class Wanted:
    """A program that is to be shown."""

    source: Source
    differences: tuple[Difference, ...] = ()
    """Those of the attempt that it is."""


@dataclass(frozen=True, slots=True)
class Mark:
    """A place in the text about which something is said."""

    start: int
    end: int
    line: int
    """From 1."""
    sentence: str
    is_fault: bool = False
    """True for what ends the program or cannot be read; else it is a difference from the tune."""


@dataclass(frozen=True, slots=True)
class ProgramView:
    """A program, traced."""

    name: str
    text: str
    language: str = ""
    """The title of its language."""
    understood: tuple[Understood, ...] = ()
    others: tuple[str, ...] = ()
    """The names of other calls, taken to be no part of the tune."""
    marks: tuple[Mark, ...] = ()
    """In order of the text."""
    uses: str = ""
    """The counts of its steps, repeats, parts and lists, in words."""
    found: Imported | None = None
    """The tune that it sounds; None where it sounds nothing."""
    failure: str = ""
    """Why it is not shown as a program; empty where it is."""
    said: tuple[str, ...] = ()
    """Sentences about what was assumed."""


def program_view(wanted: Wanted) -> ProgramView:
    """Trace a program and say all that is shown of it. Raises FileFault."""
    source = wanted.source
    text = decode(source.data, source.name) if source.data is not None else read_text(source.path or source.name)
    language = language_of(text, source.name)
    if language is None or len(text) > LONGEST:
        return ProgramView(source.name, text[:LONGEST], failure=NO_PROGRAM if language is None else "It is too long.")
    found = sounded(text, language.name, corrections_for(source.path, source.beside))
    lines = found.trace.lines
    marks = list(_differences(wanted.differences, lines))
    for event in [event for event in found.timed.events if event.sign][:_MOST_UNREAD]:
        sentence = f"“{event.sign[:20]}” is no pitch that Chickadee knows."
        marks.append(Mark(*event.span, lines.of(event.span[0]), sentence, is_fault=True))
    if found.fault is not None:
        start, end = found.fault.span
        marks.append(Mark(start, max(end, start + 1), found.fault.line, found.fault.sentence, is_fault=True))
    uses = found.trace.facts.uses
    counted = [
        words.counted(uses.steps, "step"),
        words.counted(uses.repeats, "repeat"),
        words.counted(uses.parts, "part"),
        words.counted(uses.lists, "list"),
    ]
    sounds = any(event.pitches for event in found.timed.events)
    return ProgramView(
        source.name,
        text,
        _TITLES[language.name],
        tuple(found.meaning.calls.values()),
        found.meaning.others,
        tuple(sorted(marks, key=lambda mark: (mark.start, mark.end))[:_MOST_MARKS]),
        ", ".join(counted),
        imported(found) if sounds else None,
        said=found.trace.said,
    )


def _differences(differences: Sequence[Difference], lines: LineIndex) -> list[Mark]:
    found = []
    for each in differences:
        if each.span is None:
            continue
        place = place_in_words(each.bar, each.beat)
        turn = each.where.partition(", ")[2]
        said = f"{place}: {difference_in_words(each)}{f' ({turn})' if turn else ''}"
        found.append(Mark(*each.span, lines.of(each.span[0]), pretty(said[:1].upper() + said[1:]) + "."))
    return found
