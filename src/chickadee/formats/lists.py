"""Tunes as pupils' programs and papers keep them: numbers, names, pairs, parallel lists, records, frequencies."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from functools import lru_cache

from ..sheet import read as read_sheet
from ..theory import nearest_number, read_key, read_pitch_name
from .imported import Form, Imported, ImportFault, LengthsIn, found_in_sheet
from .literals import Named, Value, assignments
from .scanning import without_comments

__all__ = ["ListFault", "commonest", "length_of", "pitch_sign", "read", "sheet_of"]

_MOST = 10_000  # notes
_LONGEST = 200_000  # characters
_DOUBT, _LONGEST_DOUBT = "?", 12
"""What marks a value in a pitch's place that names none, and how many of its characters are kept."""
_REMEMBERED = 4_096  # values
_LEAST, _FEW = 3, 4  # values of which one may be such, and how many there are to each
_REST = {"r", "rest", "none", "null", "-", "", "0hz", "nil", "pause", "silence", "p", "_", "x"}
_PITCH_NAMES = re.compile(r"note|pitch|melody|tune|freq|hz|midi|number|tone|song|key", re.IGNORECASE)
_LENGTH_NAMES = re.compile(r"dur|len|time|beat|sec|ms|rhythm|wait|delay|value", re.IGNORECASE)
_HERTZ = re.compile(r"freq|hz|hertz", re.IGNORECASE)
_MILLISECONDS = re.compile(r"ms$|_ms|milli", re.IGNORECASE)
_SECONDS = re.compile(r"sec|wait|delay", re.IGNORECASE)
_LENGTH_MOST = 64  # beats; larger numbers are milliseconds
_BEATS_A_MINUTE = (40, 240)
_FINEST = 96  # parts of a beat
_VALUE, _SIGN = re.compile(r"-?[\w#♯♭.&+/-]+"), re.compile(r"\S+")
_LETTER_OCTAVE = re.compile(r"([A-Ga-g](?:#|♯|b|♭|s|is)?)[ _-]?(-?[0-9])?")


class ListFault(ImportFault):
    """A text holds no list of notes."""


def read(text: str, doubtful: bool = False) -> Imported:
    """The tune that a list means. Raises ListFault.

    A ``doubtful`` list may have a few values in the place of a pitch that name none: they are silent, and listed.
    """
    clean = _clean(text)
    pairs = _pairs(clean, doubtful)
    sheet = _written(pairs)
    signs = [sign for sign, length, _ in pairs if length is None or length > 0]
    found = found_in_sheet(read_sheet(sheet), Form.LIST, _lengths_in(pairs))
    return _with_ink(found, sheet, _places(signs, clean), text)


def sheet_of(text: str) -> str:
    """A sheet with the notes of a list, a beat each where it gives no lengths. Raises ListFault.

    >>> sheet_of("60, 62, 64\\n1, 1, 2")
    'C4 D4 E4=2'
    """
    return _written(_pairs(_clean(text)))


def _clean(text: str) -> str:
    if len(text) > _LONGEST:
        raise ListFault(f"This text is too long for a list of notes; the most is {_LONGEST:,} characters.")
    return without_comments(text)


_Pair = tuple[str, Fraction | None, str]  # a sign of the sheet, its length, and the length's unit


def _pairs(clean: str, doubtful: bool = False) -> list[_Pair]:
    finder = _Finder(doubtful)
    pairs = finder.from_program(clean) or finder.from_lines(clean)
    if not pairs or not _are_few(sum(sign.startswith(_DOUBT) for sign, _, _ in pairs), len(pairs)):
        raise ListFault("No list of notes was found: names such as C4, MIDI numbers, or frequencies, with lengths.")
    if len(pairs) > _MOST:
        raise ListFault(f"This list has more than {_MOST:,} notes.")
    return pairs


def _written(pairs: Sequence[_Pair]) -> str:
    """Signs with their lengths; seconds become beats of a tempo in which the commonest is one."""
    head, beat = "", Fraction(1)
    seconds = [length for _, length, unit in pairs if length is not None and unit == "s"]
    if seconds:
        common = commonest(seconds)
        tempo = 60 / common
        while tempo > _BEATS_A_MINUTE[1]:
            tempo /= 2
        while tempo < _BEATS_A_MINUTE[0]:
            tempo *= 2
        beat = 60 / Fraction(round(tempo * 1000), 1000)
        head = f"tempo: {round(float(tempo), 3):g}\n"
    signs = []
    for sign, length, unit in pairs:
        if length is None or length > 0:
            exact = Fraction(1) if length is None else length / beat if unit == "s" else length
            beats = exact.limit_denominator(_FINEST) or Fraction(1, _FINEST)
            signs.append(sign if beats == 1 else f"{sign}={beats}")
    return head + "\n".join(" ".join(signs[place : place + 8]) for place in range(0, len(signs), 8))


