"""Corrections of how the programs of a folder are understood: its ``programs.toml``."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ..faults import InputFault
from ..files import is_file, read_text, write_text
from ..toml_text import quoted, read_toml
from .vocabulary import Verb

if TYPE_CHECKING:
    from .writing.dialect import Dialect

__all__ = ["FILE", "NOTHING", "UNITS", "Correction", "Corrections", "CorrectionsFault", "corrections_in", "keep"]

FILE = "programs.toml"
UNITS = ("beats", "ms", "seconds")
_NOTHING = "nothing"
_HEAD = "# How the programs of this folder are understood.\n"


class CorrectionsFault(InputFault):
    """A folder's ``programs.toml`` says something that cannot be."""


@dataclass(frozen=True, slots=True)
class Correction:
    """The correction for calls by one name; None for each fact that is still to be worked out."""

    verb: Verb | None = None
    is_nothing: bool = False
    """True if such calls have nothing to do with the tune."""
    holds: bool | None = None
    unit: str | None = None


@dataclass(frozen=True, slots=True)
class Corrections:
    """Facts about the programs of a folder: corrections by the names of the calls, and the languages of the class."""

    calls: Mapping[str, Correction] = field(default_factory=dict)
    dialects: tuple[Dialect, ...] = ()
    """The class's own languages of plain steps."""

    def of(self, name: str) -> Correction:
        """Return what is known about calls by a name."""
        return self.calls.get(name) or Correction()

    def with_call(self, name: str, correction: Correction) -> Corrections:
        """Return these with another correction for a name."""
        return replace(self, calls={**self.calls, name: correction})

    @property
    def text(self) -> str:
        """The file that says so."""
        blocks = []
        for name, each in sorted(self.calls.items()):
            lines = [f"[calls.{quoted(name)}]"]
            if each.is_nothing or each.verb is not None:
                lines.append(f'is = "{_NOTHING if each.is_nothing or each.verb is None else each.verb.value}"')
            if each.holds is not None:
                lines.append(f"holds = {'true' if each.holds else 'false'}")
            if each.unit is not None:
                lines.append(f'unit = "{each.unit}"')
            blocks.append("\n".join(lines))
        return "\n\n".join([_HEAD.rstrip(), *blocks]) + "\n"


NOTHING = Corrections()


def corrections_in(folder: Path | None) -> Corrections:
    """Return what a folder's file says; nothing where there is none. Raises CorrectionsFault and FileFault."""
    if folder is None:
        return NOTHING
    from .writing.catalogue import own_in_steps

    dialects = own_in_steps(folder)
    path = folder / FILE
    try:
        changed = path.stat().st_mtime_ns
    except OSError:
        changed = 0
    found = _read(path, changed) if changed and is_file(path) else NOTHING
    return replace(found, dialects=dialects) if dialects else found


@lru_cache(32)
def _read(path: Path, changed: int) -> Corrections:
    """A folder's file, read anew once it is ``changed``."""
    return _parsed(read_text(path))


def _parsed(text: str) -> Corrections:
    found = read_toml(text, "file about programs", CorrectionsFault)
    unknown = set(found) - {"calls"}
    calls = found.get("calls", {})
    if unknown or not isinstance(calls, dict):
        raise CorrectionsFault(f"{FILE} has tables [calls.NAME] and nothing else.")
    return Corrections({name: _correction(name, each) for name, each in calls.items()})


def _correction(name: str, given: Any) -> Correction:
    if not isinstance(given, dict) or set(given) - {"is", "holds", "unit"}:
        raise CorrectionsFault(f"{FILE}: [calls.{name}] has is, holds and unit, and nothing else.")
    kind = given.get("is")
    if kind is not None and kind not in (_NOTHING, *(verb.value for verb in Verb)):
        raise CorrectionsFault(f"{FILE}: is, of {name}, is strike, silence, tempo or nothing.")
    holds = given.get("holds")
    if holds is not None and not isinstance(holds, bool):
        raise CorrectionsFault(f"{FILE}: holds, of {name}, is true or false.")
    unit = given.get("unit")
    if unit is not None and unit not in UNITS:
        raise CorrectionsFault(f"{FILE}: unit, of {name}, is beats, ms or seconds.")
    return Correction(Verb(kind) if kind not in (None, _NOTHING) else None, kind == _NOTHING, holds, unit)


def keep(folder: Path, corrections: Corrections) -> None:
    """Write a folder's file. Raises FileFault, and CorrectionsFault for names that it cannot hold."""
    text = corrections.text
    _parsed(text)
    write_text(folder / FILE, text)
