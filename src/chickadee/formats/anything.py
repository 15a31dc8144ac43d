"""Whatever a tune comes as: known by its content, and read."""

from __future__ import annotations

import re
from contextlib import suppress
from pathlib import Path

from ..faults import failure_of
from ..files import LARGEST_SHEET, FileFault, as_reason, decode, read_bytes
from ..sheet import read as read_sheet
from . import lists, musicxml, smf, table
from .imported import Form, Imported, ImportFault, found_in_sheet

__all__ = ["SUFFIXES", "read", "read_data", "read_text"]

SUFFIXES = {
    ".chick": Form.SHEET, ".mid": Form.MIDI, ".midi": Form.MIDI, ".kar": Form.MIDI, ".rmi": Form.MIDI,
    ".musicxml": Form.MUSICXML, ".mxl": Form.MUSICXML, ".xml": Form.MUSICXML, ".csv": Form.TABLE, ".tsv": Form.TABLE,
    ".txt": Form.LIST, ".py": Form.LIST, ".js": Form.LIST, ".c": Form.LIST, ".ino": Form.LIST, ".java": Form.LIST,
    ".json": Form.LIST,
}  # fmt: skip
"""The form that a file's suffix says, where its content does not."""

_LONGEST = 40_000  # characters that are read as a sheet only to see whether they are one
_LOWEST = 16  # MIDI number that a list of letters and numbers can mean as a pitch
_MOST_SECONDS, _MOST_BARS = 24 * 3600, 20_000
_EMPTY_BARS, _BARS_A_NOTE = 2000, 4
_SHEET_LINE = re.compile(
    r"(?im)^[^\S\n]*(?:(?:voice|phrase)[^\S\n]+[^\s,;]+[^\S\n]*$|(?:title|tempo|meter|key|sound)[^\S\n]*:)"
)


def read(path: Path | str, form: Form | None = None, pipes: bool = False) -> Imported:
    """The tune in a file, or a pipe if those are wanted. Raises FileFault, also where it holds no music."""
    path = Path(path)
    return read_data(read_bytes(path, LARGEST_SHEET, pipes), path, form)


def read_data(data: bytes, path: Path | str, form: Form | None = None) -> Imported:
    """The tune in a file's bytes; ``path`` is named in the FileFault raised where there is none."""
    if len(data) > LARGEST_SHEET:
        raise FileFault(path, f"this file is too large for a tune; the most is {LARGEST_SHEET >> 20} MB")
    try:
        return _read(data, path, form)
    except (FileFault, KeyboardInterrupt):
        raise
    except Exception as fault:  # a fault of ours: one file is not read, and all others are
        raise FileFault(path, f"Chickadee failed while reading it ({failure_of(fault)})") from fault


def _read(data: bytes, path: Path | str, form: Form | None) -> Imported:
    try:
        if form is Form.MIDI or (form is None and smf.is_smf(data)):
            return _bounded(smf.read(data))
        if form is Form.MUSICXML or (form is None and musicxml.is_musicxml(data)):
            return _bounded(musicxml.read(data))
        found = read_text(decode(data, path), form or _by_suffix(path))
        return found if found.text is not None else _bounded(found)
    except ImportFault as fault:
        raise FileFault(path, as_reason(str(fault))) from None


def _bounded(found: Imported) -> Imported:
    """What is found, if a sheet can hold it. Raises ImportFault, also where a few notes are lost among empty bars."""
    song = found.song
    if song.seconds > _MOST_SECONDS or song.grid.number_at(song.end) > _MOST_BARS:
        raise ImportFault("This tune lasts longer than twenty-four hours, or twenty thousand bars.")
    bars = sum(song.grid.number_at(voice.end) for voice in song.voices)
    if bars > _EMPTY_BARS + _BARS_A_NOTE * len(song.notes):
        raise ImportFault("This tune has a few notes in thousands of bars; its times are probably damaged.")
    return found


def read_text(text: str, form: Form | None = None) -> Imported:
    """The tune in a text: a sheet, a table or a list. Raises ImportFault where it is none of the form asked for."""
    readers = {Form.TABLE: table.read, Form.LIST: lists.read, Form.SHEET: _sheet}
    if form in readers:
        return readers[form](text)
    if _SHEET_LINE.search(text):
        return _sheet(text)
    if table.is_table(text):
        return table.read(text)
    if len(text) > _LONGEST and not _is_mostly_sheet(text):
        return lists.read(text)
    as_sheet = read_sheet(text)
    heard = all(note.number >= _LOWEST for note in as_sheet.song.notes)  # lower ones are surely lengths
    if as_sheet.song.notes and heard and not as_sheet.findings:
        return found_in_sheet(as_sheet, Form.SHEET)
    is_sheet = heard and len(as_sheet.song.notes) > len(as_sheet.findings)
    for doubtful in (False, True)[: 1 if is_sheet else 2]:
        with suppress(ImportFault):
            return lists.read(text, doubtful)
    return found_in_sheet(as_sheet, Form.SHEET)


def _is_mostly_sheet(text: str) -> bool:
    """Whether the beginning of a long text has more notes than findings, read as a sheet."""
    end = text.find("\n", _LONGEST // 2, _LONGEST)
    sample = read_sheet(text[: end if end >= 0 else _LONGEST])
    return len(sample.song.notes) > len(sample.findings)


def _sheet(text: str) -> Imported:
    return found_in_sheet(read_sheet(text), Form.SHEET)


def _by_suffix(path: Path | str) -> Form | None:
    """The form of a sheet's file; others are known by their content."""
    return Form.SHEET if SUFFIXES.get(Path(path).suffix.lower()) is Form.SHEET else None
