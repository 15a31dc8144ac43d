"""Files read and written so that a fault is one sentence and an old file is never half replaced."""

from __future__ import annotations

import errno
import fcntl
import os
import re
import stat
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from itertools import count
from pathlib import Path
from typing import BinaryIO

from .encodings import NotText, decoded
from .faults import InputFault

__all__ = [
    "LARGEST_SHEET",
    "SMALL",
    "FileFault",
    "as_reason",
    "decode",
    "fault_of",
    "free_path",
    "is_file",
    "is_folder",
    "is_there",
    "own_file",
    "own_folder",
    "printable",
    "read_bytes",
    "read_stream",
    "read_text",
    "regular_files",
    "replacing",
    "storable",
    "tunes_in",
    "visible",
    "write_text",
]

LARGEST_SHEET = 20 * 1024 * 1024
"""Bytes in the largest file that is read as a sheet."""
SMALL = 16_000
"""Bytes or characters that are read in a moment, however odd they are."""

_HALF = ".chickadee-half-"  # the beginning of the name of a file that is being written
_LINE_ENDS = ("\r\n", "\r", "\u2028", "\u2029", "\ufdd0", "\ufdd1")  # the last two are line ends to Qt's editors
_HALF_PAIR = re.compile("[\ud800-\udfff]")
_UNKNOWN = "\ufffd"


class FileFault(InputFault):
    """A file could not be read or written.

    >>> str(FileFault("tune.chick", "there is no such file"))
    'tune.chick: there is no such file.'
    """

    def __init__(self, path: Path | str, reason: str) -> None:
        super().__init__(f"{printable(str(path))}: {reason}.")
        self.path = Path(path)
        self.reason = reason


def fault_of(error: OSError, path: Path | str) -> FileFault:
    """A fault of the system's as a sentence about a file."""
    return FileFault(path, _reason(error))


def as_reason(sentence: str) -> str:
    """A sentence as the reason that follows a file's name in a FileFault.

    >>> as_reason("This list is too long.")
    'this list is too long'
    """
    return sentence[:1].lower() + sentence[1:].rstrip(".")


def is_there(path: Path | str) -> bool:
    """Return whether there is something at a path; False too where the system does not let us look."""
    return os.path.exists(path)  # noqa: PTH110 - Path.exists raises where a folder may not be entered


def is_folder(path: Path | str) -> bool:
    """Return whether a path is a folder; False too where the system does not let us look."""
    return os.path.isdir(path)  # noqa: PTH112 - as above


def is_file(path: Path | str) -> bool:
    """Return whether a path is a regular file, or a link to one; False too where the system does not let us look."""
    return os.path.isfile(path)  # noqa: PTH113 - as above


def tunes_in(folder: Path | str, suffixes: tuple[str, ...] = (".chick",)) -> list[Path]:
    """The tunes of a folder in order of name: regular files, or links to them, that are not hidden.

    Empty where the folder cannot be read.
    """
    return [path for path in regular_files(folder) if path.name.endswith(suffixes)]


def is_small(source: Path | str) -> bool:
    """Return whether a file or text is read in a moment, whatever it holds: it is short, and not compressed."""
    if isinstance(source, str):
        return len(source) <= SMALL
    try:
        head = read_bytes(source, SMALL)
    except FileFault:
        return True  # which is refused at once
    return len(head) <= SMALL and not head.startswith(b"PK")


def regular_files(folder: Path | str) -> list[Path]:
    """The regular files of a folder, and links to them, in order of name, without the hidden ones.

    Empty where the folder cannot be read.
    """
    found = []
    with suppress(OSError, ValueError), os.scandir(folder) as entries:
        for entry in entries:
            if not entry.name.startswith(".") and is_file(entry.path):
                found.append(Path(folder) / entry.name)
    return sorted(found)


