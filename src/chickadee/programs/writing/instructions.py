"""A tune as instructions, one after the other: what a program does where nothing is repeated."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import Enum
from fractions import Fraction
from itertools import groupby, pairwise
from typing import NamedTuple

from ...sheet import Reading
from ...sheet.walk import EventKind
from ...song import Note, Song
from ...theory import Pitch

__all__ = ["Instruction", "Instructions", "Kind", "instructions_of"]


class Kind(Enum):
    """The kinds of instructions."""

    PLAY = "play"
    """A strike that holds the program until it is over."""
    RING = "ring"
    """A strike that sounds on while the program goes on at once."""
    REST = "rest"
    WAIT = "wait"
    """Time passes while something rings."""
    TEMPO = "tempo"


class Instruction(NamedTuple):
    """One step of a program."""

    kind: Kind
    tick: int
    """The tick at which it begins."""
    end: int
    """The tick at which what it sounds is over, or its silence."""
    beats: Fraction
    """Its length in beats of the opening meter; of a tempo the beats a minute."""
    pitches: tuple[Pitch, ...] = ()
    """From the lowest."""
    notes: tuple[int, ...] = ()
    """The indices of its notes in the song."""


@dataclass(frozen=True, slots=True)
class Instructions:
    """A tune as instructions."""

    song: Song
    voices: tuple[int, ...]
    """Those that are in it."""
    each: tuple[Instruction, ...]
    """In the order in which they are done. The first sets the tempo."""


def instructions_of(reading: Reading, voices: Sequence[int]) -> Instructions:
    """Return some voices of a tune as instructions, merged in time where they are several."""
    song = reading.song
    chosen = set(voices)
    notes = [(index, note) for index, note in enumerate(song.notes) if note.voice in chosen]
    end = max([*(song.voices[voice].end for voice in chosen), *(note.end for _, note in notes)], default=0)
    line = _Line(song, _rest_starts(reading, voices))
    groups = [list(group) for _, group in groupby(notes, key=lambda each: each[1].start)]
    starts = [group[0][1].start for group in groups]
    line.silence(0, starts[0] if starts else end, Kind.REST)
    for group, (start, following) in zip(groups, pairwise([*starts, end]), strict=True):
        line.strike(group, start, following)
    return Instructions(song, tuple(voices), tuple(_with_tempos(song, line.found)))


def _rest_starts(reading: Reading, voices: Sequence[int]) -> list[int]:
    """The ticks at which the rests that are written in a single voice begin."""
    if len(voices) != 1 or voices[0] >= len(reading.events):
        return []
    return [event.tick for event in reading.events[voices[0]] if event.kind is EventKind.REST]


class _Line:
    """Instructions, being written down."""

    def __init__(self, song: Song, rest_starts: Sequence[int]) -> None:
        self.found: list[Instruction] = []
        self._rest_starts = rest_starts
        self._beat = song.meter.beat_ticks
        self._sounding_until = 0

    def strike(self, group: Sequence[tuple[int, Note]], start: int, following: int) -> None:
        """Write the notes that begin at a tick, and the time until the ``following`` ones.

        Those that are over last before that hold the program; all others sound on.
        """
        room = following - start
        by_length = {length: list(same) for length, same in groupby(sorted(group, key=_length_of), key=_length_of)}
        held = max((length for length in by_length if length <= room), default=None)
        for length, same in by_length.items():
            if length != held:
                self._add(Kind.RING, same, start, length)
        if held is not None:
            self._add(Kind.PLAY, by_length[held], start, held)
        over = start + (held or 0)
        self._sounding_until = max(self._sounding_until, start + max(by_length))
        self.silence(over, following, Kind.WAIT if self._sounding_until > over else Kind.REST)

    def _add(self, kind: Kind, notes: Sequence[tuple[int, Note]], start: int, length: int) -> None:
        ordered = sorted(notes, key=lambda each: each[1].number)
        pitches = tuple(note.pitch for _, note in ordered)
        indices = tuple(index for index, _ in ordered)
        self.found.append(Instruction(kind, start, start + length, Fraction(length, self._beat), pitches, indices))

    def silence(self, start: int, end: int, kind: Kind) -> None:
        """Write the time in which nothing is struck, in the rests that the sheet has."""
        first = bisect_right(self._rest_starts, start)
        last = bisect_right(self._rest_starts, end - 1)
        for left, right in pairwise([start, *self._rest_starts[first:last], end]):
            if right > left:
                self.found.append(Instruction(kind, left, right, Fraction(right - left, self._beat)))


def _length_of(each: tuple[int, Note]) -> int:
    return each[1].length


def _with_tempos(song: Song, instructions: Sequence[Instruction]) -> Iterator[Instruction]:
    """Yield the instructions, each change of tempo before the first that begins at it or after it."""
    in_beats = Fraction(song.meter.lower, 4)
    last: Fraction | None = None
    for each in [*instructions] or [Instruction(Kind.REST, 0, 0, Fraction(0))]:
        quarters = Fraction(song.tempo.tempo_at(each.tick)).limit_denominator(1000)
        tempo = (quarters * in_beats).limit_denominator(1000)
        if tempo != last:
            yield Instruction(Kind.TEMPO, each.tick, each.tick, tempo)
        last = tempo
        if each.end > each.tick:
            yield each
