"""One value of a list or a table: a pitch, a rest or a length, in the ways in which people write them."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from fractions import Fraction
from functools import lru_cache

from ..caching import remembered
from ..song.drums import DRUMS
from ..theory import Naming, Pitch, nearest_number, read_key

__all__ = ["REST_WORDS", "is_hertz", "length_of", "likely_namings", "note_value", "number_of", "pitches_of"]

_REMEMBERED = 4_096  # signs
# characters of numbers: a recording written down has as many different ones as notes
_NUMBERS = 400_000
_LONGEST_NUMBER = 40
_HIGHEST = 127  # MIDI number
_C_MAJOR = read_key("C major")

_RESTS = (
    "r rest rests none null nil nan undefined n/a pause pausa pausas silence silencio silêncio "
    "stille still stilte rust pauza paus tystnad descanso quiet break off p _ x - – — . ~ s z"
)
REST_WORDS = frozenset(("", *_RESTS.split()))
"""Signs of silence in the place of a pitch, in small letters."""

_OWNER = r"(?:[A-Za-z]{1,12}[._])?"  # as in NOTE_C4 or Note.C4
_PITCH = re.compile(
    _OWNER
    + r"(?P<letter>[A-Ga-g])\s?(?P<sign>##|#|♯♯|♯|bb|♭♭|♭|b|[iI][sS][iI][sS]|[iI][sS]|[eE][sS][eE][sS]|[eE][sS]|"
    r"[sS]|(?:[- ]?(?i:sharp|flat)))?(?:[ _]?|-(?=[02-9]))(?P<octave>-?[0-9])?",
    re.ASCII,  # no letters of other scripts are small forms of these
)
_RAISED = {"##": 2, "#": 1, "♯♯": 2, "♯": 1, "b": -1, "bb": -2, "♭": -1, "♭♭": -2,
           "is": 1, "isis": 2, "es": -1, "eses": -2,
           "sharp": 1, "flat": -1, None: 0}  # fmt: skip
_TOGETHER = re.compile(r"\s*[&+]\s*|\s*/\s*(?=[A-Ga-g])")
_HERTZ = re.compile(r"(?i)\s*hz$")
_DEFAULT_OCTAVE = 4

_PLAIN = re.compile(r"[0-9]{1,12}(?:\.[0-9]{0,12})?|\.[0-9]{1,12}|[0-9]{1,9}/[1-9][0-9]{0,8}")
_SMALL = re.compile(r"[0-9]\.?[0-9]{0,12}e-?[0-9]")
_MIXED = re.compile(r"([0-9]{1,4})\s+([0-9]{1,4})/([1-9][0-9]{0,3})")
_VULGAR = {
    "½": "1/2",
    "¼": "1/4",
    "¾": "3/4",
    "⅓": "1/3",
    "⅔": "2/3",
    "⅛": "1/8",
    "⅜": "3/8",
    "⅝": "5/8",
    "⅞": "7/8",
    "⅙": "1/6",
}


_VALUES = {
    Fraction(4): "whole semibreve ganze ganz ronde redonda intera hele heel cała helnot",
    Fraction(2): "half minim halbe halb blanche blanca minima halve półnuta halvnot mínima",
    Fraction(1): "quarter crotchet viertel noire negra semiminima kwart ćwierćnuta fjärdedel semínima 4th ♩",
    Fraction(1, 2): "eighth quaver achtel croche corchea croma achtste ósemka åttondel colcheia 8th ♪",
    Fraction(1, 4): "sixteenth semiquaver sechzehntel semicorchea semicroma zestiende szesnastka sextondel "
                    "semicolcheia "
                    "16th",
    Fraction(1, 8): "thirty-second demisemiquaver zweiunddreißigstel zweiunddreissigstel fusa biscroma 32nd",
}  # fmt: skip
_VALUE_WORDS = {word: value for value, words in _VALUES.items() for word in words.split()}
_VALUE_WORDS |= {"double croche": Fraction(1, 4), "doublecroche": Fraction(1, 4)}
_DOTTED = re.compile(
    r"^(?:dotted|punktierte|point(?:é|ée)?|puntata)[\s_-]+|[\s_-]+(?:dotted|point(?:é|ée)|con puntillo|puntata)$|\.$"
)
_NOTE = re.compile(r"[\s_-]?(?:notes?|noten?|nota|s)$")


def number_of(text: str) -> Fraction | None:
    """A number, of either sign; None for anything else."""
    word = text.strip()
    if word[:1] in ("-", "−") and (found := length_of(word[1:])) is not None:
        return -found
    return length_of(word)


def length_of(text: str) -> Fraction | None:
    """A number that is not negative, with a point, a decimal comma or as a fraction; None for anything else.

    >>> length_of("0,5"), length_of("1 1/2"), length_of("1½"), length_of("x")
    (Fraction(1, 2), Fraction(3, 2), Fraction(3, 2), None)
    """
    return _read_length(text)


@remembered(_NUMBERS, _LONGEST_NUMBER)
def _read_length(text: str) -> Fraction | None:
    word = text.strip()
    if word and word[-1] in _VULGAR:
        rest = length_of(word[:-1]) if word[:-1].strip() else Fraction(0)
        return None if rest is None else rest + Fraction(_VULGAR[word[-1]])
    word = word.replace(",", ".").rstrip("fFLl")
    if (mixed := _MIXED.fullmatch(word)) is not None:
        return int(mixed[1]) + Fraction(int(mixed[2]), int(mixed[3]))
    if _PLAIN.fullmatch(word) is None and _SMALL.fullmatch(word) is None:
        return None
    return Fraction(word)


@lru_cache(_REMEMBERED)
def note_value(text: str) -> Fraction | None:
    """The quarter notes that a note value lasts, by its name in one of Europe's languages; None for anything else.

    >>> note_value("quarter"), note_value("dotted half"), note_value("Achtel"), note_value("1")
    (Fraction(1, 1), Fraction(3, 1), Fraction(1, 2), None)
    """
    word = text.strip().lower().replace("_", " ")
    plain = _DOTTED.sub("", word)
    value = _VALUE_WORDS.get(plain)
    if value is None:
        value = _VALUE_WORDS.get(_NOTE.sub("", plain))
    if value is None:
        return None
    return value * Fraction(3, 2) if plain != word else value


@lru_cache(_REMEMBERED)
def pitches_of(text: str, hertz: bool = False, naming: Naming = Naming.LETTERS) -> tuple[Pitch, ...] | None:
    """The pitches that a value names, none for a rest; None where it names none.

    A number is a MIDI number, or hertz where that is said; 0 and less are rests.

    >>> [pitch.text for pitch in pitches_of("C4+E4")], pitches_of("None"), pitches_of("lake")
    (['C4', 'E4'], (), None)
    >>> pitches_of("60")[0].text, pitches_of("440", hertz=True)[0].text, pitches_of("NOTE_FS5")[0].text
    ('C4', 'A4', 'F#5')
    """
    word = text.strip().strip("\"'")
    if word.lower() in REST_WORDS:
        return ()
    number = number_of(_HERTZ.sub("", word))
    if number is not None:
        return _of_number(number, hertz or _HERTZ.search(word) is not None)
    if (drum := DRUMS.get(word.lower())) is not None:
        return (_C_MAJOR.spell(drum),)
    return _together([_one(part, naming) for part in _TOGETHER.split(word)])


def is_hertz(texts: Sequence[str]) -> bool:
    """Return whether numbers in the place of pitches are frequencies: most are beyond MIDI's, or have a point."""
    numbers = [(text, number) for text in texts if (number := number_of(_HERTZ.sub("", text.strip()))) is not None]
    sounding = [(text, number) for text, number in numbers if number > 0]
    surely = sum(number > _HIGHEST or "." in text or _HERTZ.search(text) is not None for text, number in sounding)
    return surely * 2 > len(sounding)


