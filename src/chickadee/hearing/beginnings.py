"""Where notes begin: for every moment and semitone a small network says how likely it is.

It sees the semitones about the one in question, how periodic the sound is there, the pitch that was followed, and how
much of the spectrum is new, for a second in all (`sight`). It was taught with melodies of made-up instruments by
`teaching/teach.py`, which wrote `beginnings.npz`.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cache
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .sight import NOTES, Sight
from .tones import STEP, Tones
from .track import Track

__all__ = ["SURE", "Beginning", "Layer", "beginnings", "likely"]

SURE = 0.3
"""How sure a beginning is that needs nothing else to be a note."""

_SECTION, _CONTEXT = 6000, 200  # frames that are looked at together, and those about them
_CELLS = 4096  # that are looked at together
_LEAST = 0.1  # how likely it is, of three frames, that a note may begin
_PLAIN = 0.8  # how sure those of one player are in the mean
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


def beginnings(tones: Iterable[Tones], track: Track, tuning: float = 440.0) -> tuple[list[Beginning], bool]:
    """Where notes may begin, likely or not, and whether players together are heard.

    All is looked for in what comes through the filters, block by block, and in what was measured of the same time;
    ``tuning`` is the frequency of A4 in Hz.
    """
    found: list[tuple[float, int, float, int]] = []  # how likely, frame, exact frame, place
    together = 0
    for first, begin, end, section in _sections(tones):
        sight = Sight(section, track.part(2 * first, 2 * (first + len(section.power))), tuning)
        together += (end - begin) * (1 if sight.together else -1)
        found += _tops(sight, first, begin, end)
    begun = _apart(found)
    sure = [each.sure for each in begun if each.sure >= SURE]
    return begun, together > 0 and bool(sure) and float(np.mean(sure)) < _PLAIN


def likely(sight: Sight, network: Sequence[Layer] | None = None) -> NDArray[np.float32]:
    """How likely it is, from 0 to 1, that each note begins at each frame; shape (frames, notes)."""
    found = np.zeros((sight.frames, len(NOTES)), np.float32)
    frames, places = sight.worth_a_look()
    for first in range(0, len(frames), _CELLS):
        some = frames[first : first + _CELLS], places[first : first + _CELLS]
        found[some] = _chance(sight.of(*some), network or _taught())
    return found


def _chance(seen: NDArray[np.float32], network: Sequence[Layer]) -> NDArray[np.float32]:
    for layer in network[:-1]:
        seen = np.maximum(seen @ layer.weights + layer.more, 0)
    told = (seen @ network[-1].weights + network[-1].more)[:, 0]
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
        known = more if known is None else Tones(*(np.concatenate(pair) for pair in zip(known, more, strict=True)))
        while len(known.power) >= (end := begin + _SECTION) + _CONTEXT:
            yield first, begin, end, Tones(*(each[: end + _CONTEXT] for each in known))
            known = Tones(*(each[end - _CONTEXT :] for each in known))
            first, begin = first + end - _CONTEXT, _CONTEXT
    if known is not None and len(known.power) > begin:
        yield first, begin, len(known.power), known


def _tops(sight: Sight, first: int, begin: int, end: int) -> list[tuple[float, int, float, int]]:
    """All that may be a beginning, with the frame, counted from the recording's first."""
    chance = np.pad(likely(sight), ((_ABOUT, _ABOUT), (0, 0)))
    middle = chance[_ABOUT:-_ABOUT]
    three = middle + (chance[_ABOUT - 1 : -_ABOUT - 1] + chance[_ABOUT + 1 : len(chance) - _ABOUT + 1]) / 2
    found = []
    for frame, place in zip(*np.nonzero(three[begin:end] >= _LEAST), strict=True):
        about = chance[begin + frame : begin + frame + 2 * _ABOUT + 1, place]
        away = float(about @ np.arange(-_ABOUT, _ABOUT + 1) / about.sum())
        here = first + begin + int(frame)
        found.append((float(three[begin + frame, place]), here, here + away, int(place)))
    return found


def _apart(tops: Sequence[tuple[float, int, float, int]]) -> list[Beginning]:
    """The likeliest first, of those that are so near to one another that only one can be."""
    taken: set[int] = set()
    found = []
    for chance, frame, exact, place in sorted(tops, reverse=True):
        if frame not in taken:
            taken.update(range(frame - _APART, frame + _APART + 1))
            found.append(Beginning(max(0.0, exact * STEP), NOTES[place], round(min(1.0, chance / 2), 3)))
    return sorted(found)
