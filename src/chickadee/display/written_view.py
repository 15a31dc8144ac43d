"""The tune as a program, as it is shown: its lines, what is beside them, the values while it is done."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from ..comparison.plain_numbers import place_in_words
from ..faults import InputFault
from ..programs.writing.dialect import Dialect, Level
from ..programs.writing.program_text import Performance
from ..programs.writing.written import Writing, WrittenProgram
from ..sheet import read
from ..song import Song

__all__ = [
    "LEVEL_NAMES",
    "ValueRow",
    "WrittenView",
    "WrittenWish",
    "lit_lines",
    "said_of_line",
    "values_at",
    "written_view",
]

LEVEL_NAMES = {
    Level.LINE: "line by line",
    Level.REPEATS: "repeats",
    Level.PARTS: "parts",
    Level.DATA: "data",
}
_LISTS = ("notes", "lengths", "gaps")
_SHOWN_ITEMS = 9
_MANY_STEPS = 3_000  # line by line; beyond them only the levels that are asked for are counted
_MOST_PLACES = 6


@dataclass(frozen=True, slots=True)
class WrittenWish:
    """A program that is to be written."""

    sheet: str
    """The tune's text."""
    voices: tuple[int, ...]
    dialect: Dialect
    level: Level
    runs: bool = False
    with_counter: bool = False


@dataclass(frozen=True, slots=True)
class WrittenView:
    """The tune as a program."""

    wish: WrittenWish
    program: WrittenProgram | None = None
    """None where the language cannot say it."""
    steps: dict[Level, int] | None = None
    """How many steps each level takes that the language has; of a long tune only those that are soon counted."""
    failure: str = ""
    """The sentence that says why there is no program."""


class ValueRow(NamedTuple):
    """A value while a program is done."""

    name: str
    cells: tuple[str, ...]
    marked: int = -1
    """Which of the cells is the one of now; -1 for none."""


def written_view(wish: WrittenWish) -> WrittenView:
    """Write a program, and count the steps of every level."""
    try:
        writing = _writing(wish.sheet, wish.voices, wish.dialect)
        level = wish.level if wish.level in wish.dialect.levels else Level.LINE
        program = writing.program(level, wish.runs and bool(wish.dialect.runs), wish.with_counter)
    except InputFault as fault:
        return WrittenView(wish, failure=str(fault))
    soon = wish.dialect.levels
    if writing.steps(Level.LINE) > _MANY_STEPS:
        soon = tuple(each for each in soon if each in (Level.LINE, Level.DATA, level))
    return WrittenView(wish, program, {each: writing.steps(each) for each in soon})


@lru_cache(2)
def _writing(sheet: str, voices: tuple[int, ...], dialect: Dialect) -> Writing:
    return Writing(read(sheet), voices, dialect)


def lit_lines(performance: Performance, places: Sequence[int]) -> dict[int, str]:
    """Return the lines that are lit while some steps are done, with what is said beside each.

    The head of a repeat says its turn, a call how often its part has been called.
    """
    found: dict[int, str] = {}
    for place in places:
        each = performance.performed[place]
        found.setdefault(each.line, "")
        for around in each.around:
            if around.turns > 1:
                found[around.line] = f"{around.turn} of {around.turns}"
            else:
                found.setdefault(around.line, "")
    return found


def values_at(program: WrittenProgram, place: int) -> list[ValueRow]:
    """Return the values while a step is done: turns, parts, and where it goes through lists their items."""
    each = program.performance.performed[place]
    rows: list[ValueRow] = []
    for around in each.around:
        items = program.items.get((around.line, around.turn))
        if around.counter:
            rows.append(ValueRow(around.counter, (str(around.turn - 1),)))
        if items is not None:
            rows.append(ValueRow("item", (f"{around.turn} of {around.turns}",)))
            rows += _lists(program, around.line, around.turn, around.turns)
        elif around.part:
            rows.append(ValueRow("part", (around.part,)))
            if around.up:
                rows.append(ValueRow("up", (f"{around.up:+}",)))
            if around.turns > 1:
                rows.append(ValueRow("call", (f"{around.turn} of {around.turns}",)))
        else:
            rows.append(ValueRow("turn", (f"{around.turn} of {around.turns}",)))
    return rows


def _lists(program: WrittenProgram, head: int, turn: int, turns: int) -> list[ValueRow]:
    """The items of each list about the one of this turn."""
    first = max(1, min(turn - _SHOWN_ITEMS // 2, turns - _SHOWN_ITEMS + 1))
    shown = range(first, min(turns, first + _SHOWN_ITEMS - 1) + 1)
    columns = zip(*(program.items[head, each] for each in shown), strict=True)
    rows = []
    for name, spans in zip(_LISTS, columns, strict=False):
        cells = tuple(program.lines[line - 1].text[start:end] for line, start, end in spans)
        rows.append(ValueRow(name, cells, turn - first))
    return rows


def said_of_line(program: WrittenProgram, song: Song, line: int) -> str:
    """Return the sentence about a line: where the notes are that it makes."""
    notes = program.performance.notes_of_lines.get(line, ())
    ticks = sorted({song.notes[note].start for note in notes if note < len(song.notes)})
    if not ticks:
        return ""
    places = [song.grid.place(tick) for tick in ticks[:_MOST_PLACES]]
    said = [place_in_words(place.bar, place.beat) for place in places]
    if len(ticks) > len(said):
        said.append(f"{len(ticks) - len(said)} more places")
    joined = " and ".join(filter(None, (", ".join(said[:-1]), said[-1])))
    return f"Line {line} makes the note{'s' * (len(notes) > 1)} at {joined}."
