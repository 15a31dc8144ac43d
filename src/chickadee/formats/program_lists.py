"""Tunes in a program's data: pairs, parallel lists, records, strings of names, and calls in turn. Nothing is run."""

from __future__ import annotations

import re
from collections.abc import Sequence

from ..theory import Naming
from .columns import PITCH_KINDS, kind_of, pitch_share, roles_of
from .flat_lists import (
    MOST,
    MOST_PITCHES,
    MOST_WIDTH,
    Cell,
    FlatList,
    ListFault,
    Span,
    arrangement,
    check_length,
    composed,
    is_small_number,
    paired,
    part_of_pairs,
    split_pair,
)
from .imported import Imported
from .parts import Part, Whole
from .signs import is_hertz, likely_namings, pitches_of
from .units import is_length
from .values import Named, Program, TooMuchData, Value, program_of

__all__ = ["RunningFault", "from_program"]

_SILENT_CALL = re.compile(r"(?i)rest|pause|silence|sleep|wait|delay")
_WAITING_CALL = re.compile(r"(?i)sleep|wait|delay")
_RUNNING = "This program has no lists of notes, and strikes nothing that Chickadee knows, such as play(60, 1)."


class RunningFault(ListFault):
    """A program makes its notes as it runs."""


def from_program(text: str, naming: Naming = Naming.LETTERS) -> Imported:
    """The tune in a program's lists, records and calls. Raises ListFault."""
    check_length(text)
    try:
        program = program_of(text)
    except TooMuchData:
        raise ListFault(f"The lists of this program have more than {MOST:,} notes.") from None
    first = likely_namings(program.texts, naming)[0]
    return composed(_Collector(program, first).whole(), text, naming, may_be_h=True)


class _Collector:
    """Finds the parts of a tune in a program's data."""

    def __init__(self, program: Program, naming: Naming) -> None:
        self._program = program
        self._naming = naming
        self._flats: list[FlatList] = []
        self._parts: list[Part] = []
        self._said: list[str] = []
        self._tempo: float | None = None
        self._title = ""

    def whole(self) -> Whole | None:
        """All parts, in order; None where there is none. Raises ListFault for a program that must be run."""
        for each in self._program.lists:
            self._take(each.name, each.value)
        parts, said = paired(self._flats, self._naming)
        parts = [*self._parts, *parts]
        if not parts and self._program.calls:
            if self._program.is_running:
                raise RunningFault(_RUNNING)
            parts = _of_calls(self._program.calls, self._naming)
        if not parts and self._program.is_running:
            raise RunningFault(_RUNNING)
        if not parts:
            return None
        are_voices, is_clear = arrangement([part.name for part in parts])
        if not are_voices:
            for part in parts:
                part.name = ""
        return Whole(parts, are_voices, is_clear, self._tempo, self._title, [*self._said, *said])

    def _take(self, name: str, value: Value) -> None:
        if value.items is None:
            self._take_text(name, value)
        elif value.names and all(item in value.names.values() for item in value.items):
            self._take_record(name, value)
        else:
            self._take_items(name, value.items)

    def _take_text(self, name: str, value: Value) -> None:
        """A string that holds a list, as in ``"C4 D4 E4"``."""
        cells = [Cell(found[0], _inside(value, found)) for found in re.finditer(r"[^\s,;|]+", value.text)]
        if len(cells) < 2:
            if name.lower() in ("title", "name"):
                self._title = value.text[:100]
            return
        pairs = [split_pair(cell) for cell in cells]
        if sum(pair is not None for pair in pairs) * 2 > len(pairs):
            self._parts.append(part_of_pairs(cells, name))
        else:
            self._flats.append(FlatList(name, cells))

    def _take_record(self, name: str, value: Value) -> None:
        """A record: of lists by name, of lengths by pitch, or about the whole tune."""
        lengths = [(key, item) for key, item in value.names.items() if item.items is None and is_length(item.text)]
        if len(lengths) == len(value.names) and all(pitches_of(key, naming=self._naming) for key in value.names):
            rows = [[key, item.text] for key, item in lengths]
            spans = [item.span for _, item in lengths]
            self._parts.append(Part({"name": 0, "length": 1}, rows, spans, name=name))
            return
        for key, item in value.names.items():
            number = item.number
            if key.lower() in ("tempo", "bpm", "speed") and number is not None and 4 <= number <= 1000:
                self._tempo = float(number)
            elif item.items is not None or item.is_text:
                self._take(key, item)

    def _take_items(self, name: str, items: list[Value]) -> None:
        inner = [item for item in items if item.items is not None]
        if len(inner) * 2 <= len(items) or not _are_rows(inner, self._naming):
            if inner and len(inner) == len(items):
                self._take_nested(name, inner)
            else:
                self._flats.append(FlatList(name, [Cell(_as_sign(item), item.span) for item in items]))
            return
        part = _of_records(inner, name) or _of_rows(inner, name, self._naming)
        if part is None:
            self._take_nested(name, inner)
            return
        self._parts.append(part)
        if len(items) > len(inner):
            left = len(items) - len(inner)
            self._said.append(f"{left} values of {name or 'a list'} are no pairs like the others, and are left out.")

    def _take_nested(self, name: str, inner: list[Value]) -> None:
        """Lists in a list: of pitches and of lengths, or of the parts of a tune."""
        for place, item in enumerate(inner):
            self._take(f"{name}_{place + 1}" if place and len(inner) > 1 else name, item)


