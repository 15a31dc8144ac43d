"""Syllables for practice tunes: short lines about Lake Orrin, as many as there are notes."""

from __future__ import annotations

from ..chance import Chance

__all__ = ["syllables"]

_LINES = (
    "home", "row home", "slow and low", "bells a- cross", "the boat is late", "rain up- on the quay",
    "lan- terns on the wa- ter", "mist is ly- ing in the reeds", "oars go dip- ping, dip- ping down",
    "who is wait- ing, who is there", "wind and wa- ter, rope and sail", "call a- gain and hear it fall",
    "here we turn for", "gulls are cry- ing", "morn- ing on the lake", "the fer- ry comes a- long",
    "one more land- ing and then home", "count the lights a- long the shore",
)  # fmt: skip
"""A hyphen ends a syllable that its word goes on after; there is a line of every length up to seven."""


def syllables(chance: Chance, count: int) -> list[str]:
    """So many syllables: whole lines, the longer ones likelier."""
    found: list[str] = []
    while len(found) < count:
        left = count - len(found)
        fitting = [line.split() for line in _LINES if len(line.split()) <= left]
        wanted = [line for line in fitting if left - len(line) != 1] or fitting  # a single syllable is a poor end
        found += chance.choose(wanted, [len(line) ** 2 for line in wanted])
    return found
