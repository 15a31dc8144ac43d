"""TOML as users write it: bounded, and refused in a sentence."""

from __future__ import annotations

import tomllib
from typing import Any

from .faults import InputFault

__all__ = ["read_toml"]

_LARGEST = 100_000  # characters


def read_toml(text: str, what: str, fault: type[InputFault]) -> dict[str, Any]:
    """The keys and values of a TOML text. Raises the ``fault``; ``what`` the text is, it says.

    >>> read_toml("bars = 8", "recipe", InputFault)
    {'bars': 8}
    """
    if len(text) > _LARGEST:
        raise fault(f"This {what} is too long.")
    try:
        return tomllib.loads(text)
    except (tomllib.TOMLDecodeError, RecursionError) as error:
        raise fault(f"This is not TOML: {str(error)[:200]}.") from None
