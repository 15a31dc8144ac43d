"""Meters: how many beats a bar has and which note value a beat is."""

from __future__ import annotations

import re
from dataclasses import dataclass

from .ticks import TICKS_PER_QUARTER

__all__ = ["Meter", "read_meter"]

_METER = re.compile(r"\s*([0-9]{1,3})\s*/\s*([0-9]{1,3})\s*")
_LOWER = (1, 2, 4, 8, 16, 32, 64)


@dataclass(frozen=True, slots=True)
class Meter:
    """Beats in a bar over the note value of a beat.

    >>> meter = Meter(6, 8)
    >>> meter.text, meter.beat_ticks == TICKS_PER_QUARTER // 2, meter.pulse_beats
    ('6/8', True, 3)
    """

    upper: int = 4
    """Beats in a bar, 1 to 99."""
    lower: int = 4
    """The beat as a fraction of a whole note: 4 a quarter, 8 an eighth."""

    @property
    def text(self) -> str:
        """The meter as it is written: ``3/4``."""
        return f"{self.upper}/{self.lower}"

    @property
    def beat_ticks(self) -> int:
        """Ticks in a beat."""
        return 4 * TICKS_PER_QUARTER // self.lower

    @property
    def bar_ticks(self) -> int:
        """Ticks in a bar."""
        return self.upper * self.beat_ticks

    @property
    def pulse_beats(self) -> int:
        """Beats in a pulse: three in meters of 6, 9 and 12, otherwise one."""
        return 3 if self.upper in (6, 9, 12) else 1


def read_meter(text: str) -> Meter | None:
    """The meter that ``text`` names, or None."""
    found = _METER.fullmatch(text)
    if found is None:
        return None
    upper = int(found[1])
    lower = int(found[2])
    return Meter(upper, lower) if 1 <= upper <= 99 and lower in _LOWER else None
