"""A thousand attempts of two hundred notes, in four forms, with a few mistakes each."""

from __future__ import annotations

import random
from pathlib import Path

from chickadee import read, write

__all__ = ["lay_out"]

_PITCHES = (60, 62, 64, 65, 67, 69, 71, 72, 74, 76, 77, 79)
_LENGTHS = ("1", "1", "1", "2", "1/2")
_NOTES = 200

_Tune = list[tuple[int, str]]


def lay_out(folder: Path, count: int) -> str:
    """Write attempts into a folder; gives the model's sheet."""
    chance = random.Random(3)
    model = [(chance.choice(_PITCHES), chance.choice(_LENGTHS)) for _ in range(_NOTES)]
    for place in range(count):
        attempt = _spoilt(model, chance)
        path = folder / f"{place:04}"
        if place % 4 == 0:
            path.with_suffix(".chick").write_text(_sheet(attempt))
        elif place % 4 == 1:
            numbers = ", ".join(str(number) for number, _ in attempt)
            beats = ", ".join(beats for _, beats in attempt)
            path.with_suffix(".py").write_text(f"notes = [{numbers}]\nbeats = [{beats}]\n")
        else:
            write(read(_sheet(attempt)), path.with_suffix(".mid" if place % 4 == 2 else ".csv"))
    return _sheet(model)


def _spoilt(model: _Tune, chance: random.Random) -> _Tune:
    attempt = list(model)
    for _ in range(chance.randrange(6)):
        place = chance.randrange(len(attempt))
        number, beats = attempt[place]
        kind = chance.randrange(4)
        if kind == 0:
            del attempt[place]
        elif kind == 1:
            attempt.insert(place, (chance.choice(_PITCHES), "1"))
        else:
            attempt[place] = (number + 1, beats) if kind == 2 else (number, "3")
    return attempt


def _sheet(tune: _Tune) -> str:
    return "title: Bench\n" + "\n".join(
        " ".join(f"{number}={beats}" for number, beats in tune[place : place + 8]) for place in range(0, len(tune), 8)
    )
