"""Playing a song in real time: the clock and the way to the system's sound. No widgets."""

from .player import Player
from .playing import Playing, Recorded, Together

__all__ = ["Player", "Playing", "Recorded", "Together"]
