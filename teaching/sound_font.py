"""A reader of sound fonts, version 2: recorded notes of real instruments, for lessons and for the exam.

A sound font is a RIFF file: samples in sixteen bits (the chunk ``smpl``), and in the list ``pdta`` nine tables that
say which sample plays which keys of which instrument, how it is looped and how its loudness goes. All that is needed
for a single note is read: samples, loops, tuning, the envelope of loudness and a fixed low-pass filter. Modulators,
effects and low-frequency oscillators are not.

Debian's packages ``fluid-soundfont-gm`` (MIT licence) and ``timgm6mb-soundfont`` (GPL 2) hold the fonts that are
read. No sample of theirs is in this project.
"""

from __future__ import annotations

import struct
from collections.abc import Iterator, Sequence
from functools import cached_property
from itertools import pairwise
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

__all__ = ["SoundFont", "Zone"]

# generators, by their numbers in the standard
_START, _END, _LOOP_START, _LOOP_END, _START_COARSE = 0, 1, 2, 3, 4
_FILTER, _FILTER_OPENS, _END_COARSE = 8, 11, 12
_DELAY, _ATTACK, _HOLD, _DECAY, _SUSTAIN, _RELEASE = range(33, 39)
_INSTRUMENT, _KEYS, _VELOCITIES = 41, 43, 44
_LOOP_START_COARSE, _ATTENUATION, _LOOP_END_COARSE = 45, 48, 50
_COARSE_TUNE, _FINE_TUNE, _SAMPLE, _LOOPS = 51, 52, 53, 54
_SCALE, _ROOT = 56, 58
_DEFAULTS = {
    _FILTER: 13500, _DELAY: -12000, _ATTACK: -12000, _HOLD: -12000, _DECAY: -12000, _RELEASE: -12000,
    _SCALE: 100, _ROOT: -1,
}  # fmt: skip
_RANGES = _KEYS, _VELOCITIES
_ONLY_OF_INSTRUMENTS = {_START, _END, _LOOP_START, _LOOP_END, _START_COARSE, _END_COARSE, _LOOP_START_COARSE,
                        _LOOP_END_COARSE, _SAMPLE, _LOOPS, _ROOT}  # fmt: skip
_ALL_KEYS = 0, 127
_COARSE = 32768  # samples that a coarse offset counts
_LOOPED = 1, 3
_RIGHT_SIDE = 2


class _Header(NamedTuple):
    """A sample's row in the table ``shdr``."""

    start: int
    end: int
    loop_start: int
    loop_end: int
    rate: int
    root: int
    correction: int
    """Cents."""
    kind: int


class Zone(NamedTuple):
    """A sample and how it plays some keys. Times are in seconds."""

    samples: NDArray[np.float32]
    """From -1 to 1, ``rate`` a second."""
    rate: int
    loop: tuple[int, int] | None
    """Samples from the start: the first of the loop and the one after its last; None where it is not looped."""
    root: float
    """The MIDI number at which it sounds as recorded."""
    scale: float
    """Semitones from one key to the next."""
    delay: float
    attack: float
    hold: float
    decay: float
    """Down by 100 dB."""
    sustain: float
    """dB below the loudest."""
    release: float
    """Down by 100 dB."""
    attenuation: float
    """dB."""
    cutoff: float
    """Hz, once the filter has opened."""


