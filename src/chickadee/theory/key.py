"""Keys: a tonic, its scale, and how numbers are spelled there."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cached_property

from ..caching import remembered
from ..faults import InputFault
from .interval import Interval
from .pitch import LETTERS, Pitch, PitchName, read_pitch_name
from .scale import SCALES, Scale

__all__ = ["Key", "KeyNameError", "read_key"]


_PLAIN = (0, 2, 4, 5, 7, 9, 11, 12)  # semitones of the major scale's steps


_LONGEST = 40  # characters of what cannot be read that a sentence names


class KeyNameError(InputFault):
    """A key that cannot be read; its text says why in one sentence."""


@dataclass(frozen=True, repr=False)
class Key:
    """A tonic and a scale.

    >>> key = read_key("D major")
    >>> [name.text for name in key.names]
    ['D', 'E', 'F#', 'G', 'A', 'B', 'C#']
    >>> key.spell(66).text, key.contains(66), key.signature
    ('F#4', True, 2)
    """

    tonic: PitchName
    scale: Scale
    names: tuple[PitchName, ...]
    """The scale's pitch names from the tonic up, one for each step."""

    def __repr__(self) -> str:
        return f"<Key {self.text}>"

    @property
    def text(self) -> str:
        """The key as a sheet writes it: ``Bb minor``, or its pitches where they were spelled out."""
        if self.scale.name:
            return f"{self.tonic.text} {self.scale.name}"
        return " ".join(name.text for name in self.names)

    @property
    def pretty(self) -> str:
        """The key as the window draws it: ``B♭ minor``."""
        if self.scale.name:
            return f"{self.tonic.pretty} {self.scale.name}"
        return " ".join(name.pretty for name in self.names)

    @property
    def signature(self) -> int:
        """Sharps (above zero) or flats (below zero) of the key signature, -7 to 7.

        Keys with more than seven, which no signature can show, give that of their enharmonic equal.
        """
        place = self.tonic.fifths + self.scale.signature
        return place if -7 <= place <= 7 else (place + 5) % 12 - 5

    @property
    def do(self) -> PitchName:
        """The tonic of the major scale that has the key's signature: what do is called where it moves with the key.

        >>> [read_key(name).do.text for name in ("D major", "E minor", "D dorian", "Bb major")]
        ['D', 'G', 'C', 'Bb']
        """
        accidental, letter = divmod(self.tonic.fifths + self.scale.signature + 1, 7)
        return PitchName("FCGDAEB"[letter], accidental)

    def contains(self, number: int) -> bool:
        """Return whether a MIDI number is one of the scale's pitches."""
        return number % 12 in self._names_by_class

    def spell(self, number: int) -> Pitch:
        """The spelling of a MIDI number in this key.

        Pitches of the scale keep the scale's name, and the semitone under the tonic is its leading note where one
        accidental writes it. The others are white keys by their letters, or take the name within three fifths below
        and eight above the signature's major tonic (in C major E♭ B♭ F♯ C♯ G♯).
        """
        return self._spellings[number % 12].nearest(number)

    def at_step(self, step: int, octave: int, raised: int = 0) -> Pitch:
        """The pitch of a step, 1 being the tonic at or above an octave's C, going on past the scale's last.

        >>> read_key("G major").at_step(8, 4).text
        'G5'
        """
        bottom = 12 * (octave + 1)
        tonic = bottom + (self.tonic.pitch_class - bottom) % 12
        return self._at(tonic, step - 1, raised)

    def moved_by_steps(self, pitch: Pitch, steps: int) -> Pitch:
        """A pitch so many steps of the scale higher (or lower).

        One outside the scale goes by its letter, and stays as much raised or lowered: F in G major, a step up, is Gb.

        The result may need a double accidental; :meth:`spell` has a simpler name for it.
        """
        step, raised = self._step_of(pitch)
        return self._at(self.tonic.pitch_class, step + steps, raised)

    def mirrored(self, pitch: Pitch, axis: Pitch) -> Pitch:
        """A pitch as many steps on the other side of an axis."""
        (step, raised) = self._step_of(pitch)
        (middle, middle_raised) = self._step_of(axis)
        return self._at(self.tonic.pitch_class, 2 * middle - step, 2 * middle_raised - raised)

    def in_scale(self, scale: Scale) -> Key:
        """Another scale on the same tonic."""
        return Key(self.tonic, scale, _names(self.tonic, scale))

    def moved(self, interval: Interval) -> Key:
        """The same scale on a tonic an interval away; every name moves by as many letters."""
        if not self.scale.name:
            return _spelled_out([interval.above_name(name) for name in self.names])
        tonic = interval.above_name(self.tonic)
        return Key(tonic, self.scale, _names(tonic, self.scale))

    def raised_by(self, semitones: int) -> tuple[Key, Interval]:
        """The same scale some semitones away, with the tonic's usual name, and the interval between the tonics.

        The usual name is the one with the fewest sharps or flats in the signature: D♭ major, not C♯ major. Of six
        sharps and six flats, major keys take the sharps (F♯ major) and minor ones the flats (E♭ minor).
        """
        octaves, up = divmod(semitones, 12)
        ways = [Interval(letters, up) for letters in range(8) if abs(_PLAIN[letters] - up) <= 2]
        keys = [(way, self.moved(way)) for way in ways if up or not way.letters]
        way, key = min(keys, key=lambda each: _oddness(each[1]))
        return key, Interval(way.letters + 7 * octaves, semitones)

    def counterpart(self, pitch: Pitch, other: Key) -> Pitch:
        """The pitch that has the same step in another key of as many steps, in the octave above the same tonic.

        >>> read_key("C major").counterpart(Pitch("E", 0, 4), read_key("C minor")).text
        'Eb4'
        """
        step, raised = self._step_of(pitch)
        tonic = self.tonic.pitch_class + (other.tonic.pitch_class - self.tonic.pitch_class + 6) % 12 - 6
        return other._at(tonic, step, raised)

    def _at(self, tonic: int, steps: int, raised: int) -> Pitch:
        octaves, place = divmod(steps, len(self.names))
        number = tonic + 12 * octaves + self._offsets[place]
        if not raised:
            return self.names[place].nearest(number)
        name = PitchName(self.names[place].letter, self.names[place].accidental + raised)
        return name.nearest(number + raised)

    def _step_of(self, pitch: Pitch) -> tuple[int, int]:
        """The steps from the tonic of octave -1 to a pitch, and the semitones it is raised above that step.

        A pitch outside the scale belongs to the step of its own letter, or else to the one below it.
        """
        for place, name in enumerate(self.names):
            if name.letter == pitch.letter and abs(pitch.accidental - name.accidental) <= 2:
                raised = pitch.accidental - name.accidental
                if len(self.names) != 7 and raised:
                    continue
                number = pitch.number - raised - self.tonic.pitch_class
                return (number - self._offsets[place]) // 12 * len(self.names) + place, raised
        octaves, above = divmod(pitch.number - self.tonic.pitch_class, 12)
        place = max(place for place, offset in enumerate(self._offsets) if offset <= above)
        return octaves * len(self.names) + place, above - self._offsets[place]

    @cached_property
    def _offsets(self) -> tuple[int, ...]:
        return tuple((name.pitch_class - self.tonic.pitch_class) % 12 for name in self.names)

    @cached_property
    def _names_by_class(self) -> dict[int, PitchName]:
        return {name.pitch_class: name for name in self.names}

    @cached_property
    def _spellings(self) -> tuple[PitchName, ...]:
        near = map(PitchName.from_fifths, range(self.signature - 3, self.signature + 9))
        names = {name.pitch_class: name for name in near}
        names |= _NATURALS  # all that would need a double accidental are among them
        letter = PitchName(LETTERS[LETTERS.index(self.tonic.letter) - 1])
        below = (self.tonic.pitch_class - 1) % 12
        raised = (below - letter.pitch_class + 6) % 12 - 6
        if abs(raised) <= 1:
            names[below] = PitchName(letter.letter, raised)
        names |= self._names_by_class
        return tuple(names[pitch_class] for pitch_class in range(12))


