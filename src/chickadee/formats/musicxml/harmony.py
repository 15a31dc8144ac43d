"""Kinds of chords as MusicXML names them."""

from __future__ import annotations

__all__ = ["KINDS"]

KINDS = {
    "": "major", "m": "minor", "dim": "diminished", "aug": "augmented", "5": "power", "sus2": "suspended-second",
    "sus4": "suspended-fourth", "6": "major-sixth", "m6": "minor-sixth", "7": "dominant", "maj7": "major-seventh",
    "m7": "minor-seventh", "mmaj7": "major-minor", "dim7": "diminished-seventh", "m7b5": "half-diminished",
    "aug7": "augmented-seventh", "9": "dominant-ninth", "maj9": "major-ninth", "m9": "minor-ninth",
}  # fmt: skip
"""The value of ``kind`` by our symbol."""
