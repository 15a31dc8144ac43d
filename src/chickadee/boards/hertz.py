"""The table of notes by octaves, in hertz."""

from __future__ import annotations

from ..theory import frequency, read_key

__all__ = ["hertz_table"]


def hertz_table(low: int, high: int, tuning: float = 440.0) -> list[list[str]]:
    """Rows of a table: a heading with the octaves, then each pitch class with its frequency in every octave.

    ``low`` and ``high`` are the first and last MIDI number; what lies outside is left empty. Equal temperament.
    """
    octaves = range(low // 12 - 1, high // 12)
    rows = [["", *map(str, octaves)]]
    for pitch_class in range(12):
        name = read_key("C major").spell(60 + pitch_class).name.text
        numbers = [12 * (octave + 1) + pitch_class for octave in octaves]
        rows.append(
            [name, *(f"{frequency(number, tuning):.2f}" if low <= number <= high else "" for number in numbers)]
        )
    return rows
