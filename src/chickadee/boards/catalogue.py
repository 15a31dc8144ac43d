"""The targets there are: ours, those of the settings folder, and those beside a tune."""

from __future__ import annotations

from functools import cache
from importlib.resources import files
from pathlib import Path

from ..own_files import OwnFiles
from .languages import list_targets
from .target import Target, TargetFault, read_target, written_target

__all__ = ["OWN", "own_targets", "save_own", "shipped", "target_called", "target_names"]

OWN = OwnFiles("target", read_target, TargetFault)
"""The files of a teacher's own."""


@cache
def shipped() -> dict[str, Target]:
    """The targets that come with the program, by name: lists in languages, tables and boards."""
    folder = files("chickadee.boards") / "targets"
    texts = {each.name.removesuffix(".toml"): each for each in folder.iterdir() if each.name.endswith(".toml")}
    found = list_targets() | {name: read_target(text.read_text("utf-8"), name) for name, text in texts.items()}
    return dict(sorted(found.items()))


def own_targets(folder: Path | None) -> dict[str, Path]:
    """The files of a teacher's own targets by name: beside a tune, and in the settings folder."""
    return OWN.paths(folder)


def save_own(target: Target, folder: Path | None) -> str:
    """Keep a teacher's own target beside the tunes of a folder, or in the settings folder, and return its name.

    Raises TargetFault for a name that no file can have, and FileFault.
    """
    return OWN.save(target.id, written_target(target), folder)


def target_names(folder: Path | None) -> list[str]:
    """All targets that can be named, a teacher's own first."""
    own = sorted(own_targets(folder))
    return [*own, *(name for name in shipped() if name not in own)]


def target_called(name: str, folder: Path | None = None) -> Target:
    """A target by its name, or by its file. Raises FileFault for a file that cannot be read, and TargetFault."""
    found = OWN.called(name, folder) or shipped().get(name)
    if found is None:
        raise TargetFault(f"There is no target called {name}; “chickadee send --list” names those there are.")
    return found