class SoundFont:
    """The instruments of a sound font file; raises OSError, or ValueError where it is none."""

    def __init__(self, path: Path | str) -> None:
        data = Path(path).read_bytes()
        if data[:4] != b"RIFF" or data[8:12] != b"sfbk":
            raise ValueError(f"{path} is no sound font.")
        chunks = dict(_chunks(data, 12, len(data)))
        first, last = chunks["smpl"]
        self._samples = np.frombuffer(data, "<i2", (last - first) // 2, first)
        self._tables = {name: data[slice(*place)] for name, place in chunks.items() if name[0] in "pis"}

    @cached_property
    def _headers(self) -> list[_Header]:
        rows = struct.iter_unpack("<20s5IBbHH", self._tables["shdr"])
        return [_Header(*row[1:8], row[9]) for row in rows]

    @cached_property
    def _presets(self) -> dict[tuple[int, int], tuple[int, int]]:
        """(bank, program): the first of the preset's bags and the one after its last."""
        rows = list(struct.iter_unpack("<20s3H3I", self._tables["phdr"]))
        return {(row[2], row[1]): (row[3], after[3]) for row, after in pairwise(rows)}

    @cached_property
    def _instruments(self) -> list[tuple[int, int]]:
        rows = list(struct.iter_unpack("<20sH", self._tables["inst"]))
        return [(row[1], after[1]) for row, after in pairwise(rows)]

    def zones(self, program: int, key: int, velocity: int = 90) -> list[Zone]:
        """What plays a key of a program (from 0) of the first bank; of two sides the left one alone."""
        found = []
        for preset in self._heard("p", self._presets[0, program], _INSTRUMENT, key, velocity):
            bags = self._instruments[preset[_INSTRUMENT]]
            for values in self._heard("i", bags, _SAMPLE, key, velocity):
                both = _DEFAULTS | values
                for number, value in preset.items():
                    if number not in _ONLY_OF_INSTRUMENTS and number != _INSTRUMENT and number not in _RANGES:
                        both[number] = both.get(number, 0) + value
                header = self._headers[both[_SAMPLE]]
                if header.kind & 0xF != _RIGHT_SIDE:
                    found.append(self._zone(both, header))
        return found

    def _heard(
        self, level: str, bags: tuple[int, int], end: int, key: int, velocity: int
    ) -> Iterator[dict[int, int]]:
        """The generators of each bag that plays a key; a first bag without ``end`` holds what is true of all."""
        rows = list(struct.iter_unpack("<2H", self._tables[f"{level}bag"]))
        generators = self._tables[f"{level}gen"]
        every: dict[int, int] = {}
        for bag in range(*bags):
            own = dict(_generators(generators[4 * rows[bag][0] : 4 * rows[bag + 1][0]]))
            if end not in own:
                every = own if bag == bags[0] else every
                continue
            ranges = {each: _range((every | own).get(each)) for each in _RANGES}
            if ranges[_KEYS][0] <= key <= ranges[_KEYS][1]:
                low, high = ranges[_VELOCITIES]
                if low <= velocity <= high:
                    yield every | own

    def _zone(self, values: dict[int, int], header: _Header) -> Zone:
        def at(place: int, fine: int, coarse: int) -> int:
            return place + values.get(fine, 0) + _COARSE * values.get(coarse, 0)

        start = at(header.start, _START, _START_COARSE)
        end = at(header.end, _END, _END_COARSE)
        loop = at(header.loop_start, _LOOP_START, _LOOP_START_COARSE) - start
        loop_end = at(header.loop_end, _LOOP_END, _LOOP_END_COARSE) - start
        looped = values.get(_LOOPS, 0) & 3 in _LOOPED and 0 <= loop < loop_end <= end - start
        root = header.root if values[_ROOT] < 0 else values[_ROOT]
        tuned = values.get(_COARSE_TUNE, 0) + (values.get(_FINE_TUNE, 0) + header.correction) / 100
        return Zone(
            self._samples[start:end].astype(np.float32) / 32768,
            header.rate,
            (loop, loop_end) if looped else None,
            root - tuned,
            values[_SCALE] / 100,
            *(2 ** (values[each] / 1200) for each in (_DELAY, _ATTACK, _HOLD, _DECAY)),
            values.get(_SUSTAIN, 0) / 10,
            2 ** (values[_RELEASE] / 1200),
            0.4 * values.get(_ATTENUATION, 0) / 10,
            440 * 2 ** ((values[_FILTER] + max(0, values.get(_FILTER_OPENS, 0)) - 6900) / 1200),
        )


def _chunks(data: bytes, first: int, last: int) -> Iterator[tuple[str, tuple[int, int]]]:
    """The chunks of a RIFF file by their names, those of lists as well: where each one's data begins and ends."""
    while first + 8 <= last:
        name = data[first : first + 4].decode("latin-1")
        (size,) = struct.unpack_from("<I", data, first + 4)
        end = min(first + 8 + size, last)
        if name == "LIST":
            yield from _chunks(data, first + 12, end)
        else:
            yield name, (first + 8, end)
        first += 8 + size + size % 2


def _generators(data: bytes) -> Iterator[tuple[int, int]]:
    """(number, amount); amounts are signed but for ranges and what is counted."""
    for number, amount in struct.iter_unpack("<Hh", data):
        counts = number in (*_RANGES, _INSTRUMENT, _SAMPLE)
        yield number, amount & 0xFFFF if counts else amount


def _range(amount: int | None) -> Sequence[int]:
    return _ALL_KEYS if amount is None else (amount & 0xFF, amount >> 8)
