"""The columns of a table, or the keys of a record: known by their headings, else by their content."""

from __future__ import annotations

import re
from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise
from math import log2

from ..theory import Naming
from .signs import is_hertz, number_of, pitches_of
from .units import is_length

__all__ = ["COLUMNS", "PITCH_KINDS", "is_out_of_tune", "kind_of", "pitch_share", "roles_of"]

COLUMNS = ("voice", "bar", "beat", "start_beats", "length_beats", "start_seconds", "length_seconds", "name", "number",
           "hz", "loudness", "short", "word")  # fmt: skip
"""The headings of a table that is written."""

PITCH_KINDS = frozenset(("name", "number", "hz"))
"""Kinds of columns that hold pitches."""

_OWN = {name: name for name in COLUMNS} | {"start_beats": "start", "length_beats": "length"}
_WORDS = {
    "voice": "voice voices part parts track instrument staff stimme stimmen spur voix partie voz voce stem "
        "głos glos stämma parte pista line",
    "word": "word words lyric lyrics syllable syllables text silbe silben wort syllabe paroles sílaba "
        "silaba letra sillaba testo lettergreep sylaba stavelse",
    "octave": "octave octaves oct oktave octava ottava octaaf oktawa oktav oitava",
    "short": "short staccato",
    "loudness": "loud loudness vel velocity volume vol level dynamic dynamics lautstärke lautstaerke vélocité "
        "nuance intensidad dinámica intensità dinamica luidheid głośność ljudstyrka intensidade",
    "bar": "bar measure takt mesure compás compas battuta maat compasso",
    "start": "start starts onset begin begins beginning at when from position anfang beginn startzeit "
        "début debut inicio comienzo inizio początek poczatek början borjan início on",
    "end": "end ends off until stop release ende fin fine einde koniec slut fim",
    "length": "length lengths duration durations dur durs len hold held lasts rhythm rhythms value values "
        "notevalue ticks länge laenge längen dauer dauern notenwert rhythmus durée duree durées "
        "longueur rythme valeur duración duracion duraciones figura ritmo valor durata durate valore "
        "lengte duur notenwaarde długość dlugosc rytm längd langd duração duracao duracoes wartość "
        "wait waits delay delays gap note_durations",
    "beats": "beats count counts schläge schlaege schlag zählzeiten temps tiempos tiempo pulsos battiti "
        "tempi tellen slagen uderzenia miary slag tempos quarters",
    "seconds": "s sec secs second seconds sek sekunden secondes segundos secondi seconden sekundy sekunder "
        "seg",
    "milliseconds": "ms millis millisecond milliseconds millisekunden millisecondes milisegundos millisecondi "
        "msec",
    "hz": "hz hertz freq freqs frequency frequencies frequenz frequenzen fréquence frequence frecuencia "
        "frecuencias frequenza frequentie częstotliwość czestotliwosc frekvens frequência frequencia",
    "number": "midi midinumber midinote",
    "name": "name names note notes notename pitch pitches tone tones step melody melodie tune song key "
        "keys ton töne toene tonname tonhöhe tonhoehe hauteur hauteurs nota notas note altura alturas "
        "altezza toon tonen toonhoogte noot noten nuta nuty wysokość dźwięk dzwiek tonhöjd ton nom "
        "nombre nome naam nazwa namn mélodie melodia melodía",
    "index": "no nr num n° nº number index idx id row step_number zeile nummer numéro numero número numer "
        "lp",
    "time": "time times zeit temps_s tiempo_s tempo_s tijd czas tid",
}  # fmt: skip
_KINDS: dict[str, set[str]] = {}
for _kind, _listed in _WORDS.items():
    for _word in _listed.split():
        _KINDS.setdefault(_word, set()).add(_kind)
_PARTS = re.compile(r"[^\W\d_]+[°º]?|#")
_HUMP = re.compile(r"(?<=[a-z])(?=[A-Z])")

_MOST = 0.6  # of a column's cells that name pitches, where it holds them
_LOWEST = 16  # MIDI number of a pitch in a column of numbers
_HIGHEST = 127
_CENTS = 12.0  # by which a frequency that is meant is off


def kind_of(heading: str) -> str | None:
    """Return the kind of a column by its heading; None where it says nothing.

    >>> kind_of("Dauer (s)"), kind_of("Start in beats"), kind_of("hauteur"), kind_of("Nr."), kind_of("noteDurations")
    ('length_seconds', 'start', 'name', 'index', 'length')
    """
    plain = heading.strip().lower()
    if plain in _OWN:
        return _OWN[plain]
    if plain == "beat":
        return "beat"
    words = [word.lower() for word in _PARTS.findall(_HUMP.sub(" ", heading))]
    said = set[str]().union(*(_KINDS.get(word, set()) for word in words))
    unit = ""
    if "milliseconds" in said:
        unit = "_ms"
    elif "seconds" in said:
        unit = "_seconds"
    for kind in ("start", "end"):
        if kind in said:
            return kind + unit
    if "hz" in said:
        return "hz"
    if said & {"length", "milliseconds", "seconds"}:
        return "length" + unit
    if "beats" in said:
        return "length"
    for kind in ("voice", "word", "octave", "short", "loudness", "bar", "number", "time", "name", "index"):
        if kind in said:
            return kind
    return "index" if "#" in words else None


