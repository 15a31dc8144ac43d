"""The rhythm of played notes: on which part of which beat each was meant, though nobody plays exactly.

A hidden Markov model in the manner of Raphael, Automated rhythm transcription (2001): its states are a place in the
bar and a tempo. From one onset to the next the place moves on, past places at which a note might have begun and did
not, each with the probability that it has in its meter; the time that passes is the way at the tempo, give or take
what a player is off; and the tempo may change a little. The likeliest path (Viterbi) tells all at once: tempo and how
it drifts, meter, where the bar lines are, and what was meant by each onset. Meters are compared by their likelihood.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

__all__ = ["PARTS", "Rhythm", "rhythms"]

PARTS = 12
"""Parts of a beat that places are counted in: halves, thirds, quarters."""

Places = NDArray[np.int64]
Scores = NDArray[np.float64]

_SLOWEST = 38.0
_FASTEST = 250.0
"""Beats a minute; in compound meters a beat is three of the lower number."""
_STEP = 0.025  # from one tempo to the next, as a part of it
_DRIFT_COST = 2.2  # of going to the next tempo, between two onsets
_FAR = 0.12  # by how much a tempo that is known may drift
_LIKELY = 104.0
_LIKELY_COMPOUND = 72.0
_OCTAVES = 0.62  # about the likely tempo, one standard deviation
_TEMPO_WEIGHT = 6.0  # how much that counts
_BARS = 2  # that are looked through for the next onset
_SPREADS = 0.012, 0.034
"""Seconds that the time between two onsets is off, one standard deviation: machines and people."""
_OUTLIER = 16.0  # the most that one onset costs
_LATE = 0.15  # seconds, by which an onset may be later than it was meant, at most
_BEAM = 20.0  # by how much less likely than the likeliest a path may be that is gone on with
_NEAR_LINE = 0.15  # seconds, within which an onset may be the one at a known bar line
_LINE_SPREAD = 0.06  # seconds, by which a bar line that was set by hand is off, one standard deviation
_MOST_LINES = 3  # onsets that are tried there
_ENOUGH = 400  # onsets that say which meter it is
_NEVER = -1e9
# places at which notes often begin, and how likely they do where bars are known
_USUAL = 0.2
_EVENLY = 0.45
_PICKUP = 0.25  # how likely a tune begins before its first bar line
_PICKUP_BEATS = 1.0  # by so many more it is less likely by e
_LAST = 1.5  # how much likelier a tune ends with a note on a bar line
_ACCENT = 20.0  # MIDI velocity above the usual, that is a whole accent
_ACCENTED = 0.6  # how much more likely an accent is at a bar line
_OTHER_TEMPO = 0.15  # by how much two proposals differ, at least
_PROPOSALS = 3  # of each meter


class _Style(NamedTuple):
    """A meter and how its beats are parted."""

    upper: int
    lower: int
    places: tuple[int, ...]
    """Where in a bar a note may begin, in parts of a beat."""
    chances: tuple[float, ...]
    """How likely one does."""
    beats: int
    """In a bar; one is three of the lower number in a compound meter."""
    cost: float
    """Of being less usual."""

    @property
    def compound(self) -> bool:
        """True if a beat is three of the lower number."""
        return self.beats != self.upper


def _style(upper: int, lower: int, beats: Sequence[float], inside: dict[int, float], cost: float) -> _Style:
    places = []
    chances = []
    for number, chance in enumerate(beats):
        for part, part_chance in ({0: chance} | inside).items():
            places.append(number * PARTS + part)
            chances.append(part_chance)
    return _Style(upper, lower, tuple(places), tuple(chances), len(beats), cost)


_STRAIGHT = {3: 0.06, 4: 0.006, 6: 0.3, 8: 0.006, 9: 0.08}
_TRIPLETS = {3: 0.01, 4: 0.22, 6: 0.16, 8: 0.26, 9: 0.012}
_THREE = {2: 0.03, 4: 0.42, 6: 0.05, 8: 0.52, 10: 0.06}
"""How likely notes begin on the parts inside a beat, by twelfths of it: in halves, in thirds, in a compound meter."""
_STYLES = (
    _style(4, 4, (0.88, 0.5, 0.65, 0.5), _STRAIGHT, 0.0),
    _style(3, 4, (0.88, 0.5, 0.5), _STRAIGHT, 0.5),
    _style(4, 4, (0.9, 0.6, 0.7, 0.6), _TRIPLETS, 3.0),
    _style(3, 4, (0.9, 0.6, 0.6), _TRIPLETS, 3.5),
    _style(6, 8, (0.95, 0.86), _THREE, 1.0),
)


def _styles_of(upper: int, lower: int) -> list[_Style]:
    """The styles of a meter that is known."""
    if lower >= 8 and upper % 3 == 0 and upper > 3:
        return [_style(upper, lower, (0.95, *[0.86] * (upper // 3 - 1)), _THREE, 0.0)]
    return [
        _style(upper, lower, (0.88, *[0.5] * (upper - 1)), _STRAIGHT, 0.0),
        _style(upper, lower, (0.9, *[0.6] * (upper - 1)), _TRIPLETS, 3.0),
    ]


def _evenly(style: _Style) -> _Style:
    """The style with all usual places alike, for when it is known where bars begin: nothing is moved to the beat."""
    chances = np.array(style.chances)
    return style._replace(chances=tuple(np.where(chances >= _USUAL, _EVENLY, chances).tolist()))


@dataclass(frozen=True, slots=True)
class Rhythm:
    """The meter, the tempo and the beats that were meant by some onsets."""

    upper: int
    lower: int
    """The meter's two numbers."""
    tempo: float
    """Beats of the meter's lower number a minute, over the whole."""
    beats: NDArray[np.float64]
    """At which beat of the meter's lower number each onset was meant, from the first bar line on."""


