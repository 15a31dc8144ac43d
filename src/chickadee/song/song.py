"""The song itself: its voices, its notes, and the maps of time they live in."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cached_property
from itertools import pairwise
from operator import itemgetter
from typing import NamedTuple, overload

import numpy as np
from numpy.typing import NDArray

from ..notebook import drawn
from ..theory import Key, Naming, Pitch, read_key
from ..theory.frequency import STANDARD_A4, frequency
from .drums import DRUM_NAMES, DRUM_SOUND
from .grid import BarGrid
from .joining import bars_by_slice, one_after_the_other, repeated, together
from .meter import Meter
from .sounds import DEFAULT_SOUND
from .tempo import TempoMap
from .ticks import division_for

__all__ = ["DEFAULT_GAP", "Note", "NoteArrays", "Song", "Voice"]

Span = tuple[int, int]

DEFAULT_GAP = 0.03
"""Seconds of silence at the end of each note where a sheet sets no gap."""


class Note(NamedTuple):
    """One sounding note. (A named tuple, since songs hold very many.)

    >>> note = Note(0, 0, 8_064_000, Pitch("C", 0, 4), 60, 80, False, ((0, 2),))
    >>> note.end, note.sounding
    (8064000, 8064000)
    """

    start: int
    """When it is struck, in ticks from the song's start."""
    voice: int
    """Which of the song's voices plays it, from 0."""
    length: int
    """The written length in ticks, holds joined."""
    pitch: Pitch
    """The pitch, spelled as written."""
    number: int
    """The MIDI number, 0 to 127."""
    loudness: int
    """The MIDI velocity, 1 to 127."""
    short: bool
    """True if it is marked to sound half its length."""
    spans: tuple[Span, ...]
    """(start, end) offsets of the text that wrote it: the sign that strikes it, then its holds."""
    syllable: str = ""
    """The syllable sung on it; one that ends in ``-`` goes on in the next."""

    @property
    def end(self) -> int:
        """The tick at which the written length is over."""
        return self.start + self.length

    @property
    def sounding(self) -> int:
        """The ticks it is to sound, half the written length where it is marked short."""
        return self.length // 2 if self.short else self.length


@dataclass(frozen=True, slots=True, repr=False)
class Voice:
    """One line of the song and how it sounds."""

    name: str
    sound: str = DEFAULT_SOUND
    pan: float = 0.0
    """From -1, all left, to 1, all right."""
    level: int = 80
    """The loudness its notes start with, 1 to 127."""
    gap: float = DEFAULT_GAP
    """Seconds of silence taken from the end of each note, so that equal notes speak apart."""
    range: tuple[int, int] | None = None
    """The lowest and highest MIDI number it can play, where that is known."""
    allow: frozenset[int] | None = None
    """The MIDI numbers it may play, where that is limited; pitches of any octave as their class minus 12."""
    sounds: tuple[tuple[int, str], ...] = ()
    """(tick, sound) of every change of sound after the first."""
    pedals: tuple[tuple[int, int], ...] = ()
    """(down, up) ticks of every time the pedal is pressed."""
    end: int = 0
    """The tick at which its last note or rest is over."""

    def __repr__(self) -> str:
        return f"<Voice {self.name!r}, {self.sound}>"

    @property
    def is_drums(self) -> bool:
        """True if it plays percussion."""
        return self.sound == DRUM_SOUND

    def name_of(self, note: Note, naming: Naming = Naming.LETTERS) -> str:
        """Return the name of a note of this voice: its pitch as it is drawn in a tradition, or its drum."""
        if self.is_drums:
            return DRUM_NAMES.get(note.number, str(note.number))
        return naming.pitch_pretty(note.pitch)

    def sound_at(self, tick: int) -> str:
        """The sound that a note struck at a tick has."""
        place = bisect_right(self.sounds, tick, key=itemgetter(0))
        return self.sounds[place - 1][1] if place else self.sound

    def released(self, tick: int) -> int:
        """When a note that ends at a tick falls silent: at once, or when the pedal that is down then is lifted."""
        place = bisect_right(self.pedals, tick, key=itemgetter(0))
        return max(tick, self.pedals[place - 1][1]) if place else tick


