"""A tune written as a program."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from ...files import visible
from ...sheet import Reading
from ...templates import fields_of
from ...theory import Key
from .data import DataSpeller
from .dialect import Dialect, DialectFault, Level, spelled
from .instructions import Instruction, Instructions, Kind, instructions_of
from .parts import with_parts
from .phrase_uses import phrase_uses
from .plan import Plan, line_by_line, with_repeats
from .program_text import Performance, ProgramLine, ProgramText, Role
from .spelling import PlanSpeller, instruction_text

__all__ = ["Writing", "WrittenProgram"]


@dataclass(frozen=True)
class WrittenProgram:
    """A tune as a program.

    >>> from ...sheet import read
    >>> from .catalogue import dialect_called
    >>> print(Writing(read("C4 E4=2"), (0,), dialect_called("python")).program(Level.LINE).text)
    tempo(120)
    play(60, 1)
    play(64, 2)
    <BLANKLINE>
    """

    dialect: Dialect
    level: Level
    lines: tuple[ProgramLine, ...]
    performance: Performance
    """All that is done, step by step."""
    items: dict[tuple[int, int], tuple[tuple[int, int, int], ...]]
    """For the head of a loop over data and each of its turns the items: their lines, and columns from and to."""
    steps: int
    left_out: tuple[str, ...] = ()
    """Sentences on what of the tune is not in the program."""

    @cached_property
    def repeated_lines(self) -> list[tuple[int, int, int]]:
        """The first and the last line of what each repeat repeats, from 1, and how deep the repeat stands."""
        found = []
        for place, line in enumerate(self.lines):
            if line.role is not Role.REPEAT:
                continue
            last = place + 1
            while last < len(self.lines) and self.lines[last].depth > line.depth:
                last += 1
            found.append((place + 2, last, line.depth))
        return found

    @cached_property
    def text(self) -> str:
        """The whole text."""
        return "".join(f"{line.text}\n" for line in self.lines)


class Writing:
    """A tune that is to be written in a language, at one level or another."""

    def __init__(self, reading: Reading, voices: Sequence[int], dialect: Dialect) -> None:
        """Work out its instructions. Raises DialectFault where the language cannot say what there is to be said."""
        self._reading = reading
        self._dialect = dialect
        found = instructions_of(reading, voices)
        self.instructions: tuple[Instruction, ...] = tuple(_sayable(found.each, dialect))
        """The steps of the tune, in order."""
        self._tune = found
        self._plans: dict[Level, Plan] = {}

    @property
    def key(self) -> Key:
        """The opening key of the tune."""
        return self._tune.song.key

    @cached_property
    def keys(self) -> list[int]:
        """A number for each instruction, the same for those that are written alike."""
        numbers: dict[str, int] = {}
        return [numbers.setdefault(instruction_text(self._dialect, each), len(numbers)) for each in self.instructions]

    def plan(self, level: Level) -> Plan:
        """Return the steps of the program at a level that is no data."""
        if level not in self._plans:
            if level is Level.PARTS:
                uses = phrase_uses(self._reading, self._tune.voices[0]) if len(self._tune.voices) == 1 else []
                plan = with_parts(self.instructions, self.keys, uses, self._dialect.can_move)
            elif level is Level.REPEATS:
                plan = with_repeats(self.keys)
            else:
                plan = line_by_line(len(self.keys))
            self._plans[level] = plan
        return self._plans[level]

    def steps(self, level: Level) -> int:
        """How many steps the program has at a level."""
        if level is not Level.DATA:
            return self.plan(level).steps
        data = DataSpeller(ProgramText(), self._dialect, False)
        data.main(self.instructions)
        return data.steps

    def program(self, level: Level, runs: bool = False, with_counter: bool = False) -> WrittenProgram:
        """Write the program. ``runs`` adds what it needs to run by itself.

        ``with_counter`` has the loop over the lists count. Raises DialectFault for a level that the language has not.
        """
        dialect = self._dialect
        if level not in dialect.levels:
            known = ", ".join(each.value for each in dialect.levels)
            raise DialectFault(f"{dialect.title} cannot be written at the level {level.value}; it has {known}.")
        text = ProgramText()
        self._begin(text, level, runs)
        if level is Level.DATA:
            _frame(text, dialect.begin)
            data = DataSpeller(text, dialect, with_counter)
            data.main(self.instructions)
            steps = data.steps
        else:
            plan = self.plan(level)
            speller = PlanSpeller(text, dialect, plan, self.instructions)
            speller.parts()
            _frame(text, dialect.begin)
            speller.main()
            steps = plan.steps
        _frame(text, dialect.end)
        _frame(text, dialect.foot)
        left_out = tuple(_left_out(self._tune, dialect))
        return WrittenProgram(
            dialect, level, tuple(text.lines), Performance(tuple(text.performed)), text.items, steps, left_out
        )

    def _begin(self, text: ProgramText, level: Level, runs: bool) -> None:
        """Write what comes before the parts."""
        dialect = self._dialect
        title = visible(self._tune.song.title).replace("\\", "").strip()
        if title and dialect.comment:
            text.add(spelled(dialect.comment, title=title[:100]), Role.FRAME, 0, "")
        _frame(text, dialect.head)
        if not runs:
            return
        if not dialect.runs:
            raise DialectFault(f"{dialect.title} has no key `runs` that makes a program run by itself.")
        has_chords = any(len(each.pitches) > 1 for each in self.instructions)
        in_lists = level is Level.DATA and has_chords and not dialect.list_chord
        rings = in_lists or any(each.kind is Kind.RING for each in self.instructions)
        for is_used, template in (
            (True, dialect.runs),
            (has_chords, dialect.runs_chords),
            (rings, dialect.runs_rings),
        ):
            if is_used and template:
                _frame(text, template.strip("\n"))
                text.add("", Role.FRAME, 0, "")


def _frame(text: ProgramText, template: str) -> None:
    if template:
        text.add(spelled(template), Role.FRAME, 0, "")


def _sayable(instructions: Sequence[Instruction], dialect: Dialect) -> list[Instruction]:
    """The instructions, chords taken apart where the language has none."""
    found: list[Instruction] = []
    for each in instructions:
        template = dialect.ring_chord if each.kind is Kind.RING else dialect.chord
        several = [each]
        if len(each.pitches) > 1 and not template:
            pairs = list(zip(each.pitches, each.notes, strict=True))
            several = [each._replace(kind=Kind.RING, pitches=(pitch,), notes=(note,)) for pitch, note in pairs]
            several[-1] = several[-1]._replace(kind=each.kind)
        found += several
    if not dialect.ring and any(each.kind is Kind.RING for each in found):
        raise DialectFault(f"{dialect.title} has no key `ring` for notes that sound on; choose a single voice.")
    return found


def _left_out(tune: Instructions, dialect: Dialect) -> list[str]:
    """Sentences on what of the tune is not in its program."""
    song = tune.song
    notes = [note for note in song.notes if note.voice in tune.voices]
    found = []
    if len({note.loudness for note in notes}) > 1:
        found.append("The loudness of the notes is not in the program.")
    if any(note.short for note in notes):
        found.append("Notes that are struck short have their whole length in the program.")
    if any(song.voices[voice].pedals for voice in tune.voices):
        found.append("The pedal is not in the program.")
    if song.tempo.swings:
        found.append("The swing is not in the program; its notes are even.")
    if any(tempo.ramp for tempo in song.tempo.tempos):
        found.append("Where the tempo moves evenly, the program sets it anew at each note.")
    if any(song.voices[voice].is_drums for voice in tune.voices):
        found.append("Drums stand in the program as the pitches of their MIDI numbers.")
    if "number" in fields_of(dialect.pitch) and any(note.number == 0 for note in notes):
        found.append("The lowest note has the number 0, which programs take for a rest.")
    if not notes:
        found.append("There are no notes here.")
    return found
