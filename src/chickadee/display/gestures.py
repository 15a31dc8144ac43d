"""Gestures on the roll: a drag as a proposal, said in words before it is done."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum
from fractions import Fraction

from ..song import Song
from . import words

__all__ = ["Drag", "Grip", "Proposal"]


class Grip(Enum):
    """Which part of a note is held."""

    BODY = "body"
    """Moves it in pitch and time."""
    END = "end"
    """Stretches it."""
    EDGE = "edge"
    """Its darker first edge: makes it louder or softer."""


@dataclass(frozen=True, slots=True)
class Proposal:
    """The change that would be made if the pointer let go now."""

    semitones: int = 0
    beats: Fraction = Fraction(0)
    """How much later."""
    longer: Fraction = Fraction(0)
    """How many beats longer."""
    louder: int = 0

    @property
    def is_nothing(self) -> bool:
        """True if nothing would."""
        return self == Proposal()


@dataclass(frozen=True, slots=True)
class Drag:
    """A note held at some place, and the grid it moves by.

    >>> from chickadee import read
    >>> drag = Drag(read("C4 E4").song, 1, Grip.BODY, grid=Fraction(1, 2))
    >>> drag.proposal(semitones=3, beats=0.6).beats
    Fraction(1, 2)
    >>> drag.said(drag.proposal(semitones=3, beats=0.6))
    'G4, bar 1 beat 2½, 1 beat'
    """

    song: Song
    note: int
    grip: Grip
    grid: Fraction
    """Beats."""

    def proposal(self, semitones: int, beats: float) -> Proposal:
        """Return the proposal of a movement by so many lanes and beats."""
        steps = round(beats / float(self.grid)) * self.grid
        if self.grip is Grip.BODY:
            number = self.song.notes[self.note].number
            return Proposal(semitones=max(-number, min(127 - number, semitones)), beats=steps)
        if self.grip is Grip.END:
            return Proposal(longer=max(steps, self.grid - self._beats()))
        loudness = self.song.notes[self.note].loudness
        return Proposal(louder=max(1 - loudness, min(127 - loudness, 4 * semitones)))

    def said(self, proposal: Proposal) -> str:
        """The note as it would be."""
        note = self.song.notes[self.note]
        beat = self.song.grid.meter_at(note.start).beat_ticks
        start = note.start + int(proposal.beats * beat)
        if start < 0:
            return "That is before the tune begins."
        place = self.song.grid.place(start)
        pitch = self.song.key_at(note.start).spell(note.number + proposal.semitones)
        name = self.song.naming.pitch_pretty(pitch)
        length = words.counted_beats(self._beats() + proposal.longer)
        said = f"{name}, bar {place.bar} beat {words.beats(place.beat)}, {length}"
        return f"{said}, loudness {note.loudness + proposal.louder}" if self.grip is Grip.EDGE else said

    def _beats(self) -> Fraction:
        note = self.song.notes[self.note]
        return self.song.grid.beats(note.start, note.length)
