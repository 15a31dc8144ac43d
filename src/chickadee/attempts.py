"""A class's attempts: files and texts of any form, read and compared with the model."""

from __future__ import annotations

import os
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

from .comparison import Comparison, Model, best_reading, unreadable
from .comparison.alignment import TooLong
from .comparison.beside import Beside, laid_beside
from .comparison.points import Points
from .csv_text import written
from .fault_log import logged
from .files import SMALL, FileFault, is_small, printable
from .formats.imported import Imported
from .formats.traced import TracedProgram
from .handed_in import Source
from .incoming import read, read_data
from .programs.smallest import fewest_steps
from .reshape import Part
from .reshape.part import notes_of
from .sheet import Reading
from .song import Note
from .theory import Naming
from .workers import FEW_PIECES, MOST_WORKERS, Lost, Work

_MOST_UNREAD = 100  # signs
_LONGEST_SIGN = 40  # characters of one that are said

__all__ = [
    "AlignedAttempt",
    "Attempt",
    "UnreadPart",
    "attempt_beside",
    "attempt_of",
    "is_source_small",
    "judging",
    "model_of",
    "read_source",
    "smallest_of",
    "table_of",
]  # fmt: skip


class UnreadPart(NamedTuple):
    """A part of an attempt that was not read as it stands."""

    line: int | None
    """From 1; None where it is no one place."""
    column: int | None
    sentence: str


@dataclass(frozen=True, slots=True)
class Attempt:
    """An attempt, judged."""

    source: Source
    comparison: Comparison
    places: tuple[tuple[int, int] | None, ...] = ()
    """For each difference the line and column, from 1, in the attempt's text; None for a file that is no text."""
    unread: tuple[UnreadPart, ...] = ()
    """Parts that were not read, or that may mean several things."""
    program: TracedProgram | None = None
    """How it was traced, where it is a program."""


def model_of(reading: Reading, part: Part) -> Model:
    """The whole tune, a voice or a phrase, where it is used first, as what attempts are compared with."""
    song = reading.song
    if part.is_song:
        return Model(song)
    notes = [song.notes[index] for index in notes_of(reading, part, drums=True)]
    if part.phrase is not None:
        notes = _first_use(notes)
    voices = tuple(sorted({note.voice for note in notes}))
    return Model(replace(song, notes=tuple(notes)), voices, whole=False)


def _first_use(notes: Sequence[Note]) -> list[Note]:
    """The notes until one comes again that was written before."""
    seen: set[object] = set()
    found = []
    for note in notes:
        if (note.spans, note.number) in seen:
            break
        seen.add((note.spans, note.number))
        found.append(note)
    return found


def read_source(source: Source, naming: Naming = Naming.LETTERS) -> Imported:
    """Read an attempt; ``naming`` is how its pitches are probably named. Raises FileFault."""
    if source.data is not None:
        return read_data(source.data, source.name, source.form, naming, source.beside)
    return read(source.path or source.name, source.form, naming=naming, beside=source.beside)


@dataclass(frozen=True, slots=True)
class AlignedAttempt:
    """An attempt, laid beside the model."""

    found: Imported
    beside: tuple[Beside, ...]


def attempt_beside(model: Model, source: Source) -> AlignedAttempt | None:
    """Lay an attempt beside the model; None where it cannot be read, or is too long for that."""
    try:
        found, _ = best_reading(model, read_source(source, model.song.naming))
        return AlignedAttempt(found, laid_beside(model, found))
    except (FileFault, TooLong):
        return None


def is_source_small(source: Source) -> bool:
    """Return whether an attempt is read in a moment."""
    if source.data is not None or source.path is None:
        return len(source.data or b"") <= SMALL
    return is_small(source.path)


def judging(model: Model, sources: Sequence[Source]) -> Work[Model, Source, Attempt]:
    """The work of reading and comparing attempts, on all cores where there are many.

    A few are judged in this process, unless one of them may take long.
    """
    few = len(sources) <= FEW_PIECES and all(map(is_source_small, sources))
    return Work(_judged, model, sources, 0 if few else min(MOST_WORKERS, os.cpu_count() or 1))


