"""The melody of a voice: its notes one after the other, of those struck together the highest."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..song import Song

__all__ = ["melodies"]


def melodies(song: Song) -> Iterator[list[int]]:
    """For each voice but drums, the indices of its notes in order of time, of those struck together the highest."""
    columns = song.arrays
    for index, voice in enumerate(song.voices):
        mine = song.by_voice[index]
        if len(mine) and not voice.is_drums:
            last = np.append(columns.start[mine][1:] != columns.start[mine][:-1], True)
            yield list(map(int, mine[last]))
