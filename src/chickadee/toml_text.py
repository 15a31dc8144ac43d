"""TOML as users write it: bounded, and refused in a sentence."""

from __future__ import annotations

import json
import re
import tomllib
from collections.abc import Iterator
from typing import Any

from .faults import InputFault
from .files import printable

__all__ = ["quoted", "read_toml"]

_LARGEST = 100_000  # characters
_MOST_DOTS = 10  # in a name; the standard library takes the square of them
_LONGEST_NAME = 60  # characters of a name
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
