"""Names that parts can have in a language."""

from __future__ import annotations

import keyword
import re
import unicodedata
from collections.abc import Iterable, Sequence
from dataclasses import fields

from ..steps import can_name_part
from ..vocabulary import is_known_word
from .dialect import Dialect

__all__ = ["COUNTERS", "part_names"]

COUNTERS = ("i", "j", "k", "l", "m", "n")
"""The counters of repeats inside one another."""
_OTHER_LANGUAGES = (
    "abstract assert auto bool boolean break byte case catch char class const continue default delete do double else "
    "enum export extends extern final finally float for function goto if implements import in inline instanceof int "
    "interface let long main native new null package private protected public register return short signed sizeof "
    "static struct super switch synchronized this throw throws transient try typedef typeof union unsigned var void "
    "volatile while with yield true false print printf len range zip list number up"
)
_RESERVED = frozenset((*map(str.lower, keyword.kwlist), *_OTHER_LANGUAGES.split(), *COUNTERS))
_WORD = re.compile(r"[^\W\d]\w*")


def part_names(wanted: Sequence[str], dialect: Dialect) -> list[str]:
    """Return the names that parts have in a language: those wanted, as far as it has no other use for them."""
    found: list[str] = []
    taken = {word.lower() for word in _words(dialect)} | _RESERVED
    for name in wanted:
        plain = _plain(name, dialect)
        if plain.lower() in taken or is_known_word(plain) or not can_name_part(plain):
            plain = f"{plain}_part"
        free = plain
        count = 2
        while free.lower() in taken:
            free = f"{plain}{count}"
            count += 1
        taken.add(free.lower())
        found.append(free)
    return found


def _plain(name: str, dialect: Dialect) -> str:
    """A name of letters, digits and joints that no language takes for anything else."""
    joints = "-" if dialect.is_in_steps else ""
    plain = re.sub(rf"[^\w{joints}]+", "_", unicodedata.normalize("NFKC", name)).strip("_-")
    return plain if _WORD.match(plain) else f"part_{plain}".rstrip("_")


def _words(dialect: Dialect) -> Iterable[str]:
    """The words that the language has a use for."""
    for each in fields(dialect):
        value = getattr(dialect, each.name)
        if isinstance(value, str) and each.name not in ("id", "text", "title"):
            yield from _WORD.findall(re.sub(r"\{[^}]*\}", " ", value))
