"""The timeline of a page: the roll as SVG, and the reading rows under it as boxes that can be typed into."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from html import escape

from ..display.axes import Axes, with_room
from ..display.cells import Cell
from ..display.rows import ROWS
from ..display.scene import Scene
from ..display.words import beats as beats_in_words
from ..display.words import both_names
from ..files import visible
from ..song import Note

__all__ = ["BLACK_KEYS", "Timeline", "attribute", "text"]

_QUARTER = 46.0  # pixels to a quarter note, at least
_MOST_QUARTER = 220.0
_NAME = 34.0  # pixels that a name and a number need
_LANE = 15
_RULER = 26
_EDGE = 4
BLACK_KEYS = frozenset((1, 3, 6, 8, 10))
"""The pitch classes of black keys."""
_HIDDEN = {"Name": "names", "Number": "numbers", "Beats": "beats"}


def text(value: str) -> str:
    """Words of a tune as the text of an element."""
    return escape(visible(value), quote=False)


def attribute(value: str) -> str:
    """Words of a tune as the value of an attribute."""
    return escape(visible(value))


@dataclass(frozen=True)
class Timeline:
    """A scene as it stands on a page, from its start to its end."""

    scene: Scene
    rows: tuple[str, ...]
    """The titles of the reading rows that are shown."""
    gaps: frozenset[tuple[str, int]] = frozenset()
    """The cells of the voice in front that the reader types in: (title of the row, tick)."""

    @cached_property
    def axes(self) -> Axes:
        """Wide enough for the names of most notes."""
        song = self.scene.song
        lengths = sorted(note.length for note in song.notes if note.voice == self.scene.front)
        shortest = lengths[len(lengths) // 10] if lengths else 8_064_000
        quarter = min(_MOST_QUARTER, max(_QUARTER, _NAME * 8_064_000 / max(1, shortest)))
        return Axes(quarter, 0, _LANE, self.lanes[-1])

    @cached_property
    def lanes(self) -> range:
        """The MIDI numbers that have a lane, from the lowest."""
        numbers = [note.number for note in self.scene.song.notes] or [60, 72]
        low, high = with_room(min(numbers), max(numbers))
        return range(low, high + 1)

    @property
    def width(self) -> float:
        """Pixels."""
        return self.axes.x(self.scene.song.end) + 2

    @property
    def height(self) -> int:
        """Pixels of ruler and roll."""
        return _RULER + len(self.lanes) * _LANE

    def keys(self) -> str:
        """The keys at the left, one for each lane."""
        axes = self.axes
        parts = [f'<svg class="lane-names" width="74" height="{self.height}" aria-hidden="true">']
        for number in self.lanes:
            y = _RULER + axes.y(number)
            dark = not self.scene.is_of_drums and number % 12 in BLACK_KEYS
            kind = "black" if dark else "white"
            parts.append(f'<rect class="{kind}" x="0" y="{y}" width="74" height="{_LANE - 1}"/>')
            name = text(self.scene.lane_name(number))
            parts.append(f'<text class="on-{kind}" x="5" y="{y + 11}">{name}</text>')
            parts.append(f'<text class="on-{kind} end" x="70" y="{y + 11}">{number}</text>')
        return "".join([*parts, "</svg>"])

    def roll(self) -> str:
        """The roll: lanes, bars, and a group for each note."""
        song = self.scene.song
        size = f'width="{self.width:.1f}" height="{self.height}"'
        parts = [
            f'<svg class="roll" {size} role="group" aria-label="Notes">',
            '<defs><pattern id="hatch" width="6" height="6" patternUnits="userSpaceOnUse" '
            'patternTransform="rotate(45)"><rect width="6" height="6" class="lane"/>'
            '<line x1="0" y1="0" x2="0" y2="6" class="hatch"/></pattern></defs>',
            f'<rect class="ruler" width="{self.width:.1f}" height="{_RULER}"/>',
            *self._lanes(),
            *self._bars(),
            f'<rect id="column" x="0" y="0" width="0" height="{self.height}"/>',
            *(self._note(index) for index in self.scene.notes_between(0, song.end + 1)),
        ]
        return "".join([*parts, "</svg>"])

    def _lanes(self) -> Iterator[str]:
        for number in self.lanes:
            kind = "plain" if self.scene.lane_is_plain(number) else "hatched"
            y = _RULER + self.axes.y(number)
            yield f'<rect class="{kind}" y="{y}" width="{self.width:.1f}" height="{_LANE}"/>'

    def _bars(self) -> Iterator[str]:
        song = self.scene.song
        grid = song.grid
        axes = self.axes
        number = song.first_bar
        while (start := grid.start(number)) < song.end:
            end = grid.end(number)
            beat = grid.meter_at(start).beat_ticks
            for tick in range(start + beat, min(end, song.end), beat):
                yield f'<line class="beat" x1="{axes.x(tick):.1f}" x2="{axes.x(tick):.1f}" y1="{_RULER}" y2="100%"/>'
            x = axes.x(start)
            since, until = song.tempo.seconds([start, min(end, song.end)])
            yield (
                f'<g class="bar" data-bar="{number}" data-start="{since:.4f}" data-end="{until:.4f}">'
                f'<line class="bar-line" x1="{x:.1f}" x2="{x:.1f}" y1="4" y2="100%"/>'
                f'<rect class="bar-head" x="{x:.1f}" width="{axes.x(end) - x:.1f}" height="{_RULER}"/>'
                f'<text x="{x + 5:.1f}" y="18">{number}</text></g>'
            )
            number += 1
        for tick, name in self.scene.phrase_starts:
            yield f'<text class="phrase" x="{axes.x(tick) + 26:.1f}" y="18">{text(name)}</text>'

    def _note(self, index: int) -> str:
        song = self.scene.song
        note = song.notes[index]
        axes = self.axes
        x = axes.x(note.start)
        wide = max(3.0, axes.x(note.end) - x - 1)
        thick = max(3.0, _LANE * (0.42 + 0.55 * note.loudness / 127))
        y = _RULER + axes.y(note.number) + (_LANE - thick) / 2
        front = note.voice == self.scene.front
        name = song.voices[note.voice].name_of(note, song.naming)
        room = wide - _EDGE - 4
        label = ""
        if front and room > 7 * len(name) and not self._is_asked(note):
            label = f'<text x="{x + _EDGE + 3:.1f}" y="{y + thick / 2 + 4:.1f}">{text(name)}</text>'
        colour = f"v{note.voice % 8}"
        return (
            f'<g class="note {colour}{"" if front else " behind"}" {self._facts(note)}>'
            f'<rect class="body" x="{x:.1f}" y="{y:.1f}" width="{wide:.1f}" height="{thick:.1f}"/>'
            f'<rect class="edge" x="{x:.1f}" y="{y:.1f}" width="{min(_EDGE, wide):.1f}" height="{thick:.1f}"/>'
            f"{label}</g>"
        )

    def _is_asked(self, note: Note) -> bool:
        """Return whether the reader is to say which note this is."""
        here = {(title, note.start) for title in ("Name", "Number")}
        return note.voice == self.scene.front and not here.isdisjoint(self.gaps)

    def _facts(self, note: Note) -> str:
        """The attributes by which a script knows a note, and what a screen reader says of it."""
        song = self.scene.song
        start, end = song.tempo.seconds([note.start, note.end])
        place = song.grid.place(note.start)
        beat = beats_in_words(place.beat)
        length = beats_in_words(song.grid.beats(note.start, note.length))
        known = "?, ?" if self._is_asked(note) else f"{both_names(song, note)}, {note.number}"
        said = f"{known}, bar {place.bar}, beat {beat}, length {length}"
        return (
            f'{_seconds(start, end)} data-number="{note.number}" data-voice="{note.voice}" role="img" '
            f'aria-label="{attribute(said)}"'
        )

    def reading_rows(self) -> str:
        """The reading rows of the voice in front."""
        song = self.scene.song
        cells = self.scene.cells.between(0, song.end + 1)
        return "".join(
            f'<div class="row" data-row="{attribute(title)}" data-hides="{_HIDDEN.get(title, "")}" '
            f'style="width:{self.width:.1f}px">{"".join(self._cells(title, cells))}</div>'
            for title in self.rows
        )

    def titles(self) -> str:
        """The titles of the rows, left of them."""
        return "".join(f'<div class="row-title">{text(title)}</div>' for title in self.rows)

    def _cells(self, title: str, cells: Sequence[Cell]) -> Iterator[str]:
        song = self.scene.song
        for cell in cells:
            x = self.axes.x(cell.tick)
            wide = self.axes.x(cell.tick + cell.length) - x
            said = ROWS[title].text(cell, song)
            start, end = song.tempo.seconds([cell.tick, cell.tick + cell.length])
            place = f'style="left:{x:.1f}px;width:{wide:.1f}px" {_seconds(start, end)}'
            if cell.notes and (title, cell.tick) in self.gaps:
                where = song.grid.place(cell.tick)
                label = f"{title} of the note in bar {where.bar}, beat {beats_in_words(where.beat)}"
                yield (
                    f'<span class="cell gap" {place}><input data-answer="{attribute(said)}" '
                    f'aria-label="{attribute(label)}" autocomplete="off" spellcheck="false"></span>'
                )
            else:
                kind = "cell" if cell.notes else "cell rest"
                yield f'<span class="{kind}" {place}>{text(said)}</span>'


def _seconds(start: float, end: float) -> str:
    """The attributes that say when something sounds."""
    return f'data-start="{start:.4f}" data-length="{end - start:.4f}"'
