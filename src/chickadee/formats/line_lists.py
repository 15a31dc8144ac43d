"""Tunes in lines of values without a program about them: labels, two lines, columns, one after the other."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..theory import Naming
from .columns import pitch_share, roles_of
from .flat_lists import (
    LOWEST,
    MOST_PITCHES,
    MOST_WIDTH,
    Cell,
    FlatList,
    arrangement,
    check_length,
    composed,
    is_small_number,
    paired,
    part_of,
    part_of_pairs,
    split_pair,
)
from .imported import Imported
from .parts import Part, Whole
from .signs import REST_WORDS, likely_namings, note_value, number_of, pitches_of
from .units import is_length

__all__ = ["from_lines"]

_OCTAVE = 12
_WORD = re.compile(r"[^\s;|\t]+")
_LABEL = re.compile(r"^\s*(?P<label>[^\W\d][\w ]{0,30}?)\s*[:=]\s*(?=\S)")
_COMMENT = re.compile(r"//.*|(?:^|(?<=\s))#(?![#0-9]).*")
_WRAPPING = re.compile(r"[\[\](){}\"']")


def from_lines(text: str, naming: Naming = Naming.LETTERS) -> Imported:
    """The tune in lines of values without a program about them. Raises ListFault."""
    check_length(text)
    words = {word.strip("()[]{},;\"'") for word in text.split()}
    first = likely_namings(words, naming, may_be_h=False)[0]
    return composed(_of_lines(text, first), text, naming, may_be_h=False)


@dataclass(slots=True)
class _Row:
    """A line's values, and its label."""

    cells: list[Cell]
    label: str = ""

    @property
    def texts(self) -> list[str]:
        return [cell.text for cell in self.cells]


def _of_lines(text: str, naming: Naming) -> Whole | None:
    rows = [row for row in _rows(text, naming) if row.cells or row.label]
    if not any(row.cells for row in rows):
        return None
    labelled = _labelled(rows)
    if labelled is not None:
        parts, said = paired(labelled, naming)
        if parts:
            are_voices, is_clear = arrangement([part.name for part in parts])
            return Whole(parts, are_voices, is_clear, said=said)
    rows = [row for row in rows if row.cells]
    every = [cell for row in rows for cell in row.cells]
    part = (
        _joined_part(every) or _line_pairs(rows, naming) or _table_part(rows, naming) or _alternating(every, naming)
    )
    if part is None and (len(every) < 2 or pitch_share([cell.text for cell in every], naming) < MOST_PITCHES):
        return None
    return Whole([part or part_of(FlatList("", every), None)])


def _rows(text: str, naming: Naming) -> Iterator[_Row]:
    at = 0
    for line in text.split("\n"):
        plain = _COMMENT.sub(lambda found: " " * len(found[0]), line)
        label = _LABEL.match(plain)
        if label is not None and pitches_of(label["label"], naming=naming):
            label = None
        start = label.end() if label is not None else 0
        yield _Row(list(_cells(_WRAPPING.sub(" ", plain), start, at)), label["label"] if label is not None else "")
        at += len(line) + 1


def _cells(line: str, start: int, at: int) -> Iterator[Cell]:
    """The values of a line. A comma inside a number is a decimal one where spaces keep values apart."""
    words = [(found.start(), found[0]) for found in _WORD.finditer(line, start)]
    words = _with_mixed(words)
    decimal = 1 < len(words) <= 3 and not any(word.endswith(",") for _, word in words)
    for place, word in words:
        if "," not in word or (decimal and re.fullmatch(r"[0-9]+,[0-9]+", word)):
            yield Cell(word, (at + place, at + place + len(word)))
            continue
        if re.fullmatch(r".*[:=*][0-9]+,[0-9]+", word) and decimal:
            yield Cell(word, (at + place, at + place + len(word)))
            continue
        for found in re.finditer(r"[^,]+", word):
            yield Cell(found[0], (at + place + found.start(), at + place + found.end()))


def _with_mixed(words: Sequence[tuple[int, str]]) -> list[tuple[int, str]]:
    """Words of a line, with ``1 1/2`` and ``dotted half`` as one of them."""
    found: list[tuple[int, str]] = []
    for place, word in words:
        before = found[-1][1] if found else ""
        is_mixed = len(found) > 1 and re.fullmatch("[1-9]", before) and re.fullmatch("[1-9]/[2-9]", word)
        if is_mixed or (note_value(f"{before} {word}") is not None and not pitches_of(before)):
            found[-1] = (found[-1][0], f"{before} {word}")
        else:
            found.append((place, word))
    return found


