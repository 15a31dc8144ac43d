"""Worksheets on the staff: notes to name, to number and to draw, bar lines, stems, rests, rhythms, staff and roll."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from enum import Enum

from ..chance import Chance
from ..engraving import Engraver, Part, TextRow
from ..notation import Beam, NotatedItem, VoiceNotation
from ..song import Note, Song, bars_excerpt
from ..song.drums import DRUM_SOUND
from ..theory import read_key
from .bars import voice_of
from .canvas import Canvas
from .request import HandoutFault, Request
from .shapes import Page
from .staff_match import match_pages
from .staff_score import add_systems, tempo_text
from .staff_shapes import measure_at

__all__ = ["StaffTask", "staff_task_pages"]

_SPACE = 2.6  # millimetres of a staff space: there is something to be written
_IN_LINE = 4  # bars
_MOST_BARS = 12  # that a sheet has, where a seed chooses which
_ON_THE_LINE = 47  # the percussion key that stands on the middle line


class StaffTask(Enum):
    """The task of a worksheet."""

    NAMES = "names"
    NUMBERS = "numbers"
    DRAW = "draw"
    BAR_LINES = "bar-lines"
    STEMS = "stems"
    RESTS = "rests"
    CLAP = "clap"
    MATCH = "match"


_ASKED = {
    StaffTask.NAMES: "Write the name of each note into its box.",
    StaffTask.NUMBERS: "Write the MIDI number of each note into its box.",
    StaffTask.DRAW: "Draw each note that is named.",
    StaffTask.BAR_LINES: "Add the bar lines.",
    StaffTask.STEMS: "Add the stems, flags and beams that are missing.",
    StaffTask.RESTS: "Add the rests that are missing.",
    StaffTask.CLAP: "Clap this rhythm.",
}


def staff_task_pages(song: Song, request: Request) -> list[Page]:
    """A worksheet on the staff; with the answers where the request wants them. Raises HandoutFault."""
    task = StaffTask(request.task)
    voice = voice_of(song, request)
    if task is StaffTask.MATCH:
        return match_pages(song, voice, request)
    if song.voices[voice].is_drums and task in (StaffTask.NAMES, StaffTask.NUMBERS, StaffTask.DRAW):
        raise HandoutFault("Drums have no pitches to name; please choose another voice or another task.")
    song = _excerpt(song, request)
    if task is StaffTask.CLAP:
        song = _rhythm(song, voice)
    canvas = Canvas(request, song.title or "Tune")
    top = canvas.block(6, gap=3)
    canvas.add([canvas.words(canvas.left, top, canvas.width, 6, _ASKED[task], 11)])
    engraver = _engraver(song, voice, task, request)
    add_systems(canvas, engraver, _SPACE * request.scale, request.bars_in_line or _IN_LINE)
    return canvas.pages()


def _excerpt(song: Song, request: Request) -> Song:
    """As many bars as a sheet has, for each seed others."""
    bars = song.last_bar - song.first_bar + 1
    if request.gaps.seed is None or bars <= _MOST_BARS:
        return song
    first = song.first_bar + Chance(request.gaps.seed).below(bars - _MOST_BARS + 1)
    return bars_excerpt(song, first, first + _MOST_BARS - 1)


def _rhythm(song: Song, voice: int) -> Song:
    """The rhythm of a voice alone, on the line of a drum."""
    struck = {song.notes[index].start: song.notes[index] for index in song.by_voice[voice].tolist()}
    notes = tuple(note._replace(voice=0, number=_ON_THE_LINE) for note in struck.values())
    drum = replace(song.voices[voice], name="Rhythm", sound=DRUM_SOUND)
    return replace(song, voices=(drum,), notes=notes, keys=((0, read_key("C major")),))


def _engraver(song: Song, voice: int, task: StaffTask, request: Request) -> Engraver:
    is_clap = task is StaffTask.CLAP
    notation = VoiceNotation(song, 0 if is_clap else voice, request.clef)
    chosen = _chosen(notation, task, request)
    rows = _rows(song, notation, task, chosen, request.answers)
    replaced = {} if request.answers else _replaced(notation, task, chosen)
    return Engraver(
        [Part(notation, rows)],
        measure_at(_SPACE),
        range(len(notation.bars)),
        tempo=tempo_text(song) if is_clap else "",
        replaced=replaced,
        one_line=is_clap,
        with_bar_lines=task is not StaffTask.BAR_LINES or request.answers,
    )


def _chosen(notation: VoiceNotation, task: StaffTask, request: Request) -> frozenset[int]:
    """The ticks of the notes, or rests, that the task is about: of every so many one, chosen by the seed."""
    is_rest = task is StaffTask.RESTS
    ticks = sorted(
        {
            item.start
            for bar in notation.all_bars()
            for line in bar.lines
            for item in line.items
            if item.is_rest == is_rest and (item.struck or is_rest)
        }
    )
    every = request.gaps.every if request.gaps.kind == "every" else 1
    if is_rest or task is StaffTask.STEMS:
        every = min(every, 2)
    chance = Chance(request.gaps.seed) if request.gaps.seed is not None else None
    found = []
    for first in range(0, len(ticks), every):
        group = ticks[first : first + every]
        place = chance.below(every) if chance is not None else every - 1
        if place < len(group):
            found.append(group[place])
    return frozenset(found or ticks[:1])


def _rows(
    song: Song, notation: VoiceNotation, task: StaffTask, chosen: frozenset[int], answers: bool
) -> tuple[TextRow, ...]:
    """The rows under the notes: boxes, or the names of those that are to be drawn."""
    notes: dict[int, Note] = {}
    for index in notation.indices.tolist():
        note = song.notes[index]
        if note.start not in notes or note.number > notes[note.start].number:
            notes[note.start] = note
    names = {tick: song.naming.pitch_pretty(note.pitch) for tick, note in notes.items() if tick in chosen}
    numbers = {tick: str(note.number) for tick, note in notes.items() if tick in chosen}
    if task is StaffTask.DRAW:
        return (TextRow("names", names, size=2.0, bold=True),)
    if task in (StaffTask.NAMES, StaffTask.NUMBERS):
        texts = names if task is StaffTask.NAMES else numbers
        return (TextRow(task.value, texts if answers else {}, size=1.7, bold=True, boxed=chosen),)
    return ()


def _replaced(
    notation: VoiceNotation, task: StaffTask, chosen: frozenset[int]
) -> dict[tuple[int, int], NotatedItem | None]:
    """The items that are left out, or have no stem. Notes that shared a beam with them have flags."""
    if task not in (StaffTask.DRAW, StaffTask.STEMS, StaffTask.RESTS):
        return {}
    found: dict[tuple[int, int], NotatedItem | None] = {}
    for bar in notation.all_bars():
        for line in bar.lines:
            for run in _runs(line.items):
                if any(_struck_at(item) in chosen for item in run):
                    found |= {
                        (line.number, item.start): _changed(item, task, _struck_at(item) in chosen) for item in run
                    }
    return found


def _changed(item: NotatedItem, task: StaffTask, is_chosen: bool) -> NotatedItem | None:
    if not is_chosen:
        return item._replace(beams=())
    return item._replace(beams=(), stem=None) if task is StaffTask.STEMS else None


def _struck_at(item: NotatedItem) -> int:
    """The tick at which what an item writes begins; it may have come from an item before."""
    return item.start if item.is_rest or item.struck else item.heads[0].note.start


def _runs(items: Sequence[NotatedItem]) -> list[list[NotatedItem]]:
    """Items that share a beam, and the others one by one."""
    runs: list[list[NotatedItem]] = []
    for item in items:
        if item.beams and item.beams[0] is not Beam.BEGIN and runs:
            runs[-1].append(item)
        else:
            runs.append([item])
    return runs
