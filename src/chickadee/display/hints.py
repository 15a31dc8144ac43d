"""Hints of the editor at the caret: what a sign is, and what could stand there."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

from ..sheet import Reading
from ..sheet.direction import DIRECTIONS, LOUDNESS
from ..sheet.grammar import property_at, tokens
from ..sheet.properties import PROPERTIES
from ..song.drums import DRUM_SOUND, DRUMS
from ..song.sounds import SOUNDS
from ..theory import CHORD_KINDS, SCALES, read_pitch_name
from . import words

__all__ = ["Completion", "completions", "sign_hint"]

_CHANGES = {
    "x2": "twice",
    "to the end": "until the longest other voice ends",
    "up 2 steps": "two steps of the key higher",
    "up 1 octave": "an octave higher",
    "down 1 octave": "an octave lower",
    "on ^1 ^5": "once on each step",
    "backwards": "the last note first",
    "upside-down": "mirrored about its first note",
    "stretched 2": "twice as long",
    "squeezed 2": "half as long",
}


@dataclass(frozen=True, slots=True)
class Completion:
    """Something that could stand at the caret, in the place of the ``replaces`` characters before it."""

    text: str
    about: str
    replaces: int
    sound: str | None = None
    """The sound that it names, to be tried."""


def completions(reading: Reading, offset: int) -> list[Completion]:
    """Return the completions at an offset, the closest to what is written there first."""
    start = reading.text.rfind("\n", 0, offset) + 1
    before = reading.text[start:offset]
    if (line := property_at(before, 0, len(before))) is not None:
        return _starting(before[line.value_start :], _values(line.name))
    last = next(
        (token for token in reversed(list(tokens(before, 0, len(before)))) if token.end() == len(before)), None
    )
    if last is None or last.lastgroup not in ("word", "direction"):
        return []
    typed = last[0]
    if last.lastgroup == "direction":
        return [] if typed.endswith("]") else _starting(typed[1:], _directions(typed[1:]))
    symbol = typed[typed.rfind("{") + 1 :]
    if typed.rfind("{") > typed.rfind("}"):
        root = symbol[:2] if read_pitch_name(symbol[:2]) else symbol[:1]
        kinds = ((kind.symbol, f"{root} {kind.name}", None) for kind in CHORD_KINDS.values())
        return _starting(symbol[len(root) :], kinds) if read_pitch_name(root) else []
    return _starting(typed, _words(reading, offset, before, typed))


def sign_hint(reading: Reading, start: int, end: int) -> str:
    """Describe the sign between two offsets: its names, number, frequency, beats, bar and beat."""
    found = reading.notes_at(start, end)
    if not found:
        return ""
    song = reading.song
    note = reading.song.notes[found[0]]
    together = [song.notes[index] for index in found if song.notes[index].start == note.start]
    place = song.grid.place(note.start)
    meter = song.grid.meter_at(note.start)
    lines = [
        f"{words.both_names(song, each)}   {each.number}   {song.frequency(each.number):.2f} Hz"
        for each in together[:6]
    ]
    length = words.counted_beats(Fraction(note.length, meter.beat_ticks))
    lines.append(f"{length}, bar {place.bar} beat {words.beats(place.beat)}, loudness {note.loudness}")
    uses = len({song.notes[index].start for index in found if song.notes[index].spans[0] == note.spans[0]})
    if uses > 1:
        lines.append(f"sounds in {uses} places")
    return "\n".join(lines)


_Offer = tuple[str, str, str | None]


def _starting(typed: str, offers: Iterator[_Offer]) -> list[Completion]:
    low = typed.lower()
    found = [
        Completion(text, about, len(typed), sound)
        for text, about, sound in offers
        if text.lower().startswith(low) and text.lower() != low
    ]
    return found[:40]


def _values(name: str) -> Iterator[_Offer]:
    if name == "sound":
        for sound in SOUNDS.values():
            yield sound.name, sound.description, sound.name
    elif name == "key":
        for tonic in ("C", "G", "D", "A", "E", "F", "Bb", "Eb"):
            for scale in ("major", "minor"):
                yield f"{tonic} {scale}", "", None
        for name_ in SCALES:
            yield f"C {name_}", "", None
    elif name == "level":
        for mark, level in LOUDNESS.items():
            yield mark, f"loudness {level}", None
    elif name in PROPERTIES:
        yield PROPERTIES[name].example, PROPERTIES[name].summary, None


def _directions(typed: str) -> Iterator[_Offer]:
    if typed.lower().startswith("sound "):
        for sound in SOUNDS.values():
            yield f"sound {sound.name}", sound.description, sound.name
        return
    for mark, level in LOUDNESS.items():
        yield mark, f"loudness {level}", None
    for kind in DIRECTIONS.values():
        yield kind.example, kind.summary, None


def _words(reading: Reading, offset: int, before: str, typed: str) -> Iterator[_Offer]:
    first = not before[: -len(typed)].strip()
    for name in reading.sheet.phrases:
        yield name, "a phrase", None
    if first:
        here = _place_at(reading, offset)
        for kind in PROPERTIES.values():
            if here in kind.places:
                yield f"{kind.name}: ", kind.summary, None
        yield "voice ", "begins a voice", None
        yield "phrase ", "begins a phrase", None
    elif (after := before[: -len(typed)].split()) and (after[-1].endswith(")") or after[-1] in reading.sheet.phrases):
        for change, about in _CHANGES.items():
            yield change, about, None
    if any(voice.sound == DRUM_SOUND for voice in reading.song.voices):
        for drum, number in DRUMS.items():
            yield drum, f"percussion key {number}", None


def _place_at(reading: Reading, offset: int) -> str:
    """Whose properties stand at an offset: the song's, a voice's or a phrase's."""
    blocks = [(block.start, "voice") for block in reading.sheet.voices if block.start]
    blocks += [(block.start, "phrase") for block in reading.sheet.phrases.values()]
    return max((block for block in blocks if block[0] <= offset), default=(0, "song"))[1]
