"""A small room around the sound: eight walls' echoes, fed back into each other.

A feedback delay network after J. Stautner and M. Puckette (1982) with a Householder matrix (J.-M. Jot, 1991).
"""

from __future__ import annotations

import numpy as np

from .samples import Samples

__all__ = ["Room"]

_LENGTHS = (0.0213, 0.0247, 0.0289, 0.0331, 0.0373, 0.0419, 0.0467, 0.0511)
"""Seconds, with no common measure."""
_SIGNS = np.array([[1, -1, 1, -1, 1, -1, 1, -1], [1, 1, -1, -1, 1, 1, -1, -1]], np.float32) / np.float32(8**0.5)


class Room:
    """Adds a room's echo to a stream of frames, in blocks of any size."""

    seconds = 0.7
    """How long the echo takes to fade by 60 dB."""

    def __init__(self, rate: int, wet: float = 0.22) -> None:
        """``wet`` is the echo's amplitude beside the sound's own."""
        self._lengths = [round(length * rate) for length in _LENGTHS]
        self._gains = np.array([[10 ** (-3 * length / rate / self.seconds)] for length in self._lengths], np.float32)
        self._past = np.zeros((8, max(self._lengths) + 1), np.float32)
        self._wet = np.float32(wet)

    def process(self, block: Samples) -> Samples:
        """A block of shape (2, frames), with the echo of all before it."""
        step = min(self._lengths) - 1
        parts = [self._some(block[:, at : at + step]) for at in range(0, block.shape[1], step)]
        return np.concatenate(parts, axis=1) if parts else block

    def _some(self, block: Samples) -> Samples:
        count = block.shape[1]
        arriving = np.stack([self._echo(line, count) for line in range(8)])
        fed_back = arriving - arriving.sum(axis=0) / np.float32(4)  # Householder: I - (2/8)·ones
        new = _SIGNS.T @ block * np.float32(0.5) + self._gains * fed_back
        self._past = np.concatenate([self._past[:, count:], new], axis=1)
        return np.asarray(block + self._wet * (_SIGNS @ arriving))

    def _echo(self, line: int, count: int) -> Samples:
        """Return the output of a delay line: its past, each sample the mean of two, which dulls the echo."""
        past = self._past[line]
        start = len(past) - self._lengths[line]
        return np.asarray((past[start : start + count] + past[start - 1 : start - 1 + count]) * np.float32(0.5))
