"""One pitch cannot be struck while it sounds in the same voice."""

from __future__ import annotations

from collections.abc import Iterator
from operator import itemgetter

import numpy as np

from ..sheet import Finding, Fix, Reading, Rule, Severity, TextEdit
from ..song import NoteArrays
from .check import Check
from .profile import Profile

__all__ = ["Unison"]


class Unison(Check):
    """Reports a pitch struck in a voice that is still sounding it. Its fix deletes the one that is held."""

    rule = Rule("unison", Severity.WARNING, "One pitch struck in a voice that is still sounding it.")
    why = "An instrument has one string or bar for a pitch: a second strike cuts off the first."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text."""
        song = reading.song
        for held, index in _struck_again(song.arrays):
            note = song.notes[index]
            bar = song.grid.number_at(note.start)
            name = song.voices[note.voice].name_of(note)
            message = f"Bar {bar}: {name} still sounds in this voice when it is struck again."
            yield self.rule.at(*note.spans[0], message, *_deleted(reading.text, *song.notes[held].spans[0]))


def _struck_again(columns: NoteArrays) -> list[tuple[int, int]]:
    """Indices of each note that begins before the one before it of its voice and number is over, after that one's."""
    order = np.lexsort((columns.start, columns.number, columns.voice))
    voice = columns.voice[order]
    number = columns.number[order]
    start = columns.start[order]
    end = start + columns.length[order]
    again = (voice[1:] == voice[:-1]) & (number[1:] == number[:-1]) & (start[1:] < end[:-1])
    pairs = zip(order[:-1][again].tolist(), order[1:][again].tolist(), strict=True)
    return sorted(pairs, key=itemgetter(1))


def _deleted(text: str, start: int, end: int) -> Iterator[Fix]:
    """The fix that deletes the note that is held, where it stands beside what strikes it again."""
    if text[start : start + 1] == "{":
        return
    if text[start - 1 : start] == "&":
        yield Fix(f"Delete {text[start:end]}", (TextEdit(start - 1, end, ""),))
    elif text[end : end + 1] == "&":
        yield Fix(f"Delete {text[start:end]}", (TextEdit(start, end + 1, ""),))
