"""Where notes begin: for every moment and semitone a small network says how likely it is.

It sees the semitones about the one in question and their phases, how periodic the sound is there, the pitch that was
followed, and how much of the spectrum is new, for a second in all (`sight`). It was taught with melodies of made-up
instruments and of our own sounds by `teaching/teach.py`, which wrote `beginnings.npz`.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cache
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .sight import NOTES, Sight
from .tones import STEP, Tones, joined
from .track import Track

__all__ = ["Beginning", "Layer", "beginnings", "likely"]

_SURE = 0.4  # from which on a note begins
_SECTION, _CONTEXT = 3000, 200  # frames that are looked at together, and those about them
_CELLS = 4096  # that are looked at together
_APART = 5  # frames about a note in which no other begins
_ABOUT = 3  # frames on either side that say when it begins


class Beginning(NamedTuple):
    """A note that begins."""

    start: float
    """Seconds."""
    number: int
    """The nearest MIDI number."""
    sure: float
    """From 0 to 1."""


class Layer(NamedTuple):
    """A layer of the network: each output is the sum of all inputs, weighed, and something more."""

    weights: NDArray[np.float32]
    """Shape (inputs, outputs)."""
    more: NDArray[np.float32]
    """Shape (outputs,)."""


def beginnings(tones: Iterable[Tones], track: Track, tuning: float = 440.0) -> list[Beginning]:
    """Where notes begin, in order.

    They are looked for in what comes through the filters, block by block, and in what was measured of the same time;
    ``tuning`` is the frequency of A4 in Hz.
    """
    found: list[tuple[float, int, float, int]] = []  # how sure, frame, exact frame, place
    for first, begin, end, section in _sections(tones):
        sight = Sight(section, track.part(2 * first, 2 * (first + len(section.power))), tuning)
        found += _tops(sight, first, begin, end)
    return _apart(found)


def likely(
    sight: Sight, network: Sequence[Layer] | None = None, begin: int = 0, end: int | None = None
) -> NDArray[np.float32]:
    """How likely it is, from 0 to 1, that each note begins at each frame; shape (frames, notes). It is looked at from
    one frame up to another, and is 0 elsewhere."""
    found = np.zeros((sight.frames, len(NOTES)), np.float32)
    frames, places = sight.worth_a_look()
    inside = slice(*np.searchsorted(frames, (begin, sight.frames if end is None else end)))
    frames, places = frames[inside], places[inside]
    for first in range(0, len(frames), _CELLS):
        some = frames[first : first + _CELLS], places[first : first + _CELLS]
        found[some] = _chance(sight.of(*some), network or _taught())
    return found


def _chance(seen: NDArray[np.float32], network: Sequence[Layer]) -> NDArray[np.float32]:
    for layer in network[:-1]:
        seen = np.maximum(layer.weights.T @ seen + layer.more[:, None], 0)
    told = (network[-1].weights.T @ seen + network[-1].more[:, None])[0]
    found: NDArray[np.float32] = 1 / (1 + np.exp(-np.clip(told, -30, 30)))
    return found


@cache
def _taught() -> tuple[Layer, ...]:
    """The network as it was taught."""
    with np.load(Path(__file__).with_name("beginnings.npz"), allow_pickle=False) as kept:
        arrays = [kept[f"arr_{place}"].astype(np.float32) for place in range(len(kept.files))]
    return tuple(Layer(*pair) for pair in zip(arrays[::2], arrays[1::2], strict=True))


def _sections(tones: Iterable[Tones]) -> Iterator[tuple[int, int, int, Tones]]:
    """Sections that overlap: the number of the first frame, the frames in it in which notes are looked for, and what
    they have."""
    first = begin = 0
    known: Tones | None = None
    for more in tones:
        known = more if known is None else joined((known, more))
        while len(known.power) >= (end := begin + _SECTION) + _CONTEXT:
            yield first, begin, end, known.part(0, end + _CONTEXT)
            known = known.part(end - _CONTEXT)
            first, begin = first + end - _CONTEXT, _CONTEXT
    if known is not None and len(known.power) > begin:
        yield first, begin, len(known.power), known


def _tops(sight: Sight, first: int, begin: int, end: int) -> list[tuple[float, int, float, int]]:
    """All frames in which a note may begin, counted from the recording's first."""
    chance = np.pad(likely(sight, None, begin - _ABOUT, end + _ABOUT), ((_ABOUT, _ABOUT), (0, 0)))
    middle = chance[_ABOUT:-_ABOUT]
    sure = middle / 2 + (chance[_ABOUT - 1 : -_ABOUT - 1] + chance[_ABOUT + 1 : len(chance) - _ABOUT + 1]) / 4
    found = []
    for frame, place in zip(*np.nonzero(sure[begin:end] >= _SURE), strict=True):
        about = chance[begin + frame : begin + frame + 2 * _ABOUT + 1, place]
        away = float(about @ np.arange(-_ABOUT, _ABOUT + 1) / about.sum())
        here = first + begin + int(frame)
        found.append((float(sure[begin + frame, place]), here, here + away, int(place)))
    return found


def _apart(tops: Sequence[tuple[float, int, float, int]]) -> list[Beginning]:
    """Of those that are so near to one another that only one can be, the one that is surest."""
    taken: set[int] = set()
    found = []
    for sure, frame, exact, place in sorted(tops, reverse=True):
        if frame not in taken:
            taken.update(range(frame - _APART, frame + _APART + 1))
            found.append(Beginning(round(max(0.0, exact * STEP), 4), NOTES[place], round(sure, 3)))
    return sorted(found)
