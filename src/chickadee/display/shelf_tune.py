"""The facts about a tune's file on the shelf."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from ..checks import checked_reading, profile_for
from ..files import FileFault, is_small, read_text
from ..formats.forms import form_of, is_a_sheet
from ..formats.imported import Form, Imported
from ..sheet import Reading, Severity
from . import words
from .contour import contour_of

__all__ = ["Tune", "is_read_at_once", "shelf_tune"]

_FORMS = {Form.MIDI: "MIDI", Form.MUSICXML: "score", Form.TABLE: "table", Form.LIST: "list", Form.PROGRAM: "program"}
_LARGE_SHEET = 200_000  # bytes


@dataclass(frozen=True, slots=True)
class Tune:
    """The facts about a tune on the shelf."""

    path: Path
    title: str
    length: str = ""
    errors: int = 0
    findings: int = 0
    contour: tuple[tuple[float, float, float], ...] = ()
    """(start, end, height) of the first voice's notes, each from 0 to 1."""
    form: str = ""
    """The form of the file, where it is no sheet."""

    @classmethod
    def of(cls, path: Path, reading: Reading) -> Tune:
        """The shelf's view of a reading."""
        song = reading.song
        bars = song.last_bar if song.end else 0
        errors = sum(finding.severity is Severity.ERROR for finding in reading.findings)
        return cls(
            path,
            song.title or path.stem,
            f"{words.counted(bars, 'bar')} · {words.clock(song.seconds)}",
            errors,
            len(reading.findings),
            contour_of(song, 0),
        )

    @classmethod
    def of_form(cls, path: Path, found: Imported) -> Tune:
        """The shelf's view of a file of another form."""
        song = found.song
        form = _FORMS.get(found.form, "")
        length = f"{words.counted(song.last_bar, 'bar')} · {words.clock(song.seconds)}"
        return cls(path, song.title or path.stem, length, contour=contour_of(song, 0), form=form)


def is_read_at_once(path: Path) -> bool:
    """Return whether a file is read in a moment: a sheet of usual size, or a small file of another form.

    A program never is: however small, it may go on for as long as it is traced.
    """
    form = form_of(path)
    if form is not None and form.reads_as is Form.PROGRAM:
        return False
    try:
        return path.stat().st_size <= _LARGE_SHEET if is_a_sheet(path) else is_small(path)
    except OSError:
        return True  # which is refused at once


def shelf_tune(_: None, path: Path) -> Tune:
    """Read a file for the shelf; what cannot be read says why in place of its length."""
    try:
        if is_a_sheet(path):
            return Tune.of(path, checked_reading(read_text(path), profile_for(path)))
        from ..incoming import read

        return Tune.of_form(path, read(path))
    except FileFault as fault:
        return Tune(path, path.stem, fault.reason)