_SCALE_NAMES = {"natural minor": "minor", "aeolian": "minor", "ionian": "major"}
"""Other names of scales."""
_NATURALS = {name.pitch_class: name for name in map(PitchName.from_fifths, range(-1, 6))}


@remembered(8_000, 120)
def read_key(text: str) -> Key:
    """The key that ``text`` names: ``G major``, ``f# harmonic minor``, ``C D E G A``; a tonic alone is major.

    Raises KeyNameError with a sentence when it cannot be read.
    """
    words = text.replace(",", " ").split()
    if not words:
        raise KeyNameError("A key needs a tonic, such as G major.")
    names = [_tonic(word) for word in words]
    if len(words) >= 3 and all(names):
        return _spelled_out([name for name in names if name is not None])
    tonic = names[0]
    rest = [word.lower() for word in words[1:]]
    if tonic is None and (found := re.fullmatch(r"(.+)m", words[0])):
        tonic = _tonic(found[1])
        rest = ["minor", *rest]
    if tonic is not None and rest[:1] in (["flat"], ["sharp"]):
        tonic = PitchName(tonic.letter, 1 if rest[0] == "sharp" else -1)
        rest = rest[1:]
    if tonic is None or abs(tonic.accidental) > 1:
        raise KeyNameError(
            f"“{words[0][:_LONGEST]}” is not a tonic; a key begins with a letter from A to G, as in G major."
        )
    asked = " ".join(rest) or "major"
    scale = SCALES.get(_SCALE_NAMES.get(asked, asked))
    if scale is None:
        raise KeyNameError(
            f"“{' '.join(rest)[:_LONGEST]}” is not a scale; major, minor and dorian are some that are known."
        )
    return Key(tonic, scale, _names(tonic, scale))


def _tonic(word: str) -> PitchName | None:
    found = read_pitch_name(word)
    return found[0] if found and found[1] is None else None


def _names(tonic: PitchName, scale: Scale) -> tuple[PitchName, ...]:
    first = LETTERS.index(tonic.letter)
    names = []
    for letters, semitones in zip(scale.letters, scale.semitones, strict=True):
        letter = PitchName(LETTERS[(first + letters) % 7])
        accidental = (tonic.pitch_class + semitones - letter.pitch_class + 6) % 12 - 6
        names.append(PitchName(letter.letter, accidental))
    return tuple(names)


def _oddness(key: Key) -> tuple[int, int, bool]:
    """How far a key is from the usual ones: accidentals of the tonic beyond one, of the signature, and the tie."""
    place = key.tonic.fifths + key.scale.signature
    return max(0, abs(key.tonic.accidental) - 1), abs(place), (place > 0) == key.scale.minor


def _spelled_out(names: list[PitchName]) -> Key:
    """A key given by its pitches, the tonic first; repeats are dropped."""
    tonic = names[0]
    steps = sorted(
        {name.pitch_class: name for name in reversed(names)}.values(),
        key=lambda name: (name.pitch_class - tonic.pitch_class) % 12,
    )
    semitones = tuple((name.pitch_class - tonic.pitch_class) % 12 for name in steps)
    letters = tuple((LETTERS.index(name.letter) - LETTERS.index(tonic.letter)) % 7 for name in steps)
    accidentals = sum(name.accidental for name in steps)
    return Key(tonic, Scale("", letters, semitones, accidentals - tonic.fifths, 3 in semitones), tuple(steps))
