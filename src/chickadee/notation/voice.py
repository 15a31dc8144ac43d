"""A voice as it is written on one or two staves, bar by bar."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import cached_property
from operator import itemgetter

import numpy as np
from numpy.typing import NDArray

from ..song import Note, Song
from ..song.lines import Strike, into_lines
from ..theory import Pitch
from .accidentals import BarAccidentals
from .bar import NotatedBar, NotatedItem, NotatedLine, NoteHead, Stem
from .beams import with_beams
from .beats import BarBeats, bar_beats
from .clefs import CLEFS, PERCUSSION, Clef, clef_for, drum_place
from .lengths import WrittenLength, plain_length
from .rhythm import Stretch, WrittenPiece, written_pieces
from .voice_lines import BarSpan, Melody, SongBars, VoiceLine, strikes_of, with_rests

__all__ = ["VoiceNotation"]

_MIDDLE_C = 60
_HAND = 16  # semitones beyond which notes together are played by two hands
_OFTEN = 0.1  # of the onsets, at which that must be so
_MOST_ALTERED = 2  # semitones that an accidental can write
_WHOLE_BAR = "whole"  # the type of the rest that fills a bar for which no type lasts


class VoiceNotation:
    """A voice in notation. Its bars are worked out when they are first asked for.

    >>> from chickadee import read
    >>> notation = VoiceNotation(read("G4 A4=2 B4").song, 0)
    >>> [(item.length.type, item.struck) for item in notation.bar(0).lines[0].items]
    [('quarter', True), ('quarter', True), ('quarter', False), ('quarter', True)]
    """

    def __init__(self, song: Song, voice: int, clef: str | None = None, beside: int | None = None) -> None:
        """``clef`` is the name of one in :data:`CLEFS`, for a single staff; None chooses by the notes.

        ``beside`` is another voice that stands on the same staff.
        """
        self.song = song
        self.voice = voice
        self.is_drums = voice < len(song.voices) and song.voices[voice].is_drums
        self._by_voice = [
            song.by_voice[each] for each in (voice, beside) if each is not None and each < len(song.voices)
        ]
        self.indices = np.sort(np.concatenate([np.zeros(0, dtype=np.int64), *self._by_voice]))
        """The indices of its notes in the song, in order."""
        self._staff_indices = self._on_staves(clef)
        self.clefs = tuple(self._clef(indices, clef) for indices in self._staff_indices)
        """The clef of each staff, from the upper."""
        self.bars: Sequence[BarSpan] = SongBars(song)
        """Every bar of the song."""
        self._written: dict[int, NotatedBar] = {}

    def staff_of(self, number: int) -> int:
        """The staff that a MIDI number stands on, from 0 for the upper."""
        return int(len(self.clefs) > 1 and number < _MIDDLE_C)

    def bar(self, place: int) -> NotatedBar:
        """A bar by its place among :attr:`bars`."""
        if place not in self._written:
            self._written[place] = self._bar(place)
        return self._written[place]

    def places(self, numbers: tuple[int, int] | None) -> range:
        """The places of the bars from one number to another, both included; of all for None."""
        if numbers is None:
            return range(len(self.bars))
        first, last = (number - self.bars[0].number for number in numbers)
        return range(max(0, first), min(len(self.bars), last + 1))

    def all_bars(self) -> Iterator[NotatedBar]:
        """Every bar in turn."""
        return map(self.bar, range(len(self.bars)))

    def bar_at(self, tick: int) -> int:
        """The place of the bar that a tick lies in; the nearest where it lies in none."""
        place = self.song.grid.number_at(max(0, tick)) - self.bars[0].number
        return min(place, len(self.bars) - 1)

    # Staves and lines

    def _on_staves(self, clef: str | None) -> tuple[NDArray[np.int64], ...]:
        """The indices of the notes of each staff: of two where two hands play."""
        if len(self._by_voice) > 1 or self.is_drums or clef is not None or not self._for_two_hands():
            return (self.indices,)
        is_upper = self.song.arrays.number[self.indices] >= _MIDDLE_C
        return self.indices[is_upper], self.indices[~is_upper]

    def _for_two_hands(self) -> bool:
        if not len(self.indices):
            return False
        numbers = self.song.arrays.number[self.indices]
        if numbers.min() >= _MIDDLE_C or numbers.max() < _MIDDLE_C:
            return False
        starts, first = np.unique(self.song.arrays.start[self.indices], return_index=True)
        lowest = np.minimum.reduceat(numbers, first)
        highest = np.maximum.reduceat(numbers, first)
        ends = self.song.arrays.start[self.indices] + self.song.arrays.length[self.indices]
        held = np.maximum.reduceat(ends, first)[:-1] > starts[1:]
        together = highest - lowest
        together[1:] = np.where(
            held,
            np.maximum(highest[1:], highest[:-1]) - np.minimum(lowest[1:], lowest[:-1]),
            together[1:],
        )
        return bool(np.count_nonzero(together > _HAND) >= max(1.0, _OFTEN * len(starts)))

    def _clef(self, indices: NDArray[np.int64], wished: str | None) -> Clef:
        if self.is_drums:
            return PERCUSSION
        if wished is not None:
            return CLEFS[wished]
        return clef_for(np.bincount(self.song.arrays.number[indices], minlength=1).tolist())

    @cached_property
    def _lines(self) -> list[VoiceLine]:
        rows = list(enumerate(self._staff_indices))
        if len(self._by_voice) > 1:
            rows = [(0, indices) for indices in sorted(self._by_voice, key=self._height, reverse=True)]
        return [line for staff, indices in rows for line in self._lines_of(staff, indices)]

    def _lines_of(self, staff: int, indices: NDArray[np.int64]) -> list[VoiceLine]:
        """The lines of some notes; of a melody without chords one that makes strikes only as they are asked for."""
        starts = self.song.arrays.start[indices]
        ends = starts + self.song.arrays.length[indices]
        if (ends[:-1] <= starts[1:]).all():
            return [VoiceLine(staff, Melody(self.song, indices), starts.tolist())]
        lines = into_lines(strikes_of([self.song.notes[place] for place in indices.tolist()]))
        return [VoiceLine(staff, strikes, [strike.start for strike in strikes]) for strikes in lines]

    def _height(self, indices: NDArray[np.int64]) -> float:
        """The mean of the MIDI numbers of some notes."""
        return float(self.song.arrays.number[indices].mean()) if len(indices) else 0.0

    # Bars

    def _bar(self, place: int) -> NotatedBar:
        span = self.bars[place]
        meter = self.song.grid.meter_at(span.start)
        beats = bar_beats(meter)
        whole = span.start - (beats.end - (span.end - span.start) if span.number == 0 else 0)
        lines: list[NotatedLine] = []
        for staff in range(len(self.clefs)):
            mine = self._lines_of_staff(staff, span, beats, whole)
            mine = self._with_accidentals(place, staff, mine)
            for index, line in enumerate(mine):
                stem = None if len(mine) == 1 else (Stem.UP, Stem.DOWN)[index % 2]
                lines.append(replace(line, items=with_beams(line.items, beats.beams, whole, stem)))
        return NotatedBar(span.number, span.start, span.end, meter, self.song.key_at(span.start), tuple(lines))

    def _lines_of_staff(self, staff: int, span: BarSpan, beats: BarBeats, whole: int) -> list[NotatedLine]:
        """The lines of a staff that sound in a bar, or one with its rest; ``whole`` is where the whole bar begins."""
        found = []
        for number, line in enumerate(self._lines):
            if line.staff != staff:
                continue
            strikes = line.sounding(span)
            if strikes:
                found.append(NotatedLine(staff, number, self._items(strikes, span, beats, whole)))
        if found:
            return found
        first = next(number for number, line in enumerate(self._lines) if line.staff == staff)
        return [NotatedLine(staff, first, self._items((), span, beats, whole))]

    def _items(
        self, strikes: Sequence[Strike], span: BarSpan, beats: BarBeats, whole: int
    ) -> tuple[NotatedItem, ...]:
        if not strikes and span.number:
            length = plain_length(span.end - span.start) or WrittenLength(_WHOLE_BAR)
            return (NotatedItem(span.start, span.end, length, whole_bar=True),)
        sources = list(with_rests(strikes, span))
        stretches = [Stretch(start - whole, end - whole, strike is None) for start, end, strike in sources]
        return tuple(
            self._item(piece, sources[piece.stretch][2], whole) for piece in written_pieces(stretches, beats)
        )

    def _item(self, piece: WrittenPiece, strike: Strike | None, whole: int) -> NotatedItem:
        start = whole + piece.start
        end = whole + piece.end
        item = NotatedItem(start, end, piece.length, exact=piece.exact, tuplet=piece.tuplet)
        if strike is None:
            return item
        tied = end < strike.start + strike.length
        heads = tuple(NoteHead(note, self._drawn_pitch(note), 0, None, tied) for note in strike.notes)
        return item._replace(heads=heads, struck=start == strike.start)

    def _drawn_pitch(self, note: Note) -> Pitch:
        """The pitch of a note, respelled where no accidental could write it."""
        if abs(note.pitch.accidental) <= _MOST_ALTERED:
            return note.pitch
        return self.song.key_at(note.start).spell(note.number)

    def _with_accidentals(self, place: int, staff: int, lines: Sequence[NotatedLine]) -> list[NotatedLine]:
        """A bar's lines on a staff with their heads in their places."""
        before = self._read_accidentals(place - 1, staff) if place else None
        accidentals = BarAccidentals(self.song.key_at(self.bars[place].start), before)
        clef = self.clefs[staff]
        items = [list(line.items) for line in lines]
        order = sorted((item.start, line, at) for line, row in enumerate(items) for at, item in enumerate(row))
        for _, line, at in order:
            item = items[line][at]
            items[line][at] = item._replace(heads=tuple(_head(head, clef, item, accidentals) for head in item.heads))
        return [replace(line, items=tuple(row)) for line, row in zip(lines, items, strict=True)]

    def _read_accidentals(self, place: int, staff: int) -> BarAccidentals:
        """The accidentals of a bar after its last note. They hang on no bar before it."""
        span = self.bars[place]
        accidentals = BarAccidentals(self.song.key_at(span.start))
        struck = (
            (strike.start, number, strike)
            for number, line in enumerate(self._lines)
            if line.staff == staff
            for strike in line.sounding(span)
            if strike.start >= span.start
        )
        for _, _, strike in sorted(struck, key=itemgetter(0, 1)):
            for note in strike.notes:
                accidentals.read(self._drawn_pitch(note))
        return accidentals


def _head(head: NoteHead, clef: Clef, item: NotatedItem, accidentals: BarAccidentals) -> NoteHead:
    if clef is PERCUSSION:
        place, shape = drum_place(head.note.number)
        return head._replace(place=place, shape=shape)
    drawn = accidentals.read(head.pitch) if item.struck else None
    return head._replace(place=clef.place(head.pitch), accidental=drawn)
