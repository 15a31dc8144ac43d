"""Measure how loud each sound is, and say what its level should be for all to be equally loud."""

from __future__ import annotations

import numpy as np

from chickadee import read
from chickadee.song.drums import DRUM_SOUND
from chickadee.song.sounds import SOUNDS
from chickadee.sound import rendered
from chickadee.sound.loudness import loudness

TARGET = -23.0
"""LUFS of the passage at mf."""

PASSAGES = {DRUM_SOUND: "(kick hat snare hat) x4"}
USUAL = "C4 E4 G4 C5 B4=1/2 A4=1/2 G4 E4 C4 D4 F4=2 A4=1/2 D5=1/2 C5=2"


def measured(sound: str) -> float:
    """LUFS of the passage that is usual for a sound."""
    song = read(f"tempo: 110\nvoice A\nsound: {sound}\n{PASSAGES.get(sound, USUAL)}").song
    return loudness(np.concatenate(list(rendered(song))))


if __name__ == "__main__":
    for name in SOUNDS:
        found = measured(name)
        print(f"{name:18} {found:7.2f} LUFS   level x {10 ** ((TARGET - found) / 20):.3f}")