def _are_few(doubts: int, values: int) -> bool:
    return doubts <= max(values >= _LEAST, values // _FEW)


def _lengths_in(pairs: Sequence[_Pair]) -> LengthsIn:
    units = {unit for _, length, unit in pairs if length is not None}
    return LengthsIn.SECONDS if "s" in units else LengthsIn.BEATS if units else LengthsIn.NOTHING


def _places(signs: Sequence[str], clean: str) -> list[tuple[int, int]]:
    """Where in a list's text each sign may have been read: the next value that means it, from the one before on."""
    found, values = [], _VALUE.finditer(clean)
    last = (0, 0)
    for sign in signs:
        wanted = sign.removeprefix(_DOUBT)
        for value in values:
            if value[0] == wanted or sign in (pitch_sign(value[0]), pitch_sign(value[0], hertz=True)):
                last = value.span()
                break
        found.append(last)
    return found


def _with_ink(found: Imported, sheet: str, places: Sequence[tuple[int, int]], source: str) -> Imported:
    """What was found in a list's sheet, with its ink in the list instead."""
    words = [match.start() for match in _SIGN.finditer(sheet)][-len(places) :]

    def place_of(ink: tuple[int, int]) -> tuple[int, int]:
        return places[max(0, bisect_right(words, ink[0]) - 1)]  # the notes of a chord stand inside one word

    notes = tuple(note._replace(ink=(place_of(note.ink[0]),)) for note in found.song.notes)
    unread = tuple(each._replace(ink=place_of(each.ink)) for each in found.unread)
    return replace(found, song=replace(found.song, notes=notes), unread=unread, source=source)


class _Finder:
    """Finds the pairs of pitch and length in a list.

    Where it is ``doubtful``, a few values in the place of pitches that name none are taken along with a mark.
    """

    def __init__(self, doubtful: bool) -> None:
        self._doubtful = doubtful

    def _sign(self, text: str, hertz: bool = False) -> str | None:
        sign = pitch_sign(text, hertz)
        if sign is None and self._doubtful and (word := re.sub(r"[^\w#♯♭.-]", "", text)[:_LONGEST_DOUBT]):
            return _DOUBT + word
        return sign

    def _are_signs(self, texts: Sequence[str], hertz: bool = False) -> bool:
        """Whether values name pitches: all of them, or most where that is enough."""
        known = sum(pitch_sign(text, hertz) is not None for text in texts)
        return known == len(texts) or (self._doubtful and _are_few(len(texts) - known, len(texts)))

    # Programs

    def from_program(self, text: str) -> list[_Pair]:
        """The pairs of a program's lists and records, and of its calls."""
        named = assignments(text)
        for each in named:
            if (pairs := self._nested(each)) is not None:
                return pairs
        named = [inner for each in named for inner in _lists_of_record(each) or [each]]
        flat = [each for each in named if each.value.items and all(item.items is None for item in each.value.items)]
        calls = [each for each in flat if each.name.endswith("()")]
        lists = [each for each in flat if not each.name.endswith("()")]
        records = [each for each in lists if each.value.names]
        if records and (pairs := self._record(records[0])):
            return pairs
        if lists:
            return self._parallel(lists)
        return self._calls(calls)

    def _nested(self, each: Named) -> list[_Pair] | None:
        """A list of pairs or of records."""
        items = each.value.items or []
        inner = [item for item in items if item.items is not None]
        if not inner or len(inner) != len(items):
            return None
        if all(item.names for item in inner):
            pairs = [self._of_record(item) for item in inner]
        else:
            rows = [[part.text for part in item.items or ()] for item in inner]
            if len(rows) == 2 and len(rows[0]) == len(rows[1]) > 2:
                return self._combined(rows[0], rows[1], "", "")
            pairs = self._of_rows(rows)
        return pairs if pairs and all(pair is not None for pair in pairs) else None  # type: ignore[return-value]

    def _of_record(self, item: Value) -> _Pair | None:
        pitch = next(((name, value) for name, value in item.names.items() if _PITCH_NAMES.search(name)), None)
        length = next(((name, value) for name, value in item.names.items()
                       if _LENGTH_NAMES.search(name) and (pitch is None or name != pitch[0])), None)  # fmt: skip
        if pitch is None:
            return None
        sign = self._sign(pitch[1].text, hertz=bool(_HERTZ.search(pitch[0])))
        if sign is None:
            return None
        octave = item.names.get("octave")
        if octave is not None and re.fullmatch(r"-?[0-9]", octave.text) and sign[-1].isalpha() | (sign[-1] in "#b"):
            sign += octave.text
        if length is None:
            return sign, None, "beats"
        found = length_of(length[1].text)
        return (sign, *_in_unit(found, length[0])) if found is not None else None

    def _record(self, each: Named) -> list[_Pair]:
        """One record: of lists by name, or of lengths by pitch."""
        pairs = []
        for name, value in each.value.names.items():
            sign, length = pitch_sign(name), length_of(value.text)
            if sign is None or length is None:
                return []
            pairs.append((sign, *_in_unit(length, "")))
        return pairs

    def _parallel(self, lists: list[Named]) -> list[_Pair]:
        """A list of pitches, with the list of lengths that goes with it."""
        texts = [(each.name, [item.text for item in each.value.items or ()]) for each in lists]
        pitched = [each for each in texts if self._are_signs(each[1], bool(_HERTZ.search(each[0])))]
        named = [each for each in texts if _PITCH_NAMES.search(each[0]) and not _LENGTH_NAMES.search(each[0])]
        by_name = [each for each in pitched if each in named]
        if named and not by_name:
            return []  # what is called the pitches names none
        chosen = by_name or [each for each in pitched if not _LENGTH_NAMES.search(each[0])] or pitched
        if not chosen:
            return []
        name, pitches = chosen[0]
        others = [each for each in texts if each[1] is not pitches and len(each[1]) == len(pitches)
                  and all(length_of(text) is not None for text in each[1])]  # fmt: skip
        timed = [each for each in others if _LENGTH_NAMES.search(each[0])] or others
        return self._combined(pitches, timed[0][1] if timed else [], name, timed[0][0] if timed else "")

    def _combined(self, pitches: Sequence[str], lengths: Sequence[str], name: str, length_name: str) -> list[_Pair]:
        hertz = bool(_HERTZ.search(name)) or _are_hertz(pitches)
        pairs: list[_Pair] = []
        many = [length_of(text) for text in lengths]
        unit = _unit(many, length_name, hertz)
        for place, text in enumerate(pitches):
            sign = self._sign(text, hertz)
            length = many[place] if place < len(many) else None
            if sign is None:
                return []
            pairs.append((sign, *_scaled(length, unit)))
        return pairs

    def _calls(self, calls: list[Named]) -> list[_Pair]:
        """Calls such as ``tone(440, 500)``, all of the same name."""
        names = [each.name for each in calls]
        if not names:
            return []
        name = Counter(names).most_common(1)[0][0]
        rows = [[item.text for item in each.value.items or ()] for each in calls if each.name == name]
        rows = [row for row in rows if any(pitch_sign(text) is not None for text in row)]  # no declarations
        pairs = self._of_rows(rows) if len(rows) > 1 else []
        return [pair for pair in pairs if pair is not None] if all(pair is not None for pair in pairs) else []

    # Lines

    def from_lines(self, text: str) -> list[_Pair]:
        """Lines of values: two lines of pitches and lengths, rows of two or three columns, or pitches alone."""
        rows = _rows(text)
        if not rows:
            return []
        if len(rows) == 2 and len(rows[0]) == len(rows[1]) > 1:
            lengths = [length_of(text) for text in rows[1]]
            columns = len(rows[0]) == 2 and not any(length_of(text) is None for text in (rows[0][1], rows[1][1]))
            if not columns and None not in lengths and (pairs := self._combined(rows[0], rows[1], "", "")):
                return pairs
        if len(rows) > 1 and all(len(row) in (2, 3) for row in rows):
            found = [pair for pair in self._of_rows(rows) if pair is not None]
            if len(found) == len(rows):
                return found
        every = [word for row in rows for word in row]
        if len(every) > 2 and len(every) % 2 == 0 and all(length_of(word) is None for word in every[::2]):
            pairs = self._combined(every[::2], every[1::2], "", "")  # pitch and length in turn
            if pairs and all(length_of(word) is not None for word in every[1::2]):
                return pairs
        hertz = _are_hertz(every)
        if len(every) < 2 or not self._are_signs(every, hertz):
            return []
        return [(self._sign(word, hertz) or _DOUBT, None, "beats") for word in every]

    def _of_rows(self, rows: Sequence[Sequence[str]]) -> list[_Pair | None]:
        """Rows of pitch and length, in either order; of three columns a letter, its octave and a length."""
        if not rows or any(len(row) < 1 for row in rows):
            return []
        if all(
            len(row) == 3 and _LETTER_OCTAVE.fullmatch(row[0]) and re.fullmatch("-?[0-9]", row[1]) for row in rows
        ):
            rows = [[row[0] + row[1], row[2]] for row in rows]
        first, second = [row[0] for row in rows], [row[1] for row in rows if len(row) > 1]
        if len(second) == len(first) and not self._are_pitches(first, second):
            first, second = second, first
        pairs = self._combined(first, second if len(second) == len(first) else [], "", "")
        return list(pairs)

    def _are_pitches(self, first: Sequence[str], second: Sequence[str]) -> bool:
        """Whether the first of two columns holds the pitches and the second the lengths."""
        if any(length_of(text) is None for text in first):
            return all(length_of(text) is not None for text in second)
        numbers = [[length_of(text) or Fraction(0) for text in column] for column in (first, second)]
        return not (max(numbers[0]) <= 16 < max(numbers[1]) <= 127)


# Values


def commonest(lengths: Sequence[Fraction]) -> Fraction:
    """The length that comes most often; of those that come as often as one another the longest."""
    counts = Counter(lengths)
    return max(counts, key=lambda length: (counts[length], length))


def _lists_of_record(each: Named) -> list[Named]:
    """The lists that a record holds by name; none where it holds anything else."""
    values = each.value.names.items()
    return [Named(name, value) for name, value in values] if all(value.items for _, value in values) else []


def _rows(text: str) -> list[list[str]]:
    """The values of each line that has any. A comma in a number is a decimal one where spaces keep values apart."""
    lines = [re.sub(r"[\[\](){}\"']", " ", line).strip(" ,;\t") for line in text.split("\n")]
    lines = [line for line in lines if line]
    if len(lines) == 1 and ";" in lines[0] and "," in lines[0]:
        lines = [line.strip() for line in lines[0].split(";")]
    lines = [re.sub(r"(?<=[\w#♯♭])\s*[:=]\s*(?=[0-9.])", " ", line) for line in lines]
    spaced = [re.split(r"\s*[;\t]\s*|\s+", line) for line in lines]
    decimal = all(len(row) in (2, 3) for row in spaced) and not any(
        word.endswith(",") for row in spaced for word in row
    )
    if decimal and any("," in word for row in spaced for word in row):
        return spaced
    return [re.split(r"\s*[,;\t]\s*|\s+", line) for line in lines]


@lru_cache(_REMEMBERED)
def pitch_sign(text: str, hertz: bool = False) -> str | None:
    """How a value that names a pitch is written in a sheet; None for any other.

    >>> pitch_sign("60"), pitch_sign("F#4"), pitch_sign("440", hertz=True), pitch_sign("Bb 3"), pitch_sign("None")
    ('C4', 'F#4', 'A4', 'Bb3', 'rest')
    """
    word = text.strip()
    if word.lower() in _REST:
        return "rest"
    number = length_of(re.sub(r"(?i)\s*hz$", "", word))
    if number is not None:
        if hertz or word.lower().endswith("hz") or number > 127 or number.denominator != 1:
            return _nearest(float(number))
        return read_key("C major").spell(int(number)).text if number <= 127 else None
    parts = [_one(part) for part in re.split(r"\s*[&+]\s*", word)]
    return "&".join(part for part in parts if part) if all(parts) else None


def _one(word: str) -> str | None:
    found = _LETTER_OCTAVE.fullmatch(word)
    if found is None:
        return None
    letter = found[1][0].upper() + found[1][1:].replace("is", "#").replace("s", "#")
    name = read_pitch_name(letter + (found[2] or ""))
    return letter + (found[2] or "") if name is not None else None


def _nearest(hertz: float) -> str | None:
    if hertz <= 0:
        return "rest"
    number = nearest_number(hertz)
    return read_key("C major").spell(number).text if 0 <= number <= 127 else None


@lru_cache(_REMEMBERED)
def length_of(text: str) -> Fraction | None:
    """A number that is not negative, with a point, a decimal comma or as a fraction; None for anything else."""
    word = text.strip().replace(",", ".").rstrip("fFLl")
    if not re.fullmatch(r"[0-9]{1,12}(?:\.[0-9]{0,12})?|\.[0-9]{1,12}|[0-9]{1,9}/[1-9][0-9]{0,8}", word):
        return None
    return Fraction(word)


def _are_hertz(texts: Sequence[str]) -> bool:
    """Whether numbers are frequencies: any is beyond MIDI's, or has a point."""
    return any(number > 127 or "." in text for text in texts if (number := length_of(text)) is not None)


def _unit(lengths: Sequence[Fraction | None], name: str, hertz: bool) -> str:
    known = [length for length in lengths if length is not None]
    if _MILLISECONDS.search(name) or (known and max(known) > _LENGTH_MOST):
        return "ms"
    return "s" if hertz or _SECONDS.search(name) else "beats"


def _scaled(length: Fraction | None, unit: str) -> tuple[Fraction | None, str]:
    if length is not None and unit == "ms":
        return length / 1000, "s"
    return length, unit if unit == "s" else "beats"


def _in_unit(length: Fraction, name: str) -> tuple[Fraction | None, str]:
    return _scaled(length, _unit([length], name, hertz=False))
