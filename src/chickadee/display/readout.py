"""The readout of the notes that sound or are chosen."""

from __future__ import annotations

from dataclasses import dataclass
from operator import attrgetter
from typing import TYPE_CHECKING

from ..song import Song
from ..theory.chord import recognized
from . import words

if TYPE_CHECKING:
    from ..hearing.tuner import Now

__all__ = ["Readout", "readout_of", "sung"]


@dataclass(frozen=True, slots=True)
class Readout:
    """Large name, number, and two small lines."""

    name: str
    number: str = ""
    first_line: str = ""
    second_line: str = ""
    off: float | None = None
    """By how many cents what is sung is off, from -50 to 50, drawn on a scale."""


def sung(song: Song, now: Now | None) -> Readout:
    """The readout for the note that is sung now; for silence where there is none."""
    if now is None:
        return Readout("–", "", "microphone", "nothing is sung")
    name = song.naming.pitch_pretty(song.key.spell(now.number))
    cents = round(now.cents)
    return Readout(
        name, f"{cents:+d} cents" if cents else "0 cents", f"{now.hertz:.1f} Hz", f"MIDI {now.number}", now.cents
    )


def readout_of(song: Song, notes: list[int], tick: float | None = None) -> Readout:
    """The readout for some notes, the one that is meant first; ``tick`` is the moment heard, while playing."""
    if not notes:
        if tick is not None:
            return Readout("rest", "", "", _place(song, int(tick)))
        bars = song.last_bar if song.end else 0
        return Readout(song.title or "A new tune", "", words.counted(bars, "bar"), words.clock(song.seconds))
    chosen = [song.notes[index] for index in notes]
    start = chosen[0].start if tick is None else min(note.start for note in chosen)
    together = sorted((note for note in chosen if note.start == start), key=attrgetter("number"))
    place = _place(song, start)
    if len(together) == 1:
        note = together[0]
        pitched = not song.voices[note.voice].is_drums
        second = f"{song.frequency(note.number):.2f} Hz" if pitched else "percussion key"
        return Readout(words.both_names(song, note), str(note.number), second, place)
    names = " ".join(song.voices[note.voice].name_of(note, song.naming) for note in together[:6])
    numbers = " ".join(str(note.number) for note in together[:6])
    chord = recognized([note.pitch for note in together if not song.voices[note.voice].is_drums])
    if chord is not None:
        return Readout(chord.pretty, numbers, names, place)
    return Readout(names, "", numbers, place)


def _place(song: Song, tick: int) -> str:
    place = song.grid.place(tick)
    whole = place.beat // 1
    return f"bar {place.bar}, beat {words.beats(place.beat) if place.beat.denominator <= 8 else whole}"
