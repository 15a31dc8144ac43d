"""The choice of how the tune is written as a program, for all panels that show one."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from .settings import Settings

__all__ = ["ProgramChoice"]

_LANGUAGE = "programs.language"
_LEVEL = "programs.level"


class ProgramChoice(QObject):
    """Language and level by their names, remembered, and the voice."""

    changed = pyqtSignal()
    page_wanted = pyqtSignal()
    """The program is to be seen as a page."""

    def __init__(self, settings: Settings, parent: QObject) -> None:
        super().__init__(parent)
        self._settings = settings
        self.language = next(iter(settings.words(_LANGUAGE, [])), "steps")
        self.level = next(iter(settings.words(_LEVEL, [])), "line")
        self.voice = ""
        """The name of the voice; empty for all, merged in time."""
        self.page = False
        """True until a page that is wanted is shown."""

    def choose(self, language: str | None = None, level: str | None = None, voice: str | None = None) -> None:
        """Choose some of them."""
        chosen = (
            self.language if language is None else language,
            self.level if level is None else level,
            self.voice if voice is None else voice,
        )
        if chosen != (self.language, self.level, self.voice):
            self.language, self.level, self.voice = chosen
            self._settings.set_words(_LANGUAGE, [self.language])
            self._settings.set_words(_LEVEL, [self.level])
            self.changed.emit()

    def hand_out(self) -> None:
        """Ask for the program as a page."""
        self.page = True
        self.page_wanted.emit()
