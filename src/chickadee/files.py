"""Files read and written so that a fault is one sentence and an old file is never half replaced."""

from __future__ import annotations

import errno
import os
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

__all__ = ["FileFault", "read_text", "replacing", "write_text"]

LARGEST_SHEET = 16 * 1024 * 1024
"""Bytes in the largest file that is read as a sheet."""


class FileFault(Exception):  # noqa: N818 - a sentence for the user
    """A file could not be read or written.

    >>> str(FileFault("tune.chick", "there is no such file"))
    'tune.chick: there is no such file.'
    """

    def __init__(self, path: Path | str, reason: str) -> None:
        super().__init__(f"{path}: {reason}.")
        self.path = Path(path)
        self.reason = reason


def read_text(path: Path | str) -> str:
    """The text of a sheet, UTF-8 with or without a byte order mark and with any line ends.

    Raises FileFault for what is missing, unreadable, a folder, larger than LARGEST_SHEET or not text.
    """
    path = Path(path)
    try:
        if path.is_dir():
            raise FileFault(path, "this is a folder; choose a tune inside it")
        with path.open("rb") as file:
            data = file.read(LARGEST_SHEET + 1)
    except OSError as error:
        raise FileFault(path, _reason(error)) from None
    return decode(data, path)


def decode(data: bytes, path: Path | str) -> str:
    """The text of a sheet's bytes; ``path`` is named in the FileFault raised when they are not a sheet."""
    if len(data) > LARGEST_SHEET:
        raise FileFault(path, f"this file is too large for a tune; the most is {LARGEST_SHEET >> 20} MB")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise FileFault(path, f"this is not a text file in UTF-8 (see line {line})") from None
    if "\0" in text:
        raise FileFault(path, "this is not a text file, so it cannot be a tune")
    return text.replace("\r\n", "\n").replace("\r", "\n")


def write_text(path: Path | str, text: str) -> None:
    """Replace a file's text in one step. Raises FileFault, and then the old file is whole."""
    with replacing(path) as new:
        new.write_bytes(text.encode("utf-8", "surrogatepass"))


@contextmanager
def replacing(path: Path | str) -> Iterator[Path]:
    """A new file to write, beside ``path``, that takes its place when the block ends well.

    When the block raises, or the disk is full, the new file is taken away and the old one is as it was.
    A link is followed, so that its target is replaced. Raises FileFault for any fault of the system's.
    """
    import tempfile  # here, since it brings much that a window about to open need not wait for

    goal = Path(path)
    target = Path(os.path.realpath(goal))
    new: Path | None = None
    try:
        if target.is_dir():
            raise FileFault(goal, "this is a folder; give a file name inside it")
        if target.exists() and not os.access(target, os.W_OK):
            raise FileFault(goal, "this file may not be changed; save under another name")
        handle, name = tempfile.mkstemp(prefix=f".{target.stem[:40]}-", suffix=target.suffix, dir=target.parent)
        os.close(handle)
        new = Path(name)
        yield new
        _keep_mode(target, new)
        _to_disk(new)
        new.replace(target)
    except OSError as error:
        raise FileFault(goal, _reason(error)) from None
    finally:
        if new is not None:
            with suppress(OSError):
                new.unlink(missing_ok=True)


def _keep_mode(old: Path, new: Path) -> None:
    if old.exists():
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
}


def _reason(error: OSError) -> str:
    return _REASONS.get(error.errno or 0, (error.strerror or "the system refused").lower())
