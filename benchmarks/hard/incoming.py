"""Mutated files of other forms: MIDI, scores, packed scores, tables, lists and programs are read, or refused in a sentence."""

from __future__ import annotations

import io
import random
import zipfile
from pathlib import Path

import chickadee
from chickadee.boards.catalogue import target_called
from chickadee.boards.fitting import fitted
from chickadee.boards.packing import packed
from chickadee.files import FileFault
from chickadee.formats import musicxml, smf, table
from chickadee.formats.anything import read_data
from chickadee.formats.arranging import arranged
from chickadee.sheet import Severity, read
from chickadee.song import bars_excerpt

from .figures import Figures
from .trials import Trial, run

SONGS = Path(chickadee.__file__).parent / "songs"
_BYTES = (b"\x00", b"\xff", b"\x80", b"\x7f", b"MTrk", b"\xff\x2f\x00", b"\xff\x51\x03", b"<!ENTITY a 'b'>", b"&a;", b"<note>",
          b"</part>", b"<duration>-1</duration>", b"999999999999", b"1e400", b"-", b",", b";", b"\n", b'"', b"[", b"]", b"\xc3")  # fmt: skip
_PROGRAMS = ("python-pairs", "python-names", "javascript-records", "c-lists", "java-pairs", "json-numbers")


def models() -> dict[str, list[bytes]]:
    """The demo tunes in each form."""
    whole = [read(path.read_text("utf-8")).song for path in sorted(SONGS.glob("*.chick"))]
    songs = [*whole[:2], *(bars_excerpt(song, song.first_bar, song.first_bar + 3) for song in whole)]
    fits = [fitted(song, target_called(name)) for song in songs for name in _PROGRAMS]
    return {
        "MIDI files": [smf.write(song) for song in songs],
        "scores": [musicxml.write(song) for song in songs],
        "packed scores": [musicxml.write_compressed(song) for song in songs],
        "tables": [table.write(song).encode() for song in songs],
        "lists": [packed(fit, board).encode() for fit in fits for board in fit.boards],
    }


def mutated(chance: random.Random, data: bytes) -> bytes:
    """Bytes with some of them changed, gone, doubled or put elsewhere."""
    for _ in range(int(2 ** chance.uniform(0, 4))):
        at = chance.randrange(len(data) + 1)
        to = min(len(data), at + chance.choice((1, 1, 2, 4, 30, 300)))
        kind = chance.randrange(5)
        if kind == 0:
            data = data[:at] + data[to:]
        elif kind == 1:
            data = data[:to] + data[at:to] * chance.choice((1, 2, 20)) + data[to:]
        elif kind == 2:
            data = data[:at] + chance.choice(_BYTES) + data[at:]
        elif kind == 3:
            data = data[:at] + chance.randbytes(to - at) + data[to:]
        else:
            data = data[:at] + bytes(byte ^ 1 << chance.randrange(8) for byte in data[at:to]) + data[to:]
    return data


def repacked(chance: random.Random, data: bytes) -> bytes:
    """A packed score whose members are mutated, and not the packing."""
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            new.writestr(name, mutated(chance, old.read(name)) if chance.random() < 0.7 else old.read(name))
    return made.getvalue()


def try_bringing_in(data: bytes) -> None:
    """Read and write as a sheet, which has no errors; or be refused in one sentence."""
    try:
        found = read_data(data, "a file")
    except FileFault as fault:
        assert str(fault).isprintable() and len(str(fault)) < 500, str(fault)
        return
    made = arranged(found)
    if found.text is None:
        faults = [finding for finding in read(made.text).findings if finding.severity is Severity.ERROR]
        assert not faults, faults[0].message


def fuzz(first: int, count: int, seed: int, figures: Figures) -> None:
    """Try so many files, of each form as many."""
    forms = list(models().items())

    def make(chance: random.Random, index: int) -> Trial:
        name, known = forms[index % len(forms)]
        data = chance.choice(known)
        data = repacked(chance, data) if name == "packed scores" and chance.random() < 0.5 else mutated(chance, data)
        return Trial(name, repr(data), lambda: try_bringing_in(data))

    run(make, first, count, seed, figures)
