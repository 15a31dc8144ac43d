"""Full disks: a file is written whole or not at all, and the fault is said."""

from __future__ import annotations

import os
import random
import resource
import shutil
import signal
import subprocess
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import soundfile

import chickadee
from chickadee.checks import Profile, write_profile
from chickadee.desk.journal import Journal, left_behind
from chickadee.files import FileFault, read_text, write_text
from chickadee.sound.audio_file import write_audio

from .figures import Figures

_SIZE = 600 * 1024
_SHEET = "tempo: 240\nsound: sine\n" + "C4 E4 G4 E4 | " * 8


@contextmanager
def small_disk(folder: Path) -> Iterator[str]:
    """A small file system at a folder where root is to be had; says what stands in for it elsewhere."""
    mount = ["mount", "-t", "tmpfs", "-o", f"size={_SIZE}", "tmpfs", str(folder)]
    if os.geteuid() == 0 and subprocess.run(mount, capture_output=True, check=False).returncode == 0:
        try:
            yield "a file system in memory"
        finally:
            subprocess.run(["umount", str(folder)], check=True)
        return
    signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    yield "a limit on file size"


def _fill(folder: Path, left: int) -> None:
    """Leave so many bytes."""
    free = shutil.disk_usage(folder).free
    if free <= _SIZE:
        (folder / "ballast").write_bytes(bytes(max(0, free - left)))
    else:
        resource.setrlimit(resource.RLIMIT_FSIZE, (left, resource.RLIM_INFINITY))


def _sound(suffix: str) -> Callable[[Path], None]:
    def write(folder: Path) -> None:
        song = chickadee.read(_SHEET).song
        write_audio(folder / f"a{suffix}", song)
        assert abs(soundfile.info(folder / f"a{suffix}").duration - song.seconds) < 0.2

    return write


def _tune(folder: Path) -> None:
    text = "C4 D4 E4 | " * 2000
    write_text(folder / "a.chick", text)
    assert read_text(folder / "a.chick") == text


def _checks(folder: Path) -> None:
    write_profile(folder / "a.toml", Profile({"leap": True}))


WRITES: dict[str, tuple[str, int, Callable[[Path], None]]] = {
    "a tune": ("a.chick", 22_000, _tune),
    "a list of checks": ("a.toml", 80, _checks),
    "WAV": ("a.wav", 1_540_000, _sound(".wav")),
    "FLAC": ("a.flac", 250_000, _sound(".flac")),
    "OGG": ("a.ogg", 60_000, _sound(".ogg")),
    "MP3": ("a.mp3", 130_000, _sound(".mp3")),
}
"""The file, about how many bytes it takes, and writing it."""


def fill(first: int, count: int, seed: int, figures: Figures) -> None:
    """Fill so many disks; the last bytes missing as often as the first."""
    refused = 0
    kinds = [*WRITES.items()]
    for turn in range(first, count):
        chance = random.Random(f"{seed}-{turn}")
        figures.begin(turn, "a full disk")
        what, (name, size, write) = kinds[turn % len(kinds)]
        with tempfile.TemporaryDirectory() as place, small_disk(Path(place)) as kind:
            folder = Path(place)
            (folder / name).write_bytes(b"old")
            if turn == 0:
                figures.notes.append(f"  full disks by {kind}")
            left = min(_SIZE - 8192, int(size * chance.choice((chance.random(), 1 - chance.random() ** 4))))
            _fill(folder, left)
            try:
                write(folder)
            except FileFault as fault:
                refused += 1
                if (folder / name).read_bytes() != b"old" or not str(fault).endswith("."):
                    figures.fault(f"{what}: the old file is not whole", f"{left} bytes left")
            except Exception as fault:
                figures.fault(fault, f"{what}, {left} bytes left")
            hidden = [file.name for file in folder.iterdir() if file.name.startswith(".")]
            if hidden:
                figures.fault(f"{what}: {hidden} stay behind")
            _try_journal(folder, figures)
            resource.setrlimit(resource.RLIMIT_FSIZE, (resource.RLIM_INFINITY, resource.RLIM_INFINITY))
        figures.took("full disks", 0.0, 1.0)
    figures.notes.append(f"  {refused} of them refused in a sentence, the others found room")


def _try_journal(folder: Path, figures: Figures) -> None:
    """A journal on the full disk: what it holds is whole, or it says that it could not be written."""
    journal = Journal(folder / "journal")
    text = "C4 " * 30_000
    journal.keep(text, None)
    journal.wait()
    fault = journal.fault
    journal.close(forget=False)
    left = [what.text for _, what in left_behind(folder / "journal")]
    if not fault and left != [text]:
        figures.fault("a journal says nothing of a full disk")
