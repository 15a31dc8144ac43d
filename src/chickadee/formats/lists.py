"""Tunes as pupils' programs and papers keep them: numbers, names, pairs, parallel lists, records, frequencies."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..theory import Naming
from .columns import PITCH_KINDS, is_out_of_tune, kind_of, pitch_share, roles_of
from .imported import Form, Imported, ImportFault
from .parts import Part, Whole, tune_of
from .signs import REST_WORDS, is_hertz, likely_namings, note_value, number_of, pitches_of
from .units import is_length
from .values import Named, Program, TooMuchData, Value, program_of

__all__ = ["ListFault", "RunningFault", "from_lines", "from_program", "read"]

_MOST = 10_000  # notes
_LONGEST = 200_000  # characters
_MOST_PITCHES = 0.6  # of the values of a list, from which on it is one of pitches
_MOST_WIDTH = 8  # columns
_MOST_LISTS = 200
_LOWEST = 16  # MIDI number of a pitch among lengths
_OCTAVE = 12
_SILENT_CALL = re.compile(r"(?i)rest|pause|silence|sleep|wait|delay")
_WAITING_CALL = re.compile(r"(?i)sleep|wait|delay")
_NUMBERED = re.compile(r"^(?P<name>.*?)_?(?P<number>[0-9]+)?$")
_AT_ONCE = re.compile(
    r"(?i)voice|part|line|bass|melody|left|right|hand|track|upper|lower|high|low|soprano|alto|tenor|treble|stimme|chord"
)
_IN_TURN = re.compile(r"(?i)verse|chorus|refrain|intro|outro|bridge|coda|section|phrase|ending|strophe|teil")
_RUNNING = (
    "This program makes its notes as it runs, and Chickadee runs no programs: hand in its lists, or what it plays."
)
_NOTHING = "No list of notes was found: names such as C4, MIDI numbers, or frequencies, with lengths."

Span = tuple[int, int]


class ListFault(ImportFault):
    """A text holds no list of notes."""


class RunningFault(ListFault):
    """A program makes its notes as it runs."""


@dataclass(frozen=True, slots=True)
class _Cell:
    text: str
    ink: Span


@dataclass(slots=True, eq=False)
class _Flat:
    """A list of single values, with its name; two that hold the same are two all the same."""

    name: str
    cells: list[_Cell]

    @property
    def texts(self) -> list[str]:
        return [cell.text for cell in self.cells]


def read(text: str, naming: Naming = Naming.LETTERS) -> Imported:
    """The tune that the data of a program, or lines of values, mean. Raises ListFault.

    Values in the place of a pitch that name none are silent, and listed.
    """
    try:
        return from_program(text, naming)
    except RunningFault:
        raise
    except ListFault:
        return from_lines(text, naming)


def from_program(text: str, naming: Naming = Naming.LETTERS) -> Imported:
    """The tune in a program's lists, records and calls. Raises ListFault."""
    _check_length(text)
    try:
        program = program_of(text)
    except TooMuchData:
        raise ListFault(f"The lists of this program have more than {_MOST:,} notes.") from None
    first = likely_namings(program.texts, naming)[0]
    return _composed(_Collector(program, first).whole(), text, naming, may_be_h=True)


def from_lines(text: str, naming: Naming = Naming.LETTERS) -> Imported:
    """The tune in lines of values without a program about them. Raises ListFault."""
    _check_length(text)
    words = {word.strip("()[]{},;\"'") for word in text.split()}
    first = likely_namings(words, naming, may_be_h=False)[0]
    return _composed(_of_lines(text, first), text, naming, may_be_h=False)


def _check_length(text: str) -> None:
    if len(text) > _LONGEST:
        raise ListFault(f"This text is too long for a list of notes; the most is {_LONGEST:,} characters.")


