"""Lists of single values, as programs and papers have them, and how pitches find their lengths."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..theory import Naming
from .columns import PITCH_KINDS, is_out_of_tune, kind_of, pitch_share
from .imported import Form, Imported, ImportFault
from .parts import Part, Whole, tune_of
from .signs import is_hertz, number_of, pitches_of
from .units import is_length

__all__ = [
    "LOWEST",
    "MOST",
    "MOST_PITCHES",
    "MOST_WIDTH",
    "Cell",
    "FlatList",
    "ListFault",
    "arrangement",
    "check_length",
    "composed",
    "is_small_number",
    "paired",
    "part_of",
    "part_of_pairs",
    "split_pair",
]

MOST = 10_000
"""Notes in a list."""
MOST_PITCHES = 0.6
"""Of the values of a list, from which on it is one of pitches."""
MOST_WIDTH = 8
"""Columns of rows."""
LOWEST = 16
"""The lowest MIDI number of a pitch among lengths."""
_LONGEST = 200_000  # characters
_MOST_LISTS = 200
_NUMBERED = re.compile(r"^(?P<name>.*?)_?(?P<number>[0-9]+)?$")
_AT_ONCE = re.compile(
    r"(?i)voice|part|line|bass|melody|left|right|hand|track|upper|lower|high|low|soprano|alto|tenor|treble|stimme|chord"
)
_IN_TURN = re.compile(r"(?i)verse|chorus|refrain|intro|outro|bridge|coda|section|phrase|ending|strophe|teil")
_NOTHING = "No list of notes was found: names such as C4, MIDI numbers, or frequencies, with lengths."
_JOINED = re.compile(r"(?P<pitch>[^\s:=*×@()\[\]]+)\s*(?:[:=*×@]|\()\s*(?P<length>[0-9.,/½¼¾]+|[A-Za-z]+)\)?")

Span = tuple[int, int]
"""Offsets in a text."""


class ListFault(ImportFault):
    """A text holds no list of notes."""


@dataclass(frozen=True, slots=True)
class Cell:
    """A value, and where it stands."""

    text: str
    span: Span


@dataclass(slots=True, eq=False)
class FlatList:
    """A list of single values, with its name; two that hold the same are two all the same."""

    name: str
    cells: list[Cell]

    @property
    def texts(self) -> list[str]:
        """The values alone."""
        return [cell.text for cell in self.cells]


def check_length(text: str) -> None:
    """Raise ListFault for a text that is too long to be a list."""
    if len(text) > _LONGEST:
        raise ListFault(f"This text is too long for a list of notes; the most is {_LONGEST:,} characters.")


def composed(whole: Whole | None, text: str, naming: Naming, may_be_h: bool) -> Imported:
    """The tune of the parts that were found in a text. Raises ListFault where there is none, or too much of it."""
    if whole is None or not whole.parts:
        raise ListFault(_NOTHING)
    if sum(len(part.rows) for part in whole.parts) > MOST:
        raise ListFault(f"This list has more than {MOST:,} notes.")
    return tune_of(whole, Form.LIST, text, naming, may_be_h)


def is_small_number(text: str) -> bool:
    """Return whether a text is a number too small for a pitch."""
    number = number_of(text)
    return number is not None and number < LOWEST


def split_pair(cell: Cell) -> tuple[str, str] | None:
    """(pitch, length) of a value that holds both, as ``C4:2``."""
    found = _JOINED.fullmatch(cell.text)
    if found is None or pitches_of(found["pitch"]) is None or not is_length(found["length"]):
        return None
    return found["pitch"], found["length"]


def part_of_pairs(cells: Sequence[Cell], name: str) -> Part:
    """A part whose values hold a pitch and its length each, or a pitch alone."""
    rows = [list(split_pair(cell) or (cell.text, "")) for cell in cells]
    return Part({"name": 0, "length": 1}, rows, [cell.span for cell in cells], name=name)


def paired(flats: Sequence[FlatList], naming: Naming) -> tuple[list[Part], list[str]]:
    """Lists of pitches, each with the list of lengths that goes with it; and what is to be said about them."""
    if len(flats) > _MOST_LISTS:
        raise ListFault(f"This text has more than {_MOST_LISTS} lists, which are too many for a tune.")
    places = {each: place for place, each in enumerate(flats)}
    kinds = [_kind(each, naming) for each in flats]
    pitched = [each for each, kind in zip(flats, kinds, strict=True) if kind == "pitch"]
    timed = [each for each, kind in zip(flats, kinds, strict=True) if kind == "length"]
    either = [each for each, kind in zip(flats, kinds, strict=True) if kind == "either"]
    for each in either:  # numbers that may be both: lengths where a list of pitches waits for them
        waits = len(timed) < len(pitched) and any(len(other.cells) == len(each.cells) for other in pitched)
        (timed if waits else pitched).append(each)
    pitched.sort(key=places.__getitem__)
    parts = []
    said = []
    free = list(timed)
    for each in pitched:
        lengths = _lengths_for(each, free, timed, places)
        if lengths in free:
            free.remove(lengths)
        parts.append(part_of(each, lengths))
        if lengths is not None and len(lengths.cells) != len(each.cells):
            more = (
                "have no length, and are a beat each"
                if len(each.cells) > len(lengths.cells)
                else "are too few for them"
            )
            said.append(
                f"There are {len(each.cells)} pitches and {len(lengths.cells)} lengths: the last pitches {more}."
            )
    return parts, said


def _kind(flat: FlatList, naming: Naming) -> str:
    """Name what a list holds: pitches, lengths, either of them, or neither."""
    texts = flat.texts
    name = kind_of(_NUMBERED.sub(r"\g<name>", flat.name)) or ""
    is_timed = bool(texts) and all(is_length(text) or (number_of(text) or 0) < 0 for text in texts)
    share = pitch_share(texts, naming)
    if name.startswith("length") and is_timed:
        return "length"
    if name in PITCH_KINDS and share >= MOST_PITCHES:
        return "pitch"
    if share < MOST_PITCHES or len(texts) < 2:
        return "length" if is_timed else ""
    if name in PITCH_KINDS or not is_timed or not is_hertz(texts):
        return "pitch"
    return "length" if is_out_of_tune(texts) else "either"


def _lengths_for(
    pitches: FlatList, free: Sequence[FlatList], every: Sequence[FlatList], places: Mapping[FlatList, int]
) -> FlatList | None:
    """The list of lengths for a list of pitches: of the same number, the same size, the nearest after it."""
    place = places[pitches]
    if not every:
        return None
    number = _number(pitches.name)

    def weight(each: FlatList) -> tuple[bool, bool, bool, int]:
        away = places[each] - place
        return len(each.cells) != len(pitches.cells), _number(each.name) != number, away < 0, abs(away)

    if free:
        return min(free, key=weight)
    same = [each for each in every if len(each.cells) == len(pitches.cells)]
    return min(same, key=weight) if same else None


def _number(name: str) -> str:
    found = _NUMBERED.match(name)
    return (found["number"] if found is not None else None) or ""


def part_of(pitches: FlatList, lengths: FlatList | None) -> Part:
    """A part of a list of pitches, with a list of lengths where there is one."""
    kind = kind_of(_NUMBERED.sub(r"\g<name>", pitches.name)) or ""
    unnamed = "hz" if is_hertz(pitches.texts) else "name"
    column = kind if kind in PITCH_KINDS else unnamed
    rows = [[cell.text] for cell in pitches.cells]
    columns = {column: 0}
    if lengths is not None:
        columns["length"] = 1
        for row, cell in zip(rows, lengths.cells, strict=False):
            row.append(cell.text)
    headings = {"length": lengths.name} if lengths is not None else {}
    return Part(columns, rows, [cell.span for cell in pitches.cells], headings, pitches.name)


def arrangement(names: Sequence[str]) -> tuple[bool, bool]:
    """Return whether parts of such names sound together, and whether that is clear."""
    if len(names) < 2:
        return True, True
    if any(_IN_TURN.search(name) for name in names):
        return False, True
    stems = {(found["name"] if (found := _NUMBERED.match(name)) else name).lower() for name in names}
    if len(stems) == 1 and all(re.search(r"_[0-9]+$", name) for name in names[1:]):
        return True, True
    if any(_AT_ONCE.search(name) for name in names[1:]):
        return True, False
    return False, False
