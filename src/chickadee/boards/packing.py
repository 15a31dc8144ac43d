"""The text that a target wants: its templates, filled in."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction

from ..templates import FieldValue, fields_of, filled
from ..theory import Pitch
from .cells import Cell, CellKind
from .fields import FIELDS, TEXT_FIELDS
from .fitting import Board, Fitted
from .target import ListLayout, Target, beats_text

__all__ = ["packed"]

Values = Mapping[str, FieldValue]


def packed(fit: Fitted, board: Board) -> str:
    """The text of a program's lists, or of one board's cells."""
    return _Packer(fit, board).text()


class _Packer:
    def __init__(self, fit: Fitted, board: Board) -> None:
        self.fit = fit
        self.board = board
        self.target = fit.target
        song = fit.song
        tick = fit.tick_seconds * 1000
        tempo = song.tempo_in_beats
        self._common: dict[str, FieldValue] = {
            **{name: FieldValue("") if name in TEXT_FIELDS else FieldValue.of(0) for name in FIELDS},
            "title": FieldValue(_plain(song.title or "Tune")),
            "tick": FieldValue(str(fit.tick_in_beats or "1")),
            "tick_ms": FieldValue.of(tick, f"{tick:.1f}"),
            "tempo": FieldValue.of(tempo, f"{tempo:g}"),
            "line": FieldValue.of(1),
        }

    def text(self) -> str:
        """Everything: the head, the lists of each line, the foot."""
        target = self.target
        lines = [self._line(place) for place in range(len(self.board.lines))]
        head = filled(target.head, self._common)
        return head + filled(target.join, self._common).join(lines) + filled(target.foot, self._common)

    def _line(self, place: int) -> str:
        voice = _plain(self.board.voices[place])
        common = self._common | {
            "line": FieldValue.of(place + 1),
            "suffix": FieldValue(f"_{place + 1}" if place else ""),
            "voice": FieldValue(voice),
        }
        cells = _without_rests(self.board.lines[place], self.target)
        return filled(self.target.line, common) + "".join(
            self._list(layout, cells, common) for layout in self.target.lists
        )

    def _list(self, layout: ListLayout, cells: list[Cell], common: Values) -> str:
        entries = [self._entry(layout, cell, common) for cell in cells]
        size = layout.wrap or max(1, len(entries))
        rows = [layout.between.join(entries[at : at + size]) for at in range(0, len(entries), size)]
        joined = f"{layout.between.rstrip()}\n{layout.indent}".join(rows)
        return filled(layout.open, common) + joined + filled(layout.close, common)

    def _entry(self, layout: ListLayout, cell: Cell, common: Values) -> str:
        template = {
            CellKind.NOTE: layout.entry,
            CellKind.REST: layout.rest,
            CellKind.HELD: layout.held,
            CellKind.JUMP: layout.jump,
            CellKind.SOUND: layout.sound,
        }[cell.kind]
        return filled(template, {**common, **self._values(cell, fields_of(template))})

    def _values(self, cell: Cell, wanted: frozenset[str]) -> dict[str, FieldValue]:
        """Return the values of those fields at a cell that are wanted."""
        if cell.kind in (CellKind.JUMP, CellKind.SOUND):
            return {"cell": FieldValue.of(cell.number), "sound": FieldValue.of(cell.number)}
        found = {}
        if "beats" in wanted:
            beats = self.fit.song.grid.beats(0, Fraction(cell.length))
            found["beats"] = FieldValue.of(beats, beats_text(beats))
        if wanted & {"seconds", "milliseconds"}:
            start, end = self.fit.song.tempo.seconds([cell.start, cell.start + cell.length]).tolist()
            milliseconds = (end - start) * 1000 + self.target.wait
            found["seconds"] = FieldValue.of(milliseconds / 1000, _decimals(milliseconds / 1000))
            found["milliseconds"] = FieldValue.of(round(milliseconds))
        if "ticks" in wanted:
            found["ticks"] = FieldValue.of(cell.length // self.fit.tick if self.fit.tick else 0)
        return found if cell.pitch is None else found | self._pitch(cell, cell.pitch, wanted)

    def _pitch(self, cell: Cell, pitch: Pitch, wanted: frozenset[str]) -> dict[str, FieldValue]:
        found = {"number": FieldValue.of(cell.number), "code": FieldValue.of(cell.number - self.target.minus)}
        if "hertz" in wanted:
            hertz = self.fit.song.frequency(cell.number)
            found["hertz"] = FieldValue.of(hertz, _decimals(hertz, 2))
        if "place" in wanted:
            found["place"] = FieldValue.of(_place(self.target, cell.number))
        if wanted & {"name", "letter", "accidental", "octave"}:
            found["name"] = FieldValue(pitch.text)
            found["letter"] = FieldValue(pitch.letter)
            found["accidental"] = FieldValue(pitch.text[len(pitch.letter) : -len(str(pitch.octave))])
            found["octave"] = FieldValue.of(pitch.octave)
        if "word" in wanted:
            found["word"] = FieldValue(_plain(cell.note.syllable if cell.note else ""))
        return found


def _without_rests(cells: tuple[Cell, ...], target: Target) -> list[Cell]:
    """The cells as they are; where a target has no rests, what is silent belongs to the note before it."""
    if target.lists[0].rest:
        return list(cells)
    found: list[Cell] = []
    for cell in cells:
        if cell.kind is not CellKind.REST:
            found.append(cell)
        elif found:
            found[-1] = found[-1]._replace(length=found[-1].length + cell.length)
    return found


def _place(target: Target, number: int) -> int:
    """Where a pitch stands in the target's list of pitches; the list's length where it is not there."""
    numbers = target.numbers
    return numbers.index(number) if number in numbers else len(numbers)


def _plain(text: str) -> str:
    """A text without what could end a string or a comment, or begin a formula where the text is a table."""
    kept = "".join(c for c in text if c.isprintable() and c not in '"\\*/')
    return kept.strip().lstrip("=+-@").lstrip()


def _decimals(value: float, digits: int = 4) -> str:
    return f"{value:.{digits}f}".rstrip("0").rstrip(".") or "0"
