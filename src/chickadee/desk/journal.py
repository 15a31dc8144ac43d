"""The journal of unsaved work, so that a crash or a power cut loses nothing. No widgets.

Each desk keeps one file in the user's state folder while its tune has changes that no file holds: the whole sheet
as it is on the screen, replaced in one step. A file whose desk is gone is what was left behind.
"""

from __future__ import annotations

import fcntl
import json
import math
import os
import time
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import asdict, dataclass
from datetime import datetime
from operator import attrgetter
from pathlib import Path
from threading import Condition, Thread
from typing import Any

from platformdirs import user_state_path

from ..files import FileFault, own_file, own_folder, read_bytes, regular_files, replacing, storable

__all__ = ["Journal", "LeftBehind", "date_in_words", "earlier_work", "forget", "left_behind", "put_by", "set_aside"]

_YEAR = 366 * 86_400  # seconds
_LEAST_KEPT = 50  # pieces of earlier work that are kept however old they are
_LARGEST = 64 << 20  # bytes of a journal that is read
_MOST_READ = 50  # journals that are looked into, the newest ones
_LATEST = 4e9  # seconds since 1970 that are shown as a date, in the year 2096
_EARLIER = "earlier"  # the folder of what was put by


@dataclass(frozen=True, slots=True)
class LeftBehind:
    """A tune that a desk did not get to save."""

    path: str | None
    """The tune's file; None for one that had none yet."""
    text: str
    """The sheet as it was on the screen."""
    time: float
    """When it was written down, in seconds since 1970."""

    @property
    def name(self) -> str:
        """The name of the tune in the window."""
        return Path(self.path).name if self.path else "a new tune"

    @property
    def date(self) -> str:
        """When it was written down, as people write it; the clock may have been wrong then."""
        return date_in_words(self.time)


class Journal:
    """Writes down what it is given, in a thread of its own; the newest is what counts.

    A lock on a second file beside it tells other desks that this one is alive.
    """

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder or journal_folder()
        self._changed = Condition()
        self._next: LeftBehind | None = None
        self._due = self._ended = self._busy = False
        self.fault = ""
        """Why the last one could not be written down; empty where it was."""
        own_folder(self._folder)
        stem = f"{os.getpid()}-{time.time_ns():x}"
        self._file = self._folder / f"{stem}.json"
        self._lock_file = self._folder / f"{stem}.lock"
        self._new_file = self._folder / f"{stem}.new"
        self._lock = _locked(self._lock_file)
        self._thread = Thread(target=self._work, daemon=True)
        self._thread.start()

    def keep(self, text: str, path: Path | None) -> None:
        """Write a sheet down soon."""
        self._ask(LeftBehind(str(path) if path else None, text, time.time()))

    def forget(self) -> None:
        """Nothing is unsaved any more."""
        self._ask(None)

    @property
    def working(self) -> bool:
        """True if something that was asked is not done yet."""
        return self._due or self._busy

    def wait(self) -> None:
        """Wait until all that was asked is done."""
        with self._changed:
            self._changed.wait_for(lambda: not self.working, 5)

    def close(self, forget: bool = True) -> None:
        """End, and take the files away unless what they hold is still wanted."""
        if forget:
            self.forget()
        self.wait()
        with self._changed:
            self._ended = True
            self._changed.notify_all()
        self._thread.join(5)
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None
        with suppress(OSError):
            self._lock_file.unlink()

    def _ask(self, what: LeftBehind | None) -> None:
        with self._changed:
            if not self._ended:
                self._next = what
                self._due = True
                self._changed.notify_all()

    def _work(self) -> None:
        while True:
            with self._changed:
                self._changed.wait_for(lambda: self._due or self._ended)
                if not self._due:
                    return
                what = self._next
                self._due = False
                self._busy = True
            try:
                if what is None:
                    forget(self._file)
                else:
                    self._write(json.dumps(asdict(what)))
                self.fault = ""
            except OSError as error:
                self.fault = f"{self._file}: {error.strerror or error}."
            with self._changed:
                self._busy = False
                self._changed.notify_all()

    def _write(self, text: str) -> None:
        """Written at once, so that it outlives this process; in its place once the disk has it, so that there is
        always a whole one, even where the plug is pulled."""
        handle = os.open(self._new_file, os.O_WRONLY | os.O_CREAT | os.O_TRUNC | os.O_CLOEXEC, 0o600)
        with os.fdopen(handle, "w", encoding="utf-8") as file:
            file.write(text)
            file.flush()
            os.fsync(file.fileno())
        self._new_file.replace(self._file)


