"""New tunes from one that is there: other pitches to its rhythm, or another rhythm to its pitches."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from ..chance import Chance
from ..sheet.writing import write_song
from ..song import Note, Song
from .chords import chord_tones
from .melody import Singer
from .recipe import RecipeFault

__all__ = ["left_out", "lengths_that_fill", "other_pitches", "varied"]

_LENGTHS = tuple(Fraction(*pair) for pair in ((1, 2), (1, 1), (3, 2), (2, 1), (3, 1), (4, 1)))
_MOST_TRIES = 400
_CHORDS = (5, 1, 1, 4)  # steps of the key under each of four bars, from the fourth on


def varied(song: Song, keep: str, seed: int) -> str:
    """A sheet whose first voice keeps its ``rhythm`` or its ``pitches``; :func:`left_out` says what is not in it.

    Raises RecipeFault.
    """
    voice = _first_pitched(song)
    melody = [song.notes[place] for place in song.melody(voice)]
    chance = Chance(seed)
    if keep == "rhythm":
        new = other_pitches(song, melody, chance)
    else:
        new = _with_chords(song, voice, _other_rhythm(song, melody, chance))
    kept = replace(song.voices[voice], end=max(note.end for note in new))
    found = [note._replace(voice=0, spans=(), syllable="") for note in new]
    return write_song(replace(song, voices=(kept,), notes=tuple(found)), phrases=True).rstrip("\n") + "\n"


def left_out(song: Song, keep: str) -> list[str]:
    """A sentence for each thing of a song that is not in its variations. Raises RecipeFault where there is none."""
    voice = _first_pitched(song)
    said = []
    others = [each.name for place, each in enumerate(song.voices) if place != voice and len(song.by_voice[place])]
    if others:
        said.append(f"Only {song.voices[voice].name} is varied; {', '.join(others)} {_is_are(others)} left out.")
    if keep == "rhythm" and len(song.by_voice[voice]) > len(song.melody(voice)):
        said.append("Of its chords only the highest notes are varied; the notes below them are left out.")
    if any(song.notes[place].syllable for place in song.by_voice[voice].tolist()):
        said.append("Its words are left out.")
    return said


def _is_are(names: Sequence[str]) -> str:
    return "is" if len(names) == 1 else "are"


def _first_pitched(song: Song) -> int:
    for place, voice in enumerate(song.voices):
        if not voice.is_drums and len(song.by_voice[place]):
            return place
    raise RecipeFault("There are no notes with pitches to vary.")


def _with_chords(song: Song, voice: int, melody: Sequence[Note]) -> list[Note]:
    """A melody in another rhythm, with what was struck below each of its notes, in the song's order."""
    moved = dict(zip((song.notes[place].start for place in song.melody(voice)), melody, strict=True))
    notes = (song.notes[place] for place in song.by_voice[voice].tolist())
    return [note._replace(start=moved[note.start].start, length=moved[note.start].length) for note in notes]


def other_pitches(
    song: Song, notes: Sequence[Note], chance: Chance, within: tuple[int, int] | None = None
) -> list[Note]:
    """The same strikes with other pitches of the key, in the same range or another; the last note stays.

    Raises RecipeFault where the range has too few pitches.
    """
    low, high = within or (min(note.number for note in notes), max(note.number for note in notes))
    ladder = [song.key.spell(number) for number in range(low, high + 1) if song.key.contains(number)]
    if len(ladder) < 3:
        raise RecipeFault("The tune has too few pitches of its key to find others.")
    strong = 3 if song.meter.upper % 3 == 0 else 2
    singer = Singer(chance, song.key, ladder, 4, strong)
    found: list[Note] = []
    for place, note in enumerate(notes[:-1]):
        bar = song.grid.number_at(note.start)
        rise = 25 + 60 * place // max(1, len(notes) - 1)
        chord = _CHORDS[bar % len(_CHORDS)]
        on_strong = song.grid.beats(song.grid.start(bar), note.start - song.grid.start(bar)) % strong == 0
        pitch = singer.sing(chord_tones(song.key, chord), on_strong, rise, place * 3 > len(notes) * 2)
        found.append(note._replace(pitch=pitch, number=pitch.number))
    return [*found, notes[-1]]


def _other_rhythm(song: Song, notes: Sequence[Note], chance: Chance) -> list[Note]:
    """The same pitches in order, as many to a bar as before, with other lengths that fill it."""
    bars: dict[int, list[Note]] = {}
    for note in notes:
        bars.setdefault(song.grid.number_at(note.start), []).append(note)
    found: list[Note] = []
    for number, mine in bars.items():
        start = song.grid.start(number)
        beat = song.grid.meter_at(song.grid.start(number)).beat_ticks
        room = Fraction(song.grid.end(number) - start, beat)
        here = Fraction(0)
        for note, length in zip(mine, lengths_that_fill(chance, room, len(mine)), strict=True):
            found.append(note._replace(start=start + int(here * beat), length=int(length * beat)))
            here += length
    return found


def lengths_that_fill(chance: Chance, room: Fraction, count: int) -> list[Fraction]:
    """So many lengths that fill some beats; even ones where none are found."""
    for _ in range(_MOST_TRIES):
        found = [chance.choose(_LENGTHS, (3, 4, 1, 2, 1, 1)) for _ in range(count - 1)]
        last = room - sum(found)
        if last in _LENGTHS:
            return [*found, last]
    return [room / count] * count
