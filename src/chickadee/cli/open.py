"""Opening the desk."""

from __future__ import annotations

import os
from difflib import get_close_matches
from pathlib import Path

from ..files import is_there
from .names import COMMANDS
from .refusal import Refused

__all__ = ["has_display", "open_desk"]

_LONGEST_WORD = 100  # characters of what was typed that are said again


def has_display() -> bool:
    """Return whether a window can be shown here."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


def open_desk(files: list[str]) -> int:
    """Open the desk, on a tune or a folder where one is named."""
    if files and not is_there(files[0]):
        near = get_close_matches(files[0], COMMANDS, 1, 0.5)
        meant = f"; the command “{near[0]}” is near it" if near else "; “chickadee --help” lists the commands"
        raise Refused(f"{files[0][:_LONGEST_WORD]}: there is no such tune, and no such command{meant}.")
    if len(files) > 1:
        raise Refused(f"the desk opens one tune at a time, and {files[1]} is another; name one of them.")
    if not has_display():
        raise Refused(
            "there is no display to open a window on; the commands work without one, see “chickadee --help”."
        )
    from ..desk.app import run

    return run(Path(files[0]) if files else None)
