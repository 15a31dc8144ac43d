"""What the desk remembers from one day to the next, in the user's configuration folder."""

from __future__ import annotations

from pathlib import Path

from platformdirs import user_config_path
from PyQt6.QtCore import QByteArray, QSettings

__all__ = ["Settings"]

_MOST_RECENT = 8


class Settings:
    """Named switches, a few numbers and the recent folders. What cannot be kept is simply not remembered."""

    def __init__(self) -> None:
        self._store = QSettings(str(user_config_path("chickadee") / "desk.ini"), QSettings.Format.IniFormat)

    def is_on(self, name: str, usual: bool) -> bool:
        """Whether a switch, by its action's name, is on."""
        return str(self._store.value(f"switches/{name}", usual)).lower() == "true"

    def set_on(self, name: str, on: bool) -> None:
        """Remember a switch."""
        self._store.setValue(f"switches/{name}", on)

    def words(self, name: str, usual: list[str]) -> list[str]:
        """A list of words by its name."""
        found = self._store.value(f"words/{name}", usual)
        return [found] if isinstance(found, str) else list(found or [])

    def set_words(self, name: str, values: list[str]) -> None:
        """Remember a list of words."""
        self._store.setValue(f"words/{name}", values)

    @property
    def geometry(self) -> QByteArray:
        """Where the window was and how large, as Qt writes it down; nothing the first time."""
        found = self._store.value("window")
        return found if isinstance(found, QByteArray) else QByteArray()

    @geometry.setter
    def geometry(self, value: QByteArray) -> None:
        self._store.setValue("window", value)

    @property
    def recent_folders(self) -> list[Path]:
        """The folders worked in, newest first, that are still there."""
        return [Path(name) for name in self.words("recent folders", []) if Path(name).is_dir()]

    def note_folder(self, folder: Path) -> None:
        """Remember a folder as the newest."""
        names = [str(folder), *(str(each) for each in self.recent_folders if each != folder)]
        self.set_words("recent folders", names[:_MOST_RECENT])
