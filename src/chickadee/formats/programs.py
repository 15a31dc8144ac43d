"""General MIDI programs, and the sound of ours that is nearest to each."""

from __future__ import annotations

from bisect import bisect_right

from ..song.sounds import SOUNDS

__all__ = ["sound_of"]

_FROM = (
    (0, "hammered string"), (8, "glass bell"), (12, "wood bars"), (14, "glass bell"), (15, "plucked string"),
    (16, "organ pipe"), (24, "nylon string"), (38, "saw"), (40, "bowed string"), (45, "plucked string"),
    (47, "wood bars"), (48, "bowed string"), (52, "soft pad"), (55, "bowed string"), (56, "brass horn"),
    (64, "reed pipe"), (72, "flute"), (80, "square"), (81, "saw"), (82, "triangle"), (84, "saw"), (88, "soft pad"),
    (98, "glass bell"), (99, "soft pad"), (104, "plucked string"), (108, "wood bars"), (109, "reed pipe"),
    (110, "bowed string"), (111, "reed pipe"), (112, "glass bell"), (115, "wood bars"), (119, "soft pad"),
)  # fmt: skip
"""From which program on, counted from 0, each family of sounds is meant."""
_STARTS = [start for start, _ in _FROM]
_OWN: dict[int, str] = {}
for _sound in SOUNDS.values():
    _OWN.setdefault(_sound.program - 1, _sound.name)


def sound_of(program: int) -> str:
    """The sound for a General MIDI program, counted from 0.

    >>> sound_of(0), sound_of(73), sound_of(40)
    ('hammered string', 'flute', 'bowed string')
    """
    return _OWN.get(program) or _FROM[bisect_right(_STARTS, program) - 1][1]
