"""A class's attempts: files and texts of any form, read and compared with the model."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

from .checks import PROFILE_FILE
from .compare import Comparison, Model, compared, unreadable
from .files import FileFault, is_file, is_folder, regular_files
from .formats.anything import read, read_data
from .formats.imported import Form, Imported
from .workers import Lost, Work

__all__ = ["Attempt", "Source", "attempt_of", "attempts_in", "judging"]


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


def judging(model: Model, sources: Sequence[Source]) -> Work[Model, Source, Attempt]:
    """The work of reading and comparing attempts, on all cores where there are many."""
    return Work(_judged, model, sources)


def attempt_of(source: Source, result: Attempt | Lost) -> Attempt:
    """What the work gave for an attempt, also where its process ended."""
    if isinstance(result, Lost):
        return Attempt(source, unreadable("reading it took more than this computer has"))
    return result


def _judged(model: Model, source: Source) -> Attempt:
    try:
        if source.data is not None:
            found = read_data(source.data, source.name, source.form)
        else:
            found = read(source.path or source.name, source.form)
        comparison = compared(model, found)
    except FileFault as fault:
        return Attempt(source, unreadable(fault.reason))
    return Attempt(source, comparison, _places(comparison, found))


def _places(comparison: Comparison, found: Imported) -> tuple[tuple[int, int] | None, ...]:
    text = found.source
    return tuple(
        None if text is None or each.ink is None
        else (text.count("\n", 0, each.ink[0]) + 1, each.ink[0] - text.rfind("\n", 0, each.ink[0]))
        for each in comparison.differences
    )  # fmt: skip