def _composed(whole: Whole | None, text: str, naming: Naming, may_be_h: bool) -> Imported:
    if whole is None or not whole.parts:
        raise ListFault(_NOTHING)
    if sum(len(part.rows) for part in whole.parts) > _MOST:
        raise ListFault(f"This list has more than {_MOST:,} notes.")
    return tune_of(whole, Form.LIST, text, naming, may_be_h)


# Programs


class _Collector:
    """Finds the parts of a tune in a program's data."""

    def __init__(self, program: Program, naming: Naming) -> None:
        self._program = program
        self._naming = naming
        self._flats: list[_Flat] = []
        self._parts: list[Part] = []
        self._said: list[str] = []
        self._tempo: float | None = None
        self._title = ""

    def whole(self) -> Whole | None:
        """All parts, in order; None where there is none. Raises ListFault for a program that must be run."""
        for each in self._program.lists:
            self._take(each.name, each.value)
        parts, said = _paired(self._flats, self._naming)
        parts = [*self._parts, *parts]
        if not parts and self._program.calls:
            if self._program.is_running:
                raise RunningFault(_RUNNING)
            parts = _of_calls(self._program.calls, self._naming)
        if not parts and self._program.is_running:
            raise RunningFault(_RUNNING)
        if not parts:
            return None
        are_voices, is_clear = _arrangement([part.name for part in parts])
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
        cells = [_Cell(found[0], _inside(value, found)) for found in re.finditer(r"[^\s,;|]+", value.text)]
        if len(cells) < 2:
            if name.lower() in ("title", "name"):
                self._title = value.text[:100]
            return
        pairs = [_split_pair(cell) for cell in cells]
        if sum(pair is not None for pair in pairs) * 2 > len(pairs):
            self._parts.append(_part_of_pairs(cells, name))
        else:
            self._flats.append(_Flat(name, cells))

    def _take_record(self, name: str, value: Value) -> None:
        """A record: of lists by name, of lengths by pitch, or about the whole tune."""
        lengths = [(key, item) for key, item in value.names.items() if item.items is None and is_length(item.text)]
        if len(lengths) == len(value.names) and all(pitches_of(key, naming=self._naming) for key in value.names):
            rows = [[key, item.text] for key, item in lengths]
            inks = [item.ink for _, item in lengths]
            self._parts.append(Part({"name": 0, "length": 1}, rows, inks, name=name))
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
                self._flats.append(_Flat(name, [_Cell(_as_sign(item), item.ink) for item in items]))
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
    start = value.ink[0]
    return start + found.start(), start + found.end()


def _as_sign(item: Value) -> str:
    """A value as one sign; several inside brackets sound together."""
    if item.items is None:
        return item.text
    return "&".join(part.text for part in item.items if part.items is None)


def _are_rows(inner: Sequence[Value], naming: Naming) -> bool:
    """Whether lists in a list are rows of a table, and no lists of their own."""
    if not inner:
        return False
    if any(item.names for item in inner):
        return True
    widths = [len(item.items or ()) for item in inner]
    if max(widths) > _MOST_WIDTH or any(
        part.items and any(deep.items for deep in part.items) for item in inner for part in item.items or ()
    ):
        return False
    if len(inner) % 2 == 0 and min(widths) > 2 and not any(item.call for item in inner):
        texts = [[_as_sign(part) for part in item.items or ()] for item in inner]
        in_turn = zip(texts[::2], texts[1::2], strict=True)
        if all(pitch_share(one, naming) >= _MOST_PITCHES and _are_lengths(other, naming) for one, other in in_turn):
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
    """Whether values can be lengths, and no pitches."""
    return all(map(is_length, texts)) and pitch_share(texts, naming) < _MOST_PITCHES


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
    inks = [(item.names.get(pitch) or item).ink for item in inner]
    return Part(columns, rows, inks, headings, name)