def _labelled(rows: Sequence[_Row]) -> list[FlatList] | None:
    """Lists that are called something, which go on in lines without a label; None where no line has one."""
    flats: list[FlatList] = []
    for row in rows:
        if row.label:
            flats.append(FlatList(row.label, list(row.cells)))
        elif flats:
            flats[-1].cells += row.cells
    return flats if any(len(flat.cells) > 1 for flat in flats) else None


def _is_length_only(text: str) -> bool:
    """Return whether a text is a number that is too small for a pitch and no rest."""
    return is_small_number(text) and (number_of(text) or 0) > 0


def _joined_part(cells: Sequence[Cell]) -> Part | None:
    """Words that hold a pitch and its length, such as ``C4:2`` or ``G4*4``."""
    joined = sum(split_pair(cell) is not None for cell in cells)
    known = joined + sum(pitches_of(cell.text) is not None and not is_small_number(cell.text) for cell in cells)
    if joined < 1 or known < MOST_PITCHES * len(cells) or joined * 4 < len(cells):
        return None
    return part_of_pairs(cells, "")


def _line_pairs(rows: Sequence[_Row], naming: Naming) -> Part | None:
    """Lines of pitches, each followed by one of their lengths."""
    if len(rows) % 2 or len(rows) == 0:
        return None
    cells = []
    lengths = []
    for above, below in zip(rows[::2], rows[1::2], strict=True):
        if len(above.cells) != len(below.cells) or len(above.cells) < 2 or not all(map(is_length, below.texts)):
            return None
        if pitch_share(above.texts, naming) < MOST_PITCHES or any(map(_is_length_only, above.texts)):
            return None
        if pitch_share(below.texts, naming) >= MOST_PITCHES and not all(map(is_small_number, below.texts)):
            return None
        cells += above.cells
        lengths += below.cells
    return part_of(FlatList("", cells), FlatList("", lengths))


def _table_part(rows: Sequence[_Row], naming: Naming) -> Part | None:
    """Lines of as many values each, a note in every line."""
    widths = {len(row.cells) for row in rows}
    if len(rows) < 2 or len(widths) != 1 or not 2 <= (width := widths.pop()) <= MOST_WIDTH:
        return None
    columns = [[row.texts[place] for row in rows] for place in range(width)]
    roles = roles_of(columns, naming)
    if roles is None or len(roles) < 2 or _are_alike(columns, roles):
        return None
    place = next(roles[kind] for kind in ("name", "number", "hz") if kind in roles)
    return Part(roles, [row.texts for row in rows], [row.cells[place].span for row in rows])


def _are_alike(columns: Sequence[Sequence[str]], roles: dict[str, int]) -> bool:
    """Return whether what would be lengths are MIDI numbers of pitches like the others."""
    if "number" not in roles or "length" not in roles:
        return False
    pitches = [number for text in columns[roles["number"]] if (number := number_of(text))]
    lengths = [number for text in columns[roles["length"]] if (number := number_of(text))]
    if not pitches or not lengths or min(lengths) < LOWEST or any(number.denominator != 1 for number in lengths):
        return False
    away = sum(map(float, pitches)) / len(pitches) - sum(map(float, lengths)) / len(lengths)
    return abs(away) <= _OCTAVE


def _alternating(cells: Sequence[Cell], naming: Naming) -> Part | None:
    """A pitch and its length in turn, all in one row."""
    pitches = list(cells[::2])
    lengths = list(cells[1::2])
    if len(cells) < 4 or len(pitches) != len(lengths):
        return None
    texts = [cell.text for cell in pitches]
    if not all(map(is_length, (cell.text for cell in lengths))):
        return None
    if pitch_share(texts, naming) < MOST_PITCHES or not _are_apart(texts, [cell.text for cell in lengths]):
        return None
    return part_of(FlatList("", pitches), FlatList("", lengths))


def _are_apart(pitches: Sequence[str], lengths: Sequence[str]) -> bool:
    """Return whether pitches and lengths in turn are surely that: one side has names, or the lengths are small."""
    if all(number_of(text) is None or text in REST_WORDS for text in pitches):
        return not any(pitches_of(text) and number_of(text) is None and note_value(text) is None for text in lengths)
    return all(is_small_number(text) or note_value(text) is not None for text in lengths)
