"""A tune's program as handouts show it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from .chance import Chance
from .faults import InputFault
from .handout.program_sheet import Order, Piece, ProgramSheet, RepeatedLines, SheetLine, TraceRow
from .handout.request import MOST_FALSE_STEPS
from .programs.writing.dialect import Dialect, Level
from .programs.writing.instructions import Instruction, Kind
from .programs.writing.line_patterns import line_pattern
from .programs.writing.program_text import Performed, ProgramLine, Role
from .programs.writing.puzzle import IndentedStrip, right_orders, strips_of
from .programs.writing.spelling import instruction_text
from .programs.writing.written import Writing, WrittenProgram
from .sheet import Reading, read
from .song.beats import beats
from .theory import Key

__all__ = ["SheetWish", "made_sheet", "program_sheet"]

_KINDS = {"pitch": "pitch", "pitches": "pitch", "beats": "length", "times": "count"}
"""The kind of each value, by the field of the template that writes it."""
_MOVES = (1, -1, 2, -2)  # semitones by which a false step's pitch is off


@dataclass(frozen=True, slots=True)
class SheetWish:
    """A program that is to be on a page."""

    sheet: str
    """The tune's text."""
    voices: tuple[int, ...]
    dialect: Dialect
    level: str
    """By its name."""


def made_sheet(wish: SheetWish) -> tuple[SheetWish, ProgramSheet] | str:
    """Write a program for a page; a sentence where its language cannot say it."""
    try:
        level = next((level for level in wish.dialect.levels if level.value == wish.level), Level.LINE)
        return wish, program_sheet(read(wish.sheet), wish.voices, wish.dialect, level)
    except InputFault as fault:
        return str(fault)


def program_sheet(reading: Reading, voices: Sequence[int], dialect: Dialect, level: Level) -> ProgramSheet:
    """Return the program of some voices for pages. Raises DialectFault where the language cannot say it."""
    writing = Writing(reading, voices, dialect)
    program = writing.program(level)
    strips = _Strips(reading, voices, dialect, level)
    return ProgramSheet(
        dialect.title,
        tuple(_line(dialect, line) for line in program.lines),
        tuple(_repeats(dialect, program)),
        tuple(_trace(reading, program, each) for each in program.performance.performed if each.end > each.tick),
        strips.texts,
        strips.has_parts,
        strips.orders,
        strips.are_all,
        tuple(_false_steps(writing, dialect)) if strips.texts else (),
    )


# Lines


def _line(dialect: Dialect, line: ProgramLine) -> SheetLine:
    text = line.text.lstrip(" ")
    indent = (len(line.text) - len(text)) // max(1, len(dialect.indent))
    pieces = tuple(_pieces(dialect, line.role, text))
    return SheetLine(pieces, indent, line.role in (Role.REPEAT, Role.PART))


def _pieces(dialect: Dialect, role: Role, text: str) -> list[Piece]:
    """The text in pieces, its values by themselves."""
    names = {
        Role.STEP: ("play", "chord", "ring", "ring_chord", "rest", "wait"),
        Role.REPEAT: ("repeat",),
    }.get(role, ())
    for name in names:
        template = getattr(dialect, name)
        found = line_pattern(template).fullmatch(text) if template else None
        if found is None:
            continue
        spans = sorted((found.span(field), kind) for field, kind in _KINDS.items() if field in found.groupdict())
        pieces: list[Piece] = []
        at = 0
        for (start, end), kind in spans:
            pieces += [Piece(text[at:start]), Piece(text[start:end], kind)]
            at = end
        return [each for each in (*pieces, Piece(text[at:])) if each.text]
    return [Piece(text)]


def _repeats(dialect: Dialect, program: WrittenProgram) -> list[RepeatedLines]:
    """The lines that each repeat repeats, from 0."""
    found = []
    for first, last, _ in program.repeated_lines:
        matched = (
            line_pattern(dialect.repeat).fullmatch(program.lines[first - 2].text.strip()) if dialect.repeat else None
        )
        times = matched["times"] if matched is not None else ""
        found.append(RepeatedLines(first - 1, last - 1, int(times) if times.isdigit() else 0))
    return found


# Steps


def _trace(reading: Reading, program: WrittenProgram, each: Performed) -> TraceRow:
    song = reading.song
    names = [song.voices[song.notes[note].voice].name_of(song.notes[note], song.naming) for note in each.notes]
    turns = []
    item = ""
    for around in each.around:
        spans = program.items.get((around.line, around.turn))
        if spans is not None:
            line, first, last = spans[0]
            item = program.lines[line - 1].text[first:last]
        if around.counter:
            turns.append(f"{around.counter} = {around.turn - 1}")
        elif not around.part:
            turns.append(str(around.turn))
    start = beats(Fraction(each.tick, song.meter.beat_ticks))
    return TraceRow(each.line, ", ".join(turns), item, " ".join(names), start)


# Strips


class _Strips:
    """The strips of a puzzle, and every order of them that sounds the tune. Parts are not moved in a puzzle."""

    def __init__(self, reading: Reading, voices: Sequence[int], dialect: Dialect, level: Level) -> None:
        self.texts: tuple[str, ...] = ()
        self.orders: tuple[Order, ...] = ()
        self.are_all = True
        self.has_parts = False
        if level is Level.DATA:
            return
        plain = replace(dialect, moved_part="", moved_call="", lowered_call="")
        writing = Writing(reading, voices, plain)
        lines = [line for line in writing.program(level).lines if line.role is not Role.FRAME]
        laid = strips_of(writing.plan(level), writing.keys)
        found, self.are_all = right_orders(laid, writing.keys)
        own = Order(tuple(range(len(laid))), tuple(each.depth for each in laid))
        self.texts = tuple(line.text.strip() for line in lines)
        self.orders = (own, *(_order(order, laid) for order in found[1:]))
        self.has_parts = any(line.role is Role.PART for line in lines)


def _order(order: Sequence[IndentedStrip], laid: Sequence[IndentedStrip]) -> Order:
    """An order by the places of the strips; equal strips are taken one after the other."""
    left: dict[object, list[int]] = {}
    for place, each in enumerate(laid):
        left.setdefault(each.strip, []).append(place)
    return Order(tuple(left[each.strip].pop(0) for each in order), tuple(each.depth for each in order))


def _false_steps(writing: Writing, dialect: Dialect) -> list[str]:
    """Steps that are none of the program's: strikes of a wrong pitch, as near as a slip."""
    known = {instruction_text(dialect, each) for each in writing.instructions}
    struck = [each for each in writing.instructions if each.kind is Kind.PLAY]
    chance = Chance(len(struck))
    found: list[str] = []
    for each in struck:
        text = instruction_text(dialect, _slipped(each, _MOVES[chance.below(len(_MOVES))], writing.key))
        if text not in known:
            known.add(text)
            found.append(text)
    return found[:MOST_FALSE_STEPS]


def _slipped(each: Instruction, semitones: int, key: Key) -> Instruction:
    """A strike whose highest pitch is off."""
    top = each.pitches[-1].number + semitones
    return each._replace(pitches=(*each.pitches[:-1], key.spell(max(1, min(127, top)))))
