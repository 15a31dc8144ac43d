"""Notes put where there were none, as edits of the text: into a rest, onto a note as a chord, or at a voice's end."""

from __future__ import annotations

import itertools
from fractions import Fraction

from ..song import BarGrid, Song
from .edits import CannotEdit, length_text
from .finding import TextEdit
from .proof import proven, sounds
from .reading import Reading
from .walk import Event, EventKind
from .word import read_word
from .writing import pitch_text

__all__ = ["append", "place_note"]


def place_note(reading: Reading, voice: int, tick: int, beats: Fraction, number: int) -> list[TextEdit]:
    """Put a note of so many beats into a voice at a tick. Raises CannotEdit where something is in its way."""
    edits = _placed(reading, voice, tick, beats, pitch_text(reading.song, voice, tick, number))
    before = sounds(reading.song.notes)

    def right(song: Song) -> bool:
        there = any((note.voice, note.start, note.number) == (voice, tick, number) for note in song.notes)
        return there and not before - sounds(song.notes)

    return proven(reading, edits, right)


def _placed(reading: Reading, voice: int, tick: int, beats: Fraction, written: str) -> list[TextEdit]:
    beat = reading.song.grid.meter_at(tick).beat_ticks
    length = beats * beat
    events = [event for event in reading.events[voice] if event.length] if voice < len(reading.events) else []
    under = next((event for event in events if event.tick <= tick < event.tick + event.length), None)
    if under is None:
        return append(reading, voice, tick, f"{written}{length_text(reading, tick, length)}")
    if under.kind is EventKind.REST:
        length = min(Fraction(under.tick + under.length - tick), length)
        edits = _into_rest(reading, under, tick, length, written)
        if tick + length == under.tick + under.length:
            edits += _silenced(events[events.index(under) + 1 :])
        return edits
    if under.kind is EventKind.STRIKE and under.tick == tick:
        text = reading.text[under.start : under.end]
        at = under.start + (text.find("=") if "=" in text else len(text))
        return [TextEdit(at, at, f"&{written}")]
    raise CannotEdit("Another note sounds here already; write where it begins, or into a rest.")


def append(reading: Reading, voice: int, tick: int, sign: str) -> list[TextEdit]:
    """Write a sign at a tick behind a voice's end, rests and bar lines before it as they are needed."""
    blocks = reading.sheet.voices
    if not blocks:
        end = len(reading.text)
        return [TextEdit(end, end, f"{_gap(reading.text)}{sign}")]
    block = blocks[voice]
    song = reading.song
    here = song.voices[voice].end
    line = max((event.tick for event in reading.events[voice] if event.kind is EventKind.BAR), default=0)
    signs: list[str] = []

    def close_bar() -> None:
        nonlocal line
        if _needs_line(song.grid, here, line):
            signs.append("|")
            line = here

    while here < tick:
        close_bar()
        bar_end = song.grid.end(song.grid.number_at(here))
        step = min(tick, bar_end) - here
        signs.append(f"rest{length_text(reading, here, step)}")
        here += step
    close_bar()
    at = block.body[-1].end if block.body else max([block.end, *(each.value_end for each in block.properties)])
    lead = " " if block.body else f"{_gap(reading.text[:at])}  "
    return [TextEdit(at, at, lead + " ".join([*signs, sign]))]


def _needs_line(grid: BarGrid, tick: int, last: int) -> bool:
    """Return whether a bar line belongs at a tick, the last one being at another: where the bar between is whole."""
    whole = grid.pickup if grid.pickup and last == 0 else grid.meter_at(last).bar_ticks
    return tick - last == whole and grid.start(grid.number_at(tick)) == tick


def _into_rest(reading: Reading, rest: Event, tick: int, length: Fraction, written: str) -> list[TextEdit]:
    text = reading.text[rest.start : rest.end]
    if reading.own_ticks(read_word(text), rest.tick) != rest.length:
        raise CannotEdit("This rest is in a stretched or fitted group; write the note in the sheet.")
    before = Fraction(tick - rest.tick)
    after = rest.tick + rest.length - tick - length
    name = text.partition("=")[0] or "rest"
    parts = [
        f"{name}{length_text(reading, rest.tick, before)}" if before else "",
        f"{written}{length_text(reading, rest.tick, length)}",
        f"{name}{length_text(reading, rest.tick, after)}" if after else "",
    ]
    return [TextEdit(rest.start, rest.end, " ".join(filter(None, parts)))]


def _silenced(events: list[Event]) -> list[TextEdit]:
    """Holds that went on with a rest stay silent though a note now stands before them."""
    holds = itertools.takewhile(lambda event: event.kind is EventKind.HOLD, events)
    return [TextEdit(start, start + 1, "rest") for start in dict.fromkeys(hold.start for hold in holds)]


def _gap(text: str) -> str:
    return "\n" if text.strip() and not text.endswith("\n") else ""