def _of_rows(inner: Sequence[Value], name: str, naming: Naming) -> Part | None:
    """Rows of values without keys, by what is in their columns."""
    columns = _columns(inner)
    roles = roles_of(columns, naming)
    if roles is None:
        return None
    place = next(roles[kind] for kind in ("name", "number", "hz") if kind in roles)
    rows = [list(row) for row in zip(*columns, strict=True)]
    inks = [(item.items or [item])[min(place, len(item.items or [item]) - 1)].ink for item in inner]
    return Part(roles, rows, inks, name=name)


def _of_calls(calls: Sequence[Named], naming: Naming) -> list[Part]:
    """Calls such as ``play("C4", 1)`` one after the other, with those that rest between them."""
    sounding: dict[str, int] = {}
    for each in calls:
        texts = [_as_sign(item) for item in each.value.items or ()]
        if any(pitches_of(text, is_hertz([text]), naming) and not _is_small_number(text) for text in texts):
            sounding[each.name] = sounding.get(each.name, 0) + 1
    if not sounding:
        return []
    name = max(sounding, key=lambda each: sounding[each])
    if any(_WAITING_CALL.search(each.name) for each in calls) and not _SILENT_CALL.search(name):
        raise RunningFault(_RUNNING)
    rows = []
    for each in calls:
        if each.name == name:
            rows.append(each.value)
        elif _SILENT_CALL.search(each.name) and len(each.value.items or ()) == 1:
            rows.append(
                Value(items=[Value("rest", ink=each.value.ink), *(each.value.items or ())], ink=each.value.ink)
            )
    part = _of_records(rows, "") or _of_rows(rows, "", naming) if len(rows) > 1 else None
    return [part] if part is not None else []


def _is_small_number(text: str) -> bool:
    """Whether a text is a number too small for a pitch."""
    number = number_of(text)
    return number is not None and number < _LOWEST


def _is_length_only(text: str) -> bool:
    """Whether a text is a number that is too small for a pitch and no rest."""
    return _is_small_number(text) and (number_of(text) or 0) > 0


# Parallel lists


def _paired(flats: Sequence[_Flat], naming: Naming) -> tuple[list[Part], list[str]]:
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
    parts, said, free = [], [], list(timed)
    for each in pitched:
        lengths = _lengths_for(each, free, timed, places)
        if lengths in free:
            free.remove(lengths)
        parts.append(_part_of(each, lengths))
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


def _kind(flat: _Flat, naming: Naming) -> str:
    """Whether a list holds pitches, lengths, either of them, or neither."""
    texts = flat.texts
    name = kind_of(_NUMBERED.sub(r"\g<name>", flat.name)) or ""
    is_timed = bool(texts) and all(is_length(text) or (number_of(text) or 0) < 0 for text in texts)
    share = pitch_share(texts, naming)
    if name.startswith("length") and is_timed:
        return "length"
    if name in PITCH_KINDS and share >= _MOST_PITCHES:
        return "pitch"
    if share < _MOST_PITCHES or len(texts) < 2:
        return "length" if is_timed else ""
    if name in PITCH_KINDS or not is_timed or not is_hertz(texts):
        return "pitch"
    return "length" if is_out_of_tune(texts) else "either"


def _lengths_for(
    pitches: _Flat, free: Sequence[_Flat], every: Sequence[_Flat], places: Mapping[_Flat, int]
) -> _Flat | None:
    """The list of lengths for a list of pitches: of the same number, the same size, the nearest after it."""
    place = places[pitches]
    if not every:
        return None
    number = _number(pitches.name)

    def weight(each: _Flat) -> tuple[bool, bool, bool, int]:
        away = places[each] - place
        return len(each.cells) != len(pitches.cells), _number(each.name) != number, away < 0, abs(away)

    if free:
        return min(free, key=weight)
    same = [each for each in every if len(each.cells) == len(pitches.cells)]
    return min(same, key=weight) if same else None


def _number(name: str) -> str:
    found = _NUMBERED.match(name)
    return (found["number"] if found is not None else None) or ""


