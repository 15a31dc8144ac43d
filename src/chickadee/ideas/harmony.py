"""The chords that fit a melody, two or three for each bar."""

from __future__ import annotations

from collections.abc import Sequence
from operator import itemgetter

from ..chance import Chance
from ..song import Song
from ..theory import Key
from .chords import AFTER, chord_symbol, chord_tones, with_triads

__all__ = ["fitting_chords", "progression"]

_CHOICES = 3
_ON_BEAT = 2  # how much more a note counts that begins with the bar
_LIKED = {1: 0.5, 5: 0.4, 4: 0.3, 6: 0.2, 2: 0.1}  # beats by which a step is liked where chords fit as well
# beats that a usual succession is worth by its weight, and the same chord again
_FOLLOWS = 0.3
_STAYS = -0.8
_HOME = 2.0  # beats that ending at home is worth
_DIMINISHED = -2.0  # beats by which a diminished triad is disliked
_VARIED = 3.0  # beats by which chance can like one chord more than another


def fitting_chords(song: Song, voice: int) -> list[dict[int, float]]:
    """For each bar from the song's first to a voice's last, the steps of the key whose triads fit best, the best
    first, with the beats that are in the triad less those that are not."""
    key = with_triads(song.key)
    bars: dict[int, dict[int, float]] = {}
    for index in song.melody(voice):
        note = song.notes[index]
        bar = song.grid.number_at(note.start)
        beats = note.length / song.grid.meter_at(note.start).beat_ticks
        weights = bars.setdefault(bar, {})
        on_beat = _ON_BEAT if note.start == song.grid.start(bar) else 1
        weights[note.number % 12] = weights.get(note.number % 12, 0.0) + beats * on_beat
    steps = [step for step in range(1, len(key.names) + 1) if chord_symbol(key, step)]
    last = max(bars, default=0)
    found = []
    for number in range(song.first_bar, last + 1):
        fits = {step: _fit(key, bars.get(number, {}), step) for step in steps}
        if number == last:
            fits[1] = fits.get(1, 0.0) + _HOME
        best = sorted(fits, key=lambda step: -fits[step])[:_CHOICES]
        found.append({step: fits[step] for step in best})
    return found


def _fit(key: Key, weights: dict[int, float], step: int) -> float:
    tones = chord_tones(key, step)
    diminished = (chord_symbol(key, step) or "").endswith("dim")
    return (
        _DIMINISHED * diminished
        + sum(beats if tone in tones else -beats for tone, beats in weights.items())
        + _LIKED.get(step, 0.0)
    )


def progression(choices: Sequence[dict[int, float]], seed: int) -> list[int]:
    """A chord for each bar, of those that fit and follow one another well: the best for seed 0, others by chance."""
    chance = Chance(seed)
    best: dict[int, tuple[float, list[int]]] = {}
    for fits in choices:
        liked = {step: fit + (_VARIED * chance.below(100) / 100 if seed else 0.0) for step, fit in fits.items()}
        best = {step: _after(best, step, fit) for step, fit in liked.items()}
    return max(best.values(), key=itemgetter(0))[1] if best else []


def _after(best: dict[int, tuple[float, list[int]]], step: int, fit: float) -> tuple[float, list[int]]:
    """The best way to a chord, by what it is worth."""
    ways = [
        (worth + fit + (_STAYS if before == step else _FOLLOWS * dict(AFTER[before]).get(step, 0)), [*path, step])
        for before, (worth, path) in best.items()
    ]
    return max(ways, key=itemgetter(0), default=(fit, [step]))
