"""The forms of files: how each is called, told by its suffix, read and written; a new form is one more line."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from ..song import Song
from .imported import Form

__all__ = ["FORMS", "SOUND_SUFFIXES", "TUNE_SUFFIXES", "WRITTEN", "FileForm", "form_of", "is_a_sheet"]


@dataclass(frozen=True, slots=True)
class FileForm:
    """A form of file."""

    name: str
    suffixes: tuple[str, ...]
    """In lower case; files that are written have the first."""
    reads_as: Form | None = None
    """How such a file is read as a tune; None for sound, whose notes are heard instead, and for pages."""
    used_for: str = ""
    """The words for its use, in the list of exports; empty for one that is not exported."""
    write: Callable[[Song], bytes] | None = None
    """Gives the bytes of a song's file; None for sound, which is rendered block by block, and for pages."""
    is_on_shelf: bool = False
    """True if files of this form are listed beside sheets."""
    is_page: bool = False
    """True for a page that plays, which is made of the tune, its pictures and its sound."""

    @property
    def is_sound(self) -> bool:
        """True for a recording or rendered sound."""
        return self.reads_as is None and not self.is_page

    @property
    def is_rendered(self) -> bool:
        """True if writing it takes long enough for a worker: it holds sound."""
        return self.is_sound or self.is_page

    @property
    def suffix(self) -> str:
        """The suffix of files that are written."""
        return self.suffixes[0]


# writers are loaded with the first file


def _write_midi(song: Song) -> bytes:
    from . import smf

    return smf.write(song)


def _write_score(song: Song) -> bytes:
    from . import musicxml

    return musicxml.write(song)


def _write_compressed_score(song: Song) -> bytes:
    from . import musicxml

    return musicxml.write_compressed(song)


def _write_table(song: Song) -> bytes:
    from . import table

    return table.write(song).encode("utf-8")


FORMS = (
    FileForm("Tune", (".chick",), Form.SHEET, is_on_shelf=True),
    FileForm("MIDI file", (".mid", ".midi", ".kar", ".rmi"), Form.MIDI,
             "for other music programs", _write_midi, is_on_shelf=True),
    FileForm("MusicXML score", (".musicxml", ".xml"), Form.MUSICXML,
             "for notation programs", _write_score, is_on_shelf=True),
    FileForm("Compressed score", (".mxl",), Form.MUSICXML,
             "the same, small", _write_compressed_score, is_on_shelf=True),
    FileForm("Table", (".csv", ".tsv"), Form.TABLE, "for a spreadsheet", _write_table, is_on_shelf=True),
    FileForm("Spreadsheet", (".xlsx", ".ods"), Form.TABLE, is_on_shelf=True),
    FileForm("Text", (".txt",), Form.LIST),
    FileForm("Program", (".py", ".js", ".mjs", ".c", ".h", ".cpp", ".cc", ".ino", ".java", ".steps"), Form.PROGRAM,
             is_on_shelf=True),
    FileForm("Data", (".json",), Form.LIST),
    FileForm("Page that plays", (".html",), used_for="for any browser, with its sound", is_page=True),
    FileForm("WAV sound", (".wav",), used_for="exact, read everywhere"),
    FileForm("FLAC sound", (".flac",), used_for="exact, half as large"),
    FileForm("OGG sound", (".ogg",), used_for="small"),
    FileForm("MP3 sound", (".mp3",), used_for="small, read everywhere"),
    FileForm("Sound of a telephone", (".m4a", ".aac", ".3gp", ".amr", ".opus")),
    FileForm("Video, for its sound", (".mp4", ".webm", ".mkv", ".mov")),
)  # fmt: skip
"""Every form, in the order in which exports are offered."""

WRITTEN = {form.suffix: form for form in FORMS if form.used_for}
"""The forms that a tune is exported as, by suffix."""
TUNE_SUFFIXES = tuple(suffix for form in FORMS if form.reads_as is not None for suffix in form.suffixes)
SOUND_SUFFIXES = tuple(suffix for form in FORMS if form.is_sound for suffix in form.suffixes)

_BY_SUFFIX = {suffix: form for form in FORMS for suffix in form.suffixes}


def form_of(path: Path | str) -> FileForm | None:
    """The form that a file's suffix names, or None.

    >>> form_of("Round.MID").name
    'MIDI file'
    """
    return _BY_SUFFIX.get(Path(path).suffix.lower())


def is_a_sheet(path: Path) -> bool:
    """Return whether a file's name says that it is a sheet."""
    form = form_of(path)
    return form is not None and form.reads_as is Form.SHEET
