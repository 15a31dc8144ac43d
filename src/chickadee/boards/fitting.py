"""A song fitted to a target: ticks, octaves, cells, jumps; and what is lost, note by note."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import gcd
from operator import attrgetter

from ..song import TICKS_PER_QUARTER, Note, Song
from .cells import Cell, CellKind
from .jumps import with_jumps
from .lines import Entry, Line, lines_of
from .target import Target
from .ticks import tick_choices

__all__ = ["Board", "Fitted", "Loss", "fitted"]

_OCTAVE = 12
_NEAREST_FIRST = sorted(range(-10, 11), key=lambda octaves: (abs(octaves), octaves))


@dataclass(frozen=True, slots=True)
class Loss:
    """Something that the target cannot take."""

    code: str
    sentence: str
    bar: int
    beat: Fraction
    notes: tuple[Note, ...] = ()
    """Those that sound otherwise, or not at all; none for what changes no note's pitch or time."""


@dataclass(frozen=True, slots=True)
class Board:
    """The lists of a program, or the cells of one board."""

    name: str
    voices: tuple[str, ...]
    """The names of its lines' voices."""
    lines: tuple[tuple[Cell, ...], ...]

    @property
    def cells(self) -> int:
        """How many cells are used, of all lines."""
        return sum(len(line) for line in self.lines)


@dataclass(frozen=True)
class Fitted:
    """A tune fitted to a target."""

    target: Target
    song: Song
    tick: int
    """Ticks of the song to a tick of the board; 0 where the target counts no ticks."""
    boards: tuple[Board, ...]
    lost: tuple[Loss, ...] = ()
    """In order of time."""

    @property
    def tick_seconds(self) -> float:
        """How long a tick of the board lasts, at the opening tempo; 0 where the target counts none."""
        return 60 * self.tick / TICKS_PER_QUARTER / self.song.tempo.tempos[0].quarters_per_minute

    @property
    def tick_in_beats(self) -> str:
        """The tick in beats of the opening meter, as text; for a target without, one that all lengths are made of."""
        times = [cell.length for board in self.boards for line in board.lines for cell in line]
        return str(Fraction(self.tick or gcd(*times), self.song.meter.beat_ticks))


def fitted(song: Song, target: Target, voices: Iterable[int] | None = None, tick: int | None = None) -> Fitted:
    """A song as a target takes it; ``tick``, in ticks of the song, is chosen where none is given."""
    return _Fitting(song, target, None if voices is None else list(voices), tick).fitted()


