"""The Lake Orrin tunes, copied to where they may be changed."""

from __future__ import annotations

from contextlib import suppress
from importlib.resources import files
from pathlib import Path

from platformdirs import user_data_path

from .files import is_there, write_text

__all__ = ["demo_folder"]


def demo_folder() -> Path:
    """The user's own copy of the demo shelf. Tunes that are missing are laid in; those there are left as they are.

    Raises FileFault when the folder cannot be made or written.
    """
    folder = user_data_path("chickadee") / "Lake Orrin"
    with suppress(OSError):  # writing says why
        folder.mkdir(parents=True, exist_ok=True)
    for tune in files("chickadee.songs").iterdir():
        goal = folder / tune.name
        if tune.name.endswith(".chick") and not is_there(goal):
            write_text(goal, tune.read_text("utf-8"))
    return folder
