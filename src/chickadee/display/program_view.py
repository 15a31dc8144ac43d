"""A pupil's program as it is shown: its text, how it was understood, its faults and its differences marked."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from ..comparison.alignment import TooLong
from ..comparison.beside import Beside, laid_beside
from ..comparison.differences import Difference
from ..comparison.model import Model
from ..comparison.plain_numbers import place_in_words
from ..comparison.verdict import compared
from ..comparison.words import difference_in_words
from ..files import decode, read_text
from ..formats.imported import Imported
from ..handed_in import Source
from ..incoming import corrections_for
from ..programs.languages import LANGUAGES, LONGEST, NO_PROGRAM, language_of
from ..programs.meaning import Understood
from ..programs.offsets import LineIndex
from ..programs.reading import imported, sounded
from ..programs.writing.program_text import Around, Performance, Performed
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
    model: Model | None = None
    """The tune that it is compared with, where there is one."""
    copy: str | None = None
    """A text that is tried out in the place of its own."""


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
    performance: Performance = field(default_factory=Performance)
    """Its strikes, one after the other; the notes are those of ``found``."""
    beside: tuple[Beside, ...] = ()
    """Its moments laid over the tune."""
    differences: tuple[Difference, ...] = ()
    """Those from the tune."""
    judgement: str = ""
    """The sentence about how it compares with the tune; empty where there is no tune."""


def program_view(wanted: Wanted) -> ProgramView:
    """Trace a program and say all that is shown of it. Raises FileFault."""
    source = wanted.source
    own = decode(source.data, source.name) if source.data is not None else read_text(source.path or source.name)
    text = own if wanted.copy is None else wanted.copy
    corrections = corrections_for(source.path, source.beside)
    dialects = corrections.dialects
    spoken = language_of(own, source.name, dialects) or language_of(text, source.name, dialects)
    if spoken is None or len(text) > LONGEST:
        return ProgramView(source.name, text[:LONGEST], failure=NO_PROGRAM if spoken is None else "It is too long.")
    language = spoken.name
    found = sounded(text, language, corrections)
    lines = found.trace.lines
    tune = imported(found) if any(event.pitches for event in found.timed.events) else None
    differences, beside, judgement = _compared(wanted.model, tune)
    marks = list(_differences(differences, lines))
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
    return ProgramView(
        source.name,
        text,
        _TITLES[language],
        tuple(found.meaning.calls.values()),
        found.meaning.others,
        tuple(sorted(marks, key=lambda mark: (mark.start, mark.end))[:_MOST_MARKS]),
        ", ".join(counted),
        tune,
        said=found.trace.said,
        performance=_performance(tune, lines),
        beside=beside,
        differences=differences,
        judgement=judgement,
    )


def _compared(model: Model | None, tune: Imported | None) -> tuple[tuple[Difference, ...], tuple[Beside, ...], str]:
    """The differences of a program's tune from the model, its moments laid over that, and the sentence about it."""
    if model is None or tune is None or not model.chosen:
        return (), (), ""
    found = compared(model, tune)
    try:
        return found.differences, laid_beside(model, tune), found.sentence
    except TooLong:
        return found.differences, (), found.sentence


def _performance(tune: Imported | None, lines: LineIndex) -> Performance:
    """The strikes of a program, one after the other, with the turns of the loops about each."""
    if tune is None or tune.program is None:
        return Performance()
    strikes = tune.program.strikes
    most: dict[tuple[int, ...], int] = {}
    found = []
    for index, note in enumerate(tune.song.notes):
        strike = strikes.get((note.start, note.spans[0][0]))
        if strike is None:
            continue
        around = []
        for depth, (line, turn) in enumerate(zip(strike.loops, strike.turns, strict=False)):
            key = (*strike.loops[: depth + 1], *strike.turns[:depth])
            most[key] = max(most.get(key, 0), turn)
            around.append((line, turn, key))
        found.append((note, index, strike.line, around))
    return Performance(
        tuple(
            Performed(
                note.start,
                note.end,
                line,
                (index,),
                tuple(Around(head, turn, most[key]) for head, turn, key in about),
            )
            for note, index, line, about in found
        )
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
