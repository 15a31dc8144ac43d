"""The sounds a voice can name. How each is made is the business of :mod:`chickadee.sound`."""

from __future__ import annotations

from dataclasses import dataclass

from .drums import DRUM_SOUND

__all__ = ["DEFAULT_SOUND", "LIKE", "SOUNDS", "Sound"]


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
    Sound("reed pipe", "a warm, hollow reed that opens as it speaks", 72),
    Sound("brass horn", "round when soft, bright when loud", 61),
    Sound("bowed string", "a bow drawn across; grows in slowly and wavers", 41),
    Sound("plucked string", "a bright pluck that fades like a harp string", 47),
    Sound("nylon string", "a finger on a soft string, warm and short", 25),
    Sound("hammered string", "a felt hammer on steel; strong at first, then long and soft", 1),
    Sound("glass bell", "a struck glass that rings on and fades", 15),
    Sound("wood bars", "a mallet on tuned wood, short and dry", 13),
    Sound("organ pipe", "steady pipes in octaves, as loud at the end as at the start", 20),
    Sound("soft pad", "several voices breathing together, slow to come and go", 90),
    Sound(DRUM_SOUND, "kick, snare, hat and other drums, by their names", 1),
    Sound("sine", "one pure tone with nothing added", 80),
    Sound("triangle", "a mild tone of odd partials that fade quickly upwards", 80),
    Sound("square", "a hollow, buzzing tone of odd partials", 81),
    Sound("saw", "a sharp, full tone of all partials", 82),
    Sound("board beeper", "the hard, small beep of a sound board", 81),
)

SOUNDS: dict[str, Sound] = {sound.name: sound for sound in _ALL}
"""Every sound, by the name a sheet gives it."""

DEFAULT_SOUND = "flute"
"""The sound of a voice that names none."""

LIKE: dict[str, str] = {
    instrument: sound
    for sound, instruments in {
        "flute": "recorder whistle piccolo ocarina pipe",
        "reed pipe": "clarinet oboe saxophone sax bassoon reed",
        "brass horn": "trumpet horn trombone tuba cornet brass",
        "bowed string": "violin viola cello fiddle strings",
        "plucked string": "harp harpsichord zither",
        "nylon string": "guitar ukulele lute banjo",
        "hammered string": "piano keyboard pianoforte",
        "glass bell": "bell bells glockenspiel celesta vibraphone",
        "wood bars": "xylophone marimba woodblock",
        "organ pipe": "organ accordion harmonium",
        "soft pad": "choir voice pad",
        "drum kit": "drums drum percussion",
        "saw": "synth synthesizer",
        "board beeper": "beep beeper buzzer",
    }.items()
    for instrument in instruments.split()
}
"""The nearest of our sounds by the name of an instrument."""
