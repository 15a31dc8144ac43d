"""Counts in a song: pitches, intervals, lengths, beats and seconds."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from math import gcd
from operator import attrgetter

from ..theory import Interval, Pitch
from .song import Note, Song
from .ticks import TICKS_PER_QUARTER

__all__ = ["Facts", "facts_of"]


@dataclass(frozen=True, slots=True)
class Facts:
    """Counts of some notes of a song; drums count as notes and not as pitches.

    >>> from chickadee import read
    >>> song = read("C4 E4 C4=2").song
    >>> facts = facts_of(song)
    >>> facts.notes, [(pitch.text, count) for pitch, count in facts.pitches], facts.numbers
    (3, [('C4', 2), ('E4', 1)], (60, 64, 60))
    """

    notes: int
    pitches: tuple[tuple[Pitch, int], ...]
    """Each different MIDI number, as it is written first, and how often it comes; from the lowest up."""
    range: tuple[Pitch, Pitch] | None
    """The lowest and highest pitch."""
    intervals: tuple[tuple[str, int], ...]
    """Each interval from note to note of a voice by its name, either way, and how often; most often first."""
    lengths: tuple[tuple[Fraction, int], ...]
    """Each length, in quarter notes, and how often; from the shortest."""
    beats: Fraction
    """From the first strike to the last end, in beats of the opening meter."""
    seconds: float
    shared: Fraction
    """The part of the notes whose text also writes others."""
    tick: Fraction
    """The longest time, in beats of the opening meter, of which every start and length is a whole number; 0 for no
    notes."""
    names: tuple[str, ...]
    """The pitches in order, by name."""
    numbers: tuple[int, ...]
    """The same as MIDI numbers."""


def facts_of(song: Song, notes: Sequence[int] | None = None) -> Facts:
    """Count a song's notes, or some of them by their indices."""
    chosen = [song.notes[index] for index in (range(len(song.notes)) if notes is None else notes)]
    tuned = [note for note in chosen if not song.voices[note.voice].is_drums]
    start = min((note.start for note in chosen), default=0)
    end = max((note.end for note in chosen), default=0)
    if notes is None:
        start = 0
        end = song.end
    beat = song.meter.beat_ticks
    spans = Counter(note.spans[0] for note in song.notes)
    return Facts(
        notes=len(chosen),
        pitches=_pitches(tuned),
        range=_range(tuned),
        intervals=tuple(_intervals(tuned).most_common()),
        lengths=tuple(sorted(Counter(Fraction(note.length, TICKS_PER_QUARTER) for note in chosen).items())),
        beats=Fraction(end - start, beat),
        seconds=float(song.tempo.seconds(end) - song.tempo.seconds(start)),
        shared=Fraction(sum(spans[note.spans[0]] > 1 for note in chosen), max(1, len(chosen))),
        tick=Fraction(gcd(*(time for note in chosen for time in (note.start, note.length))), beat),
        names=tuple(song.naming.pitch_text(note.pitch) for note in tuned),
        numbers=tuple(note.number for note in tuned),
    )


def _pitches(notes: list[Note]) -> tuple[tuple[Pitch, int], ...]:
    first: dict[int, Pitch] = {}
    for note in notes:
        first.setdefault(note.number, note.pitch)
    counts = Counter(note.number for note in notes)
    return tuple((first[number], counts[number]) for number in sorted(first))


def _range(notes: list[Note]) -> tuple[Pitch, Pitch] | None:
    if not notes:
        return None
    rising = sorted(notes, key=attrgetter("number"))
    return rising[0].pitch, rising[-1].pitch


def _intervals(notes: list[Note]) -> Counter[str]:
    """The melody's intervals, voice by voice, of notes struck together the highest."""
    melodies: dict[int, dict[int, Note]] = {}
    for note in notes:
        melodies.setdefault(note.voice, {})[note.start] = note  # the highest of a start comes last
    found: Counter[str] = Counter()
    for melody in melodies.values():
        for before, after in pairwise(melody.values()):
            found[Interval.between(before.pitch, after.pitch).name] += 1
    return found