class _Fitting:
    def __init__(self, song: Song, target: Target, voices: list[int] | None, tick: int | None) -> None:
        self.song = song
        self.target = target
        self.limits = target.limits
        self.voices = voices
        every = range(len(song.voices)) if target.drums else None
        self.lines = lines_of(song, every if voices is None else voices)
        self.lost: list[Loss] = []
        self._moved_from: dict[Note, Note] = {}
        self._own = frozenset(song.notes)
        self.tick = 0
        if target.is_in_ticks or self.limits.shortest:
            self.tick = tick or tick_choices(song, self.lines, self.limits.shortest)[0].ticks

    def fitted(self) -> Fitted:
        """Fit each line, and share the lines out."""
        self._note_what_is_not_kept()
        lines = [self._among_pitches(self._in_range(line)) for line in self.lines]
        entries = [self._on_ticks(line) for line in lines]
        cells = [self._cells(line, each) for line, each in zip(lines, entries, strict=True)]
        boards = tuple(self._boards(lines, cells))
        self.lost.sort(key=attrgetter("bar", "beat", "code"))
        return Fitted(self.target, self.song, self.tick, boards, tuple(self.lost))

    def _lose(self, code: str, sentence: str, *notes: Note) -> None:
        place = self.song.grid.place(notes[0].start if notes else 0)
        lost = dict.fromkeys(each for note in notes for each in self._originals(note))
        self.lost.append(Loss(code, sentence, place.bar, place.beat, tuple(lost)))

    def _originals(self, note: Note) -> list[Note]:
        """The notes of the song that a note stands for: a moved one may have come upon another just like it."""
        moved = self._moved_from.get(note)
        return [note] if moved is None else [moved, *([note] if note in self._own else [])]

    def _original(self, note: Note) -> Note:
        """A note of the song, where it was moved since."""
        return self._moved_from.get(note, note)

    def _named(self, note: Note) -> str:
        place = self.song.grid.place(note.start)
        return f"{self.song.voices[note.voice].name_of(note)} in bar {place.bar} beat {place.beat}"

    def _note_what_is_not_kept(self) -> None:
        """Note as lost what no list holds: loudness, changes of tempo, drums, the pedal, short marks."""
        song = self.song
        used = sorted({line.voice for line in self.lines})
        wanted = range(len(song.voices)) if self.voices is None else self.voices
        for index in wanted:
            mine = [song.notes[place] for place in song.by_voice[index].tolist()]
            if index not in used and mine:
                name = song.voices[index].name
                self._lose("drums", f"{name} is a drum kit, which has no pitches; it is left out.", *mine)
        for line in self.lines:
            if not self.target.lists[0].rest and line.notes[0].start > 0:
                name = song.voices[line.voice].name
                self._lose(
                    "rest",
                    f"{name} begins with a rest, which this list cannot hold; it begins at once.",
                    line.notes[0],
                )
        notes = [note for line in self.lines for note in line.notes]
        if len({note.loudness for note in notes}) > 1:
            self._lose("loudness", "How loud each note is has no place in the list.")
        if any(note.short for note in notes):
            self._lose("short", "Short marks have no place in the list; those notes sound in full.")
        if (len(song.tempo.tempos) > 1 or song.tempo.swings) and not self.target.is_in_seconds:
            self._lose("tempo", "The tempo stays as it is at the start.")
        if any(song.voices[index].pedals for index in used):
            self._lose("pedal", "The pedal has no place in the list.")

    # Range

    def _in_range(self, line: Line) -> Line:
        """A line moved by octaves, as a whole or phrase by phrase, until the board has its pitches."""
        low = self.limits.low
        high = self.limits.high
        if all(low <= note.number <= high for note in line.notes):
            return line
        if self.song.voices[line.voice].is_drums:  # another octave is another drum
            return Line(line.voice, tuple(note for note in line.notes if self._has(note)))
        whole = _octaves(line.notes, low, high)
        parts = [line.notes] if whole is not None else _phrases(line.notes)
        found: list[Note] = []
        for part in parts:
            octaves = _octaves(part, low, high)
            for note in part:
                by = octaves if octaves is not None else _octaves([note], low, high)
                if by is None:
                    self._lose("range", f"The board has no pitch for {self._named(note)}; it is left out.", note)
                    continue
                found.append(self._octaves_away(note, by))
        return Line(line.voice, tuple(found))

    def _has(self, note: Note) -> bool:
        """Return whether the board has a note's pitch; it is lost where not."""
        if self.limits.low <= note.number <= self.limits.high:
            return True
        self._lose("range", f"The board has no pitch for {self._named(note)}; it is left out.", note)
        return False

    def _among_pitches(self, line: Line) -> Line:
        """A line whose pitches are all among those that the target has, where it lists them."""
        known = frozenset(self.target.numbers)
        if not known or all(note.number in known for note in line.notes):
            return line
        found: list[Note] = []
        for note in line.notes:
            ways = [by for by in _NEAREST_FIRST if note.number + _OCTAVE * by in known]
            if ways:
                found.append(self._octaves_away(note, ways[0]))
            else:
                self._lose("range", f"The board has no pitch for {self._named(note)}; it is left out.", note)
        return Line(line.voice, tuple(found))

    def _octaves_away(self, note: Note, by: int) -> Note:
        """A note so many octaves higher, which is a loss unless there are none."""
        if not by:
            return note
        count = f"{abs(by)} octave{'s' if abs(by) > 1 else ''}"
        self._lose("octave", f"{self._named(note)} is moved {'up' if by > 0 else 'down'} {count}.", note)
        moved = note._replace(number=note.number + _OCTAVE * by, pitch=note.pitch.name.at(note.pitch.octave + by))
        self._moved_from[moved] = self._original(note)
        return moved

    # Time

    def _on_ticks(self, line: Line) -> list[Entry]:
        """Notes and rests on whole ticks."""
        if not self.tick:
            return line.entries
        found: list[Entry] = []
        here = 0
        for note in line.notes:
            start = max(here, (note.start + self.tick // 2) // self.tick * self.tick)
            end = (note.end + self.tick // 2) // self.tick * self.tick
            if end <= start:
                self._lose("too-short", f"{self._named(note)} is shorter than a tick; it is left out.", note)
                continue
            if (start, end) != (note.start, note.end):
                self._lose("tick", self._moved(note, start, end), note)
            if start > here:
                found.append(Entry(here, start - here))
            found.append(Entry(start, end - start, note))
            here = end
        return found

    def _moved(self, note: Note, start: int, end: int) -> str:
        def milliseconds(ticks: int) -> float:
            return float(self.song.tempo.seconds(abs(ticks))) * 1000

        said = []
        if start != note.start:
            said.append(
                f"begins {milliseconds(start - note.start):.0f} ms {'later' if start > note.start else 'earlier'}"
            )
        if end - start != note.length:
            longer = end - start > note.length
            said.append(f"is {milliseconds(end - start - note.length):.0f} ms {'longer' if longer else 'shorter'}")
        return f"{self._named(note)} {' and '.join(said) or 'moves'}."

    # Cells

    def _cells(self, line: Line, entries: Sequence[Entry]) -> list[Cell]:
        cells = [cell for entry in entries for cell in self._split(entry)]
        code = self._sound(line)
        if code is not None:
            cells.insert(0, Cell(CellKind.SOUND, 0, 0, code))
        if not self.target.can_jump:
            return cells
        jumped = with_jumps(cells, self.limits.cells)
        # A line that is too long all the same is cut, and a jump that is cut would lose notes that it plays again.
        return jumped if not self.limits.cells or len(jumped) <= self.limits.cells else cells

    def _sound(self, line: Line) -> int | None:
        """The code of the sound that comes nearest; None where none is chosen."""
        if not self.target.sounds or not self.target.lists[0].sound:
            return None
        voice = self.song.voices[line.voice]
        if voice.sound in self.target.sounds and not voice.sounds:
            return self.target.sounds[voice.sound]
        name = next(iter(self.target.sounds))
        self._lose("sound", f"{voice.name} sounds as {name}; the board does not have {voice.sound}.")
        return self.target.sounds.get(voice.sound, self.target.sounds[name])

    def _split(self, entry: Entry) -> list[Cell]:
        """An entry as one cell, or as several where it is longer than a cell holds."""
        kind = CellKind.REST if entry.note is None else CellKind.NOTE
        number, pitch = (entry.note.number, entry.note.pitch) if entry.note else (0, None)
        note = self._original(entry.note) if entry.note else None
        most = self.limits.longest * self.tick
        if not most or entry.length <= most:
            return [Cell(kind, entry.start, entry.length, number, pitch, note)]
        found: list[Cell] = []
        start = entry.start
        while start < entry.end:
            length = min(most, entry.end - start)
            again = CellKind.HELD if kind is CellKind.NOTE and self.target.can_hold and found else kind
            found.append(Cell(again, start, length, number, pitch, note))
            start += length
        if entry.note is not None and not self.target.can_hold:
            self._lose(
                "struck-again",
                f"{self._named(entry.note)} is too long for one cell, so it is struck again.",
                entry.note,
            )
        return found

    # Boards

    def _boards(self, lines: Sequence[Line], cells: Sequence[list[Cell]]) -> Iterable[Board]:
        size = self.limits.tones or max(1, len(lines))
        count = -(-len(lines) // size)
        for first in range(0, len(lines), size):
            group = range(first, min(len(lines), first + size))
            mine = self._with_room([cells[place] for place in group])
            name = self.target.id if count == 1 else f"{self.target.id} {first // size + 1}"
            voices = tuple(self.song.voices[lines[place].voice].name for place in group)
            yield Board(name, voices, tuple(tuple(each) for each in mine))

    def _with_room(self, lines: list[list[Cell]]) -> list[list[Cell]]:
        """The lines of one board, all cut at the same time where the cells of one do not suffice."""
        most = self.limits.cells
        over = [line for line in lines if most and len(line) > most]
        if not over:
            return lines
        until = min(line[most].start for line in over)
        notes = {cell.note: None for line in lines for cell in line if cell.start >= until and cell.note is not None}
        if not notes:  # what is cut is silent
            return [line[:most] for line in lines]
        first, *more = sorted(notes, key=attrgetter("start"))
        full = f"The {most} cells are full before {self._named(first)}; {max(map(len, over))} would be needed"
        self._lose("cut", f"{full}, and {len(more) + 1} notes are left out.", first, *more)
        return [[cell for cell in line[:most] if cell.start < until or cell.kind is CellKind.SOUND] for line in lines]


def _octaves(notes: Sequence[Note], low: int, high: int) -> int | None:
    """By how many octaves notes are to be moved to lie in a range, as few as can be; None where none will do."""
    numbers = [note.number for note in notes]
    first = -((min(numbers) - low) // _OCTAVE)
    last = (high - max(numbers)) // _OCTAVE
    return min(range(first, last + 1), key=lambda octaves: (abs(octaves), octaves), default=None)


def _phrases(notes: Sequence[Note]) -> list[list[Note]]:
    """Notes cut where there is a rest between them."""
    found: list[list[Note]] = []
    for note in notes:
        if found and found[-1][-1].end >= note.start:
            found[-1].append(note)
        else:
            found.append([note])
    return found
