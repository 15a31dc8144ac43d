"""A teacher's own descriptions in TOML: files beside the tunes, and in the settings folder."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Generic, TypeVar

from platformdirs import user_config_path

from .faults import InputFault
from .files import FileFault, as_reason, is_file, read_text, regular_files, write_text

__all__ = ["OwnFiles"]

Described = TypeVar("Described")


@dataclass(frozen=True)
class OwnFiles(Generic[Described]):
    """The files of one kind, such as ``targets``: in the settings folder's of that name, and ``NAME.target.toml``."""

    kind: str
    """One of them, such as ``target``."""
    read: Callable[[str, str], Described]
    """Reads a text, given the name of its file. Raises ``fault``."""
    fault: type[InputFault]

    @property
    def _beside(self) -> str:
        return f".{self.kind}.toml"

    @property
    def settings_folder(self) -> Path:
        """The folder of those that are beside no tune."""
        return user_config_path("chickadee") / f"{self.kind}s"

    def paths(self, folder: Path | None) -> dict[str, Path]:
        """Return the files by name: those beside the tunes of a folder, and those in the settings folder."""
        found = {path.stem: path for path in regular_files(self.settings_folder) if path.suffix == ".toml"}
        if folder is not None:
            beside = (path for path in regular_files(folder) if path.name.endswith(self._beside))
            found |= {path.name.removesuffix(self._beside): path for path in beside}
        return found

    def changed(self, folder: Path | None) -> tuple[int, ...]:
        """Return when a folder and the settings folder were changed, in nanoseconds; 0 for one that is not there."""
        times = []
        for each in (folder, self.settings_folder):
            try:
                times.append(each.stat().st_mtime_ns if each is not None else 0)
            except OSError:
                times.append(0)
        return tuple(times)

    def called(self, name: str, folder: Path | None) -> Described | None:
        """Read one by its name, or its file; None where there is none. Raises FileFault for what cannot be read."""
        path = self.paths(folder).get(name) or (Path(name) if name.endswith(".toml") and is_file(name) else None)
        return self.read_file(path) if path is not None else None

    def read_file(self, path: Path) -> Described:
        """Read one from its file. Raises FileFault."""
        try:
            return self.read(read_text(path), path.name.removesuffix(".toml").removesuffix(f".{self.kind}"))
        except self.fault as fault:
            raise FileFault(path, str(fault)[:1].lower() + str(fault)[1:].rstrip(".")) from None

    def save(self, name: str, text: str, folder: Path | None) -> str:
        """Keep one beside the tunes of a folder, or in the settings folder, and return its name.

        Raises the ``fault`` for a name that no file can have, and FileFault.
        """
        plain = re.sub(r"[^\w-]+", "-", name).strip("-")
        if not plain:
            raise self.fault(f"Please give the {self.kind} a name of letters and digits.")
        own = self.settings_folder / f"{plain}.toml"
        path = folder / f"{plain}{self._beside}" if folder is not None else own
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as fault:
            raise FileFault(path, as_reason(fault.strerror or str(fault))) from None
        write_text(path, text)
        return plain
