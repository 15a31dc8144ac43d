"""Pitch names and numbers, frequency, scales and keys: musical arithmetic that knows no song and no file."""

from .chord import CHORD_KINDS, Chord, ChordKind, read_chord
from .frequency import cents_between, frequency, nearest_number
from .interval import INTERVALS, Interval, IntervalNameError, read_interval
from .key import Key, KeyNameError, read_key
from .naming import NAMINGS, Naming
from .pitch import Pitch, PitchName, read_pitch_name
from .scale import SCALES, Scale

__all__ = [
    "CHORD_KINDS",
    "INTERVALS",
    "NAMINGS",
    "SCALES",
    "Chord",
    "ChordKind",
    "Interval",
    "IntervalNameError",
    "Key",
    "KeyNameError",
    "Naming",
    "Pitch",
    "PitchName",
    "Scale",
    "cents_between",
    "frequency",
    "nearest_number",
    "read_chord",
    "read_interval",
    "read_key",
    "read_pitch_name",
]
