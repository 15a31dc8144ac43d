"""Notation: how a voice is written on a staff, but not where: types, ties, tuplets, beams, stems and accidentals."""

from .accidentals import DrawnAccidental, signature_letters
from .bar import Beam, NotatedBar, NotatedItem, NotatedLine, NoteHead, Stem
from .clefs import CLEFS, PERCUSSION, Clef, DrumHead
from .lengths import NOTE_TYPES, WrittenLength
from .loudness import written_loudness
from .tuplets import Tuplet
from .voice import VoiceNotation
from .voice_lines import BarSpan

__all__ = [
    "CLEFS",
    "NOTE_TYPES",
    "PERCUSSION",
    "BarSpan",
    "Beam",
    "Clef",
    "DrawnAccidental",
    "DrumHead",
    "NotatedBar",
    "NotatedItem",
    "NotatedLine",
    "NoteHead",
    "Stem",
    "Tuplet",
    "VoiceNotation",
    "WrittenLength",
    "signature_letters",
    "written_loudness",
]
