"""A target's text, read back as a board would: the simulator reads cells and nothing else."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from operator import attrgetter

from ..faults import InputFault
from ..song import TICKS_PER_QUARTER, Note, Song, Tempo, TempoMap, Voice
from ..theory import nearest_number, read_key, read_pitch_name
from ..theory.frequency import STANDARD_A4
from .cells import CellKind
from .fields import pattern_of
from .target import ListLayout, Target

__all__ = ["Step", "UnpackFault", "simulated", "simulated_boards", "steps_of", "unpacked"]

_SPACE = re.compile(r"\s*")
_MOST_STEPS = 100_000
_USUAL_TICK = Fraction(1, 8)  # seconds, where a text does not say


_TEMPOS = (40, 240)  # quarters a minute that are usual


class UnpackFault(InputFault):
    """A text is not one that the target would be given."""


@dataclass(frozen=True, slots=True)
class Step:
    """One entry that is played."""

    cell: int
    """Which entry of its line it is, from 0."""
    kind: CellKind
    number: int
    """The MIDI number of a note, the code of a sound, or the cell that a jump goes back to."""
    seconds: Fraction
    """How long it lasts; 0 for a command."""
    start: int
    """Offset of the entry in the text, in the first of its lists."""
    end: int


def steps_of(text: str, target: Target, tuning: float = 440.0) -> list[list[Step]]:
    """Return the steps that a board plays, line by line and in order, jumps taken. Raises UnpackFault."""
    return [list(_played(line)) for line in _Reader(text, target, tuning).lines()]


def simulated(text: str, target: Target, tuning: float = 440.0) -> Song:
    """Simulate a board from its text alone; as :func:`simulated_boards`."""
    return simulated_boards([text], target, tuning)


def unpacked(text: str, target: Target) -> Song:
    """The tune in all of a text: of one board after another, each perhaps below its name. Raises UnpackFault."""
    names = re.compile(rf"^{re.escape(target.id)} [0-9]{{1,3}}[^\S\n]*$", re.MULTILINE)
    reader = _Reader(names.sub(lambda found: " " * len(found[0]), text), target, STANDARD_A4)
    lines = reader.lines(whole=True)
    return _song([(line, reader.tempo) for line in lines], target, STANDARD_A4)


def simulated_boards(texts: Sequence[str], target: Target, tuning: float = 440.0, beat_seconds: float = 0.5) -> Song:
    """Simulate boards that begin together: a voice for each line. Raises UnpackFault.

    Where cells count ticks, four of them are a beat, or eight, two …, so that the tempo is a usual one. Where they
    count beats, each lasts as the text says, or ``beat_seconds``.
    """
    lines: list[tuple[list[Step], float]] = []
    for text in texts:
        reader = _Reader(text, target, tuning, beat_seconds)
        found = reader.lines()
        lines += [(cells, reader.tempo) for cells in found]
    return _song(lines, target, tuning)


def _song(lines: Sequence[tuple[list[Step], float]], target: Target, tuning: float) -> Song:
    """Make the song of lines that begin together, each with its tempo; the song has the last of those."""
    voices: list[Voice] = []
    notes: list[Note] = []
    tempo = 120.0
    for cells, tempo in lines:
        voice, mine = _sounded(list(_played(cells)), len(voices), target, tempo)
        voices.append(voice)
        notes += mine
    notes.sort(key=attrgetter("start", "voice", "number"))
    return Song(voices=tuple(voices), notes=tuple(notes), tempo=TempoMap([Tempo(0, tempo)]), tuning=tuning)


def _sounded(steps: Sequence[Step], place: int, target: Target, tempo: float) -> tuple[Voice, list[Note]]:
    """Make the voice and the notes of one line."""
    per_second = Fraction(tempo) / 60 * TICKS_PER_QUARTER
    notes: list[Note] = []
    now = Fraction(0)
    sound = "board beeper"
    for step in steps:
        start = round(now * per_second)
        end = round((now + step.seconds) * per_second)
        now += step.seconds
        if step.kind is CellKind.NOTE:
            pitch = read_key("C major").spell(step.number)
            notes.append(
                Note(start, place, max(1, end - start), pitch, step.number, 80, False, ((step.start, step.end),))
            )
        elif step.kind is CellKind.HELD and notes:
            notes[-1] = notes[-1]._replace(length=end - notes[-1].start)
        elif step.kind is CellKind.SOUND:
            sound = next((name for name, code in target.sounds.items() if code == step.number), sound)
    return Voice(f"Line {place + 1}", sound, end=round(now * per_second)), notes


def _played(cells: Sequence[Step]) -> Iterator[Step]:
    """Cells in the order in which they are played: each jump is taken once."""
    taken: set[int] = set()
    place = count = 0
    while place < len(cells) and count < _MOST_STEPS:
        step = cells[place]
        count = count + 1
        if step.kind is CellKind.JUMP:
            if place not in taken and step.number < place:
                taken.add(place)
                place = step.number
                continue
        else:
            yield step
        place += 1


class _Reader:
    def __init__(self, text: str, target: Target, tuning: float, beat_seconds: float = 0.5) -> None:
        self.text = text
        self.target = target
        self.tuning = tuning
        self.tick = _USUAL_TICK
        self.beat = Fraction(beat_seconds).limit_denominator(1_000_000)

    def lines(self, whole: bool = False) -> list[list[Step]]:
        """The entries of each line, in the order of the text; of a ``whole`` text those of all boards in it."""
        lines, end = self._board(0)
        while whole and (begin := _SPACE.match(self.text, self._end(end)).end()) < len(self.text):  # type: ignore[union-attr]
            more, end = self._board(begin)
            lines += more
        return lines

    def _end(self, at: int) -> int:
        """The offset after the foot of a board's text. Raises UnpackFault where something else stands there."""
        end = self._match(self.target.foot, at)
        if end is None and self.target.foot.strip():
            raise UnpackFault(f"This is no text for {self.target.title}: it does not end as one.")
        return at if end is None else end

    def _board(self, begin: int) -> tuple[list[list[Step]], int]:
        """The entries of each line of one board, and the offset after them."""
        begin = _SPACE.match(self.text, begin).end() if begin == 0 else begin  # type: ignore[union-attr]
        at = self._head(begin)
        last = at
        lines: list[list[Step]] = []
        while True:
            start = self._match(self.target.line, at)
            if start is None:
                break
            rows: list[list[re.Match[str]]] = []
            at_list: int | None = start
            for layout in self.target.lists:
                found = self._list(layout, at_list) if at_list is not None else None
                if found is None:
                    at_list = None
                    break
                row, at_list = found
                rows.append(row)
            if at_list is None or (not rows[0] and at_list == at):
                break
            lines.append(self._steps(rows))
            last = at_list
            joined = self._match(self.target.join, at_list)
            if joined is None:
                break
            at = joined
        if not lines:
            raise UnpackFault(f"This is no text for {self.target.title}: it holds none of its entries.")
        return lines, last

    @property
    def tempo(self) -> float:
        """Quarters a minute at which the cells fall on plain beats."""
        if not self.target.is_in_ticks:
            return float(60 / self.beat)
        seconds = 4 * self.tick
        while 60 / seconds > _TEMPOS[1]:
            seconds *= 2
        while 60 / seconds < _TEMPOS[0]:
            seconds /= 2
        return float(60 / seconds)

    def _head(self, at: int) -> int:
        found = re.compile(pattern_of(self.target.head)).match(self.text, at)
        if found is None:
            raise UnpackFault(f"This is no text for {self.target.title}: it does not begin as one.")
        groups = found.groupdict()
        if groups.get("tick_ms"):
            self.tick = Fraction(groups["tick_ms"]) / 1000
        if groups.get("tempo") and Fraction(groups["tempo"]):
            self.beat = 60 / Fraction(groups["tempo"])
        return found.end()

    def _match(self, template: str, at: int) -> int | None:
        found = re.compile(pattern_of(template)).match(self.text, at)
        return found.end() if found else None

    def _list(self, layout: ListLayout, at: int) -> tuple[list[re.Match[str]], int] | None:
        start = self._match(layout.open, at)
        if start is None:
            return None
        kinds = [(kind, template) for kind, template in _templates(layout) if template]
        patterns = [(kind, re.compile(pattern_of(template))) for kind, template in kinds]
        between = re.compile(rf"[^\S\n]*(?:{re.escape(layout.between.strip())})?[^\S\n]*\n?[^\S\n]*")
        found: list[re.Match[str]] = []
        here = start
        while True:
            entry = next((match for _, pattern in patterns if (match := pattern.match(self.text, here))), None)
            if entry is None or entry.end() == entry.start():
                break
            found.append(entry)
            here = entry.end()
            skipped = between.match(self.text, here)
            assert skipped is not None
            if not any(pattern.match(self.text, skipped.end()) for _, pattern in patterns):
                break
            here = skipped.end()
        closed = self._match(layout.close, here)
        return None if closed is None else (found, closed)

    def _steps(self, rows: list[list[re.Match[str]]]) -> list[Step]:
        """The entries of lists that run beside each other."""
        steps = []
        for place, together in enumerate(zip(*rows, strict=False)):
            groups: dict[str, str] = {}
            for match in together:
                groups |= {name: value for name, value in match.groupdict().items() if value is not None}
            kind = self._kind(together[0], groups)
            number = int(groups.get("cell") or groups.get("sound") or 0)
            if kind is CellKind.NOTE:
                number = self._number(groups)
            seconds = Fraction(0) if kind in (CellKind.JUMP, CellKind.SOUND) else self._seconds(groups)
            steps.append(Step(place, kind, number, seconds, together[0].start(), together[0].end()))
        return steps

    def _kind(self, match: re.Match[str], groups: dict[str, str]) -> CellKind:
        layout = self.target.lists[0]
        if "cell" in groups or "sound" in groups:
            is_sound = int(groups.get("sound", groups.get("cell", 0))) in self.target.sounds.values()
            return CellKind.SOUND if is_sound else CellKind.JUMP
        for kind, template in _templates(layout):
            if template and re.fullmatch(pattern_of(template), match[0]):
                return kind
        return CellKind.NOTE

    def _number(self, groups: dict[str, str]) -> int:
        if "number" in groups:
            return int(groups["number"])
        if "code" in groups:
            return int(groups["code"]) + self.target.minus
        if "hertz" in groups:
            return nearest_number(float(groups["hertz"]), self.tuning)
        if "place" in groups and int(groups["place"]) < len(self.target.numbers):
            return self.target.numbers[int(groups["place"])]
        letters = f"{groups.get('letter', '')}{groups.get('accidental', '')}{groups.get('octave', '')}"
        name, octave = read_pitch_name(groups.get("name", letters)) or (None, None)
        if name is None:
            raise UnpackFault(f"An entry of this text for {self.target.title} names no pitch.")
        return name.at(4 if octave is None else octave).number

    def _seconds(self, groups: dict[str, str]) -> Fraction:
        wait = Fraction(self.target.wait).limit_denominator(1000) / 1000
        if "ticks" in groups:
            return int(groups["ticks"]) * self.tick
        if "seconds" in groups:
            return max(Fraction(0), Fraction(groups["seconds"]) - wait)
        if "milliseconds" in groups:
            return max(Fraction(0), Fraction(groups["milliseconds"]) / 1000 - wait)
        return Fraction(groups.get("beats", "1")).limit_denominator(960) * self.beat


def _templates(layout: ListLayout) -> tuple[tuple[CellKind, str], ...]:
    """The kinds of cells, those first that could be taken for others."""
    return (
        (CellKind.SOUND, layout.sound),
        (CellKind.JUMP, layout.jump),
        (CellKind.HELD, layout.held),
        (CellKind.REST, layout.rest),
        (CellKind.NOTE, layout.entry),
    )
