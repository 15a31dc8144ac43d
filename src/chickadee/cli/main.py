"""The command ``chickadee``: opens the desk, or runs one of its commands."""

from __future__ import annotations

import os
import signal
import sys
from collections.abc import Sequence
from pathlib import Path
from types import FrameType

from ..fault_log import log_file, logged
from ..faults import InputFault
from ..files import fault_of
from .names import COMMANDS
from .open import open_desk

__all__ = ["main"]


_COMPLETION = "_CHICKADEE_COMPLETE"
"""The variable by which a shell asks what a word could be completed to, as click has it."""


def main(arguments: Sequence[str] | None = None) -> None:
    """Run the command and end the process: 0 done, 1 the music has errors, 2 it could not be carried out."""
    words = list(sys.argv[1:] if arguments is None else arguments)
    _prepare_output()
    try:
        status = _run(words)
        sys.stdout.flush()
    except InputFault as fault:
        status = _refuse(str(fault))
    except KeyboardInterrupt:
        status = 130
    except BrokenPipeError:
        status = 0  # whoever read our output has enough
        _drop_output()
    except OSError as fault:
        status = _refuse(str(fault_of(fault, "standard output")))
        _drop_output()
    except Exception as fault:
        if _is_homeless():
            status = _refuse("this user has no home folder; please set HOME to a folder that can be written.")
        else:
            said = f"Chickadee failed because of an internal error ({logged(fault)}). No file was changed."
            status = _refuse(f"{said} Where it came from is in {log_file()}.")
    sys.exit(status)


def _run(words: list[str]) -> int:
    """Open the desk where there is no word, or the first is neither a command nor an option but a tune."""
    is_completing = _COMPLETION in os.environ
    if is_completing or (words and (words[0] in COMMANDS or words[0].startswith("-"))):
        from .commands import run  # the desk does not wait for it

        for number in (signal.SIGTERM, signal.SIGHUP):
            if signal.getsignal(number) is not signal.SIG_IGN:  # as nohup has it
                signal.signal(number, _end)
        return run(words)
    return open_desk(words)


def _end(number: int, frame: FrameType | None) -> None:
    """A signal that ends the process: files that are being written are taken away on the way out."""
    sys.exit(128 + number)


def _refuse(sentence: str) -> int:
    print(f"chickadee: {sentence}", file=sys.stderr)
    return 2


def _is_homeless() -> bool:
    """Return whether the system knows no home folder: there is no HOME, and no entry for the user."""
    try:
        Path.home()
    except RuntimeError:
        return True
    return False


def _prepare_output() -> None:
    """Write UTF-8 as sheets are, and any file's name; an output that is closed is one that cannot be written to."""
    if sys.stdout is None:
        sys.stdout = os.fdopen(os.open(os.devnull, os.O_RDONLY), "w")
    if sys.stderr is None:
        sys.stderr = os.fdopen(os.open(os.devnull, os.O_WRONLY), "w")
    if hasattr(sys.stdout, "reconfigure"):
        sys.stdout.reconfigure(encoding="utf-8", errors="surrogateescape")


def _drop_output() -> None:
    """Let what is still to be written go nowhere, so that ending the process does not fail at it again."""
    nowhere = os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, sys.stdout.fileno())
    os.close(nowhere)
