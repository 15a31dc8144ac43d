"""Names of phrases and voices: which are free, and which would read as something else."""

from __future__ import annotations

import re

from ..song.drums import DRUMS
from .changes import CHANGE_WORDS
from .word import Kind, read_word

__all__ = ["free_name", "is_taken"]

_GOOD = re.compile(r"[^\W\d_][^\s|()\[\]{}&=]*")


def is_taken(name: str) -> bool:
    """Whether a word already means something, or could not be read as a phrase's name."""
    if name.lower() in DRUMS or name.lower() in CHANGE_WORDS or _GOOD.fullmatch(name) is None:
        return True
    return read_word(name).kind is not Kind.SILENT


def free_name(name: str, place: str, used: set[str]) -> str:
    """A name like the one asked for that nothing else has."""
    if place == "phrase":
        name = re.sub(r"\W+", "", name) or "phrase"
        if is_taken(name):
            name = f"phrase-{name}"
    count, joint = 2, "-" if place == "phrase" else " "
    new = name
    while new.lower() in used or (place == "phrase" and is_taken(new)):
        new, count = f"{name}{joint}{count}", count + 1
    return new
