"""Templates of a dialect backwards: where the values stand in a line that was written by one."""

from __future__ import annotations

import re
from functools import lru_cache
from string import Formatter

__all__ = ["line_pattern"]

_VALUE = r"[^\n]+?"
_BLANK = r"[^\S\n]+"


@lru_cache(256)
def line_pattern(template: str) -> re.Pattern[str]:
    """Return the pattern of the first line of a template, with its fields as groups; blanks may be more or fewer.

    >>> found = line_pattern("play({pitch}, {beats})").fullmatch("play(60, 1/2)")
    >>> found["pitch"], found["beats"]
    ('60', '1/2')
    """
    parts: list[str] = []
    used: set[str] = set()
    for literal, name, _, _ in Formatter().parse(template.split("\n")[0].strip()):
        words = re.split(r"(\s+)", literal)
        parts += [_BLANK if each.isspace() else re.escape(each) for each in words]
        if name is not None:
            parts.append(f"(?P={name})" if name in used else f"(?P<{name}>{_VALUE})")
            used.add(name)
    return re.compile("".join(parts), re.IGNORECASE)
