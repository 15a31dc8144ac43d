"""Chords by their trade symbols: ``Am``, ``G7``, ``F#dim``, ``C/E``."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from operator import attrgetter

from ..caching import remembered
from .pitch import LETTERS, Pitch, PitchName, read_pitch_name

__all__ = ["CHORD_KINDS", "Chord", "ChordKind", "read_chord", "recognized"]


@dataclass(frozen=True, slots=True)
class ChordKind:
    """A kind of chord: for each pitch, letters and semitones above the root.

    >>> CHORD_KINDS["m"].semitones
    (0, 3, 7)
    """

    symbol: str
    """The symbol after the root; empty for a major triad."""
    name: str
    letters: tuple[int, ...]
    semitones: tuple[int, ...]


_DEGREES = {
    "1": (0, 0), "2": (1, 2), "b3": (2, 3), "3": (2, 4), "4": (3, 5), "b5": (4, 6), "5": (4, 7), "#5": (4, 8),
    "6": (5, 9), "bb7": (6, 9), "b7": (6, 10), "7": (6, 11), "b9": (8, 13), "9": (8, 14), "#9": (8, 15),
}  # fmt: skip


def _kind(symbol: str, name: str, degrees: str) -> ChordKind:
    pairs = [_DEGREES[degree] for degree in degrees.split()]
    return ChordKind(symbol, name, tuple(pair[0] for pair in pairs), tuple(pair[1] for pair in pairs))


_ALL = (
    _kind("", "major", "1 3 5"),
    _kind("m", "minor", "1 b3 5"),
    _kind("dim", "diminished", "1 b3 b5"),
    _kind("aug", "augmented", "1 3 #5"),
    _kind("5", "fifth alone", "1 5"),
    _kind("sus2", "suspended second", "1 2 5"),
    _kind("sus4", "suspended fourth", "1 4 5"),
    _kind("6", "sixth", "1 3 5 6"),
    _kind("m6", "minor sixth", "1 b3 5 6"),
    _kind("7", "seventh", "1 3 5 b7"),
    _kind("maj7", "major seventh", "1 3 5 7"),
    _kind("m7", "minor seventh", "1 b3 5 b7"),
    _kind("mmaj7", "minor with major seventh", "1 b3 5 7"),
    _kind("dim7", "diminished seventh", "1 b3 b5 bb7"),
    _kind("m7b5", "half-diminished", "1 b3 b5 b7"),
    _kind("aug7", "seventh with raised fifth", "1 3 #5 b7"),
    _kind("7b5", "seventh with lowered fifth", "1 3 b5 b7"),
    _kind("7sus4", "suspended seventh", "1 4 5 b7"),
    _kind("9", "ninth", "1 3 5 b7 9"),
    _kind("maj9", "major ninth", "1 3 5 7 9"),
    _kind("m9", "minor ninth", "1 b3 5 b7 9"),
    _kind("7b9", "seventh with lowered ninth", "1 3 5 b7 b9"),
    _kind("7#9", "seventh with raised ninth", "1 3 5 b7 #9"),
    _kind("69", "sixth with ninth", "1 3 5 6 9"),
    _kind("add9", "added ninth", "1 3 5 9"),
    _kind("madd9", "minor with added ninth", "1 b3 5 9"),
)

CHORD_KINDS: dict[str, ChordKind] = {kind.symbol: kind for kind in _ALL}
"""Every kind of chord by its symbol."""

_SAME = {
    "maj": "", "M": "", "min": "m", "mi": "m", "-": "m", "°": "dim", "o": "dim", "+": "aug", "sus": "sus4",
    "min6": "m6", "M7": "maj7", "Maj7": "maj7", "min7": "m7", "-7": "m7", "mM7": "mmaj7", "°7": "dim7", "o7": "dim7",
    "ø": "m7b5",
    "ø7": "m7b5", "min7b5": "m7b5", "7#5": "aug7", "+7": "aug7", "M9": "maj9", "min9": "m9", "6/9": "69", "2": "sus2",
    "4": "sus4", "madd2": "madd9", "add2": "add9",
}  # fmt: skip
_SYMBOL = re.compile(r"([A-Ga-g](?:##|#|♯|bb|b|♭)?)([^/\s]*(?:6/9)?)(?:/([A-Ga-g](?:#|♯|b|♭)?))?")


@dataclass(frozen=True, slots=True, repr=False)
class Chord:
    """A chord symbol.

    >>> chord = read_chord("C/E")
    >>> [pitch.text for pitch in chord.pitches(4)]
    ['E3', 'C4', 'E4', 'G4']
    """

    root: PitchName
    kind: ChordKind
    bass: PitchName | None = None

    def __repr__(self) -> str:
        return f"<Chord {self.text}>"

    @property
    def text(self) -> str:
        """The symbol: ``F#m7/A``."""
        return f"{self.root.text}{self.kind.symbol}{'/' + self.bass.text if self.bass else ''}"

    @property
    def pretty(self) -> str:
        """The symbol as the window draws it: ``F♯m7/A``; a major triad says so, since ``C`` is a note too."""
        return f"{self.root.pretty}{self.kind.symbol or ' major'}{'/' + self.bass.pretty if self.bass else ''}"

    def pitches(self, octave: int) -> tuple[Pitch, ...]:
        """Its pitches from the lowest up, the root in an octave; a bass is the next of its name below the root."""
        root = self.root.at(octave)
        found = [
            _above(root, letters, semitones)
            for letters, semitones in zip(self.kind.letters, self.kind.semitones, strict=True)
        ]
        if self.bass is not None:
            below = root.number - ((root.number - self.bass.pitch_class) % 12 or 12)
            found.insert(0, self.bass.nearest(below))
        return tuple(found)


@remembered(6_000, 32)
def read_chord(symbol: str) -> Chord | None:
    """The chord that a symbol names, or None."""
    found = _SYMBOL.fullmatch(symbol)
    if found is None:
        return None
    kind = CHORD_KINDS.get(_SAME.get(found[2], found[2].replace("♭", "b").replace("♯", "#")))
    root = read_pitch_name(found[1])
    bass = read_pitch_name(found[3]) if found[3] else None
    if kind is None or root is None:
        return None
    return Chord(root[0], kind, bass[0] if bass else None)


def recognized(pitches: Sequence[Pitch]) -> Chord | None:
    """The chord that some pitches make, whatever octaves they are in; None for fewer than three different ones.

    Where several fit, the one whose root is the lowest pitch is meant.

    >>> recognized([Pitch("E", 0, 3), Pitch("C", 0, 4), Pitch("G", 0, 4)]).text
    'C/E'
    """
    if len({pitch.number % 12 for pitch in pitches}) < 3:
        return None
    rising = sorted(pitches, key=attrgetter("number"))
    for pitch in rising:
        above = {(other.number - pitch.number) % 12 for other in pitches}
        for kind in CHORD_KINDS.values():
            if {semitones % 12 for semitones in kind.semitones} == above:
                return Chord(pitch.name, kind, None if pitch.number == rising[0].number else rising[0].name)
    return None


def _above(root: Pitch, letters: int, semitones: int) -> Pitch:
    octaves, place = divmod(LETTERS.index(root.letter) + letters, 7)
    plain = Pitch(LETTERS[place], 0, root.octave + octaves)
    return Pitch(plain.letter, root.number + semitones - plain.number, plain.octave)