def read_bytes(path: Path | str, most: int, pipes: bool = False) -> bytes:
    """The content of a file, and at most one byte more than ``most``.

    Only regular files are read, unless ``pipes`` are wanted too: a pipe that nobody writes to would never end.
    Raises FileFault.
    """
    path = Path(path)
    try:
        if is_folder(path):
            raise FileFault(path, "this is a folder; choose a tune inside it")
        handle = os.open(path, os.O_RDONLY | os.O_CLOEXEC | (0 if pipes else os.O_NONBLOCK))
        with os.fdopen(handle, "rb") as file:
            if not pipes and not stat.S_ISREG(os.fstat(handle).st_mode):
                raise FileFault(path, "this is a pipe or a device and not a file, so it is not read")
            return file.read(most + 1)
    except (OSError, ValueError) as error:
        raise FileFault(path, _reason(error)) from None


def read_stream(stream: BinaryIO | None, name: str) -> bytes:
    """All of a stream, and at most one byte more than LARGEST_SHEET. Raises FileFault, for None too."""
    if stream is None:
        raise FileFault(name, "standard input is closed")
    try:
        return stream.read(LARGEST_SHEET + 1)
    except (OSError, ValueError) as error:
        raise FileFault(name, _reason(error)) from None


def read_text(path: Path | str, pipes: bool = False) -> str:
    """The text of a sheet in a usual encoding, with or without a byte order mark and with any line ends.

    Raises FileFault for what is missing, unreadable, a folder, larger than LARGEST_SHEET or not text, and as
    :func:`read_bytes` for what is not a regular file.
    """
    return decode(read_bytes(path, LARGEST_SHEET, pipes), path)


def decode(data: bytes, path: Path | str) -> str:
    """The text of bytes in a usual encoding; ``path`` is named in the FileFault raised when they are none."""
    if len(data) > LARGEST_SHEET:
        raise FileFault(path, f"this file is too large for a tune; the most is {LARGEST_SHEET >> 20} MB")
    try:
        return storable(decoded(data))
    except NotText:
        raise FileFault(path, "this is not a text file, so it cannot be a tune") from None


def storable(text: str) -> str:
    """A text as a tune's file can hold it and give it back: one kind of line end, no NUL, no half of a pair.

    >>> storable("C4\\r\\nD4\\0")
    'C4\\nD4\ufffd'
    """
    for end in _LINE_ENDS:
        if end in text:
            text = text.replace(end, "\n")
    if "\0" in text:
        text = text.replace("\0", _UNKNOWN)
    return text if text.isascii() else _HALF_PAIR.sub(_UNKNOWN, text)


def own_folder(folder: Path) -> None:
    """Make a folder that the user alone may look into; one that is there is made so. What cannot be is left."""
    with suppress(OSError):
        folder.mkdir(parents=True, exist_ok=True)
        folder.chmod(0o700)


def own_file(file: Path) -> None:
    """Make a file that the user alone may read; one that is there is made so. What cannot be is left."""
    with suppress(OSError):
        os.close(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_CLOEXEC | os.O_NONBLOCK, 0o600))
        file.chmod(0o600)


def free_path(folder: Path, stem: str, suffix: str) -> Path:
    """A file that is not there yet: the stem with its suffix, or with a number from 2 on between them."""
    names = (f"{stem}{f'-{number}' if number > 1 else ''}{suffix}" for number in count(1))
    return next(folder / name for name in names if not is_there(folder / name))


def write_text(path: Path | str, text: str) -> None:
    """Replace a file's text in one step. Raises FileFault, and then the old file is whole."""
    with replacing(path) as new:
        new.write_bytes(storable(text).encode("utf-8"))


