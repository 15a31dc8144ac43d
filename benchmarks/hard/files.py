"""Fuzzed files beside tunes: journals, settings and lists of checks never keep the desk from starting."""

from __future__ import annotations

import json
import os
import random
import tempfile
from pathlib import Path

from .figures import Figures
from .trials import Trial, run

_JOURNAL = json.dumps({"path": "/music/tune.chick", "text": "title: A\nC4 D4 ♯ |\n", "time": 1.7e9})
_CHECKS = '# ours\n[rules]\nleap = true\n"bar-length" = false\n[limits]\nlargest-leap = 7\nlengths = "1/2 1 2"\nrange = "C4 to C6"\n'
_SETTINGS = (
    "[General]\nwindow=@ByteArray(\\x1\\xd9\\xd0\\xcb\\0\\x3\\0\\0)\n[switches]\nProjector=true\nShelf=false\n"
    "[words]\nrecent%20folders=/tmp, /nowhere\nrows=Name, Number, Beats\n[sizes]\nshelf=200\n"
)
_PIECES = (
    "null", "NaN", "Infinity", "-1", "1e999", "[" * 3000, "{", "}", '"', "\\u0000", "\0", "\ud83d", "true", "9" * 5000, "a." * 240 + "b=1",
    "@Variant(\\0\\0\\0\\x7f)", "@Invalid()", "@Rect(1 2 3)", "@Point(x)", "@ByteArray(", "=", "[]", "[[", "\n[rules.x]\n", ", ", "/" + "x" * 300,
    "\n", "\r", "\\", "é", "\x1b", "'''", '"""', "1979-05-27", "0x_", "{a = {}}", "@Variant(\\0\\0\\0\\t\\0\\0\\0\\0)", "@String(", "@DateTime(",
)  # fmt: skip


def _mutated(chance: random.Random, text: str) -> bytes:
    data = text.encode()
    for _ in range(chance.randint(1, 8)):
        at, to = sorted(chance.randrange(len(data) + 1) for _ in range(2))
        kind = chance.randrange(5)
        if kind == 0:
            data = data[:at] + data[min(to, at + 20) :]
        elif kind == 1:
            data = data[:at] + chance.choice(_PIECES).encode("utf-8", "surrogatepass") + data[at:]
        elif kind == 2:
            data = data[:at] + chance.choice(_PIECES).encode("utf-8", "surrogatepass") + data[to:]
        elif kind == 3:
            data = data[:at] + bytes(chance.randrange(256) for _ in range(chance.randint(1, 4))) + data[at:]
        else:
            data = data[:to] + data[at:to] + data[to:]
    return data


def _lay(file: Path, data: bytes, chance: random.Random) -> None:
    """Put a file in its place; now and then something that is no file at all."""
    kind = chance.random()
    if kind < 0.01:
        os.mkfifo(file)
    elif kind < 0.02:
        file.mkdir()
    elif kind < 0.03:
        file.symlink_to(file)
    elif kind < 0.04:
        file.symlink_to("/dev/zero")
    else:
        file.write_bytes(data)


def _clear(folder: Path) -> None:
    for file in folder.iterdir():
        if file.is_dir() and not file.is_symlink():
            file.rmdir()
        else:
            file.unlink()


def _try_journal(folder: Path) -> None:
    from chickadee.desk.journal import left_behind, set_aside

    there = len(list(folder.iterdir()))
    set_aside(folder)
    for _, what in left_behind(folder):
        assert isinstance(what.text, str) and what.name and what.date
    assert len(list(folder.iterdir())) == there or left_behind(folder) == []  # nothing is thrown away unread


def _try_checks(folder: Path) -> None:
    from chickadee.checks import checked_reading, profile_for, read_profile, write_profile
    from chickadee.files import FileFault

    try:
        profile = profile_for(folder / "tune.chick")
    except FileFault as fault:
        assert str(fault).isprintable() and len(str(fault)) < 700
        return
    checked_reading("C4 D4 E4 | F4", profile)
    write_profile(folder / "again.toml", profile)
    assert read_profile(folder / "again.toml") == profile


def _try_settings(folder: Path) -> None:
    from chickadee.desk.settings import Settings

    os.environ["XDG_CONFIG_HOME"] = str(folder)
    settings = Settings()
    for name in ("Projector", "Shelf", "Evening theme"):
        settings.is_on(name, True)
    assert all(isinstance(word, str) for word in settings.words("rows", []))
    assert all(each.is_dir() for each in settings.recent_folders)
    assert settings.geometry is not None
    settings.set_on("Projector", True)
    settings.note_folder(folder)


def fuzz(first: int, count: int, seed: int, figures: Figures) -> None:
    """Try so many files."""
    with tempfile.TemporaryDirectory() as name:
        base = Path(name)
        (base / "settings" / "chickadee").mkdir(parents=True)
        (base / "journal").mkdir()
        (base / "checks").mkdir()
        kinds = (
            ("journals", base / "journal", base / "journal" / "1-a.json", _JOURNAL, _try_journal),
            ("lists of checks", base / "checks", base / "checks" / "checks.toml", _CHECKS, _try_checks),
            ("settings", base / "settings", base / "settings" / "chickadee" / "desk.ini", _SETTINGS, _try_settings),
        )

        def make(chance: random.Random, index: int) -> Trial:
            what, folder, file, text, attempt = kinds[index % 3]
            data = _mutated(chance, text)

            def tried() -> None:
                _lay(file, data, chance)
                try:
                    attempt(folder)
                finally:
                    _clear(file.parent)

            return Trial(what, data.decode("utf-8", "replace"), tried)

        run(make, first, count, seed, figures)
