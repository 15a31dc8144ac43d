"""Snapping: the beats, halves, thirds and other parts of a beat that a player meant."""

from __future__ import annotations

from bisect import bisect_right
from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import groupby, islice, pairwise
from operator import attrgetter
from statistics import median

from ..sheet.direction import LOUDNESS
from ..sheet.written import ACCENT
from ..song import TICKS_PER_QUARTER, Note, Song, TempoMap, Voice
from ..song.song import DEFAULT_GAP
from .ramps import ramped

__all__ = ["Snapped", "snapped", "usual_level"]

_COSTS = {1: 0.0, 2: 1.0, 4: 2.0, 3: 2.5, 6: 3.5, 8: 4.0, 12: 5.0, 5: 5.5, 16: 6.0, 7: 6.5}
"""How reluctantly a beat is taken to be cut into so many parts."""
_EXACT_SPREAD, _LEAST_SPREAD, _MOST_SPREAD = 0.004, 0.015, 0.05  # of a beat, one standard deviation
_PLAYED_SECONDS = 0.022  # by which a player is off, one standard deviation
_COLLAPSED = 30.0  # the cost of two strikes that would become one
_TOGETHER, _MOST_TOGETHER, _TOGETHER_SECONDS = 0.06, 0.13, 0.08
"""Within how much of a beat, or of a second, strikes are one."""
_EXACT_SHARE = 0.95  # of strikes on a grid, from which on a file was not played by hand
_FREE = 0.052  # of a beat that strikes are off sixteenths on average where nothing keeps to the beat
_PARTS = (16, 12, 5, 7)
_CLOSED, _CLOSED_SHARE = 0.13, 0.3  # silences after a note that were not meant: of a beat, of the time to the next
_FEW_SWUNG, _SWUNG_SHARE, _SWUNG_SPREAD = 6, 0.85, 0.03
_FIRST = 8  # notes of a voice that tell its level
_LOUDER, _ACCENTED, _FEW_CHANGES = 11, 12, 6


@dataclass(frozen=True, slots=True)
class Snapped:
    """A song on its beats, and how far that moved its strikes."""

    song: Song
    mean: float
    """Milliseconds."""
    worst: float
    """Milliseconds."""
    said: tuple[str, ...] = ()


def snapped(song: Song, part: Fraction | None = None) -> Snapped:
    """A song with every strike and length on the coarsest parts of each beat that a musician would have meant.

    ``part`` is the part of a beat to snap to everywhere, instead. Small silences between notes become the voices'
    gap, and loudness that varies from note to note becomes a few levels and accents. Music that keeps to no beat
    is left as it is, which is said.
    """
    if not song.notes:
        return Snapped(song, 0.0, 0.0)
    swing = _swing(song) if part is None and not song.tempo.swings else None
    said: tuple[str, ...] = ()
    if swing is not None:
        song = _straightened(song, swing)
        said = (f"The tune is swung: the first half of each quarter note takes {100 * swing:.0f}% of it.",)
    spread = _spread(song)
    if spread is None and part is None:
        return Snapped(song, 0.0, 0.0, ("The notes keep to no beat, so their times are left as they are.",))
    snapper = _Snapper(song, part, spread or _MOST_SPREAD)
    notes, gaps = snapper.notes()
    evened = _evened(song, notes)
    if evened != notes:
        said += ("Loudness that varied from note to note is evened out to a few levels and accents.",)
    new = _with_notes(replace(song, tempo=ramped(song)), evened, gaps)
    before = song.tempo.seconds([note.start for note in song.notes])
    after = song.tempo.seconds([snapper.starts[note] for note in song.notes])
    moved = abs(after - before) * 1000
    return Snapped(new, float(moved.mean()), float(moved.max()), said)


def _spread(song: Song) -> float | None:
    """How far strikes may be off, in beats, one standard deviation; None where they keep to no beat."""
    beat = song.meter.beat_ticks
    places = [note.start / beat for note in song.notes]
    exact = sum(any(abs(place * part - round(place * part)) < 0.02 for part in _PARTS) for place in places)
    if exact >= _EXACT_SHARE * len(places):
        return _EXACT_SPREAD
    off = [abs(place * 4 - round(place * 4)) / 4 for place in places]
    thirds = [min(away, abs(place * 3 - round(place * 3)) / 3) for away, place in zip(off, places, strict=True)]
    if sum(off) / len(off) > _FREE and sum(thirds) / len(thirds) > _FREE * 0.62:
        return None
    return min(_MOST_SPREAD, max(_LEAST_SPREAD, _PLAYED_SECONDS * song.tempo_in_beats / 60))


