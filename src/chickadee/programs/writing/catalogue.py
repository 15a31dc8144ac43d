"""The dialects there are: ours, those of the settings folder, and those beside a tune."""

from __future__ import annotations

from contextlib import suppress
from functools import cache, lru_cache
from importlib.resources import files
from pathlib import Path

from ...faults import InputFault
from ...own_files import OwnFiles
from .dialect import Dialect, DialectFault, read_dialect, written_dialect

__all__ = ["OWN", "dialect_called", "dialect_names", "own_in_steps", "save_own", "shipped"]

OWN = OwnFiles("dialect", read_dialect, DialectFault)
"""The files of a teacher's own."""
_SHIPPED = ("steps", "python", "javascript", "c", "java")


@cache
def shipped() -> dict[str, Dialect]:
    """Return the dialects that come with the program, by name."""
    folder = files("chickadee.programs.writing") / "dialects"
    return {name: read_dialect((folder / f"{name}.toml").read_text("utf-8"), name) for name in _SHIPPED}


def own_in_steps(folder: Path | None) -> tuple[Dialect, ...]:
    """Return a teacher's own dialects that are in plain steps; those that cannot be read are left out."""
    return _in_steps(folder, OWN.changed(folder))


@lru_cache(32)
def _in_steps(folder: Path | None, changed: tuple[int, ...]) -> tuple[Dialect, ...]:
    """The dialects, read anew once a folder is ``changed``: a class has many programs in one."""
    found = []
    for path in OWN.paths(folder).values():
        with suppress(InputFault):  # it is said where the dialect is chosen
            found.append(OWN.read_file(path))
    return tuple(each for each in found if each.is_in_steps)


def save_own(dialect: Dialect, folder: Path | None) -> str:
    """Keep a teacher's own dialect beside the tunes of a folder, or in the settings folder, and return its name.

    Raises DialectFault for a name that no file can have, and FileFault.
    """
    return OWN.save(dialect.id, written_dialect(dialect), folder)


def dialect_names(folder: Path | None) -> list[str]:
    """Return the names of all dialects, ours first."""
    own = sorted(OWN.paths(folder))
    return [*shipped(), *(name for name in own if name not in shipped())]


def dialect_called(name: str, folder: Path | None = None) -> Dialect:
    """Return a dialect by its name, or by its file. Raises FileFault for a file that cannot be read, DialectFault."""
    found = OWN.called(name, folder) or shipped().get(name)
    if found is None:
        raise DialectFault(f"There is no language called {name}; there are {', '.join(dialect_names(folder))}.")
    return found
