"""A cache on disk of the notes heard in recordings, so that a long one need be listened to only once."""

from __future__ import annotations

import hashlib
import os
from contextlib import suppress
from dataclasses import fields
from pathlib import Path
from typing import Any
from zipfile import BadZipFile

import numpy as np

from .listening import Heard
from .notes import HeardNote

__all__ = ["keep", "kept"]

_MOST_BYTES = 100 << 20
_VERSION = 8  # of the hearing: what an older one heard is heard anew


def kept(path: Path, tuning: float) -> Heard | None:
    """Return the notes heard in a file as it is now; None where they are not in the cache."""
    try:
        with np.load(_place(path, tuning), allow_pickle=False) as found:
            columns = [found[f"note_{field.name}"].tolist() for field in fields(HeardNote)]
            notes = tuple(HeardNote(*values) for values in zip(*columns, strict=True))
            crowded = bool(found["crowded"])
            return Heard(float(found["seconds"]), notes, found["hertz"], found["power"], crowded)
    except (OSError, KeyError, ValueError, BadZipFile, EOFError):
        return None


def keep(path: Path, tuning: float, heard: Heard) -> None:
    """Keep what was heard in a file; what was kept longest ago goes where that is much. Where nothing can be written
    nothing is kept."""
    columns: dict[str, Any] = {
        f"note_{field.name}": np.array([getattr(note, field.name) for note in heard.notes])
        for field in fields(HeardNote)
    }
    columns |= {"seconds": heard.seconds, "hertz": heard.hertz, "power": heard.power, "crowded": heard.crowded}
    with suppress(OSError):
        goal = _place(path, tuning)
        goal.parent.mkdir(parents=True, exist_ok=True)
        unfinished = goal.with_suffix(f".{os.getpid()}")
        with unfinished.open("wb") as file:
            np.savez(file, **columns)
        unfinished.replace(goal)
        _tidy(goal.parent)


def _place(path: Path, tuning: float) -> Path:
    """The file for a recording, by its path, size and time. Raises OSError where there is no such recording."""
    state = path.stat()
    told = f"{_VERSION} {path.resolve()} {state.st_size} {state.st_mtime_ns} {tuning}"
    name = hashlib.sha256(told.encode("utf-8", "surrogateescape")).hexdigest()[:32]
    return Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "chickadee" / "heard" / f"{name}.npz"


def _tidy(folder: Path) -> None:
    files = sorted(folder.iterdir(), key=lambda file: file.stat().st_mtime, reverse=True)
    total = 0
    for file in files:
        total += file.stat().st_size
        if total > _MOST_BYTES and file != files[0]:
            file.unlink()
