"""Syllables with a moving do: do is the first step of the key, la that of a minor one."""

from __future__ import annotations

from .key import Key
from .naming import Naming
from .pitch import LETTERS, PitchName

__all__ = ["do_of", "read_moving", "syllable"]


def do_of(key: Key) -> PitchName:
    """The name that do has in a key: where its pitches are those of a major scale that scale's tonic, else its own.

    >>> from . import read_key
    >>> [do_of(read_key(key)).text for key in ("G major", "E minor", "D dorian", "A harmonic minor")]
    ['G', 'G', 'C', 'C']
    """
    if key.scale.name in _MINORS:
        return _above(key.tonic, PitchName("E", -1))
    for name in key.names:
        if len(key.names) == 7 and {each.pitch_class for each in key.names} == {
            (name.pitch_class + step) % 12 for step in _MAJOR
        }:
            return name
    return key.tonic


def syllable(name: PitchName, key: Key) -> str:
    """What a name is called in a key, as it is drawn.

    >>> from . import read_key
    >>> [syllable(PitchName(*name), read_key("E minor")) for name in (("E", 0), ("D", 1), ("G", 0), ("F", 1))]
    ['la', 'sol♯', 'do', 'ti']
    """
    do = do_of(key)
    letter = LETTERS[(LETTERS.index(name.letter) - LETTERS.index(do.letter)) % 7]
    plain = PitchName(letter, 0)
    raised = (name.pitch_class - do.pitch_class - plain.pitch_class + 6) % 12 - 6
    drawn = Naming.SYLLABLES.pretty(PitchName(letter, raised))
    return "ti" + drawn[2:] if letter == "B" else drawn


def read_moving(text: str, key: Key) -> PitchName | None:
    """The name that a syllable is in a key; None for what is no syllable."""
    read = Naming.SYLLABLES.read(text)
    return _above(do_of(key), read[0]) if read is not None and read[1] is None else None


_MAJOR = (0, 2, 4, 5, 7, 9, 11)
_MINORS = ("minor", "harmonic minor", "melodic minor")


def _above(tonic: PitchName, name: PitchName) -> PitchName:
    """The name that is as far above a tonic as another is above C."""
    letter = LETTERS[(LETTERS.index(tonic.letter) + LETTERS.index(name.letter)) % 7]
    raised = (tonic.pitch_class + name.pitch_class - PitchName(letter, 0).pitch_class + 6) % 12 - 6
    return PitchName(letter, raised)
