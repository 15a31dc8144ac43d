"""The targets there are: ours, those of the settings folder, and those beside a tune."""

from __future__ import annotations

import re
from functools import cache
from importlib.resources import files
from pathlib import Path

from platformdirs import user_config_path

from ..files import FileFault, as_reason, is_file, read_text, regular_files, write_text
from .languages import list_targets
from .target import Target, TargetFault, read_target, written_target

__all__ = ["own_targets", "save_own", "shipped", "target_called", "target_names"]

_BESIDE = ".target.toml"  # the end of a target's file's name beside tunes


def _settings_folder() -> Path:
    return user_config_path("chickadee") / "targets"


@cache
def shipped() -> dict[str, Target]:
    """The targets that come with the program, by name: lists in languages, tables and boards."""
    folder = files("chickadee.boards") / "targets"
    texts = {each.name.removesuffix(".toml"): each for each in folder.iterdir() if each.name.endswith(".toml")}
    found = list_targets() | {name: read_target(text.read_text("utf-8"), name) for name, text in texts.items()}
    return dict(sorted(found.items()))


def own_targets(folder: Path | None) -> dict[str, Path]:
    """The files of a teacher's own targets by name: beside a tune, and in the settings folder."""
    found = {path.stem: path for path in regular_files(_settings_folder()) if path.suffix == ".toml"}
    if folder is not None:
        beside = (path for path in regular_files(folder) if path.name.endswith(_BESIDE))
        found |= {path.name.removesuffix(_BESIDE): path for path in beside}
    return found


def save_own(target: Target, folder: Path | None) -> str:
    """Keep a teacher's own target beside the tunes of a folder, or in the settings folder, and return its name.

    Raises TargetFault for a name that no file can have, and FileFault.
    """
    name = re.sub(r"[^\w-]+", "-", target.id).strip("-")
    if not name:
        raise TargetFault("Please give the target a name of letters and digits.")
    path = folder / f"{name}{_BESIDE}" if folder is not None else _settings_folder() / f"{name}.toml"
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as fault:
        raise FileFault(path, as_reason(fault.strerror or str(fault))) from None
    write_text(path, written_target(target))
    return name


def target_names(folder: Path | None) -> list[str]:
    """All targets that can be named, a teacher's own first."""
    own = sorted(own_targets(folder))
    return [*own, *(name for name in shipped() if name not in own)]


def target_called(name: str, folder: Path | None = None) -> Target:
    """A target by its name, or by its file. Raises FileFault for a file that cannot be read, and TargetFault."""
    own = own_targets(folder)
    path = own.get(name) or (Path(name) if name.endswith(".toml") and is_file(name) else None)
    if path is not None:
        try:
            return read_target(read_text(path), path.name.removesuffix(".toml").removesuffix(".target"))
        except TargetFault as fault:
            raise FileFault(path, str(fault)[:1].lower() + str(fault)[1:].rstrip(".")) from None
    ours = shipped()
    if name not in ours:
        raise TargetFault(f"There is no target called {name}; “chickadee send --list” names those there are.")
    return ours[name]