def rhythms(
    starts: Sequence[float],
    loudness: Sequence[float] = (),
    tempo: float | None = None,
    meter: tuple[int, int] | None = None,
    first: float | None = None,
) -> list[Rhythm]:
    """The rhythms that onsets (in seconds, ascending) may have, the likeliest first; none for fewer than two.

    A known tempo (in beats of the meter's lower number a minute), meter or first bar line (in seconds) is kept to.
    """
    known = np.array(starts, np.float64)
    if len(known) < 2:
        return []
    styles: Sequence[_Style] = _STYLES if meter is None else _styles_of(*meter)
    if tempo is not None and first is not None:
        styles = [_evenly(each) for each in styles]
    accents = _accents(loudness, len(known))
    few = slice(0, _ENOUGH)
    found = []
    for style in styles:
        for spread in _SPREADS:
            model = _Model(style, spread, tempo)
            found += model.paths(known[few], accents[few], first)
    long = len(known) > _ENOUGH
    return [_on_all(each, known, accents, first) if long else each.rhythm for each in _different(found)]


def _accents(loudness: Sequence[float], count: int) -> Scores:
    """How much louder than usual each onset is, from -1 to 1."""
    if len(loudness) != count:
        return np.zeros(count)
    levels = np.array(loudness, np.float64)
    return np.clip((levels - np.median(levels)) / _ACCENT, -1, 1)


class _Path(NamedTuple):
    """A path through the states, and what it says."""

    score: float
    style: _Style
    spread: float
    rhythm: Rhythm

    def later(self, beats: int) -> _Path:
        """The same path, so many beats later."""
        return self._replace(rhythm=replace(self.rhythm, beats=self.rhythm.beats + beats))


class _Line(NamedTuple):
    """A first bar line that is known."""

    place: int | None = None
    """The onset that stands on it; None where it is not known."""
    is_added: bool = False
    """True if that is no onset of a note."""
    cost: float = 0.0
    """Of being away from where it was said to be."""


def _different(paths: Sequence[_Path]) -> list[_Path]:
    """The paths of different tempos, the likeliest first."""
    found: list[_Path] = []
    for each in sorted(paths, key=lambda path: -path.score):
        quarters = _quarters(each.rhythm)
        if all(abs(np.log(quarters / _quarters(other.rhythm))) > _OTHER_TEMPO for other in found):
            found.append(each)
    return found


def _quarters(rhythm: Rhythm) -> float:
    """Quarter notes a minute."""
    return rhythm.tempo * 4 / rhythm.lower


def _on_all(path: _Path, starts: Scores, accents: Scores, first: float | None) -> Rhythm:
    """The rhythm of all onsets, by a path that was found for the first ones."""
    model = _Model(path.style, path.spread, path.rhythm.tempo)
    return max(model.paths(starts, accents, first), key=lambda found: found.score).rhythm


