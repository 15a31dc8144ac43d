"""The key that some notes are in, where nothing says it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..song import Song
from ..theory import Key, read_key

__all__ = ["with_key"]

_MAJOR = (6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88)
_MINOR = (6.33, 2.68, 3.52, 5.38, 2.60, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17)
"""How well each pitch class above the tonic fits a key (C. Krumhansl and E. Kessler, "Tracing the dynamic changes in
perceived tonal organization", 1982)."""
_TONICS = ("C", "Db", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B")
_MINOR_TONICS = ("C", "C#", "D", "Eb", "E", "F", "F#", "G", "G#", "A", "Bb", "B")
_LAST_WEIGHT = 0.15  # that a song's lowest last note being the tonic counts
_FEW = 12  # notes, too few to tell another key from C major that they are all in
_LESS = 0.02  # of the notes' length that may be outside a key that fits better


def with_key(song: Song) -> Song:
    """A song in the key that its notes are in, where it gives none, or C major and most notes are in another.

    The notes are spelled for it.
    """
    if not song.notes or len(song.keys) > 1 or song.key.text != "C major":
        return song
    weights = _weights(song)
    given = _share(weights, song.key)
    if len(song.notes) < _FEW and given == 1:
        return song
    key = _found(song, weights)
    if _share(weights, key) < given - _LESS:
        return song
    spelled = [key.spell(number) for number in range(128)]
    notes = tuple(
        note if note.pitch == spelled[note.number] else note._replace(pitch=spelled[note.number])
        for note in song.notes
    )
    return replace(song, keys=((0, key),), notes=notes)


def _weights(song: Song) -> NDArray[np.float64]:
    """How long each pitch class sounds, in ticks."""
    pitched = np.array([not voice.is_drums for voice in song.voices])[song.arrays.voice]
    return np.bincount(song.arrays.number[pitched] % 12, song.arrays.length[pitched], minlength=12).astype(float)


def _share(weights: NDArray[np.float64], key: Key) -> float:
    """How much of what sounds is in a key."""
    inside = sum(weight for number, weight in enumerate(weights) if key.contains(number + 60))
    return float(inside / weights.sum()) if weights.sum() else 1.0


def _found(song: Song, weights: NDArray[np.float64]) -> Key:
    """The key that fits best."""
    if not weights.sum() or weights.std() == 0:
        return song.key
    last = max(
        (note for note in song.notes if not song.voices[note.voice].is_drums),
        key=lambda note: (note.end, -note.number),
    )
    best = -2.0
    name = "C major"
    for tonic in range(12):
        for profile, tonics, mode in ((_MAJOR, _TONICS, "major"), (_MINOR, _MINOR_TONICS, "minor")):
            fit = float(np.corrcoef(np.roll(profile, tonic), weights)[0, 1])
            fit += _LAST_WEIGHT * (last.number % 12 == tonic)
            if fit > best:
                best = fit
                name = f"{tonics[tonic]} {mode}"
    return read_key(name)