def attempt_of(source: Source, result: Attempt | Lost) -> Attempt:
    """Return the attempt that a worker judged, also where its process ended."""
    if isinstance(result, Lost):
        return Attempt(source, unreadable("reading it took more than this computer has"))
    return result


def table_of(
    model: Model, attempts: Sequence[Attempt], missing: Sequence[str] = (), points: Points | None = None
) -> str:
    """The judgements as comma-separated values, a row for each attempt and a column for each bar.

    ``missing`` are those who handed in nothing; they have a row each too. With a rule of ``points`` there is a column
    for them.
    """
    counted = ["points"] if points is not None else []
    heading = [
        "file",
        "verdict",
        "sentence",
        "semitones",
        "lengths_times",
        "right",
        "of",
        "differences",
        "first_bar",
        "first_beat",
        "unread",
        "language",
        "repeats",
        "parts",
        "lists",
        "steps",
        "smallest",
        *counted,
        *(f"bar {number}" for number in model.bars),
    ]
    rows: list[Sequence[object]] = [heading]
    smallest = smallest_of(model) if any(each.program is not None for each in attempts) else None
    for each in attempts:
        found = each.comparison
        first = found.differences[0] if found.differences else None
        row = [
            each.source.name,
            found.verdict.value,
            found.sentence,
            found.semitones,
            found.times,
            found.right,
            found.of,
            len(found.differences),
            first.bar if first else "",
            first.beat if first else "",
            len(each.unread),
        ]
        given = [f"{float(points.given(found)):g}"] if points is not None else []
        rows.append([*row, *_uses(each.program, smallest), *given, *found.cells])
    rows += [[name, "missing", "Nothing was handed in."] for name in missing]
    return written(rows)


def _uses(program: TracedProgram | None, smallest: int | None) -> list[object]:
    """The counts of what a program uses, and the fewest steps there are; empty for any other attempt."""
    if program is None:
        return [""] * 6
    uses = program.uses
    return [program.language, uses.repeats, uses.parts, uses.lists, uses.steps, smallest]


def smallest_of(model: Model) -> int:
    """Return how many steps the smallest program with repeats takes for the model's line."""
    line = model.together
    steps: list[tuple[int, tuple[int, ...]]] = []
    for moment, silent in zip(line.moments, line.rests.tolist(), strict=True):
        steps.append((moment.length, moment.numbers))
        if silent:
            steps.append((silent, ()))
    return fewest_steps(steps)


def _judged(model: Model, source: Source) -> Attempt:
    try:
        found, comparison = best_reading(model, read_source(source, model.song.naming))
        return Attempt(source, comparison, _places(comparison, found), _unread_in(found), _facts(found))
    except FileFault as fault:
        return Attempt(source, unreadable(fault.reason))
    except Exception as fault:  # a fault of ours: one attempt is not judged, and all others are
        return Attempt(source, unreadable(f"Chickadee failed while comparing it ({logged(fault)})"))


def _facts(found: Imported) -> TracedProgram | None:
    """How a program was traced, without what only its notes need."""
    return replace(found.program, strikes={}, sheet=None) if found.program is not None else None


def _places(comparison: Comparison, found: Imported) -> tuple[tuple[int, int] | None, ...]:
    text = found.source
    return tuple(
        None if text is None or each.span is None else _place(text, each.span[0]) for each in comparison.differences
    )


def _place(text: str, offset: int) -> tuple[int, int]:
    """The line and column of an offset, from 1."""
    return text.count("\n", 0, offset) + 1, offset - text.rfind("\n", 0, offset)


def _unread_in(found: Imported) -> tuple[UnreadPart, ...]:
    """The signs that name no pitch, then what was left out."""
    text = found.source or ""
    parts = []
    for each in found.unread[:_MOST_UNREAD]:
        sign = printable(text[slice(*each.span)])[:_LONGEST_SIGN]
        parts.append(UnreadPart(*_place(text, each.span[0]), f"“{sign}” is not read; it is silent here."))
    return (*parts, *(UnreadPart(None, None, sentence) for sentence in found.left_out))