def _part_of(pitches: _Flat, lengths: _Flat | None) -> Part:
    kind = kind_of(_NUMBERED.sub(r"\g<name>", pitches.name)) or ""
    column = kind if kind in PITCH_KINDS else "hz" if is_hertz(pitches.texts) else "name"
    rows = [[cell.text] for cell in pitches.cells]
    columns = {column: 0}
    if lengths is not None:
        columns["length"] = 1
        for row, cell in zip(rows, lengths.cells, strict=False):
            row.append(cell.text)
    headings = {"length": lengths.name} if lengths is not None else {}
    return Part(columns, rows, [cell.ink for cell in pitches.cells], headings, pitches.name)


def _arrangement(names: Sequence[str]) -> tuple[bool, bool]:
    """Whether parts of such names sound together, and whether that is clear."""
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


# Lines

_WORD = re.compile(r"[^\s;|\t]+")
_JOINED = re.compile(r"(?P<pitch>[^\s:=*×@()\[\]]+)\s*(?:[:=*×@]|\()\s*(?P<length>[0-9.,/½¼¾]+|[A-Za-z]+)\)?")
_LABEL = re.compile(r"^\s*(?P<label>[^\W\d][\w ]{0,30}?)\s*[:=]\s*(?=\S)")
_COMMENT = re.compile(r"//.*|(?:^|(?<=\s))#(?![#0-9]).*")
_WRAPPING = re.compile(r"[\[\](){}\"']")


@dataclass(slots=True)
class _Row:
    """A line's values, and its label."""

    cells: list[_Cell]
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
        parts, said = _paired(labelled, naming)
        if parts:
            are_voices, is_clear = _arrangement([part.name for part in parts])
            return Whole(parts, are_voices, is_clear, said=said)
    rows = [row for row in rows if row.cells]
    every = [cell for row in rows for cell in row.cells]
    part = (
        _joined_part(every) or _line_pairs(rows, naming) or _table_part(rows, naming) or _alternating(every, naming)
    )
    if part is None and (len(every) < 2 or pitch_share([cell.text for cell in every], naming) < _MOST_PITCHES):
        return None
    return Whole([part or _part_of(_Flat("", every), None)])


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


def _cells(line: str, start: int, at: int) -> Iterator[_Cell]:
    """The values of a line. A comma inside a number is a decimal one where spaces keep values apart."""
    words = [(found.start(), found[0]) for found in _WORD.finditer(line, start)]
    words = _with_mixed(words)
    decimal = 1 < len(words) <= 3 and not any(word.endswith(",") for _, word in words)
    for place, word in words:
        if "," not in word or (decimal and re.fullmatch(r"[0-9]+,[0-9]+", word)):
            yield _Cell(word, (at + place, at + place + len(word)))
            continue
        if re.fullmatch(r".*[:=*][0-9]+,[0-9]+", word) and decimal:
            yield _Cell(word, (at + place, at + place + len(word)))
            continue
        for found in re.finditer(r"[^,]+", word):
            yield _Cell(found[0], (at + place + found.start(), at + place + found.end()))


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


def _labelled(rows: Sequence[_Row]) -> list[_Flat] | None:
    """Lists that are called something, which go on in lines without a label; None where no line has one."""
    flats: list[_Flat] = []
    for row in rows:
        if row.label:
            flats.append(_Flat(row.label, list(row.cells)))
        elif flats:
            flats[-1].cells += row.cells
    return flats if any(len(flat.cells) > 1 for flat in flats) else None


def _split_pair(cell: _Cell) -> tuple[str, str] | None:
    found = _JOINED.fullmatch(cell.text)
    if found is None or pitches_of(found["pitch"]) is None or not is_length(found["length"]):
        return None
    return found["pitch"], found["length"]


