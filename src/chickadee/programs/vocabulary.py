"""The verbs of programs: of sounding, of silence and of tempo, in the languages that classes write in."""

from __future__ import annotations

import re
from enum import Enum
from functools import lru_cache

from ..formats.signs import note_value, pitches_of

__all__ = ["NOISE", "VERBS", "Verb", "is_known_word", "is_off", "is_on", "is_pitch_name", "verb_of", "words_in"]


class Verb(Enum):
    """The kinds of calls, by the names that the command line gives them."""

    STRIKE = "strike"
    SILENCE = "silence"
    TEMPO = "tempo"


_STRIKES = (
    "play plays note notes tone tones beep sound sing sings strike bell ring rings chime ding hit pluck strum "
    "blow buzz hum toot chord drum tap knock pling plink bong gong peep melody pitch "
    "spiele spiel spielen ton klang klinge schlag schlage piep pieps singe läute glocke "
    "joue jouer son sonne sonner frappe chante bip cloche "
    "toca tocar toque nota tono suena sonar canta cantar golpe som "
    "suona suonare batti cantare campana speel noot toon klink zing klok "
    "zagraj graj nuta dźwięk dzwiek spela sjung"
)
_SILENCES = (
    "rest rests wait waits sleep usleep nanosleep pause delay silence hush breathe "
    "warte warten pausiere schlafe ruhe stille "
    "attends attendre dors dormir soupir espera esperar espere silencio silêncio pausa duerme descansa "
    "aspetta attendi silenzio dormi rust wacht wachten pauze slaap czekaj pauza cisza vänta vila"
)
_TEMPOS = "tempo tempos bpm"
VERBS = {Verb.STRIKE: _STRIKES.split(), Verb.SILENCE: _SILENCES.split(), Verb.TEMPO: _TEMPOS.split()}
"""The words for each, as any part of a name."""

_NOISY = (
    "print println printf puts putchar log write writeln alert info debug warn error fprintf flush endl "
    "addEventListener super require seed srand setup"
)
NOISE = frozenset(_NOISY.split())
"""Calls that have nothing to do with sound."""

_ABOUT_WORDS = (
    "set get load init make create new import choose select instrument volume name names to from freq frequency of "
    "file parse convert number stop off end list count length len next index size is has open close add start "
    "begin no velocity octave player parser type class song tune"
)
_ABOUT = frozenset(_ABOUT_WORDS.split())
"""Words that show that a name is about a sound, and does not sound it."""
_OFF = frozenset(("no", "off", "stop", "release", "end", "aus", "stopp", "quiet", "mute"))
_ON = frozenset(("on", "start", "begin", "an"))
_LEAST_PREFIX = 4  # letters of a verb that begins a word
_WORDS = {word: verb for verb, words in VERBS.items() for word in words}
_PART = re.compile(r"[^\W\d_]+")
_CAMEL = re.compile(r"(?<=[a-zà-ÿ])(?=[A-ZÀ-Ý])")
_OWNER = re.compile(r"^(?:notes?|pitch|tone)s?_(?=[a-g])", re.IGNORECASE)


_TAIL_WORDS = "sound sounds note notes tone tones beat beats ms sec secs seconds until for now it"
_TAILS = frozenset(_TAIL_WORDS.split())


@lru_cache(4096)
def words_in(name: str) -> tuple[str, ...]:
    """Return the words of a name in small letters: ``playNote`` and ``play_note`` have two."""
    return tuple(word.lower() for word in _PART.findall(_CAMEL.sub(" ", name[:100])))


@lru_cache(4096)
def verb_of(name: str) -> Verb | None:
    """Return what a call by this name does, by its words alone; None where they do not say.

    >>> verb_of("play_note"), verb_of("sleepMs"), verb_of("note_name")
    (<Verb.STRIKE: 'strike'>, <Verb.SILENCE: 'silence'>, None)
    """
    words = words_in(name)
    found = [verb for word in words if (verb := _verb_of_word(word)) is not None]
    if Verb.TEMPO in found:
        return Verb.TEMPO
    if Verb.STRIKE in found:
        first = _verb_of_word(words[0])
        about = _ABOUT.intersection(words)
        # `playSong` plays and `start_tone` sounds; `note_name` and `set_sound` only speak of it
        is_act = (first is Verb.STRIKE and not about - {"song", "tune", "start", "begin", "file", "list"}) or (
            about <= {"start", "begin"}
        )
        return Verb.STRIKE if is_act else None
    return Verb.SILENCE if Verb.SILENCE in found and not _ABOUT.intersection(words) - {"of", "to"} else None


def _verb_of_word(word: str) -> Verb | None:
    known = _WORDS.get(word)
    if known is not None:
        return known
    for size in range(len(word) - 1, _LEAST_PREFIX - 1, -1):
        if (verb := _WORDS.get(word[:size])) is not None and word[size:] in _WORDS.keys() | _TAILS:
            return verb
    return None


def is_off(name: str) -> bool:
    """Return whether a call by this name lets a note go."""
    words = words_in(name)
    sounding = any(_verb_of_word(word) is Verb.STRIKE for word in words)
    return sounding and bool(_OFF.intersection(words))


def is_on(name: str) -> bool:
    """Return whether a call by this name begins a note that another lets go."""
    return verb_of(name) is Verb.STRIKE and bool(_ON.intersection(words_in(name)))


def is_pitch_name(name: str) -> bool:
    """Return whether a bare name is that of a pitch, such as ``C4`` or ``NOTE_FS5``."""
    return re.fullmatch(r"(?i)(?:[a-z]+[._])?[a-g](?:s|sharp|flat|b|is|es)?_?[0-9]", name) is not None or (
        len(_OWNER.sub("", name)) <= 2 and name[:1].isupper() and bool(pitches_of(_OWNER.sub("", name)))
    )


def is_known_word(name: str) -> bool:
    """Return whether a name that a program does not define may come from its surroundings."""
    return (
        verb_of(name) is not None
        or is_pitch_name(name)
        or is_off(name)
        or note_value(name) is not None
        or name in NOISE
        or name.lower() in ("rest", "r", "this", "self")
    )
