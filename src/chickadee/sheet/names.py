"""Names of phrases and voices: which are free, and which would read as something else."""

from __future__ import annotations

import re
from collections.abc import Set

from ..song.drums import DRUMS
from .changes import CHANGE_WORDS
from .word import Kind, read_word

__all__ = ["PHRASE_NAMES", "free_name", "is_taken", "possible_name"]

PHRASE_NAMES = (
    "theme", "reply", "turn", "bridge", "refrain", "figure", "echo", "close", "rise", "fall", "walk", "drift", "wave",
    "shore", "reeds", "harbour", "landing", "current", "breeze", "lantern", "ferry", "island", "mooring", "tide",
)  # fmt: skip
"""Names for phrases that are found, in the order in which they are given."""
_GOOD = re.compile(r"[^\W\d_][^\s|()\[\]{}&=]*")


def is_taken(name: str) -> bool:
    """Return whether a word already means something, or could not be read as a phrase's name."""
    if name.lower() in DRUMS or name.lower() in CHANGE_WORDS or _GOOD.fullmatch(name) is None:
        return True
    return read_word(name).kind is not Kind.SILENT


def possible_name(name: str, place: str) -> str:
    """A name like the one asked for that a block of this place, ``phrase`` or ``voice``, could have."""
    if place == "voice":
        return name
    name = re.sub(r"\W+", "", name) or "phrase"
    return f"phrase-{name}" if is_taken(name) else name


def free_name(name: str, place: str, used: Set[str], count: int = 2) -> str:
    """A name like the one asked for that nothing else has; with a number from ``count`` on where it is taken.

    ``used`` are the names that others have, in lower case.
    """
    name = new = possible_name(name, place)
    joint = "-" if place == "phrase" else " "
    while new.lower() in used or (place == "phrase" and is_taken(new)):
        new = f"{name}{joint}{count}"
        count = count + 1
    return new
