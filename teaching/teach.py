"""Teach the network that says where notes begin, and write what it learned to `src/chickadee/hearing/onsets.npz`.

    python teaching/teach.py            # about an hour on two cores

It learns twice: from some pieces, and then from all, with what it was wrong about. Nothing is drawn but by seeds.
"""

from __future__ import annotations

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import sys
import tempfile
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from itertools import islice, pairwise
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

import chickadee.hearing.onsets
from chickadee.hearing.features import FEATURE_COUNT
from chickadee.hearing.onsets import DenseLayer, probabilities
from lessons import Lesson, lesson
from made_up import piece
from melodies import Piece
from ours import our_piece
from sampled import sampled_piece
from singers import singer_piece

_GOAL = Path(chickadee.hearing.onsets.__file__).with_name("onsets.npz")
_HIDDEN = 256, 48
_KINDS: dict[str, Callable[[int], Piece]] = {
    "one player": piece,
    "several together": partial(piece, together=True),
    "our own sounds": our_piece,
    "those of them that ring on": partial(our_piece, ringing=True),
    "sampled instruments": sampled_piece,
    "two notes at once, or a melody over chords, sampled": partial(sampled_piece, lines=True),
    "two notes at once, made up": partial(piece, lines=True),
    "singers": singer_piece,
}
_SOME = 60, 50, 65, 25, 120, 50, 30, 40
_ALL = 400, 350, 600, 200, 1350, 400, 150, 400
"""How many pieces there are of each kind."""
_EPOCHS = 3
_SEEDS = 1_000_000  # of each kind of pieces
_PIECES = 50  # that are shuffled together
_BATCH = 1024
_LEARNING_RATE = 0.003  # at first
_ONSET_WEIGHT = 2.0  # of an onset's loss
_WEIGHT_DECAY = 1e-5
_MOST = 30.0  # that a cell stands for
_LITTLE = 0.01  # the variance from which on a component is taken for more than noise


def teach() -> None:
    """Learn twice, and write it down."""
    first = _learned(_lessons(_SOME, None))
    layers = _learned(_lessons(_ALL, first))
    arrays = [each for layer in layers for each in (layer.weights.astype(np.float16), layer.bias)]
    np.savez(_GOAL, *arrays, trial=np.array(trial(layers)))
    print(_GOAL, f"{_GOAL.stat().st_size:,} bytes")


def trial(layers: Sequence[DenseLayer]) -> list[float]:
    """The loss of a network on a few lessons that need no sound font.

    It is written down with the weights: where features, lessons or weights are no longer those of the teaching, it is
    another.
    """
    found = []
    for made in (piece(0), piece(1, together=True), piece(2, lines=True)):
        shown = lesson(made, 0)
        told = probabilities(shown.seen.T.astype(np.float32), layers)
        found.append(_loss(told, shown.goal, _weighed(shown)))
    return found


def _lessons(pieces: Sequence[int], network: Sequence[DenseLayer] | None) -> Iterator[Lesson]:
    """The lessons of so many pieces of each kind, some of them mixed at a time."""
    draw = np.random.default_rng(0)
    seeds = draw.permutation([kind * _SEEDS + number for kind, count in enumerate(pieces) for number in range(count)])
    with ProcessPoolExecutor() as pool:
        made = pool.map(partial(_lesson, network=network), seeds.tolist())
        while some := list(islice(made, _PIECES)):
            mixed = Lesson(*map(np.concatenate, zip(*some, strict=True)))
            order = draw.permutation(len(mixed.goal))
            yield Lesson(*(each[order] for each in mixed))


