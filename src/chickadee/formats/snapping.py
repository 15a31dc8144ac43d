"""Snapping: the beats, halves, thirds and other parts of a beat that a player meant."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import islice
from operator import attrgetter
from statistics import median

import numpy as np
from numpy.typing import NDArray

from ..sheet.direction import LOUDNESS
from ..sheet.written import ACCENT
from ..song import TICKS_PER_QUARTER, Note, Song, Tempo, TempoMap, Voice
from ..song.song import DEFAULT_GAP
from .ramps import ramped

__all__ = ["Snapped", "snapped", "usual_level"]

Ticks = NDArray[np.int64]
Mask = NDArray[np.bool_]

_COSTS = {1: 0.0, 2: 1.0, 4: 2.0, 3: 2.5, 6: 3.5, 8: 4.0, 12: 5.0, 5: 5.5, 16: 6.0, 7: 6.5}
"""How reluctantly a beat is taken to be cut into so many parts."""
# of a beat, one standard deviation
_EXACT_SPREAD = 0.004
_LEAST_SPREAD = 0.015
_MOST_SPREAD = 0.05
_PLAYED_SECONDS = 0.022  # by which a player is off, one standard deviation
_COLLAPSED = 30.0  # the cost of two strikes that would become one
_TOGETHER = 0.06  # of a beat, within which strikes are one
_MOST_TOGETHER = 0.13  # of a beat, in a quick tune
_TOGETHER_SECONDS = 0.08  # seconds, within which strikes are one
_EXACT_SHARE = 0.95  # of strikes on a grid, from which on a file was not played by hand
_FREE = 0.052  # of a beat that strikes are off sixteenths on average where nothing keeps to the beat
_PARTS = (16, 12, 5, 7)
# silences after a note that were not meant: of a beat, of the time to the next
_CLOSED = 0.13
_CLOSED_SHARE = 0.3
# of the time to the next that a short note lasts
_SHORTEST = 0.3
_LONGEST = 0.65
_NEARLY = 0.7  # of the longest, of notes struck together
_PLAIN_PARTS = (1, 2, 4, 3, 6, 8)  # of a beat, that the lengths in an exact file are counted in
_FEW_SWUNG = 6
_SWUNG_SHARE = 0.85
_SWUNG_SPREAD = 0.03
_HARDLY = 4  # of these are a beat: the notes that hardly last
_FIRST = 8  # notes of a voice that tell its level
_LOUDER = 11
_ACCENTED = 12
_FEW_CHANGES = 6


@dataclass(frozen=True, slots=True)
class Snapped:
    """A song on its beats, and how far that moved its strikes."""

    song: Song
    mean: float
    """Milliseconds."""
    worst: float
    """Milliseconds."""
    said: tuple[str, ...] = ()


def snapped(song: Song, part: Fraction | None = None, played: bool = False) -> Snapped:
    """A song with every strike and length on the coarsest parts of each beat that a musician would have meant.

    ``part`` is the part of a beat to snap to everywhere, instead. Small silences between notes become the voices'
    gap, and loudness that varies from note to note becomes a few levels and accents. Music that keeps to no beat
    is left as it is, which is said. ``played`` says that strikes are on parts of beats already, but lengths are as a
    player held them.
    """
    if not song.notes:
        return Snapped(song, 0.0, 0.0)
    swing = _swing(song) if part is None and not song.tempo.swings else None
    said: tuple[str, ...] = ()
    if swing is not None:
        song = _straightened(song, swing)
        said = (f"The tune is swung: the first half of each quarter note takes {100 * swing:.0f}% of it.",)
    spread = _LEAST_SPREAD if played else _spread(song)
    if spread is None and part is None:
        return Snapped(song, 0.0, 0.0, ("The notes keep to no beat, so their times are left as they are.",))
    snapper = _Snapper(song, part, spread or _MOST_SPREAD)
    snapper.last()
    loudness = _evened(song, snapper.start)
    if (loudness != song.arrays.loudness).any():
        said += ("Loudness that varied from note to note is evened out to a few levels and accents.",)
    new = _with_notes(replace(song, tempo=ramped(song)), snapper, loudness)
    moved = abs(song.tempo.seconds(snapper.start) - song.tempo.seconds(song.arrays.start)) * 1000
    return Snapped(new, float(moved.mean()), float(moved.max()), said)


def _spread(song: Song) -> float | None:
    """How far strikes may be off, in beats, one standard deviation; None where they keep to no beat."""
    places = song.arrays.start / song.meter.beat_ticks

    def away(parts: int) -> NDArray[np.float64]:
        """From the nearest of so many parts, in such parts."""
        return abs(places * parts - np.rint(places * parts))

    if np.any([away(parts) < 0.02 for parts in _PARTS], axis=0).mean() >= _EXACT_SHARE:
        return _EXACT_SPREAD
    off = away(4) / 4
    if off.mean() > _FREE and np.minimum(off, away(3) / 3).mean() > _FREE * 0.62:
        return None
    return min(_MOST_SPREAD, max(_LEAST_SPREAD, _PLAYED_SECONDS * song.tempo_in_beats / 60))


class _Snapper:
    """Snaps the notes of a song; every array has an element for each of them, in the song's order."""

    def __init__(self, song: Song, part: Fraction | None, spread: float) -> None:
        self.song = song
        self.part = part
        self.spread = spread
        self.exact = spread == _EXACT_SPREAD
        together = min(_MOST_TOGETHER, max(_TOGETHER, _TOGETHER_SECONDS * song.tempo_in_beats / 60))
        self.together = _TOGETHER / 4 if self.exact else together
        self._span = 2 * int((song.arrays.start + song.arrays.length).max()) + song.meter.bar_ticks
        self._beats: Ticks  # every beat in which a voice strikes something, in order, as voices' places
        self._parts: Ticks  # into how many parts each is cut
        self.start = self._struck()
        """The tick at which each note is struck now."""
        self.length = song.arrays.length
        """The ticks that each note lasts now."""
        self.short: Mask = np.zeros(len(song.notes), bool)
        """Which notes are short."""
        self.gaps: dict[int, float] = {}
        """For each voice where they are many, the seconds of silence between notes that were taken out."""

    # Strikes

    def _struck(self) -> Ticks:
        start = self.song.arrays.start
        beat, ticks = self._beat(start)
        place = (start - beat) / ticks
        self._beats, mine = np.unique(self._key(beat), return_inverse=True)
        self._parts = self._cut(mine, place)
        parts = self._parts[mine]
        return np.maximum(0, beat + np.rint(place * parts).astype(np.int64) * ticks // parts)

    def _key(self, ticks: Ticks) -> Ticks:
        """A tick of each note's voice as one number, by which voices come one after the other."""
        return self.song.arrays.voice.astype(np.int64) * self._span + ticks

    def _beat(self, ticks: Ticks) -> tuple[Ticks, Ticks]:
        """(tick, ticks) of the beats that strikes belong to, which may come a little late."""
        margin = np.rint(min(2 * self.spread, 0.1) * self.song.grid.bars_at(ticks).beat).astype(np.int64)
        early = ticks + margin
        bar = self.song.grid.bars_at(early)
        return bar.start + (early - bar.start) // bar.beat * bar.beat, bar.beat

    def _cut(self, beat: NDArray[np.intp], place: NDArray[np.float64]) -> Ticks:
        """Into how many parts each beat is best cut, by where in it something is struck."""
        if self.part is not None:
            return np.full(len(self._beats), max(1, round(1 / self.part)))
        order = np.lexsort((place, beat))
        beat = beat[order]
        place = place[order]
        other = np.append(True, (np.diff(beat) > 0) | (np.diff(place) > 0))
        beat = beat[other]
        place = place[other]
        same = np.diff(beat) == 0

        def strikes(apart: Mask) -> Ticks:
            """How many strikes each beat has, from which of them are apart from the one before."""
            return 1 + np.bincount(beat[1:][same & apart], minlength=len(self._beats))

        needed = strikes(np.diff(place) > self.together)
        costs = []
        for parts, cost in _COSTS.items():
            on = np.rint(place * parts)
            off = np.bincount(beat, (place - on / parts) ** 2, minlength=len(self._beats))
            lost = np.maximum(0, needed - strikes(np.diff(on) > 0))
            costs.append(cost + off / (2 * self.spread**2) + _COLLAPSED * lost)
        found: Ticks = np.array(list(_COSTS))[np.argmin(costs, axis=0)]
        return found

    # Lengths

    def last(self) -> None:
        """Find how long each note lasts."""
        start = self.start
        played = self.song.arrays.start + self.song.arrays.length
        beat = self.song.grid.bars_at(start).beat
        apart = self._apart()
        follows = apart > 0
        following = start + apart
        ends = played + start - self.song.arrays.start
        silence = following - ends
        joined = follows & (
            abs(silence) <= np.maximum(_CLOSED * beat, np.where(silence > 0, _CLOSED_SHARE * apart, 0))
        )
        end = self._on_parts(ends, beat)
        if self.exact:
            joined &= ~_is_plain(ends, beat)
        else:
            share = (ends - start) / np.maximum(1, apart)
            self.short = follows & ~joined & (share >= _SHORTEST) & (share <= _LONGEST) & (apart <= beat)
            end = np.where(follows, end, self._to_the_bar(ends, end, beat))
        self.length = np.where(joined | self.short, following, end) - start
        closed = follows & (self.length == apart) & (played < following) & ~self.short
        self._take_gaps(closed, self.song.tempo.seconds(following) - self.song.tempo.seconds(played))
        self._even()

    def _apart(self) -> Ticks:
        """The ticks from each strike to the next of its voice; 0 where there is none."""
        key = self._key(self.start)
        onsets = np.unique(key)
        place = np.searchsorted(onsets, key, "right")
        following = onsets[np.minimum(place, len(onsets) - 1)]
        mine = (place < len(onsets)) & (following // self._span == self.song.arrays.voice)
        return np.where(mine, following - key, 0)

    def _to_the_bar(self, ends: Ticks, otherwise: Ticks, beat: Ticks) -> Ticks:
        """The end of the bar where a note nearly lasts until then."""
        bar_end = self.song.grid.bars_at(np.maximum(self.start, ends - 1)).end
        near = np.maximum(_CLOSED * beat, _CLOSED_SHARE * (bar_end - self.start))
        return np.where((ends <= bar_end) & (bar_end - ends <= near), bar_end, otherwise)

    def _on_parts(self, ends: Ticks, beat: Ticks) -> Ticks:
        """The part of a beat that each note ends on."""
        origin, _ = self._beat(ends)
        step = self._step(self._beat(self.start)[0], beat)
        if self.part is None and self.exact:
            for by in reversed(_PLAIN_PARTS):
                step = np.where(_is_plain(ends - origin, beat, by), beat // by, step)
        elif self.part is None:
            step = np.minimum(np.minimum(step, self._step(origin, beat)), beat // 2)
        end = origin + np.rint((ends - origin) / step).astype(np.int64) * step
        return np.where(end > self.start, end, self.start + self._least(step, beat))

    def _least(self, step: Ticks, beat: Ticks) -> Ticks:
        """The ticks of a note that hardly lasts: a drum rings on its own, others are short."""
        if self.part is not None:
            return step
        drums = np.array([voice.is_drums for voice in self.song.voices])[self.song.arrays.voice]
        return np.where(drums, step, np.minimum(step, beat // _HARDLY))

    def _step(self, beats: Ticks, ticks: Ticks) -> Ticks:
        """The ticks of a part of the beats that begin where each note's voice is at some ticks."""
        key = self._key(beats)
        place = np.minimum(np.searchsorted(self._beats, key), len(self._beats) - 1)
        return ticks // np.where(self._beats[place] == key, self._parts[place], 1)

    def _take_gaps(self, closed: Mask, silence: NDArray[np.float64]) -> None:
        for voice, mine in enumerate(self.song.by_voice):
            silences = silence[mine][closed[mine]]
            if len(silences) > len(mine) // 3:
                self.gaps[voice] = float(np.median(silences))

    def _even(self) -> None:
        """Make notes that are struck together and end nearly together equally long."""
        key = self._key(self.start)
        order = np.lexsort((-self.length, key))
        again = np.flatnonzero(np.diff(key[order]) == 0) + 1
        for place in again.tolist():  # by the longest of its strike, or the last that was much shorter
            longer = order[place - 1]
            shorter = order[place]
            if self.length[shorter] >= _NEARLY * self.length[longer]:
                self.length[shorter] = self.length[longer]
                self.short[shorter] = self.short[longer]


def _is_plain(ticks: Ticks, beat: Ticks, parts: int = 12) -> Mask:
    """Which ticks are a whole number of parts of a beat, or as good as."""
    counted = ticks * parts / beat
    return abs(counted - np.rint(counted)) < 0.02 * parts / 12


def _evened(song: Song, start: Ticks) -> NDArray[np.int16]:
    """Loudness by note: where it changes all the time, a few levels and accents. Notes are struck at ``start``."""
    loudness = song.arrays.loudness.copy()
    bars = song.grid.bars_at(start).start
    for mine in song.by_voice:
        mine = mine[np.argsort(start[mine], kind="stable")]
        if np.count_nonzero(np.diff(loudness[mine])) > len(mine) // _FEW_CHANGES:
            loudness[mine] = _levelled(loudness[mine], np.flatnonzero(np.diff(bars[mine])) + 1)
    return loudness


def _levelled(loudness: NDArray[np.int16], bars: NDArray[np.intp]) -> NDArray[np.int16]:
    """A voice's notes at the usual loudness of their bars, where that is another, with accents.

    ``bars`` are the places where another bar begins.
    """
    level = -100
    found = []
    for struck in np.split(loudness, bars):
        usual = round(median(struck.tolist()))
        if abs(usual - level) > _LOUDER:
            level = min(LOUDNESS.values(), key=lambda named: abs(named - usual))
        found.append(np.where(struck > level + _ACCENTED, min(127, level + ACCENT), level))
    return np.concatenate(found).astype(np.int16)


def _swing(song: Song) -> float | None:
    """The part of a quarter note that its first half takes, where the halves are uneven throughout."""
    starts = np.unique(song.arrays.start) - song.grid.pickup
    places = starts % TICKS_PER_QUARTER / TICKS_PER_QUARTER
    inside = places[(places > 0.08) & (places < 0.92)]
    halves = inside[(inside > 0.53) & (inside < 0.8)]
    if len(halves) < _FEW_SWUNG:
        return None
    usual = float(np.median(halves))
    near = np.count_nonzero(abs(inside - usual) < _SWUNG_SPREAD)
    return usual if near >= _SWUNG_SHARE * len(inside) and 0.53 < usual < 0.79 else None


def _straightened(song: Song, swing: float) -> Song:
    """A song whose swing is a property of its tempo and no longer in its ticks."""
    origin = song.grid.pickup
    tempos = song.tempo.tempos
    already_straight = 0
    if _tempo_swings_pickup(song, swing):
        already_straight = origin % TICKS_PER_QUARTER
        later = [tempo for tempo in tempos if tempo.tick > already_straight]
        tempos = (Tempo(0, song.tempo.tempo_at(already_straight)), *later)

    def straight(ticks: Ticks) -> Ticks:
        whole, part = np.divmod(ticks - origin, TICKS_PER_QUARTER)
        place = part / TICKS_PER_QUARTER
        even = np.where(place <= swing, place / (2 * swing), 0.5 + (place - swing) / (2 * (1 - swing)))
        moved = origin + whole * TICKS_PER_QUARTER + np.rint(even * TICKS_PER_QUARTER)
        return np.asarray(np.where(ticks < already_straight, ticks, moved), np.int64)

    starts = straight(song.arrays.start)
    lengths = np.maximum(1, straight(song.arrays.start + song.arrays.length) - starts)
    notes = (
        note._replace(start=start, length=length)
        for note, start, length in zip(song.notes, starts.tolist(), lengths.tolist(), strict=True)
    )
    tempo = TempoMap(tempos, [(0, round(swing, 3))], origin)
    return replace(song, notes=tuple(sorted(notes, key=attrgetter("start", "voice", "number"))), tempo=tempo)


def _tempo_swings_pickup(song: Song, swing: float) -> bool:
    """Return whether a file says by its tempo how a quarter note is swung that its pickup cuts off, as ours do."""
    cut = song.grid.pickup % TICKS_PER_QUARTER
    if not cut:
        return False
    even = TempoMap([Tempo(0, song.tempo.tempo_at(cut))], [(0, swing)], song.grid.pickup)
    told = float(song.tempo.seconds(cut))
    return abs(told - float(even.seconds(cut))) < abs(told - 60 * cut / TICKS_PER_QUARTER / even.tempo_at(cut))


def _with_notes(song: Song, snapper: _Snapper, loudness: NDArray[np.int16]) -> Song:
    """A song with its notes as they were snapped; its voices end with the bar of their last note."""
    order = np.lexsort((song.arrays.number, song.arrays.voice, snapper.start)).tolist()
    columns = (column.tolist() for column in (snapper.start, snapper.length, loudness, snapper.short))
    every = [
        Note(start, note.voice, length, note.pitch, note.number, level, short, note.spans, note.syllable)
        for note, start, length, level, short in zip(song.notes, *columns, strict=True)
    ]
    notes = [every[place] for place in order]
    ends = snapper.start + snapper.length
    voices = []
    for index, voice in enumerate(song.voices):
        gap = round(min(1.0, snapper.gaps.get(index, DEFAULT_GAP)), 2)
        last = int(ends[song.by_voice[index]].max(initial=0))
        end = song.grid.end(song.grid.number_at(max(0, last - 1)))
        gap = gap if gap > 1.5 * DEFAULT_GAP else DEFAULT_GAP
        voices.append(replace(voice, gap=gap, level=usual_level(notes, index), end=max(last, end)))
    return replace(song, voices=tuple(map(_on_pedal, voices)), notes=tuple(notes))


def usual_level(notes: Iterable[Note], voice: int) -> int:
    """The loudness that most of a voice's first notes have; of several the lowest, as others may be accents."""
    first = Counter(note.loudness for note in islice((note for note in notes if note.voice == voice), _FIRST))
    return min(first, key=lambda level: (-first[level], level), default=80)


def _on_pedal(voice: Voice) -> Voice:
    return replace(voice, pedals=tuple((down, min(up, voice.end)) for down, up in voice.pedals if down < voice.end))
