"""The sounds a voice can name. How each is made is the business of :mod:`chickadee.sound`."""

from __future__ import annotations

from dataclasses import dataclass

from .drums import DRUM_SOUND

__all__ = ["DEFAULT_SOUND", "SOUNDS", "Sound"]


@dataclass(frozen=True, slots=True)
class Sound:
    """A sound by name."""

    name: str
    description: str
    """One line for people choosing a sound."""
    program: int
    """The General MIDI program that comes nearest, 1 to 128 as the standard prints it."""


_ALL = (
    Sound("flute", "a soft breath with a gentle waver; speaks gently and holds", 74),
    Sound("glass bell", "a struck glass that rings on and fades", 15),
    Sound("plucked string", "a bright pluck that fades like a harp string", 47),
    Sound(DRUM_SOUND, "kick, snare, hat and other drums, by their names", 1),
    Sound("sine", "one pure tone with nothing added", 80),
)

SOUNDS: dict[str, Sound] = {sound.name: sound for sound in _ALL}
"""Every sound, by the name a sheet gives it."""

DEFAULT_SOUND = "flute"
"""What a voice that names no sound is played with."""
