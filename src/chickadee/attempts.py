"""A class's attempts: files and texts of any form, read and compared with the model."""

from __future__ import annotations

import os
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from .checks import PROFILE_FILE
from .compare import Comparison, Model, compared, unreadable
from .compare.alignment import TooLong
from .compare.beside import Beside, laid_beside
from .csv_text import written
from .faults import failure_of
from .files import FileFault, is_file, is_folder, regular_files
from .formats.imported import Form, Imported
from .incoming import SMALL, is_small, read, read_data
from .reshape import Part
from .reshape.part import notes_of
from .sheet import Reading
from .song import Note
from .workers import FEW_PIECES, MOST_WORKERS, Lost, Work

__all__ = [
    "Attempt", "Laid", "Source", "attempt_beside", "attempt_of", "attempts_in", "is_source_small", "judging",
    "model_of", "read_source", "table_of",
]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Source:
    """Where an attempt comes from."""

    name: str
    """What it is called: its file as it was named, or what a pasted text is called."""
    path: Path | None = None
    data: bytes | None = None
    """What it holds, where it is in no file."""
    form: Form | None = None
    """What it is, where its content does not say."""


@dataclass(frozen=True, slots=True)
class Attempt:
    """An attempt, judged."""

    source: Source
    comparison: Comparison
    places: tuple[tuple[int, int] | None, ...] = ()
    """For each difference the line and column, from 1, in the attempt's text; None for a file that is no text."""


def attempts_in(paths: Iterable[Path | str], model: Path | None = None, form: Form | None = None) -> list[Source]:
    """The files named, and those in the folders named, without the model itself. Raises FileFault.

    Hidden files and what is kept about the folder are not attempts.
    """
    found: list[Source] = []
    for path in map(Path, paths):
        if not is_folder(path):
            found.append(Source(str(path), path, form=form))
            continue
        inside = [each for each in regular_files(path) if each.name != PROFILE_FILE and not _is_same(each, model)]
        if not inside:
            raise FileFault(path, "there are no attempts in this folder")
        found += [Source(str(each), each, form=form) for each in inside]
    return found


def _is_same(path: Path, model: Path | None) -> bool:
    return model is not None and is_file(model) and path.samefile(model)


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
        if (note.ink, note.number) in seen:
            break
        seen.add((note.ink, note.number))
        found.append(note)
    return found


def read_source(source: Source) -> Imported:
    """What an attempt holds. Raises FileFault."""
    if source.data is not None:
        return read_data(source.data, source.name, source.form)
    return read(source.path or source.name, source.form)


@dataclass(frozen=True, slots=True)
class Laid:
    """An attempt, laid beside the model."""

    found: Imported
    beside: tuple[Beside, ...]


def attempt_beside(model: Model, source: Source) -> Laid | None:
    """Lay an attempt beside the model; None where it cannot be read, or is too long for that."""
    try:
        found = read_source(source)
        return Laid(found, laid_beside(model, found))
    except (FileFault, TooLong):
        return None


def is_source_small(source: Source) -> bool:
    """Whether an attempt is read in a moment."""
    return is_small(source.path) if source.path is not None else len(source.data or b"") <= SMALL


def judging(model: Model, sources: Sequence[Source]) -> Work[Model, Source, Attempt]:
    """The work of reading and comparing attempts, on all cores where there are many.

    A few are judged in this process, unless one of them may take long.
    """
    few = len(sources) <= FEW_PIECES and all(map(is_source_small, sources))
    return Work(_judged, model, sources, 0 if few else min(MOST_WORKERS, os.cpu_count() or 1))


def attempt_of(source: Source, result: Attempt | Lost) -> Attempt:
    """What the work gave for an attempt, also where its process ended."""
    if isinstance(result, Lost):
        return Attempt(source, unreadable("reading it took more than this computer has"))
    return result


def table_of(model: Model, attempts: Sequence[Attempt]) -> str:
    """The judgements as comma-separated values, a row for each attempt and a column for each bar."""
    heading = ["file", "verdict", "sentence", "semitones", "lengths_times", "right", "of", "differences", "first_bar",
               "first_beat", *(f"bar {number}" for number in model.bars)]  # fmt: skip
    rows: list[Sequence[object]] = [heading]
    for each in attempts:
        found = each.comparison
        first = found.differences[0] if found.differences else None
        row = [each.source.name, found.verdict.value, found.sentence, found.semitones, found.times, found.right,
               found.of, len(found.differences), first.bar if first else "", first.beat if first else ""]  # fmt: skip
        rows.append([*row, *found.cells])
    return written(rows)


def _judged(model: Model, source: Source) -> Attempt:
    try:
        found = read_source(source)
        comparison = compared(model, found)
        return Attempt(source, comparison, _places(comparison, found))
    except FileFault as fault:
        return Attempt(source, unreadable(fault.reason))
    except Exception as fault:  # a fault of ours: one attempt is not judged, and all others are
        return Attempt(source, unreadable(f"Chickadee failed while comparing it ({failure_of(fault)})"))


def _places(comparison: Comparison, found: Imported) -> tuple[tuple[int, int] | None, ...]:
    text = found.source
    return tuple(
        None if text is None or each.ink is None
        else (text.count("\n", 0, each.ink[0]) + 1, each.ink[0] - text.rfind("\n", 0, each.ink[0]))
        for each in comparison.differences
    )  # fmt: skip
