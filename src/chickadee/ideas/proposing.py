"""Proposals for a tune, as edits of its sheet: other pitches, another rhythm, an answer, a second voice,
chords."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from enum import Enum
from fractions import Fraction

from ..chance import Chance
from ..sheet import CannotEdit, Reading, TextEdit, apply_edits, edits, read
from ..sheet.new_voice import music_lines, voice_block
from ..song import BarGrid, Note
from ..theory import Key, Pitch
from .chords import chord_symbol, chord_tones, with_triads
from .consonance import agree, sounding_at_onsets
from .harmony import fitting_chords, progression
from .recipe import RecipeFault
from .variation import lengths_that_fill, other_pitches

__all__ = ["Proposal", "Way", "proposed"]

_OCTAVE_OF_CHORDS = 3
_NONE_FITS = "No idea of this kind fits the tune as it is written; write its phrases out, or select other bars."
_BELOW = (2, 5)  # steps from a melody down to a second voice: a third or a sixth
_BELOW_INSTEAD = (3, 4, 7)  # a fourth, a fifth or an octave


class Way(Enum):
    """The ways to change the open tune, as the panel names them."""

    PITCHES = "other pitches, same rhythm"
    RHYTHM = "another rhythm, same pitches"
    ANSWER = "an answer to the selected bars"
    SECOND = "a second voice under it"
    CHORDS = "chords for it"


@dataclass(frozen=True, slots=True)
class Proposal:
    """Edits of a sheet, and how it would read with them."""

    edits: tuple[TextEdit, ...]
    reading: Reading
    voice: int
    """Which voice of that reading is new, or changed."""
    first_bar: int
    """The first bar that is new, or changed."""


def proposed(
    reading: Reading, way: Way, voice: int, seed: int, chosen: Sequence[int] = (), chords: Sequence[int] = ()
) -> Proposal:
    """Propose a change of a voice of a tune; the same again from the same seed.

    ``chosen`` notes, by their indices, are those whose bars are meant; none for all. ``chords`` are the steps of the
    key for the bars in turn, if they are already known. Raises RecipeFault where it cannot be.
    """
    song = reading.song
    if voice >= len(song.voices) or song.voices[voice].is_drums or not len(song.by_voice[voice]):
        raise RecipeFault("This voice has no notes with pitches; choose another voice.")
    bars = sorted({song.grid.number_at(song.notes[index].start) for index in chosen})
    maker = _Proposer(reading, voice, Chance(seed), bars)
    made = maker.edits(way, seed, chords)
    if not made:
        raise RecipeFault(_NONE_FITS)
    after = read(apply_edits(reading.text, made))
    if len(after.findings) > len(reading.findings):
        raise RecipeFault(
            "No idea of this kind fits the tune as it is written; write its phrases out, or choose other bars."
        )
    new = len(after.song.voices) - 1 if way in (Way.SECOND, Way.CHORDS) else voice
    first = bars[0] if bars else song.first_bar
    if way is Way.ANSWER:
        first = maker.last + 1
    return Proposal(tuple(made), after, new, first)


class _Proposer:
    def __init__(self, reading: Reading, voice: int, chance: Chance, bars: Sequence[int]) -> None:
        self.reading = reading
        self.song = reading.song
        self.voice = voice
        self.chance = chance
        self.bars = bars
        melody = self.song.melody(voice)
        self.indices = [index for index in melody if not bars or self._bar(index) in bars]
        if not self.indices:
            raise RecipeFault("The selected bars have no notes of this voice; select others.")
        self.last = bars[-1] if bars else max(self._bar(index) for index in melody)

    def edits(self, way: Way, seed: int, chords: Sequence[int]) -> list[TextEdit]:
        makers = {
            Way.PITCHES: self._pitches,
            Way.RHYTHM: self._rhythm,
            Way.ANSWER: self._answer,
            Way.SECOND: self._second,
        }
        try:
            return makers[way]() if way in makers else self._chords(seed, chords)
        except CannotEdit as fault:
            raise RecipeFault(str(fault)) from None

    def _bar(self, index: int) -> int:
        return self.song.grid.number_at(self.song.notes[index].start)

    @property
    def _notes(self) -> list[Note]:
        return [self.song.notes[index] for index in self.indices]

    # In the place of what is there

    def _pitches(self) -> list[TextEdit]:
        """Change what is written once and sounds in several places once, as it sounds first."""
        found: dict[tuple[int, int], list[TextEdit]] = {}
        for index, new in zip(self.indices, self._other_pitches(self._notes), strict=True):
            old = self.song.notes[index]
            if old.spans[0] not in found:
                moved = new.number - old.number
                with suppress(CannotEdit):  # of a chord, or of a phrase that is changed where it is used
                    found[old.spans[0]] = edits.move_pitch(self.reading, [index], moved) if moved else []
        return _as_one(found.values())

    def _other_pitches(self, notes: Sequence[Note]) -> list[Note]:
        every = [self.song.notes[index].number for index in self.song.melody(self.voice)]
        return other_pitches(self.song, notes, self.chance, (min(every), max(every)))

    def _rhythm(self) -> list[TextEdit]:
        bars: dict[int, list[int]] = {}
        for index in self.indices:
            bars.setdefault(self._bar(index), []).append(index)
        found: dict[tuple[int, int], list[TextEdit]] = {}
        for number, mine in bars.items():
            notes = [self.song.notes[index] for index in mine]
            within = all(note.end <= self.song.grid.end(number) for note in notes)
            if not within or any(note.spans[0] in found for note in notes):
                continue
            beat = self.song.grid.meter_at(notes[0].start).beat_ticks
            room = sum((Fraction(note.length, beat) for note in notes), Fraction(0))
            lengths = lengths_that_fill(self.chance, room, len(mine))
            other = {
                index: length
                for index, note, length in zip(mine, notes, lengths, strict=True)
                if length * beat != note.length
            }
            with suppress(CannotEdit):  # one of them is in a group that stretches it, or a chord goes round
                made = edits.set_lengths(self.reading, other) if other else []
                found |= dict.fromkeys((note.spans[0] for note in notes), made)
        return _as_one(found.values())

    # Beside it

    def _answer(self) -> list[TextEdit]:
        """The same rhythm after the bars that are meant, beginning alike and ending at home."""
        if not self.bars:
            self.bars = [max(self.song.first_bar, self.last - 1), self.last]
            self.indices = [index for index in self.song.melody(self.voice) if self._bar(index) in self.bars]
        first = self.song.grid.start(self.bars[0])
        end = self.song.grid.end(self.last)
        grid = BarGrid.of(self.song.grid.meter_at(first), self.song.grid.pickup if not first else 0)
        notes = [note for note in self._notes if note.end <= end]
        half = len(notes) // 2
        again = [*notes[:half], *self._other_pitches(notes)[half:]]
        again[-1] = self._at_home(again[-1])
        moved = [note._replace(start=note.start - first) for note in again]
        music = " ".join(music_lines(self.song, grid, moved, end - first))
        bars = [bar.strip() for bar in music.split("|") if bar.strip()]
        own = self.reading.sheet.voices[self.voice]
        if self.song.voices[self.voice].end <= end:
            at = own.body[-1].end
            closed = "" if self.reading.text[:at].endswith("|") else " |"
            return [TextEdit(at, at, f"{closed}\n  {' | '.join(bars)} |")]
        last = next(index for index in reversed(self.indices) if self.song.notes[index].end <= end)
        if self.reading.block_at(self.song.notes[last].spans[0][0]) is not own:
            raise RecipeFault("The selected bars end inside a phrase; select the last bars, or write the phrase out.")
        return edits.insert_after(self.reading, last, f"| {' | '.join(bars)}")

    def _at_home(self, note: Note) -> Note:
        tonic = self.song.key_at(note.start).tonic.nearest(note.number)
        return note._replace(pitch=tonic, number=tonic.number)

    def _second(self) -> list[TextEdit]:
        """A voice that goes along a third or a sixth below, on the chords that fit, and agrees with what sounds."""
        chords = progression(fitting_chords(self.song, self.voice), 0)
        sounding = sounding_at_onsets(self.song, self._notes)
        found: list[Note] = []
        for note, with_it in zip(self._notes, sounding, strict=True):
            key = self.song.key_at(note.start)
            tones = chord_tones(with_triads(key), chords[self.song.grid.number_at(note.start) - self.song.first_bar])
            below = _agreeing(key, note.pitch, with_it)
            weights = [self._fit(pitch, tones, found) for pitch in below]
            pitch = self.chance.choose(below, weights)
            found.append(note._replace(pitch=key.spell(pitch.number), number=pitch.number))
        found[-1] = self._under_last(found[-1], self._notes[-1])
        old = self.song.voices[self.voice]
        lines = music_lines(self.song, self.song.grid, found, max(note.end for note in found))
        return voice_block(self.reading, "Second", [f"sound: {old.sound}", "level: mp", *lines])

    def _fit(self, pitch: Pitch, tones: frozenset[int], before: Sequence[Note]) -> int:
        far = abs(before[-1].number - pitch.number) if before else 0
        return (6 if pitch.number % 12 in tones else 2) * max(1, 8 - far)

    def _under_last(self, note: Note, above: Note) -> Note:
        """Under a last note that is home, home an octave below; otherwise as it is."""
        tonic = self.song.key_at(note.start).tonic
        if above.number % 12 != tonic.pitch_class:
            return note
        home = tonic.nearest(above.number - 12)
        return note._replace(pitch=home, number=home.number)

    def _chords(self, seed: int, given: Sequence[int]) -> list[TextEdit]:
        steps = given or progression(fitting_chords(self.song, self.voice), seed)
        grid = self.song.grid
        key = with_triads(self.song.key)
        first = self.song.first_bar
        bars = [f"{{{chord_symbol(key, step)}}}=bar |" for step in steps]
        if grid.pickup:
            beats = Fraction(grid.pickup, self.song.meter.beat_ticks)
            bars[0] = f"rest={beats} |"
        elif not first:
            bars[0] = "rest=bar |"
        rows = [" ".join(bars[place : place + 4]) for place in range(0, len(bars), 4)]
        old = self.song.voices[self.voice]
        head = [f"sound: {old.sound}", "level: p", f"octave: {_OCTAVE_OF_CHORDS}"]
        return voice_block(self.reading, "Chords", [*head, *rows])


def _agreeing(key: Key, pitch: Pitch, sounding: Collection[int]) -> list[Pitch]:
    """The pitches below one that a second voice may take: a third or a sixth, or another consonance where both clash
    with what sounds. Where every pitch does, those that clash least."""
    clashes: dict[Pitch, int] = {}
    for ways in (_BELOW, _BELOW_INSTEAD):
        below = [key.moved_by_steps(pitch, -steps) for steps in ways]
        clashes |= {each: sum(not agree(each.number, number) for number in sounding) for each in below}
        fewest = min(clashes.values())
        if not fewest:
            break
    return [each for each, count in clashes.items() if count == fewest]


def _as_one(parts: Iterable[list[TextEdit]]) -> list[TextEdit]:
    """Edits of several signs, each once, in order."""
    found = {(edit.start, edit.end): edit for part in parts for edit in part}
    return [found[place] for place in sorted(found)]
