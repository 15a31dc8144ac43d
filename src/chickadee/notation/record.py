"""Notation as plain data, for checks from outside."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from ..song import Note
from .bar import NotatedBar, NotatedItem, NoteHead
from .voice import VoiceNotation

__all__ = ["record_of"]

_ACCIDENTALS = {-2: "double-flat", -1: "flat", 0: "natural", 1: "sharp", 2: "double-sharp"}


def record_of(notation: VoiceNotation, bars: range) -> dict[str, Any]:
    """A voice's notation as JSON can hold it; ``bars`` are places among those of the voice.

    Each line of each staff of a bar is an entry of its own, whose items follow one another from the bar's start.
    Starts and lengths are beats of the bar's meter, exact, as text.
    """
    clefs = [clef.name for clef in notation.clefs]
    return {
        "name": notation.song.voices[notation.voice].name,
        "clef": clefs[0],
        "clefs": clefs,
        "staves": len(clefs),
        "bars": [entry for place in bars for entry in _entries(notation.bar(place), notation)],
    }


def _entries(bar: NotatedBar, notation: VoiceNotation) -> list[dict[str, Any]]:
    return [
        {
            "bar": bar.number,
            "meter": bar.meter.text,
            "key": bar.key.signature,
            "staff": line.staff + 1,
            "line": line.number + 1,
            "items": [_item(item, bar, notation) for item in line.items],
        }
        for line in bar.lines
    ]


def _item(item: NotatedItem, bar: NotatedBar, notation: VoiceNotation) -> dict[str, Any]:
    beat = bar.meter.beat_ticks
    length = item.length
    return {
        "start": str(Fraction(item.start - bar.start, beat)),
        "length": str(Fraction(item.end - item.start, beat)),
        "type": length.type,
        "dots": length.dots,
        "tuplet": [length.actual, length.normal] if length.actual > 1 else None,
        "rest": item.is_rest,
        "whole_bar": item.whole_bar,
        "exact": item.exact,
        "beam": item.beams[0].value if item.beams else None,
        "stem": item.stem.value if item.stem is not None else None,
        "pitches": [_head(head, notation) for head in item.heads],
    }


def _head(head: NoteHead, notation: VoiceNotation) -> dict[str, Any]:
    note: Note = head.note
    drawn = head.accidental
    return {
        "name": notation.song.voices[notation.voice].name_of(note) if notation.is_drums else head.pitch.text,
        "number": note.number,
        "place": head.place,
        "accidental": _ACCIDENTALS[drawn.semitones] if drawn is not None else None,
        "courtesy": drawn is not None and drawn.courtesy,
        "tie": head.tied,
    }
