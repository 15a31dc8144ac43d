"""Whatever comes in from elsewhere: files of any form, spreadsheets, and what a target's own text says."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path

from .boards.catalogue import OWN, own_targets, shipped
from .boards.target import Target, read_target
from .boards.unpacking import UnpackFault, unpacked
from .faults import InputFault
from .files import LARGEST_SHEET, FileFault, as_reason, decode, read_bytes, read_text
from .formats import anything
from .formats.arranging import Arranged, arranged
from .formats.forms import is_a_sheet
from .formats.imported import Form, Imported, LengthsIn
from .formats.pasting import pasted as pasted_list
from .programs.corrections import NOTHING, Corrections, corrections_in
from .programs.languages import LONGEST, NO_PROGRAM, TOO_LONG, might_be_program, strikes_in
from .theory import Naming

__all__ = ["Brought", "brought", "corrections_for", "pasted", "read", "read_data"]

_LEAST_WORDS = 4  # letters of fixed text that tell a target's text from any other
_LONGEST_PASTED = 20_000  # characters of a program that is traced while it is pasted
_PASTE_SECONDS = 0.25
_LONGEST_CELLS = 200_000  # characters of a text that is read as a target's


@dataclass(frozen=True, slots=True)
class Brought:
    """A tune from elsewhere."""

    found: Imported
    made: Arranged
    """Its sheet, snapped and in phrases."""


_HEAD = 1000  # bytes, in which a web page says that it is one
_BLANK = b" \t\r\n\xef\xbb\xbf"
_WEB_PAGES = b"<!doctype html", b"<html"


def brought(form: Form | None, source: Path | str) -> Brought | str:
    """Read a file or a text of any form; a sentence where it cannot be read."""
    try:
        if isinstance(source, Path):
            found = read(source, form)
        else:
            own = _with_targets(source) if form is None else None
            found = own or _program(source, "", form) or anything.read_text(source, form)
        return Brought(found, arranged(found))
    except InputFault as fault:
        return str(fault)


def pasted(text: str, alone: bool) -> str | None:
    """A list, table or program as it is written in a sheet; None for any other text.

    A program, and several voices, are written only where the text is ``alone`` in its sheet.
    """
    if alone and len(text) < _LONGEST_PASTED and might_be_program(text):
        from .programs.reading import read as read_program

        try:
            found = read_program(text, seconds=_PASTE_SECONDS)
        except InputFault:
            found = None
        if found is not None:
            return arranged(found).text
    return pasted_list(text, alone)


def read(
    path: Path | str,
    form: Form | None = None,
    pipes: bool = False,
    naming: Naming = Naming.LETTERS,
    beside: Path | None = None,
) -> Imported:
    """The tune in a file, or a pipe if those are wanted. Raises FileFault, also where it holds no music.

    ``naming`` is how pitches are probably named; ``beside`` is a folder whose own targets may have written the file,
    besides that of the file.
    """
    path = Path(path)
    return read_data(read_bytes(path, LARGEST_SHEET, pipes), path, form, naming, beside)


def read_data(
    data: bytes,
    path: Path | str,
    form: Form | None = None,
    naming: Naming = Naming.LETTERS,
    beside: Path | None = None,
) -> Imported:
    """The tune in a file's bytes; ``path`` is named in the FileFault raised where there is none."""
    if form is None and data[:_HEAD].lstrip(_BLANK).lower().startswith(_WEB_PAGES):
        raise FileFault(path, "it is a web page, which holds no tune; open the tune that it was made of")
    may_be_own = form is None and not is_a_sheet(Path(path)) and anything.is_text(data)
    if may_be_own or form is Form.PROGRAM:
        folder = Path(path).parent if Path(path).suffix else None
        text = decode(data, path)
        with anything.our_faults_said(path):
            found = _with_targets(text, beside, folder) if may_be_own else None
            found = found or _program(text, path, form, naming, folder, beside)
        if found is not None:
            return found
        if len(text) > LONGEST and might_be_program(text, str(path)):
            return _long_program(data, path, naming)
    return anything.read_data(data, path, form, naming)


def _long_program(data: bytes, path: Path | str, naming: Naming) -> Imported:
    """The lists in a program that is too long to be traced. Raises FileFault, also where there are none."""
    try:
        return anything.read_data(data, path, None, naming)
    except FileFault:
        if not strikes_in(data[:_LONGEST_PASTED].decode("utf-8", "replace")):
            raise
        raise FileFault(path, as_reason(TOO_LONG)) from None


