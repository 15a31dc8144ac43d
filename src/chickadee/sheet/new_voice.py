"""A voice added to a sheet: notes as lines of music, and lines as a block at its end."""

from __future__ import annotations

import re
from collections.abc import Sequence

from ..song import BarGrid, Note, Song, Voice
from .finding import TextEdit
from .names import free_name
from .reading import Reading
from .writing import write_song

__all__ = ["gap_before_block", "music_lines", "voice_block"]


def music_lines(song: Song, grid: BarGrid, notes: Sequence[Note], end: int) -> list[str]:
    """The lines of music that notes of one voice are written as in a song's key, from tick 0 to an end.

    Their loudness, marks and syllables are left out.
    """
    alone = Song(
        voices=(Voice("Voice", end=end),),
        notes=tuple(note._replace(voice=0, spans=(), syllable="", loudness=80, short=False) for note in notes),
        grid=grid,
        keys=((0, song.key),),
    )
    body = write_song(alone).split("\nvoice Voice\n", 1)[1]
    return [re.sub(r"\[meter [^\]]*\] ?", "", line.strip()) for line in body.splitlines()]


def voice_block(reading: Reading, name: str, rows: Sequence[str]) -> list[TextEdit]:
    """A voice of its own at the end of a sheet: its properties and its lines of music."""
    text = reading.text
    name = free_name(name, "voice", {voice.name.lower() for voice in reading.song.voices})
    lines = [f"voice {name}", *(f"  {row}" for row in rows)]
    return [TextEdit(len(text), len(text), gap_before_block(text) + "\n".join(lines) + "\n")]


def gap_before_block(text: str) -> str:
    """The end of line, or two, between a sheet's text and a block that is added to it."""
    if not text.strip():
        return ""
    return "\n" if text.endswith("\n") else "\n\n"