def _part_of_pairs(cells: Sequence[_Cell], name: str) -> Part:
    rows = [list(_split_pair(cell) or (cell.text, "")) for cell in cells]
    return Part({"name": 0, "length": 1}, rows, [cell.ink for cell in cells], name=name)


def _joined_part(cells: Sequence[_Cell]) -> Part | None:
    """Words that hold a pitch and its length, such as ``C4:2`` or ``G4*4``."""
    joined = sum(_split_pair(cell) is not None for cell in cells)
    known = joined + sum(pitches_of(cell.text) is not None and not _is_small_number(cell.text) for cell in cells)
    if joined < 1 or known < _MOST_PITCHES * len(cells) or joined * 4 < len(cells):
        return None
    return _part_of_pairs(cells, "")


def _line_pairs(rows: Sequence[_Row], naming: Naming) -> Part | None:
    """Lines of pitches, each followed by one of their lengths."""
    if len(rows) % 2 or len(rows) == 0:
        return None
    cells, lengths = [], []
    for above, below in zip(rows[::2], rows[1::2], strict=True):
        if len(above.cells) != len(below.cells) or len(above.cells) < 2 or not all(map(is_length, below.texts)):
            return None
        if pitch_share(above.texts, naming) < _MOST_PITCHES or any(map(_is_length_only, above.texts)):
            return None
        if pitch_share(below.texts, naming) >= _MOST_PITCHES and not all(map(_is_small_number, below.texts)):
            return None
        cells += above.cells
        lengths += below.cells
    return _part_of(_Flat("", cells), _Flat("", lengths))


def _table_part(rows: Sequence[_Row], naming: Naming) -> Part | None:
    """Lines of as many values each, a note in every line."""
    widths = {len(row.cells) for row in rows}
    if len(rows) < 2 or len(widths) != 1 or not 2 <= (width := widths.pop()) <= _MOST_WIDTH:
        return None
    columns = [[row.texts[place] for row in rows] for place in range(width)]
    roles = roles_of(columns, naming)
    if roles is None or len(roles) < 2 or _are_alike(columns, roles):
        return None
    place = next(roles[kind] for kind in ("name", "number", "hz") if kind in roles)
    return Part(roles, [row.texts for row in rows], [row.cells[place].ink for row in rows])


def _are_alike(columns: Sequence[Sequence[str]], roles: dict[str, int]) -> bool:
    """Whether what would be lengths are MIDI numbers of pitches like the others."""
    if "number" not in roles or "length" not in roles:
        return False
    pitches = [number for text in columns[roles["number"]] if (number := number_of(text))]
    lengths = [number for text in columns[roles["length"]] if (number := number_of(text))]
    if not pitches or not lengths or min(lengths) < _LOWEST or any(number.denominator != 1 for number in lengths):
        return False
    away = sum(map(float, pitches)) / len(pitches) - sum(map(float, lengths)) / len(lengths)
    return abs(away) <= _OCTAVE


def _alternating(cells: Sequence[_Cell], naming: Naming) -> Part | None:
    """A pitch and its length in turn, all in one row."""
    pitches, lengths = list(cells[::2]), list(cells[1::2])
    if len(cells) < 4 or len(pitches) != len(lengths):
        return None
    texts = [cell.text for cell in pitches]
    if not all(map(is_length, (cell.text for cell in lengths))):
        return None
    if pitch_share(texts, naming) < _MOST_PITCHES or not _are_apart(texts, [cell.text for cell in lengths]):
        return None
    return _part_of(_Flat("", pitches), _Flat("", lengths))


def _are_apart(pitches: Sequence[str], lengths: Sequence[str]) -> bool:
    """Whether pitches and lengths in turn are surely that: one side has names, or the lengths are small."""
    if all(number_of(text) is None or text in REST_WORDS for text in pitches):
        return not any(pitches_of(text) and number_of(text) is None and note_value(text) is None for text in lengths)
    return all(_is_small_number(text) or note_value(text) is not None for text in lengths)
