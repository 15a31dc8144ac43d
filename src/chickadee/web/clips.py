"""The sound of a page: each different note once, in one file, and where each of them is to be heard.

What is alike is rendered once, so a page stays small, and a script can put any of the voices together again to the
sample. Where the notes of a voice differ so much that all of them together would be longer than the voice itself, it
is one clip.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO

import numpy as np
import soundfile
from numpy.typing import NDArray

from ..song import Song
from ..sound.mix import Mix, Tone, tone_of
from ..sound.score import Score
from ..sound.stock import Stock

__all__ = ["Clips", "clips_of"]

_RATE = 24_000
_LOW_RATE = 16_000
_LONG = 150.0  # seconds of clips, from which on the lower rate is taken
_SMALL = 0.9  # compression, from 0 to 1
_APART = 0.03  # seconds of silence between clips
_SILENT = 10 ** (-66 / 20)  # what is softer than this at a clip's end is left out
_BLOCK = 8192

Clip = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class Clips:
    """A sound file of clips, and the places of each voice's."""

    rate: int
    """Samples a second."""
    data: bytes
    """An OGG Vorbis file of one channel."""
    clips: tuple[tuple[int, int], ...]
    """The first sample of each in the file, and how many there are."""
    voices: tuple[tuple[tuple[int, int], ...], ...]
    """For each voice (clip, sample at which it is heard)."""
    frames: int
    """Samples until all has faded."""


def clips_of(song: Song) -> Clips:
    """Render the notes of a song."""
    made = _made(song, _RATE)
    if sum(len(clip) for clip in made[0]) > _LONG * _RATE:
        return _joined(*_made(song, _LOW_RATE), _LOW_RATE)
    return _joined(*made, _RATE)


def _made(song: Song, rate: int) -> tuple[list[Clip], list[list[tuple[int, int]]]]:
    """(the clips, the places of each voice's)."""
    score = Score.of(song)
    stock = Stock(rate)
    clips: list[Clip] = []
    voices = []
    for mine in song.by_voice:
        tones = [tone_of(score, int(note), rate) for note in mine]
        alike: dict[tuple[object, ...], list[Tone]] = {}
        for tone in tones:
            alike.setdefault((tone.sound, tone.strike, tone.held, tone.end - tone.start), []).append(tone)
        end = max((tone.end for tone in tones), default=0)
        if sum(group[0].end - group[0].start for group in alike.values()) > end:
            voices.append([(len(clips), 0)])
            clips.append(_rendered(tones, stock, 0, end))
            continue
        places = []
        for group in alike.values():
            first = group[0]
            places += [(len(clips), tone.start) for tone in group]
            clips.append(_rendered([first], stock, first.start, first.end))
        voices.append(sorted(places, key=lambda place: place[1]))
    return clips, voices


def _rendered(tones: Sequence[Tone], stock: Stock, first: int, end: int) -> Clip:
    """Tones from one frame up to another, as one channel, without the silence at the end."""
    mix = Mix(stock)
    mix.tones = list(tones)
    both = mix.block(first, end - first)
    samples = np.asarray(both.sum(axis=0) / np.sqrt(2), np.float32)
    heard = np.flatnonzero(np.abs(samples) > _SILENT)
    return samples[: int(heard[-1]) + 1 if len(heard) else 0]


def _joined(clips: Sequence[Clip], voices: Sequence[Sequence[tuple[int, int]]], rate: int) -> Clips:
    apart = np.zeros(round(_APART * rate), np.float32)
    starts = []
    parts = [apart]
    at = len(apart)
    for clip in clips:
        starts.append((at, len(clip)))
        parts += [clip, apart]
        at += len(clip) + len(apart)
    frames = max((at + starts[clip][1] for voice in voices for clip, at in voice), default=0)
    data = _encoded(np.concatenate(parts), rate)
    return Clips(rate, data, tuple(starts), tuple(map(tuple, voices)), frames)


def _encoded(samples: Clip, rate: int) -> bytes:
    file = BytesIO()
    peak = max(1.0, float(np.abs(samples).max(initial=0.0)))
    with soundfile.SoundFile(file, "w", rate, 1, "VORBIS", format="OGG", compression_level=_SMALL) as goal:
        for first in range(0, len(samples), _BLOCK):
            goal.write(samples[first : first + _BLOCK] / peak)
    return file.getvalue()
