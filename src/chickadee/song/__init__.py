"""The song: voices and notes at exact times, immutable and free of any file or window."""

from .excerpt import at_speed, bars_excerpt, stretch_excerpt, voice_excerpt
from .grid import BarGrid, Place
from .meter import Meter
from .song import Note, NoteArrays, Song, Voice
from .tempo import Tempo, TempoMap
from .ticks import TICKS_PER_QUARTER, division_for, quarters

__all__ = [
    "TICKS_PER_QUARTER",
    "BarGrid",
    "Meter",
    "Note",
    "NoteArrays",
    "Place",
    "Song",
    "Tempo",
    "TempoMap",
    "Voice",
    "at_speed",
    "bars_excerpt",
    "division_for",
    "quarters",
    "stretch_excerpt",
    "voice_excerpt",
]
