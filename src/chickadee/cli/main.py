"""The command ``chickadee``: opens the desk, or runs one of its commands."""

from __future__ import annotations

import sys
from collections.abc import Sequence

from ..files import FileFault
from .names import COMMANDS
from .open import open_desk
from .refusal import Refused

__all__ = ["main"]


def main(arguments: Sequence[str] | None = None) -> None:
    """Run the command and end the process: 0 done, 1 the music has errors, 2 it could not be carried out."""
    words = list(sys.argv[1:] if arguments is None else arguments)
    try:
        status = _run(words)
        sys.stdout.flush()
    except (FileFault, Refused) as fault:
        print(f"chickadee: {fault}", file=sys.stderr)
        sys.exit(2)
    except KeyboardInterrupt:
        sys.exit(130)
    except BrokenPipeError:
        sys.stderr.close()  # whoever read our output has enough
        sys.exit(0)
    sys.exit(status)


def _run(words: list[str]) -> int:
    """Open the desk where there is no word, or the first is neither a command nor an option but a tune."""
    if words and (words[0] in COMMANDS or words[0].startswith("-")):
        from .commands import run  # the desk does not wait for it

        return run(words)
    return open_desk(words)
