"""Lists from elsewhere, written as a sheet: names, numbers, pitches with lengths, frequencies with seconds."""

from __future__ import annotations

import re
from fractions import Fraction

from ..theory import nearest_number, read_key, read_pitch_name

__all__ = ["as_sheet"]

_MOST = 20_000
_IN_A_LINE = 8
_REST = {"r", "rest", "none", "null", "-", "", "0hz"}


def as_sheet(text: str) -> str | None:
    """The sheet that a list of notes from elsewhere means; None for any other text.

    >>> as_sheet("[60, 62, 64]"), as_sheet("C4, 1\\nD4, 0.5")
    ('60 62 64', 'C4 D4=1/2')
    >>> as_sheet("440, 0.5\\n493.88, 0.25")
    'tempo: 60\\nA4=1/2 B4=1/4'

    Two columns are pitch and length in beats, or frequency in Hz and seconds; one is pitches of a beat each.
    """
    lines = [
        line for line in (re.sub(r"[\[\](){}\"']", " ", line).strip(" ,;\t") for line in text.split("\n")) if line
    ]
    if not lines or len(text) > 50 * _MOST:
        return None
    rows = [re.split(r"\s*[,;\t]\s*|\s+", line) for line in lines]
    signs = _two_columns(rows) if len(rows) > 1 and all(len(row) == 2 for row in rows) else None
    if signs is None:
        listed = re.search(r"[,;\[(]", text) is not None
        signs = [_pitch(word) for row in rows for word in row] if listed or len(rows) > 1 else None
    if signs is None or len(signs) < 2 or len(signs) > _MOST or None in signs:
        return None
    words = [sign for sign in signs if sign is not None]
    found = [" ".join(words[place : place + _IN_A_LINE]) for place in range(0, len(words), _IN_A_LINE)]
    if any(_is_hertz(row[0]) for row in rows) and len(rows[0]) == 2:
        found.insert(0, "tempo: 60")
    return None if "\n".join(found) == text.strip() else "\n".join(found)


def _two_columns(rows: list[list[str]]) -> list[str | None] | None:
    """Pitches with their lengths, or None where the second column holds no lengths."""
    if not all(re.fullmatch(r"[0-9]{0,9}\.?[0-9]{1,9}|[0-9]{1,9}/[1-9][0-9]{0,8}", row[1]) for row in rows):
        return None
    signs: list[str | None] = []
    for pitch, written in rows:
        length = Fraction(written).limit_denominator(1000)
        sign = _from_hertz(pitch) if _is_hertz(pitch) else _pitch(pitch)
        if length <= 0 or sign is None:
            return None
        signs.append(sign if length == 1 else f"{sign}={length}")
    return signs


def _is_hertz(word: str) -> bool:
    number = re.fullmatch(r"([0-9]{1,9}(?:\.[0-9]{1,9})?)(?:\s*[Hh][Zz])?", word)
    return number is not None and ("." in word or word.lower().endswith("hz") or float(number[1]) > 127)


def _from_hertz(word: str) -> str | None:
    hertz = float(re.sub("[HhZz]", "", word))
    number = nearest_number(hertz) if hertz > 0 else -1
    if hertz == 0:
        return "rest"
    return read_key("C major").spell(number).text if 0 <= number <= 127 else None


def _pitch(word: str) -> str | None:
    if word.lower() in _REST:
        return "rest"
    if word.isascii() and word.isdigit():
        return word if int(word[:9]) <= 127 else None
    return word if read_pitch_name(word) else None
