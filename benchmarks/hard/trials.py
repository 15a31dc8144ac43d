"""Trials: inputs made by chance, one after the other, each from the stage's seed and its own number."""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from dataclasses import dataclass
from resource import RUSAGE_SELF, getrusage

from .figures import Figures

__all__ = ["Trial", "run"]

_SLOW = 2.0  # seconds of the processor


@dataclass(frozen=True)
class Trial:
    """An input, and what is done with it."""

    what: str
    """The name of the input in the table."""
    case: str
    """The input as it is kept where it fails."""
    attempt: Callable[[], float | None]
    """Raises where it fails; may answer with the seconds that it may take beyond the usual ones."""


def run(make: Callable[[random.Random, int], Trial], first: int, count: int, seed: int, figures: Figures) -> None:
    """Try inputs from number ``first`` up to ``count``."""
    for index in range(first, count):
        trial = make(random.Random(f"{seed}-{index}"), index)
        figures.begin(index, trial.case)
        start = time.process_time()
        more = None
        try:
            more = trial.attempt()
        except Exception as fault:
            figures.fault(fault, trial.case)
        figures.took(trial.what, time.process_time() - start, _SLOW + (more or 0.0), trial.case)
    figures.memory = max(figures.memory, getrusage(RUSAGE_SELF).ru_maxrss >> 10)
