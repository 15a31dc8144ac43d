"""Ways of moving pitches: by semitones with the key, by semitones within it, by steps, by octaves."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Protocol

from ..theory import Interval, Key, Pitch, Scale

__all__ = ["Chromatic", "Composed", "Diatonic", "Octaves", "Shift", "ToScale", "WithKey"]


class Shift(Protocol):
    """Where each pitch goes, and what becomes of the key."""

    def moved(self, pitch: Pitch, key: Key) -> Pitch:
        """A pitch of a key after the move, perhaps outside MIDI."""

    def moved_key(self, key: Key) -> Key:
        """The key it has then."""

    @property
    def change(self) -> tuple[int, str] | None:
        """How the language says it after a phrase: how many, and ``""``, ``"step"`` or ``"octave"``; None where it
        has no word for it."""


@dataclass(frozen=True, slots=True)
class WithKey:
    """By an interval, letter by letter, and the key goes along.

    >>> from chickadee.theory import read_key
    >>> shift = WithKey.by_semitones(read_key("C major"), 2)
    >>> shift.moved(Pitch("F", 1, 4), read_key("C major")).text, shift.moved_key(read_key("C major")).text
    ('G#4', 'D major')
    """

    interval: Interval
    """Between the opening keys' tonics."""

    @classmethod
    def by_semitones(cls, key: Key, semitones: int) -> WithKey:
        """To the key some semitones away, by its usual name."""
        return cls(key.raised_by(semitones)[1])

    def moved(self, pitch: Pitch, key: Key) -> Pitch:
        """As its key spells it where it was spelled so before; otherwise letter by letter, or as the key spells it
        where that would need two accidentals that were not written."""
        other, interval = _way(key, self.interval)
        new = interval.above(pitch)
        if key.spell(pitch.number) == pitch:
            return other.spell(new.number)
        return new if abs(new.accidental) <= max(1, abs(pitch.accidental)) else other.spell(new.number)

    def moved_key(self, key: Key) -> Key:
        """The key an interval away, under its usual name where the interval's would need too many accidentals."""
        return _way(key, self.interval)[0]

    @property
    def change(self) -> tuple[int, str]:
        """Semitones."""
        return self.interval.semitones, ""


@lru_cache
def _way(key: Key, interval: Interval) -> tuple[Key, Interval]:
    """The key that one goes to by an interval, under its usual name, and the interval to it."""
    moved = key.moved(interval)
    plain = abs(moved.tonic.fifths + moved.scale.signature) <= 7 and abs(moved.tonic.accidental) <= 1
    return (moved, interval) if plain else key.raised_by(interval.semitones)


@dataclass(frozen=True, slots=True)
class Chromatic:
    """By semitones inside a key that stays: for a part of a tune."""

    semitones: int

    def moved(self, pitch: Pitch, key: Key) -> Pitch:
        """The key's spelling of the new number."""
        if self.semitones % 12 == 0:
            return Pitch(pitch.letter, pitch.accidental, pitch.octave + self.semitones // 12)
        return key.spell(pitch.number + self.semitones)

    def moved_key(self, key: Key) -> Key:
        """The same."""
        return key

    @property
    def change(self) -> tuple[int, str]:
        """Semitones."""
        return self.semitones, ""


@dataclass(frozen=True, slots=True)
class Diatonic:
    """By steps of the key in force at each note."""

    steps: int

    def moved(self, pitch: Pitch, key: Key) -> Pitch:
        """As many steps away; with a simpler name where two accidentals would be needed that were not written."""
        new = key.moved_by_steps(pitch, self.steps)
        return new if abs(new.accidental) <= max(1, abs(pitch.accidental)) else key.spell(new.number)

    def moved_key(self, key: Key) -> Key:
        """The same."""
        return key

    @property
    def change(self) -> tuple[int, str]:
        """Steps."""
        return self.steps, "step"


@dataclass(frozen=True, slots=True)
class Octaves:
    """By whole octaves."""

    octaves: int

    def moved(self, pitch: Pitch, key: Key) -> Pitch:
        """The same name in another octave."""
        return Pitch(pitch.letter, pitch.accidental, pitch.octave + self.octaves)

    def moved_key(self, key: Key) -> Key:
        """The same."""
        return key

    @property
    def change(self) -> tuple[int, str]:
        """Octaves."""
        return self.octaves, "octave"


@dataclass(frozen=True, slots=True)
class ToScale:
    """Into another scale on the same tonic: step by step, or to the nearest pitch where it has more or fewer steps.

    >>> from chickadee.theory import SCALES, read_key
    >>> c_major = read_key("C major")
    >>> ToScale(SCALES["minor"]).moved(Pitch("E", 0, 4), c_major).text
    'Eb4'
    >>> ToScale(SCALES["major pentatonic"]).moved(Pitch("F", 0, 4), c_major).text
    'E4'
    """

    scale: Scale

    def moved(self, pitch: Pitch, key: Key) -> Pitch:
        """The same step of the other scale; a raised step that the other scale has as it stands, stays."""
        other = self.moved_key(key)
        if len(other.names) != len(key.names):
            return _nearest(other, pitch)
        if pitch.name in other.names:
            names = [name.letter for name in key.names]
            if pitch.name not in key.names and len(set(names)) == len(names):
                return pitch
        new = key.counterpart(pitch, other)
        return new if abs(new.accidental) <= max(1, abs(pitch.accidental)) else other.spell(new.number)

    def moved_key(self, key: Key) -> Key:
        """The other scale on the same tonic."""
        return key.in_scale(self.scale)

    @property
    def change(self) -> None:
        """The language has no word for it."""
        return None


def _nearest(key: Key, pitch: Pitch) -> Pitch:
    """The pitch of a key that is nearest to another; of two that are as near the lower one."""
    around = sorted(
        range(pitch.number - 6, pitch.number + 7), key=lambda number: (abs(number - pitch.number), number)
    )
    return key.spell(next(number for number in around if key.contains(number)))


@dataclass(frozen=True, slots=True)
class Composed:
    """One shift after another."""

    first: Shift
    second: Shift

    def moved(self, pitch: Pitch, key: Key) -> Pitch:
        """Moved by both."""
        return self.second.moved(self.first.moved(pitch, key), self.first.moved_key(key))

    def moved_key(self, key: Key) -> Key:
        """Moved by both."""
        return self.second.moved_key(self.first.moved_key(key))

    @property
    def change(self) -> None:
        """The language has no word for it."""
        return None