def pitch_share(texts: Sequence[str], naming: Naming = Naming.LETTERS) -> float:
    """How many of a column's cells name a pitch or a rest, from 0 to 1; 0 where no pitch is high enough to be one."""
    hertz = is_hertz(list(texts))
    found = [pitches_of(text, hertz, naming) for text in texts]
    if not any(found):
        return 0.0
    numbers = [number for text in texts if (number := number_of(text)) is not None and number > 0]
    named = [each for each, text in zip(found, texts, strict=True) if each and number_of(text) is None]
    if not named and sum(number >= _LOWEST for number in numbers) * 2 < len(numbers):
        return 0.0  # small numbers, which are lengths
    return sum(each is not None for each in found) / len(found)


def roles_of(columns: Sequence[Sequence[str]], naming: Naming = Naming.LETTERS) -> dict[str, int] | None:
    """The place of each kind of column, known by what is in them; None where none holds pitches.

    >>> roles_of([["C4", "D4", "E4"], ["1", "0.5", "0.5"]])
    {'name': 0, 'length': 1}
    >>> roles_of([["1", "1", "2"], ["60", "62", "64"]])
    {'number': 1, 'length': 0}
    """
    places = [place for place, column in enumerate(columns) if not _counts_rows(column)]
    pitched = [place for place in places if pitch_share(columns[place], naming) >= _MOST]
    if not pitched:
        return None
    named = [place for place in pitched if _has_names(columns[place], naming)]
    found: dict[str, int] = {}
    if named:
        found["name"] = named[0]
        _take_octave(found, columns, places)
    else:
        best = min(pitched, key=lambda place: (is_out_of_tune(columns[place]), place))
        found["hz" if is_hertz(list(columns[best])) else "number"] = best
    _take_times(found, columns, [place for place in places if place not in found.values() and place not in named])
    return found


def _has_names(column: Sequence[str], naming: Naming) -> bool:
    return any(number_of(text) is None and pitches_of(text, naming=naming) for text in column)


def _counts_rows(column: Sequence[str]) -> bool:
    """Return whether a column only counts its rows, from 0 or from 1; three are too few to tell."""
    numbers = [number_of(text) for text in column]
    return len(numbers) > 3 and numbers in ([*range(len(numbers))], [*range(1, len(numbers) + 1)]) and len(column) > 3


def is_out_of_tune(column: Sequence[str]) -> bool:
    """Return whether numbers that would be frequencies are out of tune, as round milliseconds are."""
    if not is_hertz(list(column)):
        return False
    numbers = [float(number) for text in column if (number := number_of(text)) is not None and number > 0]
    off = [abs((semitones := 12 * log2(number / 440)) - round(semitones)) * 100 for number in numbers]
    return sum(cents > _CENTS for cents in off) * 2 > len(off)


def _take_octave(found: dict[str, int], columns: Sequence[Sequence[str]], places: Sequence[int]) -> None:
    """A column of octaves right after one of letters, where a further one can hold the lengths."""
    place = found["name"] + 1
    letters = not any(re.search(r"[0-9]", text) for text in columns[found["name"]])
    others = [each for each in places if each not in (place, found["name"])]
    if (
        letters
        and place in places
        and others
        and all(re.fullmatch(r"-?[0-9]?", text.strip()) for text in columns[place])
    ):
        found["octave"] = place


def _take_times(found: dict[str, int], columns: Sequence[Sequence[str]], places: list[int]) -> None:
    """Starts, ends, lengths and loudness, among the columns that are left."""
    timed = [place for place in places if all(not text.strip() or is_length(text) for text in columns[place])]
    timed = [place for place in timed if any(text.strip() for text in columns[place])]
    if "name" in found:
        timed = [place for place in timed if not _are_numbers_of(columns[place], columns[found["name"]])]
    rising = [place for place in timed if _rises(columns[place])]
    if rising and len(timed) > 1:
        found["start"] = rising[0]
        ends = [place for place in rising[1:] if _is_later(columns[rising[0]], columns[place])]
        if ends:
            found["end"] = ends[0]
        timed = [place for place in timed if place not in (rising[0], *ends[:1])]
    if timed and "end" not in found:
        found["length"] = timed.pop(0)
    if timed and _is_loudness(columns[timed[0]]):
        found["loudness"] = timed[0]


def _are_numbers_of(column: Sequence[str], names: Sequence[str]) -> bool:
    """Return whether a column holds the MIDI numbers or the frequencies of the names in another."""
    hertz = is_hertz(list(column))
    same = 0
    for text, name in zip(column, names, strict=True):
        one = pitches_of(text, hertz)
        other = pitches_of(name)
        same += one is not None and other is not None and [p.number for p in one] == [p.number for p in other]
    return same * 5 >= len(column) * 4


def _rises(column: Sequence[str]) -> bool:
    numbers = [number_of(text) for text in column]
    if len(numbers) < 3 or any(number is None for number in numbers):
        return False
    steps = [after - before for before, after in pairwise(number for number in numbers if number is not None)]
    return all(step >= 0 for step in steps) and sum(step > 0 for step in steps) * 5 >= len(steps) * 4


def _is_later(starts: Sequence[str], ends: Sequence[str]) -> bool:
    return all(
        (number_of(one) or Fraction(0)) < (number_of(other) or Fraction(0))
        for one, other in zip(starts, ends, strict=True)
    )


def _is_loudness(column: Sequence[str]) -> bool:
    numbers = [number_of(text) or Fraction(0) for text in column]
    return max(numbers) <= _HIGHEST and min(numbers) > _LOWEST and all(number.denominator == 1 for number in numbers)
