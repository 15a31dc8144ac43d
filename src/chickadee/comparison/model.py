"""The model that attempts are compared with, and which of their voices stand for its own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

from ..formats.imported import Form, Imported, LengthsIn
from ..song import Song
from .line import Line, line_of

__all__ = ["Model", "Voices", "ways_of"]

_MOST_VOICES = 8  # that are tried for one another

Voices = tuple[tuple[Line, Line], ...]
"""Lines of the model, each with the attempt's line that stands for it."""


@dataclass(frozen=True)
class Model:
    """A song, or some of its voices."""

    song: Song
    voices: tuple[int, ...] = ()
    """Those wanted; none for all."""
    whole: bool = True
    """True if all bars of the song count; else those from the first note to the last."""

    @cached_property
    def chosen(self) -> tuple[int, ...]:
        """The voices that have notes, of those wanted."""
        wanted = self.voices or range(len(self.song.voices))
        return tuple(voice for voice in wanted if len(self.song.by_voice[voice]))

    @cached_property
    def lines(self) -> tuple[Line, ...]:
        """A line for each voice."""
        return tuple(line_of(self.song, [voice]) for voice in self.chosen)

    @cached_property
    def together(self) -> Line:
        """All voices as one line; drums are left out where there is anything else."""
        return line_of(self.song, _pitched(self.song, self.chosen))

    @cached_property
    def bars(self) -> tuple[int, ...]:
        """The numbers of its bars."""
        song = self.song
        if not song.notes:
            return ()
        if self.whole:
            return tuple(range(song.first_bar, song.last_bar + 1))
        last = max(note.end for note in song.notes) - 1
        return tuple(range(song.grid.number_at(song.notes[0].start), song.grid.number_at(last) + 1))


def ways_of(model: Model, found: Imported) -> list[Voices]:
    """The ways in which voices of the attempt may stand for the model's: by name, in order, or all as one."""
    song = found.song
    scale = _scale(model.song, found)
    used = [voice for voice in range(len(song.voices)) if len(song.by_voice[voice])]
    theirs = {voice: line_of(song, [voice], found.unread, found.source, scale) for voice in used}
    together = _pitched(song, used)
    whole = line_of(song, together, found.unread, found.source, scale) if len(used) > 1 else theirs[used[0]]
    if len(model.lines) == 1:
        return _of_one(model.lines[0], [theirs[voice] for voice in used], whole)
    if len(used) == 1:
        return [((model.together, whole),), *(((mine, whole),) for mine in model.lines[:_MOST_VOICES])]
    by_name = {line.name.lower(): line for line in theirs.values()}
    wanted = {mine.name.lower() for mine in model.lines}
    others = iter([line for line in theirs.values() if line.name.lower() not in wanted])
    pairs = [(mine, by_name.get(mine.name.lower()) or next(others, None)) for mine in model.lines]
    return [tuple((mine, line) for mine, line in pairs if line is not None), ((model.together, whole),)]


def _pitched(song: Song, voices: Sequence[int]) -> list[int]:
    """The voices that are no drums; all where there are only drums."""
    return [voice for voice in voices if not song.voices[voice].is_drums] or list(voices)


def _of_one(mine: Line, lines: list[Line], whole: Line) -> list[Voices]:
    """The attempt's voices for a single one, that of the same name first; then all of them together."""
    order = sorted(lines, key=lambda line: line.name.lower() != mine.name.lower())[:_MOST_VOICES]
    ways: list[Voices] = [((mine, line),) for line in order]
    return [*ways, ((mine, whole),)] if len(lines) > 1 else ways


def _scale(model: Song, found: Imported) -> Fraction:
    """Return the factor by which an attempt's ticks count the model's beats, or its seconds."""
    song = found.song
    beats = Fraction(model.meter.beat_ticks, song.meter.beat_ticks)
    if found.lengths is LengthsIn.SECONDS:
        return (beats * Fraction(model.tempo_in_beats) / Fraction(song.tempo_in_beats)).limit_denominator(100_000)
    return Fraction(1) if found.form in (Form.MIDI, Form.MUSICXML) else beats