def _inside(value: Value, found: re.Match[str]) -> Span:
    """Where a part of a string stands in the text."""
    start = value.span[0]
    return start + found.start(), start + found.end()


def _as_sign(item: Value) -> str:
    """A value as one sign; several inside brackets sound together."""
    if item.items is None:
        return item.text
    return "&".join(part.text for part in item.items if part.items is None)


def _are_rows(inner: Sequence[Value], naming: Naming) -> bool:
    """Return whether lists in a list are rows of a table, and no lists of their own."""
    if not inner:
        return False
    if any(item.names for item in inner):
        return True
    widths = [len(item.items or ()) for item in inner]
    if max(widths) > MOST_WIDTH or any(
        part.items and any(deep.items for deep in part.items) for item in inner for part in item.items or ()
    ):
        return False
    if len(inner) % 2 == 0 and min(widths) > 2 and not any(item.call for item in inner):
        texts = [[_as_sign(part) for part in item.items or ()] for item in inner]
        in_turn = zip(texts[::2], texts[1::2], strict=True)
        if all(pitch_share(one, naming) >= MOST_PITCHES and _are_lengths(other, naming) for one, other in in_turn):
            return False  # pitches and lengths in turn
    if any(part.items is not None and not part.call for item in inner for part in (item.items or ())[1:2]):
        return False
    columns = _columns(inner)
    if len(columns) > 1 and all(
        pitch_share(column, naming) == 1 and not all(map(is_length, column)) for column in columns
    ):
        return False  # chords
    return len(inner) > 2 or max(widths) <= 4


def _are_lengths(texts: Sequence[str], naming: Naming) -> bool:
    """Return whether values can be lengths, and no pitches."""
    return all(map(is_length, texts)) and pitch_share(texts, naming) < MOST_PITCHES


def _columns(inner: Sequence[Value]) -> list[list[str]]:
    width = max(len(item.items or ()) for item in inner)
    rows = [[_as_sign(part) for part in item.items or ()] for item in inner]
    return [[row[place] if place < len(row) else "" for row in rows] for place in range(width)]


def _of_records(inner: Sequence[Value], name: str) -> Part | None:
    """Rows of records, by their keys."""
    if not all(item.names for item in inner):
        return None
    keys = list(dict.fromkeys(key for item in inner for key in item.names))
    columns: dict[str, int] = {}
    headings: dict[str, str] = {}
    for place, key in enumerate(keys):
        kind = kind_of(key)
        if kind is not None and kind not in columns:
            columns[kind] = place
            headings[kind] = key
    if "beat" in columns and "length" not in columns:
        columns["length"] = columns.pop("beat")
    if not columns.keys() & PITCH_KINDS:
        return None
    rows = [[_as_sign(item.names[key]) if key in item.names else "" for key in keys] for item in inner]
    pitch = next(keys[place] for kind, place in columns.items() if kind in PITCH_KINDS)
    spans = [(item.names.get(pitch) or item).span for item in inner]
    return Part(columns, rows, spans, headings, name)


def _of_rows(inner: Sequence[Value], name: str, naming: Naming) -> Part | None:
    """Rows of values without keys, by what is in their columns."""
    columns = _columns(inner)
    roles = roles_of(columns, naming)
    if roles is None:
        return None
    place = next(roles[kind] for kind in ("name", "number", "hz") if kind in roles)
    rows = [list(row) for row in zip(*columns, strict=True)]
    spans = [(item.items or [item])[min(place, len(item.items or [item]) - 1)].span for item in inner]
    return Part(roles, rows, spans, name=name)


def _of_calls(calls: Sequence[Named], naming: Naming) -> list[Part]:
    """Calls such as ``play("C4", 1)`` one after the other, with those that rest between them."""
    sounding: dict[str, int] = {}
    for each in calls:
        texts = [_as_sign(item) for item in each.value.items or ()]
        if any(pitches_of(text, is_hertz([text]), naming) and not is_small_number(text) for text in texts):
            sounding[each.name] = sounding.get(each.name, 0) + 1
    if not sounding:
        return []
    name = max(sounding, key=sounding.__getitem__)
    if any(_WAITING_CALL.search(each.name) for each in calls) and not _SILENT_CALL.search(name):
        raise RunningFault(_RUNNING)
    rows = []
    for each in calls:
        if each.name == name:
            rows.append(each.value)
        elif _SILENT_CALL.search(each.name) and len(each.value.items or ()) == 1:
            rows.append(
                Value(items=[Value("rest", span=each.value.span), *(each.value.items or ())], span=each.value.span)
            )
    part = _of_records(rows, "") or _of_rows(rows, "", naming) if len(rows) > 1 else None
    return [part] if part is not None else []
