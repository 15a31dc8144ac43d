"""Chords by their pitches."""

from __future__ import annotations

from dataclasses import replace

import pytest

from chickadee.theory import Pitch
from chickadee.theory.chord import CHORD_KINDS, read_chord, recognized


@pytest.mark.parametrize("kind", [kind for kind in CHORD_KINDS.values() if kind.symbol != "5"])
def test_a_chord_is_recognized_by_its_pitches_in_any_order_and_octave(kind):
    for root in ("C", "F#", "Bb"):
        first, *others = read_chord(f"{root}{kind.symbol}").pitches(3)
        found = recognized([*(replace(pitch, octave=pitch.octave + 1) for pitch in reversed(others)), first])
        assert found.text == f"{root}{kind.symbol}"


def test_inversions_have_a_bass_and_clusters_no_name():
    assert recognized([Pitch("G", 0, 3), Pitch("C", 0, 4), Pitch("E", 0, 4)]).text == "C/G"
    assert recognized([Pitch("C", 0, 4), Pitch("G", 0, 4), Pitch("C", 0, 5)]) is None
    assert recognized([Pitch("C", 0, 4), Pitch("C", 1, 4), Pitch("D", 0, 4)]) is None
    assert recognized([]) is None
