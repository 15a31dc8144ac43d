"""A recording from its file to its notes, block by block."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from operator import attrgetter
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..sound.audio_file import Cancelled
from .lines import lines_of
from .notes import HeardNote, notes_of
from .onsets import onsets
from .semitones import semitone_spectra
from .sound_file import Recording, Signal, open_recording, read_blocks
from .track import periodicity, track_of

__all__ = ["Heard", "doubts", "heard_in", "listen"]

_NOISE = 0.2  # how periodic the clearest part of a recording is that has no notes
_SILENT = 1e-9  # mean square, 90 dB below full scale


@dataclass(frozen=True, slots=True)
class Heard:
    """The notes heard in a recording."""

    seconds: float
    """How long the recording lasts."""
    notes: tuple[HeardNote, ...]
    hertz: NDArray[np.float32]
    """The pitch every 5 ms, 0 where there is none."""
    power: NDArray[np.float32]
    """The mean square of every 5 ms."""
    crowded: bool = False
    """True if more than two notes sound at once time and again: what is heard is a part of it."""


def doubts(heard: Heard) -> str:
    """Say what is wrong with what was heard: why there are no notes, or that there is more than can be heard.

    Empty where nothing is wrong.
    """
    if heard.notes:
        return "More than two notes sound at once in it; only the two clearest are told." if heard.crowded else ""
    if heard.power.max(initial=0.0) < _SILENT:
        return "It is silent."
    if not (heard.hertz > 0).any():
        return "Nothing in it has a clear pitch; it holds noise or speech, or the notes are too soft against them."
    return "No note begins in it that is clear enough."


def listen(path: Path | str, tuning: float = 440.0, progress: Callable[[float], bool] = lambda done: True) -> Heard:
    """The notes of a sound file of one voice or two; ``tuning`` is the frequency of A4 in Hz.

    ``progress`` is told the part done, 0 to 1, and stops the work by answering False, which raises Cancelled. Raises
    FileFault.
    """
    recording = open_recording(path)
    heard = heard_in(
        lambda part: _watched(recording, lambda done: progress(part + done / 2)), recording.sample_rate, tuning
    )
    if not progress(1.0):
        raise Cancelled
    return heard


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

    ``blocks`` is called up to twice, with the part of the work that is done by then: the pitch is followed first, and
    then notes are looked for.
    """
    track, samples = track_of(blocks(0.0), rate)
    if periodicity(track) < _NOISE:
        return Heard(samples / rate, (), track.path, track.power)
    found = lines_of(onsets(semitone_spectra(blocks(0.5), rate, tuning), track, tuning))
    notes = [note for place, line in enumerate(found.lines) for note in notes_of(line, track, tuning, place)]
    notes.sort(key=attrgetter("start", "line"))
    return Heard(samples / rate, tuple(notes), track.path, track.power, found.crowded)
