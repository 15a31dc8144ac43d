"""A voice's contour: where its notes stand, small enough for a list."""

from __future__ import annotations

from ..song import Song

__all__ = ["contour_of"]

_MOST = 400


def contour_of(song: Song, voice: int) -> tuple[tuple[float, float, float], ...]:
    """(start, end, height) of a voice's first notes, each from 0 to 1; of every voice's where it has none."""
    mine = [note for note in song.notes if note.voice == voice] or list(song.notes)
    low = min((note.number for note in mine), default=0)
    high = max((note.number for note in mine), default=1)
    return tuple(
        (note.start / song.end, note.end / song.end, (note.number - low) / max(1, high - low))
        for note in mine[:_MOST]
    )
