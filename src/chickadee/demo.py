"""The Lake Orrin tunes, copied to where they may be changed."""

from __future__ import annotations

from contextlib import suppress
from importlib.abc import Traversable
from importlib.resources import files
from pathlib import Path

from platformdirs import user_data_path

from .files import is_there, replacing

__all__ = ["demo_folder"]


def demo_folder() -> Path:
    """The user's own copy of the demo shelf, and its class. What is missing is laid in, the rest is left as it is.

    Raises FileFault when the folder cannot be made or written.
    """
    folder = user_data_path("chickadee") / "Lake Orrin"
    _lay_in(files("chickadee.songs"), folder, (".chick", ".dialect.toml"))
    for tune in (files("chickadee.songs") / "classes").iterdir():
        _lay_in(tune, folder / "classes" / tune.name)
    return folder


def _lay_in(source: Traversable, folder: Path, suffixes: tuple[str, ...] = ("",)) -> None:
    with suppress(OSError):  # writing says why
        folder.mkdir(parents=True, exist_ok=True)
    for each in source.iterdir():
        goal = folder / each.name
        if each.is_file() and each.name.endswith(suffixes) and not is_there(goal):
            with replacing(goal) as new:
                new.write_bytes(each.read_bytes())