def likely_namings(
    texts: Iterable[str], wanted: Naming, may_be_h: bool = True, is_german: bool = False
) -> list[Naming]:
    """The ways in which signs name pitches, the likeliest first: the one that is ``wanted`` where it can be.

    ``may_be_h`` tells whether an H alone shows that B is B flat, ``is_german`` whether it may be that without one.

    >>> [naming.value for naming in likely_namings(["do", "mi"], Naming.LETTERS)]
    ['do re mi']
    """
    signs = set(texts)

    def read_by(naming: Naming) -> int:
        return sum(pitches_of(sign, naming=naming) is not None for sign in signs)

    by_letters = read_by(Naming.LETTERS)
    letters = {sign.strip()[:1].upper() for sign in signs if pitches_of(sign, naming=Naming.H)}
    if wanted.value == Naming.H.value and read_by(wanted) >= by_letters:
        return [wanted, Naming.LETTERS] if "B" in letters and "H" not in letters else [wanted]
    others = [wanted, Naming.SYLLABLES]
    best = max(others, key=read_by)
    if read_by(best) > by_letters:
        return [best]
    if may_be_h and "H" in letters and "B" not in letters and read_by(Naming.H) > by_letters:
        return [Naming.H]
    german = is_german or any(re.fullmatch(r"[A-Ha-h](?:is|es)-?[0-9]?", sign.strip()) for sign in signs)
    return [Naming.LETTERS, Naming.H] if german and "B" in letters and "H" not in letters else [Naming.LETTERS]


def _of_number(number: Fraction, hertz: bool) -> tuple[Pitch, ...] | None:
    if number <= 0:
        return ()
    if not hertz:
        return (_C_MAJOR.spell(int(number)),) if number <= _HIGHEST and number.denominator == 1 else None
    nearest = nearest_number(float(number))
    return (_C_MAJOR.spell(nearest),) if 0 <= nearest <= _HIGHEST else None


def _one(word: str, naming: Naming) -> Pitch | None:
    if (number := number_of(word)) is not None:
        found = _of_number(number, hertz=False)
        return found[0] if found else None
    return _named(word, naming)


def _together(parts: Sequence[Pitch | None]) -> tuple[Pitch, ...] | None:
    pitches = tuple(part for part in parts if part is not None)
    return pitches if len(pitches) == len(parts) else None


def _named(word: str, naming: Naming) -> Pitch | None:
    if naming.value != Naming.LETTERS.value:
        read = naming.read(word)
        found = read[0].at(_DEFAULT_OCTAVE if read[1] is None else read[1]) if read is not None else None
        return found if found is not None and 0 <= found.number <= _HIGHEST else None
    parts = _PITCH.fullmatch(word)
    if parts is None:
        return None
    letter = parts["letter"].upper()
    octave = parts["octave"]
    pitch = Pitch(letter, _accidental(letter, parts["sign"]), _DEFAULT_OCTAVE if octave is None else int(octave))
    return pitch if 0 <= pitch.number <= _HIGHEST else None


def _accidental(letter: str, sign: str | None) -> int:
    """Semitones by which a sign raises a letter. ``As`` and ``Es`` are flat; ``AS``, as in programs, is sharp."""
    if sign == "S":
        return 1
    if sign == "s":
        return -1 if letter in "AE" else 1
    return _RAISED[sign.strip(" -").lower() if sign is not None else None]
