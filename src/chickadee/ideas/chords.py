"""The chords of a section: one a bar, from the plain functions of the key."""

from __future__ import annotations

from functools import lru_cache

from ..chance import Chance
from ..theory import Key, PitchName, read_key
from ..theory.chord import recognized

__all__ = ["AFTER", "chord_symbol", "chord_tones", "section_chords", "with_triads"]

AFTER = {
    1: ((1, 2), (4, 4), (5, 3), (6, 2), (2, 1)), 2: ((5, 5), (4, 1)), 3: ((6, 2), (4, 2)),
    4: ((1, 3), (5, 4), (2, 1)), 5: ((1, 5), (6, 2)), 6: ((4, 3), (2, 2), (5, 2)), 7: ((1, 3), (3, 1)),
}  # fmt: skip
"""The chords that follow one on each step of the scale, with weights: common practice, plainly."""


def section_chords(chance: Chance, bars: int, given: tuple[int, ...]) -> list[int]:
    """The step that the chord of each bar stands on; a section stays open on 5. ``given`` steps are taken in turn
    instead."""
    if given:
        return [given[place % len(given)] for place in range(bars)]
    found = [1]
    while len(found) < bars:
        steps, weights = zip(*AFTER[found[-1]], strict=True)
        found.append(chance.choose(steps, weights))
    if bars > 1:
        found[-1] = 5
    return found


def with_triads(key: Key) -> Key:
    """A key of seven steps, whose chords are triads: of another scale, the major or minor of its tonic."""
    return key if len(key.names) == 7 else read_key(f"{key.tonic.text} {'minor' if key.scale.minor else 'major'}")


@lru_cache(1024)
def chord_tones(key: Key, step: int) -> frozenset[int]:
    """The pitch classes of the triad on a step of a scale: every second of its names."""
    names = key.names
    return frozenset(names[(step - 1 + place) % len(names)].pitch_class for place in (0, 2, 4))


def chord_symbol(key: Key, step: int) -> str | None:
    """The symbol of the triad on a step, as the sheet writes it; None where it has none."""
    names: list[PitchName] = [key.names[(step - 1 + place) % len(key.names)] for place in (0, 2, 4)]
    root = names[0].at(4)
    pitches = [root]
    for name in names[1:]:
        above = name.at(4)
        pitches.append(above if above.number > pitches[-1].number else name.at(5))
    chord = recognized(pitches)
    return chord.text if chord is not None else None
