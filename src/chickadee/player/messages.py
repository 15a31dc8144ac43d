"""The messages between the player and its engine."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..hearing.alignment import Backing
from ..sound import Score
from ..sound.score import Part, Strike

__all__ = ["Change", "Finished", "Level", "NoteOff", "NoteOn", "Output", "Play", "Room", "Silence", "Stop"]


class Play(NamedTuple):
    """Begin a performance."""

    number: int
    score: Score
    part: Part
    backing: Backing | None = None
    """The recording that sounds with it."""


class Change(NamedTuple):
    """Go on in another version of the song."""

    number: int
    score: Score
    part: Part
    moments: tuple[NDArray[np.float64], NDArray[np.float64]]
    """Seconds of the old version and of the new one that belong together."""
    backing: Backing | None = None


class Stop(NamedTuple):
    """Take the song to silence."""


class NoteOn(NamedTuple):
    """Strike a note beside the song."""

    name: str
    sound: str
    strike: Strike
    seconds: float | None
    """None until it is let go."""


class NoteOff(NamedTuple):
    """Let such a note go."""

    name: str


class Silence(NamedTuple):
    """Let everything go."""


class Level(NamedTuple):
    """How loud, from 0 to 100."""

    level: float


class Room(NamedTuple):
    """Turns the small room around the sound on or off."""

    on: bool


class Output(NamedTuple):
    """The engine's word on where sound goes: the device's name, or None for the silent clock."""

    name: str | None


class Finished(NamedTuple):
    """The engine's word that a performance has been heard to its end."""

    number: int
