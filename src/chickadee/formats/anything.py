"""Whatever a tune comes as: known by its content, and read."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

from ..fault_log import logged
from ..files import LARGEST_SHEET, FileFault, as_reason, decode, read_bytes
from ..sheet import Reading, Severity
from ..sheet import read as read_sheet
from ..theory import Naming
from . import lists, musicxml, smf, spreadsheet, table
from .forms import form_of
from .imported import Form, Imported, ImportFault, found_in_sheet

__all__ = ["bounded", "is_text", "our_faults_said", "read", "read_data", "read_text"]

_LONGEST = 40_000  # characters that are read as a sheet only to see whether they are one
_LOWEST = 16  # MIDI number that a list of letters and numbers can mean as a pitch
_MOST_SECONDS = 24 * 3600
_MOST_BARS = 20_000
_EMPTY_BARS = 2000
_BARS_A_NOTE = 4
_SHEET_LINE = re.compile(
    r"(?im)^[^\S\n]*(?:(?:voice|phrase)[^\S\n]+[^\s,;]+[^\S\n]*$|(?:title|tempo|meter|key|sound)[^\S\n]*:)"
)
_PROGRAM = re.compile(
    r"=\s*(?:new\s+[\w.<>\[\]]{1,40}\s*)?[\[({\"']|[\[({][^\[\](){}\n]*,|[\"'][^\"'\n]{1,20}[\"']\s*[,:\])]"
    r"|\.(?:append|push|add|extend)\(|\b(?:for|while|def|function|void|repeat|import|include|define)\b|\w\(\S*\)\s*;?$",
    re.MULTILINE,
)
_IN_TURN = re.compile(r"(?:[A-Ga-g][#♯b♭]?-?[0-9]?\s+[0-9./,]+\s*)+")
_ABOUT_BARS = frozenset(("bar-length",))
"""Codes of errors in what is understood."""


def read(
    path: Path | str, form: Form | None = None, pipes: bool = False, naming: Naming = Naming.LETTERS
) -> Imported:
    """The tune in a file, or a pipe if those are wanted. Raises FileFault, also where it holds no music."""
    path = Path(path)
    return read_data(read_bytes(path, LARGEST_SHEET, pipes), path, form, naming)


def read_data(data: bytes, path: Path | str, form: Form | None = None, naming: Naming = Naming.LETTERS) -> Imported:
    """The tune in a file's bytes; ``path`` is named in the FileFault raised where there is none."""
    if len(data) > LARGEST_SHEET:
        raise FileFault(path, f"this file is too large for a tune; the most is {LARGEST_SHEET >> 20} MB")
    with our_faults_said(path):
        return _read(data, path, form, naming)


@contextmanager
def our_faults_said(path: Path | str) -> Iterator[None]:
    """Turn a fault of ours into a FileFault about a file: one file is not read, and all others are."""
    try:
        yield
    except FileFault:
        raise
    except Exception as fault:
        raise FileFault(path, f"Chickadee failed while reading it ({logged(fault)})") from fault


def _read(data: bytes, path: Path | str, form: Form | None, naming: Naming) -> Imported:
    try:
        if form is Form.MIDI or (form is None and smf.is_smf(data)):
            return bounded(smf.read(data))
        if form in (None, Form.TABLE) and spreadsheet.is_spreadsheet(data):
            return bounded(_of_spreadsheet(data, naming))
        if form is Form.MUSICXML or (form is None and musicxml.is_musicxml(data)):
            return bounded(musicxml.read(data))
        found = read_text(decode(data, path), form or _by_suffix(path), naming)
        return found if found.text is not None else bounded(found)
    except ImportFault as fault:
        raise FileFault(path, as_reason(str(fault))) from None


def _of_spreadsheet(data: bytes, naming: Naming) -> Imported:
    cells = spreadsheet.cells_of(data)
    found = read_text(cells.text, naming=naming)
    if found.form is Form.SHEET and not found.song.notes:
        raise ImportFault("This spreadsheet has no notes.")
    return replace(found, form=Form.TABLE, text=None, left_out=(*found.left_out, *cells.left_out))


def bounded(found: Imported) -> Imported:
    """Return the music if a sheet can hold it. Raises ImportFault, also for a few notes among empty bars."""
    song = found.song
    if song.seconds > _MOST_SECONDS or song.grid.number_at(song.end) > _MOST_BARS:
        raise ImportFault("This tune lasts longer than twenty-four hours, or twenty thousand bars.")
    bars = sum(song.grid.number_at(voice.end) for voice in song.voices)
    if bars > _EMPTY_BARS + _BARS_A_NOTE * len(song.notes):
        raise ImportFault("This tune has a few notes in thousands of bars; its times are probably damaged.")
    return found