class _Snapper:
    """Snaps the notes of a song, voice by voice and beat by beat."""

    def __init__(self, song: Song, part: Fraction | None, spread: float) -> None:
        self.song, self.part, self.spread = song, part, spread
        self.exact = spread == _EXACT_SPREAD
        self.together = min(_MOST_TOGETHER, max(_TOGETHER, _TOGETHER_SECONDS * song.tempo_in_beats / 60))
        self.starts: dict[Note, int] = {}
        """Where each note is struck now."""
        self._bar = (0, -1, 1, 0)  # where the bar of the last strike begins and ends, its beat's ticks and margin
        self._known: dict[tuple[float, ...], int] = {}  # parts of a beat by where its strikes are
        self._parts: dict[tuple[int, int], int] = {}  # into how many parts a voice's beat is cut, by its tick

    def notes(self) -> tuple[list[Note], dict[int, float]]:
        """The notes, and for each voice the seconds of silence that were taken out between them."""
        found, gaps = [], {}
        for index in range(len(self.song.voices)):
            mine = [self.song.notes[place] for place in self.song.by_voice[index].tolist()]
            self._strike(index, mine)
            lasting, silences = self._lasting(index, mine)
            found += lasting
            if len(silences) > len(mine) // 3:
                gaps[index] = median(silences)
        return found, gaps

    def _strike(self, voice: int, notes: list[Note]) -> None:
        """Find where notes are struck."""
        beats: dict[tuple[int, int], list[Note]] = defaultdict(list)
        for note in notes:
            beats[self._beat(note.start)].append(note)
        for (start, beat), struck in beats.items():
            places = [(note.start - start) / beat for note in struck]
            parts = self._parts_of(places)
            self._parts[voice, start] = parts
            for note, place in zip(struck, places, strict=True):
                self.starts[note] = max(0, start + round(place * parts) * beat // parts)

    def _beat(self, tick: int) -> tuple[int, int]:
        """(tick, ticks) of the beat that a strike belongs to, which may come a little late."""
        bar, end, beat, margin = self._bar
        early = tick + margin
        if not bar <= tick <= early < end:
            grid = self.song.grid
            early = tick + self._margin(grid.meter_at(tick).beat_ticks)
            number = grid.number_at(early)
            bar = grid.start(number)
            beat = grid.meter_at(bar).beat_ticks
            self._bar = bar, grid.end(number), beat, self._margin(beat)
        return bar + (early - bar) // beat * beat, beat

    def _margin(self, beat: int) -> int:
        """The ticks by which a strike may come before its beat."""
        return round(min(2 * self.spread, 0.1) * beat)

    def _parts_of(self, places: list[float]) -> int:
        if self.part is not None:
            return max(1, round(1 / self.part))
        distinct = [place for place, _ in groupby(sorted(places))]
        known = tuple(distinct)
        if known in self._known:
            return self._known[known]
        together = _TOGETHER / 4 if self.exact else self.together
        apart = [first for first, second in pairwise(distinct) if second - first > together]

        def cost(parts: int) -> float:
            off = sum((place - round(place * parts) / parts) ** 2 for place in distinct)
            kept = len({round(place * parts) for place in distinct})
            return _COSTS[parts] + off / (2 * self.spread**2) + _COLLAPSED * max(0, len(apart) + 1 - kept)

        found = self._known[known] = min(_COSTS, key=cost)
        return found

    def _lasting(self, voice: int, notes: list[Note]) -> tuple[list[Note], list[float]]:
        """Notes with their new starts and lengths, and the silences between them that were closed, in seconds."""
        onsets = sorted({self.starts[note] for note in notes})
        found, closed = [], []
        for note in notes:
            start = self.starts[note]
            place = bisect_right(onsets, start)
            following = onsets[place] if place < len(onsets) else None
            end, short = self._end(voice, note, start, following)
            if following is not None and end == following and note.end < following and not short:
                closed.append((note.end, following))
            found.append(note._replace(start=start, length=end - start, short=short))
        ends = self.song.tempo.seconds([tick for pair in closed for tick in pair]) if closed else ()
        silences = [float(ends[place + 1] - ends[place]) for place in range(0, len(ends), 2)]
        return _evenly_long(found), silences

    def _end(self, voice: int, note: Note, start: int, following: int | None) -> tuple[int, bool]:
        """Where a note ends, and whether it is a short one."""
        beat = self.song.grid.meter_at(start).beat_ticks
        end = note.end + start - note.start
        if following is not None and not (self.exact and self._is_plain(end, beat)):
            silence, apart = following - end, following - start
            if abs(silence) <= max(_CLOSED * beat, _CLOSED_SHARE * apart if silence > 0 else 0):
                return following, False
            if not self.exact and 0.3 <= (end - start) / apart <= 0.65 and apart <= beat:
                return following, True
        if following is None and not self.exact:
            bar_end = self.song.grid.end(self.song.grid.number_at(max(start, end - 1)))
            if 0 <= bar_end - end <= max(_CLOSED * beat, _CLOSED_SHARE * (bar_end - start)):
                return bar_end, False
        origin, _ = self._beat(end)
        step = self._step(voice, start, beat)
        if self.part is None and self.exact:
            step = next((beat // by for by in (1, 2, 4, 3, 6, 8) if self._is_plain(end - origin, beat, by)), step)
        elif self.part is None:
            step = min(step, self._step(voice, origin, beat), beat // 2)
        end = origin + round((end - origin) / step) * step
        return end if end > start else start + step, False

    def _step(self, voice: int, tick: int, beat: int) -> int:
        """The ticks of a part of the beat at a tick."""
        return beat // self._parts.get((voice, self._beat(tick)[0]), 1)

    def _is_plain(self, ticks: int, beat: int, parts: int = 12) -> bool:
        """Whether some ticks are a whole number of parts of a beat, or as good as."""
        return abs(ticks * parts / beat - round(ticks * parts / beat)) < 0.02 * parts / 12


def _evenly_long(notes: list[Note]) -> list[Note]:
    """Notes struck together that end nearly together, made equally long."""
    found = []
    for _, together in groupby(notes, key=attrgetter("start")):
        struck = sorted(together, key=attrgetter("length"), reverse=True)
        longest = struck[0]
        for note in struck:
            if note.length >= 0.7 * longest.length:
                note = note._replace(length=longest.length, short=longest.short)
            else:
                longest = note
            found.append(note)
    return found


def _evened(song: Song, notes: list[Note]) -> list[Note]:
    """Notes whose loudness, where it changes all the time, is a few levels and accents."""
    found: list[Note] = []
    by_voice: dict[int, list[Note]] = defaultdict(list)
    for note in notes:
        by_voice[note.voice].append(note)
    for mine in by_voice.values():
        changes = sum(one.loudness != other.loudness for one, other in pairwise(mine))
        found += _levelled(song, mine) if changes > len(mine) // _FEW_CHANGES else mine
    return found


def _levelled(song: Song, notes: list[Note]) -> list[Note]:
    """A voice's notes at the usual loudness of their bars, where that is another, with accents."""
    level, found = -100, list[Note]()
    for _, bar in groupby(notes, key=lambda note: song.grid.number_at(note.start)):
        struck = list(bar)
        usual = round(median(note.loudness for note in struck))
        if abs(usual - level) > _LOUDER:
            level = min(LOUDNESS.values(), key=lambda named: abs(named - usual))
        for note in struck:
            accented = note.loudness > level + _ACCENTED
            found.append(note._replace(loudness=min(127, level + ACCENT) if accented else level))
    return found


def _swing(song: Song) -> float | None:
    """The part of a quarter note that its first half takes, where the halves are uneven throughout."""
    quarters: dict[int, set[float]] = defaultdict(set)
    for note in song.notes:
        quarters[note.start // TICKS_PER_QUARTER].add(note.start % TICKS_PER_QUARTER / TICKS_PER_QUARTER)
    inside = [place for places in quarters.values() for place in places if 0.08 < place < 0.92]
    halves = [place for place in inside if 0.53 < place < 0.8]
    if len(halves) < _FEW_SWUNG:
        return None
    usual = median(halves)
    near = sum(abs(place - usual) < _SWUNG_SPREAD for place in inside)
    return usual if near >= _SWUNG_SHARE * len(inside) and 0.53 < usual < 0.79 else None


def _straightened(song: Song, swing: float) -> Song:
    """A song whose swing is a property of its tempo and no longer in its ticks."""

    def straight(tick: int) -> int:
        whole, part = divmod(tick, TICKS_PER_QUARTER)
        place = part / TICKS_PER_QUARTER
        even = place / (2 * swing) if place <= swing else 0.5 + (place - swing) / (2 * (1 - swing))
        return whole * TICKS_PER_QUARTER + round(even * TICKS_PER_QUARTER)

    notes = (
        note._replace(start=straight(note.start), length=max(1, straight(note.end) - straight(note.start)))
        for note in song.notes
    )
    tempo = TempoMap(song.tempo.tempos, [(0, round(swing, 3))], song.grid.pickup)
    return replace(song, notes=_in_order(notes), tempo=tempo)


def _with_notes(song: Song, notes: list[Note], gaps: dict[int, float]) -> Song:
    """A song with other notes; its voices end with the bar of their last note."""
    notes = list(_in_order(notes))
    ends: dict[int, int] = defaultdict(int)
    for note in notes:
        ends[note.voice] = max(ends[note.voice], note.end)
    voices = []
    for index, voice in enumerate(song.voices):
        gap = round(min(1.0, gaps.get(index, DEFAULT_GAP)), 2)
        last = ends[index]
        end = song.grid.start(song.grid.number_at(max(0, last - 1)) + 1)
        gap = gap if gap > 1.5 * DEFAULT_GAP else DEFAULT_GAP
        voices.append(replace(voice, gap=gap, level=usual_level(notes, index), end=max(last, end)))
    return replace(song, voices=tuple(map(_on_pedal, voices)), notes=tuple(notes))


def usual_level(notes: Iterable[Note], voice: int) -> int:
    """The loudness that most of a voice's first notes have; of several the lowest, as others may be accents."""
    first = Counter(note.loudness for note in islice((note for note in notes if note.voice == voice), _FIRST))
    return min(first, key=lambda level: (-first[level], level), default=80)


def _in_order(notes: Iterable[Note]) -> tuple[Note, ...]:
    return tuple(sorted(notes, key=attrgetter("start", "voice", "number")))


def _on_pedal(voice: Voice) -> Voice:
    return replace(voice, pedals=tuple((down, min(up, voice.end)) for down, up in voice.pedals if down < voice.end))