class NoteArrays(NamedTuple):
    """A song's notes as columns, in the order of :attr:`Song.notes`; each has shape (notes,)."""

    start: NDArray[np.int64]
    length: NDArray[np.int64]
    number: NDArray[np.int16]
    loudness: NDArray[np.int16]
    voice: NDArray[np.int32]


_LONGEST_TITLE = 60  # characters in a summary


@dataclass(frozen=True, repr=False)
class Song:
    """Voices and notes at exact times.

    >>> song = Song(title="Two notes")
    >>> song.end, song.seconds, song.key.text
    (0, 0.0, 'C major')
    """

    title: str = ""
    composer: str = ""
    voices: tuple[Voice, ...] = ()
    notes: tuple[Note, ...] = ()
    """In order of start, then voice, then MIDI number."""
    grid: BarGrid = field(default_factory=lambda: BarGrid.of(Meter()))
    keys: tuple[tuple[int, Key], ...] = field(default_factory=lambda: ((0, read_key("C major")),))
    """(tick, key) from tick 0 on."""
    tempo: TempoMap = field(default_factory=TempoMap)
    tuning: float = STANDARD_A4
    """The frequency of A4, in Hz."""
    marks: tuple[tuple[int, str], ...] = ()
    """(tick, words) of places that have a name, in order."""
    naming: Naming = Naming.LETTERS
    """How its sheet names pitches."""

    def __repr__(self) -> str:
        return f"<Song {self.summary}>"

    def _repr_html_(self) -> str | None:
        """The timeline with a player, for a notebook."""
        return drawn(self)

    # A sequence of notes, whose slices are bars

    def __len__(self) -> int:
        return len(self.notes)

    def __bool__(self) -> bool:
        """A song without notes is one, too."""
        return True

    def __iter__(self) -> Iterator[Note]:
        return iter(self.notes)

    @overload
    def __getitem__(self, place: int) -> Note: ...

    @overload
    def __getitem__(self, place: slice) -> Song: ...

    def __getitem__(self, place: int | slice) -> Note | Song:
        """A note by its place, or bars by their numbers: ``song[1:5]`` is bars 1 to 4."""
        if isinstance(place, slice):
            return bars_by_slice(self, place)
        return self.notes[place]

    def __add__(self, other: Song) -> Song:
        """This song and then another, from the next bar on."""
        return one_after_the_other(self, other) if isinstance(other, Song) else NotImplemented

    def __or__(self, other: Song) -> Song:
        """This song and another together."""
        return together(self, other) if isinstance(other, Song) else NotImplemented

    def __mul__(self, times: int) -> Song:
        """The song so many times, one after the other."""
        return repeated(self, times) if isinstance(times, int) else NotImplemented

    __rmul__ = __mul__

    @property
    def summary(self) -> str:
        """A description in a few words: its title, how many notes and voices it has, and how long it lasts."""
        title = self.title if len(self.title) <= _LONGEST_TITLE else self.title[: _LONGEST_TITLE - 1] + "…"
        notes = len(self.notes)
        voices = len(self.voices)
        return (
            f"{title!r}, {notes:,} note{'s' * (notes != 1)} in {voices} voice{'s' * (voices != 1)}, "
            f"{self._bars}{self.seconds:.1f} s"
        )

    @property
    def _bars(self) -> str:
        if not self.end:
            return ""
        bars = self.last_bar - self.first_bar + 1
        return f"{bars:,} bar{'s' * (bars != 1)}, "

    @property
    def meter(self) -> Meter:
        """The opening meter."""
        return self.grid.changes[0][1]

    @property
    def key(self) -> Key:
        """The opening key."""
        return self.keys[0][1]

    @property
    def tempo_in_beats(self) -> float:
        """The opening tempo in beats of the opening meter a minute."""
        return self.tempo.tempos[0].quarters_per_minute * self.meter.lower / 4

    @cached_property
    def end(self) -> int:
        """The tick at which the longest voice is over, rests included."""
        return max((voice.end for voice in self.voices), default=0)

    @property
    def beats(self) -> Fraction:
        """The length of the whole song in beats of its opening meter."""
        return Fraction(self.end, self.meter.beat_ticks)

    @property
    def first_bar(self) -> int:
        """The number of the bar that the song begins with: 0 where there is a pickup."""
        return self.grid.number_at(0)

    @property
    def last_bar(self) -> int:
        """The number of the bar that the song ends in; that of the first where the song is empty."""
        return self.grid.number_at(max(0, self.end - 1))

    @cached_property
    def seconds(self) -> float:
        """The length of the whole song in seconds."""
        return float(self.tempo.seconds(self.end))

    @cached_property
    def arrays(self) -> NoteArrays:
        """The notes as NumPy columns."""
        columns = list(zip(*self.notes, strict=True)) or [()] * 9
        return NoteArrays(
            start=np.array(columns[0], dtype=np.int64),
            length=np.array(columns[2], dtype=np.int64),
            number=np.array(columns[4], dtype=np.int16),
            loudness=np.array(columns[5], dtype=np.int16),
            voice=np.array(columns[1], dtype=np.int32),
        )

    @cached_property
    def by_voice(self) -> tuple[NDArray[np.int64], ...]:
        """For each voice the indices of its notes, in order."""
        voice = self.arrays.voice
        order = np.argsort(voice, kind="stable").astype(np.int64)
        edges = np.searchsorted(voice[order], np.arange(len(self.voices) + 1)).tolist()
        return tuple(order[first:last] for first, last in pairwise(edges))

    def melody(self, voice: int) -> list[int]:
        """Indices of a voice's notes of which none is struck higher at the same time, in order."""
        mine = self.by_voice[voice]  # in order of start, then MIDI number
        start = self.arrays.start[mine]
        highest = np.append(start[1:] != start[:-1], [True] * (len(mine) > 0)).astype(bool)
        return list(map(int, mine[highest]))

    def melodies(self) -> list[list[int]]:
        """The melody of each voice that has notes and is no drum kit."""
        pitched = [
            place for place, voice in enumerate(self.voices) if not voice.is_drums and len(self.by_voice[place])
        ]
        return [self.melody(place) for place in pitched]

    @cached_property
    def by_bar(self) -> dict[tuple[int, int], list[int]]:
        """Indices of the notes struck in each bar of each voice, by (voice, number of the bar)."""
        found: dict[tuple[int, int], list[int]] = {}
        for index, note in enumerate(self.notes):
            found.setdefault((note.voice, self.grid.number_at(note.start)), []).append(index)
        return found

    @cached_property
    def times(self) -> NDArray[np.int64]:
        """Every tick at which something happens that a MIDI file must hold, in order: strikes, ends, changes."""
        starts = self.arrays.start
        lengths = self.arrays.length
        short = np.array([note.short for note in self.notes], dtype=bool)
        found = [voice.end for voice in self.voices]
        found += [tick for tick, _ in (*self.grid.changes, *self.keys)]
        for voice in self.voices:
            found += [tick for tick, _ in voice.sounds]
            found += [tick for pedal in voice.pedals for tick in pedal]
        ends = starts + np.where(short, lengths // 2, lengths)
        every = np.sort(np.concatenate([starts, ends, np.array(found, dtype=np.int64)]))
        return every[np.diff(every, prepend=-1) > 0]  # as np.unique, which would bring in masked arrays

    @cached_property
    def division(self) -> int | None:
        """The smallest exact division of a quarter note for a MIDI file; None where there is none."""
        return division_for([int(np.gcd.reduce(self.times, initial=0))])

    def key_at(self, tick: int) -> Key:
        """The key in force at a tick."""
        return self.keys[max(0, bisect_right(self._key_ticks, tick) - 1)][1]

    @cached_property
    def _key_ticks(self) -> list[int]:
        return [tick for tick, _ in self.keys]

    def frequency(self, number: int) -> float:
        """The frequency in Hz of a MIDI number in this song's tuning."""
        return frequency(number, self.tuning)
