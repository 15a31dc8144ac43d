"""A tune as lists, and one loop over them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from typing import NamedTuple

from ...theory import Pitch
from .dialect import Dialect, spelled
from .instructions import Instruction, Kind
from .names import COUNTERS
from .program_text import Around, Performed, ProgramText, Role
from .spelling import instruction_text, pitch_text

__all__ = ["DataSpeller"]

_LISTS = ("notes", "lengths", "gaps")
_ITEMS = ("note", "length", "gap")
_LEAST_ROWS = 2


class _Row(NamedTuple):
    """An item of each list."""

    pitches: tuple[Pitch, ...]
    length: Fraction
    """Beats."""
    tick: int
    end: int
    """The tick at which it is over."""
    notes: tuple[int, ...]
    gap: Fraction = Fraction(0)
    """Beats of silence after it; of a note that rings on, those until the next one begins."""
    gap_tick: int = 0
    """The tick at which the gap begins."""
    gap_end: int = 0


@dataclass(slots=True)
class _Section:
    """The steps between two changes of the tempo."""

    plain: list[Instruction] = field(default_factory=list)
    """The steps that are written before the lists."""
    rows: list[_Row] = field(default_factory=list)
    rings: bool = False
    """True if its notes ring on, and the gaps are the time from one to the next."""


class DataSpeller:
    """Writes instructions as lists with a loop into a text. ``steps`` is how many steps that took."""

    def __init__(self, text: ProgramText, dialect: Dialect, with_counter: bool) -> None:
        self._text = text
        self._dialect = dialect
        self._counted = bool(dialect.counted) and (with_counter or not dialect.each)
        self._indent = dialect.indent * dialect.main_indents
        self._number = 0
        self.steps = 0

    def main(self, instructions: Sequence[Instruction]) -> None:
        """Write the steps."""
        for section in _sections(instructions, bool(self._dialect.list_chord)):
            for each in section.plain:
                self._step(instruction_text(self._dialect, each), 0, [Performed(each.tick, each.end, 0, each.notes)])
            if section.rows:
                self._loop(section)

    def _step(self, text: str, depth: int, performed: Sequence[Performed]) -> int:
        line = self._text.add(text, Role.STEP, depth, self._indent + self._dialect.indent * depth)
        self._text.performed += [each._replace(line=line) for each in performed]
        self.steps += 1
        return line

    def _loop(self, section: _Section) -> None:
        dialect = self._dialect
        self._number += 1
        suffix = "" if self._number == 1 else str(self._number)
        has_gaps = section.rings or any(row.gap for row in section.rows)
        names = [f"{name}{suffix}" for name in _LISTS[: 3 if has_gaps else 2]]
        columns = [
            [self._pitches(row) for row in section.rows],
            [dialect.length(row.length) for row in section.rows],
            [dialect.length(row.gap) for row in section.rows],
        ]
        spans = [
            self._list(dialect.beats_list if place else dialect.pitch_list, name, columns[place])
            for place, name in enumerate(names)
        ]
        head = self._head(names)
        values = self._values(names)
        beats = {"pitch": values[0], "beats": values[1]}
        struck = spelled(dialect.ring if section.rings else dialect.play, **beats)
        inner = self._indent + dialect.indent
        line = self._text.add(struck, Role.STEP, 1, inner)
        gap_line = 0
        if has_gaps:
            waits = section.rings and dialect.wait
            gap_line = self._text.add(
                spelled(dialect.wait if waits else dialect.rest, beats=values[2]), Role.STEP, 1, inner
            )
        if dialect.repeat_end:
            self._text.add(spelled(dialect.repeat_end), Role.FRAME, 0, self._indent)
        self.steps += len(names) + 2 + has_gaps
        for turn, row in enumerate(section.rows, 1):
            counter = COUNTERS[0] if self._counted else ""
            around = (Around(head, turn, len(section.rows), counter=counter),)
            self._text.items[head, turn] = tuple(span[turn - 1] for span in spans)
            self._text.performed.append(Performed(row.tick, row.end, line, row.notes, around))
            if row.gap:
                self._text.performed.append(Performed(row.gap_tick, row.gap_end, gap_line, (), around))

    def _pitches(self, row: _Row) -> str:
        pitches = [pitch_text(self._dialect, pitch) for pitch in row.pitches]
        if len(pitches) == 1:
            return pitches[0]
        joint = "&" if self._dialect.is_in_steps else self._dialect.between
        return spelled(self._dialect.list_chord, pitches=joint.join(pitches))

    def _list(self, opening: str, name: str, items: Sequence[str]) -> list[tuple[int, int, int]]:
        """Write a list; the line of each item, and its columns from and to."""
        dialect = self._dialect
        opened = spelled(opening, list=name)
        closed = spelled(dialect.list_end)
        wrap = dialect.wrap or len(items)
        if len(items) <= wrap:
            row, columns = _joined(items, dialect.list_between, len(self._indent) + len(opened))
            line = self._text.add(opened + row + closed, Role.LIST, 0, self._indent)
            return [(line, *each) for each in columns]
        self._text.add(opened.rstrip(), Role.LIST, 0, self._indent)
        inner = self._indent + dialect.indent
        found: list[tuple[int, int, int]] = []
        for first in range(0, len(items), wrap):
            row, columns = _joined(items[first : first + wrap], dialect.list_between, len(inner))
            more = dialect.list_between.rstrip() if first + wrap < len(items) else ""
            line = self._text.add(row + more, Role.LIST, 1, inner)
            found += [(line, *each) for each in columns]
        if closed:
            self._text.add(closed, Role.LIST, 0, self._indent)
        return found

    def _head(self, names: Sequence[str]) -> int:
        dialect = self._dialect
        if self._counted:
            text = spelled(dialect.counted, list=names[0], counter=COUNTERS[0])
        else:
            text = spelled(dialect.each, lists=", ".join(names), items=", ".join(_ITEMS[: len(names)]))
        return self._text.add(text, Role.REPEAT, 0, self._indent)

    def _values(self, names: Sequence[str]) -> list[str]:
        """How an item of each list is called in the loop."""
        if self._counted:
            return [spelled(self._dialect.item, list=name, counter=COUNTERS[0]) for name in names]
        return list(_ITEMS[: len(names)])


def _joined(items: Sequence[str], between: str, start: int) -> tuple[str, list[tuple[int, int]]]:
    """Items in a row that begins at a column, and the columns of each from and to."""
    columns = []
    for item in items:
        columns.append((start, start + len(item)))
        start += len(item) + len(between)
    return between.join(items), columns


def _sections(instructions: Sequence[Instruction], has_chords: bool) -> Iterator[_Section]:
    """Yield what stands between two changes of the tempo; a section of a single note has no lists."""
    mine: list[Instruction] = []
    for each in [*instructions, None]:
        if each is None or (each.kind is Kind.TEMPO and mine):
            yield _section(mine, has_chords)
            mine = []
        if each is not None:
            mine.append(each)


def _section(mine: Sequence[Instruction], has_chords: bool) -> _Section:
    found = _Section()
    place = 0
    while place < len(mine) and not mine[place].pitches:
        found.plain.append(mine[place])
        place += 1
    found.rings = any(each.kind is Kind.RING or (len(each.pitches) > 1 and not has_chords) for each in mine[place:])
    for each in mine[place:]:
        _add(found, each)
    if len(found.rows) < _LEAST_ROWS:
        return _Section(list(mine))
    return found


def _add(section: _Section, each: Instruction) -> None:
    rows = section.rows
    if not each.pitches:
        _widen(rows, each.beats, each.tick, each.end)
    elif not section.rings:
        rows.append(_Row(each.pitches, each.beats, each.tick, each.end, each.notes))
    else:
        for pitch, note in zip(each.pitches, each.notes, strict=True):
            rows.append(_Row((pitch,), each.beats, each.tick, each.end, (note,)))
        if each.kind is Kind.PLAY:
            _widen(rows, each.beats, each.tick, each.end)


def _widen(rows: list[_Row], beats: Fraction, tick: int, end: int) -> None:
    """Let more time pass after the last row."""
    last = rows[-1]
    rows[-1] = last._replace(gap=last.gap + beats, gap_tick=last.gap_tick if last.gap else tick, gap_end=end)
