"""A recording from its file to its notes, block by block."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..sound.audio_file import Cancelled
from .agreeing import agreed
from .fresh import fresh_at, together
from .growing import ONE, TOGETHER, grown_notes
from .notes import HeardNote, notes_of
from .onsets import Growth, GrowthFrames, growth_of, onsets_of
from .pitch import HOP, Candidates, PitchFrames, pitch_path
from .sound_file import Recording, Signal, open_recording, read_blocks
from .spans import Track, clearness, moments_of, spans_in

__all__ = ["Heard", "heard_in", "listen"]

_NOISE = 0.15  # how periodic is what has no notes


@dataclass(frozen=True, slots=True)
class Heard:
    """What was heard."""

    seconds: float
    """How long the recording lasts."""
    notes: tuple[HeardNote, ...]
    hertz: NDArray[np.float32]
    """The pitch every 5 ms, 0 where there is none."""
    power: NDArray[np.float32]
    """The mean square of every 5 ms."""


def listen(path: Path | str, tuning: float = 440.0, progress: Callable[[float], bool] = lambda done: True) -> Heard:
    """The notes of a sound file of one voice; ``tuning`` is the frequency of A4 in Hz.

    ``progress`` is told the part done, 0 to 1, and stops the work by answering False, which raises Cancelled. Raises
    FileFault.
    """
    recording = open_recording(path)
    return heard_in(
        lambda part: _watched(recording, lambda done: progress(part + done / 3)), recording.sample_rate, tuning
    )


def _watched(recording: Recording, progress: Callable[[float], bool]) -> Iterable[Signal]:
    read = 0
    whole = max(1.0, recording.frames / recording.part)
    for block in read_blocks(recording):
        yield block
        read += len(block)
        if not progress(min(1.0, read / whole)):
            raise Cancelled


def heard_in(blocks: Callable[[float], Iterable[Signal]], rate: float, tuning: float = 440.0) -> Heard:
    """The notes of samples of one channel, so many a second, that come in blocks.

    ``blocks`` is called three times, with the part of the work that is done by then: first all is measured, then it
    is looked at again where notes seem to begin, and then for what grows.
    """
    pitch, growth = PitchFrames(rate), GrowthFrames(rate)
    candidates: list[Candidates] = []
    grown: list[Growth] = []
    samples = 0
    for block in blocks(0.0):
        samples += len(block)
        candidates.append(pitch.of(block))
        grown.append(growth.of(block))
    nothing = np.zeros(0, np.float32)
    candidates.append(pitch.of(nothing, last=True))
    grown.append(growth.of(nothing, last=True))
    frames = min(sum(len(each.power) for each in candidates), sum(len(each.grown) for each in grown))
    frames = min(frames, int(samples / rate / HOP) + 1)
    whole = Candidates(*(np.concatenate([getattr(each, name) for each in candidates])[:frames]
                         for name in ("hertz", "strength", "power")))  # fmt: skip
    growing = Growth(*(np.concatenate([getattr(each, name) for each in grown])[:frames]
                       for name in ("grown", "size", "power")))  # fmt: skip
    hertz, strength = pitch_path(whole)
    part = growth_of(growing)
    track = Track(hertz, strength, growing.power, part, onsets_of(part))
    notes = _notes(track, blocks, rate, tuning)
    return Heard(samples / rate, tuple(notes), hertz.astype(np.float32), growing.power)


def _notes(
    track: Track, blocks: Callable[[float], Iterable[Signal]], rate: float, tuning: float
) -> list[HeardNote]:  # fmt: skip
    """The notes of what was measured; all is read again to see what is new where notes seem to begin, and what
    grows."""
    clear = clearness(track)
    if clear < _NOISE:
        return []
    spans = spans_in(track, tuning)
    moments = moments_of(spans, track, tuning)
    fresh = fresh_at(blocks(1 / 3), rate, moments)
    if together(moments, fresh, clear):
        return grown_notes(blocks(2 / 3), rate, TOGETHER, tuning)
    return agreed(notes_of(track, spans, fresh, tuning), grown_notes(blocks(2 / 3), rate, ONE, tuning))
