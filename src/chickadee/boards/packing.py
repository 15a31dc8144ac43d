"""The text that a target wants: its templates, filled in."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction

from ..theory import Pitch
from .cells import Cell, CellKind
from .fitting import Board, Fitted
from .target import ListLayout, Target, beats_text

__all__ = ["packed"]

Values = Mapping[str, object]


def packed(fit: Fitted, board: Board) -> str:
    """The text of a program's lists, or of one board's cells."""
    return _Packer(fit, board).text()


class _Packer:
    def __init__(self, fit: Fitted, board: Board) -> None:
        self.fit, self.board, self.target = fit, board, fit.target
        song = fit.song
        self._common: dict[str, object] = {
            "title": _plain(song.title or "Tune"), "tick": fit.tick_in_beats or "1",
            "tick_ms": f"{fit.tick_seconds * 1000:.1f}", "tempo": f"{song.tempo_in_beats:g}",
            "line": 1, "suffix": "", "voice": "", "word": "", "cell": 0, "sound": 0, "number": 0, "code": 0,
            "place": 0, "name": "", "letter": "", "accidental": "", "octave": 0, "hertz": 0, "beats": "0",
            "seconds": "0", "milliseconds": 0, "ticks": 0,
        }  # fmt: skip

    def text(self) -> str:
        """Everything: the head, the lists of each line, the foot."""
        target = self.target
        lines = [self._line(place) for place in range(len(self.board.lines))]
        head = target.head.format_map(self._common)
        return head + target.join.join(lines) + target.foot.format_map(self._common)

    def _line(self, place: int) -> str:
        voice = _plain(self.board.voices[place])
        common = self._common | {"line": place + 1, "suffix": f"_{place + 1}" if place else "", "voice": voice}
        cells = _without_rests(self.board.lines[place], self.target)
        return self.target.line.format_map(common) + "".join(
            self._list(layout, cells, common) for layout in self.target.lists
        )

    def _list(self, layout: ListLayout, cells: list[Cell], common: Values) -> str:
        entries = [self._entry(layout, cell, common) for cell in cells]
        size = layout.wrap or max(1, len(entries))
        rows = [layout.between.join(entries[at : at + size]) for at in range(0, len(entries), size)]
        joined = f"{layout.between.rstrip()}\n{layout.indent}".join(rows)
        return layout.open.format_map(common) + joined + layout.close.format_map(common)

    def _entry(self, layout: ListLayout, cell: Cell, common: Values) -> str:
        template = {
            CellKind.NOTE: layout.entry, CellKind.REST: layout.rest, CellKind.HELD: layout.held,
            CellKind.JUMP: layout.jump, CellKind.SOUND: layout.sound,
        }[cell.kind]  # fmt: skip
        return template.format_map({**common, **self._values(cell)})

    def _values(self, cell: Cell) -> Values:
        """What stands for the fields of a template at a cell."""
        if cell.kind in (CellKind.JUMP, CellKind.SOUND):
            return {"cell": cell.number, "sound": cell.number}
        song, target = self.fit.song, self.target
        start, end = (float(each) for each in song.tempo.seconds([cell.start, cell.start + cell.length]))
        milliseconds = (end - start) * 1000 + target.wait
        found: dict[str, object] = {
            "beats": beats_text(song.grid.beats(0, Fraction(cell.length))), "seconds": _decimals(milliseconds / 1000),
            "milliseconds": round(milliseconds), "ticks": cell.length // self.fit.tick if self.fit.tick else 0,
        }  # fmt: skip
        return found if cell.pitch is None else found | self._pitch(cell, cell.pitch)

    def _pitch(self, cell: Cell, pitch: Pitch) -> dict[str, object]:
        hertz = self.fit.song.frequency(cell.number)
        return {
            "number": cell.number, "code": cell.number - self.target.minus, "name": pitch.text,
            "letter": pitch.letter, "accidental": pitch.text[len(pitch.letter) : -len(str(pitch.octave))],
            "octave": pitch.octave, "hertz": _decimals(hertz, 2), "place": _place(self.target, cell.number),
            "word": _plain(cell.note.syllable if cell.note else ""),
        }  # fmt: skip


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
    """A text without what could end a string or a comment."""
    kept = "".join(c for c in text if c.isprintable() and c not in '"\\*/')
    return kept.strip()


def _decimals(value: float, digits: int = 4) -> str:
    return f"{value:.{digits}f}".rstrip("0").rstrip(".") or "0"
