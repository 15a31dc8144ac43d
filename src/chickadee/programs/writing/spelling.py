"""A plan spelled in a dialect: the lines of its steps, repeats, parts and calls, and what each does when."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from ...templates import fields_of
from ...theory import Pitch
from .dialect import Dialect, spelled
from .instructions import Instruction, Kind
from .names import COUNTERS, part_names
from .plan import Call, Part, Plan, Planned, Repeat, Step
from .program_text import Around, Performed, ProgramText, Role

__all__ = ["PlanSpeller", "instruction_text", "pitch_text"]


def pitch_text(dialect: Dialect, pitch: Pitch, is_moved: bool = False) -> str:
    """Return a pitch as a dialect spells it, in a part that is moved with what moves it."""
    plain = spelled(dialect.pitch, number=str(pitch.number), name=pitch.text)
    return spelled(dialect.moved_pitch, pitch=plain) if is_moved else plain


def instruction_text(dialect: Dialect, each: Instruction, is_moved: bool = False) -> str:
    """Return an instruction as a dialect spells it."""
    if each.kind is Kind.TEMPO:
        return spelled(dialect.tempo, tempo=_decimal(float(each.beats)))
    beats = dialect.length(each.beats)
    if each.kind in (Kind.REST, Kind.WAIT):
        waits = each.kind is Kind.WAIT and dialect.wait
        return spelled(dialect.wait if waits else dialect.rest, beats=beats)
    pitches = [pitch_text(dialect, pitch, is_moved) for pitch in each.pitches]
    rings = each.kind is Kind.RING
    if len(pitches) == 1:
        return spelled(dialect.ring if rings else dialect.play, pitch=pitches[0], beats=beats)
    together = dialect.between.join(pitches)
    template = dialect.ring_chord if rings else dialect.chord
    return spelled(template, pitches=together, count=str(len(pitches)), beats=beats)


def _decimal(number: float) -> str:
    return f"{number:.3f}".rstrip("0").rstrip(".")


@dataclass(slots=True)
class _Spelled:
    """A planned step with its line."""

    planned: Planned
    line: int
    inside: list[_Spelled]
    counter: str = ""


class PlanSpeller:
    """Writes a plan into a text."""

    def __init__(self, text: ProgramText, dialect: Dialect, plan: Plan, instructions: Sequence[Instruction]) -> None:
        self._plan = plan
        self._text = text
        self._dialect = dialect
        self._instructions = instructions
        self._names: list[str] = []
        self._parts: list[list[_Spelled]] = []
        self._times: Counter[int] = Counter()
        """How often each part has been called so far."""
        self._all_times: Counter[int] = Counter()
        self._done = 0

    def parts(self) -> None:
        """Write the parts."""
        dialect = self._dialect
        self._names = part_names([part.name for part in self._plan.parts], dialect)
        outer = dialect.indent * dialect.part_indents
        for name, part in zip(self._names, self._plan.parts, strict=True):
            head = dialect.moved_part if part.is_moved else dialect.part
            self._text.add(spelled(head, part=name), Role.PART, 0, outer)
            self._parts.append(self._body(part.body, 1, dialect.part_indents, part))
            if dialect.part_end:
                self._text.add(spelled(dialect.part_end), Role.FRAME, 0, outer)
            if not dialect.is_in_steps:
                self._text.add("", Role.FRAME, 0, "")

    def main(self) -> None:
        """Write the steps that are in no part, and go through all that is done."""
        spelled_body = self._body(self._plan.body, 0, self._dialect.main_indents, None)
        self._all_times = self._calls_in(spelled_body)
        self._perform(spelled_body, ())

    def _body(self, body: Sequence[Planned], depth: int, outer: int, part: Part | None) -> list[_Spelled]:
        found = []
        indent = self._dialect.indent * (outer + depth)
        for each in body:
            if isinstance(each, Repeat):
                found.append(self._repeat(each, depth, outer, part))
            elif isinstance(each, Call):
                found.append(_Spelled(each, self._text.add(self._call(each), Role.CALL, depth, indent), []))
            else:
                is_moved = part is not None and part.is_moved
                text = instruction_text(self._dialect, self._instructions[each.place], is_moved)
                found.append(_Spelled(each, self._text.add(text, Role.STEP, depth, indent), []))
        return found

    def _repeat(self, repeat: Repeat, depth: int, outer: int, part: Part | None) -> _Spelled:
        dialect = self._dialect
        indent = dialect.indent * (outer + depth)
        nested = depth - (part is not None)
        counter = COUNTERS[nested] if nested < len(COUNTERS) else f"i{nested}"
        head = spelled(dialect.repeat, times=str(repeat.turns), counter=counter)
        line = self._text.add(head, Role.REPEAT, depth, indent)
        inside = self._body(repeat.body, depth + 1, outer, part)
        if dialect.repeat_end:
            self._text.add(spelled(dialect.repeat_end), Role.FRAME, depth, indent)
        return _Spelled(repeat, line, inside, counter if "counter" in fields_of(dialect.repeat) else "")

    def _call(self, call: Call) -> str:
        dialect = self._dialect
        name = self._names[call.part]
        if call.up == 0 and (dialect.lowered_call or not self._plan.parts[call.part].is_moved):
            return spelled(dialect.call, part=name)
        if call.up < 0 and dialect.lowered_call:
            return spelled(dialect.lowered_call, part=name, up=str(-call.up))
        return spelled(dialect.moved_call, part=name, up=str(call.up))

    # What is done when

    def _calls_in(self, body: Sequence[_Spelled]) -> Counter[int]:
        """How often each part is called by a body, calls inside parts counted."""
        found: Counter[int] = Counter()
        for each in body:
            if isinstance(each.planned, Call):
                found[each.planned.part] += 1
                found += self._calls_in(self._parts[each.planned.part])
            elif isinstance(each.planned, Repeat):
                inside = self._calls_in(each.inside)
                found += Counter({part: count * each.planned.turns for part, count in inside.items()})
        return found

    def _perform(self, body: Sequence[_Spelled], around: tuple[Around, ...]) -> None:
        for each in body:
            planned = each.planned
            if isinstance(planned, Step):
                instruction = self._instructions[self._done]
                self._done += 1
                self._text.performed.append(
                    Performed(instruction.tick, instruction.end, each.line, instruction.notes, around)
                )
            elif isinstance(planned, Call):
                self._times[planned.part] += 1
                called = Around(
                    each.line,
                    self._times[planned.part],
                    self._all_times[planned.part],
                    self._names[planned.part],
                    planned.up,
                )
                self._perform(self._parts[planned.part], (*around, called))
            else:
                for turn in range(1, planned.turns + 1):
                    here = Around(each.line, turn, planned.turns, counter=each.counter)
                    self._perform(each.inside, (*around, here))