def _program(
    text: str, path: Path | str, form: Form | None, naming: Naming = Naming.LETTERS, *folders: Path | None
) -> Imported | None:
    """Trace a program; None for a text that is none, or that only holds data. Raises FileFault for one that fails.

    The first of the folders that says something about its programs is heard.
    """
    if form not in (None, Form.PROGRAM):
        return None
    if not might_be_program(text, str(path)) and not _is_in_own_steps(text, folders):
        if form is Form.PROGRAM:
            raise FileFault(path, as_reason(NO_PROGRAM))
        return None
    from .programs.reading import read as read_program

    try:
        corrections = _first_corrections(folders)
        return read_program(text, str(path), naming, corrections, must_be=form is Form.PROGRAM)
    except FileFault:
        raise
    except InputFault as fault:
        raise FileFault(path, as_reason(str(fault))) from None


def _is_in_own_steps(text: str, folders: tuple[Path | None, ...]) -> bool:
    """Return whether a text is a program in a language of steps that one of some folders describes."""
    from .programs.writing.catalogue import own_in_steps

    dialects = next((found for each in folders if (found := own_in_steps(each))), ())
    return might_be_program(text, dialects=dialects)


def _first_corrections(folders: tuple[Path | None, ...]) -> Corrections:
    return next((found for each in folders if _says(found := corrections_in(each))), NOTHING)


def _says(found: Corrections) -> bool:
    """Return whether corrections say anything."""
    return bool(found.calls or found.dialects)


def corrections_for(path: Path | None, beside: Path | None = None) -> Corrections:
    """The corrections for a program: those of its own folder, else those of the tune's. Raises CorrectionsFault."""
    return _first_corrections((path.parent if path is not None else None, beside))


def _with_targets(text: str, *folders: Path | None) -> Imported | None:
    """Read a text that surely is a target's; None for any other."""
    if len(text) > _LONGEST_CELLS:
        return None
    has_blocks = "\n\n" in text
    for target in _targets(folders):
        if target.suffix == ".csv" and not target.is_board and not has_blocks:
            continue  # a table like any other
        if not _is_telling(target) or not _begins(text, target):
            continue
        found = found_in_cells(text, target)
        if found is not None:
            return found
    return None


def found_in_cells(text: str, target: Target) -> Imported | None:
    """The tune in a text that a target was given, all of it; None for any other text."""
    try:
        song = unpacked(text, target)
    except (UnpackFault, ArithmeticError):
        return None
    if song is None or not song.notes:
        return None
    timed = target.is_in_seconds or target.is_in_ticks
    found = Imported(song, Form.LIST, source=text, lengths=LengthsIn.SECONDS if timed else LengthsIn.BEATS)
    return replace(found, left_out=(f"This was read as a text for {target.title}.",))


def _targets(folders: tuple[Path | None, ...]) -> Iterator[Target]:
    """A teacher's own targets, then the boards and tables that come with the program."""
    for folder in dict.fromkeys((None, *folders)):
        for path in _own_in(folder, OWN.changed(folder)):
            try:
                yield _own(str(path), path.stat().st_mtime_ns)
            except (InputFault, OSError):
                continue  # it is said where that target is chosen
    yield from _shipped()


@lru_cache(64)
def _own_in(folder: Path | None, changed: tuple[int, ...]) -> tuple[Path, ...]:
    """The files of own targets, listed anew once a folder is ``changed``: a class has many attempts in one."""
    return tuple(own_targets(folder).values())


@lru_cache(64)
def _own(path: str, changed: int) -> Target:
    """A target of a teacher's own, read anew once its file is ``changed``."""
    return read_target(read_text(Path(path)), Path(path).stem)


@lru_cache(1)
def _shipped() -> tuple[Target, ...]:
    return tuple(target for target in shipped().values() if target.is_board or target.suffix == ".csv")


def _is_telling(target: Target) -> bool:
    """Return whether a target's fixed text tells what is for it from any other text."""
    layouts = [part for each in target.lists for part in (each.open, each.close, each.entry)]
    fixed = re.sub(r"\{[^}]*\}", "", "".join((target.head, target.line, target.foot, *layouts)))
    return len(re.findall(r"[^\W\d_]", fixed)) >= _LEAST_WORDS


def _begins(text: str, target: Target) -> bool:
    """Return whether a text has the letters that the target's text begins with."""
    first = re.search(r"[^\W\d_]{2,}", re.sub(r"\{[^}]*\}", " ", target.head + target.line + target.lists[0].open))
    return first is None or first[0] in text[:2_000]