@contextmanager
def replacing(path: Path | str) -> Iterator[Path]:
    """A new file to write, beside ``path``, that takes its place when the block ends well.

    When the block raises, or the disk is full, the new file is taken away and the old one is as it was. Once the
    block is left, the disk has both the file and its name. A link is followed, so that its target is replaced.
    Raises FileFault for any fault of the system's, and for what is there and is no regular file.
    """
    goal = Path(path)
    try:
        target = Path(os.path.realpath(goal))
        _check_replaceable(goal, target)
        new = target.parent / f"{_HALF}{os.urandom(6).hex()}-{_short(target.stem)}{target.suffix[:20]}"
    except (OSError, ValueError) as error:
        raise FileFault(goal, _reason(error)) from None
    _sweep(target.parent)
    lock = -1
    try:
        lock = os.open(new, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o600)
        fcntl.flock(lock, fcntl.LOCK_EX)  # others that sweep the folder see that it is being written
        yield new
        _keep_mode(target, new)
        _to_disk(new)
        new.replace(target)
        with suppress(OSError):  # the file is in its place; some file systems cannot sync a folder
            _to_disk(target.parent)
    except OSError as error:
        raise FileFault(goal, _reason(error)) from None
    finally:
        with suppress(OSError):
            new.unlink(missing_ok=True)
        if lock >= 0:
            os.close(lock)


def _sweep(folder: Path) -> None:
    """Take away the files in a folder that processes of ours were writing when they were killed."""
    with suppress(OSError), os.scandir(folder) as entries:
        for entry in entries:
            if entry.name.startswith(_HALF) and entry.is_file(follow_symlinks=False):
                _take_abandoned(entry.path)


def _take_abandoned(half: str) -> None:
    """Take a half-written file away unless a process still writes it."""
    with suppress(OSError):
        handle = os.open(half, os.O_RDONLY | os.O_CLOEXEC | os.O_NOFOLLOW | os.O_NONBLOCK)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
            Path(half).unlink()
        finally:
            os.close(handle)


def _check_replaceable(goal: Path, target: Path) -> None:
    """Raise FileFault for what may not be replaced: a folder, a device, a pipe, a file that is read-only."""
    try:
        mode = target.stat().st_mode
    except FileNotFoundError:
        return
    if stat.S_ISDIR(mode):
        raise FileFault(goal, "this is a folder; give a file name inside it")
    if not stat.S_ISREG(mode):
        raise FileFault(goal, "this is a device or a pipe and not a file, so it is not replaced")
    if not os.access(target, os.W_OK):
        raise FileFault(goal, "this file may not be changed; save under another name")


def _short(stem: str) -> str:
    """The beginning of a name, so that one made of it is not too long for the system."""
    return os.fsencode(stem)[:40].decode("utf-8", "ignore")


def _keep_mode(old: Path, new: Path) -> None:
    if is_there(old):
        new.chmod(old.stat().st_mode & 0o7777)
    else:
        mask = os.umask(0)
        os.umask(mask)
        new.chmod(0o666 & ~mask)


def _to_disk(path: Path) -> None:
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def printable(text: str) -> str:
    """Return a text as one line that can do nothing to a terminal: control characters are escaped.

    >>> printable("gull\\npoint.chick")
    'gull\\\\npoint.chick'
    """
    if text.isprintable():
        return text
    return "".join(c if c.isprintable() else c.encode("unicode_escape").decode("ascii") for c in text)


def visible(text: str) -> str:
    """Return a text without control characters, which no page and no XML can hold.

    >>> visible("Gull\\x1b Point")
    'Gull\ufffd Point'
    """
    return text if text.isprintable() else "".join(c if c.isprintable() else _UNKNOWN for c in text)


_REASONS = {
    errno.ENOENT: "there is no such file or folder",
    errno.EACCES: "permission is missing for this file or its folder",
    errno.EPERM: "permission is missing for this file or its folder",
    errno.ENOSPC: "the disk is full",
    errno.EDQUOT: "your share of the disk is full",
    errno.EFBIG: "the file would be larger than the system allows",
    errno.EROFS: "this folder is read-only",
    errno.EISDIR: "this is a folder",
    errno.ENOTDIR: "part of the path is not a folder",
    errno.ENAMETOOLONG: "the name is too long",
    errno.EBADF: "it is closed",
    errno.EIO: "the device failed",
    errno.ELOOP: "its links form a loop",
    errno.ENXIO: "the other end of this pipe is closed",
}


def _reason(error: OSError | ValueError) -> str:
    if not isinstance(error, OSError):
        return "this cannot be the name of a file"
    return _REASONS.get(error.errno or 0, (error.strerror or "the system refused").lower())
