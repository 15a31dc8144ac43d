"""TOML as users write it: bounded, and refused in a sentence."""

from __future__ import annotations

import json
import math
import re
import tomllib
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from .faults import InputFault
from .files import printable

__all__ = ["LARGEST_NUMBER", "TomlKeys", "quoted", "read_toml", "written_value"]

LARGEST_NUMBER = 1_000_000_000
"""The largest number that a key may have."""
_LARGEST = 100_000  # characters
_MOST_DOTS = 10  # in a name; the standard library takes the square of them
_LONGEST_NAME = 60  # characters of a name
_KINDS = {
    bool: "true or false",
    str: "a text",
    int: "a whole number",
    float: "a number",
    list: "a list",
    dict: "a table",
}
_LONG_NAME = re.compile(rf"(?m)^[^\n='\"]*(?:[.][^\n='\".]*){{{_MOST_DOTS + 1}}}")


def read_toml(text: str, what: str, fault: type[InputFault]) -> dict[str, Any]:
    """The keys and values of a TOML text. Raises the ``fault``; ``what`` the text is, it says.

    >>> read_toml("bars = 8", "recipe", InputFault)
    {'bars': 8}
    """
    if len(text) > _LARGEST:
        raise fault(f"This {what} is too long.")
    if _LONG_NAME.search(text):
        raise fault(f"This {what} has a name of more than {_MOST_DOTS} parts.")
    try:
        found = tomllib.loads(text)
    except (ValueError, RecursionError) as error:  # a number of thousands of digits is a ValueError too
        raise fault(f"This is not TOML: {printable(str(error)[:200])}.") from None
    for name in _names(found):
        if len(name) > _LONGEST_NAME or not name.isprintable():
            raise fault(f"This {what} has a name that cannot be right: {printable(name[:40])}.")
    return found


def quoted(text: str) -> str:
    """Return a text as a basic string of TOML, whose escapes are those of JSON and one more.

    >>> quoted('a "b"')
    '"a \\\\"b\\\\""'
    """
    return json.dumps(text, ensure_ascii=False).replace("\x7f", "\\u007f")


def written_value(value: str | float | bool) -> str:
    """Return a text, a number or a truth value as TOML."""
    if isinstance(value, bool):
        return "true" if value else "false"
    return quoted(value) if isinstance(value, str) else repr(value)


class TomlKeys:
    """Checks the keys of a TOML text; what is wrong is said with its line."""

    def __init__(self, text: str, what: str, fault: type[InputFault]) -> None:
        self._lines = text.split("\n")
        self._what = what
        self._fault = fault

    def check(
        self, found: dict[str, Any], kinds: Mapping[str, type], where: str = "", required: Sequence[str] = ()
    ) -> None:
        """Raise a fault for a key that is unknown, of another kind than its own, or missing."""
        for key, value in found.items():
            if key not in kinds:
                raise self.fault(key, f"is not a key{f' of {where}' if where else ''}; there are {', '.join(kinds)}")
            kind = kinds[key]
            right = isinstance(value, (int, float) if kind is float else kind)
            right = right and isinstance(value, bool) == (kind is bool)
            if not right:
                raise self.fault(key, f"is to be {_KINDS[kind]}")
            if kind in (int, float) and not (math.isfinite(value) and abs(value) <= LARGEST_NUMBER):
                raise self.fault(key, "is to be a usual number")
        for key in required:
            if key not in found:
                place = f" in its {where}" if where else ""
                raise self._fault(f"The {self._what} has no {key}{place}, which it needs.")

    def fault(self, key: str, reason: str) -> InputFault:
        """Return the fault that says what is wrong with a key, and in which line it stands."""
        pattern = re.compile(rf"\s*(\[+\s*)?[\"']?{re.escape(key)}[\"']?\s*(=|\])")
        line = next((place for place, text in enumerate(self._lines, 1) if pattern.match(text)), None)
        return self._fault(f"{f'Line {line}: ' if line else ''}{key} {reason}.")


def _names(found: object) -> Iterator[str]:
    """The names of a table and of all tables in it, however deep they stand."""
    left = [found]
    while left:
        each = left.pop()
        if isinstance(each, dict):
            yield from each
            left += each.values()
        elif isinstance(each, list):
            left += each
