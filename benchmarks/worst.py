"""The worst input found for each reader of texts and files from outside, at any number of lines."""

from __future__ import annotations

import io
import random
import struct
import time
import zipfile
from collections.abc import Callable
from contextlib import suppress

from chickadee.files import FileFault
from chickadee.formats.anything import read_data

_CHANCE = 1


def _seconds(lines: int) -> str:
    """Lengths as they are measured, hardly one like another."""
    chance = random.Random(_CHANCE)
    return "\n".join(f"C4,{chance.random() * 2:.6f}" for _ in range(lines))


def _pairs(lines: int) -> str:
    chance = random.Random(_CHANCE)
    return "[" + ",\n".join(f'("C4", {chance.random() * 2:.6f})' for _ in range(lines)) + "]"


def _coprime(lines: int) -> str:
    return "\n".join(f"C4 1/{7 + line % 90}" for line in range(lines))


def _words(lines: int) -> str:
    return "\n".join(f"zz{line} qq{line * 7} H4 ,, C4:{line}" for line in range(lines))


def _score(lines: int) -> bytes:
    one = b"<note><pitch><step>C</step><octave>4</octave></pitch><duration>%d</duration></note>"
    notes = b"".join(one % (1 + line % 97) for line in range(lines))
    return (
        b"<score-partwise><part-list><score-part id='P1'/></part-list><part id='P1'><measure number='1'>"
        b"<attributes><divisions>30030</divisions></attributes>" + notes + b"</measure></part></score-partwise>"
    )


def _empty_elements(lines: int) -> bytes:
    return _score(1).replace(b"<measure", b"<x/>" * (50 * lines) + b"<measure", 1)


def _divisions(lines: int) -> bytes:
    """Each bar counts otherwise, with no divisor in common."""
    bar = (
        "<measure><attributes><divisions>{0}</divisions></attributes><note><pitch><step>C</step><octave>4</octave></pitch>"
        "<duration>{1}</duration></note></measure>"
    )
    bars = "".join(bar.format(10007 + 2 * line, 10009 + line) for line in range(lines))
    return f"<score-partwise><part-list/><part id='P'>{bars}</part></score-partwise>".encode()


def _midi(lines: int, off: bool = True) -> bytes:
    """Notes at times that hardly come again."""
    chance = random.Random(_CHANCE)
    events = bytearray()
    for line in range(lines):
        key = 36 + line % 60
        events += bytes((chance.randrange(1, 128), 0x90, key, 1 + line % 127))
        if off:
            events += bytes((chance.randrange(1, 128), 0x80, key, 0))
    return _midi_file(events)


def _midi_tempos(lines: int) -> bytes:
    tempos = b"".join(b"\x07\xff\x51\x03" + (400_000 + line % 9973).to_bytes(3, "big") for line in range(lines))
    return _midi_file(tempos + b"\x00\x90\x3c\x40\x60\x80\x3c\x00")


def _midi_file(events: bytes | bytearray) -> bytes:
    track = bytes(events) + b"\x00\xff\x2f\x00"
    return b"MThd\0\0\0\6\0\1\0\1\x03\xc1MTrk" + struct.pack(">I", len(track)) + track


def _packed(data: bytes) -> bytes:
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as new:
        new.writestr("score.musicxml", data)
    return made.getvalue()


WORST: dict[str, dict[str, Callable[[int], str | bytes]]] = {
    "lists and programs": {
        "comments": lambda lines: "# strike the bell, then wait a little\n" * lines + "notes = [60, 62, 64]\n",
        "blank comments": lambda lines: ("//" + " " * 60 + "\n") * lines + "notes = [60, 62, 64]\n",
        "open quotes": lambda lines: "notes = [60]\n" + '\\"' * 8 * lines,
        "open brackets": lambda lines: "[ (1) " * lines,
        "comments that never end": lambda lines: "/* a " * lines,
        "digits": lambda lines: "x = [" + "1" * 30 * lines + "a]",
        "calls": lambda lines: "\n".join(f"play{line}({line % 100})" for line in range(lines)),
        "rows of measured seconds": _seconds,
        "pairs with measured seconds": _pairs,
        "coprime lengths": _coprime,
        "dotted names": lambda lines: ".".join("a" * 3 for _ in range(4 * lines)) + " = [60, 62]",
        "words": _words,
    },
    "tables": {
        "measured seconds": lambda lines: "name,seconds\n" + _seconds(lines),
        "one column": lambda lines: "note\n" + "\n".join("C4" for _ in range(lines)),
        "many columns": lambda lines: ";".join(f"note{n}" for n in range(lines)) + "\n" + ";".join(["C4"] * lines),
    },
    "scores": {
        "notes": _score,
        "coprime divisions": _divisions,
        "empty elements, packed": lambda lines: _packed(_empty_elements(lines)),
        "notes, packed": lambda lines: _packed(_score(lines)),
        "nested elements": lambda lines: (
            b"<score-partwise>" + b"<a>" * lines + b"</a>" * lines + b"</score-partwise>"
        ),
    },
    "MIDI files": {
        "notes": _midi,
        "notes, none let go": lambda lines: _midi(lines, off=False),
        "tempos": _midi_tempos,
    },
}
"""For each reader the names of inputs, and what gives one of so many lines."""


def seconds_at(reader: str, lines: int) -> tuple[float, str]:
    """The seconds of the processor that the worst input of so many lines takes, and its name."""
    found = []
    for name, make in WORST[reader].items():
        data = make(lines)
        data = data.encode() if isinstance(data, str) else data
        start = time.process_time()
        with suppress(FileFault):
            read_data(data, name)
        found.append((time.process_time() - start, name))
    return max(found)