def is_text(data: bytes) -> bool:
    """Return whether a file holds neither a MIDI file, nor a score or a spreadsheet."""
    return not (smf.is_smf(data) or musicxml.is_musicxml(data))


def read_text(text: str, form: Form | None = None, naming: Naming = Naming.LETTERS) -> Imported:
    """The tune in a text: a sheet, a table or a list. Raises ImportFault where it is none of the form asked for.

    Without a form it is read in the way that leaves the fewest signs unread. ``naming`` is how pitches are probably
    named in lists and tables.
    """
    readers = {Form.TABLE: table.read, Form.LIST: lists.read}
    if form in readers:
        return readers[form](text, naming)
    if form is Form.SHEET or _SHEET_LINE.search(text):
        return _sheet(text)
    if table.is_table(text):
        return table.read(text, naming)
    if _PROGRAM.search(text):
        return _program(text, naming)
    if len(text) > _LONGEST and not _is_mostly_sheet(text):
        return lists.from_lines(text, naming)
    return _bare(text, naming)


def _program(text: str, naming: Naming) -> Imported:
    """A text with brackets, quotes or words of programs: a program, else bare values."""
    as_sheet = _Tried(read_sheet(text)) if len(text) <= _LONGEST else None
    try:
        found = lists.from_program(text, naming)
    except lists.RunningFault:
        if as_sheet is not None and as_sheet.is_likely:
            return as_sheet.found
        raise
    except ImportFault:
        if as_sheet is not None and as_sheet.is_likely:
            return as_sheet.found
        if (lines := _lines(text, naming)) is not None:
            return lines
        if as_sheet is None or not as_sheet.is_heard:
            raise
        return as_sheet.found
    if as_sheet is not None and as_sheet.is_whole and len(as_sheet.found.song.notes) > len(found.song.notes):
        return as_sheet.found
    return found


def _bare(text: str, naming: Naming) -> Imported:
    """Words alone: a sheet, or values a line."""
    as_sheet = _Tried(read_sheet(text))
    if as_sheet.is_whole and "," not in text and not _IN_TURN.fullmatch(text.strip()):
        return as_sheet.found
    lines = _lines(text, naming)
    if lines is not None and as_sheet.is_whole and not _IN_TURN.fullmatch(text.strip()):
        return lines if _is_same(lines, as_sheet.found) else as_sheet.found
    if lines is None or (as_sheet.is_heard and as_sheet.unread <= len(lines.unread)):
        return as_sheet.found
    return lines


def _is_same(one: Imported, other: Imported) -> bool:
    return [note[:5] for note in one.song.notes] == [note[:5] for note in other.song.notes]


def _lines(text: str, naming: Naming) -> Imported | None:
    try:
        return lists.from_lines(text, naming)
    except ImportFault:
        return None


class _Tried:
    """A text read as a sheet, and how much of it that leaves unread."""

    def __init__(self, reading: Reading) -> None:
        self.found = found_in_sheet(reading, Form.SHEET)
        self.unread = sum(
            finding.severity is Severity.ERROR and finding.code not in _ABOUT_BARS for finding in reading.findings
        )
        # lower numbers are surely lengths
        self.is_heard = bool(self.found.song.notes) and all(note.number >= _LOWEST for note in self.found.song.notes)

    @property
    def is_whole(self) -> bool:
        """True if all of it is understood."""
        return self.is_heard and not self.unread

    @property
    def is_likely(self) -> bool:
        """True if most of it is understood."""
        return self.is_heard and self.unread * 4 <= len(self.found.song.notes)


def _is_mostly_sheet(text: str) -> bool:
    """Return whether the beginning of a long text has more notes than findings, read as a sheet."""
    end = text.find("\n", _LONGEST // 2, _LONGEST)
    sample = read_sheet(text[: end if end >= 0 else _LONGEST])
    return len(sample.song.notes) > len(sample.findings)


def _sheet(text: str) -> Imported:
    return found_in_sheet(read_sheet(text), Form.SHEET)


def _by_suffix(path: Path | str) -> Form | None:
    """The form of a sheet's file; others are known by their content."""
    form = form_of(path)
    return Form.SHEET if form is not None and form.reads_as is Form.SHEET else None
