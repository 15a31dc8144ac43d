"""A moment of playing: the song that sounds, and where in it the listener is."""

from __future__ import annotations

from dataclasses import dataclass

from ..song import Song, TempoMap

__all__ = ["Heard"]


@dataclass(frozen=True, slots=True)
class Heard:
    """The song and the second that are heard at a moment."""

    song: Song
    tempo: TempoMap
    """Of this playing, which may be slower than the song's own."""
    second: float
    """Of the song, by that tempo."""
    number: int = 0
    """Of the playing: another one began where the listener was taken elsewhere."""
    since: float = 0.0
    """The second at which the playing began, after what was counted in."""
    until: float | None = None
    """The second at which the playing ended by itself, if it has: ``second`` goes on, for emitters with a delay."""
