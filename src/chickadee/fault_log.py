"""The log of faults of ours: when, which version, and from where in the program, but nothing of any tune."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from .faults import failure_of
from .files import own_file, own_folder
from .version import VERSION

if TYPE_CHECKING:
    import logging

__all__ = ["log_file", "logged", "report"]

# What is needed once a fault comes is imported then: starting does not wait for it.

_MOST_BYTES = 200_000
_OLD_LOGS = 2
_REPORTED = 8_000  # characters of the log in a report


def log_file() -> Path:
    """The log, in the user's state folder."""
    from platformdirs import user_state_path

    return user_state_path("chickadee") / "chickadee.log"


def logged(fault: BaseException) -> str:
    """Write down where a fault of ours came from, and name it as :func:`~chickadee.faults.failure_of` does.

    What cannot be written down is left. The fault's own message is not written: it may quote a tune.
    """
    try:
        with _open_log() as log:
            log.error("Chickadee %s\n%s", VERSION, "\n".join(_came_from(fault)))
    except (OSError, RuntimeError):  # RuntimeError: the system knows no home folder
        pass
    return failure_of(fault)


@contextmanager
def _open_log() -> Iterator[logging.Logger]:
    """The log, open for as long as it is written to: several processes share it. Raises OSError, RuntimeError."""
    import logging
    from logging.handlers import RotatingFileHandler

    path = log_file()
    own_folder(path.parent)
    own_file(path)
    handler = RotatingFileHandler(path, maxBytes=_MOST_BYTES, backupCount=_OLD_LOGS, encoding="utf-8")
    handler.setFormatter(logging.Formatter("%(asctime)s %(message)s"))
    log = logging.getLogger("chickadee.faults")
    log.propagate = False
    log.addHandler(handler)
    try:
        yield log
    finally:
        log.removeHandler(handler)
        handler.close()


def _came_from(fault: BaseException) -> list[str]:
    """The lines of code that a fault came through, and its kind; those of its cause first."""
    from traceback import extract_tb

    before = fault.__cause__ or (None if fault.__suppress_context__ else fault.__context__)
    lines = [*_came_from(before), "and then"] if before is not None else []
    lines += [f"  {each.filename}:{each.lineno} in {each.name}" for each in extract_tb(fault.__traceback__)]
    return [*lines, f"  {type(fault).__name__}"]


def report() -> str:
    """The versions, the system, and the end of the log, to be sent to whoever mends it."""
    import platform

    try:
        log = log_file().read_text("utf-8", "replace")[-_REPORTED:]
    except (OSError, RuntimeError):
        log = ""
    lines = [
        f"Chickadee {VERSION}",
        f"Python {platform.python_version()}",
        f"{platform.system()} {platform.release()}, {platform.machine()}",
        "",
        log or "No internal error has been logged.\n",
    ]
    return "\n".join(lines)