def date_in_words(seconds: float) -> str:
    """A time in seconds since 1970 as people write it; times that no calendar has are the nearest that it has."""
    return datetime.fromtimestamp(min(_LATEST, max(0.0, seconds))).strftime("%d %B %Y, %H:%M")


def journal_folder() -> Path:
    """Where journals are kept: the user's state folder."""
    return user_state_path("chickadee") / "journal"


def left_behind(folder: Path | None = None) -> list[tuple[Path, LeftBehind]]:
    """Return the work of desks that are gone, newest first, each with its journal, however old it is."""
    found = [
        (file, newest) for file in _abandoned(folder or journal_folder()) if (newest := _newest(file)) is not None
    ]
    return sorted(found, key=lambda each: -each[1].time)


def put_by(file: Path) -> None:
    """Keep what a journal holds as earlier work: it was offered, and is not to be offered again."""
    what = _newest(file)
    if what is None:
        return
    folder = file.parent / _EARLIER
    own_folder(folder)
    own_file(folder / file.name)
    try:
        with replacing(folder / file.name) as new:
            new.write_text(json.dumps(asdict(what)), "utf-8")
    except FileFault:
        return  # it is offered again
    forget(file)
    _forget_old(folder)


def earlier_work(folder: Path | None = None) -> list[tuple[Path, LeftBehind]]:
    """Return work that was offered and put by, newest first, each with its journal."""
    files = regular_files((folder or journal_folder()) / _EARLIER)
    found = [(file, what) for file in files if (what := _read(file)) is not None]
    return sorted(found, key=lambda each: -each[1].time)


def _forget_old(folder: Path) -> None:
    """Take away what was put by more than a year ago, but for some of the newest: the clock may be wrong today."""
    with suppress(OSError):
        files = sorted(regular_files(folder), key=lambda file: -file.stat().st_mtime)
        for file in files[_LEAST_KEPT:]:
            if time.time() - file.stat().st_mtime > _YEAR:
                forget(file)


def set_aside(folder: Path | None = None) -> list[Path]:
    """Rename the journals of desks that are gone that cannot be read, so that they are kept and no longer met.

    Their new names, those that there are.
    """
    kept = []
    for file in _abandoned(folder or journal_folder()):
        if _newest(file) is None:
            for each in (file, file.with_suffix(".new")):
                goal = each.with_name(f"{each.name}.unreadable")
                with suppress(OSError):
                    each.rename(goal)
                    kept.append(goal)
    return kept


def forget(file: Path) -> None:
    """Take a journal away."""
    for each in (file, file.with_suffix(".new")):
        with suppress(OSError):
            each.unlink(missing_ok=True)


def _abandoned(folder: Path) -> Iterator[Path]:
    """The journals whose desks are gone, of the newest."""
    when: dict[str, float] = {}
    with suppress(OSError):
        for file in folder.iterdir():
            if file.suffix in (".json", ".new"):
                with suppress(OSError):
                    when[file.stem] = max(when.get(file.stem, 0.0), file.lstat().st_mtime)
    for stem in sorted(when, key=lambda stem: -when[stem])[:_MOST_READ]:
        file = folder / f"{stem}.json"
        if not _is_alive(file.with_suffix(".lock")):
            yield file


def _newest(file: Path) -> LeftBehind | None:
    versions = [what for what in (_read(file), _read(file.with_suffix(".new"))) if what is not None]
    return max(versions, key=attrgetter("time"), default=None)


def _read(file: Path) -> LeftBehind | None:
    """Read a journal; None for anything that no desk has written."""
    try:
        data = read_bytes(file, _LARGEST)
        found: Any = json.loads(data) if len(data) <= _LARGEST else None
        path = found["path"]
        text = found["text"]
        when = found["time"]
    except (FileFault, ValueError, TypeError, KeyError, RecursionError):
        return None
    named = path is None or (isinstance(path, str) and path != "" and "\0" not in path)
    dated = isinstance(when, int | float) and math.isfinite(when)
    if not (named and dated and isinstance(text, str)):
        return None
    return LeftBehind(path, storable(text), float(when))


def _locked(file: Path) -> int | None:
    """Lock a file for as long as this process lives. None where the folder cannot be written."""
    try:
        lock = os.open(file, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return None
    return lock


def _is_alive(lock_file: Path) -> bool:
    try:
        lock = os.open(lock_file, os.O_RDWR | os.O_CLOEXEC)
    except OSError:
        return False
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(lock)
    with suppress(OSError):
        lock_file.unlink(missing_ok=True)
    return False
