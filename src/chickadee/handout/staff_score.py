"""The tune on staves: its voices with words, chord symbols, names and numbers, in as many systems as it needs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from enum import Enum
from itertools import groupby
from operator import attrgetter

from ..engraving import Engraver, Part, TextRow, brace_room, engrave
from ..notation import VoiceNotation, written_loudness
from ..song import Note, Song
from .canvas import Canvas
from .charts import chord_names
from .staff_shapes import at_scale, measure_at, on_page

__all__ = ["HeadLabels", "add_systems", "parts_of", "staff_engraver", "tempo_text"]

SPACE = 1.9
"""Millimetres of a staff space, where nothing asks for another."""
_SHRINK = 0.9
_TINY = 0.02  # millimetres of a staff space that is not made smaller
_GAP = 4.0  # millimetres between systems


class HeadLabels(Enum):
    """Names and numbers at the heads."""

    NONE = "none"
    NAMES = "names"
    NUMBERS = "numbers"
    BOTH = "both"
    NAMES_IN_HEADS = "names-in-heads"
    NUMBERS_IN_HEADS = "numbers-in-heads"

    @property
    def is_in_heads(self) -> bool:
        """True if they stand in the heads, which are larger then."""
        return self in (HeadLabels.NAMES_IN_HEADS, HeadLabels.NUMBERS_IN_HEADS)


def parts_of(
    song: Song, voices: Sequence[int], labels: HeadLabels, clef: str | None = None, beside: int | None = None
) -> list[Part]:
    """Voices with all that is written at their notes; chord symbols over the first, ``beside`` on its staff."""
    chords = chord_names(song)
    found = []
    for place, voice in enumerate(voices):
        notes = [song.notes[index] for index in song.by_voice[voice].tolist()]
        rows = []
        if not place and chords:
            rows.append(TextRow("chords", chords, above=True, size=1.9, bold=True, centred=False))
        loudness = written_loudness(notes, song.voices[voice].level)
        rows.append(TextRow("loudness", loudness.dynamics, size=1.7, bold=True))
        rows += _label_rows(song, voice, notes, labels)
        words = {note.start: note.syllable.removeprefix("_") for note in notes if note.syllable}
        if words:
            rows.append(TextRow("words", words, size=1.8))
        title = song.voices[voice].name if len(voices) > 1 else ""
        notation = VoiceNotation(song, voice, clef, None if place else beside)
        found.append(Part(notation, tuple(rows), title, loudness.accents))
    return found


def _label_rows(song: Song, voice: int, notes: Sequence[Note], labels: HeadLabels) -> list[TextRow]:
    rows = []
    if labels in (HeadLabels.NAMES, HeadLabels.BOTH):
        naming = song.naming
        names = _texts(notes, lambda note: song.voices[voice].name_of(note, naming))
        rows.append(TextRow("names", names, size=1.6, bold=True))
    if labels in (HeadLabels.NUMBERS, HeadLabels.BOTH) and not song.voices[voice].is_drums:
        rows.append(TextRow("numbers", _texts(notes, lambda note: str(note.number)), size=1.6))
    return rows


def _texts(notes: Sequence[Note], text_of: Callable[[Note], str]) -> dict[int, str]:
    """Texts by tick; of a chord the highest note's."""
    found: dict[int, str] = {}
    for start, together in groupby(notes, key=attrgetter("start")):
        found[start] = text_of(max(together, key=attrgetter("number")))
    return found


def tempo_text(song: Song) -> str:
    """The opening tempo as it stands over the first bar: the beat's note and how many there are a minute."""
    meter = song.meter
    quarters = song.tempo.tempos[0].quarters_per_minute
    if meter.pulse_beats == 3 and meter.lower == 8:
        return f"♩. = {_rounded(quarters / 1.5)}"
    if meter.lower == 8:
        return f"♪ = {_rounded(2 * quarters)}"
    return f"♩ = {_rounded(quarters)}"


def _rounded(number: float) -> str:
    return f"{round(number, 1):g}"


def staff_engraver(
    song: Song,
    voices: Sequence[int],
    labels: HeadLabels = HeadLabels.NONE,
    bars: tuple[int, int] | None = None,
    clef: str | None = None,
    beside: int | None = None,
) -> Engraver:
    """The layout of some voices; ``bars`` are the numbers of the first and the last bar, None for all.

    ``beside`` is a voice that stands on the staff of the first.
    """
    parts = parts_of(song, voices, labels, clef, beside)
    places = parts[0].notation.places(bars)
    names = _texts_in_heads(song, voices, labels) if labels.is_in_heads else {}
    tempo = "" if places.start else tempo_text(song)
    return Engraver(parts, measure_at(SPACE), places, tempo=tempo, head_texts=names)


def _texts_in_heads(song: Song, voices: Sequence[int], labels: HeadLabels) -> dict[int, str]:
    """Names or numbers by the identity of their note."""
    found: dict[int, str] = {}
    for voice in voices:
        if not song.voices[voice].is_drums:
            for note in (song.notes[index] for index in song.by_voice[voice].tolist()):
                name = song.naming.pretty(note.pitch.name)
                found[id(note)] = str(note.number) if labels is HeadLabels.NUMBERS_IN_HEADS else name
    return found


def add_systems(canvas: Canvas, engraver: Engraver, space: float = SPACE, most: int | None = None) -> None:
    """Put all systems on a canvas; where one is wider or higher than there is room, everything is drawn smaller."""
    indent = brace_room(engraver)
    room = canvas.room
    while True:
        engraver = at_scale(engraver, space)
        width = canvas.width / space - indent
        systems = [engrave(engraver, bars, width) for bars in engraver.systems(width, most) or ()]
        fits = systems and max(system.height for system in systems) * space <= room
        if fits or space < _TINY:
            break
        space *= _SHRINK
    for system in systems:
        top = canvas.block(system.height * space, gap=_GAP)
        canvas.add(on_page(system.marks, canvas.left + indent * space, top, space))
