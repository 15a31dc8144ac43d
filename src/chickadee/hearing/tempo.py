"""The beat of some notes: tempo, meter, first bar line and which beat each note was meant for.

It is a guess, which the user can set right: any of them may be given.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import ArrayLike, NDArray

from ..formats.imported import Form, Imported, song_of
from ..song import BarGrid, Meter, Note, Song, Tempo, TempoMap, Voice
from ..theory import read_key
from .notes import HeardNote
from .rhythm import PARTS, Rhythm, rhythms

__all__ = ["Beat", "as_imported", "guessed_beat", "guessed_beats"]

_LIKELY = 100.0  # beats a minute
_TOGETHER = 0.05  # seconds, within which notes begin together
_RINGING = 0.25  # of a note's length, that it may ring on beyond its bar
_ROUND = 0.3  # beats a minute, by which a whole number is as good
_WRITTEN_PARTS = 2 * PARTS  # of a beat of the meter's lower number, in a compound meter too
_COMMON = Meter(4, 4)


def _no_notes() -> NDArray[np.float64]:
    return np.zeros(0)


@dataclass(frozen=True, slots=True, eq=False)
class Beat:
    """Where the beats are."""

    tempo: float
    """Beats of the meter's lower number a minute."""
    first: float
    """The second at which bar 1 begins."""
    meter: Meter = _COMMON
    seconds: NDArray[np.float64] = field(default_factory=_no_notes)
    """Where something begins."""
    beats: NDArray[np.float64] = field(default_factory=_no_notes)
    """At which beat each of that was meant, bar 1 beginning at 0."""

    def meant(self, starts: ArrayLike) -> NDArray[np.float64]:
        """The beats at which notes with some starts (in seconds) were meant to begin."""
        places = np.searchsorted(self.seconds, np.asarray(starts) + 1e-9, "right") - 1
        found: NDArray[np.float64] = self.beats[np.maximum(0, places)]
        return found

    def meant_ticks(self, starts: ArrayLike) -> list[int]:
        """The same, in ticks: exactly on the parts of beats that were meant."""
        parts = np.rint(self.meant(starts) * _WRITTEN_PARTS).astype(np.int64)
        found: list[int] = (parts * self.meter.beat_ticks // _WRITTEN_PARTS).tolist()
        return found

    def at(self, seconds: ArrayLike) -> NDArray[np.float64]:
        """The beats at some seconds, as fast as what begins before and after."""
        values = np.asarray(seconds, np.float64)
        outside = np.minimum(values - self.seconds[0], 0) + np.maximum(values - self.seconds[-1], 0)
        return np.asarray(np.interp(values, self.seconds, self.beats) + outside * self.tempo / 60, np.float64)

    def ends(self, notes: Sequence[HeardNote]) -> list[int]:
        """The ticks at which notes are over, bar 1 beginning at 0.

        What dies away by itself is written until the next note of its line where that comes within a bar, or else
        until the end of the bar; and the last note of a line rings on a little beyond its bar.
        """
        bar = self.meter.upper
        starts = self.meant([note.start for note in notes])
        ends = self.at([note.start + note.length for note in notes])
        following: dict[int, float] = {}
        for place in reversed(range(len(notes))):
            note = notes[place]
            after = following.get(note.line, np.inf)
            line = np.floor(ends[place] / bar) * bar
            beyond = ends[place] - line
            rings = line > starts[place] and beyond <= _RINGING * (ends[place] - starts[place])
            if note.fades and after - starts[place] <= bar:
                ends[place] = after
            elif note.fades:
                ends[place] = line if rings else line + bar
            elif rings and after == np.inf:
                ends[place] = line
            following[note.line] = starts[place]
        return [round(float(end) * self.meter.beat_ticks) for end in ends]


def guessed_beats(
    notes: Sequence[HeardNote],
    tempo: float | None = None,
    meter: Meter | None = None,
    first: float | None = None,
) -> list[Beat]:
    """The beats that notes may have, the likeliest first, each of another tempo; what is known is kept to."""
    starts: list[float] = []
    loudness: list[float] = []
    for note in sorted(notes, key=lambda each: each.start):
        if not starts or note.start - starts[-1] > _TOGETHER:
            starts.append(note.start)
            loudness.append(note.loudness)
    known = (meter.upper, meter.lower) if meter is not None else None
    found = rhythms(starts, loudness, tempo, known, first)
    if len(found) == 1 and tempo is None:
        other = found[0].tempo * (2 if found[0].tempo * 4 / found[0].lower < _LIKELY else 0.5)
        found += rhythms(starts, loudness, other, (found[0].upper, found[0].lower), first)
    if found:
        return [_beat(each, np.array(starts), tempo, meter, first) for each in found]
    begins = starts[0] if starts else 0.0
    begins = begins if first is None else first
    own = tempo or _LIKELY
    places = (np.array(starts) - begins) * own / 60
    return [Beat(own, round(begins, 3), meter or Meter(), np.array(starts), places)]


def guessed_beat(
    notes: Sequence[HeardNote],
    tempo: float | None = None,
    meter: Meter | None = None,
    first: float | None = None,
) -> Beat:
    """The likeliest beat of some notes."""
    return guessed_beats(notes, tempo, meter, first)[0]


def _beat(
    rhythm: Rhythm, starts: NDArray[np.float64], tempo: float | None, meter: Meter | None, first: float | None
) -> Beat:
    """The beat of a rhythm; its tempo is rounded where that is as good."""
    own = rhythm.tempo
    whole = float(round(own))
    own = tempo or (whole if abs(own - whole) < _ROUND else round(own, 2))
    found = Beat(own, 0.0, meter or Meter(rhythm.upper, rhythm.lower), starts, rhythm.beats)
    line = first if first is not None else _second_of_line(found)
    return Beat(own, round(max(0.0, line), 3), found.meter, starts, rhythm.beats)


def _second_of_line(beat: Beat) -> float:
    """The second at which bar 1 begins."""
    early = float(beat.beats[0])
    if early >= 0:
        return float(beat.seconds[0]) - early * 60 / beat.tempo
    return float(np.interp(0.0, beat.beats, beat.seconds))


def as_imported(notes: Sequence[HeardNote], beat: Beat) -> Imported:
    """Notes as a tune that came from elsewhere, on the beats that were meant; what is before bar 1 is a pickup."""
    meter = beat.meter
    bar = meter.bar_ticks
    starts = beat.meant_ticks([note.start for note in notes])
    ends = beat.ends(notes)
    early = max(0, -min(starts, default=0))
    shift = -(-early // bar) * bar
    pickup = early % bar
    shift = shift - bar + pickup if pickup else shift
    key = read_key("C major")
    made = []
    for note, start, end in zip(notes, starts, ends, strict=True):
        length = max(1, end - start)
        pitch = key.spell(note.number)
        made.append(Note(start + shift, note.line, length, pitch, note.number, note.loudness, False, ()))
    last = max((note.end for note in made), default=0)
    voices = [Voice("Heard", end=last), Voice("Heard below", end=last)]
    quarters = beat.tempo * 4 / meter.lower
    frame = Song(grid=BarGrid.of(meter, pickup), tempo=TempoMap([Tempo(0, quarters)]))
    return Imported(song_of(voices, made, frame), Form.LIST, played=True)