@cache
def _ways(style: _Style) -> tuple[Places, Scores]:
    """From each place to those of the next bars: how far it is, and the logarithm of how likely a note begins there
    and none before; both of shape (places, places of some bars)."""
    bar = style.beats * PARTS
    count = len(style.places)
    ahead = np.arange(1, _BARS * count + 1)[None, :] + np.arange(count)[:, None]
    places = np.array(style.places)
    chances = np.array(style.chances)
    far = places[ahead % count] + bar * (ahead // count) - places[:, None]
    silent = np.cumsum(np.log(1 - chances[ahead % count]), axis=1)
    passed = np.concatenate((np.zeros((count, 1)), silent[:, :-1]), axis=1)
    return far, passed + np.log(chances[ahead % count])


class _Model:
    """The hidden Markov model of a style; a state is a place in the bar and a tempo, as one number."""

    def __init__(self, style: _Style, spread: float, tempo: float | None) -> None:
        self._style = style
        self._spread = spread
        self._bar_seconds = None if tempo is None else style.upper * 60 / tempo
        lowest = _SLOWEST
        highest = _FASTEST
        likely = _LIKELY_COMPOUND if style.compound else _LIKELY
        if tempo is not None:
            likely = tempo / (style.upper / style.beats)
            lowest = likely * (1 - _FAR)
            highest = likely * (1 + _FAR)
        steps = np.arange(np.floor(np.log(lowest / likely) / _STEP), np.ceil(np.log(highest / likely) / _STEP) + 1)
        tempos = likely * np.exp(steps * _STEP)
        self._periods = 60 / tempos / PARTS
        """Seconds that a part of a beat lasts."""
        weight = _TEMPO_WEIGHT if tempo is None else 100 * _TEMPO_WEIGHT
        self._liked = -0.5 * weight * (np.log2(tempos / likely) / _OCTAVES) ** 2 - style.cost
        self._far, self._likely = _ways(style)
        self._nearest = self._far.min(axis=0)
        self._count = len(style.places)
        self._bar = style.beats * PARTS

    def paths(self, starts: Scores, accents: Scores, first: float | None) -> list[_Path]:
        """The likeliest paths of a few tempos, one at least. A first bar line that is known is one of the onsets next
        to it, or one more where there is none; where no path leads over it, it is left out."""
        unknown = _Line()
        if first is None:
            return self._paths(starts, accents, unknown)
        bars = 0  # that are over before the first onset, where the tempo tells
        if self._bar_seconds is not None:
            bars = max(0, int((starts[0] - first) // self._bar_seconds))
            first += bars * self._bar_seconds
        found = self._over_line(starts, accents, first) or self._paths(starts, accents, unknown)
        return [path.later(bars * self._style.upper) for path in found]

    def _over_line(self, starts: Scores, accents: Scores, first: float) -> list[_Path]:
        away = abs(starts - first)
        near = [int(place) for place in np.argsort(away)[:_MOST_LINES] if away[place] <= _NEAR_LINE]
        if near:
            lines = [_Line(place, False, 0.5 * float(away[place] / _LINE_SPREAD) ** 2) for place in near]
            return [path for line in lines for path in self._paths(starts, accents, line)]
        place = int(np.searchsorted(starts, first))
        starts = np.insert(starts, place, first)
        return self._paths(starts, np.insert(accents, place, 0.0), _Line(place, True))

    def _paths(self, starts: Scores, accents: Scores, line: _Line) -> list[_Path]:
        scores = self._begun(line.place == 0)
        scores += self._accented(accents[0])[:, None]
        steps = []
        for place in range(1, len(starts)):
            scores, *step = self._step(scores, starts[place] - starts[place - 1], accents[place], place == line.place)
            steps.append(step)
        found = []
        scores = scores + _LAST / _ACCENTED * self._accented(1.0)[:, None]
        left = scores.max(axis=0)
        for _ in range(_PROPOSALS):
            level = int(left.argmax())
            if left[level] <= _NEVER / 2:
                break
            near = abs(np.log(self._periods / self._periods[level])) < _OTHER_TEMPO
            found.append(self._followed(scores, level, steps, starts, line))
            left = np.where(near, _NEVER, left)
        return found

    def _begun(self, at_line: bool) -> Scores:
        """The scores of the states that a tune may begin in, shape (places, tempos)."""
        chances = np.array(self._style.chances)
        early = self._style.beats - np.array(self._style.places) / PARTS
        begins = chances * np.exp(-early / _PICKUP_BEATS)
        begins *= _PICKUP / max(1e-9, begins[1:].sum())
        begins[0] = 1 - _PICKUP
        begins = np.log(begins)
        if at_line:
            begins = np.where(np.arange(self._count) == 0, 0.0, _NEVER)
        return begins[:, None] + self._liked[None, :]

    def _accented(self, accent: float) -> Scores:
        """How much likelier an accent makes each place."""
        strong = np.where(np.array(self._style.places) % PARTS == 0, 0.3, -0.4)
        strong[0] = 1.0
        return _ACCENTED * accent * strong

    def _step(self, scores: Scores, seconds: float, accent: float, at_line: bool) -> tuple[Scores, Places, Places]:
        """Go on to the next onset: (scores, the state before each, how far it is from there)."""
        moved, before = _drifted(scores)
        alive = np.flatnonzero(moved.ravel() > moved.max() - _BEAM)
        place, level = np.divmod(alive, len(self._periods))
        period = self._periods[level]
        bars = np.maximum(0, np.ceil(seconds / (self._bar * period) - _BARS)).astype(np.int64)
        left = seconds - bars * self._bar * period
        count = 1 + int(np.searchsorted(self._nearest, (left.max() + _LATE) / period.min()))
        near = self._far[place, :count]
        off = left[:, None] - near * period[:, None]
        fits = np.minimum(0.5 * (off / self._spread) ** 2, _OUTLIER) + np.log(self._spread)
        told = moved.ravel()[alive][:, None] + self._likely[place, :count] - fits
        told += bars[:, None] * self._likely[place, -1:]
        to = (place[:, None] + np.arange(1, near.shape[1] + 1)[None, :]) % self._count
        told += self._accented(accent)[to]
        if at_line:
            told = np.where(to == 0, told, _NEVER)
        kept = told > told.max() - _BEAM
        row = np.nonzero(kept)[0]
        state = (to * len(self._periods) + level[:, None])[kept]
        far = (near + (bars * self._bar)[:, None])[kept]
        best = told[kept]
        order = np.argsort(best, kind="stable")  # of those that come to one state, the likeliest is written last
        new = np.full(scores.size, _NEVER)
        new[state[order]] = best[order]
        origin = np.zeros(scores.size, np.int64)
        origin[state[order]] = before.ravel()[alive][row][order]
        way = np.zeros(scores.size, np.int64)
        way[state[order]] = far[order]
        return new.reshape(scores.shape), origin, way

    def _followed(
        self, scores: Scores, level: int, steps: Sequence[Sequence[Places]], starts: Scores, line: _Line
    ) -> _Path:
        """The path that ends with a tempo."""
        state = int(scores[:, level].argmax()) * len(self._periods) + level
        score = float(scores.ravel()[state]) - line.cost
        ways = []
        for origin, way in reversed(steps):
            ways.append(int(way[state]))
            state = int(origin[state])
        begun = self._style.places[state // len(self._periods)]
        parts = np.cumsum([begun - self._bar if begun else 0, *reversed(ways)])
        if line.place is not None:
            parts = parts - parts[line.place]
        beats = parts / PARTS * (self._style.upper / self._style.beats)
        tempo = _tempo(starts, beats)
        if line.place is not None and line.is_added:
            beats = np.delete(beats, line.place)
        rhythm = Rhythm(self._style.upper, self._style.lower, tempo, beats)
        return _Path(score, self._style, self._spread, rhythm)


def _drifted(scores: Scores) -> tuple[Scores, Places]:
    """(scores once the tempo may have changed, the state before)."""
    there = np.arange(scores.size).reshape(scores.shape)
    best = scores
    before = there
    for by in (-1, 1):
        moved = np.full(scores.shape, _NEVER)
        source = slice(None, -1) if by > 0 else slice(1, None)
        target = slice(1, None) if by > 0 else slice(None, -1)
        moved[:, target] = scores[:, source] - _DRIFT_COST
        from_there = there.copy()
        from_there[:, target] = there[:, source]
        better = moved > best
        best = np.where(better, moved, best)
        before = np.where(better, from_there, before)
    return best, before


def _tempo(starts: Scores, beats: Scores) -> float:
    """Beats a minute, by a straight line through all onsets."""
    slope = float(np.polyfit(beats, starts, 1)[0])
    return 60 / slope if slope > 0 else _LIKELY
