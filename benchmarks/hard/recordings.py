"""Mutated sound files, and headers that lie: they are heard, or refused in a sentence."""

from __future__ import annotations

import random
import struct
import tempfile
from pathlib import Path

import chickadee
from chickadee.files import FileFault
from chickadee.hearing.listening import listen
from chickadee.sound.audio_file import AudioSettings, write_audio

from .figures import Figures
from .trials import Trial, run

_TUNE = "tempo: 120\nC4 E4 G4 C5"
_SUFFIXES = (".wav", ".flac", ".ogg", ".mp3")
_NUMBERS = (0, 1, 2, 0xFF, 0xFFFF, 0x7FFFFFFF, 0xFFFFFFFF, 44_100, 3)


def _mutated(chance: random.Random, data: bytes) -> bytes:
    """Bytes cut off, changed, or with a number of the header that lies."""
    for _ in range(chance.randint(1, 5)):
        kind = chance.randrange(4)
        at = chance.randrange(max(1, len(data)))
        if kind == 0:
            data = data[: chance.choice((at, 44, 12, 4, 0))]
        elif kind == 1:
            head = chance.randrange(0, 60, 2)
            data = data[:head] + struct.pack("<I", chance.choice(_NUMBERS)) + data[head + 4 :]
        elif kind == 2:
            data = data[:at] + chance.randbytes(chance.choice((1, 8, 200))) + data[at + 8 :]
        else:
            data = data[:at] + data[at // 2 : at] + data[at:]
    return data


def _try_hearing(path: Path) -> None:
    try:
        heard = listen(path)
    except FileFault as fault:
        assert str(fault).isprintable() and len(str(fault)) < 500, str(fault)
        return
    assert all(0 <= note.number <= 127 and note.length > 0 and note.start >= 0 for note in heard.notes)


def fuzz(first: int, count: int, seed: int, figures: Figures) -> None:
    """Try so many files, of each form as many."""
    song = chickadee.read(_TUNE).song
    with tempfile.TemporaryDirectory() as folder:
        known = {}
        for suffix in _SUFFIXES:
            path = Path(folder) / f"known{suffix}"
            write_audio(path, song, AudioSettings(rate=44_100))
            known[suffix] = path.read_bytes()

        def make(chance: random.Random, index: int) -> Trial:
            suffix = _SUFFIXES[index % len(_SUFFIXES)]
            data = _mutated(chance, known[suffix])
            path = Path(folder) / f"tried{chance.choice((suffix, chance.choice(_SUFFIXES)))}"

            def tried() -> float:
                path.write_bytes(data)
                _try_hearing(path)
                return len(data) / 44_100  # what is longer takes longer

            return Trial(f"{suffix[1:].upper()} files", repr(data[:4000]), tried)

        run(make, first, count, seed, figures)
