"""Settings that the desk remembers from one day to the next, in the user's configuration folder."""

from __future__ import annotations

import json
import os
import re
import stat
import time
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from platformdirs import user_config_path
from PyQt6.QtCore import QByteArray, QSettings

from ..files import is_file, is_folder, own_file, own_folder

__all__ = ["Settings"]

_T = TypeVar("_T")
_MOST_RECENT = 8
_LARGEST = 1 << 20  # bytes of a settings file that is read
# Values that Qt unpacks, and that we never write: a length that lies in one takes all memory and ends the process.
_NEVER_WRITTEN = re.compile(rb"@(Variant|DateTime)\(")
_ESCAPED = re.compile(rb"\\(?:x([0-9a-fA-F]{1,8})|([0-7]{1,3}))")
_WITHOUT_MEANING = re.compile(rb'["\\]|\\?\r?\n')


class Settings:
    """Named switches, a few numbers and the recent folders. What cannot be kept is simply not remembered.

    A file that is no settings file is set aside under another name, :attr:`set_aside`, and all is as at first.
    """

    def __init__(self) -> None:
        file = user_config_path("chickadee") / "desk.ini"
        self.set_aside = _moved_away(file) if _is_odd(file) else None
        own_folder(file.parent)
        self._store = QSettings(str(file), QSettings.Format.IniFormat)
        if self._store.status() != QSettings.Status.NoError and is_file(file):
            self.set_aside = _moved_away(file)
            self._store = QSettings(str(file), QSettings.Format.IniFormat)
        own_file(file)

    def is_on(self, name: str, usual: bool) -> bool:
        """Return whether a switch, by its action's name, is on."""
        kept = str(self._value(f"switches/{name}", usual)).lower()
        return kept == "true" if kept in ("true", "false") else usual

    def set_on(self, name: str, on: bool) -> None:
        """Remember a switch."""
        self._store.setValue(f"switches/{name}", on)

    def words(self, name: str, usual: list[str]) -> list[str]:
        """A list of words by its name."""
        return self.read(name, usual, list)

    def read(self, name: str, usual: _T, parsed: Callable[[list[str]], _T]) -> _T:
        """Return what a list of words means; the usual value where there is none, or it cannot be ``parsed``."""
        found = self._value(f"words/{name}", None)
        try:
            words = json.loads(found) if isinstance(found, str) else found
        except (ValueError, RecursionError):
            return usual
        if not isinstance(words, list) or not all(isinstance(word, str) for word in words):
            return usual
        try:
            return parsed(words)
        except (TypeError, ValueError, LookupError, ArithmeticError):
            return usual

    def set_words(self, name: str, values: list[str]) -> None:
        """Remember a list of words. It is written as JSON: Qt would pack a list of one in a value that it unpacks."""
        self._store.setValue(f"words/{name}", json.dumps(values).replace("@", "\\u0040"))

    @property
    def geometry(self) -> QByteArray:
        """Where the window was and how large, as Qt writes it down; nothing the first time."""
        found = self._value("window", None)
        return found if isinstance(found, QByteArray) else QByteArray()

    @geometry.setter
    def geometry(self, value: QByteArray) -> None:
        self._store.setValue("window", value)

    @property
    def recent_folders(self) -> list[Path]:
        """The folders worked in, newest first, that are still there."""
        return [Path(name) for name in self.words("recent folders", [])[:_MOST_RECENT] if is_folder(name)]

    def note_folder(self, folder: Path) -> None:
        """Remember a folder as the newest."""
        names = [str(folder), *(str(each) for each in self.recent_folders if each != folder)]
        self.set_words("recent folders", names[:_MOST_RECENT])

    def _value(self, name: str, usual: object) -> object:
        try:
            return self._store.value(name, usual)
        except (TypeError, ValueError, OverflowError):  # a value of a kind that Python does not have
            return usual


def _is_odd(file: Path) -> bool:
    """Return whether there is something in the file's place that Qt should not be given to read."""
    try:
        found = os.stat(file)  # noqa: PTH116 - a link is followed
    except OSError:
        return False
    if not stat.S_ISREG(found.st_mode) or found.st_size > _LARGEST:
        return True
    try:
        content = file.read_bytes()
    except OSError:
        return False
    plain = _WITHOUT_MEANING.sub(b"", _ESCAPED.sub(_unescaped, content))
    return _NEVER_WRITTEN.search(plain) is not None


def _unescaped(escaped: re.Match[bytes]) -> bytes:
    code = int(escaped[1], 16) if escaped[1] is not None else int(escaped[2], 8)
    return bytes([code]) if 0 < code < 128 else b"?"


def _moved_away(file: Path) -> Path | None:
    """Another name for what stands in a file's place; None where it could not be given one."""
    goal = file.with_name(f"{file.name}.unreadable-{time.time_ns():x}")
    try:
        file.rename(goal)
    except OSError:
        return None
    return goal
