"""Tempo that changes in many small steps, as the even change that was meant."""

from __future__ import annotations

from itertools import pairwise

from ..song import TICKS_PER_QUARTER, Song, Tempo, TempoMap
from ..song.tempo import playable

__all__ = ["ramped"]

_FEWEST = 3  # steps that make a change
_LONGEST_STEP = 4 * TICKS_PER_QUARTER
_NEAR = 0.05  # of the change, by which steps may be off a straight line
_SECONDS = 0.05  # by which the time of the whole change may differ


def ramped(song: Song) -> TempoMap:
    """The tempo map of a song with runs of small steps as ramps, where those take as long."""
    tempos = song.tempo.tempos
    found = list[Tempo]()
    place = 0
    while place < len(tempos):
        last = _run_end(tempos, place)
        ramp = _ramp(song, tempos[place : last + 1], found[-1] if found else None) if last > place else None
        if ramp is None:
            found.append(tempos[place])
            place += 1
        else:
            found += ramp
            place = last + 1
    return TempoMap(found, song.tempo.swings, song.tempo.origin)


def _run_end(tempos: tuple[Tempo, ...], place: int) -> int:
    """The last of the steps from a place on that go on the same way, each soon after the other."""
    last = place
    way = 0.0
    for one, other in pairwise(tempos[place:]):
        change = other.quarters_per_minute - one.quarters_per_minute
        if one.ramp or other.ramp or change * way < 0 or (last > place and other.tick - one.tick > _LONGEST_STEP):
            break
        way = change
        last += 1
    return last if last - place + 1 >= _FEWEST else place


def _ramp(song: Song, steps: tuple[Tempo, ...], before: Tempo | None) -> list[Tempo] | None:
    """The ramp that some steps make: each step is as quick as the middle of its stretch.

    The last step may be the tempo that is reached, or the last part of the way.
    """
    head = [] if before is not None else [steps[0]]
    first = before.quarters_per_minute if before is not None and not before.ramp else steps[0].quarters_per_minute
    if before is not None and before.ramp:
        first = before.target
    inside = steps[len(head) :]
    start = inside[0].tick
    last = inside[-1].tick
    ends = [(last, inside[:-1])] if len(inside) > _FEWEST - 1 else []
    if 0 < song.end - last <= _LONGEST_STEP:
        ends.append((song.end, inside))
    best: tuple[float, list[Tempo]] | None = None
    for end, parts in ends:
        marks = [step.tick for step in parts] + [end]
        middles = [(one + other) / 2 for one, other in pairwise(marks)]
        slope = (parts[-1].quarters_per_minute - first) / (middles[-1] - start)
        target = _round(first + slope * (end - start))
        off = max(
            abs(first + slope * (middle - start) - step.quarters_per_minute)
            for middle, step in zip(middles, parts, strict=True)
        )
        new = [*head, Tempo(start, first, end - start, target)]
        near = target == playable(target) and off <= _NEAR * abs(target - first) + 0.5
        if near and (best is None or off < best[0]) and _lasts_as_long(song, new, start, end):
            best = off, new
    return best[1] if best else None


def _lasts_as_long(song: Song, new: list[Tempo], start: int, end: int) -> bool:
    """Return whether a stretch of a song takes as long with another tempo."""
    opening = [] if new[0].tick == 0 else [Tempo(0, new[-1].quarters_per_minute)]
    taken = TempoMap([*opening, *new]).seconds([start, end])
    asked = song.tempo.seconds([start, end])
    return abs(float(taken[1] - taken[0]) - float(asked[1] - asked[0])) <= _SECONDS


def _round(tempo: float) -> float:
    """A tempo in as few digits as it was surely meant."""
    return round(tempo) if abs(tempo - round(tempo)) < 0.3 else round(tempo, 1)
