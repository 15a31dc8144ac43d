"""The pupil's program that is looked at: traced in a process of its own, and again as it is typed or understood."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ..faults import InputFault
from ..workers import Lost
from .newest_work import NewestWork

if TYPE_CHECKING:
    from ..display.program_view import ProgramView, Wanted
    from ..programs.corrections import Correction

__all__ = ["OpenedProgram"]


class OpenedProgram(QObject):
    """Keeps the program; its file is never written."""

    opened = pyqtSignal()
    """Another program is to be seen."""
    changed = pyqtSignal()
    """It is being traced, or was."""
    understood = pyqtSignal()
    """How the programs of a folder are understood was changed."""
    faulty = pyqtSignal(str)
    """A sentence about a failure."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.wanted: Wanted | None = None
        self.view: ProgramView | None = None
        self.copy: str | None = None
        """The text that is tried out in the place of the file's; None where nothing is."""
        self._work = NewestWork(_seen, self)
        self._work.done.connect(self._take)

    @property
    def is_tracing(self) -> bool:
        """True while it is being traced."""
        return self._work.is_busy

    @property
    def folder(self) -> Path | None:
        """The folder whose corrections hold for it; None for a program that is in none."""
        if self.wanted is None:
            return None
        source = self.wanted.source
        return source.path.parent if source.path is not None and source.data is None else source.beside

    def open(self, wanted: Wanted) -> None:
        """Look at a program."""
        self.wanted = wanted
        self.view = None
        self.copy = None
        self.trace()
        self.opened.emit()

    def try_out(self, text: str | None) -> None:
        """Trace another text in the place of the program's; None for its own again."""
        if text != self.copy:
            self.copy = text
            self.trace()

    def trace(self) -> None:
        """Trace it, or trace it again."""
        if self.wanted is None:
            return
        self._work.ask((self.wanted, self.copy))
        self.changed.emit()

    def stop(self) -> None:
        """Stop tracing."""
        self._work.stop()

    def _take(self, found: object) -> None:
        if isinstance(found, Lost):
            self.faulty.emit("Tracing this program took more than this computer has.")
        elif isinstance(found, str):
            self.faulty.emit(found)
        else:
            self.view = found  # type: ignore[assignment]
        self.changed.emit()

    def correct(self, name: str, correction: Correction) -> None:
        """Understand calls by a name otherwise, in all programs of the folder."""
        from ..programs.corrections import corrections_in, keep

        folder = self.folder
        if folder is None:
            self.faulty.emit(
                "This program is in no folder; save it first, and what is put right here is kept with it."
            )
            return
        try:
            keep(folder, corrections_in(folder).with_call(name, correction))
        except InputFault as fault:
            self.faulty.emit(str(fault))
            return
        self.trace()
        self.understood.emit()


def _seen(given: tuple[Wanted, str | None]) -> ProgramView | str:
    """Make the view in a process of its own; a sentence where it cannot be read."""
    from ..display.program_view import program_view

    wanted, copy = given
    try:
        return program_view(wanted if copy is None else replace(wanted, copy=copy))
    except InputFault as fault:
        return str(fault)
