"""The pupil's program that is looked at: traced in a process of its own, and again as it is understood otherwise."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ..faults import InputFault
from ..workers import Lost, Work
from .waiting import WorkThread

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
        self._tracing: WorkThread | None = None

    @property
    def is_tracing(self) -> bool:
        """True while it is being traced."""
        return self._tracing is not None

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
        self.trace()
        self.opened.emit()

    def trace(self) -> None:
        """Trace it, or trace it again."""
        self.stop()
        if self.wanted is None:
            return
        self._tracing = WorkThread(Work(_seen, None, [self.wanted], count=1), self)
        self._tracing.done.connect(lambda _, found: self._take(found))
        self._tracing.start()
        self.changed.emit()

    def stop(self) -> None:
        """Stop tracing, or let go of the thread that has done it."""
        if self._tracing is not None:
            self._tracing.stop()
            self._tracing.deleteLater()
            self._tracing = None

    def _take(self, found: object) -> None:
        self.stop()
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


def _seen(shared: None, wanted: Wanted) -> ProgramView | str:
    """Make the view in a process of its own; a sentence where it cannot be read."""
    from ..display.program_view import program_view

    try:
        return program_view(wanted)
    except InputFault as fault:
        return str(fault)