def _lesson(seed: int, network: Sequence[DenseLayer] | None) -> Lesson:
    made = list(_KINDS.values())[seed // _SEEDS](seed)
    return lesson(made, seed, network)


def _learned(lessons: Iterator[Lesson]) -> list[DenseLayer]:
    """A network that has gone through all lessons. They are kept on disk meanwhile: they are large."""
    draw = np.random.default_rng(1)
    learner = _Learner(draw)
    components = None
    with tempfile.TemporaryDirectory() as folder:
        files = list[Path]()
        for place, each in enumerate(lessons):
            components = components or _Components.of(each)
            files.append(Path(folder) / f"{place}.npz")
            np.savez(files[-1], *each._replace(seen=components.seen_in(each)))
            print(f"\r{place + 1} times {_PIECES} pieces", end="", flush=True)
        print()
        for time in range(_EPOCHS):
            loss = [learner.goes_through(_read(file), (time + part / len(files)) / _EPOCHS)
                    for part, file in enumerate(draw.permutation(files))]  # fmt: skip
            print(f"{time + 1} of {_EPOCHS}: {np.mean(loss):.4f}", flush=True)
    assert components is not None
    return components.undone(learner.layers)


def _read(file: Path) -> Lesson:
    with np.load(file) as kept:
        return Lesson(*(kept[f"arr_{place}"] for place in range(3)))


def _loss(chance: NDArray[np.float32], goal: NDArray[np.float32], weight: NDArray[np.float32]) -> float:
    """How wrong a network is, in the mean: the logarithm of how unlikely it takes what is true for."""
    right = np.clip(np.where(goal > 0.5, chance, 1 - chance), 1e-6, 1)
    return float(-(weight * np.log(right)).sum() / weight.sum())


def _weighed(lesson: Lesson) -> NDArray[np.float32]:
    """How much each cell counts."""
    begins = np.where(lesson.goal > 0.3, np.float32(_ONSET_WEIGHT), np.float32(1))
    return np.minimum(lesson.weight, np.float32(_MOST)) * begins


class _Components(NamedTuple):
    """The principal components of what is seen, each made as large as the others: else small differences between
    inputs that are much alike, like a dip in loudness, would be learned last."""

    usual: NDArray[np.float32]
    """The usual features, shape (FEATURE_COUNT,)."""
    ways: NDArray[np.float32]
    """From the features to the components, shape (FEATURE_COUNT, FEATURE_COUNT)."""

    @classmethod
    def of(cls, lesson: Lesson) -> _Components:
        """The components of a lesson."""
        seen = lesson.seen.astype(np.float32)
        weight = _weighed(lesson)
        usual = weight @ seen / weight.sum()
        off = seen - usual
        spreads, ways = np.linalg.eigh(((off * weight[:, None]).T @ off / weight.sum()).astype(np.float64))
        return cls(usual, (ways / np.sqrt(spreads + _LITTLE)).astype(np.float32))

    def seen_in(self, lesson: Lesson) -> NDArray[np.float16]:
        """The features of a lesson, as its components."""
        parts = np.array_split(lesson.seen, max(1, len(lesson.seen) // _BATCH))
        return np.concatenate([((part - self.usual) @ self.ways).astype(np.float16) for part in parts])

    def undone(self, layers: Sequence[DenseLayer]) -> list[DenseLayer]:
        """The layers of a network that learned from components, for what is seen as it is."""
        first, *others = layers
        weights = _rounded(self.ways @ first.weights)
        return [
            DenseLayer(weights, first.bias - self.usual @ weights),
            *(DenseLayer(_rounded(each.weights), each.bias) for each in others),
        ]


def _rounded(weights: NDArray[np.float32]) -> NDArray[np.float32]:
    """Weights as they are written down, in sixteen bits."""
    return weights.astype(np.float16).astype(np.float32)


class _Learner:
    """Changes a network's weights by what it is wrong about (Kingma and Ba, Adam, 2015)."""

    def __init__(self, draw: np.random.Generator) -> None:
        self.layers = [
            DenseLayer((draw.normal(0, 1, (inputs, outputs)) * np.sqrt(2 / inputs)).astype(np.float32),
                  np.zeros(outputs, np.float32))
            for inputs, outputs in pairwise((FEATURE_COUNT, *_HIDDEN, 1))
        ]  # fmt: skip
        self._mean, self._spread = ([np.zeros_like(each) for each in self._all()] for _ in range(2))
        self._steps = 0
        self._draw = draw

    def goes_through(self, lesson: Lesson, done: float) -> float:
        """Learn from a lesson; ``done`` is the part of the work that is done, to 1. The mean loss."""
        weight = _weighed(lesson)
        order = self._draw.permutation(len(lesson.goal))
        speed = float(_LEARNING_RATE * (0.5 + 0.5 * np.cos(np.pi * done))) + 1e-5
        return float(np.mean([
            self._learns(lesson.seen[some].astype(np.float32), lesson.goal[some], weight[some], speed)
            for some in np.array_split(order, max(1, len(order) // _BATCH))
        ]))  # fmt: skip

    def _learns(
        self, seen: NDArray[np.float32], goal: NDArray[np.float32], weight: NDArray[np.float32], speed: float
    ) -> float:
        told = [seen]
        for layer in self.layers[:-1]:
            told.append(np.maximum(told[-1] @ layer.weights + layer.bias, 0))
        last = self.layers[-1]
        chance = 1 / (1 + np.exp(-np.clip((told[-1] @ last.weights + last.bias)[:, 0], -30, 30)))
        wrong = np.where(np.abs(chance - goal) < 1e-5, 0, chance - goal)
        slope = (wrong * weight / weight.sum()).astype(np.float32)[:, None]
        slopes: list[NDArray[np.float32]] = []
        for layer, inputs in zip(self.layers[::-1], told[::-1], strict=True):
            slopes = [inputs.T @ slope + _WEIGHT_DECAY * layer.weights, slope.sum(axis=0), *slopes]
            slope = (slope @ layer.weights.T) * (inputs > 0) if inputs is not seen else slope
        self._moves(slopes, speed)
        return _loss(chance, goal, weight)

    def _moves(self, slopes: Sequence[NDArray[np.float32]], speed: float) -> None:
        self._steps += 1
        for value, slope, mean, spread in zip(self._all(), slopes, self._mean, self._spread, strict=True):
            mean += 0.1 * (slope - mean)
            spread += 0.001 * (slope**2 - spread)
            steady = np.sqrt(spread / (1 - 0.999**self._steps)) + 1e-7
            value -= speed * (mean / (1 - 0.9**self._steps)) / steady
            if not self._steps % 20:  # numbers next to nothing are slow to work with
                for each in (value, mean, spread):
                    each[np.abs(each) < 1e-20] = 0

    def _all(self) -> list[NDArray[np.float32]]:
        return [each for layer in self.layers for each in layer]


if __name__ == "__main__":
    sys.exit(teach())
